"""Edits of the shapes in a key's drawing."""

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.sound import EditError, renewed
from knead.core.edit.work import Work
from knead.core.geometry.placing import placed
from knead.core.model import Drawing, Fill, Model, Name, Paint, Shape, Stroke, new_id
from knead.core.model.style import Share

Ids = Annotated[tuple[str, ...], Field(min_length=1)]
Finite = Annotated[float, Field(ge=-1e6, le=1e6)]


class AddShapes(Model):
    """Paste shapes in front. One whose id is already in the key gets a new one."""

    type: Literal["add_shapes"] = "add_shapes"
    key: str
    shapes: Annotated[tuple[Shape, ...], Field(min_length=1)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Paste"

    def apply(self, work: Work) -> Work:
        """Add the shapes."""
        there = work.drawing(self.key).shapes
        taken = {shape.id for shape in there}
        again = {shape.id for shape in self.shapes} & taken
        names = {name: new_id() for name in again}
        added = tuple(_along(renewed(s, names[s.id]) if s.id in again else s, names) for s in self.shapes)
        return with_shapes(work, self.key, (*there, *added))


class TransformShapes(Model):
    """Move, scale, turn or flip shapes by an affine map (a, b, c, d, e, f) as in SVG's matrix()."""

    type: Literal["transform_shapes"] = "transform_shapes"
    key: str
    shapes: Ids
    matrix: tuple[Finite, Finite, Finite, Finite, Finite, Finite]

    @property
    def label(self) -> str:
        """What undo calls it."""
        a, b, c, d, _, _ = self.matrix
        if (a, b, c, d) == (1.0, 0.0, 0.0, 1.0):
            return "Move"
        return (
            "Flip" if a * d - b * c < 0 else "Turn" if abs(a - d) < 1e-6 and abs(a * d - b * c - 1) < 1e-6 else "Scale"
        )

    def apply(self, work: Work) -> Work:
        """Transform the shapes."""
        a, b, c, d, e, f = self.matrix
        if abs(a * d - b * c) < 1e-9:
            raise EditError("This would flatten the shapes to a line.")
        matrix = np.array([[a, c, e], [b, d, f]])

        return changed(work, self.key, self.shapes, lambda shape: placed(shape, matrix))


class Restyle(Model):
    """Change paint of shapes; only the fields that are given change. None takes a fill or stroke away."""

    type: Literal["restyle"] = "restyle"
    key: str
    shapes: Ids
    fill: Fill | None = None
    stroke: Stroke | None = None
    opacity: Annotated[float, Field(ge=0.0, le=1.0)] = 1.0

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change paint"

    def apply(self, work: Work) -> Work:
        """Change the paint."""
        changes: dict[str, object] = {
            name: getattr(self, name) for name in ("fill", "stroke", "opacity") if name in self.model_fields_set
        }
        return changed(work, self.key, self.shapes, lambda shape: shape.model_copy(update=changes))


class Repaint(Model):
    """Change single properties of paint, each shape keeping its others; only the fields that are given change.

    A `fill` or `line` of None is taken away; a paint goes on the fill or line there is, or on a plain new one.
    """

    type: Literal["repaint"] = "repaint"
    key: str
    shapes: Ids
    fill: Paint | None = None
    line: Paint | None = None
    rule: Literal["nonzero", "evenodd"] | None = None
    width: Annotated[float, Field(gt=0.0, le=2000.0)] | None = None
    cap: Literal["butt", "round", "square"] | None = None
    join: Literal["miter", "round", "bevel"] | None = None
    miter_limit: Annotated[float, Field(ge=1.0, le=100.0)] | None = None
    dashes: Annotated[tuple[Annotated[float, Field(ge=0.0, le=1e5)], ...], Field(max_length=16)] | None = None
    dash_offset: Annotated[float, Field(ge=-1e6, le=1e6)] | None = None
    reveal: tuple[Share, Share] | None = None
    opacity: Share | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change paint"

    def apply(self, work: Work) -> Work:
        """Change what is given."""
        return changed(work, self.key, self.shapes, self._repainted)

    def _repainted(self, shape: Shape) -> Shape:
        fill, stroke = shape.fill, shape.stroke
        if "fill" in self.model_fields_set:
            fill = None if self.fill is None else (fill or Fill()).model_copy(update={"paint": self.fill})
        if "line" in self.model_fields_set:
            stroke = None if self.line is None else (stroke or Stroke()).model_copy(update={"paint": self.line})
        if fill is not None and self.rule is not None:
            fill = fill.model_copy(update={"rule": self.rule})
        names = ("width", "cap", "join", "miter_limit", "dashes", "dash_offset", "reveal")
        given = {name: value for name in names if (value := getattr(self, name)) is not None}
        if stroke is not None and given:
            stroke = stroke.model_copy(update=given)
        opacity = shape.opacity if self.opacity is None else self.opacity
        return shape.model_copy(update={"fill": fill, "stroke": stroke, "opacity": opacity})


class PlaceInStack(Model):
    """Put shapes right in front of another one, or at the very back."""

    type: Literal["place_in_stack"] = "place_in_stack"
    key: str
    shapes: Ids
    over: str | None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change the stacking order"

    def apply(self, work: Work) -> Work:
        """Reorder; among each other they stay in order."""
        shapes = work.drawing(self.key).shapes
        chosen = tuple(s for s in shapes if s.id in self.shapes)
        others = [s for s in shapes if s.id not in self.shapes]
        if self.over is None:
            return with_shapes(work, self.key, (*chosen, *others))
        work.shape(self.key, self.over)
        if self.over in self.shapes:
            return work
        index = next(k for k, s in enumerate(others) if s.id == self.over) + 1
        return with_shapes(work, self.key, (*others[:index], *chosen, *others[index:]))


class Restack(Model):
    """Move shapes in the stacking order."""

    type: Literal["restack"] = "restack"
    key: str
    shapes: Ids
    to: Literal["front", "back", "forward", "backward"]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return {
            "front": "Bring to front",
            "back": "Send to back",
            "forward": "Bring forward",
            "backward": "Send backward",
        }[self.to]

    def apply(self, work: Work) -> Work:
        """Change the order."""
        shapes = list(work.drawing(self.key).shapes)
        chosen = [s for s in shapes if s.id in self.shapes]
        others = [s for s in shapes if s.id not in self.shapes]
        if self.to in ("front", "back"):
            order = [*others, *chosen] if self.to == "front" else [*chosen, *others]
        else:
            order = shapes[::-1] if self.to == "forward" else shapes
            for k in range(1, len(order)):
                if order[k].id in self.shapes and order[k - 1].id not in self.shapes:
                    order[k - 1], order[k] = order[k], order[k - 1]
            order = order[::-1] if self.to == "forward" else order
        return with_shapes(work, self.key, tuple(order))


class RemoveShapes(Model):
    """Take shapes off a key."""

    type: Literal["remove_shapes"] = "remove_shapes"
    key: str
    shapes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Delete shapes" if len(self.shapes) > 1 else "Delete a shape"

    def apply(self, work: Work) -> Work:
        """Remove the shapes."""
        kept = tuple(s for s in work.drawing(self.key).shapes if s.id not in self.shapes)
        return with_shapes(work, self.key, kept)


class RenameShape(Model):
    """Name a shape."""

    type: Literal["rename_shape"] = "rename_shape"
    key: str
    shape: str
    name: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Rename a shape"

    def apply(self, work: Work) -> Work:
        """Set the name."""
        return changed(work, self.key, (self.shape,), lambda s: s.model_copy(update={"name": self.name}))


def _along(shape: Shape, names: dict[str, str]) -> Shape:
    """A poured fill that was copied with its lines follows the copies."""
    if not any(bound.shape in names for contour in shape.contours for bound in contour.bounds):
        return shape
    contours = (
        c.model_copy(
            update={"bounds": tuple(b.model_copy(update={"shape": names.get(b.shape, b.shape)}) for b in c.bounds)}
        )
        for c in shape.contours
    )
    return shape.model_copy(update={"contours": tuple(contours)})


def with_shapes(work: Work, key: str, shapes: tuple[Shape, ...]) -> Work:
    return work.with_drawing(key, Drawing(shapes=shapes))


def changed(work: Work, key: str, ids: tuple[str, ...], change: Callable[[Shape], Shape]) -> Work:
    for shape_id in ids:
        work.shape(key, shape_id)
    shapes = tuple(change(s) if s.id in ids else s for s in work.drawing(key).shapes)
    return with_shapes(work, key, shapes)
