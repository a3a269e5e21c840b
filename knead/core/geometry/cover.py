"""What of the plane is covered by what is drawn."""

from collections.abc import Sequence
from functools import reduce

import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points

THIN = 1e-3  # the width of a line that is not told
NOTHING = shapely.Polygon()


def area_within(ring: Complexes) -> shapely.Geometry:
    """What a closed row of points encloses, shape (n,)."""
    return shapely.make_valid(shapely.Polygon(as_points(ring)))


def area_of(rings: Sequence[Complexes]) -> shapely.Geometry:
    """What closed rows of points fill; what lies within two of them counts as a hole."""
    return reduce(shapely.symmetric_difference, map(area_within, rings)) if rings else NOTHING


def line_along(points: Complexes, width: float) -> shapely.Geometry:
    """What a line of a width covers, along a row of points (n,); one alone is a dot."""
    line = shapely.LineString(as_points(points)) if len(points) > 1 else shapely.Point(as_points(points)[0])
    return line.buffer(max(0.5 * width, THIN))
