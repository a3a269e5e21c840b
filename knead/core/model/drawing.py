"""Drawings: shapes in stacking order, made of contours of cubic Béziers."""

import hashlib
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field

from knead.core.model.base import Model, Name, Point, new_id
from knead.core.model.style import Fill, Share, Stroke


class Node(Model):
    """A node of a contour with its two handles, all in scene units (handles are absolute, not relative)."""

    id: str = Field(default_factory=new_id)
    at: Point
    before: Point
    after: Point
    kind: Literal["corner", "smooth"] = "corner"
    weight: Annotated[float, Field(ge=0.0, le=16.0)] = 1.0
    """Stroke width here, as a factor of the stroke's own width: pen pressure is kept in it."""


class Contour(Model):
    """One open or closed path: a cubic Bézier from each node to the next (and back to the first if closed)."""

    nodes: Annotated[tuple[Node, ...], Field(min_length=1)]
    closed: bool = False


class Shape(Model):
    """One stroke, one fill, or both on the same outline. In a fill, contours inside others are holes."""

    id: str = Field(default_factory=new_id)
    name: Name = "shape"
    part: Name | None = None
    contours: Annotated[tuple[Contour, ...], Field(min_length=1)]
    stroke: Stroke | None = None
    fill: Fill | None = None
    opacity: Share = 1.0


class Drawing(Model):
    """Shapes from back to front. Immutable: an edit makes a new one."""

    shapes: tuple[Shape, ...] = ()

    @cached_property
    def hash(self) -> str:
        """Identity by content: SHA-256 of the canonical JSON, which leaves out what is as it is by default."""
        return hashlib.sha256(self.model_dump_json(exclude_defaults=True).encode()).hexdigest()

    def shape(self, shape_id: str) -> Shape | None:
        """The shape with this id, or None."""
        return next((shape for shape in self.shapes if shape.id == shape_id), None)
