"""What would cross itself if it went solidly, as the evidence asks, goes straight if it does not cross itself then."""

from dataclasses import replace

import numpy as np
import shapely

from knead.core.blend.pair_plan import PairPlan
from knead.core.geometry.similarity import as_points

TIMES = np.array([0.0, 0.25, 0.5, 0.75, 1.0])
STRAINED = 0.1  # what strains less does not cross itself
PLAINLY = 0.003  # by so much of it the area within an outline that crosses itself is another than what it goes round


def uncrossed(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans, with those loosened that cross themselves only when they go solidly."""
    return [_uncrossed(replace(plan, loosened=False) if plan.loosened else plan) for plan in plans]


def _uncrossed(plan: PairPlan) -> PairPlan:
    if plan.blend != "auto" or plan.strain < STRAINED or plan.solid_share == 0.0 or not _crosses(plan):
        return plan
    loose = replace(plan, loosened=True)
    return plan if _crosses(loose) else loose


def _crosses(plan: PairPlan) -> bool:
    """Whether a closed outline that is simple in both keys crosses itself in between."""
    for contour, ring in zip(plan.contours, plan.outlines(plan.points(TIMES)), strict=True):
        fills = shapely.polygons(as_points(ring))
        crossed = ~shapely.is_valid(fills)
        if contour.closed and crossed.any() and not crossed[[0, -1]].any():
            around = 0.5 * np.abs(np.sum((ring.conj() * np.roll(ring, -1, axis=1)).imag, axis=1))
            within = shapely.area(shapely.make_valid(fills))
            if np.any(np.abs(within - around) > PLAINLY * within):
                return True
    return False
