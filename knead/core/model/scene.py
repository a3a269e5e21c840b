"""Scenes: layers of keys over frames, referring to drawings by content hash."""

import hashlib
from typing import Annotated, Literal, Self

from pydantic import Base64Bytes, Field, model_validator

from knead.core.model.base import Model, Name, Point, new_id
from knead.core.model.drawing import Drawing
from knead.core.model.span import Span
from knead.core.model.style import Color, Share

Frame = Annotated[int, Field(ge=1, le=100_000)]
Repeat = Literal["once", "round and round", "there and back"]
Tag = Literal["none", "rust", "ochre", "moss", "sea", "heather"]
Extent = Annotated[float, Field(ge=1.0, le=20_000.0)]


class Key(Model):
    """A drawing that stands at a frame of a layer, and the span that follows it."""

    id: str = Field(default_factory=new_id)
    frame: Frame
    drawing: str
    name: Name | None = None
    breakdown: bool = False
    span: Span = Span()


class Picture(Model):
    """A faint reference under the drawing: an image by its hash, and where it lies on the paper and in time.

    `width` and `height` are the image's pixels; it is drawn `scale` scene units a pixel about its middle `at`, turned
    by `turn` degrees clockwise. It is there from frame `first` to frame `last`, or to the end.
    """

    image: str
    width: Annotated[int, Field(ge=1)]
    height: Annotated[int, Field(ge=1)]
    at: Point
    scale: Annotated[float, Field(gt=0.0, le=1000.0)] = 1.0
    turn: Annotated[float, Field(ge=-360.0, le=360.0)] = 0.0
    first: Frame = 1
    last: Frame | None = None


class Cycle(Model):
    """Another layer's keys, played again: whatever is changed of those is changed here, too.

    The first of them stands at frame `start`, which may lie before the scene, and all goes `stretch` times as slowly.
    What is drawn is scaled and turned, clockwise in degrees, about `pivot`, and then moved.
    """

    layer: str
    start: Annotated[int, Field(ge=-100_000, le=100_000)] = 1
    stretch: Annotated[float, Field(ge=0.05, le=20.0)] = 1.0
    pivot: Point = Point(0.0, 0.0)
    scale: Annotated[float, Field(ge=0.01, le=100.0)] = 1.0
    turn: Annotated[float, Field(ge=-360.0, le=360.0)] = 0.0
    move: Point = Point(0.0, 0.0)


class Layer(Model):
    """One row of the scene: its keys in the order of their frames, or a picture, or a cycle."""

    id: str = Field(default_factory=new_id)
    name: Name = "layer"
    keys: tuple[Key, ...] = ()
    picture: Picture | None = None
    cycle: Cycle | None = None
    repeat: Repeat = "once"
    """What follows the last key: it is held, or all is played again, or back and forth. A cycle repeats as its keys."""
    hidden: bool = False
    locked: bool = False
    opacity: Share = 1.0
    tag: Tag = "none"
    """A colour on its row of the timeline, to find it by."""

    @model_validator(mode="after")
    def _frames_rise(self) -> Self:
        frames = [key.frame for key in self.keys]
        if any(a >= b for a, b in zip(frames, frames[1:], strict=False)):
            raise ValueError(f"the keys of layer '{self.name}' must stand at rising frames")
        return self

    @model_validator(mode="after")
    def _holds_one_thing(self) -> Self:
        if (bool(self.keys), self.picture is not None, self.cycle is not None).count(True) > 1:
            raise ValueError(f"layer '{self.name}' must hold keys, a picture or a cycle, and not several of these")
        return self


class Swatch(Model):
    """A named colour of the scene's palette."""

    id: str = Field(default_factory=new_id)
    name: Name
    color: Color


class Guide(Model):
    """A line to snap to: upright at an x, or level at a y."""

    way: Literal["upright", "level"]
    at: Annotated[float, Field(ge=-1e6, le=1e6)]


class Scene(Model):
    """A canvas size, a frame rate, a length in frames, and layers from back to front."""

    id: str = Field(default_factory=new_id)
    name: Name = "Untitled"
    width: Extent = 960.0
    height: Extent = 540.0
    rate: Annotated[float, Field(ge=1.0, le=120.0)] = 12.0
    length: Frame = 24
    paper: Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")] = "#ffffff"
    layers: tuple[Layer, ...] = ()
    palette: Annotated[tuple[Swatch, ...], Field(max_length=200)] = ()
    guides: Annotated[tuple[Guide, ...], Field(max_length=100)] = ()

    @model_validator(mode="after")
    def _cycles_have_keys(self) -> Self:
        drawn = {layer.id for layer in self.layers if layer.picture is None and layer.cycle is None}
        for layer in self.layers:
            if layer.cycle is not None and layer.cycle.layer not in drawn:
                raise ValueError(f"layer '{layer.name}' must play a layer of keys that is there")
        return self

    def source(self, layer: Layer) -> Layer:
        """The layer whose keys a layer shows: its own, or those that its cycle plays."""
        cycle = layer.cycle
        return layer if cycle is None else next(each for each in self.layers if each.id == cycle.layer)

    def image_hashes(self) -> set[str]:
        """The hashes of all images the scene refers to."""
        return {layer.picture.image for layer in self.layers if layer.picture is not None}

    def drawing_hashes(self) -> set[str]:
        """The hashes of all drawings the scene refers to."""
        return {key.drawing for layer in self.layers for key in layer.keys}


class Image(Model):
    """An image file as it was given."""

    type: Literal["image/png", "image/jpeg", "image/webp"]
    data: Base64Bytes


class SceneBundle(Model):
    """A whole scene in one document: what `.knead.json` files hold.

    Version 1 named a drawing by the hash of its whole content, version 2 by that of its shapes' hashes.
    """

    format: Literal["knead-scene"] = "knead-scene"
    version: Literal[1, 2] = 2
    scene: Scene
    drawings: dict[str, Drawing]
    images: dict[str, Image] = {}

    @model_validator(mode="after")
    def _complete(self) -> Self:
        missing = self.scene.drawing_hashes() - self.drawings.keys()
        if missing:
            raise ValueError(f"{len(missing)} drawing(s) that the scene refers to are missing")
        lost = self.scene.image_hashes() - self.images.keys()
        if lost:
            raise ValueError(f"{len(lost)} picture(s) that the scene refers to are missing")
        wrong = [name for name, drawing in self.drawings.items() if self._named(drawing) != name]
        if wrong:
            raise ValueError(f"drawing {wrong[0][:12]} does not match its hash: the file was changed or damaged")
        return self

    def _named(self, drawing: Drawing) -> str:
        if self.version == 2:
            return drawing.hash
        return hashlib.sha256(drawing.model_dump_json(exclude_defaults=True).encode()).hexdigest()

    def renewed(self) -> "SceneBundle":
        """The same scene as the newest version has it."""
        if self.version == 2:
            return self
        layers = (
            layer.model_copy(
                update={
                    "keys": tuple(
                        key.model_copy(update={"drawing": self.drawings[key.drawing].hash}) for key in layer.keys
                    )
                }
            )
            for layer in self.scene.layers
        )
        scene = self.scene.model_copy(update={"layers": tuple(layers)})
        drawings = {drawing.hash: drawing for drawing in self.drawings.values()}
        return SceneBundle(scene=scene, drawings=drawings, images=self.images)
