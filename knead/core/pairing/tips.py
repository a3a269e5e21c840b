"""Lines that end on fills go where these go: a string stays on its balloon, and a stem on its flower."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Self

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.belonging import Paint
from knead.core.pairing.chains import Chain

AROUND = np.linspace(0.0, 1.0, 65)
LARGER = 1.5  # how large a body is by what else its limbs end on
NEAR = 0.01  # how far off the edge of a fill a line ends at most, by the length of that


@dataclass(frozen=True)
class Grounds:
    """The closed fills of a key, on which lines may end."""

    names: tuple[str, ...]
    rings: NDArray[np.object_]
    near: Floats

    @classmethod
    def of(cls, shapes: Sequence[Shape]) -> Self:
        """Those of a drawing's shapes that are filled and go round."""
        fills = [shape for shape in shapes if shape.fill is not None and shape.contours[0].closed]
        tracks = [track_of(shape.contours[0]) for shape in fills]
        rings = np.array([shapely.Polygon(as_points(track.sketch(AROUND))) for track in tracks], dtype=object)
        shapely.prepare(rings)
        return cls(tuple(shape.id for shape in fills), rings, NEAR * np.array([track.length for track in tracks]))

    def under(self, lines: Sequence[Chain]) -> NDArray[np.bool_]:
        """On which fills open lines end with either end, or near their edge, shape (lines, 2, fills)."""
        spots = shapely.points(np.array([_ends(line) for line in lines]).reshape(-1, 1, 2))
        on = shapely.dwithin(self.rings[None], spots, self.near).reshape(len(lines), 2, -1)
        return np.asarray(on & np.array([_is_open(line) for line in lines], dtype=bool)[:, None, None])

    def apart(self, lines: Sequence[Chain], on: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which lines end on which fills where others do, but not where these do, (lines, fills): arms on a body.

        That is larger than what else they end on: one balloon before another is no body.
        """
        ends = as_complex(np.array([_ends(line) for line in lines])).ravel()
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
        becomes = np.array([[(a, b) in self.fills for b in self.two.names] for a in self.one.names], dtype=int)
        on = self.one.under(one), self.two.under(two)
        shared = on[0].any(axis=1) @ becomes @ on[1].any(axis=1).T
        paints = np.array([[_paint(a) == _paint(b) for b in two] for a in one])
        known = np.where(paints, shared, 0)
        strays = (shared < known.max(axis=1, keepdims=True)) | (shared < known.max(axis=0))
        here, there = self.one.apart(one, on[0]), self.two.apart(two, on[1])
        limbs = (here @ becomes)[:, there.any(axis=0)].any(axis=1), (there @ becomes.T)[:, here.any(axis=0)].any(axis=1)
        return np.asarray(strays & ~np.logical_or.outer(*limbs))


def _is_open(line: Chain) -> bool:
    lead = line.lead
    return lead.fill is None and len(lead.contours) == 1 and not lead.contours[0].closed


def _ends(line: Chain) -> list[tuple[float, float]]:
    """Where a line begins and ends; what is none has ends as well, that mean nothing."""
    begins, ends = line.links[0], line.links[-1]
    first, last = begins.shape.contours[0].nodes, ends.shape.contours[0].nodes
    return [first[-1 if begins.backwards else 0].at, last[0 if ends.backwards else -1].at]


def _paint(line: Chain) -> Paint:
    return line.lead.fill, line.lead.stroke
