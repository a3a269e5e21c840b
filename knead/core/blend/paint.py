"""How fills, strokes and opacity change between two shapes, one of which may lack them."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from knead.core.color import to_hex, to_oklab
from knead.core.geometry.bezier import Floats
from knead.core.model import Fill, Paint, Shape, Stroke


@dataclass(frozen=True, eq=False)
class PaintPlan:
    """Looks of a pair over time. A fill that only one key has fades; a stroke that only one has thins out."""

    first: Shape
    second: Shape

    @property
    def constant(self) -> bool:
        """Whether both keys look the same."""
        a, b = self.first, self.second
        return a.fill == b.fill and a.stroke == b.stroke and a.opacity == b.opacity

    def at(self, times: Floats) -> list[tuple[Fill | None, Stroke | None, float]]:
        """Fill, stroke and opacity at each time. The keys' own looks at 0 and 1."""
        fills = _fills(self.first.fill, self.second.fill, times)
        strokes = _strokes(self.first.stroke, self.second.stroke, times)
        opacity = self.first.opacity + times * (self.second.opacity - self.first.opacity)
        looks = list(zip(fills, strokes, opacity.tolist(), strict=True))
        for k, t in enumerate(times.tolist()):
            if t in (0.0, 1.0):
                key = self.first if t == 0.0 else self.second
                looks[k] = key.fill, key.stroke, key.opacity
        return looks


def _paints(first: Paint, second: Paint, times: Floats) -> list[Paint]:
    """Colours between two in OKLab, premultiplied by opacity so that a fading colour does not tint the other."""
    a, b = to_oklab(first.color), to_oklab(second.color)
    opacity = first.opacity + times * (second.opacity - first.opacity)
    weight = np.where(opacity > 0, times * second.opacity / np.maximum(opacity, 1e-12), times)
    colors = to_hex(a + weight[:, None] * (b - a))
    return [Paint(color=c, opacity=o) for c, o in zip(colors, np.clip(opacity, 0, 1).tolist(), strict=True)]


def _clear(paint: Paint) -> Paint:
    return paint.model_copy(update={"opacity": 0.0})


def _fills(first: Fill | None, second: Fill | None, times: Floats) -> list[Fill | None]:
    if first is None and second is None:
        return [None] * len(times)
    one = first or Fill(paint=_clear(second.paint), rule=second.rule) if second else first
    two = second or Fill(paint=_clear(first.paint), rule=first.rule) if first else second
    assert one is not None
    assert two is not None
    rule: Literal["nonzero", "evenodd"] = "evenodd" if "evenodd" in (one.rule, two.rule) else "nonzero"
    return [Fill(paint=paint, rule=rule) for paint in _paints(one.paint, two.paint, times)]


def _strokes(first: Stroke | None, second: Stroke | None, times: Floats) -> list[Stroke | None]:
    if first is None and second is None:
        return [None] * len(times)
    one, two = first or second, second or first
    assert one is not None
    assert two is not None
    width = (one.width if first else 0.0) * (1 - times) + (two.width if second else 0.0) * times
    paints = _paints(one.paint, two.paint, times)
    found: list[Stroke | None] = []
    for t, w, paint in zip(times.tolist(), width.tolist(), paints, strict=True):
        kept = one if t < 0.5 else two  # caps and joins switch half way
        limit = one.miter_limit + t * (two.miter_limit - one.miter_limit)
        found.append(kept.model_copy(update={"paint": paint, "width": w, "miter_limit": limit}))
    return found
