"""Edits that draw something new: forms, placed points, freehand lines, letters, poured fills."""

from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.shapes import Finite, with_shapes
from knead.core.edit.sound import EditError
from knead.core.edit.work import Work
from knead.core.geometry import forms
from knead.core.geometry.bezier import Floats, contour_of, cut, lengths_along
from knead.core.geometry.fit import fit_path
from knead.core.geometry.pour import NotClosed, area_around, lines_of, outline_along
from knead.core.letters import letter_outlines
from knead.core.model import Contour, Fill, Model, Node, Shape, Stroke, new_id

MISSES, GIVES = 0.1, 0.25  # how far from its beginning a shut line may end, and what gives way, by its length
UNEVEN = 0.1  # share of the full pressure by which a line's width may be off its pen's
Extent = Annotated[float, Field(gt=0.0, le=1e6)]


class AddForm(Model):
    """Draw a simple form that fills a rectangle; `points` and `inner` are for polygons and stars."""

    type: Literal["add_form"] = "add_form"
    key: str
    form: Literal["box", "ellipse", "polygon", "star"]
    x: Finite
    y: Finite
    width: Extent
    height: Extent
    points: Annotated[int, Field(ge=3, le=64)] = 5
    inner: Annotated[float, Field(ge=0.05, le=0.98)] = 0.5
    stroke: Stroke | None = None
    fill: Fill | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Draw {'an' if self.form == 'ellipse' else 'a'} {self.form}"

    def apply(self, work: Work) -> Work:
        """Add the form in front."""
        return _in_front(
            work, self.key, Shape(name=self.form, contours=(self._contour(),), stroke=self.stroke, fill=self.fill)
        )

    def _contour(self) -> Contour:
        place = self.x, self.y, self.width, self.height
        if self.form == "box":
            return forms.box(*place)
        if self.form == "ellipse":
            return forms.ellipse(*place)
        return forms.regular(*place, self.points, self.inner if self.form == "star" else 1.0)


class AddPath(Model):
    """Draw a line through placed points, or a closed form."""

    type: Literal["add_path"] = "add_path"
    key: str
    nodes: Annotated[tuple[Node, ...], Field(min_length=2, max_length=5000)]
    closed: bool = False
    stroke: Stroke | None = None
    fill: Fill | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Draw a form" if self.closed else "Draw a line"

    def apply(self, work: Work) -> Work:
        """Add it in front."""
        contour = Contour(nodes=self.nodes, closed=self.closed)
        name = "form" if self.closed else "line"
        return _in_front(work, self.key, Shape(name=name, contours=(contour,), stroke=self.stroke, fill=self.fill))


class Sample(Model):
    """A pen sample: place and pressure."""

    x: Finite
    y: Finite
    pressure: Annotated[float, Field(ge=0.0, le=1.0)] = 0.5


class AddFreehand(Model):
    """Draw a line by hand; it is fitted to few nodes, the pen's pressure kept in them.

    With the id of a shape that is there already, that line is fitted anew.
    """

    type: Literal["add_freehand"] = "add_freehand"
    key: str
    shape: str = Field(default_factory=new_id)
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
        """Add the line in front, or put it in the place of the one it was."""
        contour = freehand(self.samples, self.tolerance, self.closed)
        there = work.drawing(self.key).shapes
        if any(shape.id == self.shape for shape in there):
            again = tuple(s.model_copy(update={"contours": (contour,)}) if s.id == self.shape else s for s in there)
            return with_shapes(work, self.key, again)
        line = Shape(id=self.shape, name="line", contours=(contour,), stroke=self.stroke, fill=self.fill)
        return _in_front(work, self.key, line)


def freehand(samples: tuple[Sample, ...], tolerance: float, closed: bool) -> Contour:
    """The line that fits pen samples within a tolerance, in scene units. Raises EditError where it has no length."""
    points = np.array([(s.x, s.y) for s in samples])
    apart = np.append(True, np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-3)
    points, pressure = points[apart], np.array([s.pressure for s in samples])[apart]
    if len(points) < 2:
        raise EditError("A line needs some length: draw it with the pen down.")
    if closed:
        points = _shut(points)
        pressure = np.append(pressure[: len(points) - 1], pressure[0])
    path, nodes = fit_path(points, tolerance)
    lengths = lengths_along(points)
    params = np.interp(lengths, lengths[nodes], np.arange(len(nodes)))
    if len(pressure) > 4:  # a hand trembles; what rises steadily stays as it is
        padded = np.pad(pressure, 2, mode="reflect", reflect_type="odd")
        pressure = np.clip(np.convolve(padded, np.full(5, 0.2), mode="valid"), 0.0, 1.0)
    marks = [0, *(k for a, b in pairwise(nodes) for k in _turning(params, pressure, a, b))]
    kept = marks[:-1] if closed else marks
    return contour_of(cut(path, params[marks]), closed, weights=(2.0 * pressure[kept]).tolist())


def _shut(points: Floats) -> Floats:
    """Points that end where they begin. A hand hardly meets its beginning: what it drew last gives way to it."""
    lengths = lengths_along(points)
    if np.linalg.norm(points[-1] - points[0]) < MISSES * lengths[-1]:
        late = np.clip(lengths / lengths[-1] - (1.0 - GIVES), 0.0, GIVES)[:, None] / GIVES
        points = points + late * (points[0] - points[-1])
        points = points[:-1]
    return np.append(points, points[:1], axis=0)


def _turning(params: Floats, pressure: Floats, start: int, end: int) -> list[int]:
    """Samples after `start` up to `end` between which the pressure runs straight enough (Douglas & Peucker 1973)."""
    share = (params[start : end + 1] - params[start]) / max(params[end] - params[start], 1e-12)
    off = np.abs(pressure[start : end + 1] - pressure[start] - share * (pressure[end] - pressure[start]))
    worst = start + int(np.argmax(off))
    if off.max() <= UNEVEN or not start < worst < end:
        return [end]
    return [*_turning(params, pressure, start, worst), *_turning(params, pressure, worst, end)]


class AddLetters(Model):
    """Draw a text as outlines, one shape a letter, in a part of its own; (x, y) is where its baseline begins."""

    type: Literal["add_letters"] = "add_letters"
    key: str
    text: Annotated[str, Field(min_length=1, max_length=200)]
    x: Finite
    y: Finite
    size: Annotated[float, Field(gt=0.0, le=10_000.0)] = 120.0
    stroke: Stroke | None = None
    fill: Fill | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Draw letters"

    def apply(self, work: Work) -> Work:
        """Add the letters in front. Raises EditError for a text of blanks."""
        letters = letter_outlines(self.text, self.size, self.x, self.y)
        if not letters:
            raise EditError("There is no letter in this text.")
        part = " ".join(self.text.split()).replace("/", " ").strip()[:60] or "letters"
        shapes = [
            Shape(name=f"letter {letter}", part=part, contours=contours, stroke=self.stroke, fill=self.fill)
            for letter, contours in letters
        ]
        return _in_front(work, self.key, *shapes)


class Pour(Model):
    """Fill the area that lines enclose around a point, right under the lowest of them.

    The fill remembers which stretches of which lines bound it and follows them. `gap` is how far apart, in scene units,
    lines may be and still close the area.
    """

    type: Literal["pour"] = "pour"
    key: str
    x: Finite
    y: Finite
    gap: Annotated[float, Field(ge=0.0, le=500.0)] = 4.0
    fill: Fill = Fill()

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Pour a fill"

    def apply(self, work: Work) -> Work:
        """Add the fill. Raises EditError where the area is open."""
        shapes = work.drawing(self.key).shapes
        lines = lines_of(shapes)
        if not lines:
            raise EditError("There are no lines here to pour between. Draw some first.")
        try:
            rings = area_around(lines, (self.x, self.y), self.gap)
        except NotClosed as error:
            raise EditError(str(error)) from error
        by_id = {line.id: line for line in lines}
        contours = []
        for bounds in rings:
            path, now = outline_along(bounds, by_id)
            contours.append(contour_of(path, True).model_copy(update={"bounds": now}))
        fill = self.fill.model_copy(update={"rule": "evenodd" if len(contours) > 1 else self.fill.rule})
        poured = Shape(name="poured fill", contours=tuple(contours), fill=fill)
        around = {bound.shape for bounds in rings for bound in bounds}
        lowest = min(k for k, shape in enumerate(shapes) if shape.id in around)
        return with_shapes(work, self.key, (*shapes[:lowest], poured, *shapes[lowest:]))


def _in_front(work: Work, key: str, *shapes: Shape) -> Work:
    return with_shapes(work, key, (*work.drawing(key).shapes, *shapes))
