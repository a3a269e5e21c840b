"""Edits of the shapes in a key's drawing."""

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.work import EditError, Work
from knead.core.geometry.bezier import contour_of
from knead.core.geometry.fit import fit_path
from knead.core.geometry.placing import placed
from knead.core.model import Contour, Drawing, Fill, Model, Name, Node, Point, Shape, Stroke, new_id

Ids = Annotated[tuple[str, ...], Field(min_length=1)]
CIRCLE = 0.5522847498  # handle length of a quarter circle, by its radius
Finite = Annotated[float, Field(ge=-1e6, le=1e6)]


class AddForm(Model):
    """Draw a box or an ellipse in a rectangle."""

    type: Literal["add_form"] = "add_form"
    key: str
    form: Literal["box", "ellipse"]
    x: Finite
    y: Finite
    width: Annotated[float, Field(gt=0.0, le=1e6)]
    height: Annotated[float, Field(gt=0.0, le=1e6)]
    stroke: Stroke | None = None
    fill: Fill | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Draw {'a box' if self.form == 'box' else 'an ellipse'}"

    def apply(self, work: Work) -> Work:
        """Add the form in front."""
        contour = _box(self) if self.form == "box" else _ellipse(self)
        shape = Shape(name=self.form, contours=(contour,), stroke=self.stroke, fill=self.fill)
        return with_shapes(work, self.key, (*work.drawing(self.key).shapes, shape))


class Sample(Model):
    """A pen sample: place and pressure."""

    x: Finite
    y: Finite
    pressure: Annotated[float, Field(ge=0.0, le=1.0)] = 0.5


class AddFreehand(Model):
    """Draw a line by hand; it is fitted to few nodes, the pen's pressure kept in them."""

    type: Literal["add_freehand"] = "add_freehand"
    key: str
    samples: Annotated[tuple[Sample, ...], Field(min_length=1, max_length=20_000)]
    tolerance: Annotated[float, Field(gt=0.0, le=100.0)] = 2.0
    stroke: Stroke | None = None
    fill: Fill | None = None
    closed: bool = False

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Draw a line"

    def apply(self, work: Work) -> Work:
        """Add the line in front."""
        shape = Shape(name="line", contours=(self._contour(),), stroke=self.stroke, fill=self.fill)
        return with_shapes(work, self.key, (*work.drawing(self.key).shapes, shape))

    def _contour(self) -> Contour:
        points = np.array([(s.x, s.y) for s in self.samples])
        apart = np.append(True, np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-3)
        points, pressure = points[apart], np.array([s.pressure for s in self.samples])[apart]
        if len(points) < 2:
            raise EditError("A line needs some length: draw it with the pen down.")
        if self.closed and np.linalg.norm(points[0] - points[-1]) > 1e-3:
            points, pressure = np.append(points, points[:1], axis=0), np.append(pressure, pressure[0])
        path, nodes = fit_path(points, self.tolerance)
        kept = nodes[:-1] if self.closed else nodes
        return contour_of(path, self.closed, weights=(2.0 * pressure[kept]).tolist())


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
        added = tuple(renewed(shape) if shape.id in taken else shape for shape in self.shapes)
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


def renewed(shape: Shape) -> Shape:
    """The same form as another thing: new ids for the shape and its nodes."""
    contours = tuple(
        c.model_copy(update={"nodes": tuple(n.model_copy(update={"id": new_id()}) for n in c.nodes)})
        for c in shape.contours
    )
    return shape.model_copy(update={"id": new_id(), "contours": contours})


def with_shapes(work: Work, key: str, shapes: tuple[Shape, ...]) -> Work:
    return work.with_drawing(key, Drawing(shapes=shapes))


def changed(work: Work, key: str, ids: tuple[str, ...], change: Callable[[Shape], Shape]) -> Work:
    for shape_id in ids:
        work.shape(key, shape_id)
    shapes = tuple(change(s) if s.id in ids else s for s in work.drawing(key).shapes)
    return with_shapes(work, key, shapes)


def _box(form: AddForm) -> Contour:
    x, y, w, h = form.x, form.y, form.width, form.height
    corners = (Point(x, y), Point(x + w, y), Point(x + w, y + h), Point(x, y + h))
    return Contour(nodes=tuple(Node(at=p, before=p, after=p) for p in corners), closed=True)


def _ellipse(form: AddForm) -> Contour:
    rx, ry = form.width / 2, form.height / 2
    cx, cy = form.x + rx, form.y + ry
    nodes = []
    for ux, uy in ((0, -1), (1, 0), (0, 1), (-1, 0)):
        x, y = cx + ux * rx, cy + uy * ry
        hx, hy = -uy * CIRCLE * rx, ux * CIRCLE * ry
        nodes.append(Node(at=Point(x, y), before=Point(x - hx, y - hy), after=Point(x + hx, y + hy), kind="smooth"))
    return Contour(nodes=tuple(nodes), closed=True)
