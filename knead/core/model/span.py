"""What happens between a key and the next: pairs, hints, blend and pace."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from knead.core.model.base import Model, Name, Point, new_id
from knead.core.model.style import Share

Blend = Literal["auto", "direct", "arc", "solid"]
FINEST, COARSEST = 0.05, 20.0  # scene units
Tolerance = Annotated[float, Field(ge=FINEST, le=COARSEST)]
LOWEST, HIGHEST = -0.5, 1.5  # where an in-between may stand on a timing chart
Tick = Annotated[float, Field(ge=LOWEST, le=HIGHEST)]
Frames = Annotated[int, Field(ge=1, le=4)]
Beyond = Annotated[float, Field(ge=0.0, le=0.5)]
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

    @property
    def backwards(self) -> "Hint":
        """The same for the way from the second key to the first."""
        return self.model_copy(update={"first": self.second, "second": self.first})


class PairChoice(Model):
    """A pair fixed by hand. With one side None the other side's shape is to vanish (or appear)."""

    first: str | None
    second: str | None

    @property
    def backwards(self) -> "PairChoice":
        """The same for the way from the second key to the first."""
        return PairChoice(first=self.second, second=self.first)


class Ease(Model):
    """How a span is eased: gentleness of leaving the first key (`out`) and of arriving at the second (`into`).

    Each from -1 (abrupt) over 0 (even) to 1 (slow). It may first go backwards in anticipation, and it may overshoot the
    second key and settle: by these shares of the whole way.
    """

    out: Lean = 0.0
    into: Lean = 0.0
    anticipation: Beyond = 0.0
    overshoot: Beyond = 0.0

    @property
    def backwards(self) -> "Ease":
        """The same for the way from the second key to the first."""
        return Ease(out=self.into, into=self.out, anticipation=self.overshoot, overshoot=self.anticipation)


class PairTravel(Model):
    """How and when one pair goes where that differs from the span's; what is None is as for the span.

    `turns` are whole rounds more, clockwise on screen if positive. `path` are the handles of a cubic Bézier from the
    pair's middle at the first key to that at the second, each relative to its end; it overrides the way of the middle.
    `start` and `end` are the shares of the span between which it goes; it stands still before and after. What appears
    or vanishes grows or shrinks between them, and goes along with its neighbour all the time. `ease` is its own, on top
    of the span's.
    """

    first: str | None
    second: str | None
    blend: Blend | None = None
    turns: Annotated[int, Field(ge=-8, le=8)] = 0
    path: tuple[Point, Point] | None = None
    start: Share = 0.0
    end: Share = 1.0
    ease: Ease = Ease()

    @property
    def backwards(self) -> "PairTravel":
        """The same for the way from the second key to the first."""
        back = {"first": self.second, "second": self.first, "turns": -self.turns, "path": self.path and self.path[::-1]}
        time = {"start": 1.0 - self.end, "end": 1.0 - self.start, "ease": self.ease.backwards}
        return self.model_copy(update=back | time)  # which is sound: rounding may make it a hair short

    @model_validator(mode="after")
    def _takes_time(self) -> Self:
        if self.end - self.start < 0.01:
            raise ValueError("the end must come after the start")
        return self


class Take(Model):
    """One whole set of a span's settings."""

    name: Name = "take 1"
    note: Annotated[str, Field(max_length=2000)] = ""
    """Why it moves so, for whoever opens it next."""
    pairs: tuple[PairChoice, ...] = ()
    hints: tuple[Hint, ...] = ()
    travels: tuple[PairTravel, ...] = ()
    blend: Blend = "auto"
    ease: Ease = Ease()
    chart: Annotated[tuple[Tick, ...], Field(max_length=10_000)] = ()
    """The places of the in-betweens, at even times, as they were set by hand; none where they go by the ease."""
    exposure: Frames = 1
    """For how many frames each drawing is shown: on ones, on twos, on threes, on fours."""
    tolerance: Tolerance = 1.0
    """How closely, in scene units, in-betweens are fitted to the way of their outlines: little for a close-up."""

    @property
    def backwards(self) -> "Take":
        """Pairs, hints and travels for the way from the second key to the first; its pace stays."""
        turned = {name: tuple(each.backwards for each in getattr(self, name)) for name in ("pairs", "hints", "travels")}
        return self.model_copy(update=turned)

    def travel(self, first: str | None, second: str | None) -> PairTravel:
        """How a pair goes by hand; all as the span's where nothing is set for it."""
        own = (t for t in self.travels if (t.first, t.second) == (first, second))
        return next(own, PairTravel(first=first, second=second))

    def says_where(self, hint: Hint) -> bool:
        """Whether a hint says where a shape grows from, or shrinks to, which was left without a partner by hand."""
        return self.is_alone(hint.first.shape, True) != self.is_alone(hint.second.shape, False)

    def is_alone(self, shape: str, of_first: bool) -> bool:
        """Whether a shape of the first key, or else of the second, was left without a partner by hand."""
        sides = [(c.first, c.second) if of_first else (c.second, c.first) for c in self.pairs]
        partners = [other for own, other in sides if own == shape]
        return bool(partners) and not any(partners)


class Span(Model):
    """From a key to the next on its layer: it holds the first drawing, or in-betweens the two.

    It goes by the `take` that is in use; `others` are kept beside it.
    """

    inbetween: bool = False
    take: Take = Take()
    others: Annotated[tuple[Take, ...], Field(max_length=50)] = ()

    @model_validator(mode="after")
    def _names_differ(self) -> Self:
        names = [take.name for take in (self.take, *self.others)]
        if len(names) > len(set(names)):
            raise ValueError("the takes of a span must have names of their own")
        return self
