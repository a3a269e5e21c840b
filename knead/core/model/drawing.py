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
    kind: Literal["corner", "smooth", "symmetric"] = "corner"
    weight: Annotated[float, Field(ge=0.0, le=16.0)] = 1.0
    """Stroke width here, as a factor of the stroke's own width: pen pressure is kept in it."""


class Stretch(Model):
    """A stretch of another shape's contour, between two shares of its length; it runs backwards if `end` is less.

    On a closed contour shares go on round: 0.9 to 1.2 passes its first node.
    """

    shape: str
    contour: Annotated[int, Field(ge=0)] = 0
    start: Annotated[float, Field(ge=-2.0, le=2.0)]
    end: Annotated[float, Field(ge=-2.0, le=2.0)]


class Contour(Model):
    """One open or closed path: a cubic Bézier from each node to the next (and back to the first if closed)."""

    nodes: Annotated[tuple[Node, ...], Field(min_length=1)]
    closed: bool = False
    bounds: tuple[Stretch, ...] = ()
    """The lines that a poured outline follows, in order round it; none if it is free."""

    @cached_property
    def hashed(self) -> int:
        """Its hash: what is known of a contour is asked for again and again, and its nodes are many."""
        return hash((self.nodes, self.closed, self.bounds))

    def __hash__(self) -> int:
        return self.hashed


class Shape(Model):
    """One stroke, one fill, or both on the same outline. In a fill, contours inside others are holes."""

    id: str = Field(default_factory=new_id)
    name: Name = "shape"
    part: Name | None = None
    """The named group it belongs to; a slash parts a group from the one inside it: "head/left eye"."""
    contours: Annotated[tuple[Contour, ...], Field(min_length=1)]
    stroke: Stroke | None = None
    fill: Fill | None = None
    opacity: Share = 1.0

    @cached_property
    def hash(self) -> str:
        """Identity by content: SHA-256 of the canonical JSON, which leaves out what is as it is by default."""
        return hashlib.sha256(self.model_dump_json(exclude_defaults=True).encode()).hexdigest()

    @property
    def parts(self) -> list[str]:
        """The names of the parts it is in, outermost first."""
        return self.part.split("/") if self.part else []

    @cached_property
    def node_ids(self) -> tuple[str, ...]:
        """The ids of all its nodes."""
        return tuple(node.id for contour in self.contours for node in contour.nodes)


class Drawing(Model):
    """Shapes from back to front. Immutable: an edit makes a new one."""

    shapes: tuple[Shape, ...] = ()

    @cached_property
    def hash(self) -> str:
        """Identity by content: SHA-256 of its shapes' hashes, so that an edit costs what it changed."""
        return hashlib.sha256("\n".join(shape.hash for shape in self.shapes).encode()).hexdigest()

    def shape(self, shape_id: str) -> Shape | None:
        """The shape with this id, or None."""
        return next((shape for shape in self.shapes if shape.id == shape_id), None)
