"""What comes off a neighbour of its paint that changes: drops off a wave, sparks off a heart that bursts."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.hull import hull_of
from knead.core.geometry.track import even_track
from knead.core.model import Shape

SMALLER = 0.25  # how large a drop may be, by the area of what it comes off
CHANGES, GROWS = 0.1, np.log(1.3)  # how far that must stray from a mere turn, by its size, or be scaled, as a logarithm


def drops(
    alone: Mapping[int, Shape], pairs: Sequence[tuple[PairPlan, shapely.Geometry]], from_first: bool
) -> dict[int, tuple[complex, complex, str]]:
    """Where lone shapes come off, or go back to: their places at both keys, and the shape on which that is.

    `pairs` are with their places at the key of the lone shapes, which nothing else belongs to.
    """
    mates = [pair for pair in pairs if _changes(pair[0])]
    found: dict[int, tuple[complex, complex, str]] = {}
    for name, shape in alone.items():
        place = hull_of(shape.contours)
        under = [ground for _, ground in pairs if ground.intersects(place)]
        likely = [
            (plan, whole)
            for plan, whole in mates
            if _is_of_one_paint(shape, plan) and _is_off(place, plan, whole) and all(g.covers(whole) for g in under)
        ]
        plan, _ = min(likely, key=lambda each: place.distance(each[1]), default=(None, None))
        way = None if plan is None else _way(place, plan, from_first)
        if way is not None:
            found[name] = way
    return found


def _changes(plan: PairPlan) -> bool:
    return plan.body.bend > CHANGES or abs(np.log(abs(plan.motion[0]))) > GROWS


def _is_of_one_paint(shape: Shape, plan: PairPlan) -> bool:
    """Whether both are fills without outlines, of the same paint in both keys."""
    return shape.fill is not None and all(
        key.fill == shape.fill and key.stroke is None for key in (shape, plan.paint.first, plan.paint.second)
    )


def _is_off(place: shapely.Geometry, plan: PairPlan, whole: shapely.Geometry) -> bool:
    """Whether a form lies beside a much larger one, no farther off than that is large in one of the keys."""
    sizes = [side.minimum_rotated_rectangle.length for side in plan.body.hulls]
    areas = [side.area for side in plan.body.hulls]
    return bool(place.area < SMALLER * max(areas) and 0.0 < place.distance(whole) < 0.5 * max(sizes))


def _way(place: shapely.Geometry, plan: PairPlan, from_first: bool) -> tuple[complex, complex, str] | None:
    """From the place on the outline that is nearest, where that is in the other key, to its own place; or back."""
    key = plan.paint.first if from_first else plan.paint.second
    own = np.array([place.centroid.x, place.centroid.y])
    nearest = min((even_track(contour) for contour in key.contours), key=lambda track: track.nearest(own)[1])
    foot = nearest.points(nearest.shares(np.array([nearest.nearest(own)[0]])))[0]
    there = plan.partner(foot, from_first)
    if there is None:
        return None
    here, far = complex(own[0], own[1]), complex(*there)
    shape = plan.pair.ids(not from_first)[0]
    return (here, far, shape) if from_first else (far, here, shape)
