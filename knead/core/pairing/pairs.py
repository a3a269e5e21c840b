"""What pairing finds: shapes that become each other, strokes that do as parts of a line, pieces of a shape."""

from dataclasses import dataclass, field
from typing import Literal

from knead.core.model import Shape
from knead.core.pairing.chains import Chain

Kind = Literal["pair", "recut", "joins", "divides"]


@dataclass(frozen=True)
class Stand:
    """What stands in for a key's shape: several strokes as one line, or a piece of a shape.

    `shapes` are the ids of what it is made of, `starts` the indices of the nodes of its (first) contour at which each
    begins, and of the last node.
    """

    form: Shape
    shapes: tuple[str, ...]
    starts: tuple[int, ...] = ()


@dataclass(frozen=True)
class ShapePair:
    """A pair by shape ids; one side is None where a shape appears or vanishes.

    Where strokes were cut differently in the two keys, or one shape divides into several, a stand takes the place of
    a key's shape; `first` and `second` are then the ids of its first.
    """

    first: str | None
    second: str | None
    confidence: float
    reason: str
    kind: Kind = "pair"
    first_stand: Stand | None = field(default=None, compare=False)
    second_stand: Stand | None = field(default=None, compare=False)

    @property
    def firsts(self) -> tuple[str, ...]:
        """All shapes of the first key that it is made of."""
        return _ids(self.first, self.first_stand)

    @property
    def seconds(self) -> tuple[str, ...]:
        """All shapes of the second key that it is made of."""
        return _ids(self.second, self.second_stand)


def _ids(own: str | None, stand: Stand | None) -> tuple[str, ...]:
    if stand is not None:
        return stand.shapes
    return () if own is None else (own,)


def chained_pair(first: Chain, second: Chain, confidence: float, reason: str) -> ShapePair:
    """The pair of two chains: a plain one if both are single strokes."""
    if len(first.links) == len(second.links) == 1:
        return ShapePair(first.lead.id, second.lead.id, confidence, reason)
    counts = f"{_strokes(len(first.links))} of the first key and {len(second.links)} of the second are one line"
    stands = [Stand(whole, chain.ids, tuple(starts)) for chain in (first, second) for whole, starts in [chain.whole()]]
    return ShapePair(first.lead.id, second.lead.id, confidence, f"{counts}; {reason}", "recut", *stands)


def _strokes(count: int) -> str:
    return "1 stroke" if count == 1 else f"{count} strokes"
