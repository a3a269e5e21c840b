"""What all models share: frozen, closed to unknown fields, finite numbers only."""

from typing import Annotated, NamedTuple
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

Coordinate = Annotated[float, Field(ge=-1e6, le=1e6)]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


class Model(BaseModel):
    """A frozen value. Unknown fields, NaN and infinity are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


def new_id() -> str:
    """A fresh identity for a shape, node, key, layer or hint (12 hexadecimal digits)."""
    return uuid4().hex[:12]


class Point(NamedTuple):
    """A place on the paper, in scene units; y grows downwards."""

    x: Coordinate
    y: Coordinate
