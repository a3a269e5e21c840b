"""The way a shape's middle takes: limbs swing about the joints at which they hang on their neighbours.

The shapes of a figure are put into a tree: each hangs on the neighbour relative to which it moves most like a thing on
a hinge, the fixed point of their relative motion (the hinge) lying near both. What hangs on nothing goes straight.
"""

from dataclasses import dataclass, replace

import numpy as np
import shapely

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import Complexes, as_points

LOOSE = 0.35  # a hinge farther off than this share of the smaller shape's size holds nothing
SAME = 0.05  # radians below which two shapes count as turning as one


@dataclass(frozen=True)
class Body:
    """A shape as far as its motion goes: its outline points at both keys, and its similarity."""

    first: Complexes
    second: Complexes
    motion: tuple[complex, complex]

    @property
    def size(self) -> float:
        """Root of the mean squared distance from the middle at the first key."""
        return float(np.sqrt(np.mean(np.abs(self.first - self.first.mean()) ** 2)))


@dataclass(frozen=True)
class Course:
    """The path of a shape's middle from `start` to `end`, while it turns by `angle` radians and grows to `scale`.

    It hangs on `parent` at `hinge`, a point at the first key; without a parent it goes straight, or swings about the
    hinge if there is one.
    """

    start: complex
    end: complex
    angle: float
    scale: float
    hinge: complex | None = None
    parent: "Course | None" = None

    def swung(self, motion: tuple[complex, complex]) -> "Course":
        """The same on an arc about the fixed point of a motion, where that turns at all."""
        a, b = motion
        return replace(self, hinge=b / (1.0 - a)) if abs(np.angle(a)) >= SAME else self

    def factor(self, times: Floats) -> Complexes:
        """The turn and scale at the times as complex factors: angle and size grow evenly."""
        return np.asarray((1.0 + times * (self.scale - 1.0)) * np.exp(1j * times * self.angle), dtype=complex)

    def middle(self, times: Floats) -> Complexes:
        """Where the middle is at the times, shape (len(times),). Exact at 0 and 1."""
        straight = self.start + times * (self.end - self.start)
        if self.hinge is None:
            return np.asarray(straight, dtype=complex)
        arm = self.start - self.hinge
        carried = self._hinge(times) + self.factor(times) * arm
        one = np.ones(1)
        arrival = complex((self._hinge(one) + self.factor(one) * arm)[0])
        return np.asarray(carried + times * (self.end - arrival), dtype=complex)

    def _hinge(self, times: Floats) -> Complexes:
        assert self.hinge is not None
        if self.parent is None:
            return np.full(len(times), self.hinge)
        return self.parent.carried(self.hinge, times)

    def carried(self, point: complex, times: Floats) -> Complexes:
        """Where a point of the first key goes that is fixed to this shape."""
        return np.asarray(self.middle(times) + self.factor(times) * (point - self.start), dtype=complex)


def courses(bodies: list[Body]) -> list[Course]:
    """A course for each shape, in their order."""
    if not bodies:
        return []
    hulls = [_hull(body.first) for body in bodies]
    root = max(range(len(bodies)), key=lambda k: hulls[k].area)
    found: dict[int, Course] = {root: _course(bodies[root], None, None)}
    offers = {k: _offer(bodies, hulls, root, k) for k in range(len(bodies)) if k != root}
    parents = dict.fromkeys(offers, root)
    while offers:
        nearest = min(offers, key=lambda k: (round(offers[k][0], 9), k))
        score, hinge = offers.pop(nearest)
        if score > LOOSE:
            found[nearest] = _course(bodies[nearest], None, None)
        else:
            found[nearest] = _course(bodies[nearest], hinge, found[parents[nearest]])
        for k in offers:
            offer = _offer(bodies, hulls, nearest, k)
            if offer[0] < offers[k][0]:
                offers[k], parents[k] = offer, nearest
    return [found[k] for k in range(len(bodies))]


def _offer(bodies: list[Body], hulls: list[shapely.Geometry], parent: int, child: int) -> tuple[float, complex]:
    """How loosely a child would hang on a parent (0 is tight), and the hinge."""
    (a, b), (c, d) = bodies[parent].motion, bodies[child].motion
    size = max(min(bodies[parent].size, bodies[child].size), 1e-9)
    gap = float(hulls[parent].distance(hulls[child])) / size
    if abs(np.angle(c / a)) < SAME:  # both move as one: the child is carried along where it is
        middle = complex(bodies[child].first.mean())
        slip = abs((a * middle + b) - (c * middle + d)) / max(bodies[child].size, 1e-9)
        return 0.5 * gap + slip, middle
    hinge = (d - b) / (a - c)
    point = shapely.Point(hinge.real, hinge.imag)
    off = (float(hulls[parent].distance(point)) + float(hulls[child].distance(point))) / size
    return off + gap, hinge


def _course(body: Body, hinge: complex | None, parent: Course | None) -> Course:
    a = body.motion[0]
    start, end = complex(body.first.mean()), complex(body.second.mean())
    return Course(start, end, float(np.angle(a)), abs(a), hinge, parent)


def _hull(points: Complexes) -> shapely.Geometry:
    return shapely.MultiPoint(as_points(points)).convex_hull
