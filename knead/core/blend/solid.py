"""Travel that keeps a form stiff: every stretch of the outline turns and stretches evenly from key to key.

Edge lengths and angles of the control polygon are interpolated, and the small gap that is left when the outline closes
is spread over it (Sederberg, Gao, Wang and Mu 1993, "2-D Shape Blending: An Intrinsic Solution").
"""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import Complexes


@dataclass(frozen=True)
class SolidContour:
    """One contour prepared: its control polygon's edges at the first key, those of the second turned back, the turns.

    Shapes (points,) for closed contours, (points - 1,) for open ones.
    """

    first: Complexes
    second: Complexes
    turns: Floats
    weights: Floats
    closed: bool

    def at(self, times: Floats) -> Complexes:
        """Points about their own middle at the times, shape (len(times), points)."""
        t = times[:, None]
        edges = np.exp(1j * t * self.turns) * ((1.0 - t) * self.first + t * self.second)
        if self.closed:
            edges = edges - edges.sum(axis=1, keepdims=True) * self.weights
            edges = edges[:, :-1]
        points = np.concatenate([np.zeros((len(times), 1)), np.cumsum(edges, axis=1)], axis=1)
        return np.asarray(points - points.mean(axis=1, keepdims=True), dtype=complex)


def prepare(first: Complexes, second: Complexes, closed: bool, angle: float) -> SolidContour | None:
    """Prepare a contour; None where its turns make no consistent round, as when the form is turned inside out.

    Points are node triples (handle before, node, handle after), flat, shape (nodes * 3,); `angle` is about how much the
    whole turns, in radians.
    """
    d0, d1 = _edges(first, closed), _edges(second, closed)
    turns = _turns(first.reshape(-1, 3), second.reshape(-1, 3), d0, d1, closed, angle)
    if turns is None:
        return None
    lengths = np.abs(d0) + np.abs(d1)
    whole = float(lengths.sum())
    if whole <= 0:
        return None
    return SolidContour(d0, d1 * np.exp(-1j * turns), turns, lengths / whole, closed)


def _edges(points: Complexes, closed: bool) -> Complexes:
    return np.diff(np.append(points, points[:1])) if closed else np.diff(points)


def _turns(one: Complexes, two: Complexes, d0: Complexes, d1: Complexes, closed: bool, angle: float) -> Floats | None:
    """How much each edge of the control polygon turns, without jumps of a full turn between neighbours."""
    chords = [np.diff(np.append(k[:, 1], k[:1, 1])) if closed else np.diff(k[:, 1]) for k in (one, two)]
    weights = np.minimum(np.abs(chords[0]), np.abs(chords[1]))
    if not len(weights) or weights.max() <= 0:
        return None
    raw = np.angle(chords[1] * np.conj(chords[0]) + 1e-300)
    start = int(np.argmax(weights))
    order = np.roll(np.arange(len(raw)), -start) if closed else np.arange(len(raw))
    whole = float(weights.sum())
    unwrapped = np.empty(len(raw))
    memory = raw[start] + _branch(angle - raw[start]) if closed else angle
    for k in order.tolist():
        unwrapped[k] = raw[k] + _branch(memory - raw[k])
        share = min(1.0, 12.0 * weights[k] / whole)
        memory += share * (unwrapped[k] - memory)
    if closed and abs(unwrapped[order[-1]] - unwrapped[start]) > np.pi * 1.2:
        return None
    # edges 0..2 of a triple: handle before to node, node to handle after, on to the next triple
    near = np.repeat(unwrapped, 3) if closed else np.repeat(np.append(unwrapped, unwrapped[-1:]), 3)[:-1]
    before = np.roll(unwrapped, 1) if closed else np.concatenate([unwrapped[:1], unwrapped[:-1], unwrapped[-1:]])
    reference = near.copy()
    reference[0::3] = before[: len(reference[0::3])]
    own = np.angle(d1 * np.conj(d0) + 1e-300)
    own = own + _branch(reference - own)
    tiny = np.minimum(np.abs(d0), np.abs(d1)) < 1e-6 * (whole / len(raw) + 1e-12)
    return np.asarray(np.where(tiny, reference, own), dtype=float)


def _branch(gap: Floats | float) -> Floats:
    """The whole turns nearest to a gap."""
    return np.asarray(2 * np.pi * np.round(np.asarray(gap) / (2 * np.pi)), dtype=float)
