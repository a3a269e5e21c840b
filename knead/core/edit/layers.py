"""Edits of layers and of the scene itself."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from knead.core.edit.sound import EditError, sound
from knead.core.edit.work import Work, checked
from knead.core.model import Drawing, Guide, Key, Layer, Model, Name, new_id
from knead.core.model.scene import Extent, Frame, Repeat, Tag
from knead.core.model.style import Share
from knead.core.playback import exposures, moved

MOST_DRAWINGS = 500


class AddLayer(Model):
    """A new, empty layer in front of another, or in front of all."""

    type: Literal["add_layer"] = "add_layer"
    id: str = Field(default_factory=new_id)
    name: Name
    over: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Add a layer"

    def apply(self, work: Work) -> Work:
        """Add the layer."""
        layers = list(work.scene.layers)
        index = len(layers) if self.over is None else layers.index(work.layer(self.over)) + 1
        layers.insert(index, Layer(id=self.id, name=self.name))
        return work.with_scene(layers=tuple(layers))


class SetLayer(Model):
    """Rename, hide, lock, fade, tag or repeat a layer; only the fields that are given change."""

    type: Literal["set_layer"] = "set_layer"
    layer: str
    name: Name | None = None
    hidden: bool | None = None
    locked: bool | None = None
    opacity: Share | None = None
    tag: Tag | None = None
    repeat: Repeat | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        if self.repeat is not None:
            return f"Play a layer {self.repeat}"
        if self.tag is not None:
            return "Tag a layer"
        if self.name is not None:
            return "Rename a layer"
        if self.hidden is not None:
            return "Hide a layer" if self.hidden else "Show a layer"
        if self.locked is not None:
            return "Lock a layer" if self.locked else "Unlock a layer"
        return "Fade a layer"

    def apply(self, work: Work) -> Work:
        """Set what is given."""
        names = ("name", "hidden", "locked", "opacity", "tag", "repeat")
        given = {name: value for name in names if (value := getattr(self, name)) is not None}
        return work.with_layer(checked(work.layer(self.layer), **given))


class MoveLayer(Model):
    """Move a layer to another place in the order, counted from the back."""

    type: Literal["move_layer"] = "move_layer"
    layer: str
    index: Annotated[int, Field(ge=0)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Move a layer"

    def apply(self, work: Work) -> Work:
        """Reorder the layers."""
        layer = work.layer(self.layer)
        others = [old for old in work.scene.layers if old.id != layer.id]
        others.insert(self.index, layer)
        return work.with_scene(layers=tuple(others))


class DuplicateLayer(Model):
    """The same layer again in front of it, with all its keys and what happens between them."""

    type: Literal["duplicate_layer"] = "duplicate_layer"
    layer: str
    id: str = Field(default_factory=new_id)

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Duplicate a layer"

    def apply(self, work: Work) -> Work:
        """Add the copy. Its drawings stay the same ones until they are edited, so shapes keep their identity."""
        layer, layers = work.layer(self.layer), list(work.scene.layers)
        keys = tuple(key.model_copy(update={"id": new_id()}) for key in layer.keys)
        name = f"{layer.name[:110]} copy"
        copy = checked(layer, id=self.id, name=name, keys=keys, locked=False, hidden=False)
        layers.insert(layers.index(layer) + 1, copy)
        return work.with_scene(layers=tuple(layers))


class KeepDrawings(Model):
    """Turn all that a layer shows into drawings, on a layer of their own in front of it, which is hidden.

    So a change of one drawing touches no other, and the way back is not lost: keys, hints and pace stay where they are.
    """

    type: Literal["keep_drawings"] = "keep_drawings"
    layer: str
    id: str = Field(default_factory=new_id)

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Turn a layer into drawings"

    def apply(self, work: Work) -> Work:
        """Add the drawings. Raises EditError where nothing is in-betweened, or too much."""
        layer = work.layer(self.layer)
        shown = exposures(work.scene, layer, work.scene.length)
        new = [(n, e) for n, (e, before) in enumerate(zip(shown, [None, *shown], strict=False), 1) if e and e != before]
        if all(exposure.number == 0 for _, exposure in new):
            raise EditError(f"Nothing is in-betweened on layer '{layer.name}' that could become drawings.")
        if len(new) > MOST_DRAWINGS:
            raise EditError(f"These would be {len(new)} drawings, and can be {MOST_DRAWINGS} at most.")
        plans = {e.key: work.plan(e.key) for _, e in new if e.number}
        drawn = {n: _drawn(layer, plans[e.key].at(e.place) if e.number else work.drawing(e.key)) for n, e in new}
        names = {e.key: work.key(e.key).name for _, e in new}
        keys = tuple(
            Key(frame=n, drawing=drawn[n].hash, breakdown=e.number > 0, name=_named(names[e.key], e.number))
            for n, e in new
        )
        own = {"keys": keys, "cycle": None, "repeat": "once", "locked": False, "hidden": False}
        copy = checked(layer, id=self.id, name=f"{layer.name[:110]} drawn", **own)
        layers = [checked(each, hidden=True) if each.id == layer.id else each for each in work.scene.layers]
        layers.insert(work.scene.layers.index(layer) + 1, copy)
        fresh = {drawing.hash: drawing for drawing in drawn.values()}
        return replace(work.with_scene(layers=tuple(layers)), fresh={**work.fresh, **fresh})


def _named(key: str | None, number: int) -> str | None:
    """What a drawing of the span after a key is called: as the key, and by its number in the span."""
    return f"{key[:110]} {number}" if key and number else key


def _drawn(layer: Layer, shown: Drawing) -> Drawing:
    """What a layer shows as a drawing to be kept."""
    return sound(moved(shown, layer.cycle) if layer.cycle else shown, Drawing())


class ShowAlone(Model):
    """Hide all layers but one; where it is shown alone already, show all."""

    type: Literal["show_alone"] = "show_alone"
    layer: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Show a layer alone"

    def apply(self, work: Work) -> Work:
        """Hide the others, or show them again."""
        layer = work.layer(self.layer)
        alone = not layer.hidden and all(other.hidden for other in work.scene.layers if other.id != layer.id)
        layers = (checked(each, hidden=each.id != layer.id and not alone) for each in work.scene.layers)
        return work.with_scene(layers=tuple(layers))


class RemoveLayer(Model):
    """Take a layer with its keys out of the scene."""

    type: Literal["remove_layer"] = "remove_layer"
    layer: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Delete a layer"

    def apply(self, work: Work) -> Work:
        """Remove the layer. Raises EditError for a locked one, and for one that others play."""
        layer = work.open_layer(self.layer)
        playing = [other.name for other in work.scene.layers if other.cycle and other.cycle.layer == layer.id]
        if playing:
            raise EditError(f"Layer '{playing[0]}' plays the keys of '{layer.name}'. Cut it loose or delete it first.")
        return work.with_scene(layers=tuple(old for old in work.scene.layers if old.id != self.layer))


class SetScene(Model):
    """Rename the scene, or change its size, rate, length or guides; only the fields that are given change."""

    type: Literal["set_scene"] = "set_scene"
    name: Name | None = None
    width: Extent | None = None
    height: Extent | None = None
    rate: Annotated[float, Field(ge=1.0, le=120.0)] | None = None
    length: Frame | None = None
    guides: Annotated[tuple[Guide, ...], Field(max_length=100)] | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        if self.guides is not None:
            return "Change the guides"
        return "Rename the scene" if self.name is not None else "Change the scene"

    def apply(self, work: Work) -> Work:
        """Set what is given. Raises EditError where keys would fall off the end."""
        last = max((key.frame for layer in work.scene.layers for key in layer.keys), default=1)
        if self.length is not None and self.length < last:
            raise EditError(f"There is a key at {last}; the scene can't be shorter than that.")
        names = ("name", "width", "height", "rate", "length", "guides")
        return work.with_scene(**{k: v for k in names if (v := getattr(self, k)) is not None})
