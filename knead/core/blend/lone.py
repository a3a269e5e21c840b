"""Where a shape grows from, or shrinks to, that has no partner: the place at which it hangs on a neighbour."""

from collections.abc import Sequence

import numpy as np
import shapely
import shapely.ops

from knead.core.blend.pair_plan import PairPlan
from knead.core.geometry.bezier import path_of
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import measure
from knead.core.model import Shape


def sprout(shape: Shape, from_first: bool, pairs: Sequence[PairPlan]) -> tuple[complex, complex]:
    """The place at the first and at the second key; at the other key it moves as the neighbour does.

    The neighbour is the paired shape that it overlaps most, else the nearest; with none, its own middle is taken.
    """
    own = _hull(shape)
    here = [pair.paint.first if from_first else pair.paint.second for pair in pairs]
    hulls = [_hull(neighbour) for neighbour in here]
    if not hulls:
        middle = complex(own.centroid.x, own.centroid.y)
        return middle, middle
    best = min(range(len(hulls)), key=lambda k: (-own.intersection(hulls[k]).area, own.distance(hulls[k]), k))
    if own.intersects(hulls[best]):
        contact = own.intersection(hulls[best]).centroid
    else:
        contact = shapely.ops.nearest_points(own, hulls[best])[0]
    place = complex(contact.x, contact.y)
    a, b = pairs[best].motion
    return (place, a * place + b) if from_first else ((place - b) / a, place)


def _hull(shape: Shape) -> shapely.Geometry:
    tracks = [measure(path_of(contour), contour.closed) for contour in shape.contours]
    points = np.concatenate([track.sketch(np.linspace(0, 1, 33)) for track in tracks])
    return shapely.MultiPoint(as_points(points)).convex_hull
