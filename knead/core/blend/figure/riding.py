"""What sits on a neighbour that bends goes along with the stretch that it sits on: a hand with the end of its arm."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.twins import twins
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.route import FOLLOWED, Ride, followed
from knead.core.geometry.similarity import as_points

SITS = 1.0  # how far a middle may be from its neighbour's outline in both keys, by its size
BENDS = 0.1  # what strays less from a mere turn, by its size, does not bend
NEAREST = 8.0  # how much the nearest points of the stretch lead
OFF = 0.25  # how far off its stretch, by its size, a shape must be on its own way to ride


def on_foot(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans without rides, and loose."""
    plans = [p if p.glue is None else replace(p, glue=None) for p in plans]
    return [p if p.body.ride is None else replace(p, body=replace(p.body, ride=None)) for p in plans]


def seats(plans: list[PairPlan]) -> dict[int, int]:
    """Of each shape that may ride the one that it sits on, both by their places in the row; whatever their courses are.

    What lies between twins, as the body of a bird between its wings, rides on neither.
    """
    carriers = [_carrier_of(k, plan) for k, plan in enumerate(plans) if plan.goes.plain and plan.body.bend > BENDS]
    if not carriers:
        return {}
    bodies = [plan.body for plan in plans]
    near, mates = _near(bodies, np.array([carrier.box for carrier in carriers])), twins(bodies)
    found = {}
    for k, plan in enumerate(plans):
        bound = plan.body.path is not None or plan.body.alone or not plan.goes.plain
        if bound or (mates is not None and mates[k] == k):
            continue
        carrier = _closest(plan.body, [carriers[j] for j in np.flatnonzero(near[k]).tolist()])
        if carrier is not None:
            found[k] = carrier
    return found


def rides(plans: list[PairPlan], seats: dict[int, int]) -> list[PairPlan]:
    """The plans with rides for those that would come off their seats. Their courses must be found anew.

    What takes along what it sits on, as an arrow's head its shaft, does not ride.
    """
    ways = {k: way_of(plans[k]) for k in set(seats.values())}
    found = list(plans)
    for k, carrier in seats.items():
        if plans[carrier].course.is_on(plans[k].course):
            continue
        ride = _ride(plans[k], ways[carrier])
        if ride != plans[k].body.ride:
            found[k] = replace(plans[k], body=replace(plans[k].body, ride=ride))
    return found


@dataclass(frozen=True)
class _Carrier:
    """What bends, with points along its outlines at both keys, shape (2, points), and their boxes there.

    The boxes are (2, 2, 2): of each key the least and the most of x, and of y.
    """

    place: int
    size: float
    points: Complexes
    box: Floats


def _carrier_of(place: int, plan: PairPlan) -> _Carrier:
    points = np.concatenate(plan.outlines(np.array([plan.first_points, plan.second_points])), axis=1)
    axes = np.array([points.real, points.imag])
    return _Carrier(place, plan.body.size, points, np.array([axes.min(axis=2), axes.max(axis=2)]).T)


def _near(bodies: list[Body], boxes: Floats) -> NDArray[np.bool_]:
    """Which carriers have boxes near to the middles of which shapes, in both keys: a few; (bodies, carriers)."""
    ends = np.array([[body.start, body.end] for body in bodies])
    places, sizes = as_points(ends)[:, None], np.maximum([body.size for body in bodies], 1e-9)
    beyond = np.maximum(boxes[..., 0] - places, places - boxes[..., 1]).max(axis=(2, 3))
    return np.asarray(beyond < SITS * sizes[:, None])


def _closest(body: Body, carriers: list[_Carrier]) -> int | None:
    """The place of the larger carrier on whose outline a shape's middle sits closest, if on any."""
    larger = [carrier for carrier in carriers if carrier.size > body.size]
    gaps = [_gaps(carrier.points, body).min() for carrier in larger]
    closest = int(np.argmin(gaps)) if gaps else None
    return larger[closest].place if closest is not None and gaps[closest] < SITS else None


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
