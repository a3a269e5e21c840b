"""A pair on its way as others see it, from whichever key it was planned."""

from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.paint.paint import Looks, PaintPlan
from knead.core.blend.pair.pieces import Piece
from knead.core.blend.travel.solid import outline_points
from knead.core.blend.travel.ways import Way
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.cover import area_of, line_along
from knead.core.model import Node, Point
from knead.core.outline.ties import HintTrouble
from knead.core.pairing.pairs import ShapePair

MOMENTS = np.linspace(0.1, 0.9, 5)  # at which the stacking order may change


@dataclass(frozen=True)
class Run:
    """One contour of a pair: its nodes as they are in both keys, and which contour of either shape it is.

    One is None where it opens from a point, or closes to one. That of the other key may be run from its end: it is
    `turned` then.
    """

    closed: bool
    nodes: tuple[tuple[Node | None, Node | None], ...]
    first_contour: int | None
    second_contour: int | None
    turned: bool

    @property
    def lasts(self) -> bool:
        """Whether it is in both keys."""
        return self.first_contour is not None and self.second_contour is not None

    def backwards(self, from_end: bool) -> "Run":
        """The same seen from the second key, perhaps run from its end."""
        nodes = tuple((b, a) for a, b in (self.nodes[::-1] if from_end else self.nodes))
        return replace(self, nodes=nodes, first_contour=self.second_contour, second_contour=self.first_contour)


@dataclass(frozen=True, eq=False, kw_only=True)
class Going(ABC):
    """A pair on its way, or one shape that appears or vanishes: a lone shape has one shape id of None.

    All its contours have one node structure, in the order of `runs`.
    """

    pair: ShapePair
    paint: PaintPlan
    troubles: tuple[HintTrouble, ...] = ()
    identity: str = ""
    """The id of its shape in in-betweens; of a line that was cut differently, that of the whole."""
    pieces: tuple[Piece, ...] = ()
    loosened: bool = False
    """Whether it does not go solidly, since it would cross itself."""

    @property
    @abstractmethod
    def runs(self) -> tuple[Run, ...]:
        """Its contours."""

    @property
    @abstractmethod
    def first_points(self) -> Complexes:
        """All node triples at the first key, shape (nodes * 3,)."""

    @property
    @abstractmethod
    def second_points(self) -> Complexes:
        """All node triples at the second key, shape (nodes * 3,)."""

    @property
    @abstractmethod
    def middles(self) -> tuple[complex, complex]:
        """Where its middle is at both keys."""

    @property
    @abstractmethod
    def path(self) -> tuple[complex, complex] | None:
        """The handles of its drawn path of travel, each relative to its end, if it has one."""

    @property
    @abstractmethod
    def angle(self) -> float:
        """How far it turns, in radians."""

    @property
    @abstractmethod
    def turns(self) -> int:
        """How many of its whole rounds are wanted by hand."""

    @property
    @abstractmethod
    def hangs(self) -> bool:
        """Whether it goes with a neighbour, on which it hangs or rides."""

    @property
    @abstractmethod
    def is_ink(self) -> bool:
        """Whether it goes along the edge of a fill as the ink of that."""

    @property
    @abstractmethod
    def laps(self) -> bool:
        """Whether it may cross itself: it folds over, as it is seen edge on, or goes along itself."""

    @property
    @abstractmethod
    def way(self) -> Way:
        """How its points travel: as chosen by hand, or mostly, by the evidence."""

    @abstractmethod
    def reason_for(self, vanishes: bool) -> str:
        """Why it travels so, in words; what is in one key alone `vanishes`, or else appears."""

    @abstractmethod
    def places(self, times: Floats) -> Floats:
        """How far it has gone at each of the times, shape (len(times),): it goes only during its own part of them."""

    @abstractmethod
    def points(self, times: Floats) -> Complexes:
        """Node triples at the times, shape (len(times), nodes * 3)."""

    @abstractmethod
    def looks(self, times: Floats) -> list[Looks]:
        """Fill, stroke and opacity at the times; a lone shape's stroke thins out with its size."""

    @abstractmethod
    def weights(self, times: Floats) -> Floats | None:
        """Width factors of the nodes at the times, shape (len(times), nodes); None where the width is even."""

    @abstractmethod
    def away(self, point: Floats, from_first: bool) -> float:
        """How far a point is from what of a key's shape goes this way."""

    @abstractmethod
    def partner(self, point: Floats, from_first: bool) -> Point | None:
        """The point of the other key that a point on one key's outline becomes today."""

    @property
    def first_id(self) -> str | None:
        """Id of the shape in the first key, None where it appears."""
        return self.pair.first

    @property
    def second_id(self) -> str | None:
        """Id of the shape in the second key, None where it vanishes."""
        return self.pair.second

    @property
    def way_reason(self) -> str:
        """Why it travels so, in words."""
        return self.reason_for(self.second_id is None)

    @property
    def first_centre(self) -> complex:
        """Mean of the nodes at the first key."""
        return complex(self.first_points.mean())

    @property
    def second_centre(self) -> complex:
        """Mean of the nodes at the second key."""
        return complex(self.second_points.mean())

    @property
    def is_whole(self) -> bool:
        """Whether it is in both keys."""
        return self.first_id is not None and self.second_id is not None

    def place(self, t: float) -> float:
        """How far it has gone at place t of the span."""
        return float(self.places(np.array([t]))[0])

    def is_there(self, t: float) -> bool:
        """Whether the shape exists at place t."""
        if self.is_whole:
            return True
        place = self.place(t)
        return not ((place <= 0.0 and self.first_id is None) or (place >= 1.0 and self.second_id is None))

    @property
    def plain(self) -> bool:
        """Whether its looks don't hang on its way: it is in both keys and has no gradients."""
        parts = [part for key in (self.paint.first, self.paint.second) for part in (key.fill, key.stroke) if part]
        return self.is_whole and all(part.paint.gradient is None for part in parts)

    @property
    def origins(self) -> list[tuple[str, str | None, str | None]]:
        """For each of its shapes in in-betweens: its id, and the shapes of the two keys that it is made of."""
        if self.pieces:
            return [(piece.identity, piece.first, piece.second) for piece in self.pieces]
        return [(self.identity, self.first_id, self.second_id)]

    @cached_property
    def cover(self) -> NDArray[np.object_]:
        """What it covers at each of the MOMENTS."""
        return self.covers(MOMENTS)

    def covers(self, times: Floats) -> NDArray[np.object_]:
        """What it covers at the times with its fill, or else its lines; geometries, shape (len(times),)."""
        rows, keys = self.outlines(self.points(times)), (self.paint.first, self.paint.second)
        if any(key.fill is not None for key in keys):
            rings = [row for row, run in zip(rows, self.runs, strict=True) if run.closed]
            return np.full(len(times), area_of(rings))
        width = max(key.stroke.width if key.stroke else 0.0 for key in keys)
        shut = [
            np.append(row, row[:, :1], axis=1) if run.closed else row for row, run in zip(rows, self.runs, strict=True)
        ]
        return np.asarray(shapely.union_all([line_along(row, width) for row in shut], axis=0))

    def outlines(self, rows: Complexes) -> list[Complexes]:
        """Points along each contour, shape (len(rows), points), for rows of node triples as `points` gives them."""
        cuts = np.cumsum([len(run.nodes) for run in self.runs])[:-1]
        parts = np.split(rows.reshape(len(rows), -1, 3), cuts, axis=1)
        return [outline_points(part, run.closed) for part, run in zip(parts, self.runs, strict=True)]
