"""Edits that put shapes in order: aligned, spread evenly, mirrored."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.shapes import Ids, changed, with_shapes
from knead.core.edit.sound import EditError, renewed
from knead.core.edit.work import Work
from knead.core.geometry.bezier import Floats, path_of, points_at
from knead.core.geometry.placing import placed, posed
from knead.core.model import Contour, Model, Point, Shape

EDGES: dict[str, tuple[int, float]] = {
    "left": (0, 0.0),
    "centre": (0, 0.5),
    "right": (0, 1.0),
    "top": (1, 0.0),
    "middle": (1, 0.5),
    "bottom": (1, 1.0),
}


class AlignShapes(Model):
    """Align shapes at an edge or middle of the box around them all."""

    type: Literal["align_shapes"] = "align_shapes"
    key: str
    shapes: Ids
    to: Literal["left", "centre", "right", "top", "middle", "bottom"]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Align {self.to}"

    def apply(self, work: Work) -> Work:
        """Move each shape along one axis."""
        axis, share = EDGES[self.to]
        boxes = {shape_id: extent(work.shape(self.key, shape_id)) for shape_id in self.shapes}
        low = min(box[0, axis] for box in boxes.values())
        high = max(box[1, axis] for box in boxes.values())
        line = low + share * (high - low)
        return _moved(work, self.key, {k: (axis, line - _at(box, axis, share)) for k, box in boxes.items()})


class SpreadShapes(Model):
    """Spread three shapes or more so that the gaps between them are even."""

    type: Literal["spread_shapes"] = "spread_shapes"
    key: str
    shapes: Annotated[tuple[str, ...], Field(min_length=3)]
    along: Literal["across", "down"]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Spread evenly"

    def apply(self, work: Work) -> Work:
        """Move all but the first and the last along one axis."""
        axis = 0 if self.along == "across" else 1
        boxes = {shape_id: extent(work.shape(self.key, shape_id)) for shape_id in self.shapes}
        if len(boxes) < 3:
            raise EditError("Three shapes are needed to spread them evenly.")
        order = sorted(boxes, key=lambda k: float(boxes[k][:, axis].sum()))
        sizes = np.array([np.ptp(boxes[k][:, axis]) for k in order])
        start = float(boxes[order[0]][0, axis])
        gap = (float(boxes[order[-1]][1, axis]) - start - sizes.sum()) / (len(order) - 1)
        starts = start + np.concatenate([[0.0], np.cumsum(sizes + gap)[:-1]])
        steps = {k: (axis, float(s - boxes[k][0, axis])) for k, s in zip(order, starts, strict=True)}
        return _moved(work, self.key, steps)


class PoseShapes(Model):
    """Scale, then turn shapes about a point, then move them: what typed numbers, flips and quarter turns do."""

    type: Literal["pose_shapes"] = "pose_shapes"
    key: str
    shapes: Ids
    pivot: Point
    scale: tuple[Annotated[float, Field(ge=-1e4, le=1e4)], Annotated[float, Field(ge=-1e4, le=1e4)]] = (1.0, 1.0)
    turn: Annotated[float, Field(ge=-3600.0, le=3600.0)] = 0.0
    """Degrees clockwise."""
    move: Point = Point(0.0, 0.0)

    @property
    def label(self) -> str:
        """What undo calls it."""
        if self.turn:
            return "Turn"
        if self.scale != (1.0, 1.0):
            return "Flip" if self.scale[0] * self.scale[1] < 0 else "Scale"
        return "Move"

    def apply(self, work: Work) -> Work:
        """Place the shapes. Raises EditError where they would become a line."""
        if 0.0 in self.scale:
            raise EditError("This would flatten the shapes to a line.")
        matrix = posed(np.array(self.pivot), self.scale, np.radians(self.turn), np.array(self.move))
        return changed(work, self.key, self.shapes, lambda shape: placed(shape, matrix))


class MirrorShapes(Model):
    """Copy shapes mirrored at an upright line, as for the other hand. The copies are other things, with new ids."""

    type: Literal["mirror_shapes"] = "mirror_shapes"
    key: str
    shapes: Ids
    x: Annotated[float, Field(ge=-1e6, le=1e6)] | None = None
    """Where the line stands; where it is not given, at the right edge of the shapes."""

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Mirrored copy"

    def apply(self, work: Work) -> Work:
        """Add the copies right in front of the shapes."""
        shapes = [work.shape(self.key, shape_id) for shape_id in self.shapes]
        x = self.x if self.x is not None else float(max(extent(shape)[1, 0] for shape in shapes))
        matrix = np.array([[-1.0, 0.0, 2 * x], [0.0, 1.0, 0.0]])
        copies = tuple(renewed(placed(shape, matrix)) for shape in shapes)
        drawn = work.drawing(self.key).shapes
        last = max(k for k, shape in enumerate(drawn) if shape.id in self.shapes)
        return with_shapes(work, self.key, (*drawn[: last + 1], *copies, *drawn[last + 1 :]))


def extent(shape: Shape) -> Floats:
    """The box around a shape's outline, without its stroke's width: ((left, top), (right, bottom))."""
    points = np.concatenate([_outline(contour) for contour in shape.contours])
    return np.array([points.min(axis=0), points.max(axis=0)])


def _outline(contour: Contour) -> Floats:
    path = path_of(contour)
    if not len(path):
        return np.array([contour.nodes[0].at])
    return points_at(path, np.linspace(0, len(path), 32 * len(path) + 1))


def _at(box: Floats, axis: int, share: float) -> float:
    return float(box[0, axis] + share * (box[1, axis] - box[0, axis]))


def _moved(work: Work, key: str, steps: dict[str, tuple[int, float]]) -> Work:
    if all(abs(step) < 1e-9 for _, step in steps.values()):
        raise EditError("The shapes are in line already.")

    def move(shape: Shape) -> Shape:
        axis, step = steps[shape.id]
        matrix = np.eye(2, 3)
        matrix[axis, 2] = step
        return placed(shape, matrix)

    return changed(work, key, tuple(steps), move)
