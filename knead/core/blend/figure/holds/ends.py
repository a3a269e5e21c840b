"""A line that ends on a neighbour in both keys ends on it all the way: an arrow keeps its head, a pole its flag."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from knead.core.blend.course.course import Course
from knead.core.blend.figure.holds.welds import SEEN, is_fill, is_line, may_weld
from knead.core.blend.figure.touching import neighbours
from knead.core.blend.pair.glue import Along, Glue, Within, ends_within, nodes_along
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.shared_edges import MEETS

DEEPEST = 40  # so many follow each other at most
ON_THE_WAY = np.array([0.25, 0.5, 0.75])


def held_at_ends(plans: list[PairPlan], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans, with lines moved to where they meet others with an end in both keys, if they would part there.

    Of two lines that which hangs on the other follows, else the smaller, if it has a node there. What is no line leads.
    """
    ordered = sorted(range(len(plans)), key=lambda k: (_depth(plans[k].course), -plans[k].body.size))
    waiting = [k for k in ordered if _may_follow(plans[k])]
    leads = [k for k in ordered if k not in waiting and may_weld(plans[k]) and len(plans[k].contours) == 1]
    lines = _Lines(list(plans), neighbours(touching), waiting, dict.fromkeys(leads, 0))
    while lines.waiting:
        lines.settle(lines.waiting[0])
    return lines.plans


@dataclass
class _Lines:
    """Lines that are settled one after the other: which are `waiting` still, and how many lead each that may lead."""

    plans: list[PairPlan]
    near: dict[int, list[int]]
    waiting: list[int]
    leaders: dict[int, int]

    def settle(self, k: int) -> None:
        """Settle a line, after those that it must follow."""
        self.waiting.remove(k)
        line = self.plans[k]
        mates = [j for j in self.near.get(k, ()) if j in self.leaders or j in self.waiting]
        met = {j: along for j in mates if (along := _met(line, self.plans[j])) is not None}
        for j in met:
            if j in self.waiting and _met(self.plans[j], line) is None:
                self.settle(j)
        free = [j for j, deep in self.leaders.items() if j in mates and deep < DEEPEST]
        leads = [j for j in free if j in met]
        in_fills = sorted((j for j in free if is_fill(self.plans[j])), key=lambda j: self.plans[j].body.size)
        within = ((j, ends_within(self.plans[j], line.contours[0])) for j in in_fills)
        parts = list(self._parts([*((j, met[j]) for j in leads), *within]))
        glue = Glue(tuple(part for _, part in parts), meets=True)
        held = bool(parts) and _part(line, glue)
        self.plans[k] = replace(_unwound(line, glue), glue=glue) if held else line
        self.leaders[k] = 1 + max(self.leaders[j] for j, _ in parts) if held else 0

    def _parts(self, met: list[tuple[int, Along | Within | None]]) -> Iterator[tuple[int, Along | Within]]:
        """What holds a line by each of its nodes, first come, first served."""
        held: list[int] = []
        for j, part in met:
            free = part.only(~np.isin(part.nodes, held)) if part is not None else None
            if free is not None and len(free.nodes):
                yield j, replace(free, leader=self.plans[j])
                held += free.nodes.tolist()


def _may_follow(plan: PairPlan) -> bool:
    return is_line(plan) and may_weld(plan) and plan.lanes is None and plan.glue is None and not plan.pins


def _depth(course: Course) -> int:
    """How many neighbours it hangs on, one on the other."""
    return 0 if course.parent is None else 1 + _depth(course.parent)


def _met(line: PairPlan, mate: PairPlan) -> Along | None:
    """Where nodes of a line lie on another shape in both keys, if they are ends of one of them."""
    (own,), (other,) = line.contours, mate.contours
    near = max(MEETS * line.body.size, 0.5 * (_pen(line) + _pen(mate)))
    along = nodes_along(mate, own, near)
    if along is None:
        return None
    ends = np.isin(along.nodes, (0, len(own.first) - 1))
    if not other.closed:
        there = np.array([side[[0, -1], 1] for side in (other.first, other.second)])
        places = np.array([side[along.nodes, 1] for side in (own.first, own.second)])
        ends |= (np.abs(places[:, :, None] - there[:, None]) <= near).all(axis=0).any(axis=1)
    return along.only(ends) if ends.any() else None


def _unwound(line: PairPlan, glue: Glue) -> PairPlan:
    """The line; on its own course, if it is held by both ends and would go round with one of those that hold it."""
    turn = float(np.angle(line.motion[0]))
    ends = np.isin((0, len(line.contours[0].first) - 1), glue.nodes)
    if abs(line.course.angle - turn) <= np.pi or not ends.all() or len(glue.parts) < 2:
        return line
    return line.on_course(Course(line.body.start, line.body.end, turn, abs(line.motion[0])))


def _pen(plan: PairPlan) -> float:
    """How broad its line is drawn, at the key where that is less."""
    return min(shape.stroke.width if shape.stroke else 0.0 for shape in (plan.paint.first, plan.paint.second))


def _part(line: PairPlan, glue: Glue) -> bool:
    """Whether a gap would open, or something stick out, that is seen."""
    keys = line.first_points, line.second_points
    return glue.gap(line.points(ON_THE_WAY), keys, ON_THE_WAY) > SEEN * line.body.size
