"""Edits of layers and of the scene itself."""

from typing import Annotated, Literal

from pydantic import Field

from knead.core.edit.work import EditError, Work, checked
from knead.core.model import Layer, Model, Name, new_id
from knead.core.model.scene import Extent, Frame
from knead.core.model.style import Share


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
    """Rename, hide, lock or fade a layer; only the fields that are given change."""

    type: Literal["set_layer"] = "set_layer"
    layer: str
    name: Name | None = None
    hidden: bool | None = None
    locked: bool | None = None
    opacity: Share | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        if self.name is not None:
            return "Rename a layer"
        if self.hidden is not None:
            return "Hide a layer" if self.hidden else "Show a layer"
        if self.locked is not None:
            return "Lock a layer" if self.locked else "Unlock a layer"
        return "Fade a layer"

    def apply(self, work: Work) -> Work:
        """Set what is given."""
        fields = {k: v for k in ("name", "hidden", "locked", "opacity") if (v := getattr(self, k)) is not None}
        return work.with_layer(checked(work.layer(self.layer), **fields))


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


class RemoveLayer(Model):
    """Take a layer with its keys out of the scene."""

    type: Literal["remove_layer"] = "remove_layer"
    layer: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Delete a layer"

    def apply(self, work: Work) -> Work:
        """Remove the layer. Raises EditError for a locked one."""
        work.open_layer(self.layer)
        return work.with_scene(layers=tuple(old for old in work.scene.layers if old.id != self.layer))


class SetScene(Model):
    """Rename the scene, or change its size, rate or length; only the fields that are given change."""

    type: Literal["set_scene"] = "set_scene"
    name: Name | None = None
    width: Extent | None = None
    height: Extent | None = None
    rate: Annotated[float, Field(ge=1.0, le=120.0)] | None = None
    length: Frame | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Rename the scene" if self.name is not None else "Change the scene"

    def apply(self, work: Work) -> Work:
        """Set what is given. Raises EditError where keys would fall off the end."""
        last = max((key.frame for layer in work.scene.layers for key in layer.keys), default=1)
        if self.length is not None and self.length < last:
            raise EditError(f"There is a key at {last}; the scene can't be shorter than that.")
        names = ("name", "width", "height", "rate", "length")
        return work.with_scene(**{k: v for k in names if (v := getattr(self, k)) is not None})
