"""Convex hulls: how much room things take, as far as neighbours are concerned."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Contour

ALONG = np.linspace(0.0, 1.0, 33)  # the places along a contour that stand for it


def hull(points: Complexes) -> shapely.Geometry:
    """The convex hull of points, shape (k,)."""
    return shapely.convex_hull(shapely.multipoints(as_points(points)))


@lru_cache(maxsize=1024)
def hull_of(contours: tuple[Contour, ...]) -> shapely.Geometry:
    """The convex hull of contours. The latest are kept: pairing and company ask for them again and again."""
    return hull(points_along(contours))


def points_along(contours: Sequence[Contour]) -> Complexes:
    """Points along contours, shape (k,)."""
    return np.concatenate([track_of(contour).sketch(ALONG) for contour in contours])
