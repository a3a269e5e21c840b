"""How closely in-betweens follow the way of every point of an outline: more nodes where too few would cut corners.

Nodes travel; what lies between two nodes is drawn anew from their handles. Where a stretch bends on its way, halving it
lets its middle travel, too.
"""

import numpy as np

from knead.core.blend.course.course import Course
from knead.core.blend.travel.load import Load
from knead.core.blend.travel.solid import EDGES
from knead.core.geometry.bezier import Complexes, Floats, bernstein, segments_of
from knead.core.outline.contour_plan import ContourPlan

ROUNDS = 3  # a stretch is cut into 8 at most
HALF_WAY = np.array([0.5])


def fitted(load: Load, tolerance: float, course: Course) -> Load:
    """The load with nodes added, in at most ROUNDS, until more would move no half-way outline by over `tolerance`.

    `tolerance` is in scene units. A load that does not travel solidly is already exact.
    """
    for _ in range(ROUNDS):
        if load.stiff is None:
            return load
        drawn = load.stiff.drawn(HALF_WAY, course)
        coarse = tuple(_gaps(c, *ways) > tolerance for c, ways in zip(load.contours, drawn, strict=True))
        if not any(np.any(where) for where in coarse):
            return load
        load = load.halved(coarse)
    return load


def _gaps(contour: ContourPlan, triples: Complexes, points: Complexes) -> Floats:
    """How far the middle of each stretch, as drawn, lies from where it has travelled."""
    if contour.cuts is None:
        return np.zeros(0)
    middles = segments_of(triples[0].reshape(-1, 3), contour.closed) @ bernstein(HALF_WAY)
    return np.asarray(np.abs(middles[:, 0] - points[0, EDGES // 2 :: EDGES]))
