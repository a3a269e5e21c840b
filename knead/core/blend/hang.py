"""Forms that look alike when turned half round: their neighbours say which way round they go.

A bone of an arm hangs on its joint in both keys. Laid on its partner the wrong way round, it hangs on nothing; so what
hangs on nothing though it touches a neighbour in both keys is also tried turned half round.
"""

from dataclasses import replace

import numpy as np
import shapely

from knead.core.blend.course import LOOSE, courses, hull
from knead.core.blend.pair_plan import PairPlan, plan_pair
from knead.core.model import Take

ROUNDS = 3  # what hangs on a bone is judged once that bone is the right way round
SURE = 0.004  # strain, apart from turning, of what is one form: that is the right way round
DEARER = 0.12  # how much more strain a shape may take on to hang on its neighbour


def hung(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans on their courses, turned half round where only so they hang on a neighbour."""
    plans = _on_courses(plans)
    for _ in range(ROUNDS):
        loose = [k for k in _loose(plans) if plans[k].course.parent is None]
        changed = False
        for k in loose:
            plans[k] = _with_rival(plans[k])
            rival = plans[k].rival
            if rival is None or rival.strain > plans[k].strain + DEARER:
                continue
            tried = _on_courses([*plans[:k], rival, *plans[k + 1 :]])
            if _hanging(tried) > _hanging(plans):
                plans, changed = tried, True
        if not changed:
            break
    return plans


def _on_courses(plans: list[PairPlan]) -> list[PairPlan]:
    return [p.on_course(c) for p, c in zip(plans, courses([p.body for p in plans]), strict=True)]


def _hanging(plans: list[PairPlan]) -> int:
    return sum(plan.course.parent is not None for plan in plans)


def _loose(plans: list[PairPlan]) -> list[int]:
    """Indices of those that touch a neighbour in both keys and could be turned; the largest shape holds all."""
    hulls = [
        np.array([hull(points) for points in side])
        for side in zip(*((p.body.first, p.body.second) for p in plans), strict=True)
    ]
    if not hulls:
        return []
    reach = LOOSE * np.array([plan.body.size for plan in plans])
    touching = np.ones((len(plans), len(plans)), dtype=bool)
    for side in hulls:
        touching &= shapely.distance(side[:, None], side[None]) <= np.minimum(reach[:, None], reach[None])
    np.fill_diagonal(touching, False)
    root = int(np.argmax(shapely.area(hulls[0])))
    free = [k for k, plan in enumerate(plans) if k != root and not plan.hints and not plan.kin]
    return [k for k in free if touching[k].any()]


def _with_rival(plan: PairPlan) -> PairPlan:
    """The plan with the best one that takes its form half round, for the next time as well."""
    turn = 0.08 * abs(float(np.angle(plan.motion[0]))) / np.pi
    if plan.rival is not None or plan.strain - turn < SURE:
        return plan
    take = Take(blend=plan.blend, tolerance=plan.tolerance)
    turned = float(np.angle(-plan.motion[0]))
    rival = plan_pair(plan.paint.first, plan.paint.second, take, plan.pair, turned)
    rival = replace(rival, body=replace(rival.body, turns=plan.body.turns, path=plan.body.path), goes=plan.goes)
    return replace(plan, rival=rival)
