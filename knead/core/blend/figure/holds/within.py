"""What lies within a neighbour goes as its outline does, however that bends."""

import numpy as np
import shapely

from knead.core.blend.course.body import is_flat
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import as_points

RING = 64  # so many points of an outline around others take these along
STICKS_OUT = 0.01  # how far, by the length around it, what lies in another may stick out of it


def holder_of(plan: PairPlan, group: Complexes, from_first: bool) -> Holder | None:
    """The outline of a shape around points of a key; None if some of them stick out of it."""
    key = np.array([0.0 if from_first else 1.0])
    closed = [k for k, contour in enumerate(plan.contours) if contour.closed]
    rings = {k: ring[0] for k, ring in enumerate(plan.outlines(plan.points(key))) if k in closed}
    forms = {k: shapely.polygons(as_points(ring)) for k, ring in rings.items()}
    number = max(forms, key=lambda k: forms[k].area, default=-1)
    # places in a ring that crosses itself, or encloses hardly anything, are not told by its points
    if number < 0 or not forms[number].is_valid or is_flat(rings[number]):
        return None
    step = -(-len(rings[number]) // RING)
    points = shapely.multipoints(as_points(group))
    if not forms[number].buffer(STICKS_OUT * points.convex_hull.length).covers(points):
        return None

    def ring_at(times: Floats) -> Complexes:
        return plan.outlines(plan.points(times))[number][:, ::step]

    return Holder(rings[number][::step], ring_at)
