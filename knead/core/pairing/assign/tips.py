"""Lines that end on fills go where these go: a string stays on its balloon, and a stem on its flower."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Self

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, Ints
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.assign.belonging import Paint
from knead.core.pairing.chains import Chain

AROUND = np.linspace(0.0, 1.0, 65)
LARGER = 1.5  # how large a body is by what else its limbs end on
NEAR = 0.01  # how far off the edge of a fill a line ends at most, by the length of that


@dataclass(frozen=True)
class Grounds:
    """The closed fills of a key, on which lines may end; `rings` reach as far beyond their edges as is `near`."""

    names: tuple[str, ...]
    rings: NDArray[np.object_]
    near: Floats

    @cached_property
    def tree(self) -> shapely.STRtree:
        """The rings, to be asked what is on them."""
        return shapely.STRtree(self.rings)

    @classmethod
    def of(cls, shapes: Sequence[Shape]) -> Self:
        """Those of a drawing's shapes that are filled and go round."""
        fills = [shape for shape in shapes if shape.fill is not None and shape.contours[0].closed]
        tracks = [track_of(shape.contours[0]) for shape in fills]
        near = NEAR * np.array([track.length for track in tracks])
        rings = np.array([shapely.Polygon(as_points(track.sketch(AROUND))) for track in tracks], dtype=object)
        return cls(tuple(shape.id for shape in fills), shapely.buffer(rings, near), near)

    def under(self, lines: Sequence[Chain]) -> NDArray[np.bool_]:
        """On which fills open lines end with either end, or near their edge, shape (lines, 2, fills)."""
        spots, fills = self.tree.query(shapely.points(_ends_of(lines).reshape(-1, 2)), predicate="intersects")
        on = np.zeros((2 * len(lines), len(self.names)), dtype=bool)
        on[spots, fills] = np.array([_is_open(line) for line in lines])[spots // 2]
        return on.reshape(len(lines), 2, -1)

    def apart(self, lines: Sequence[Chain], on: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which lines end on which fills where others do, but not where these do, (lines, fills): arms on a body.

        That is larger than what else they end on: one balloon before another is no body.
        """
        ends = as_complex(_ends_of(lines)).ravel()
        of, found = np.arange(len(ends)) // 2, np.zeros((len(lines), len(self.names)), dtype=bool)
        for fill in np.flatnonzero(on.any(axis=1).sum(axis=0) > 1):
            there = np.flatnonzero(on[:, :, fill].ravel())
            gaps = np.abs(ends[there][:, None] - ends[there])
            gaps[of[there][:, None] == of[there]] = np.inf
            found[of[there[gaps.min(axis=1) > self.near[fill]]], fill] = True
        areas = np.where(on.any(axis=1), shapely.area(self.rings), 0.0)
        others = np.where(np.eye(len(self.names), dtype=bool), 0.0, areas[:, None]).max(axis=2)
        return np.asarray(found & (areas > LARGER * others))


@dataclass(frozen=True)
class Tips:
    """The fills of two keys, and which of them become each other."""

    one: Grounds
    two: Grounds
    fills: Collection[tuple[str, str]]

    def stray(self, one: Sequence[Chain], two: Sequence[Chain]) -> NDArray[np.bool_]:
        """Which lines end on other fills than another of their paint does, which ends where it should; shape (n, m).

        Where limbs are on a body tells more than what is at their ends: a ball goes from hand to hand.
        """
        if not (self.one.names and self.two.names and self.fills and one and two):
            return np.zeros((len(one), len(two)), dtype=bool)
        becomes = self._becomes
        on = self.one.under(one), self.two.under(two)
        shared = on[0].any(axis=1) @ becomes @ on[1].any(axis=1).T
        looks: dict[Paint, int] = {}
        paints = [np.array([looks.setdefault(_paint(line), len(looks)) for line in side]) for side in (one, two)]
        known = np.where(paints[0][:, None] == paints[1], shared, 0)
        strays = (shared < known.max(axis=1, keepdims=True)) | (shared < known.max(axis=0))
        here, there = self.one.apart(one, on[0]), self.two.apart(two, on[1])
        limbs = (here @ becomes)[:, there.any(axis=0)].any(axis=1), (there @ becomes.T)[:, here.any(axis=0)].any(axis=1)
        return np.asarray(strays & ~np.logical_or.outer(*limbs))

    @cached_property
    def _becomes(self) -> Ints:
        """Which fills become each other, 1 or 0, shape (fills, fills)."""
        here, there = ({name: k for k, name in enumerate(side.names)} for side in (self.one, self.two))
        found = np.zeros((len(here), len(there)), dtype=int)
        for a, b in self.fills:
            if a in here and b in there:
                found[here[a], there[b]] = 1
        return found


def _is_open(line: Chain) -> bool:
    lead = line.lead
    return lead.fill is None and len(lead.contours) == 1 and not lead.contours[0].closed


def _ends_of(lines: Sequence[Chain]) -> Floats:
    """Where lines begin and end, shape (lines, 2, 2); what is none has ends as well, that mean nothing."""
    return np.array([_ends(line) for line in lines])


def _ends(line: Chain) -> list[tuple[float, float]]:
    begins, ends = line.links[0], line.links[-1]
    first, last = begins.shape.contours[0].nodes, ends.shape.contours[0].nodes
    return [first[-1 if begins.backwards else 0].at, last[0 if ends.backwards else -1].at]


def _paint(line: Chain) -> Paint:
    return line.lead.fill, line.lead.stroke
