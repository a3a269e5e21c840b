"""A line on which others end does not move along under them, nor roll over them: arms drawn as one, on a body.

What ends on it, away from its ends, does so from the same side in both keys: that tells which way round it is. And
where that is in both keys is one place of it.
"""

from dataclasses import replace

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.blend.figure.half_round import is_loose_line
from knead.core.blend.figure.holds.meeting import strays
from knead.core.blend.figure.touching import neighbours
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_held
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, even_track

INSIDE = 0.15  # what is nearer to an end of the line, by its length, tells nothing; so far it is seen how it runs
NEAR = 0.05  # how near to the line, by its own size, what meets it is
AWAY = 0.3  # how far off its middle is at least, by its size
ASIDE = 0.1  # radians; what goes on nearer to the line's own direction is on neither side
APART = 1e-3  # how far apart places are on a line, by nodes, that are several
DEARER = 0.2  # how much more distortion a line may take on so that one place of it stays where another ends
SEEN = np.linspace(0.0, 1.0, 65)  # places along a line


def tied_where_others_end(plans: list[PairPlan], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans, with lines tied in the places where others end on them in both keys, if these would become others."""
    beside = neighbours(touching)
    return [_tied(plan, [plans[j].body for j in beside.get(k, ())]) for k, plan in enumerate(plans)]


def _tied(plan: PairPlan, others: list[Body]) -> PairPlan:
    if not is_loose_line(plan) or plan.blend != "auto" or plan.body.still:
        return plan
    held = _places(plan, [tips for other in others for tips in zip(*other.tips, strict=True)])
    if not len(held) or not strays(plan, held):
        return plan
    last = [float(len(shape.contours[0].nodes) - 1) for shape in (plan.paint.first, plan.paint.second)]
    ends = np.array([[0.0, 0.0], last])
    ends[:, 1] = ends[::-1, 1] if plan.paint.turned else ends[:, 1]  # they say which way round it is
    held = np.concatenate([ends[:1], held, ends[1:]])
    if np.any(np.diff(held, axis=0) * np.sign(ends[1] - ends[0]) < APART):
        return plan  # they follow each other in another order
    tied = plan_held(plan, held, turned=float(np.angle(plan.motion[0])))
    return replace(tied, tied=True) if tied.strain <= plan.strain + DEARER else plan


def _places(plan: PairPlan, tips: list[tuple[complex, complex]]) -> Floats:
    """The parameters of a line at both keys where ends of others lie on it, away from its own, rising, shape (k, 2).

    Those that lie in one place are one.
    """
    near, tracks = _near(plan), [even_track(shape.contours[0]) for shape in (plan.paint.first, plan.paint.second)]
    found = [(_met(tracks[0], first, near), _met(tracks[1], second, near)) for first, second in tips]
    params = [(one[0], two[0], one[1]) for one, two in found if one is not None and two is not None]
    rows, place = list[tuple[float, float]](), -np.inf
    for first, second, along in sorted(params):
        if along - place > near:
            rows.append((first, second))
            place = along
    return np.array(rows).reshape(-1, 2)


def _met(track: Track, tip: complex, near: float) -> tuple[float, float] | None:
    """The parameter and how far along a line a place near to it lies; None of what is near to its ends, or far off."""
    places = track.sketch(SEEN)
    if np.abs(places - tip).min() > near + abs(places[1] - places[0]):
        return None  # as most are
    param, gap = track.nearest(as_points(np.array(tip)))
    share = float(track.shares(np.array([param]))[0])
    return (param, share * track.length) if gap <= near and INSIDE < share < 1.0 - INSIDE else None


def _near(plan: PairPlan) -> float:
    """How far from a line another may end that ends on it."""
    return max(NEAR * plan.body.size, plan.body.hand)


def keeps_sides(plan: PairPlan, others: list[Body]) -> int:
    """How many lines end on the same side of a line in both keys, less how many end on another side of it."""
    second = even_track(plan.paint.second.contours[0])
    lines = even_track(plan.paint.first.contours[0]), second.backwards if plan.paint.turned else second
    first, last = (line.sketch(SEEN) for line in lines)
    near = _near(plan)
    return sum(_side(first, other, 0, near) * _side(last, other, 1, near) for other in others if other.tips[0])


def _side(line: Complexes, other: Body, key: int, near: float) -> int:
    """On which side of a line, given by places along it, another ends on it at a key, 1 or -1; 0 if it does not."""
    middle, tips = other.end if key else other.start, np.array(other.tips[key])
    margin = int(INSIDE * len(line))
    inner = np.arange(margin, len(line) - margin)
    gaps = np.abs(line[inner][:, None] - tips)
    k = int(inner[np.argmin(gaps.min(axis=1))])
    way = middle - complex(line[k])
    if gaps.min() > near or abs(way) < AWAY * other.size:
        return 0
    back, on = (np.mod(np.angle(way / (line[j] - line[k] + 1e-12)), 2 * np.pi) for j in (k - margin, k + margin))
    if min(back, on, 2 * np.pi - back, 2 * np.pi - on) < ASIDE:
        return 0
    return 1 if on < back else -1
