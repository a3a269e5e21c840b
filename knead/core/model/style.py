"""How a shape is painted."""

from typing import Annotated, Literal

from pydantic import Field

from knead.core.model.base import Model

Share = Annotated[float, Field(ge=0.0, le=1.0)]


class Paint(Model):
    """One even colour."""

    color: Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")] = "#2b2927"
    opacity: Share = 1.0


class Stroke(Model):
    """A drawn line: its paint, width in scene units, and how it ends and bends."""

    paint: Paint = Paint()
    width: Annotated[float, Field(ge=0.0)] = 3.0
    cap: Literal["butt", "round", "square"] = "round"
    join: Literal["miter", "round", "bevel"] = "round"
    miter_limit: Annotated[float, Field(ge=1.0)] = 4.0


class Fill(Model):
    """A painted area; `rule` says which contours inside others are holes."""

    paint: Paint = Paint()
    rule: Literal["nonzero", "evenodd"] = "nonzero"
