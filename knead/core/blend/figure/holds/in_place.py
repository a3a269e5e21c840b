"""What stays in its place in both keys stays there all the way: the ends of a swung rope, the foot of a hill."""

from dataclasses import replace

import numpy as np

from knead.core.blend.course.course import Course
from knead.core.blend.figure.holds.welds import SEEN, may_weld
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.ways import direct
from knead.core.geometry.bezier import Ints

STAYS = 0.02  # how far, by the size of the shape, a node may go that stays where it is
APART = 1.0  # how far apart two of them are, by the same: near one alone, about which the rest turns, all stays
ON_THE_WAY = np.array([0.25, 0.5, 0.75])


def kept_in_place(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans, with outlines pinned where they stay in both keys if they would stray there.

    Two places that stay leave nothing to turn, or to move: all the rest is a change of form.
    """
    return [_kept(plan) if _may_stay(plan) else plan for plan in plans]


def _kept(plan: PairPlan) -> PairPlan:
    nodes = _staying(plan)
    one, two = (key[3 * nodes + 1] for key in (plan.first_points, plan.second_points))
    if len(nodes) < 2 or np.abs(one[:, None] - one).max() < APART * plan.body.size:
        return plan
    strays = np.abs(plan.points(ON_THE_WAY)[:, 3 * nodes + 1] - direct(one, two, ON_THE_WAY)).max()
    return replace(plan, pins=tuple(nodes.tolist())) if strays > SEEN * plan.body.size else plan


def _may_stay(plan: PairPlan) -> bool:
    own_way = plan.lanes or plan.fan or plan.folds
    return plan.is_whole and len(plan.contours) == 1 and may_weld(plan) and not own_way and not _is_led(plan.course)


def _is_led(course: Course) -> bool:
    """Whether it, or what it hangs on, goes a way that was drawn, or turns by whole rounds."""
    led = course.path is not None or abs(course.angle) > np.pi
    return led or (course.parent is not None and _is_led(course.parent))


def _staying(plan: PairPlan) -> Ints:
    """The nodes that are in one place in both keys."""
    gone = np.abs(plan.second_points - plan.first_points)[1::3]
    return np.flatnonzero(gone <= STAYS * plan.body.size)
