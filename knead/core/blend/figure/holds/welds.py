"""What shares an edge with a neighbour in both keys shares it all the way: the faces of a box do not come apart.

Shapes that would part along their common edges take the one course of the largest of them, on which points that meet at
both keys meet in between as well. Lines and smaller fills along the edge of a fill go as that edge goes.
"""

from dataclasses import replace

import numpy as np
import shapely

from knead.core.blend.figure.touching import neighbours
from knead.core.blend.pair.glue import Along, Glue, along_border, along_edge, along_own_edge
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.shared_edges import MEETS, Common, common_edges
from knead.core.geometry.similarity import as_points

PARTS = 0.03  # how far apart welded edges come that are plainly apart
LOSES = 0.1  # how far, by its size, a shape may be from its own way: what bends much would lose its form
SEEN, LOOSE = 0.003, 0.5  # gaps between a line and its fill, by its size: less is not seen, more is meant
RIM = 0.02  # the least gap that is seen between two fills
NEAR = 0.12  # how far, by its size, a hand may be off an edge that a fill lies along
INK = 0.03  # and off the edge of a fill whose ink it is, by the size of that
STAYS = 0.01  # what moves nowhere by more than this, by its size, stays
HALF_WAY = np.array([0.5])


def welded(plans: list[PairPlan], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans, with those on one course that would part along an edge; `touching` says which may share one."""
    near = {(min(k, j), max(k, j)) for k, mates in touching.items() for j in mates}
    pairs = sorted(pair for pair in near if all(may_weld(plans[k]) and not is_line(plans[k]) for k in pair))
    homes = list(range(len(plans)))
    parted: set[int] = set()
    for k, j in pairs:
        smaller, larger = sorted((plans[k], plans[j]), key=lambda plan: plan.body.size)
        common = common_edges(smaller.contours, larger.contours, smaller.body.size)
        if common is None:
            continue
        old, new = homes[j], homes[k]
        homes = [new if home == old else home for home in homes]
        if _gap(common, smaller, larger) > PARTS * smaller.body.size:
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


def glued(plans: list[PairPlan], touching: dict[int, list[int]], inks: dict[int, int]) -> list[PairPlan]:
    """The plans, with what lies along the edge of a fill glued to it where a gap would open between them.

    That is a line, or a smaller fill, as the shade on a body or the belt around it. The `inks` of fills, lines each
    with its fill, are glued to these in any case.
    """
    found, near = list(plans), neighbours(touching)
    for k in sorted(range(len(plans)), key=lambda k: (k in inks or is_line(plans[k]), -plans[k].body.size)):
        plan = plans[k]
        if k in inks:
            found[k] = _as_its_ink(plan, found[inks[k]])
            continue
        if not (is_line(plan) or is_fill(plan)) or not may_weld(plan) or plan.lanes or _stays(plan):
            continue
        for fill in [found[j] for j in near.get(k, ()) if is_fill(plans[j]) and may_weld(plans[j])]:
            along = _along(fill, plan)
            if along is not None:
                glue = Glue((along,), closed=not is_line(plan))
                gap = glue.gap(plan.points(HALF_WAY), (plan.first_points, plan.second_points), HALF_WAY)
                seen = RIM if glue.closed else SEEN
                if seen * plan.body.size < gap < LOOSE * plan.body.size:
                    found[k] = replace(plan, glue=glue, pins=())
                    break
    return found


def _as_its_ink(line: PairPlan, fill: PairPlan) -> PairPlan:
    """The line along the edge of the fill of which it is the ink, and glued to that unless it goes its own way."""
    line = replace(line, edge=fill.pair)
    may = may_weld(line) and may_weld(fill) and not line.lanes
    along = along_own_edge(fill, line.contours[0], INK * fill.body.size) if may else None
    closed = line.contours[0].closed
    return line if along is None else replace(line, glue=Glue((along,), closed=closed), pins=())


def _along(fill: PairPlan, plan: PairPlan) -> Along | None:
    """Where a line, or a smaller fill, lies along the edge of a fill: in it at both keys, or outside."""
    if is_line(plan):
        return along_edge(fill, plan.contours[0], plan.body.size)
    size = plan.body.size
    if size >= fill.body.size or _changes_side(fill, plan):
        return None
    return along_border(fill, plan.contours[0], size, max(MEETS * size, min(NEAR * size, plan.body.hand)))


def _changes_side(fill: PairPlan, plan: PairPlan) -> bool:
    """Whether the middle of a shape is within a fill at one key, and outside at the other."""
    rings = shapely.polygons(as_points(fill.contours[0].edges[:, :, 0]))
    middles = np.array([plan.body.start, plan.body.end])
    before, after = shapely.contains_xy(rings, middles.real, middles.imag)
    return bool(before != after)


def _stays(plan: PairPlan) -> bool:
    """Whether it is the same in both keys: a chest stays, however its lid goes."""
    return bool(np.abs(plan.second_points - plan.first_points).max() < STAYS * plan.body.size)


def may_weld(plan: PairPlan) -> bool:
    """Whether nothing that was chosen by hand says how it goes."""
    return plan.blend == "auto" and plan.goes.plain and plan.body.path is None


def is_fill(plan: PairPlan) -> bool:
    """Whether it is one closed fill without holes."""
    return plan.paint.first.fill is not None and len(plan.contours) == 1 and plan.contours[0].closed


def is_line(plan: PairPlan) -> bool:
    return plan.paint.first.fill is None and len(plan.contours) == 1 and not plan.contours[0].closed


def _gap(common: Common, one: PairPlan, two: PairPlan) -> float:
    """How far from each other they come half way where they are one edge in both keys."""
    nodes = one.points(HALF_WAY).reshape(-1, 3)[common.nodes, 1]
    return float(np.abs(common.places(two.contours, two.points(HALF_WAY))[0] - nodes).max())
