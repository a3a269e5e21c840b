"""What sits on a neighbour that bends goes along with the stretch that it sits on: a hand with the end of its arm."""

from dataclasses import dataclass, replace

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.blend.course.twins import twins
from knead.core.blend.pair.plan import PairPlan
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
    carriers = [_carrier_of(plan) for plan in plans if plan.goes.plain and plan.body.bend > BENDS]
    boxes = np.array([carrier.box for carrier in carriers])
    ways: dict[int, Complexes] = {}
    found = list(plans)
    mates = twins([plan.body for plan in plans]) if carriers else None
    for k, plan in enumerate(plans):
        ride = None
        bound = plan.body.path is not None or plan.body.alone or not plan.goes.plain
        free = not bound and (mates is None or mates[k] != k)
        carrier = _closest(plan.body, carriers, boxes) if free and carriers else None
        if carrier is not None:
            if id(carrier) not in ways:
                ways[id(carrier)] = way_of(carrier)
            ride = _ride(plan, ways[id(carrier)])
        if ride != plan.body.ride:
            found[k] = replace(plan, body=replace(plan.body, ride=ride))
    return found


@dataclass(frozen=True)
class _Carrier:
    """What bends, with points along its outlines at both keys, shape (2, points), and their boxes there.

    The boxes are (2, 2, 2): of each key the least and the most of x, and of y.
    """

    plan: PairPlan
    points: Complexes
    box: Floats


def _carrier_of(plan: PairPlan) -> _Carrier:
    points = np.concatenate(plan.outlines(np.array([plan.first_points, plan.second_points])), axis=1)
    axes = np.array([points.real, points.imag])
    return _Carrier(plan, points, np.array([axes.min(axis=2), axes.max(axis=2)]).T)


def _closest(body: Body, carriers: list[_Carrier], boxes: Floats) -> PairPlan | None:
    """The larger neighbour on whose outline a shape's middle sits closest, if on any; the boxes are those of all."""
    ends = np.array([[body.start.real, body.start.imag], [body.end.real, body.end.imag]])
    # the boxes first: most are far off
    beyond = np.maximum(boxes[..., 0] - ends, ends - boxes[..., 1]).max(axis=(1, 2))
    near = [carriers[k] for k in np.flatnonzero(beyond < SITS * max(body.size, 1e-9)).tolist()]
    larger = [carrier for carrier in near if carrier.plan.body.size > body.size]
    gaps = [_gaps(carrier.points, body).min() for carrier in larger]
    closest = int(np.argmin(gaps)) if gaps else None
    return larger[closest].plan if closest is not None and gaps[closest] < SITS else None


def _gaps(points: Complexes, body: Body) -> Floats:
    """How far each of points (2, k) is from a middle in that key in which it is farther off, by its size; (k,)."""
    ends = np.array([[body.start], [body.end]])
    return np.asarray(np.abs(points - ends).max(axis=0) / max(body.size, 1e-9))


def way_of(plan: PairPlan) -> Complexes:
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
