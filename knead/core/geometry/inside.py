"""Places within a ring, by what they have of its points."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats

AT = 1e-9  # a place nearer to a point of the ring than this, by the size of that, is at it
BETWEEN = 1e-12  # the same for a place between two points, by how much they are seen from there in one line


def mean_values(ring: Complexes, places: Complexes) -> Floats:
    """Mean value coordinates of places (n,) in the ring through points (m,): shape (n, m), each row sums to 1.

    They give a place back, turn and stretch with the ring, and change smoothly. Hormann and Floater 2006.
    """
    spokes = ring - places[:, None]
    lengths = np.maximum(np.abs(spokes), AT * float(np.ptp(ring.real) + np.ptp(ring.imag)) + 1e-300)
    between, both = np.roll(spokes, -1, axis=1) * spokes.conj(), lengths * np.roll(lengths, -1, axis=1)
    seen = both + between.real
    half = np.where(seen > BETWEEN * both, between.imag / np.maximum(seen, BETWEEN * both), BETWEEN**-0.5)
    weights = (half + np.roll(half, 1, axis=1)) / lengths
    at = np.abs(spokes) < lengths
    weights = np.where(at.any(axis=1, keepdims=True), at, weights)
    return np.asarray(weights / weights.sum(axis=1, keepdims=True), dtype=float)
