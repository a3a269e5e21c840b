"""Places within a ring, by what they have of its points."""

from collections.abc import Sequence

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import as_points

AT = 1e-9  # a place nearer to a point of the ring than this, by the size of that, is at it
BETWEEN = 1e-12  # the same for a place between two points, by how much they are seen from there in one line
NEARLY = 0.9  # the share of points within a ring that is taken for all
EDGE = 0.05  # how far within a ring, by the root of its area, what would lie outside is put


def around(rings: Sequence[Complexes], own: Complexes) -> int | None:
    """The smallest of some rings in which all points lie, or nearly, by its place among them; None if there is none."""
    polygons = [shapely.Polygon(as_points(ring)) for ring in rings]
    holders = [
        k for k, polygon in enumerate(polygons) if np.mean(shapely.contains_xy(polygon, own.real, own.imag)) > NEARLY
    ]
    return min(holders, key=lambda k: float(polygons[k].area), default=None)


def taken_along(ring: Complexes, other: Complexes, place: complex) -> complex:
    """Where a place in a ring is as that becomes another, point by point; in that ring, too, if that is simple."""
    there = complex(mean_values(ring, np.array([place]))[0] @ other)
    inside = shapely.Polygon(as_points(other))
    if not inside.is_valid or shapely.contains_xy(inside, there.real, there.imag):
        return there
    room = inside.buffer(-EDGE * float(np.sqrt(inside.area)))
    room = inside.representative_point() if room.is_empty else room
    x, y = shapely.shortest_line(room, shapely.Point(there.real, there.imag)).coords[0]
    return complex(x, y)


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
