"""Edits of cycles: layers that play another layer's keys again."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.arrange import extent
from knead.core.edit.sound import EditError, sound
from knead.core.edit.work import Work, checked
from knead.core.geometry.bezier import Floats
from knead.core.model import Cycle, Drawing, HintEnd, Key, Layer, Model, Point, Take, new_id
from knead.core.model.span import COARSEST, FINEST
from knead.core.playback import moved, place_of

Degrees = Annotated[float, Field(ge=-360.0, le=360.0)]


class AddCycle(Model):
    """A new layer in front of another that plays its keys again."""

    type: Literal["add_cycle"] = "add_cycle"
    layer: str
    id: str = Field(default_factory=new_id)

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Play a layer again"

    def apply(self, work: Work) -> Work:
        """Add the layer; of a cycle, another like it. Raises EditError where there are no keys to be played."""
        layer, layers = work.layer(self.layer), list(work.scene.layers)
        if layer.cycle is None and not layer.keys:
            raise EditError(f"Layer '{layer.name}' has no keys that could be played again.")
        cycle = layer.cycle or Cycle(layer=layer.id, start=layer.keys[0].frame, pivot=_middle(work, layer))
        taken = {each.name for each in layers}
        name = next(n for k in range(2, len(layers) + 3) if (n := f"{layer.name[:110]} {k}") not in taken)
        again = Layer(id=self.id, name=name, cycle=cycle, opacity=layer.opacity, tag=layer.tag)
        layers.insert(layers.index(layer) + 1, again)
        return work.with_scene(layers=tuple(layers))


class SetCycle(Model):
    """Say from where, how fast, and in which place a cycle plays; only the fields that are given change."""

    type: Literal["set_cycle"] = "set_cycle"
    layer: str
    start: int | None = None
    stretch: float | None = None
    scale: float | None = None
    turn: Degrees | None = None
    move: Point | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        timed = self.model_fields_set & {"start", "stretch"}
        return "Change when a cycle plays" if timed else "Place a cycle"

    def apply(self, work: Work) -> Work:
        """Set what is given. Raises EditError for a layer that plays no other."""
        layer, cycle = _cycle(work, self.layer)
        names = ("start", "stretch", "scale", "turn", "move")
        given = {name: value for name in names if (value := getattr(self, name)) is not None}
        return work.with_layer(checked(layer, cycle=checked(cycle, **given)))


class CutLoose(Model):
    """Give a cycle keys of its own: what is changed of those that it played changes it no more."""

    type: Literal["cut_loose"] = "cut_loose"
    layer: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Cut a cycle loose"

    def apply(self, work: Work) -> Work:
        """Copy the keys to where the cycle shows them. Raises EditError where they would not stand at whole frames."""
        layer, cycle = _cycle(work, self.layer)
        source = work.scene.source(layer)
        if not source.keys:
            raise EditError(f"Layer '{source.name}' has no keys that '{layer.name}' could be given.")
        frames = cycle.start + cycle.stretch * np.array([key.frame - source.keys[0].frame for key in source.keys])
        whole = np.round(frames).astype(int)
        if whole[0] < 1 or np.any(np.diff(whole) < 1) or np.abs(whole - frames).max() > 1e-6:
            raise EditError(
                "Its keys would not stand at whole frames from 1 on: change its start or its stretch, or turn it into "
                "drawings."
            )
        matrix = place_of(cycle)
        keys, fresh = [], dict(work.fresh)
        for key, frame in zip(source.keys, whole.tolist(), strict=True):
            drawing = sound(moved(work.of(key.drawing), cycle), Drawing())
            fresh[drawing.hash] = drawing
            take, *others = (_placed(take, matrix, cycle.scale) for take in (key.span.take, *key.span.others))
            span = checked(key.span, take=take, others=tuple(others))
            keys.append(Key(frame=frame, drawing=drawing.hash, breakdown=key.breakdown, span=span))
        loose = checked(layer, keys=tuple(keys), cycle=None, repeat=source.repeat)
        length = max(work.scene.length, int(whole[-1]))
        return Work(work.scene, work.drawings, fresh, work.planner).with_layer(loose).with_scene(length=length)


def _cycle(work: Work, layer_id: str) -> tuple[Layer, Cycle]:
    layer = work.open_layer(layer_id)
    if layer.cycle is None:
        raise EditError(f"Layer '{layer.name}' has keys of its own.")
    return layer, layer.cycle


def _middle(work: Work, layer: Layer) -> Point:
    """The middle of what the first key shows, or of the paper where that is empty."""
    boxes = [extent(shape) for shape in work.of(layer.keys[0].drawing).shapes]
    if not boxes:
        return Point(work.scene.width / 2, work.scene.height / 2)
    x, y = (np.min(boxes, axis=(0, 1)) + np.max(boxes, axis=(0, 1))) / 2
    return Point(float(x), float(y))


def _placed(take: Take, matrix: Floats, scale: float) -> Take:
    """A span's settings whose places and ways are under an affine map, shape (2, 3), of this scale."""

    def end(of: HintEnd) -> HintEnd:
        return checked(of, at=Point(*(matrix[:, :2] @ np.array(of.at) + matrix[:, 2]).tolist()))

    hints = tuple(checked(hint, first=end(hint.first), second=end(hint.second)) for hint in take.hints)
    travels = tuple(
        checked(t, path=t.path and tuple(Point(*(matrix[:, :2] @ np.array(way)).tolist()) for way in t.path))
        for t in take.travels
    )
    tolerance = float(np.clip(take.tolerance * scale, FINEST, COARSEST))
    return checked(take, hints=hints, travels=travels, tolerance=tolerance)
