"""Edits of picture layers: faint references under the drawing."""

from typing import Annotated, Literal

from pydantic import Field

from knead.core.edit.arrange import extent
from knead.core.edit.sound import EditError
from knead.core.edit.work import Work, checked
from knead.core.model import Drawing, Layer, Model, Name, Picture, Point, new_id
from knead.core.model.scene import Frame
from knead.core.playback import exposures, moved

FAINT = 0.5


class AddPicture(Model):
    """A new layer with a picture, right under a layer; with none named, over the pictures at the very back."""

    type: Literal["add_picture"] = "add_picture"
    id: str = Field(default_factory=new_id)
    name: Name
    picture: Picture
    under: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Lay a picture under the drawing"

    def apply(self, work: Work) -> Work:
        """Add the layer; it is half faded. Raises EditError where the layer to lie under is gone."""
        layers = list(work.scene.layers)
        above = work.layer(self.under) if self.under else next((x for x in layers if x.picture is None), None)
        index = layers.index(above) if above else len(layers)
        layers.insert(index, Layer(id=self.id, name=self.name, picture=self.picture, opacity=FAINT))
        return work.with_scene(layers=tuple(layers))


class PlacePicture(Model):
    """Move, scale or turn a picture, or change its frames; only the fields that are given change.

    `last` 0 means to the end of the scene.
    """

    type: Literal["place_picture"] = "place_picture"
    layer: str
    at: Point | None = None
    scale: Annotated[float, Field(gt=0.0, le=1000.0)] | None = None
    turn: float | None = None
    first: Frame | None = None
    last: Annotated[int, Field(ge=0, le=100_000)] | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Place a picture"

    def apply(self, work: Work) -> Work:
        """Set what is given. Raises EditError for a layer without a picture."""
        layer, picture = _picture(work, self.layer)
        fields = {k: v for k in ("at", "scale", "first") if (v := getattr(self, k)) is not None}
        if self.turn is not None:
            fields["turn"] = (self.turn + 180.0) % 360.0 - 180.0
        if self.last is not None:
            fields["last"] = self.last or None
        changed = checked(picture, **fields)
        if changed.last is not None and changed.last < changed.first:
            raise EditError("The last frame must not stand before the first.")
        return work.with_layer(checked(layer, picture=changed))


class MatchPicture(Model):
    """Lay a picture over what another layer shows at a frame: as high, and middle on middle."""

    type: Literal["match_picture"] = "match_picture"
    layer: str
    to: str
    frame: Frame = 1

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Match a picture's size"

    def apply(self, work: Work) -> Work:
        """Scale and move it. Raises EditError where the other layer shows nothing there."""
        layer, picture = _picture(work, self.layer)
        height, middle = self._target(work)
        return work.with_layer(checked(layer, picture=checked(picture, scale=height / picture.height, at=middle)))

    def _target(self, work: Work) -> tuple[float, Point]:
        other = work.layer(self.to)
        if other.picture is not None:
            return other.picture.height * other.picture.scale, other.picture.at
        shown = exposures(work.scene, other, max(self.frame, work.scene.length))[self.frame - 1]
        drawing = work.drawing(shown.key) if shown else Drawing()
        shapes = (moved(drawing, other.cycle) if other.cycle else drawing).shapes
        if not shapes:
            raise EditError(f"Layer '{other.name}' shows nothing at {self.frame} to match.")
        boxes = [extent(shape) for shape in shapes]
        left, top = (min(float(box[0, axis]) for box in boxes) for axis in (0, 1))
        right, bottom = (max(float(box[1, axis]) for box in boxes) for axis in (0, 1))
        return max(bottom - top, 1.0), Point((left + right) / 2, (top + bottom) / 2)


def _picture(work: Work, layer_id: str) -> tuple[Layer, Picture]:
    layer = work.open_layer(layer_id)
    if layer.picture is None:
        raise EditError(f"Layer '{layer.name}' holds no picture.")
    return layer, layer.picture
