"""How a shape is painted."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from knead.core.model.base import Model, Point

LONGEST_DASH, FARTHEST_DASH = 1e5, 1e6  # scene units: how long one may be, and how far off the first may begin
Share = Annotated[float, Field(ge=0.0, le=1.0)]
Color = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class Stop(Model):
    """A colour at a share of a gradient's way."""

    at: Share
    color: Color
    opacity: Share = 1.0
    swatch: str | None = None


class Gradient(Model):
    """Colours along a line from `start` to `end`, or around `start` as far as `end`, in scene units.

    A radial one is an ellipse: across the line from start to end it reaches `squash` times as far; the colours begin
    at `focus` (at `start` where that is None). Beyond both ends the outer colours go on.
    """

    kind: Literal["linear", "radial"]
    start: Point
    end: Point
    squash: Annotated[float, Field(gt=0.0, le=1000.0)] = 1.0
    focus: Point | None = None
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=64)]

    @model_validator(mode="after")
    def _stops_rise(self) -> Self:
        places = [stop.at for stop in self.stops]
        if places != sorted(places):
            raise ValueError("the stops of a gradient must stand at rising places")
        return self


class Paint(Model):
    """One even colour, or a gradient; `color` is then the one that stands for it where only one can be shown.

    A `swatch` is the colour of the scene's palette that it follows.
    """

    color: Color = "#2b2927"
    opacity: Share = 1.0
    gradient: Gradient | None = None
    swatch: str | None = None


class Stroke(Model):
    """A drawn line: its paint, width in scene units, how it ends and bends, its dashes, and how much of it is there.

    `dashes` are lengths of dash, gap, dash, ... in scene units; none is a solid line. `reveal` are the shares of the
    length between which it is drawn.
    """

    paint: Paint = Paint()
    width: Annotated[float, Field(ge=0.0)] = 3.0
    cap: Literal["butt", "round", "square"] = "round"
    join: Literal["miter", "round", "bevel"] = "round"
    miter_limit: Annotated[float, Field(ge=1.0)] = 4.0
    dashes: Annotated[tuple[Annotated[float, Field(ge=0.0, le=LONGEST_DASH)], ...], Field(max_length=16)] = ()
    dash_offset: Annotated[float, Field(ge=-FARTHEST_DASH, le=FARTHEST_DASH)] = 0.0
    reveal: tuple[Share, Share] = (0.0, 1.0)


class Fill(Model):
    """A painted area; `rule` says which contours inside others are holes."""

    paint: Paint = Paint()
    rule: Literal["nonzero", "evenodd"] = "nonzero"
