"""Forms that may as well be laid on their partners half round: which are free to, and the plan of how they are then."""

from dataclasses import replace

import numpy as np

from knead.core.blend.pair_plan import PairPlan
from knead.core.blend.planning import plan_pair
from knead.core.model import Take

DEARER_END = 0.1  # how much more distortion a shape may take on to go as its neighbours plainly say
SAME = 0.02  # radians; turns of a round form that differ by less are one


def is_free(plan: PairPlan) -> bool:
    """Whether it is closed, and tied by nothing.

    What is shut in a key, a line that goes there and back, has ends that say which way round it is.
    """
    return plan.contours[0].closed and not (plan.hints or plan.kin or plan.body.path or plan.load.flat)


def is_loose_line(plan: PairPlan) -> bool:
    """Whether it is one open line, and tied by nothing."""
    open_line = len(plan.contours) == 1 and not plan.contours[0].closed and len(plan.contours[0].first) > 1
    return open_line and plan.pair.kind in ("pair", "recut") and not (plan.hints or plan.kin or plan.body.path)


def with_rival(plan: PairPlan, turn: float | None = None) -> PairPlan:
    """The plan with the best one that takes its form half round, or round by a turn, for the next time as well."""
    known = plan.rival
    if known is not None and (turn is None or abs(np.angle(known.motion[0] * np.exp(-1j * turn))) < SAME):
        return plan
    take = Take(blend=plan.blend, tolerance=plan.tolerance)
    turned = float(np.angle(-plan.motion[0])) if turn is None else turn
    return replace(plan, rival=plan_pair(plan.paint.first, plan.paint.second, take, plan.pair, turned))
