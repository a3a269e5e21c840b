"""The way a shape's middle takes: limbs swing about the joints at which they hang on their neighbours.

The shapes of a figure are put into a tree: each hangs on the neighbour relative to which it moves most like a thing on
a hinge, the fixed point of their relative motion (the hinge) lying near both. What hangs on nothing goes along with the
drawing where that turns as a whole, else straight; with what hangs on it, it turns about its end if that stays.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.by_times import ByTimes
from knead.core.blend.course.body import Body
from knead.core.blend.course.ground import do_not_hold
from knead.core.blend.course.pivot import pivot_of, points_of
from knead.core.blend.course.twins import twins
from knead.core.geometry.bezier import Complexes, Floats, median
from knead.core.geometry.route import Ride, along, ridden
from knead.core.geometry.similarity import fit_robustly
from knead.core.outline.kinds.columns import go_straight

LOOSE = 0.8  # a hinge farther off than this, by the smaller shape's size, holds nothing
NEIGHBOUR = 0.15  # how much a hinge's distance to the neighbour counts, against that to the shape itself
MERE_MOVE = 1e-6  # how far from 1 the turn and scale of what only moves may be
SAME = 0.05  # radians below which two shapes count as turning as one
NOD = 0.6  # what turns less than this against its neighbour may be fixed to it, without a hinge
BENT = 0.75 * np.pi  # what turns against its neighbour by more than this does not go round with it
BENT_BACK, TIP = 0.95 * np.pi, 0.3  # the same of a bone, which hangs on it by an end, this near to it by its size
AS_ONE = 0.5  # how much its turn must explain of the motion in a drawing, and of where a shape goes, for them to be one
ALONG = 5.0  # what is off the motion of the whole by more than this many times the usual is not part of it
AS_DRAWN = 0.005  # by the size of the whole: no hand draws what is off its motion by less
FALLEN = 0.1  # how large a whole must be made, by how large it becomes: else nothing is known of its turn
OVER = 0.5  # how much less a mirror image must leave unexplained than a turn
EXACT = 1e-9  # what leaves less unexplained, by the squared size, leaves nothing
ONE_PLACE = 0.1  # what lies nearer, and is no larger than this, by its size, is drawn in one place
TOUCHING = 0.1  # what is nearer than this, by its size, touches
SPOT = 0.25  # what is smaller than this by the largest does not shift the middle
LINE = 0.1  # how broad a line counts, by its size, where the middle of what is drawn is asked for
STRINGS, FINE = 3, 0.5  # so many lines, each so large by a fill, that turn otherwise on it do not hold it
BY_A_LINE = 0.3  # how much looser a fill may hang on another than on a line: a limb does not hang on its string
BARE = 0.2  # as what holds all others a line counts so much less than what is filled: a rope carries nobody
AS_WHOLE = 0.05  # how far off the motion of the whole, by its size, a shape is that is one with it
STILL, POST = 1e-3, 0.3  # how little what stands still turns, grows or goes, and how large it is by the largest
STEPS = 500  # the motion of the whole is rounded to so many steps of its size: else each little change would move all


@dataclass(frozen=True)
class Course:
    """The path of a shape's middle from `start` to `end`, while it turns by `angle` radians and grows to `scale`.

    It hangs on `parent` at `hinge`, a point at the first key; without a parent it goes straight, or swings about the
    hinge if there is one. A drawn `path` overrides both, and so does a `ride` on a neighbour. It `carries` others that
    hang on it. One course may be that of the `whole` drawing, or of a whole piece of it.
    """

    start: complex
    end: complex
    angle: float
    scale: float
    hinge: complex | None = None
    parent: "Course | None" = None
    path: tuple[complex, complex] | None = None
    ride: Ride | None = None
    carries: bool = False
    whole: bool = False

    @property
    def hangs(self) -> bool:
        """Whether it hangs on a neighbour, or rides on one."""
        return self.ride is not None or (self.parent is not None and not self.parent.whole)

    @property
    def free(self) -> bool:
        """Whether nothing says which way it goes."""
        return self.parent is None and self.path is None and self.ride is None

    def is_on(self, other: "Course") -> bool:
        """Whether it hangs on another, if need be by way of others."""
        return self.parent is not None and (self.parent is other or self.parent.is_on(other))

    def swung(self, motion: tuple[complex, complex]) -> "Course":
        """The same on an arc about the fixed point of a motion, unless that is a mere move and has none."""
        a, b = motion
        return replace(self, hinge=b / (1.0 - a)) if abs(1.0 - a) > MERE_MOVE else self

    @property
    def whole_turn(self) -> complex:
        """Its turn and scale from key to key as a complex factor."""
        return self.scale * complex(np.exp(1j * self.angle))

    def at(self, times: Floats) -> tuple[Complexes, Complexes]:
        """Turn and scale at the times as complex factors, and where the middle is then; shapes (len(times),).

        Angle and size grow evenly; the middle is exact at 0 and 1.
        """
        return self._kept.get(times, self._at)

    @cached_property
    def _kept(self) -> ByTimes[tuple[Complexes, Complexes]]:
        return ByTimes()  # all that hangs on it asks for the same times

    def _at(self, times: Floats) -> tuple[Complexes, Complexes]:
        factor = (1.0 + times * (self.scale - 1.0)) * np.exp(1j * times * self.angle)
        return factor, np.asarray(self._middle(times, factor), dtype=complex)

    def _middle(self, times: Floats, factor: Complexes) -> Complexes:
        if self.path is not None:
            return along(self.start, self.path, self.end, times)
        if self.ride is not None:
            return ridden(self.start, self.ride, self.end, times)
        if self.hinge is None:
            return np.asarray(self.start + times * (self.end - self.start), dtype=complex)
        place: Complexes | complex = self.hinge
        there = self.hinge
        if self.parent is not None:
            place, there = self.parent.carried(self.hinge, times), self.parent.arrival(self.hinge)
        swung = place + factor * (self.start - self.hinge)
        missed = self.end - (there + self.whole_turn * (self.start - self.hinge))
        return np.asarray(swung + times * missed, dtype=complex)

    def carried(self, point: complex, times: Floats) -> Complexes:
        """Where a point of the first key goes that is fixed to this shape."""
        factor, middle = self.at(times)
        return np.asarray(middle + factor * (point - self.start), dtype=complex)

    def arrival(self, point: complex) -> complex:
        """Where such a point is at the second key."""
        return self.end + self.whole_turn * (point - self.start)


def courses(bodies: list[Body], whole: Course | None) -> list[Course]:
    """A course for each shape, in their order; `whole` is that of the drawing, if it turns as a whole."""
    if not bodies:
        return []
    looseness, hinges = _offers(bodies)
    on_rider = _on_riders(bodies)
    looseness[on_rider], hinges = 0.0, np.where(on_rider, np.array([body.start for body in bodies]), hinges)
    areas = np.array([body.area for body in bodies])
    led = np.array([body.path is not None for body in bodies])
    looseness[led[:, None] & (areas[:, None] < areas[None])] = np.inf  # a foot on a path of its own leads no thigh
    alone = np.array([body.alone for body in bodies])
    looseness[alone[:, None] | alone[None]] = np.inf
    looseness[do_not_hold(bodies, looseness, hinges) | _are_strings(bodies, looseness)] = np.inf
    lines = np.array([body.line for body in bodies])
    root = _root(bodies, looseness, areas * np.where(lines, BARE, 1.0))
    order = _tree(looseness, BY_A_LINE * (lines[:, None] & ~lines), areas, root)
    held: dict[int, list[int]] = {}
    for child, parent in order[::-1]:
        held.setdefault(child, []).append(child)
        if parent is not None:
            held.setdefault(parent, []).extend(held[child])
    found: dict[int, Course] = {}
    for child, parent in order:
        hook = (bodies[child].start, whole) if whole and _goes_along(bodies[child], whole) else None
        if parent is not None and not _turned_over_with(bodies[parent], bodies[child]):
            hook = complex(hinges[parent, child]), found[parent]
        found[child] = _course(bodies[child], hook, len(held[child]) > 1)
        if parent is None and found[child].carries and bodies[child].path is None:
            of_whole = {k for k, body in enumerate(bodies) if hook and _is_of(body, hook[1])}
            # a mere piece of what turns as one has no pivot of its own
            if child not in of_whole or of_whole <= set(held[child]):
                found[child] = _led(found[child], bodies[child], [bodies[k] for k in held[child]])
    return [found[k] for k in range(len(bodies))]


def _are_strings(bodies: list[Body], looseness: Floats) -> NDArray[np.bool_]:
    """Which lines (rows) do not hold a fill (columns), since several that are no fingers turn otherwise on it."""
    lines, sizes = np.array([body.line for body in bodies]), np.array([body.size for body in bodies])
    on_it = (looseness <= LOOSE) & lines[:, None] & ~lines & (sizes[:, None] > FINE * sizes)
    turns = np.array([np.angle(body.motion[0]) for body in bodies])
    for k in np.flatnonzero(on_it.sum(axis=0) >= STRINGS):
        on_it[:, k] &= np.ptp(turns[on_it[:, k]]) > SAME
    on_it[:, on_it.sum(axis=0) < STRINGS] = False
    return np.asarray(on_it)


def _led(course: Course, root: Body, held: list[Body]) -> Course:
    """The course of a shape on which others hang; about the place that stays, if they turn about that as one piece."""
    # how a round form is turned tells nothing: what hangs on it does
    a, b = fit_robustly(*points_of(held)[:3]) if root.round else root.motion
    pivot = pivot_of(held, root.start, (a, b)) if abs(np.angle(a)) > SAME else root.start
    if pivot == root.start or not _is_one_piece(held):
        return course
    piece = Course(pivot, a * pivot + b, float(np.angle(a)), abs(a), carries=True, whole=True)
    return replace(course, hinge=root.start, parent=piece)


def _is_of(body: Body, whole: Course) -> bool:
    """Whether a shape goes just as the whole does."""
    near = AS_WHOLE * body.size
    return bool(
        np.abs(body.motion[0] - whole.whole_turn) * body.size + abs(whole.arrival(body.start) - body.end) < near
    )


def _is_one_piece(bodies: list[Body]) -> bool:
    """Whether each touches another, about."""
    hulls = [body.hulls[0].buffer(TOUCHING * body.size) for body in bodies]
    return isinstance(shapely.union_all(hulls), shapely.Polygon)


def _turned_over_with(parent: Body, child: Body) -> bool:
    """Whether a neighbour that is turned over takes the child along: the points of both go straight."""
    turn, stretch, _ = parent.affine
    return abs(stretch) > abs(turn) and parent.takes(child)


def _root(bodies: list[Body], looseness: Floats, areas: Floats) -> int:
    """The shape that holds the others, one on the axis if the drawing is symmetric; twins then hold not each other.

    It is one that stands still, if that is not much smaller: a post holds its barrier.
    """
    mates, each = twins(bodies), np.arange(len(bodies))
    if mates is not None and np.any(mates == each):
        looseness[each, mates] = np.inf
        areas = np.where(mates == each, areas, -1.0)
    sizes = np.array([body.size for body in bodies]) ** 2  # a trunk may be a line
    large = (areas > POST * areas.max()) | (sizes > POST * sizes.max())
    stands = np.array([_is_still(body) for body in bodies]) & large
    return anchor(np.where(stands, areas, -1.0) if stands.any() else areas, looseness <= LOOSE)


def _is_still(body: Body) -> bool:
    return abs(body.motion[0] - 1.0) < STILL and abs(body.end - body.start) < STILL * body.size


def anchor(areas: Floats, holds: NDArray[np.bool_]) -> int:
    """The shape that holds the others: large, and one that holds (rows) many (columns), as a body its larger wings."""
    return int(np.argmax(areas * (1.0 + holds.sum(axis=1))))


def _tree(looseness: Floats, rather: Floats, areas: Floats, root: int) -> list[tuple[int, int | None]]:
    """Each shape with the one it hangs on, if any; parents come before their children, the root before all.

    `rather` is how much looser (rows, columns) may be what is taken instead, if it hangs at all.
    """
    order: list[tuple[int, int | None]] = [(root, None)]
    ranks = np.where(looseness <= LOOSE, looseness + rather, np.inf)
    best, parents = ranks[root].copy(), np.full(len(areas), root)
    waiting = np.arange(len(areas)) != root
    while waiting.any():
        # the tightest first; of those that hang on nothing yet, the largest: a foot hangs on its thigh, not the reverse
        tight = waiting & np.isfinite(best)
        hangs = bool(tight.any())
        worth = np.where(tight, -np.round(best, 9), -np.inf) if hangs else np.where(waiting, areas, -np.inf)
        child = int(np.argmax(worth))
        waiting[child] = False
        order.append((child, int(parents[child]) if hangs else None))
        nearer = ranks[child] < best
        best, parents = np.where(nearer, ranks[child], best), np.where(nearer, child, parents)
    return order


def _offers(bodies: list[Body]) -> tuple[Floats, Complexes]:
    """How loosely each shape (columns) would hang on each other (rows), 0 is tight, and at which hinges; (n, n).

    What touches by chance in one key does not hang together: the looser of both counts.
    """
    a, b = (np.array([body.motion[k] for body in bodies]) for k in (0, 1))
    hulls = np.array([body.hulls for body in bodies]).T
    sizes = np.maximum(np.array([body.size for body in bodies]), 1e-9) * np.array([np.ones(len(a)), np.abs(a)])
    size = np.minimum(sizes[:, :, None], sizes[:, None])
    middles = np.array([body.start for body in bodies])
    turn = np.abs(np.angle(a[None] / a[:, None]))
    slip = np.abs((a[:, None] - a[None]) * middles[None] + b[:, None] - b[None]) / sizes[0]
    low, high = np.split(shapely.bounds(hulls), 2, axis=2)
    boxes = np.maximum(low[:, :, None] - high[:, None], low[:, None] - high[:, :, None])
    near = np.all(np.linalg.norm(np.maximum(boxes, 0.0), axis=3) / size <= LOOSE / NEIGHBOUR, axis=0)
    same = turn < SAME
    hinges = (b[None] - b[:, None]) / np.where(same, 1.0, a[:, None] - a[None])
    spots = hinges.real, hinges.imag
    beyond = [np.maximum(np.maximum(low[0, :, k] - spots[k], spots[k] - high[0, :, k]), 0.0) for k in (0, 1)]
    off = np.full(turn.shape, np.inf)
    # the boxes first: most are far off
    there = parent, child = np.nonzero(near & ~same & (np.hypot(*beyond) / size[0] <= LOOSE))
    off[there] = _farther(hulls[:, child], _hinges(hinges[there], a[parent], b[parent]), size[:, parent, child])
    same |= (turn < NOD) & (slip < off)
    hinges, off = np.where(same, middles[None], hinges), np.where(same, slip, off)
    there = parent, child = np.nonzero(near & (off <= LOOSE))
    gap = _farther(hulls[:, parent], hulls[:, child], size[:, parent, child])
    away = _farther(hulls[:, parent], _hinges(hinges[there], a[parent], b[parent]), size[:, parent, child])
    looseness = np.full(off.shape, np.inf)
    looseness[there] = off[there] + np.where(same[there], 0.5 * gap, NEIGHBOUR * (away + gap))
    as_balls, joints = _with_balls(bodies, hulls[0], near)
    tighter = as_balls < looseness
    return np.where(tighter, as_balls, looseness), np.where(tighter, joints, hinges)


def _farther(one: NDArray[np.object_], other: NDArray[np.object_], size: Floats) -> Floats:
    """How far things are apart at the key where that is farther, by the size there; all of shape (2, k)."""
    gaps = np.zeros(one.shape)
    off = ~shapely.intersects(one, other)  # which is told much sooner than how far
    gaps[off] = shapely.distance(one[off], other[off])
    return np.asarray(np.max(gaps / size, axis=0))


def _hinges(places: Complexes, a: Complexes, b: Complexes) -> NDArray[np.object_]:
    """Hinges at both keys, which go as what holds them, z -> a z + b; shape (2, k)."""
    return _spots(np.array([places, a * places + b]))


def _with_balls(bodies: list[Body], hulls: NDArray[np.object_], near: NDArray[np.bool_]) -> tuple[Floats, Complexes]:
    """How loosely what is round would hang on what is not, or that on it, as on a ball, and at which hinges; (n, n).

    How a round form is turned tells nothing: a hand takes along what it holds, however that is turned.
    """
    spins = np.array([body.round for body in bodies])
    parent, child = there = np.nonzero(near & (spins[:, None] != spins))
    a, first, second = np.array([(body.motion[0], body.start, body.end) for body in bodies]).T
    sizes = np.maximum(np.array([body.size for body in bodies]), 1e-9)
    turn = np.where(spins[parent], a[child], a[parent])
    slip = np.abs(turn * (first[child] - first[parent]) - (second[child] - second[parent])) / sizes[child]
    gap = shapely.distance(hulls[parent], hulls[child]) / np.minimum(sizes[parent], sizes[child])
    looseness = np.full(near.shape, np.inf)
    looseness[there] = np.where(slip <= LOOSE, slip + 0.5 * gap, np.inf)
    return looseness, np.where(spins[:, None], first[:, None], first)


def _on_riders(bodies: list[Body]) -> NDArray[np.bool_]:
    """Which shapes (columns) lie in both keys on which that ride (rows), as eyes on the head of a snake; (n, n)."""
    found = np.zeros((len(bodies), len(bodies)), dtype=bool)
    ends = np.array([(body.start, body.end) for body in bodies]).T
    sizes = np.array([body.size for body in bodies])
    for k in [k for k, body in enumerate(bodies) if body.ride is not None]:
        inside = [shapely.contains_xy(bodies[k].hulls[side], ends[side].real, ends[side].imag) for side in (0, 1)]
        found[k] = inside[0] & inside[1] & (sizes < sizes[k])
    return found


def _spots(places: Complexes) -> NDArray[np.object_]:
    return np.asarray(shapely.points(places.real, places.imag))


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


def _goes_along(body: Body, whole: Course) -> bool:
    """Whether the whole explains most of where a shape goes: what stands still while a figure turns stays there.

    What is one with it, at the place about which it turns, does not stand still.
    """
    return abs(whole.arrival(body.start) - body.end) < AS_ONE * abs(body.end - body.start) or _is_of(body, whole)


def _rounded(start: complex, end: complex, a: complex, step: float) -> Course:
    """The course of the whole in steps."""
    start, end = (step * complex(np.round(place / step)) for place in (start, end))
    angle, scale = (float(np.round(STEPS * value)) / STEPS for value in (np.angle(a), abs(a)))
    return Course(start, end, angle, scale, whole=True)


def _course(body: Body, hook: tuple[complex, Course] | None, carries: bool) -> Course:
    """A turn plainly nearer to its neighbour's by whole rounds is taken instead: a hand turns with its arm."""
    a = body.motion[0]
    angle = float(np.angle(a))
    hinge, parent = hook or (None, None)
    if body.about is not None:
        angle += 2 * np.pi * round((body.about - angle) / (2 * np.pi))
    elif hook is not None:
        most = BENT_BACK if any(abs(hook[0] - tip) < TIP * body.size for tip in body.tips[0]) else BENT
        apart = hook[1].angle - angle
        rounds = 2 * np.pi * round(apart / (2 * np.pi))
        angle += rounds if abs(apart - rounds) < most else 0.0
    turns = angle + 2 * np.pi * body.turns
    return Course(body.start, body.end, turns, abs(a), hinge, parent, body.path, body.ride, carries)
