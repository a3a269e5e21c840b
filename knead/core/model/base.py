"""What all models share: frozen, closed to unknown fields, finite numbers only."""

from typing import Annotated
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, StringConstraints

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


class Model(BaseModel):
    """A frozen value. Unknown fields, NaN and infinity are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


def new_id() -> str:
    """A fresh identity for a shape, node, key, layer or hint (12 hexadecimal digits)."""
    return uuid4().hex[:12]
