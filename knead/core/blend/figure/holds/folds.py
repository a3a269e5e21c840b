"""What has an edge that stays on a neighbour keeps it: the flap of an envelope folds over, a sail goes about.

A form alone may as well be turned, or moved, to where it goes; then that edge would come off. It folds over if its edge
stays in its very place, and what was on one side of it comes to lie on the other.
"""

from dataclasses import replace
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.course import Course
from knead.core.blend.figure.half_round import DEARER_END, SURE, is_free
from knead.core.blend.figure.touching import neighbours
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import NO_TIES, plan_held
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, even_track
from knead.core.outline.directions import winding

STAYS = 0.02  # how near points that stay are to an outline, by the size of what they belong to
STAYS_ALONE = 0.01  # the same where nothing but itself says so
LEAST, MOST = 0.12, 0.6  # the share of an outline that an edge is,
SIDE = 0.04  # or a whole side of it, from corner to corner
SLIDES = 0.1  # how near its outline what merely moves is to what it becomes, by its size
UPRIGHT = 0.1  # what turns by less, in radians, stands
LEAVES = 0.2  # how far, by its size, an edge must go from where it stays
PLAINLY = 0.6  # how much less strained it must be to fold, if it does not leave its edge
TURNS = np.pi / 2  # what is one form in both keys, and turns by less, goes as it is
SHARES, ALONG = np.linspace(0.0, 1.0, 129)[:-1], np.linspace(0.0, 1.0, 257)


def folded(plans: list[PairPlan], touching: dict[int, list[int]]) -> tuple[list[PairPlan], dict[int, int]]:
    """The plans, with those that keep an edge which they would else leave, and on which neighbour each does so.

    It is on itself where the edge stays in its very place. `touching` says which touch.
    """
    found, holders, near = list(plans), {}, neighbours(touching)
    for k, plan in enumerate(plans):
        if (is_free(plan) and _stands(plan)) or plan.body.straight:
            holders[k] = k
            continue
        if not is_free(replace(plan, tied=False)) or len(plan.contours) > 1 or not _may_fold(plan):
            continue
        edges = ((j, _edge(plan, plans[j])) for j in near.get(k, ()))
        holder, met = next(((j, met) for j, met in edges if met is not None and _leaves(plan, met)), (k, NO_TIES))
        if holder != k:
            found[k] = replace(plan_held(plan, met), folds=True)
            holders[k] = holder
            continue
        own = None if _slides(plan) else _own_edge(plan)
        if own is not None:
            folding = replace(plan_held(plan, own), folds=True)
            if folding.strain <= (plan.strain + DEARER_END if _leaves(plan, own) else PLAINLY * plan.strain):
                found[k], holders[k] = folding, k
    return found, holders


def held(plans: list[PairPlan], holders: dict[int, int]) -> list[PairPlan]:
    """The plans, with those that fold on the courses of what they fold over; on themselves, they go straight on."""
    found = list(plans)
    for k, j in holders.items():
        if j == k:
            found[k] = found[k].on_course(Course(found[k].body.start, found[k].body.end, 0.0, 1.0))
            continue
        found[j] = found[j].on_course(replace(found[j].course, carries=True))
        found[k] = found[k].on_course(found[j].course, welded=True)
    return found


def _stands(plan: PairPlan) -> bool:
    """Whether a stretch of it stays in its very place, and the rest does not turn: a bar of a chart."""
    stays = np.abs(plan.body.second - plan.body.first) < STAYS_ALONE * plan.body.size
    return bool(np.mean(stays) > LEAST and abs(np.angle(plan.motion[0])) < UPRIGHT)


def _slides(plan: PairPlan) -> bool:
    """Whether it is as it was, in another place: a tile that goes on by one is its own mirror image about an edge."""
    one, two = tracks_of(plan)
    moved = one.sketch(SHARES) + (plan.body.end - plan.body.start)
    return bool(_near(moved, [two], SLIDES * plan.body.size).all())


def _may_fold(plan: PairPlan) -> bool:
    return plan.strain >= SURE or bool(abs(np.angle(plan.motion[0])) > TURNS)


def tracks_of(plan: PairPlan) -> tuple[Track, Track]:
    """The first outline of a plan's shapes at both keys."""
    return even_track(plan.paint.first.contours[0]), even_track(plan.paint.second.contours[0])


def _edge(plan: PairPlan, mate: PairPlan) -> Floats | None:
    """Parameters (3, 2) of the ends and the middle of the longest stretch that lies on a mate, and goes as that."""
    one, two = tracks_of(plan)
    a, b = mate.motion
    points = one.sketch(SHARES)
    stays = _near(a * points + b, [two], STAYS * plan.body.size * abs(a))
    if np.mean(stays) < SIDE:
        return None
    stays &= _near(points, [even_track(contour) for contour in mate.paint.first.contours], STAYS * plan.body.size)
    return _met(one, two, stays, (a, b))


def _own_edge(plan: PairPlan) -> Floats | None:
    """The same of the stretch that stays where it is while the rest goes to the other side of it."""
    one, two = tracks_of(plan)
    met = _met(one, two, _near(one.sketch(SHARES), [two], STAYS_ALONE * plan.body.size), (1.0 + 0j, 0j))
    if met is None:
        return None
    onward = np.diff(np.mod(two.shares(met[:, 1]) - two.shares(met[:1, 1]), 1.0)[1:])[0]
    over = winding(one) * winding(two) * onward < 0
    return met if over else None


def _met(one: Track, two: Track, stays: NDArray[np.bool_], motion: tuple[complex, complex]) -> Floats | None:
    """Parameters (3, 2) of the ends and the middle of the longest stretch that `stays`, as the motion takes it."""
    start, count = _longest_run(stays)
    if not SIDE <= count / len(SHARES) <= MOST:
        return None
    ends = [_at_node(one, SHARES[(start + k) % len(SHARES)]) for k in (0, count - 1)]
    if count < LEAST * len(SHARES) and not {*ends} <= {*one.breaks[0].tolist()}:
        return None
    ends.insert(1, ends[0] + 0.5 * np.mod(ends[1] - ends[0], 1.0))
    params = one.params_at(np.mod(ends, 1.0))
    places = as_points(motion[0] * one.sketch(np.mod(ends, 1.0)) + motion[1])
    return np.array([(p, two.nearest(place)[0]) for p, place in zip(params, places, strict=True)])


def _near(points: Complexes, tracks: list[Track], most: float) -> NDArray[np.bool_]:
    """Which points are no farther from outlines than this."""
    places = shapely.points(as_points(points))
    return np.asarray(np.any([shapely.dwithin(_line_of(track), places, most) for track in tracks], axis=0))


@lru_cache(maxsize=1024)
def _line_of(track: Track) -> shapely.Geometry:
    """An outline, prepared to be asked what is near. The latest are kept: each is asked about all its neighbours."""
    line = shapely.linestrings(as_points(track.sketch(ALONG)))
    shapely.prepare(line)
    return line


def _longest_run(marks: NDArray[np.bool_]) -> tuple[int, int]:
    """Where the longest run of marks on a round begins, and how many there are."""
    if marks.all():
        return 0, len(marks)
    shift = int(np.argmin(marks))
    turned = np.roll(marks, -shift)
    stops = np.flatnonzero(np.diff(np.concatenate([[0], turned.astype(np.int8), [0]])))
    starts, ends = stops[::2], stops[1::2]
    if not len(starts):
        return 0, 0
    best = int(np.argmax(ends - starts))
    return (int(starts[best]) + shift) % len(marks), int(ends[best] - starts[best])


def _at_node(track: Track, share: float) -> float:
    """The share of a node that is hardly farther off than samples are, else the share itself."""
    gaps = np.abs(np.mod(track.nodes - share + 0.5, 1.0) - 0.5)
    nearest = int(np.argmin(gaps))
    return float(track.nodes[nearest]) if gaps[nearest] < 1.5 / len(SHARES) else share


def _leaves(plan: PairPlan, met: Floats) -> bool:
    """Whether the edge would become another."""
    one, two = tracks_of(plan)
    away = []
    for point, wanted in zip(one.points(one.shares(met[:, 0])), two.points(two.shares(met[:, 1])), strict=True):
        partner = plan.partner(point, from_first=True)
        away.append(0.0 if partner is None else float(np.hypot(*(np.array(partner) - wanted))))
    return max(away) > LEAVES * plan.body.size
