"""What shares an edge with a neighbour in both keys shares it all the way: the faces of a box do not come apart.

Shapes that would part along their common edges take the one course of the largest of them, on which points that meet at
both keys meet in between as well.
"""

from dataclasses import dataclass

import numpy as np

from knead.core.blend.pair_plan import PairPlan
from knead.core.geometry.bezier import Complexes, Floats, Ints

MEETS = 0.01  # how near edges lie that are one, by the size of the smaller shape
EDGE = 0.4  # how long, by the size of the smaller, an edge must be that welds
PARTS = 0.03  # how far apart welded edges come that are plainly apart
LOSES = 0.08  # how far, by its size, a shape may be from its own way: what bends much would lose its form
HALF_WAY = np.array([0.5])


def _may_weld(plan: PairPlan) -> bool:
    """Whether nothing that was chosen by hand says how it goes."""
    return plan.blend == "auto" and plan.goes == (0.0, 1.0) and plan.body.path is None


def welded(plans: list[PairPlan], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans, with those on one course that would part along an edge; `touching` says which may share one."""
    near = {(min(k, j), max(k, j)) for k, mates in touching.items() for j in mates}
    pairs = sorted(pair for pair in near if all(_may_weld(plans[k]) for k in pair))
    homes = list(range(len(plans)))
    parted: set[int] = set()
    for k, j in pairs:
        smaller, larger = sorted((plans[k], plans[j]), key=lambda plan: plan.body.size)
        common = _common(smaller, larger)
        if common is None:
            continue
        old, new = homes[j], homes[k]
        homes = [new if home == old else home for home in homes]
        if common.gap(smaller, larger) > PARTS * smaller.body.size:
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


@dataclass(frozen=True)
class _Common:
    """Nodes of one outline that lie on edges of another in both keys: which, on which, and how far along; (k,)."""

    nodes: Ints
    edges: Ints
    along: Floats

    def gap(self, one: PairPlan, two: PairPlan) -> float:
        """How far they are apart half way."""
        ours, theirs = (plan.points(HALF_WAY).reshape(-1, 3) for plan in (one, two))
        parts = np.split(theirs, np.cumsum([len(contour.first) for contour in two.contours])[:-1])
        rows = [contour.edges_at(part) for contour, part in zip(two.contours, parts, strict=True)]
        starts, ends = np.concatenate(rows)[self.edges].T
        return float(np.abs(ours[self.nodes, 1] - starts - self.along * (ends - starts)).max())


def _common(one: PairPlan, two: PairPlan) -> _Common | None:
    """The nodes of an outline that lie on another in both keys, if they are two or more and not in one place."""
    nodes = np.array([one.first_points.reshape(-1, 3)[:, 1], one.second_points.reshape(-1, 3)[:, 1]])
    edges = np.concatenate([contour.edges for contour in two.contours], axis=1)
    starts, steps = edges[:, :, 0], edges[:, :, 1] - edges[:, :, 0]
    along = _share(nodes[0][:, None] - starts[0][None], steps[0][None])
    worst = np.abs(nodes[:, :, None] - starts[:, None] - along * steps[:, None]).max(axis=0)
    nearest = np.argmin(worst, axis=1)
    size = one.body.size
    met = np.flatnonzero(worst[np.arange(len(nearest)), nearest] <= MEETS * size)
    if len(met) < 2 or np.ptp(nodes[0][met].real) + np.ptp(nodes[0][met].imag) < EDGE * size:
        return None
    return _Common(met, nearest[met], along[met, nearest[met]])


def _share(away: Complexes, step: Complexes) -> Floats:
    """How far along a step the foot of a point lies, 0 to 1."""
    return np.asarray(np.clip((away * step.conj()).real / np.maximum(np.abs(step) ** 2, 1e-18), 0.0, 1.0))
