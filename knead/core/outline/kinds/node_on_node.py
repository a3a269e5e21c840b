"""Contours that are one form turned, scaled and moved, node for node."""

import numpy as np

from knead.core.geometry.bezier import path_of, triples_of
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track
from knead.core.model import Contour
from knead.core.outline.kinds.rigid import lies_as_well, lies_nearer

SAME = 2e-3  # mean squared gap, by the form's size, up to which two contours count as one form that does not turn
EXACT = 3e-7  # the same for one that turns half round: the nodes of any two round forms fall on each other somehow
FAR = np.pi / 4  # what turns by more to lie node on node may lie as well with less


def same_form(first: Contour, second: Contour, tracks: tuple[Track, Track]) -> list[tuple[int, int]] | None:
    """Node pairs of contours that are one form turned, scaled and moved, node for node; None if they are not."""
    n = len(first.nodes)
    if n != len(second.nodes) or first.closed != second.closed or not 2 <= n <= 200:
        return None
    z, w = (as_complex(triples_of(path_of(c), c.closed)) for c in (first, second))
    z, w = z - z[:, 1].mean(), w - w[:, 1].mean()
    size = float(np.mean(np.abs(w[:, 1]) ** 2))
    powers = [max(float(np.vdot(side, side).real), 1e-12) for side in (z, w)]
    # of each shift of the nodes, the best turn and scale, and the gap that these leave
    spectra = np.conj(np.fft.fft(z, axis=0)) * np.fft.fft(w, axis=0)
    likeness = np.fft.ifft(spectra, axis=0).sum(axis=1) if first.closed else np.array([np.vdot(z, w)])
    gaps = np.maximum(powers[1] - np.abs(likeness) ** 2 / powers[0], 0.0) / (z.size * max(size, 1e-12))
    turns = np.abs(np.angle(likeness))
    alike = gaps < EXACT + SAME * (1.0 - turns / np.pi) ** 4
    if not first.closed:  # a line is likelier drawn from its other end than turned over
        alike &= likeness.real >= 0
    if not alike.any():
        return None
    shift = int(np.argmin(np.where(alike, np.round(gaps + 1e-3 * turns, 9), np.inf)))
    if first.closed and lies_nearer(z[:, 1], np.sqrt(gaps), turns, shift):
        return None
    if first.closed and turns[shift] > FAR and lies_as_well(*tracks, turns[shift] / 2):
        return None  # of a slat with one more node at an end nobody sees that it is turned half round
    return [(k, (k + shift) % n) for k in range(n)]
