"""What becomes flat, or long the other way, is squashed or stretched: it need not turn, nor slide along its outline."""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, measure

THIN = 1e-4  # the width of a line, by its length


def stretched(first: Track, second: Track) -> tuple[Track, float]:
    """The first outline stretched, without a turn, until it is as long and as wide as the second every way.

    Also how much more it is stretched one way than across, 1 or more.
    """
    matrix = stretch_between(_moments(first), _moments(second))
    least, most = np.linalg.eigvalsh(matrix)
    return measure(first.path @ matrix, first.closed), float(most / least)


def stretch_between(one: Floats, two: Floats) -> Floats:
    """The symmetric matrix (2, 2) that takes second moments of the one to those of the other.

    It is the optimal transport of normal distributions (Olkin and Pukelsheim 1982).
    """
    root = root_of(one)
    back = np.linalg.inv(root)
    return np.asarray(back @ root_of(root @ two @ root) @ back)


def _moments(track: Track) -> Floats:
    """The second moments of an outline's points about their middle, shape (2, 2); a line is a little wide.

    Those of the area would be exact for a mere stretch; those of the outline proved better where more changes.
    """
    shares, points = track.samples
    lengths, ends = np.diff(shares), as_points(points)
    ends = ends - np.average(0.5 * (ends[1:] + ends[:-1]), axis=0, weights=lengths)
    one, two = ends[:-1], ends[1:]  # of chords, exactly
    found = np.einsum("k,kpi,kpj->ij", lengths / 6.0, *2 * [np.stack([one, two, one + two], axis=1)])
    return np.asarray(found + np.eye(2) * max(THIN * float(np.trace(found)), 1e-12), dtype=float)


def root_of(matrix: Floats) -> Floats:
    """The symmetric root of a symmetric, positive matrix."""
    values, vectors = np.linalg.eigh(matrix)
    return np.asarray((vectors * np.sqrt(np.maximum(values, 0.0))) @ vectors.T)
