"""Limbs swing about the joints at which they hang on their neighbours.

The shapes of a figure are put into a tree: each hangs on the neighbour relative to which it moves most like a thing on
a hinge. What hangs on nothing goes along with the drawing where that turns as a whole, else straight; with what hangs
on it, it turns about its end if that stays.
"""

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import SAME, Course
from knead.core.blend.course.ground import do_not_hold
from knead.core.blend.course.hinges import LOOSE, offers, on_riders
from knead.core.blend.course.pivot import pivot_of, points_of
from knead.core.blend.course.twins import twins
from knead.core.blend.course.whole import goes_along, is_of
from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import fit_robustly

BENT = 0.75 * np.pi  # what turns against its neighbour by more than this does not go round with it
BENT_BACK, TIP = 0.95 * np.pi, 0.3  # the same of a bone, which hangs on it by an end, this near to it by its size
TOUCHING = 0.1  # what is nearer than this, by its size, touches
STRINGS, FINE = 3, 0.5  # so many lines, each so large by a fill, that turn otherwise on it do not hold it
BY_A_LINE = 0.3  # how much looser a fill may hang on another than on a line: a limb does not hang on its string
BARE = 0.2  # as what holds all others a line counts so much less than what is filled: a rope carries nobody
STILL, POST = 1e-3, 0.3  # how little what stands still turns, grows or goes, and how large it is by the largest


def courses(bodies: list[Body], whole: Course | None) -> list[Course]:
    """A course for each shape, in their order; `whole` is that of the drawing, if it turns as a whole."""
    if not bodies:
        return []
    looseness, hinges = offers(bodies)
    on_rider = on_riders(bodies)
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
        hook = (bodies[child].start, whole) if whole and goes_along(bodies[child], whole) else None
        if parent is not None and not _turned_over_with(bodies[parent], bodies[child]):
            hook = complex(hinges[parent, child]), found[parent]
        found[child] = _course(bodies[child], hook, len(held[child]) > 1)
        if parent is None and found[child].carries and bodies[child].path is None:
            of_whole = {k for k, body in enumerate(bodies) if hook and is_of(body, hook[1])}
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
