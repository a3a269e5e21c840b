"""What sits on a neighbour that bends, as a hand on an arm that is one line: where, and how that stretch turns."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.twins import twins
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.inside import mean_values
from knead.core.geometry.similarity import as_points

SITS = 1.0  # how far a middle may be from its neighbour's outline in both keys, by its size
REACH = 4.0  # and how far from a neighbour that it touches
TOUCHES = 0.25  # how far off, by its size, what touches is in the key where it is farther off
STRAYS = 0.03  # what strays less from a mere turn, by its size, takes along what sits on it by that turn
NEAREST = 8.0  # how much the nearest points of the stretch lead
SLIDES = 0.5  # how far off each other, by the size of the neighbour, the places may be that it touches at either key
LARGER = 1.5  # what is so many times as large may hold it instead
TELLS = 0.1  # what is distorted by more does not say how what sits on it is turned
TURNS = 2.0  # how much they tell how the stretch turns


@dataclass(frozen=True, eq=False)
class Seat:
    """Where a shape sits on its carrier, which is told by its place in the row."""

    carrier: int
    gap: float  # how far the middle is from the carrier, by the shape's size
    weights: Floats  # how much each of the carrier's points leads, from where it sits at either key; (2, points)
    about: Floats  # how much each of them tells how the carrier turns there, shape (points,)
    turn: float | None  # how far it turns there, in radians, whole rounds aside; None if it is too distorted to tell


def seats(plans: list[PairPlan], touching: dict[int, list[int]], inks: dict[int, int]) -> dict[int, Seat]:
    """Of each shape that may ride, by its place in the row, where it sits; whatever their courses are.

    What lies between twins, as the body of a bird between its wings, rides on neither. `touching` says which touch:
    what lies in something smaller, as a nail on a hand, goes with that, and an arm that holds a rope does not ride on
    it. On `inks`, lines each with its fill, nothing sits.
    """
    bending = [k for k, plan in enumerate(plans) if plan.goes.plain and plan.body.bend > STRAYS and k not in inks]
    carriers = [_carrier_of(k, plans[k]) for k in bending]
    if not carriers:
        return {}
    bodies = [plan.body for plan in plans]
    near, mates = _within_reach(bodies, np.array([carrier.box for carrier in carriers])), twins(bodies)
    found = {}
    for k, plan in enumerate(plans):
        bound = plan.body.path is not None or plan.body.alone or not plan.goes.plain
        if bound or (mates is not None and mates[k] == k):
            continue
        larger = {j: bodies[j] for j in touching.get(k, ()) if bodies[j].size > LARGER * plan.body.size}
        own = [carriers[j].seat(plan.body, larger) for j in np.flatnonzero(near[k]).tolist()]
        closest = min((seat for seat in own if seat is not None), key=lambda seat: seat.gap, default=None)
        if closest is not None:
            found[k] = closest
    return found


@dataclass(frozen=True, eq=False)
class _Carrier:
    """What bends, with points along its outlines at both keys, shape (2, points), and their boxes there.

    The boxes are (2, 2, 2): of each key the least and the most of x, and of y. The `ring` is its longest outline, if
    that is closed: which of the points are on it, and its areas at both keys. The `lines` are all its outlines there.
    It `tells` how it turns, if it is not drawn anew.
    """

    place: int
    size: float
    points: Complexes
    box: Floats
    ring: tuple[slice, NDArray[np.object_]] | None
    lines: NDArray[np.object_]
    tells: bool

    def seat(self, body: Body, larger: dict[int, Body]) -> Seat | None:
        """Where a smaller shape sits: in it, on its outline, or touching that at one place in both keys.

        It touches some `larger` ones, by their places in the row.
        """
        size = max(body.size, 1e-9)
        if self.size <= size:
            return None
        ends = np.array([body.start, body.end])
        off = np.abs(self.points - ends[:, None]).max(axis=0) / size
        gap = float(off.min())
        others = [other for place, other in larger.items() if place != self.place]
        if self.ring is not None and shapely.contains_xy(self.ring[1], ends.real, ends.imag).all():
            if any(other.size < self.size and _lies_in(body, other) for other in others):
                return None
            weights = np.zeros(self.points.shape)
            for row, place, led in zip(self.points, ends, weights, strict=True):
                led[self.ring[0]] = mean_values(row[self.ring[0]], np.array([place]))[0]
            return self._seat(0.0, weights, ends, max(gap, 1.0) * size)
        if gap < SITS:
            return self._seat(gap, np.tile(_leading(off), (2, 1)), ends, size)
        touched = None if others else self._touched(body)
        return None if touched is None else self._seat(gap, self._near(touched, size), touched, size)

    def _touched(self, body: Body) -> Complexes | None:
        """Where it touches it at either key, shape (2,); None if it does not, or elsewhere in each."""
        reach = max(TOUCHES * body.size, body.hand)
        hulls = np.array(body.hulls)
        if not shapely.dwithin(self.lines, hulls, reach).all():
            return None
        shared = shapely.intersection(self.lines, hulls)
        ways = shapely.get_point(shapely.shortest_line(self.lines, hulls), 0)
        spots = shapely.centroid(np.where(shapely.is_empty(shared), ways, shared))
        places = shapely.get_x(spots) + 1j * shapely.get_y(spots)
        slid = np.ptp(self._near(places, max(body.size, 1e-9)) @ self.points.T, axis=0)
        return places if np.abs(slid).max() < SLIDES * self.size else None

    def _near(self, places: Complexes, size: float) -> Floats:
        """How much each point leads from the places (2,) at both keys; (2, points)."""
        return np.array([_leading(off) for off in np.abs(self.points - places[:, None]) / size])

    def _seat(self, gap: float, weights: Floats, places: Complexes, size: float) -> Seat:
        off = np.abs(self.points - places[:, None]) / size
        about = np.exp(-TURNS * (off**2 - off.min(axis=1, keepdims=True) ** 2)).mean(axis=0)
        turn = float(np.angle(similarity.fit(self.points[0], self.points[1], about)[0]))
        return Seat(self.place, gap, weights, about, turn if self.tells else None)


def _leading(off: Floats) -> Floats:
    """How much each of points leads that are so far off, by the size of what they lead; shape (points,)."""
    led = np.exp(-NEAREST * (off**2 - off.min() ** 2))
    return np.asarray(led / led.sum())


def _lies_in(body: Body, other: Body) -> bool:
    """Whether a middle is in the hull of another in both keys."""
    ends = np.array([body.start, body.end])
    return bool(shapely.contains_xy(np.array(other.hulls), ends.real, ends.imag).all())


def _carrier_of(place: int, plan: PairPlan) -> _Carrier:
    outlines = plan.outlines(np.array([plan.first_points, plan.second_points]))
    closed = [run.closed for run in plan.runs]
    points = np.concatenate(outlines, axis=1)
    axes = np.array([points.real, points.imag])
    box = np.array([axes.min(axis=2), axes.max(axis=2)]).T
    longest = int(np.argmax([rows.shape[1] for rows in outlines]))
    ends = np.cumsum([0, *(rows.shape[1] for rows in outlines)])
    ring = None
    if closed[longest]:
        ring = slice(int(ends[longest]), int(ends[longest + 1])), shapely.polygons(as_points(outlines[longest]))
    return _Carrier(place, plan.body.size, points, box, ring, _lines(outlines, closed), plan.strain < TELLS)


def _lines(outlines: list[Complexes], closed: list[bool]) -> NDArray[np.object_]:
    """The outlines of a shape as lines, at both keys."""
    rows = [np.append(row, row[:, :1], axis=1) if shut else row for row, shut in zip(outlines, closed, strict=True)]
    return np.array([shapely.MultiLineString([as_points(row[side]) for row in rows]) for side in (0, 1)])


def _within_reach(bodies: list[Body], boxes: Floats) -> NDArray[np.bool_]:
    """Which carriers have boxes within reach of the middles of which shapes, in both keys; (bodies, carriers)."""
    ends = np.array([[body.start, body.end] for body in bodies])
    places, sizes = as_points(ends)[:, None], np.maximum([body.size for body in bodies], 1e-9)
    beyond = np.maximum(boxes[..., 0] - places, places - boxes[..., 1]).max(axis=(2, 3))
    return np.asarray(beyond < REACH * sizes[:, None])
