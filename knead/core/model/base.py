"""What all models share: frozen, closed to unknown fields, finite numbers only."""

from collections.abc import Mapping
from typing import Annotated, Any, NamedTuple, Self
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

Coordinate = Annotated[float, Field(ge=-1e6, le=1e6)]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


class Model(BaseModel):
    """A frozen value. Unknown fields, NaN and infinity are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy; what was worked out from the old fields and kept (a hash) does not go along."""
        copy = super().model_copy(update=update, deep=deep)
        for name in copy.__dict__.keys() - type(copy).model_fields.keys():
            del copy.__dict__[name]
        return copy


def new_id() -> str:
    """A fresh identity for a shape, node, key, layer or hint (12 hexadecimal digits)."""
    return uuid4().hex[:12]


class Point(NamedTuple):
    """A place on the paper, in scene units; y grows downwards."""

    x: Coordinate
    y: Coordinate
