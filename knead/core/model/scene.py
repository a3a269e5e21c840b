"""Scenes: layers of keys over frames, referring to drawings by content hash."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from knead.core.model.base import Model, Name, new_id
from knead.core.model.drawing import Drawing
from knead.core.model.span import Span
from knead.core.model.style import Share

Frame = Annotated[int, Field(ge=1, le=100_000)]
Tag = Literal["none", "rust", "ochre", "moss", "sea", "heather"]
Extent = Annotated[float, Field(ge=1.0, le=20_000.0)]


class Key(Model):
    """A drawing that stands at a frame of a layer, and the span that follows it."""

    id: str = Field(default_factory=new_id)
    frame: Frame
    drawing: str
    breakdown: bool = False
    span: Span = Span()


class Layer(Model):
    """One row of the scene, its keys in the order of their frames."""

    id: str = Field(default_factory=new_id)
    name: Name = "layer"
    keys: tuple[Key, ...] = ()
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

    def drawing_hashes(self) -> set[str]:
        """The hashes of all drawings the scene refers to."""
        return {key.drawing for layer in self.layers for key in layer.keys}


class SceneBundle(Model):
    """A whole scene in one document: what `.knead.json` files hold."""

    format: Literal["knead-scene"] = "knead-scene"
    version: Literal[1] = 1
    scene: Scene
    drawings: dict[str, Drawing]

    @model_validator(mode="after")
    def _complete(self) -> Self:
        missing = self.scene.drawing_hashes() - self.drawings.keys()
        if missing:
            raise ValueError(f"{len(missing)} drawing(s) that the scene refers to are missing")
        wrong = [name for name, drawing in self.drawings.items() if drawing.hash != name]
        if wrong:
            raise ValueError(f"drawing {wrong[0][:12]} does not match its hash: the file was changed or damaged")
        return self
