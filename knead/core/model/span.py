"""What happens between a key and the next: pairs, hints, blend and pace."""

from typing import Annotated, Literal

from pydantic import Field

from knead.core.model.base import Model, Name, Point, new_id

Blend = Literal["auto", "direct", "arc", "solid"]
Lean = Annotated[float, Field(ge=-1.0, le=1.0)]


class HintEnd(Model):
    """One end of a hint: a point on a shape's outline. With a node id it follows that node when the key is edited."""

    shape: str
    at: Point
    node: str | None = None


class Hint(Model):
    """A point on the first outline tied to a point on the second."""

    id: str = Field(default_factory=new_id)
    name: Name = "hint"
    first: HintEnd
    second: HintEnd


class PairChoice(Model):
    """A pair fixed by hand. With one side None the other side's shape is to vanish (or appear)."""

    first: str | None
    second: str | None


class Ease(Model):
    """How a span is eased: gentleness of leaving the first key (`out`) and of arriving at the second (`into`).

    Each from -1 (abrupt) over 0 (even) to 1 (slow).
    """

    out: Lean = 0.0
    into: Lean = 0.0


class Take(Model):
    """One whole set of a span's settings."""

    pairs: tuple[PairChoice, ...] = ()
    hints: tuple[Hint, ...] = ()
    blend: Blend = "auto"
    ease: Ease = Ease()


class Span(Model):
    """From a key to the next on its layer: it holds the first drawing, or in-betweens the two."""

    inbetween: bool = False
    take: Take = Take()
