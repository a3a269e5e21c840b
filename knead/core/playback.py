"""What is shown at which frame: keys, holds and in-betweens of every layer."""

from collections.abc import Callable, Mapping

import numpy as np

from knead.core.inbetween import SpanPlan
from knead.core.model import Drawing, Key, Layer, Model, Scene
from knead.core.pace.ease import eased

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
    """The eased place of every frame of a span, both keys' included, as on ones."""
    even = np.arange(second.frame - first.frame + 1) / (second.frame - first.frame)
    return [float(p) for p in eased(first.span.take.ease, even)]


def exposures(layer: Layer, length: int) -> list[Exposure | None]:
    """What the layer shows at frames 1 to `length`; None before its first key."""
    shown: list[Exposure | None] = [None] * length
    for key in layer.keys:
        after = following(layer, key)
        end = after.frame if after else length + 1
        steps = places(key, after) if after and key.span.inbetween else None
        for frame in range(key.frame, min(end, length + 1)):
            number = _shown(key, frame - key.frame) if steps else 0
            shown[frame - 1] = Exposure(key=key.id, number=number, place=steps[number] if steps else 0.0)
    return shown


def frame(scene: Scene, n: int, drawings: Mapping[str, Drawing], plan_of: PlanOf) -> list[tuple[Layer, Drawing]]:
    """The visible layers of a scene from back to front, each with the drawing it shows at frame n (from 1)."""
    found = []
    for layer in scene.layers:
        shown = exposures(layer, max(n, scene.length))[n - 1]
        if layer.hidden or shown is None:
            continue
        key = next(k for k in layer.keys if k.id == shown.key)
        after = following(layer, key)
        if shown.number == 0 or after is None:
            found.append((layer, drawings[key.drawing]))
        else:
            found.append((layer, plan_of(key, after).at(shown.place)))
    return found
