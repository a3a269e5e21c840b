"""How a drawing goes as a whole, where it turns."""

import numpy as np
import shapely

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import SAME, Course
from knead.core.blend.course.pivot import points_of
from knead.core.geometry.bezier import Complexes, Floats, median
from knead.core.geometry.similarity import fit_robustly
from knead.core.outline.kinds.columns import go_straight

AS_ONE = 0.5  # how much its turn must explain of the motion in a drawing, and of where a shape goes, for them to be one
ALONG = 5.0  # what is off the motion of the whole by more than this many times the usual is not part of it
AS_DRAWN = 0.005  # by the size of the whole: no hand draws what is off its motion by less
FALLEN = 0.1  # how large a whole must be made, by how large it becomes: else nothing is known of its turn
OVER = 0.5  # how much less a mirror image must leave unexplained than a turn
EXACT = 1e-9  # what leaves less unexplained, by the squared size, leaves nothing
ONE_PLACE = 0.1  # what lies nearer, and is no larger than this, by its size, is drawn in one place
SPOT = 0.25  # what is smaller than this by the largest does not shift the middle
LINE = 0.1  # how broad a line counts, by its size, where the middle of what is drawn is asked for
AS_WHOLE = 0.05  # how far off the motion of the whole, by its size, a shape is that is one with it
STEPS = 500  # the motion of the whole is rounded to so many steps of its size: else each little change would move all


def is_of(body: Body, whole: Course) -> bool:
    """Whether a shape goes just as the whole does."""
    near = AS_WHOLE * body.size
    return bool(
        np.abs(body.motion[0] - whole.whole_turn) * body.size + abs(whole.arrival(body.start) - body.end) < near
    )


def whole_course(bodies: list[Body]) -> Course | None:
    """The course of the drawing's own middle, where it turns as a whole.

    What goes on a path of its own is no part of it, nor is what stands still in both keys, divides, or lies on a ball.
    """
    parts = _divides(bodies)
    bodies = [b for b, part in zip(bodies, parts, strict=True) if not (part or b.path or b.still or b.turning)]
    if len(bodies) < 2:
        return None
    first, second, weights, counts = points_of(bodies)
    a, b = fit_robustly(first, second, weights)
    if abs(np.angle(a)) < SAME or abs(a) * np.std(first) < FALLEN * np.std(second) or go_straight(first, second):
        return None
    gaps = np.abs(a * first + b - second)
    usual = max(median(gaps), AS_DRAWN * float(np.std(first)), 1e-9)
    weights = weights / (1.0 + (gaps / usual) ** 2)
    moves = second - first - np.average(second - first, weights=weights)
    if np.average(gaps**2, weights=weights) > (1.0 - AS_ONE) * np.average(np.abs(moves) ** 2, weights=weights):
        return None
    if _turned_over(first, second, weights, gaps):
        return None
    along = np.add.reduceat((gaps <= ALONG * usual).astype(float), np.cumsum([0, *counts[:-1]]))
    part = [body for body, share in zip(bodies, along / counts, strict=True) if share >= 0.5]
    one, two = (_common_middle(part, side) for side in (0, 1))
    start = 0.5 * (one + (two - b) / a)
    size = float(np.sqrt(np.average(np.abs(first - start) ** 2, weights=weights)))
    return _rounded(start, a * start + b, a, size / STEPS)


def _divides(bodies: list[Body]) -> list[bool]:
    """Which are one in one key, uncut, and several in the other: these part, however the whole turns."""
    size = np.array([body.size for body in bodies])
    grown = size * np.abs([body.motion[0] for body in bodies])
    sides = [(np.array([b.start for b in bodies]), size), (np.array([b.end for b in bodies]), grown)]
    one, two = (
        np.abs(place[:, None] - place) + np.abs(reach[:, None] - reach) < ONE_PLACE * np.maximum.outer(reach, reach)
        for place, reach in sides
    )
    return [bool(found) for found in (one != two).any(axis=1)]


def _turned_over(first: Complexes, second: Complexes, weights: Floats, gaps: Floats) -> bool:
    """Whether a mirror image explains where points go better than a turn, which leaves the gaps: a fish turns back.

    Points along one line, as a stroke with its dot, are their own mirror image.
    """
    a, b = fit_robustly(first.conj(), second, weights)
    over = np.average(np.abs(a * first.conj() + b - second) ** 2, weights=weights)
    exact = EXACT * np.average(np.abs(second - second.mean()) ** 2, weights=weights)
    return bool(over + exact < OVER * np.average(gaps**2, weights=weights))


def _common_middle(bodies: list[Body], side: int) -> complex:
    """The centre of all the area at a key that is within the larger ones; of mere lines, of all that they span."""
    least = SPOT * max(body.size for body in bodies)
    large = [body for body in bodies if body.size >= least]
    hulls, broad = np.array([body.hulls[side] for body in large]), LINE * np.array([body.size for body in large])
    lines = shapely.area(hulls) < broad**2
    hulls[lines] = shapely.buffer(hulls[lines], broad[lines])
    whole = shapely.union_all(hulls)
    middle = (whole.convex_hull if all(body.line for body in bodies) else whole).centroid
    return complex(middle.x, middle.y)


def goes_along(body: Body, whole: Course) -> bool:
    """Whether the whole explains most of where a shape goes: what stands still while a figure turns stays there.

    What is one with it, at the place about which it turns, does not stand still.
    """
    return abs(whole.arrival(body.start) - body.end) < AS_ONE * abs(body.end - body.start) or is_of(body, whole)


def _rounded(start: complex, end: complex, a: complex, step: float) -> Course:
    """The course of the whole in steps."""
    start, end = (step * complex(np.round(place / step)) for place in (start, end))
    angle, scale = (float(np.round(STEPS * value)) / STEPS for value in (np.angle(a), abs(a)))
    return Course(start, end, angle, scale, whole=True)
