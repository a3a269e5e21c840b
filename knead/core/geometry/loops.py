"""Loops that a closed outline makes where it crosses itself."""

import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points

SEEN = 2e-3  # a loop smaller than this share of the area is not seen


def loops_of(ring: Complexes) -> float:
    """The share of the area within a closed outline that all its loops but the largest enclose, 0 where it is simple.

    The outline is points of shape (k,).
    """
    outline = shapely.Polygon(as_points(ring))
    sizes = sorted(shapely.area(shapely.get_parts(shapely.polygonize([shapely.node(outline.exterior)]))))
    whole = max(float(shapely.make_valid(outline).area), 1e-12)
    return sum(sizes[:-1]) / whole if sizes else 0.0
