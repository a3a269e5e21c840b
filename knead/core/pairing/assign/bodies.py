"""What is in a body that bends is expected where the body takes it: the stripes of a snake keep their order."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.inside import mean_values
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.outline.correspondence import run
from knead.core.outline.matching import match
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.constellation import to_next
from knead.core.pairing.assign.likeness import Form, centres, extent
from knead.core.pairing.assign.rounds import KEPT, Rows, lean, price_of_place

SEEN = np.arange(128) / 128  # places of an outline by which it takes along what is in it
FEWEST = 2  # so many must be in it in both keys: one alone goes with it in any case
BENDS = 0.1  # what strays less from a mere turn, by its size, does not bend: its motion is known
ANEW = 0.1  # what is distorted by more tells nothing of what is in it,
TELLING, FITS = 3, 0.25  # but if so many come to lie where others do, so near by how far off the next does


def in_bodies(
    shapes: tuple[Sequence[Shape | None], Sequence[Shape | None]],
    forms: tuple[Sequence[Form], Sequence[Form]],
    unlike: Floats,
    found: Rows,
    alone: float,
    tied: NDArray[np.bool_],
) -> Rows:
    """The assignment found anew with the places that bodies that bend make one expect of what is in them.

    `shapes` are those of both keys that may be bodies, one for each form; None of what may not.
    """
    cost = found.cost.copy()
    for i, j in sorted(found.mates, key=lambda mate: -forms[0][mate[0]].size):  # of several, the innermost tells
        one, two = shapes[0][i], shapes[1][j]
        if one is None or two is None:
            continue
        outlines = track_of(one.contours[0]), track_of(two.contours[0])
        rows, columns = (_inside(*side) for side in zip(outlines, forms, (i, j), strict=True))
        body = _body_of(*outlines) if min(len(rows), len(columns)) >= FEWEST else None
        if body is None or not body.bends:
            continue
        firsts, seconds = [forms[0][k] for k in rows], [forms[1][k] for k in columns]
        there, turns = body.takes(centres(firsts))
        far = np.abs(there[:, None] - centres(seconds)) / max(extent(forms[1]), 1e-9)
        part = np.ix_(rows, columns)
        costs = unlike[part] + price_of_place(far) + lean(firsts, seconds, turns[:, None])
        if body.distorts and not _fits(there, centres(seconds), *cheapest(costs, alone)):
            continue
        cost[part] = costs
    if np.array_equal(cost, found.cost):
        return found
    return Rows(*cheapest(cost - KEPT * tied, alone), cost, found.turn)


@dataclass(frozen=True)
class _Body:
    """What becomes what, by places (n,) along its outline at both keys."""

    first: Complexes
    second: Complexes
    distorts: bool  # whether it is distorted by so much that it may become something else in another way

    @property
    def bends(self) -> bool:
        """Whether its outline ends plainly off where a mere turn takes it."""
        a, b = similarity.fit(self.first, self.second)
        gaps = np.abs(a * self.first + b - self.second)
        return float(np.sqrt(np.mean(gaps**2))) > BENDS * float(np.std(self.second))

    def takes(self, places: Complexes) -> tuple[Complexes, Floats]:
        """Where it takes places (k,) that are in it, and how far it turns there, in radians."""
        weights = mean_values(self.first, places)
        turns = [similarity.fit(self.first, self.second, np.maximum(row, 0.0))[0] for row in weights]
        return np.asarray(weights @ self.second, dtype=complex), np.angle(turns)


def _body_of(one: Track, two: Track) -> _Body:
    """How a closed outline becomes another."""
    way = match(one, two)
    shares = way.first[0] + SEEN
    there = np.interp(shares, way.first, way.second)
    places = one.sketch(np.mod(shares, 1.0)), run(two, way.reversed).sketch(np.mod(there, 1.0))
    return _Body(*places, way.strain.distortion > ANEW)


def _fits(here: Complexes, there: Complexes, rows: Ints, columns: Ints) -> bool:
    """Whether enough places of both keys become each other, and each lies near the other."""
    if len(rows) < TELLING:
        return False
    return bool((np.abs(here[rows] - there[columns]) < FITS * to_next(there)[columns]).all())


def _inside(outline: Track, forms: Sequence[Form], own: int) -> Ints:
    """Which forms but its own have their centres in an outline."""
    places = centres(forms)
    inside = shapely.contains_xy(_ring(outline), places.real, places.imag)
    return np.array([k for k in np.flatnonzero(inside).tolist() if k != own], dtype=np.int64)


@lru_cache(maxsize=256)  # it is asked for each way in which lines may be cut
def _ring(outline: Track) -> shapely.Geometry:
    ring = shapely.Polygon(as_points(outline.sketch(SEEN)))
    shapely.prepare(ring)
    return ring
