"""What is shown at which frame: keys, holds and in-betweens of every layer."""

from collections.abc import Callable, Mapping

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.placing import placed, posed, thickened
from knead.core.inbetween import SpanPlan
from knead.core.model import Cycle, Drawing, Key, Layer, Model, Scene
from knead.core.pace.ease import paced

WHOLE = 1e-9  # what is so little short of a whole frame is one
PlanOf = Callable[[Key, Key], SpanPlan]


class Exposure(Model):
    """What a layer shows at a frame: a key's drawing (`number` 0) or the in-between `number` frames after it.

    On twos that is the one of the frame before, at every second frame.
    """

    key: str
    number: int
    place: float
    """Place between the keys after easing, 0 to 1; 0 for a key or a hold."""


def following(layer: Layer, key: Key) -> Key | None:
    """The next key on the layer."""
    return next((k for k in layer.keys if k.frame > key.frame), None)


def places(first: Key, second: Key) -> list[float]:
    """The place of what is shown at every frame of a span, both keys' included."""
    every = pace(first, second)
    return [every[_shown(first, n)] for n in range(len(every) - 1)] + every[-1:]


def _shown(key: Key, number: int) -> int:
    """The number of the frame whose in-between is shown so many frames after a key."""
    return number - number % key.span.take.exposure


def pace(first: Key, second: Key) -> list[float]:
    """The place of every frame of a span, both keys' included, as on ones."""
    even = np.arange(second.frame - first.frame + 1) / (second.frame - first.frame)
    return [float(p) for p in paced(first.span.take, even)]


def exposures(scene: Scene, layer: Layer, length: int) -> list[Exposure | None]:
    """What a layer shows at frames 1 to `length`; None before its first key."""
    source = scene.source(layer)
    if not source.keys:
        return [None] * length
    once, cycle = _played_once(source), layer.cycle
    start, stretch = (cycle.start, cycle.stretch) if cycle else (source.keys[0].frame, 1.0)
    gone = np.floor((np.arange(1, length + 1) - start) / stretch + WHOLE).astype(int)
    return [once[_repeated(source, n)] if n >= 0 else None for n in gone.tolist()]


def _played_once(layer: Layer) -> list[Exposure]:
    """What a layer of keys shows from its first key to its last."""
    shown = []
    for key, after in zip(layer.keys, [*layer.keys[1:], None], strict=True):
        steps = places(key, after) if after and key.span.inbetween else None
        for n in range(after.frame - key.frame if after else 1):
            number = _shown(key, n) if steps else 0
            shown.append(Exposure(key=key.id, number=number, place=steps[number] if steps else 0.0))
    return shown


def _repeated(layer: Layer, number: int) -> int:
    """The frame after the first key, up to the last, that a layer of keys shows so many frames after the first.

    Where it goes round, a last drawing that is the first again is not shown twice; back and forth, neither end is.
    """
    last = layer.keys[-1].frame - layer.keys[0].frame
    if layer.repeat == "once" or last == 0:
        return min(number, last)
    if layer.repeat == "there and back":
        return last - abs(last - number % (2 * last))
    return int(number % (last if layer.keys[0].drawing == layer.keys[-1].drawing else last + 1))


def frame(scene: Scene, n: int, drawings: Mapping[str, Drawing], plan_of: PlanOf) -> list[tuple[Layer, Drawing]]:
    """The visible layers of a scene from back to front, each with the drawing it shows at frame n (from 1)."""
    found = []
    for layer in scene.layers:
        shown = exposures(scene, layer, max(n, scene.length))[n - 1]
        if layer.hidden or shown is None:
            continue
        source = scene.source(layer)
        key = next(k for k in source.keys if k.id == shown.key)
        after = following(source, key)
        drawing = plan_of(key, after).at(shown.place) if shown.number and after else drawings[key.drawing]
        found.append((layer, moved(drawing, layer.cycle) if layer.cycle else drawing))
    return found


def moved(drawing: Drawing, cycle: Cycle) -> Drawing:
    """A drawing as a cycle shows it: scaled, turned and moved."""
    matrix = place_of(cycle)
    return Drawing(shapes=tuple(thickened(placed(shape, matrix), cycle.scale) for shape in drawing.shapes))


def place_of(cycle: Cycle) -> Floats:
    """The affine map, shape (2, 3), under which a cycle shows what it plays."""
    return posed(np.array(cycle.pivot), (cycle.scale, cycle.scale), np.radians(cycle.turn), np.array(cycle.move))
