"""What of the plane is covered by what is drawn."""

from collections.abc import Sequence
from functools import reduce

import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points

THIN = 1e-3  # the width of a line that is not told
NOTHING = shapely.Polygon()


def area_within(rings: Complexes) -> shapely.Geometry:
    """What closed rows of points enclose, shape (..., n): a geometry, or an array of them, shape (...)."""
    return shapely.make_valid(shapely.polygons(as_points(rings)))


def area_of(rings: Sequence[Complexes]) -> shapely.Geometry:
    """What closed rows of points fill together, each (..., n); what lies within two of them counts as a hole."""
    return reduce(shapely.symmetric_difference, map(area_within, rings)) if rings else NOTHING


def line_along(points: Complexes, width: float) -> shapely.Geometry:
    """What a line of a width covers along rows of points, (..., n), as `area_within`; one point alone is a dot."""
    rows = as_points(points)
    lines = shapely.linestrings(rows) if points.shape[-1] > 1 else shapely.points(rows[..., 0, :])
    return shapely.buffer(lines, max(0.5 * width, THIN))
