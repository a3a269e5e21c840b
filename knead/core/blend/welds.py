"""What shares an edge with a neighbour in both keys shares it all the way: the faces of a box do not come apart.

Shapes that would part along their common edges take the one course of the largest of them, on which points that meet at
both keys meet in between as well.
"""

import numpy as np

from knead.core.blend.pair_plan import PairPlan
from knead.core.geometry.bezier import Complexes, Floats

MEETS = 0.01  # how near edges lie that are one, by the size of the smaller shape
EDGE = 0.4  # how long, by the size of the smaller, an edge must be that welds
PARTS = 0.03  # how far apart welded edges come that are plainly apart
LOSES = 0.08  # how far, by its size, a shape may be from its own way: what bends much would lose its form
HALF_WAY = np.array([0.5])


def may_weld(plan: PairPlan) -> bool:
    """Whether nothing that was chosen by hand says how it goes."""
    return plan.blend == "auto" and plan.goes == (0.0, 1.0) and plan.body.path is None


def welded(plans: list[PairPlan], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans, with those on one course that would part along an edge; `touching` says which may share one."""
    ways = {k: _way(plans[k]) for k in {*touching, *(j for mates in touching.values() for j in mates)}}
    homes = list(range(len(plans)))
    parted: set[int] = set()
    for k, mates in touching.items():
        for j in [j for j in mates if may_weld(plans[j]) and (j > k or k not in touching.get(j, ()))]:
            size = min(plans[k].body.size, plans[j].body.size)
            apart = _apart(ways[k], ways[j], size)
            if apart is None:
                continue
            old, new = homes[j], homes[k]
            homes = [new if home == old else home for home in homes]
            if apart > PARTS * size:
                parted.add(k)
    found = list(plans)
    for home in {homes[k] for k in parted}:
        group = [k for k, other in enumerate(homes) if other == home]
        course = plans[max(group, key=lambda k: plans[k].body.size)].course
        on_one = {k: plans[k].on_course(course, welded=True) for k in group}
        if all(_moved(plans[k], plan) < LOSES * plan.body.size for k, plan in on_one.items()):
            found = [on_one.get(k, plan) for k, plan in enumerate(found)]
    return found


def _moved(one: PairPlan, other: PairPlan) -> float:
    """How far two plans of one shape are from each other half way, in the mean."""
    return float(np.abs(one.points(HALF_WAY) - other.points(HALF_WAY)).mean())


def _way(plan: PairPlan) -> Complexes:
    """The beginnings and ends of edges along its outlines at the first key, half way, and at the second; (3, k, 2)."""
    rows = np.concatenate([plan.first_points[None], plan.points(HALF_WAY), plan.second_points[None]])
    edges = [np.stack([points, np.roll(points, -1, axis=1)], axis=2) for points in plan.outlines(rows)]
    closed = [contour.closed for contour in plan.contours]
    return np.concatenate([row if whole else row[:, :-1] for row, whole in zip(edges, closed, strict=True)], axis=1)


def _apart(one: Complexes, two: Complexes, size: float) -> float | None:
    """How far apart two outlines come half way where they are one edge in both keys; None if they share none."""
    points, starts, steps = one[:, :, 0], two[:, :, 0], two[:, :, 1] - two[:, :, 0]
    along = _share(points[0][:, None] - starts[0][None], steps[0][None])
    gaps = np.abs(points[:, :, None] - starts[:, None] - along * steps[:, None])
    worst = np.maximum(gaps[0], gaps[2])
    nearest = np.argmin(worst, axis=1)
    each = np.arange(len(nearest))
    meets = worst[each, nearest] <= MEETS * size
    if meets.sum() < 2 or np.ptp(points[0][meets].real) + np.ptp(points[0][meets].imag) < EDGE * size:
        return None
    return float(gaps[1][each, nearest][meets].max())


def _share(away: Complexes, step: Complexes) -> Floats:
    """How far along a step the foot of a point lies, 0 to 1."""
    return np.asarray(np.clip((away * step.conj()).real / np.maximum(np.abs(step) ** 2, 1e-18), 0.0, 1.0))
