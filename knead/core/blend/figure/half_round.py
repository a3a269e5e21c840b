"""Forms that may as well be laid on their partners half round: which are free to, and the plan of how they are then."""

from dataclasses import replace

import numpy as np

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_pair
from knead.core.geometry.similarity import between
from knead.core.geometry.track import Track, even_track
from knead.core.model import Take
from knead.core.outline.kinds.sides import by_sides
from knead.core.pairing.pairs import is_ring, turned_ring

SURE = 0.004  # strain, apart from turning, of what is one form: that is the right way round
NEARLY, NEARLY_AROUND = 0.03, 0.1  # the same of a line that was drawn anew as it was, and of what goes round
TURNS = np.pi / 9  # and turns by no more than this
DEARER_END = 0.1  # how much more distortion a shape may take on to go as its neighbours plainly say
DEARER = 0.03  # the same for what may as well lie otherwise
SAME = np.pi / 4  # turns that differ by less ask for the same of what is not round


def is_sure(plan: PairPlan) -> bool:
    """Whether it is plainly one form in both keys, stays where it is, or was drawn anew as it was, or longer."""
    if plan.body.still:
        return True
    upright = abs(float(np.angle(plan.motion[0]))) < TURNS
    nearly = NEARLY_AROUND if goes_round(plan) else NEARLY
    return plan.strain < (nearly if upright else SURE) or (upright and keeps_sides(plan))


def keeps_sides(plan: PairPlan) -> bool:
    """Whether a good part of it is in both keys, and the rest was made longer: a bar of a chart."""
    return is_free(plan) and all(by_sides(*ends) is not None for ends in outlines_of(plan))


def is_free(plan: PairPlan) -> bool:
    """Whether it is closed, and tied by nothing.

    What is shut in a key, a line that goes there and back, has ends that say which way round it is.
    """
    tied = plan.hints or plan.kin or plan.body.path or plan.load.flat or plan.folds or plan.tied or plan.fan
    return plan.contours[0].closed and not (tied or plan.pair.turning)


def outlines_of(plan: PairPlan) -> list[tuple[Track, Track]]:
    """Its contours that become each other, whole."""
    first, second = plan.paint.first.contours, plan.paint.second.contours
    ends = [(contour.first_contour, contour.second_contour) for contour in plan.contours]
    return [(even_track(first[i]), even_track(second[j])) for i, j in ends if i is not None and j is not None]


def goes_round(plan: PairPlan) -> bool:
    """Whether it is closed, or a ring of strokes in both keys."""
    return plan.contours[0].closed or is_ring(plan.pair)


def may_turn(plan: PairPlan) -> bool:
    """Whether it goes round, and is tied by nothing."""
    return is_free(plan) or (_is_line(plan) and is_ring(plan.pair))


def is_loose_line(plan: PairPlan) -> bool:
    """Whether it is one line with two ends, and tied by nothing."""
    return _is_line(plan) and not is_ring(plan.pair)


def _is_line(plan: PairPlan) -> bool:
    open_line = len(plan.contours) == 1 and not plan.contours[0].closed and len(plan.contours[0].first) > 1
    tied = plan.hints or plan.kin or plan.body.path or plan.body.alone or plan.lanes or plan.pair.turning
    return open_line and plan.pair.kind in ("pair", "recut") and not tied


def with_rival(plan: PairPlan, turn: float | None = None, near: float = SAME) -> PairPlan:
    """The plan with the best one that takes its form half round, or by a turn, for the next time as well.

    One that was made to turn so to within `near`, in radians, is kept.
    """
    turn = float(np.angle(-plan.motion[0])) if turn is None else turn
    if plan.rival is not None and between(plan.rival_about, turn) <= near:
        return plan
    take = Take(blend=plan.blend, tolerance=plan.tolerance)
    pair, second = turned_ring(plan.pair, turn) or (plan.pair, plan.paint.second)
    rival = plan_pair(plan.paint.first, second, take, pair, turn)
    return replace(plan, rival=rival, rival_about=turn)
