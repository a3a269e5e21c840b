"""What would cross itself if it went solidly, as the evidence asks, goes straight if it hardly crosses itself then."""

from dataclasses import replace

import numpy as np
import shapely

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.load import STRAINED
from knead.core.geometry.loops import SEEN, loops_of
from knead.core.geometry.similarity import as_points

TIMES = np.array([0.0, 0.25, 0.5, 0.75, 1.0])
LESS = 0.5  # by so much smaller must loops be that are made instead


def uncrossed(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans, with those loosened that cross themselves because they go solidly."""
    return [_uncrossed(replace(plan, loosened=False) if plan.loosened else plan) for plan in plans]


def _uncrossed(plan: PairPlan) -> PairPlan:
    if plan.blend != "auto" or plan.strain < STRAINED or plan.solid_share == 0.0:
        return plan
    crossed = _crossed(plan)
    if crossed <= SEEN:
        return plan
    loose = replace(plan, loosened=True)
    return loose if _crossed(loose) < LESS * crossed else plan


def _crossed(plan: PairPlan) -> float:
    """The shares that loops enclose of its closed outlines which are simple in both keys, at all TIMES together."""
    loops = 0.0
    for contour, ring in zip(plan.contours, plan.outlines(plan.points(TIMES)), strict=True):
        crosses = ~shapely.is_valid(shapely.polygons(as_points(ring)))
        if contour.closed and not crosses[[0, -1]].any():
            loops += sum(map(loops_of, ring[crosses]))
    return loops
