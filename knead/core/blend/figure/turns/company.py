"""Where a form's neighbours lie about it in both keys tells how it is turned, if its own outline may go either way.

A line falls over with the dot below it, and the mouth of a head that is upside down is no frown.
"""

import numpy as np
import shapely

from knead.core.blend.course.body import Body
from knead.core.blend.figure.half_round import (
    DEARER,
    DEARER_END,
    TURNS,
    goes_round,
    is_loose_line,
    is_sure,
    may_turn,
    outlines_of,
    with_rival,
)
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import between
from knead.core.outline.kinds.ovals import may_be_squashed
from knead.core.outline.matching import AS_ASKED, is_turned
from knead.core.outline.strain import Strain

OTHERWISE = 0.45 * np.pi  # how far its turn is from that of its neighbours about it, that is laid the wrong way round
ALIKE = 0.2 * np.pi  # and how near to it, made to turn so
FOLD = np.pi / 4  # what looks alike at several turns may be that far from it
SLIGHT = 0.1  # radians; what is round may turn by this much otherwise than its neighbours
AGREED = 0.9  # how alike the turns of its neighbours must be, 1 is wholly
AS_ONE = 0.9  # how much of where what lies in it goes must be one turn of it all
ABOUT = 0.8  # the same where they turn so among themselves as well
HARDLY = 0.03  # what is so near to its middle, all together, says nothing of its turn
BESIDE, BY_A_LINE = 1.0, 0.4  # what lies nearer to its middle than this, by its size, may move within it
TELLS = 0.1  # what is distorted by more does not say how what it lies in is turned
WITHIN = 0.8  # what lies on another with a larger share of it lies within it
QUARTER = np.pi / 12  # what turns by about a quarter, to this, may be a ball that is squashed
SQUASHED, LEANS = 0.35, 0.2  # and is, if that strains less, and turns by no more radians
ASIDE, KEPT = 0.1, 0.05  # a ball that is farther from its middle, and keeps its distance to so much, goes with it
REACHES = 0.02  # what never has more of its hull on another lies beside it: a ball on the ground
STAYS = 0.4  # how far points go, by how far they would if it rolled over, where it bends over instead
FARTHER = 0.3  # how unlike, as a logarithm, distances in the two keys may be that count in full


def in_company(plans: list[PairPlan], sure: list[int], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans, with those half round of which the neighbours plainly say so; what is round turns as they do.

    Some are sure to be the right way round, as a line is that rests on a neighbour with one end. `touching` says which
    touch, of which a limb is one: a joint says how it turns.
    """
    unsure = [k for k, plan in enumerate(plans) if k not in sure and _may_be_otherwise(plan)]
    if not unsure:
        return plans
    found = list(plans)
    turns = dict(zip(unsure, _turns_about(plans, unsure).tolist(), strict=True))
    for k in sorted(unsure, key=lambda k: plans[k].body.area):  # what is in it first
        mates = [plans[j] for j in touching.get(k, ())]
        others = [*found[:k], *found[k + 1 :]]
        if np.isnan(turns[k]):
            found[k] = _as_contents(_in_a_holder(plans[k], mates), others)
        else:
            found[k] = _as_about(plans[k], mates, turns[k])
        hanging = [found[j] for j, touched in touching.items() if k in touched]
        told = _turn_of([each.body for each in hanging]) if np.isnan(turns[k]) else None
        found[k] = _as_a_ball(found[k], mates, others, turns[k] if told is None else told)
    return found


def _as_a_ball(plan: PairPlan, mates: list[PairPlan], others: list[PairPlan], turn: float) -> PairPlan:
    """The plan of what is tall in one key and wide in the other, squashed rather than turned, unless it is a limb.

    Or unless what lies in it turns, or, if nothing does, what lies about it, by so much.
    """
    quarter = between(abs(float(np.angle(plan.motion[0]))), np.pi / 2) < QUARTER
    if not quarter or not may_turn(plan) or not may_be_squashed(outlines_of(plan)) or _hangs(plan, mates):
        return plan
    inside = [each for each in _contents(plan, others) if not each.body.round]
    told = [float(np.angle(each.motion[0])) for each in inside] or [turn]
    if any(abs(each) > FOLD for each in told):
        return plan
    plan = with_rival(plan, 0.0, SLIGHT)
    rival = plan.half_round()
    return rival if rival.strain < SQUASHED and _apart(rival, 0.0) < LEANS else plan


def _hangs(plan: PairPlan, mates: list[PairPlan]) -> bool:
    """Whether it touches another that reaches farther, and lies on that in part."""
    shares = _shares(plan, [mate for mate in mates if mate.body.size > plan.body.size])
    return bool(np.any((shares.max(axis=1) > REACHES) & (shares.min(axis=1) < WITHIN)))


def _as_about(plan: PairPlan, mates: list[PairPlan], turn: float) -> PairPlan:
    """The plan half round, if it turns by about as much then as what lies about it, and may."""
    least, near = (SLIGHT, SLIGHT) if _is_round(plan) else (FOLD, ALIKE)
    apart = _apart(plan, turn)
    if apart <= least or _is_limb(plan, mates):
        return plan
    if _is_turned(plan, apart):  # neighbours may only choose among turns at which it is as like
        return _turned(plan, turn, near, DEARER, may_bend=False)
    # what touches nothing is no mouth of a face
    return _turned(plan, turn, near, DEARER_END if apart > OTHERWISE else DEARER, may_bend=bool(mates))


def _as_contents(plan: PairPlan, others: list[PairPlan]) -> PairPlan:
    """The plan of what may as well turn otherwise, turned as all that lies in it is: a pentagon with a number.

    What hardly turns is left as it is.
    """
    if not may_turn(plan) or _is_round(plan) or abs(float(np.angle(plan.motion[0]))) <= TURNS:
        return plan
    contents = [each.body for each in _contents(plan, others)]
    turn = _turn_of(contents)
    turn = _turn_with(plan, contents) if turn is None else turn
    if turn is None or _apart(plan, turn) <= FOLD:
        return plan
    return _turned(plan, turn, ALIKE, DEARER_END if len(contents) > 1 else DEARER, may_bend=False)


def _turn_of(contents: list[Body]) -> float | None:
    """How far what lies in a form turns, all together, in radians; None if it goes each its own way."""
    if len(contents) < 2 and all(body.round for body in contents):
        return None  # nothing, or a ball
    first, second = (np.concatenate(side) for side in ([b.first for b in contents], [b.second for b in contents]))
    a, b = similarity.fit(first, second)
    left = float(np.mean(np.abs(a * first + b - second) ** 2))
    return float(np.angle(a)) if left < (1.0 - AS_ONE) * float(np.var(second)) else None


def _turn_with(plan: PairPlan, contents: list[Body]) -> float | None:
    """How far a form that turns must turn, in radians, to take a ball on it along, as a lid its knob; None if no ball.

    One that is near its middle says nothing, nor does one that goes elsewhere on it.
    """
    if len(contents) != 1 or abs(float(np.angle(plan.motion[0]))) <= FOLD:
        return None
    (ball,), grown = contents, abs(plan.motion[0])
    first, second = (ball.start - plan.body.start) * grown, ball.end - plan.body.end
    as_far = abs(abs(first) - abs(second)) < KEPT * plan.body.size
    return float(np.angle(second / first)) if as_far and abs(second) > ASIDE * plan.body.size else None


def _contents(plan: PairPlan, others: list[PairPlan]) -> list[PairPlan]:
    """What lies in it in both keys, and tells how it is turned: what is much like its partner."""
    hulls = np.array([each.body.hulls for each in others], dtype=object).reshape(-1, 2)
    inside = shapely.covers(np.array(plan.body.hulls), hulls).all(axis=1)
    found = [each for each, within in zip(others, inside.tolist(), strict=True) if within]
    return [each for each in found if each.strain < TELLS]


def _in_a_holder(plan: PairPlan, mates: list[PairPlan]) -> PairPlan:
    """The plan of what would roll over in what it lies in, bent over instead: the mouth of a face without eyes."""
    larger, shares = _larger(plan, mates)
    holders = [mate for mate, share in zip(larger, shares, strict=True) if np.all(share >= WITHIN)]
    if not holders:
        return plan
    holder = min(holders, key=lambda mate: mate.body.size)
    turn = 0.0 if _is_round(holder) else float(np.angle(holder.motion[0]))
    apart = _apart(plan, turn)
    rolls = apart > OTHERWISE and not _is_turned(plan, apart)
    return _turned(plan, turn, ALIKE, -np.inf) if rolls else plan


def _is_turned(plan: PairPlan, apart: float) -> bool:
    """Whether its own outline tells plainly that it is turned by so much against what is about it."""
    return is_turned(*max(outlines_of(plan), key=lambda pair: pair[0].length), Strain(plan.strain, apart))


def _turned(plan: PairPlan, turn: float, near: float, dearer: float, may_bend: bool = True) -> PairPlan:
    """The plan half round, if it turns by about so much then, and is distorted by no more than that, or bends over."""
    plan = with_rival(plan, turn, near)
    rival = plan.half_round()
    may = rival.strain <= plan.strain + dearer or (may_bend and _bends_over(rival, plan))
    return rival if may and _apart(rival, turn) < near else plan


def _bends_over(plan: PairPlan, rolled: PairPlan) -> bool:
    """Whether its points hardly go any way, by how far they would if it rolled over: a mouth whose corners stay."""
    grown = abs(rolled.motion[0])
    bodies = plan.body, rolled.body
    far, there = (np.abs(each.second - each.end - grown * (each.first - each.start)).mean() for each in bodies)
    return bool(plan.strain < AS_ASKED and far < STAYS * there)


def _may_be_otherwise(plan: PairPlan) -> bool:
    if not (is_loose_line(plan) or may_turn(plan)):
        return False
    # what is one form and hardly turns is as it was, whatever goes on about it
    return not is_sure(plan) or abs(float(np.angle(plan.motion[0]))) > TURNS or _is_round(plan)


def _is_round(plan: PairPlan) -> bool:
    return goes_round(plan) and plan.body.round


def _is_limb(plan: PairPlan, mates: list[PairPlan]) -> bool:
    """Whether it is closed, and lies on a larger one with a part only, in both keys."""
    _, shares = _larger(plan, mates)
    return bool(np.any(np.all((shares > 0.0) & (shares < WITHIN), axis=1)))


def _larger(plan: PairPlan, mates: list[PairPlan]) -> tuple[list[PairPlan], Floats]:
    """Those that are larger than a closed one, and which share of its hull lies on theirs at each key; (larger, 2)."""
    larger = [mate for mate in mates if goes_round(plan) and mate.body.area > plan.body.area]
    return larger, _shares(plan, larger)


def _shares(plan: PairPlan, mates: list[PairPlan]) -> Floats:
    """Which share of its hull lies on each other's at each key, shape (mates, 2)."""
    hulls = np.array(plan.body.hulls)
    others = np.array([mate.body.hulls for mate in mates], dtype=object).reshape(-1, 2)
    return np.asarray(shapely.area(shapely.intersection(hulls, others)) / np.maximum(shapely.area(hulls), 1e-9))


def _apart(plan: PairPlan, turn: float) -> float:
    return float(between(np.angle(plan.motion[0]), turn))


def _turns_about(plans: list[PairPlan], some: list[int]) -> Floats:
    """By how much the others are turned about the middle of each of some, in radians; not a number if they disagree.

    Near ones count most, and those that keep their distance. Where none lies beside it, and where it is round, they
    must turn among themselves as well: a pupil that goes from left to right turns no eye. Nor does an eye turn the
    pupil: what it lies in does not count.
    """
    ends = np.array([[plan.body.start, plan.body.end] for plan in plans]).T
    away = np.array([side[None] - side[some][:, None] for side in ends])
    least, weights = _weighed([plan.body for plan in plans], some, ends, away)
    weights[:, [plan.body.straight for plan in plans]] = 0.0  # a graph that falls tells nothing
    turns, agreed = _mean_turn(away, weights)
    middles = np.sum(weights * away, axis=2) / np.maximum(weights.sum(axis=1), 1e-12)
    among, alike = _mean_turn(away - middles[:, :, None], weights)
    as_one = (alike > AGREED) & (between(among, turns) < ALIKE)
    reach = np.array([_reach(plans[k]) for k in some])[:, None]
    beside = ((least > reach) & (weights > 0.0)).any(axis=1)
    as_one &= (agreed > ABOUT) & (weights.sum(axis=1) > HARDLY)
    return np.where(((agreed > AGREED) & beside) | as_one, turns, np.nan)


def _weighed(bodies: list[Body], some: list[int], ends: Complexes, away: Complexes) -> tuple[Floats, Floats]:
    """How far all bodies are from some of them, by the size of those, and how much they tell; (len(some), bodies).

    `ends` are the middles of all at the keys, (2, bodies), and `away` where all are from some, (2, some, bodies).
    """
    size = np.maximum(np.array([bodies[k].size for k in some]), 1e-9)[:, None]
    grown = np.array([abs(bodies[k].motion[0]) for k in some])[:, None]
    near, far = np.abs(away[0]) * grown / size, np.abs(away[1]) / size
    least, most = np.minimum(near, far), np.maximum(near, far)
    kept = np.exp(-((np.log((far + 0.1) / (near + 0.1)) / FARTHER) ** 2))
    weights = least / (1.0 + most) ** 3 * kept
    for side, middles in enumerate(ends[:, some, None]):
        around = shapely.contains_xy(np.array([body.hulls[side] for body in bodies]), middles.real, middles.imag)
        weights = np.where(around, 0.0, weights)
    return least, weights


def _reach(plan: PairPlan) -> float:
    """How far off, by its size, a single neighbour must be that says how it turns."""
    if not goes_round(plan):
        return BY_A_LINE
    return np.inf if _is_round(plan) else BESIDE


def _mean_turn(away: Complexes, weights: Floats) -> tuple[Floats, Floats]:
    """The mean turn from the first to the second of places (2, n, m), and how much they agree, 0 to 1; (n,)."""
    turns = np.sum(weights * np.exp(1j * np.angle(away[1] * away[0].conj() + 1e-300)), axis=1)
    return np.angle(turns + 1e-300), np.abs(turns) / np.maximum(weights.sum(axis=1), 1e-12)
