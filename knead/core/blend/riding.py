"""What sits on a neighbour that bends goes along with the stretch that it sits on: a hand with the end of its arm."""

from dataclasses import replace

import numpy as np

from knead.core.blend.body import Body
from knead.core.blend.pair_plan import PairPlan
from knead.core.blend.twins import twins
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.route import FOLLOWED, Ride, followed

SITS = 1.0  # how far a middle may be from its neighbour's outline in both keys, by its size
BENDS = 0.1  # what strays less from a mere turn, by its size, does not bend
NEAREST = 8.0  # how much the nearest points of the stretch lead
OFF = 0.25  # how far off its stretch, by its size, a shape must be on its own way to ride


def on_foot(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans without rides, and loose."""
    plans = [p if p.glue is None else replace(p, glue=None) for p in plans]
    return [p if p.body.ride is None else replace(p, body=replace(p.body, ride=None)) for p in plans]


def rides(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans with rides for those that would come off what they sit on. Their courses must be found anew.

    What lies between twins, as the body of a bird between its wings, rides on neither.
    """
    carriers = [(plan, _at_keys(plan)) for plan in plans if plan.goes == (0.0, 1.0) and plan.body.bend > BENDS]
    ways: dict[int, Complexes] = {}
    found = list(plans)
    mates = twins([plan.body for plan in plans]) if carriers else None
    for k, plan in enumerate(plans):
        ride = None
        bound = plan.body.path is not None or plan.body.alone or plan.goes != (0.0, 1.0)
        free = not bound and (mates is None or mates[k] != k)
        carrier = _carrier(plan.body, carriers) if free else None
        if carrier is not None:
            if id(carrier) not in ways:
                ways[id(carrier)] = _way(carrier)
            ride = _ride(plan, ways[id(carrier)])
        if ride != plan.body.ride:
            found[k] = replace(plan, body=replace(plan.body, ride=ride))
    return found


def _at_keys(plan: PairPlan) -> Complexes:
    """Points along its outlines at both keys, shape (2, points)."""
    return np.concatenate(plan.outlines(np.array([plan.first_points, plan.second_points])), axis=1)


def _carrier(body: Body, carriers: list[tuple[PairPlan, Complexes]]) -> PairPlan | None:
    """The larger neighbour on whose outline a shape's middle sits closest, if on any."""
    larger = [(carrier, points) for carrier, points in carriers if carrier.body.size > body.size]
    gaps = [_gaps(points, body).min() for _, points in larger]
    closest = int(np.argmin(gaps)) if gaps else None
    return larger[closest][0] if closest is not None and gaps[closest] < SITS else None


def _gaps(points: Complexes, body: Body) -> Floats:
    """How far each of points (2, k) is from a middle in that key in which it is farther off, by its size; (k,)."""
    ends = np.array([[body.start], [body.end]])
    return np.asarray(np.abs(points - ends).max(axis=0) / max(body.size, 1e-9))


def _way(plan: PairPlan) -> Complexes:
    """Points along its outlines at the first key, at the times FOLLOWED, and at the second, shape (times, points)."""
    rows = np.concatenate([plan.first_points[None], plan.points(FOLLOWED), plan.second_points[None]])
    return np.concatenate(plan.outlines(rows), axis=1)


def _ride(plan: PairPlan, way: Complexes) -> Ride | None:
    """The ride along the way of a neighbour on which it sits, if it would come off there."""
    body = plan.body
    places = _carried(plan, way)
    off = np.abs(places - plan.course.at(FOLLOWED)[1])
    rides = body.ride is not None or off.max() > OFF * body.size
    return followed(body.start, body.end, places) if rides else None


def _carried(plan: PairPlan, way: Complexes) -> Complexes:
    """Where its middle goes at the times FOLLOWED, from the stretch about which it sits."""
    gaps = _gaps(way[[0, -1]], plan.body)
    weights = np.exp(-NEAREST * (gaps**2 - gaps.min() ** 2))
    stretch = way @ (weights / weights.sum())
    angle = plan.course.angle
    away = [
        (plan.body.start - stretch[0]) * np.exp(1j * FOLLOWED * angle),
        (plan.body.end - stretch[-1]) * np.exp(1j * (FOLLOWED - 1.0) * angle),
    ]
    return np.asarray(stretch[1:-1] + (1.0 - FOLLOWED) * away[0] + FOLLOWED * away[1], dtype=complex)
