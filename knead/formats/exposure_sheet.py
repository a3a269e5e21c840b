"""The exposure sheet: a table of comma-separated values with a row for each frame, and a column for each layer."""

import csv
import io
from collections.abc import Sequence

from knead.core.model import Layer, Scene
from knead.core.playback import Exposure, exposures

HELD = "|"
FORMULA = ("=", "+", "-", "@")  # what a spreadsheet would work out, were it the beginning of a name


def exposure_sheet(scene: Scene, frames: Sequence[int]) -> bytes:
    """Which drawing each visible layer shows at each of the frames, numbered from 1; layers go from back to front.

    A drawing is named by the frame at which it stands on the layer that it was drawn on, in brackets if it is a key,
    and in angle brackets if it is a breakdown, with its name behind it. Where it is held, there is a bar. Layers of
    pictures are left out.
    """
    layers = [layer for layer in scene.layers if not layer.hidden and layer.picture is None]
    columns = [_column(scene, layer, frames) for layer in layers]
    text = io.StringIO(newline="")
    table = csv.writer(text)
    table.writerow(["frame", "seconds", *(_heading(scene, layer) for layer in layers)])
    for row, names in enumerate(zip(*columns, strict=True) if columns else [()] * len(frames)):
        table.writerow([frames[row], f"{row / scene.rate:.3f}", *names])
    return text.getvalue().encode("utf-8-sig")  # the mark by which spreadsheets know its encoding


def _heading(scene: Scene, layer: Layer) -> str:
    name = layer.name if layer.cycle is None else f"{layer.name} (plays {scene.source(layer).name})"
    return f"'{name}" if name.startswith(FORMULA) else name


def _column(scene: Scene, layer: Layer, frames: Sequence[int]) -> list[str]:
    shown = exposures(scene, layer, max(frames))
    keys = {key.id: key for key in scene.source(layer).keys}

    def name(exposure: Exposure | None) -> str:
        if exposure is None:
            return ""
        key = keys[exposure.key]
        if exposure.number:
            return str(key.frame + exposure.number)
        number = f"<{key.frame}>" if key.breakdown else f"[{key.frame}]"
        return f"{number} {key.name}" if key.name else number

    names = [name(shown[n - 1]) for n in frames]
    return [HELD if own and own == before else own for own, before in zip(names, ["", *names], strict=False)]
