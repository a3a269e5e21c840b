"""The scene an operation works on, with its drawings, and the few ways to put something back into it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

from pydantic import ValidationError

from knead.core.edit.bound import followed
from knead.core.edit.sound import EditError, in_words, sound
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Key, Layer, Model, Scene, Shape, Take
from knead.core.playback import following

M = TypeVar("M", bound=Model)


def _planned(_: str, first: Drawing, second: Drawing, take: Take) -> SpanPlan:
    return plan_span(first, second, take)


@dataclass(frozen=True)
class Work:
    """A scene and the drawings it refers to. `fresh` are those that the edit made.

    `planner` plans the span after a key, which it is told first; one that keeps its plans saves planning anew.
    """

    scene: Scene
    drawings: Mapping[str, Drawing]
    fresh: Mapping[str, Drawing] = field(default_factory=dict)
    planner: Callable[[str, Drawing, Drawing, Take], SpanPlan] = _planned

    def layer(self, layer_id: str) -> Layer:
        """The layer. Raises EditError when it is gone."""
        for layer in self.scene.layers:
            if layer.id == layer_id:
                return layer
        raise EditError("This layer is gone.")

    def layer_of(self, key_id: str) -> Layer:
        """The layer a key is on. Raises EditError when the key is gone."""
        for layer in self.scene.layers:
            if any(key.id == key_id for key in layer.keys):
                return layer
        raise EditError("This key is gone.")

    def key(self, key_id: str) -> Key:
        """The key. Raises EditError when it is gone."""
        return next(key for key in self.layer_of(key_id).keys if key.id == key_id)

    def open_layer(self, layer_id: str) -> Layer:
        """The layer, if it may be changed. Raises EditError when it is locked."""
        layer = self.layer(layer_id)
        if layer.locked:
            raise EditError(f"Layer '{layer.name}' is locked. Unlock it to change it.")
        return layer

    def drawing(self, key_id: str) -> Drawing:
        """The drawing of a key."""
        return self.of(self.key(key_id).drawing)

    def of(self, drawing_hash: str) -> Drawing:
        """The drawing with this hash."""
        return self.fresh[drawing_hash] if drawing_hash in self.fresh else self.drawings[drawing_hash]

    def shape(self, key_id: str, shape_id: str) -> Shape:
        """A shape of a key. Raises EditError when it is gone."""
        shape = self.drawing(key_id).shape(shape_id)
        if shape is None:
            raise EditError("This shape is gone.")
        return shape

    def span(self, key_id: str) -> tuple[Key, Key]:
        """The key and the one after it. Raises EditError when it is the last."""
        key = self.key(key_id)
        after = following(self.layer_of(key_id), key)
        if after is None:
            raise EditError("There is no key after this one: a span needs two.")
        return key, after

    def plan(self, key_id: str) -> SpanPlan:
        """The plan of the span that begins at a key."""
        first, second = self.span(key_id)
        return self.planner(first.id, self.of(first.drawing), self.of(second.drawing), first.span.take)

    def with_scene(self, **changes: Any) -> "Work":
        """With fields of the scene changed; they are checked anew."""
        return replace(self, scene=checked(self.scene, **changes))

    def with_layer(self, layer: Layer) -> "Work":
        """With a layer replaced by its new state."""
        return self.with_scene(layers=tuple(layer if old.id == layer.id else old for old in self.scene.layers))

    def with_key(self, key: Key) -> "Work":
        """With a key replaced by its new state."""
        layer = self.open_layer(self.layer_of(key.id).id)
        keys = sorted((key if old.id == key.id else old for old in layer.keys), key=lambda k: k.frame)
        return self.with_layer(checked(layer, keys=tuple(keys)))

    def with_drawing(self, key_id: str, drawing: Drawing) -> "Work":
        """With a new drawing at a key; poured fills in it follow their lines. Raises EditError, as `sound`."""
        before = self.drawing(key_id)
        drawing = sound(followed(before, drawing), before)
        work = replace(self, fresh={**self.fresh, drawing.hash: drawing})
        return work.with_key(checked(self.key(key_id), drawing=drawing.hash))

    def with_take(self, key_id: str, change: Callable[[Take], Take]) -> "Work":
        """With the settings of a span changed."""
        key = self.key(key_id)
        return self.with_key(checked(key, span=checked(key.span, take=change(key.span.take))))


def checked(model: M, **changes: Any) -> M:
    """A copy with changes, validated: `model_copy` alone would not look at them. Raises EditError."""
    fields = {name: getattr(model, name) for name in type(model).model_fields}
    try:
        return type(model).model_validate({**fields, **changes})
    except ValidationError as error:
        raise EditError(in_words(error)) from error
