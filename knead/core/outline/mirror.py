"""Outlines that are their own mirror images: what is symmetric in both keys stays so on the way."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.track import Track

PLACES = 256
BESIDE = 6  # an axis is more like than others nearer than so many places
LIKE = 0.9997  # how like its mirror image an outline must be, 1 is wholly
AT_NODE = 0.004  # a share so near to a node's is that node's
NEXT = 1e-9
LEAN = np.pi / 4  # axes that turn by more are not each other


def mirror_ties(first: Track, second: Track) -> Floats | None:
    """Where the axes of two symmetric closed outlines leave and enter them, shares (2, 2); None if either has none.

    Of several axes, those meet that turn the least against each other.
    """
    ends, others = _axis_ends(first), _axis_ends(second)
    if not len(ends[0]) or not len(others[0]):
        return None
    turns = np.abs(np.angle(np.multiply.outer(ends[1].conj(), others[1])))
    k, m = np.unravel_index(np.argmin(np.round(turns, 3)), turns.shape)
    if turns[k, m] > LEAN:
        return None
    starts = ends[0][k], others[0][m]
    return np.array([starts, [_at_node(track, s + 0.5) for track, s in zip((first, second), starts, strict=True)]])


def mirrored(knots: Floats, ties: Floats, of_first: bool) -> Floats:
    """A map through both `ties` with one of its halves on both sides of the axis: the first half, or the second.

    Knots (k, 2) of a closed map go once round from anywhere, those of the result from the first tie.
    """
    half = np.mod(ties[1] - ties[0], 1.0)
    along = np.mod(knots[:-1] - ties[0], 1.0)
    along = along[np.argsort(along[:, 0])]
    own = half if of_first else 1.0 - half
    along = along if of_first else 1.0 - along[::-1]
    kept = along[np.all((along > NEXT) & (along < own - NEXT), axis=1)]
    share = np.concatenate([np.zeros((1, 2)), kept / own, np.ones((1, 2))])
    return np.asarray(np.concatenate([share * half, (1.0 - share[::-1] * (1.0 - half))[1:]]) + ties[0])


def _axis_ends(track: Track) -> tuple[Floats, Complexes]:
    """The shares at which axes of symmetry cross a closed outline, and the directions of the axes out of it there."""
    z = track.sketch(np.arange(PLACES) / PLACES)
    z = z - z.mean()
    # all mirror images at once: sum of z[s + u] z[s - u] over u, for all 2 s; its angle is twice that of the axis
    sums = np.fft.ifft(np.fft.fft(z) ** 2) / max(float(np.sum(np.abs(z) ** 2)), 1e-300)
    likeness = np.abs(sums)
    around = np.max([np.roll(likeness, k) for k in range(-BESIDE, BESIDE + 1)], axis=0)
    found = np.flatnonzero((likeness > LIKE) & (likeness >= around - 1e-6))
    way = np.exp(0.5j * np.angle(sums[found]))
    shares = np.concatenate([found, found + PLACES]) / (2 * PLACES)
    across = track.sketch(shares) - track.sketch(shares + 0.5)  # nothing on a line that goes there and back
    ways = np.concatenate([way, -way])
    ways = np.where((across * ways.conj()).real < -1e-9 * track.length, -ways, ways)
    return np.array([_at_node(track, share) for share in shares]), np.asarray(ways, dtype=complex)


def _at_node(track: Track, share: float) -> float:
    gaps = np.mod(track.nodes - share + 0.5, 1.0) - 0.5
    k = int(np.argmin(np.abs(gaps)))
    return float(np.mod(share + gaps[k] if abs(gaps[k]) < AT_NODE else share, 1.0))
