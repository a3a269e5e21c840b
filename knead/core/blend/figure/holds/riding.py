"""What sits on a neighbour that bends goes along with the stretch that it sits on: a hand with the end of its arm."""

from dataclasses import replace
from itertools import pairwise

import numpy as np

from knead.core.blend.figure.half_round import DEARER_END, is_loose_line, may_turn, with_rival
from knead.core.blend.figure.holds.seats import Seat
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes
from knead.core.geometry.route import FOLLOWED, Ride, followed
from knead.core.geometry.similarity import between

AGAINST, ALIKE = np.pi / 4, 0.2 * np.pi  # radians off the turn of its seat: a shape turns against it, or with it
OFF = 0.25  # how far off its stretch, by its size, a shape must be on its own way to ride


def on_foot(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans without rides, and loose."""
    plans = [p if p.glue is None else replace(p, glue=None) for p in plans]
    return [p if p.body.ride is None else replace(p, body=replace(p.body, ride=None, about=None)) for p in plans]


def turned_with_seats(plans: list[PairPlan], seats: dict[int, Seat]) -> tuple[list[PairPlan], list[int]]:
    """The plans, with those turned otherwise that may, and would turn against what they sit on; and which go with it.

    A stripe across a snake stays across it.
    """
    found, sure = list(plans), []
    for k, seat in seats.items():
        plan = plans[k]
        if seat.turn is None or plan.body.round or not (is_loose_line(plan) or may_turn(plan)):
            continue
        if _apart(plan, seat.turn) > AGAINST:
            found[k] = with_rival(plan, seat.turn, ALIKE)
            rival = found[k].half_round()
            if rival.strain <= plan.strain + DEARER_END and _apart(rival, seat.turn) < ALIKE:
                found[k] = rival
        if _turns_with(found[k], seat):
            sure.append(k)
    return found, sure


def _turns_with(plan: PairPlan, seat: Seat) -> bool:
    return seat.turn is not None and _apart(plan, seat.turn) <= AGAINST


def _apart(plan: PairPlan, turn: float) -> float:
    return float(between(np.angle(plan.motion[0]), turn))


def rides(plans: list[PairPlan], seats: dict[int, Seat]) -> list[PairPlan]:
    """The plans with rides for those that would come off their seats. Their courses must be found anew.

    What takes along what it sits on, as an arrow's head its shaft, does not ride.
    """
    ways = {k: way_of(plans[k]) for k in {seat.carrier for seat in seats.values()}}
    found = list(plans)
    for k, seat in seats.items():
        if plans[seat.carrier].course.is_on(plans[k].course):
            continue
        ride = _ride(plans[k], seat, ways[seat.carrier])
        if ride != plans[k].body.ride:
            about = _turned(seat, ways[seat.carrier]) if ride is not None and _turns_with(plans[k], seat) else None
            found[k] = replace(plans[k], body=replace(plans[k].body, ride=ride, about=about))
    return found


def way_of(plan: PairPlan) -> Complexes:
    """Points along its outlines at the first key, at the times FOLLOWED, and at the second, shape (times, points)."""
    rows = np.concatenate([plan.first_points[None], plan.points(FOLLOWED), plan.second_points[None]])
    return np.concatenate(plan.outlines(rows), axis=1)


def _ride(plan: PairPlan, seat: Seat, way: Complexes) -> Ride | None:
    """The ride along the way of a neighbour on which it sits, if it would come off there."""
    body = plan.body
    places = _carried(plan, seat, way)
    off = np.abs(places - plan.course.at(FOLLOWED)[1])
    rides = body.ride is not None or off.max() > OFF * body.size
    return followed(body.start, body.end, places) if rides else None


def _turned(seat: Seat, way: Complexes) -> float:
    """How far the stretch that a shape sits on turns on its way, in radians, with whole rounds."""
    steps = [similarity.fit(one, two, seat.about)[0] for one, two in pairwise(way)]
    return float(np.sum(np.angle(steps)))


def _carried(plan: PairPlan, seat: Seat, way: Complexes) -> Complexes:
    """Where its middle goes at the times FOLLOWED, from the stretch about which it sits."""
    stretch = way @ seat.weights.T
    angle = plan.course.angle
    away = [
        (plan.body.start - stretch[0, 0]) * np.exp(1j * FOLLOWED * angle),
        (plan.body.end - stretch[-1, 1]) * np.exp(1j * (FOLLOWED - 1.0) * angle),
    ]
    shares = np.stack([1.0 - FOLLOWED, FOLLOWED])
    return np.asarray(np.sum(shares * (stretch[1:-1].T + away), axis=0), dtype=complex)
