"""How fills, strokes and opacity change between two shapes, one of which may lack them."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, partial

import numpy as np

from knead.core.blend.paint.gradient import Carry, gradients
from knead.core.color import to_hex, to_oklab
from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import track_of
from knead.core.model import Fill, Paint, Shape, Stroke
from knead.core.model.style import LONGEST_DASH

Looks = tuple[Fill | None, Stroke | None, float]
Mix = Callable[[Paint, Paint], list[Paint]]


@dataclass(frozen=True, eq=False)
class PaintPlan:
    """Looks of a pair over time. A fill that only one key has fades; a stroke that only one has thins out.

    The line of the second key is run from its end where it is `turned`.
    """

    first: Shape
    second: Shape
    turned: bool = False

    @cached_property
    def backwards(self) -> "PaintPlan":
        """The same seen from the second key."""
        return PaintPlan(self.second, self.first, self.turned)

    @cached_property
    def _there(self) -> Shape:
        """The second key, as its line is run."""
        stroke = self.second.stroke
        if not self.turned or stroke is None:
            return self.second
        length = track_of(self.second.contours[0]).length
        return self.second.model_copy(update={"stroke": run_back(stroke, length)})

    @property
    def constant(self) -> bool:
        """Whether both keys look the same."""
        a, b = self.first, self._there
        return a.fill == b.fill and a.stroke == b.stroke and a.opacity == b.opacity

    @cached_property
    def even(self) -> bool:
        """Whether no line is wider in one place than in another."""
        return all(node.weight == 1.0 for key in (self.first, self.second) for c in key.contours for node in c.nodes)

    def at(self, times: Floats, carry: Carry, motion: tuple[complex, complex]) -> list[Looks]:
        """Fill, stroke and opacity at each time; the keys' own at 0 and 1. Gradients are carried along."""
        a, b = self.first, self._there
        mix = partial(_paints, times=times, carry=carry, motion=motion)
        fills, strokes = self._fills(times, mix), _strokes(a.stroke, b.stroke, times, mix)
        opacity = a.opacity + times * (b.opacity - a.opacity)
        looks: list[Looks] = list(zip(fills, strokes, opacity.tolist(), strict=True))
        for k, t in enumerate(times.tolist()):
            if t in (0.0, 1.0):
                key = a if t == 0.0 else b
                looks[k] = key.fill, key.stroke, key.opacity
        return looks

    def _fills(self, times: Floats, mix: Mix) -> list[Fill | None]:
        first, second = self.first.fill, self.second.fill
        if first is None and second is None:
            return [None] * len(times)
        one = first or Fill(paint=_clear(second.paint), rule=second.rule) if second else first
        two = second or Fill(paint=_clear(first.paint), rule=first.rule) if first else second
        assert one is not None
        assert two is not None
        # an outline may have been turned round to lie on its partner: holes must not depend on their direction
        holes = "evenodd" in (one.rule, two.rule) and max(len(self.first.contours), len(self.second.contours)) > 1
        rules = ["evenodd" if holes else one.rule if t < 0.5 else two.rule for t in times.tolist()]
        return [Fill(paint=p, rule=r) for p, r in zip(mix(one.paint, two.paint), rules, strict=True)]


def run_back(stroke: Stroke, length: float) -> Stroke:
    """How a line of this length is drawn that is run from its end: what is shown of it, and its dashes, stay there."""
    start, end = stroke.reveal
    dashes = stroke.dashes * (2 if len(stroke.dashes) % 2 else 1)
    if not dashes:
        return stroke.model_copy(update={"reveal": (1.0 - end, 1.0 - start)})
    offset = float(np.mod(-length - stroke.dash_offset - dashes[-1], max(sum(dashes), 1e-9)))
    back = (*dashes[-2::-1], dashes[-1])  # a pattern begins with a dash and ends with a gap
    return stroke.model_copy(update={"reveal": (1.0 - end, 1.0 - start), "dashes": back, "dash_offset": offset})


def _paints(first: Paint, second: Paint, times: Floats, carry: Carry, motion: tuple[complex, complex]) -> list[Paint]:
    """Colours between two in OKLab, premultiplied by opacity so that a fading colour does not tint the other."""
    if first.gradient or second.gradient:
        return gradients(first, second, times, carry, motion)
    a, b = to_oklab(first.color), to_oklab(second.color)
    opacity = first.opacity + times * (second.opacity - first.opacity)
    weight = np.where(opacity > 0, times * second.opacity / np.maximum(opacity, 1e-12), times)
    colors = to_hex(a + weight[:, None] * (b - a))
    return [Paint(color=c, opacity=o) for c, o in zip(colors, np.clip(opacity, 0, 1).tolist(), strict=True)]


def _clear(paint: Paint) -> Paint:
    return paint.model_copy(update={"opacity": 0.0})


def _strokes(first: Stroke | None, second: Stroke | None, times: Floats, mix: Mix) -> list[Stroke | None]:
    if first is None and second is None:
        return [None] * len(times)
    one, two = first or second, second or first
    assert one is not None
    assert two is not None
    width = (one.width if first else 0.0) * (1 - times) + (two.width if second else 0.0) * times
    dashes = _dashes(one, two, times)
    found: list[Stroke | None] = []
    for k, (t, paint) in enumerate(zip(times.tolist(), mix(one.paint, two.paint), strict=True)):
        kept = one if t < 0.5 else two  # caps and joins switch half way
        found.append(
            kept.model_copy(
                update={
                    "paint": paint,
                    "width": float(width[k]),
                    "miter_limit": _between(one.miter_limit, two.miter_limit, t),
                    "dashes": dashes[k],
                    "dash_offset": _between(one.dash_offset, two.dash_offset, t),
                    "reveal": tuple(_between(a, b, t) for a, b in zip(one.reveal, two.reveal, strict=True)),
                }
            )
        )
    return found


def _between(a: float, b: float, t: float) -> float:
    return a + t * (b - a)


def _dashes(one: Stroke, two: Stroke, times: Floats) -> list[tuple[float, ...]]:
    """Dash patterns of one count: the shorter is repeated; a solid line is the other's dashes without gaps."""
    if not one.dashes and not two.dashes:
        return [()] * len(times)
    rows = [np.array(s.dashes * (2 if len(s.dashes) % 2 else 1)) for s in (one, two)]
    for k in (0, 1):
        if not len(rows[k]):
            pairs = rows[1 - k].reshape(-1, 2)
            whole = np.minimum(pairs.sum(axis=1), LONGEST_DASH)
            rows[k] = np.stack([whole, np.zeros(len(pairs))], axis=1).ravel()
    count = min(int(np.lcm(len(rows[0]), len(rows[1]))), 16)
    a, b = (np.resize(row, count) for row in rows)
    return [tuple(row) for row in ((1 - times[:, None]) * a + times[:, None] * b).tolist()]
