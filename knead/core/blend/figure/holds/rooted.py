"""A line that rests on a neighbour with one end in both keys, as a hair on a head, does so with the same end."""

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.figure.half_round import DEARER_END, is_loose_line, with_rival
from knead.core.blend.figure.holds.beside import keeps_sides
from knead.core.blend.figure.touching import neighbours
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.hull import hull
from knead.core.geometry.similarity import as_points

MEETS, NEARER = 0.8, 0.4  # ends meet, as near by the smaller line's size, if the other ends are plainly farther off
ROLLS = 0.15  # a line that turns by more may roll over those that end on it
TIPS = 3  # how much more it tells that they do than that one rests on something
RESTS, FREE = 0.25, 0.75  # an end so near to a shape rests on it, and one farther off does not, by the line's size
TOUCHES = 0.1  # an end that is so near to a fill is on it, whatever other lines end near by
HELD = 0.4  # how much distortion a line may take on at most to rest on others with both of its ends
STAYS = 0.05  # how far, by the line's size, an end, or a form, goes that stays where it is
BOTH = 0.25  # the same of both ends, or of the whole by its neighbour, by how far if the line ran the other way
PIVOTS = 0.05  # the same of a line that touches nothing, by how far its other end goes


def rooted(plans: list[PairPlan], touching: dict[int, list[int]]) -> tuple[list[PairPlan], list[int]]:
    """The plans, with lines run the other way where the end that rests on a neighbour would be another in each key.

    Or where the one that stays in its place would. Unless the line goes as another does: then it only happens to. Also
    which lines rest or stay with an end.
    """
    lines = [k for k, plan in enumerate(plans) if is_loose_line(plan)]
    if not lines:
        return plans, []
    owners, parts = _parts(plans)
    gaps = [_gaps([plans[k] for k in lines], hulls, side) for side, hulls in enumerate(parts)]
    rests, touches = (np.prod([_on(gap, near) for gap in gaps], axis=0) for near in (RESTS, TOUCHES))
    own = np.array(lines)[:, None] == owners
    # a line that does not move is as it is, wherever a knob lies on it; with its head, an arrow may turn
    knobs = np.logical_and.outer([plans[k].body.still for k in lines], [not plans[k].body.line for k in owners])
    votes = np.where(own | knobs, 0, rests).sum(axis=1)
    meets = [_meeting([plans[k] for k in lines], side) for side in (0, 1)]
    votes += TIPS * np.where(np.eye(len(lines), dtype=bool), 0, meets[0] * meets[1]).sum(axis=1)
    on_fill = np.where(knobs | [plans[k].body.line for k in owners], 0, touches).sum(axis=1)
    votes = np.where(on_fill, TIPS * on_fill, votes)
    votes = np.where(votes, votes, _sides(plans, lines, votes, touching))
    rests_on = np.where(votes, votes, [_stays(plans[k]) for k in lines])
    votes = np.where(rests_on, rests_on, [0 if k in touching else _stays(plans[k], PIVOTS) for k in lines])
    votes = np.where(_go_along(plans, lines, votes, touching), 0, votes)
    resting = [k for k, rests in zip(lines, (rests_on * votes).tolist(), strict=True) if rests]
    against = {k: -vote for k, vote in zip(lines, votes.tolist(), strict=True) if vote < 0}
    turned = {k: with_rival(plans[k]) for k in against}
    for k, plan in turned.items():
        rival = plan.half_round()
        most = max(plan.strain + DEARER_END, HELD if against[k] > 1 else 0.0)
        if _ends(rival, 1)[0] != _ends(plan, 1)[0] and rival.strain <= most:
            turned[k] = rival
    return [turned.get(k, plan) for k, plan in enumerate(plans)], resting


def _sides(plans: list[PairPlan], lines: list[int], votes: Ints, touching: dict[int, list[int]]) -> list[int]:
    """Whether other lines end on the same side of lines of which nothing else tells which way they run."""
    beside = neighbours(touching)

    def tells(k: int, vote: int) -> bool:
        return not vote and abs(float(np.angle(plans[k].motion[0]))) > ROLLS

    return [
        TIPS * keeps_sides(plans[k], [plans[j].body for j in beside.get(k, ())]) if tells(k, vote) else 0
        for k, vote in zip(lines, votes.tolist(), strict=True)
    ]


def _ends(plan: PairPlan, side: int) -> Complexes:
    """Where the line begins and ends at a key."""
    contour = plan.contours[0]
    return (contour.second if side else contour.first)[[0, -1], 1]


def _stays(line: PairPlan, pivots: float = 0.0) -> int:
    """Whether an end of a line stays in its place: 1 as it runs, -1 if it ran the other way, 0 if neither or both.

    Twice that if both ends hardly move, by how far they would go otherwise: a rope that is swung over a head.
    """
    one, two = _ends(line, 0), _ends(line, 1)
    gaps = np.abs(one - [two, two[::-1]])  # as it runs, and if it ran the other way
    near = np.maximum(max(STAYS * line.body.size, line.body.hand), pivots * gaps[:, ::-1])
    held = gaps.max(axis=1) < BOTH * gaps.min(axis=1)[::-1]
    if held.any():
        return 2 * (int(held[0]) - int(held[1]))
    stays = gaps < near
    return int(stays[0].any()) - int(stays[1].any())


def _go_along(plans: list[PairPlan], lines: list[int], votes: Ints, touching: dict[int, list[int]]) -> list[bool]:
    """Which lines that votes are against go as a neighbour does; or as anything else, if they touch nothing."""

    def goes(k: int) -> bool:
        mates = touching.get(k) or [j for j in range(len(plans)) if j != k]
        return any(_goes_as(plans[k].body, plans[j].body) for j in mates)

    return [vote < 0 and goes(k) for k, vote in zip(lines, votes.tolist(), strict=True)]


def _goes_as(line: Body, mate: Body) -> bool:
    """Whether a neighbour's motion takes its points about where they go, by how far they would if it ran otherwise."""
    a, b = mate.motion
    there = a * line.first + b
    off, otherwise = (float(np.abs(there - ends).mean()) for ends in (line.second, line.second[::-1]))
    return off < BOTH * otherwise


def _parts(plans: list[PairPlan]) -> tuple[Ints, NDArray[np.object_]]:
    """All lines, and hulls of other contours that have partners, at both keys (2, parts), and whose they are.

    Arms may be one path.
    """
    parts: list[tuple[int, tuple[shapely.Geometry, shapely.Geometry]]] = []
    for k, plan in enumerate(plans):
        if len(plan.contours) == 1:
            parts.append((k, _lines(plan.body) if plan.body.line else plan.body.hulls))
        else:
            rows = [each.samples() for each in plan.contours if each.cuts is not None]
            parts += [(k, (hull(one), hull(two))) for one, two, _ in rows]
    return np.array([k for k, _ in parts]), np.array([hulls for _, hulls in parts], dtype=object).T


def _lines(body: Body) -> tuple[shapely.Geometry, shapely.Geometry]:
    """An open line at both keys."""
    first, second = (shapely.LineString(as_points(points)) for points in (body.first, body.second))
    return first, second


def _gaps(lines: list[PairPlan], hulls: NDArray[np.object_], side: int) -> Floats:
    """How far both ends of each line are from each part at a key, by the line's size, (lines, 2, parts)."""
    ends = np.array([_ends(line, side) for line in lines])
    reach = np.array([max(line.body.size, 1e-9) for line in lines])
    low, high = np.split(shapely.bounds(hulls), 2, axis=1)
    places = as_points(ends)[:, :, None]
    beyond = np.linalg.norm(np.maximum(np.maximum(low - places, places - high), 0.0), axis=3) / reach[:, None, None]
    line, end, shape = near = np.nonzero(beyond <= FREE)  # the boxes first: most are far off
    spots = shapely.points(ends.real[line, end], ends.imag[line, end])
    beyond[near] = shapely.distance(spots, hulls[shape]) / reach[line]
    return np.asarray(beyond)


def _on(gaps: Floats, near: float) -> Ints:
    """Which end of each line is so near to each part: 1 begin, -1 end, 0 if the other one is as well, or hardly off."""
    on, off = gaps < near, gaps > FREE
    return np.asarray((on[:, 0] & off[:, 1]).astype(np.int64) - (on[:, 1] & off[:, 0]))


def _meeting(lines: list[PairPlan], side: int) -> Ints:
    """Which end of each line meets one of each other at a key: 1 begin, -1 end, 0 neither or both; (lines, lines)."""
    ends = np.array([_ends(line, side) for line in lines])
    gaps = np.abs(ends[:, :, None, None] - ends[None, None]).min(axis=3)
    sizes = np.array([line.body.size for line in lines])
    meets = gaps < np.minimum(MEETS * np.minimum.outer(sizes, sizes)[:, None], NEARER * gaps[:, ::-1])
    return np.asarray(meets[:, 0].astype(np.int64) - meets[:, 1])
