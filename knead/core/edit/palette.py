"""Edits of the scene's palette: a changed colour changes in all that follow it."""

from collections.abc import Callable
from typing import Literal

from pydantic import Field

from knead.core.edit.sound import EditError
from knead.core.edit.work import Work, checked
from knead.core.model import Drawing, Fill, Model, Name, Paint, Shape, Stroke, Swatch, new_id
from knead.core.model.style import Color


class AddSwatch(Model):
    """Put a colour on the palette."""

    type: Literal["add_swatch"] = "add_swatch"
    id: str = Field(default_factory=new_id)
    name: Name
    color: Color

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Add a colour to the palette"

    def apply(self, work: Work) -> Work:
        """Add it at the end."""
        swatch = Swatch(id=self.id, name=self.name, color=self.color)
        return work.with_scene(palette=(*work.scene.palette, swatch))


class ChangeSwatch(Model):
    """Rename a colour of the palette, or change it in all drawings of the scene that follow it."""

    type: Literal["change_swatch"] = "change_swatch"
    swatch: str
    name: Name | None = None
    color: Color | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Rename a colour" if self.color is None else "Change a colour of the palette"

    def apply(self, work: Work) -> Work:
        """Change it. Raises EditError when it is gone."""
        old = _swatch(work, self.swatch)
        new = checked(old, name=self.name or old.name, color=self.color or old.color)
        palette = tuple(new if each.id == new.id else each for each in work.scene.palette)
        if self.color is not None:
            work = _repainted(work, lambda paint: _with(paint, self.swatch, {"color": self.color}))
        return work.with_scene(palette=palette)


class RemoveSwatch(Model):
    """Take a colour off the palette; what followed it keeps its colour."""

    type: Literal["remove_swatch"] = "remove_swatch"
    swatch: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Take a colour off the palette"

    def apply(self, work: Work) -> Work:
        """Remove it. Raises EditError when it is gone."""
        _swatch(work, self.swatch)
        work = _repainted(work, lambda paint: _with(paint, self.swatch, {"swatch": None}))
        return work.with_scene(palette=tuple(each for each in work.scene.palette if each.id != self.swatch))


def _swatch(work: Work, swatch_id: str) -> Swatch:
    found = next((swatch for swatch in work.scene.palette if swatch.id == swatch_id), None)
    if found is None:
        raise EditError("This colour is no longer on the palette.")
    return found


def _with(paint: Paint, swatch: str, change: dict[str, str | None]) -> Paint:
    """The paint with a change in what follows a swatch: its own colour, or stops of its gradient."""
    if paint.swatch == swatch:
        paint = paint.model_copy(update=change)
    if paint.gradient is None or not any(stop.swatch == swatch for stop in paint.gradient.stops):
        return paint
    stops = (s.model_copy(update=change) if s.swatch == swatch else s for s in paint.gradient.stops)
    return paint.model_copy(update={"gradient": paint.gradient.model_copy(update={"stops": tuple(stops)})})


def _repainted(work: Work, change: Callable[[Paint], Paint]) -> Work:
    """All drawings of the scene with their paints changed, on locked and hidden layers, too."""

    def part(old: Fill | Stroke | None) -> Fill | Stroke | None:
        new = change(old.paint) if old is not None else None
        return old if old is None or new is old.paint else old.model_copy(update={"paint": new})

    def shape(old: Shape) -> Shape:
        fill, stroke = part(old.fill), part(old.stroke)
        same = fill is old.fill and stroke is old.stroke
        return old if same else old.model_copy(update={"fill": fill, "stroke": stroke})

    fresh = {name: Drawing(shapes=tuple(map(shape, work.of(name).shapes))) for name in work.scene.drawing_hashes()}
    layers = tuple(
        layer.model_copy(
            update={"keys": tuple(k.model_copy(update={"drawing": fresh[k.drawing].hash}) for k in layer.keys)}
        )
        for layer in work.scene.layers
    )
    made = {drawing.hash: drawing for name, drawing in fresh.items() if drawing.hash != name}
    return Work(work.scene, work.drawings, {**work.fresh, **made}).with_scene(layers=layers)
