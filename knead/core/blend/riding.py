"""What sits on a neighbour that bends goes along with the stretch that it sits on: a hand with the end of its arm."""

from dataclasses import replace

import numpy as np

from knead.core.blend.pair_plan import PairPlan
from knead.core.blend.solid import outline_points
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.route import FOLLOWED, Ride, followed

SITS = 1.0  # how far a middle may be from its neighbour's outline in both keys, by its size
BENDS = 0.1  # what strays less from a mere turn, by its size, does not bend
OFF = 0.25  # how far off its stretch, by its size, a shape must be on its own way to ride


def on_foot(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans without rides."""
    return [p if p.body.ride is None else replace(p, body=replace(p.body, ride=None)) for p in plans]


def rides(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans with rides for those that would come off what they sit on. Their courses must be found anew."""
    found = list(plans)
    carriers = [plan for plan in plans if plan.goes == (0.0, 1.0) and _bends(plan)]
    ways = {id(plan): _way(plan) for plan in carriers}
    for k, plan in enumerate(plans):
        if plan.body.path is None and plan.goes == (0.0, 1.0):
            larger = [ways[id(mate)] for mate in carriers if mate.body.size > plan.body.size]
            ride = _ride(plan, larger)
            if ride != plan.body.ride:
                found[k] = replace(plan, body=replace(plan.body, ride=ride))
    return found


def _bends(plan: PairPlan) -> bool:
    """Whether more becomes of it than a turn, a move and a change of size."""
    a, b = plan.motion
    gaps = np.abs(a * plan.body.first + b - plan.body.second)
    return float(np.sqrt(np.mean(gaps**2))) > BENDS * plan.body.size * abs(a)


def _way(plan: PairPlan) -> Complexes:
    """Points along its outlines at the first key, at the times FOLLOWED, and at the second, shape (times, points)."""
    rows = np.concatenate([plan.first_points[None], plan.points(FOLLOWED), plan.second_points[None]])
    parts, start = [], 0
    for contour in plan.contours:
        triples = rows[:, start : start + contour.first.size].reshape(len(rows), -1, 3)
        parts.append(np.array([outline_points(row, contour.closed) for row in triples]))
        start += contour.first.size
    return np.concatenate(parts, axis=1)


def _ride(plan: PairPlan, ways: list[Complexes]) -> Ride | None:
    """The ride on the neighbour on which it sits closest, if it would come off there."""
    body = plan.body
    size = max(body.size, 1e-9)
    ends = np.array([body.start, body.end])
    gaps = [np.abs(way[[0, -1]] - ends[:, None]).max(axis=0) / size for way in ways]
    closest = min(range(len(ways)), key=lambda k: float(gaps[k].min()), default=None)
    if closest is None or gaps[closest].min() > SITS:
        return None
    places = _carried(plan, ways[closest], gaps[closest])
    off = np.abs(places - plan.course.at(FOLLOWED)[1])
    return followed(body.start, body.end, places) if body.ride is not None or off.max() > OFF * size else None


def _carried(plan: PairPlan, way: Complexes, gaps: Floats) -> Complexes:
    """Where its middle goes at the times FOLLOWED, from the stretch about which it sits."""
    weights = np.exp(-(gaps**2) + gaps.min() ** 2)
    stretch = way @ (weights / weights.sum())
    angle = plan.course.angle
    away = [
        (plan.body.start - stretch[0]) * np.exp(1j * FOLLOWED * angle),
        (plan.body.end - stretch[-1]) * np.exp(1j * (FOLLOWED - 1.0) * angle),
    ]
    return np.asarray(stretch[1:-1] + (1.0 - FOLLOWED) * away[0] + FOLLOWED * away[1], dtype=complex)
