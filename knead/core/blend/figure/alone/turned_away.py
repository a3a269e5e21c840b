"""A side that a box hides as it turns folds up at the edge that it has in common with others, and comes from there."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.geometry.bezier import Complexes, Floats, following, within
from knead.core.geometry.hull import hull_of
from knead.core.geometry.sides import Edge, borders, corners_of
from knead.core.geometry.similarity import affine_weights, as_points
from knead.core.model import Shape

SLIVER = 0.15  # what is left of a side that is not drawn, as it is seen nearly edge on, at most
WITHIN = 0.01  # how far, by the length around it, what lies on a side may stick out of it

_Way = Callable[[Floats], Complexes]  # where corners are at times, shape (len(times), corners)


@dataclass(frozen=True, eq=False)
class _Fold:
    """The corners of a side, (k,), at its key, and the way of `known` ones, which it has in common with others.

    Two of these are the ends of the edge at which it folds up.
    """

    own: Complexes
    key: float
    known: list[int]
    way: _Way
    edge: list[int]

    def at(self, times: Floats) -> Complexes:
        """Where its corners are at the times, shape (len(times), k)."""
        gone, moved = np.abs(times - self.key), self.way(times)
        if len(self.known) == len(self.edge) or self._left > SLIVER:
            return self._folded(moved, 1.0 - gone)
        rows = self._in_space(moved)
        share = np.where(self._seen(rows) <= 0.0, 1.0, gone**2 * (self._left > 0.0))
        return np.asarray(rows + share[:, None] * (self._folded(moved, np.zeros(len(times))) - rows))

    @cached_property
    def _left(self) -> float:
        """How much one would see of it at the key in which it is not, if it went on in space."""
        return float(self._seen(self._in_space(self.way(np.array([1.0 - self.key]))))[0])

    def _in_space(self, moved: Complexes) -> Complexes:
        """Where its corners are, of which the known ones are `moved`, if its form in space is kept: a parallelogram's.

        Shape (len(moved), k).
        """
        rows = moved @ affine_weights(self.own[self.known], self.own).T
        rows[:, self.known] = moved
        return np.asarray(rows, dtype=complex)

    def _seen(self, rows: Complexes) -> Floats:
        """How much one sees of it, by how much at its key; below 0 it would be its back."""
        return np.asarray(_areas(rows) / _areas(self.own))

    def _folded(self, moved: Complexes, shares: Floats) -> Complexes:
        """Where its corners are if of how far they are off the edge, but a share is left."""
        start, end = moved[:, [self.known.index(k) for k in self.edge], None].swapaxes(0, 1)
        a, b = self.own[self.edge]
        along = ((self.own - a) / (b - a)).real
        off = self.own - (a + along * (b - a))
        foot = within(along, 0.0, 1.0)
        foot = foot + shares[:, None] * (along - foot)
        return np.asarray(start + foot * (end - start) + shares[:, None] * off, dtype=complex)


def turned_away(shapes: Sequence[Shape], pairs: Sequence[PairPlan], from_first: bool) -> dict[int, Holder]:
    """What takes along lone shapes of a key that are sides of boxes which turn, or lie on such a side."""
    key = 0.0 if from_first else 1.0
    turning = [plan for plan in pairs if plan.pair.on_box]
    known = [mate for plan in turning if (mate := _corners(plan, from_first)) is not None]
    lone = {k: side[1] for k, shape in enumerate(shapes) if known and (side := corners_of(shape)) is not None}
    edges = borders([*(own for own, _ in known), *lone.values()])
    sides = dict(enumerate(known))
    open_sides = dict(enumerate(lone, start=len(known)))
    found: dict[int, Holder] = {}
    while True:
        shared = {n: _shared(n, lone[k], sides, edges) for n, k in open_sides.items()}
        n = max(shared, key=lambda n: len(shared[n]), default=-1)
        if n < 0 or not shared[n]:
            break
        own = lone[open_sides[n]]
        fold = _fold(own, key, shared[n], sides)
        sides[n] = own, fold.at
        found[open_sides.pop(n)] = Holder(own, fold.at, opens="beside")
    return found | _on_sides(shapes, found)


def _shared(
    n: int, own: Complexes, sides: Mapping[int, tuple[Complexes, _Way]], edges: Mapping[Edge, Edge]
) -> list[tuple[int, Edge]]:
    """The corners of a side from which edges go on that it shares with sides of known ways, the most exact first."""
    lengths = np.abs(following(own) - own)
    found = [(k, edges[n, k]) for k in range(len(own)) if (n, k) in edges and edges[n, k][0] in sides]

    def off(each: tuple[int, Edge]) -> float:
        k, (mate, corner) = each
        other = sides[mate][0]
        apart = abs(own[k] - other[(corner + 1) % len(other)]) + abs(own[(k + 1) % len(own)] - other[corner])
        return float(apart / lengths[k] ** 2)  # of edges that are as exact, the longest

    return sorted(found, key=off)


def _fold(
    own: Complexes, key: float, shared: list[tuple[int, Edge]], sides: Mapping[int, tuple[Complexes, _Way]]
) -> _Fold:
    """How a side goes that shares edges with others."""
    ends: dict[int, Edge] = {}
    for k, (n, corner) in shared:
        ends.setdefault((k + 1) % len(own), (n, corner))  # they run round the other way
        ends.setdefault(k, (n, (corner + 1) % len(sides[n][0])))
    off = np.array([own[k] - sides[n][0][corner] for k, (n, corner) in ends.items()])

    def way(times: Floats) -> Complexes:
        rows = {n: sides[n][1](times) for n in {n for n, _ in ends.values()}}
        places = np.array([rows[n][:, corner] for n, corner in ends.values()])
        return np.asarray(places.T + off)

    k = shared[0][0]
    return _Fold(own, key, list(ends), way, [k, (k + 1) % len(own)])


def _corners(plan: PairPlan, from_first: bool) -> tuple[Complexes, _Way] | None:
    """The corners of a side that stays, at a key, and their way."""
    found = corners_of(plan.paint.first if from_first else plan.paint.second)
    if found is None:
        return None
    nodes = (plan.first_points if from_first else plan.second_points).reshape(-1, 3)[:, 1]
    at = np.abs(found[1][:, None] - nodes).argmin(axis=1)
    return found[1], lambda times: np.asarray(plan.points(times)[:, 3 * at + 1])


def _on_sides(shapes: Sequence[Shape], sides: Mapping[int, Holder]) -> dict[int, Holder]:
    """What takes along what lies on such sides."""
    found: dict[int, Holder] = {}
    hulls = {k: hull_of(shape.contours) for k, shape in enumerate(shapes) if sides and k not in sides}
    for holder in sides.values():
        side = shapely.Polygon(as_points(holder.own))
        room = side.buffer(WITHIN * side.length)
        found |= {k: holder for k, place in hulls.items() if room.covers(place)}
    return found


def _areas(rings: Complexes) -> Floats:
    """The areas within rings of corners, (…, k), negative where they run round the other way, twice as large."""
    return np.asarray((rings.conj() * np.roll(rings, -1, axis=-1)).imag.sum(axis=-1))
