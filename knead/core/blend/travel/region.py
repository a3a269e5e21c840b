"""What travels solidly as one: a line, or an outline with the holes in it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.by_times import ByTimes
from knead.core.blend.course.body import is_flat
from knead.core.blend.travel.mesh import Mesh, meshed
from knead.core.blend.travel.solid import EDGES, SolidContour
from knead.core.geometry.bezier import Complexes, Floats, Ints, following, gone
from knead.core.geometry.islands import nested
from knead.core.geometry.similarity import as_points

PLACES = 64  # of the mesh, around an outline and its holes
FEWEST = 8  # of them on each
TORN = 0.2  # where more of the area than this is lost, holes do not go along with their outline
AT_POINT = 1e-9  # a place nearer to a point of the outline, by how many lie between, is at it
BENDS = 0.05  # radians; where outlines turn more alike than this, in the mean, all of it turns as one


@dataclass(frozen=True, eq=False)
class Marks:
    """Places of a mesh on a closed outline; `at` says how many of the outline's points come before each, rising."""

    contour: SolidContour
    at: Floats

    @staticmethod
    def even(contour: SolidContour, count: int) -> "Marks":
        """So many places, even by the lengths at both keys, from the point that is farthest out."""
        steps = np.sum([np.abs(following(row) - row) for row in contour.places], axis=0)
        shares = gone(steps / steps.sum())
        out = np.sum([np.abs(row - m) for row, m in zip(contour.places, contour.middles, strict=True)], axis=0)
        wanted = np.sort(np.mod(shares[np.argmax(out)] + np.arange(count) / count, 1.0))
        at = np.interp(wanted, shares, np.arange(len(shares)))
        at = np.where(np.abs(at - np.round(at)) < AT_POINT, np.round(at), at)
        return Marks(contour, np.sort(np.mod(at, len(out))))

    def halved(self, contour: SolidContour, where: NDArray[np.bool_]) -> "Marks":
        """The same places on the same outline, some of whose stretches are halved."""
        if not len(where):
            return Marks(contour, self.at)
        stretch, along = np.divmod(self.at, EDGES)
        stretch = stretch.astype(np.int64)
        before = stretch + gone(where)[stretch]
        return Marks(contour, before * EDGES + along * (1 + where[stretch]))

    @property
    def ring(self) -> tuple[Complexes, Complexes, Floats]:
        """Where they are at both keys, and about how much each turns."""
        one, two = (self.of(row) for row in self.contour.places)
        return one, two, self.contour.turns[self._before]

    def of(self, points: Complexes) -> Complexes:
        """Where they are, from the points along the outline: shapes (..., points) and (..., places)."""
        here, there = points[..., self._before], points[..., (self._before + 1) % points.shape[-1]]
        return np.asarray(here + (self.at - self._before) * (there - here))

    def bent(self, drawn: tuple[Complexes, Complexes], places: Complexes) -> tuple[Complexes, Complexes]:
        """Node triples and points along the outline at some times, turned and sized between its places to meet these.

        The handles of a node turn alike, unless it is a corner, so that what is smooth stays smooth.
        """
        triples, points = drawn
        own = self.of(points)
        steps, wanted = (np.roll(row, -1, axis=1) - row for row in (own, places))
        ratio = np.where(steps == 0.0, 1.0, wanted / np.where(steps == 0.0, 1.0, steps))
        off = points - own[:, self._stretches]
        moved = places[:, self._stretches] + ratio[:, self._stretches] * off
        found, nodes = triples.reshape(len(triples), -1, 3).copy(), moved[:, ::EDGES]
        for side, (one, other, share) in zip((0, 2), self._sides, strict=True):
            turned = (1.0 - share) * ratio[:, one] + share * ratio[:, other]
            found[:, :, side] = nodes + turned * (found[:, :, side] - found[:, :, 1])
        found[:, :, 1] = nodes
        return found.reshape(triples.shape), moved

    @cached_property
    def _before(self) -> Ints:
        """The point of the outline before each place."""
        return self.at.astype(np.int64)

    @cached_property
    def _stretches(self) -> Ints:
        """For each point along the outline, the place before it."""
        return (np.searchsorted(self.at, np.arange(len(self.contour.shares)), side="right") - 1) % len(self.at)

    @cached_property
    def _sides(self) -> tuple[tuple[Ints, Ints, Floats], tuple[Ints, Ints, Floats]]:
        """By which two stretches the handles before and after each node turn, and the share of the latter."""
        nodes, count = np.arange(0, len(self.contour.shares), EDGES), len(self.at)
        here, corners = self._stretches[::EDGES], self.contour.corners
        length = np.mod(following(self.at) - self.at, len(self.contour.shares))[here]
        along = np.mod(nodes - self.at[here], len(self.contour.shares)) / np.maximum(length, 1e-12)
        late = along >= 0.5
        one, other = np.where(late, here, here - 1) % count, np.where(late, here + 1, here) % count
        share = np.where(late, along - 0.5, along + 0.5)
        into = np.where(along == 0.0, here - 1, here) % count
        before, after = ((np.where(corners, own, one), np.where(corners, own, other), share) for own in (into, here))
        return before, after


@dataclass(frozen=True, eq=False)
class Region:
    """Contours that travel as one, by their `indices` in the shape: one, or an outline and its holes on a mesh."""

    indices: tuple[int, ...]
    contours: tuple[SolidContour, ...]
    mesh: Mesh | None = None
    marks: tuple[Marks, ...] = ()

    @property
    def middles(self) -> tuple[complex, complex]:
        """The middle of its outline at both keys."""
        return self.contours[0].middles

    def halved(self, contours: Sequence[SolidContour], where: Sequence[NDArray[np.bool_]]) -> "Region":
        """The same of the same outlines, some of whose stretches are halved: what fills them is filled alike."""
        own = tuple(contours[k] for k in self.indices)
        if self.mesh is None:
            return Region(self.indices, own)
        marks = tuple(m.halved(c, where[k]) for m, c, k in zip(self.marks, own, self.indices, strict=True))
        first, second = (np.concatenate(places) for places in zip(*(m.ring[:2] for m in marks), strict=True))
        return Region(self.indices, own, replace(self.mesh, first=first, second=second), marks)

    def at(self, times: Floats) -> list[tuple[Complexes, Complexes]]:
        """For each contour, about the region's middle: node triples, and points along the outline."""
        return self._kept.get(times, self._at)

    @cached_property
    def _kept(self) -> ByTimes[list[tuple[Complexes, Complexes]]]:
        return ByTimes()  # another course takes the same form along

    def _at(self, times: Floats) -> list[tuple[Complexes, Complexes]]:
        drawn = [contour.at(times) for contour in self.contours]
        if self.mesh is None:
            return drawn
        places = np.split(self.mesh.at(times), np.cumsum([len(marks.at) for marks in self.marks])[:-1], axis=1)
        drawn = [marks.bent(own, row) for marks, own, row in zip(self.marks, drawn, places, strict=True)]
        middle = (drawn[0][1] @ self.contours[0].shares)[:, None]
        return [(triples - middle, points - middle) for triples, points in drawn]


def regions_of(contours: Sequence[SolidContour]) -> list[Region]:
    """The regions of a shape: what bends is meshed with the holes in it, wherever that can be."""
    found: list[Region] = []
    for group in _groups(contours):
        if any(contours[k].bend > BENDS for k in group):
            found += _meshed(group, contours)
    done = {k for region in found for k in region.indices}
    return found + [Region((k,), (contour,)) for k, contour in enumerate(contours) if k not in done]


def _groups(contours: Sequence[SolidContour]) -> list[tuple[int, ...]]:
    """Outlines that have an inside in both keys, each with its holes."""
    wide = [k for k, c in enumerate(contours) if c.closed and not any(map(is_flat, c.places))]
    if len(wide) < 2:
        return [(k,) for k in wide]
    rings = [shapely.polygons(as_points(contours[k].places[0])) for k in wide]
    return [tuple(wide[k] for k in group) for group in nested(rings)] or [(k,) for k in wide]


def _meshed(group: tuple[int, ...], contours: Sequence[SolidContour]) -> list[Region]:
    """A group of contours on a mesh, or each on its own where holes do not go along with their outline."""
    own = tuple(contours[k] for k in group)
    lengths = np.array([contour.length for contour in own])
    counts = np.maximum(PLACES * lengths / lengths.sum(), FEWEST).astype(int).tolist()
    marks = tuple(Marks.even(contour, count) for contour, count in zip(own, counts, strict=True))
    mesh = meshed([part.ring for part in marks])
    if len(group) > 1 and (mesh is None or mesh.lost > TORN):
        return [region for k in group for region in _meshed((k,), contours)]
    return [Region(group, own, mesh, marks)] if mesh is not None else []
