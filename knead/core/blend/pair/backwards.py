"""A pair on its way back: what was planned from the second key, seen from the first."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from knead.core.blend.paint.paint import Looks, run_back
from knead.core.blend.pair.going import Going, Run
from knead.core.blend.pair.pieces import Piece
from knead.core.blend.travel.ways import Way
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.track import track_of
from knead.core.model import Point


@dataclass(frozen=True, eq=False, kw_only=True)
class Backwards(Going):
    """The way of a pair, gone `onward` from the second key to the first, the other way."""

    onward: Going

    @staticmethod
    def of(plan: Going) -> "Backwards":
        """The way back of a pair."""
        return Backwards(
            onward=plan,
            pair=plan.pair.backwards,
            paint=plan.paint.backwards,
            troubles=tuple(trouble.backwards for trouble in plan.troubles),
            identity=plan.identity,
            pieces=_pieces(plan),
            loosened=plan.loosened,
        )

    @property
    def runs(self) -> tuple[Run, ...]:
        """Its contours."""
        return tuple(run.backwards(turned) for run, turned in zip(self.onward.runs, self._turned, strict=True))

    @cached_property
    def _turned(self) -> list[bool]:
        """Which contours are run from their ends: lines as they are drawn; of a fill all, so that holes stay."""
        turned = [run.turned for run in self.onward.runs]
        is_filled = self.paint.first.fill is not None or self.paint.second.fill is not None
        return [any(turned)] * len(turned) if is_filled else turned

    @cached_property
    def _order(self) -> Ints:
        """The handles and nodes in the order in which they are run."""
        counts = 3 * np.cumsum([0, *(len(run.nodes) for run in self.onward.runs)])
        rows = zip(counts, counts[1:], self._turned, strict=False)
        return np.concatenate([np.arange(start, end)[:: -1 if turned else 1] for start, end, turned in rows])

    @property
    def first_points(self) -> Complexes:
        """All node triples at the first key, shape (nodes * 3,)."""
        return self.onward.second_points[self._order]

    @property
    def second_points(self) -> Complexes:
        """All node triples at the second key, shape (nodes * 3,)."""
        return self.onward.first_points[self._order]

    @property
    def middles(self) -> tuple[complex, complex]:
        """Where its middle is at both keys."""
        start, end = self.onward.middles
        return end, start

    @property
    def path(self) -> tuple[complex, complex] | None:
        """The handles of its drawn path of travel, each relative to its end, if it has one."""
        return self.onward.path and self.onward.path[::-1]

    @property
    def angle(self) -> float:
        """How far it turns, in radians."""
        return -self.onward.angle

    @property
    def turns(self) -> int:
        """How many of its whole rounds are wanted by hand."""
        return -self.onward.turns

    @property
    def hangs(self) -> bool:
        """Whether it goes with a neighbour, on which it hangs or rides."""
        return self.onward.hangs

    @property
    def is_ink(self) -> bool:
        """Whether it goes along the edge of a fill as the ink of that."""
        return self.onward.is_ink

    @property
    def laps(self) -> bool:
        """Whether it may cross itself."""
        return self.onward.laps

    @property
    def way(self) -> Way:
        """How its points travel."""
        return self.onward.way

    def reason_for(self, vanishes: bool) -> str:
        """Why it travels so, in words."""
        return self.onward.reason_for(vanishes)

    def places(self, times: Floats) -> Floats:
        """How far it has gone at each of the times, shape (len(times),)."""
        return np.asarray(1.0 - self.onward.places(1.0 - times))

    def points(self, times: Floats) -> Complexes:
        """Node triples at the times, shape (len(times), nodes * 3)."""
        return self.onward.points(1.0 - times)[:, self._order]

    def looks(self, times: Floats) -> list[Looks]:
        """Fill, stroke and opacity at the times."""
        found = self.onward.looks(1.0 - times)
        if not self.paint.turned:
            return found
        start, end = (track_of(key.contours[0]).length for key in (self.paint.first, self.paint.second))
        lengths = (start + self.places(times) * (end - start)).tolist()
        rows = zip(found, lengths, strict=True)
        return [(fill, stroke and run_back(stroke, length), opacity) for (fill, stroke, opacity), length in rows]

    def weights(self, times: Floats) -> Floats | None:
        """Width factors of the nodes at the times, shape (len(times), nodes); None where the width is even."""
        found = self.onward.weights(1.0 - times)
        return None if found is None else found[:, self._order[1::3] // 3]

    def away(self, point: Floats, from_first: bool) -> float:
        """How far a point is from what of a key's shape goes this way."""
        return self.onward.away(point, not from_first)

    def partner(self, point: Floats, from_first: bool) -> Point | None:
        """The point of the other key that a point on one key's outline becomes today."""
        return self.onward.partner(point, not from_first)


def _pieces(plan: Going) -> tuple[Piece, ...]:
    """The pieces of a line, which is run as the second key is."""
    if not plan.pieces:
        return ()
    line = plan.runs[0]
    found = tuple(piece.backwards for piece in plan.pieces)
    return tuple(piece.turned(len(line.nodes)) for piece in found) if line.turned else found
