"""Where shapes grow from, or shrink to, that have no partner: the place at which they hang on a neighbour."""

from collections.abc import Sequence

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray

from knead.core.blend.body import hull
from knead.core.blend.pair_plan import PairPlan
from knead.core.geometry.track import track_of
from knead.core.model import Shape

AS_MUCH = 0.999  # an overlap that is larger than this share of another is as large
Place = tuple[complex, complex]


def sprouts(shapes: Sequence[Shape], from_first: bool, pairs: Sequence[PairPlan]) -> list[Place]:
    """The places of lone shapes of one key at the first and second key; at the other one, each moves as a neighbour.

    The neighbour is the paired shape that a shape overlaps most, else the nearest; with none, its own middle is taken.
    What overlaps another lone shape as much or more grows from the same place as that, so that they stay together: a
    new eye with all that is in it, a foot on a new leg.
    """
    hulls = _hulls(shapes)
    others = np.array([pair.body.hulls[0 if from_first else 1] for pair in pairs], dtype=object)
    tree = shapely.STRtree(others)
    shared, mates = _shared(hulls, tree), _shared(hulls, shapely.STRtree(hulls))
    most = [max(row.values(), default=0.0) for row in shared]
    found: dict[int, Place] = {}
    holders: dict[int, int] = {}
    waiting = list(range(len(shapes)))
    while waiting:
        k = max(waiting, key=lambda each: most[each])
        waiting.remove(k)
        if k in holders:
            found[k] = found[holders[k]]
        elif len(others) == 0:
            found[k] = (complex(hulls[k].centroid.x, hulls[k].centroid.y),) * 2
        else:
            best = max(shared[k], key=lambda j: shared[k][j]) if shared[k] else int(tree.nearest(hulls[k]))
            found[k] = _on(hulls[k], others[best], pairs[best].motion, from_first)
        for mate, area in mates[k].items():
            if mate in waiting and area >= AS_MUCH * most[mate]:
                holders[mate], most[mate] = k, area
    return [found[k] for k in range(len(shapes))]


def _shared(hulls: NDArray[np.object_], tree: shapely.STRtree) -> list[dict[int, float]]:
    """For each hull, the areas that it has in common with those of a tree that it meets, by their indices."""
    one, two = tree.query(hulls, predicate="intersects")
    areas = shapely.area(shapely.intersection(hulls[one], tree.geometries[two]))
    found: list[dict[int, float]] = [{} for _ in hulls]
    for a, b, area in zip(one.tolist(), two.tolist(), areas.tolist(), strict=True):
        found[a][b] = area
    return found


def _on(own: shapely.Geometry, neighbour: shapely.Geometry, motion: tuple[complex, complex], from_first: bool) -> Place:
    """The place where a shape hangs on a neighbour that moves so; what does not touch it keeps its distance."""
    if own.intersects(neighbour):
        contact = own.intersection(neighbour).centroid
        place = held = complex(contact.x, contact.y)
    else:
        place, held = (complex(point.x, point.y) for point in shapely.ops.nearest_points(own, neighbour))
    a, b = motion
    turn = a / abs(a)
    if from_first:
        return place, a * held + b + turn * (place - held)
    return (held - b) / a + (place - held) / turn, place


def _hulls(shapes: Sequence[Shape]) -> NDArray[np.object_]:
    """The convex hulls of shapes."""
    found = np.empty(len(shapes), dtype=object)
    for k, shape in enumerate(shapes):
        tracks = [track_of(contour) for contour in shape.contours]
        found[k] = hull(np.concatenate([track.sketch(np.linspace(0, 1, 33)) for track in tracks]))
    return found
