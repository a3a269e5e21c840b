"""The picture of a span's plan, for whoever goes on with it: an SVG sheet that can be printed.

Both keys with their hints, the ways between them, the timing chart, all drawings in their order, and what becomes what.
"""

import textwrap
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from html import escape

import numpy as np

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points
from knead.core.inbetween import SpanPlan, hint_points
from knead.core.model import Drawing, Key, Layer, Scene, Shape
from knead.core.playback import places
from knead.formats.svg_paint import number
from knead.formats.svg_write import drawing_paths, root_element

WIDE, EDGE, GAP = 1200.0, 24.0, 16.0
INNER = WIDE - 2 * EDGE
TALLEST = 460.0  # of a picture of a key
IN_A_ROW, COLUMNS = 10, 3
MOST = 60  # drawings are shown; of more, every other one, every third and so on
LINE, ROW = 17.0, 34.0
NUMBER = 18.0  # what the number of a frame takes up
LETTERS = 165  # of a note on a line
INK, SOFT, EDGES, THREAD, WAY = "#2b2927", "#6a6259", "#d9cdb9", "#2f4b6e", "#b5532a"


@dataclass(frozen=True)
class _View:
    """The part of the paper that all pictures show: its corner and extent, in scene units."""

    x: float
    y: float
    width: float
    height: float

    def tall(self, width: float) -> float:
        """How tall a picture of this width is."""
        return width * self.height / self.width


def plan_sheet(scene: Scene, layer: Layer, first: Key, second: Key, plan: SpanPlan) -> str:
    """The sheet for the span from one key to the next, as an SVG document."""
    view = _view_of(plan)
    parts: list[str] = []
    y = EDGE
    for found, height in (
        _heading(scene, layer, first, second),
        _keys(scene, view, first, second, plan),
        _chart(first, second),
        _drawings(scene, view, first, second, plan),
        _pairs(scene, plan),
    ):
        parts.append(f'<g transform="translate({number(EDGE)} {number(y)})">{found}</g>')
        y += height + GAP
    under = f'<rect width="{number(WIDE)}" height="{number(y)}" fill="#ffffff"/>'
    body = f'<g font-family="Figtree, Helvetica, Arial, sans-serif" font-size="12" fill="{INK}">{"".join(parts)}</g>'
    return root_element(under + body, WIDE, y)


def _view_of(plan: SpanPlan) -> _View:
    """What both keys take up, with a little room around."""
    rows = [as_points(pair.points(np.array([0.0, 0.5, 1.0])).ravel()) for pair in plan.pairs]
    points = np.concatenate([*rows, *([] if rows else [np.zeros((1, 2))])])
    low = points.min(axis=0)
    extent = np.maximum(np.ptp(points, axis=0), 1.0)
    room = 0.08 * extent.max()
    wide, tall = (extent + 2 * room).tolist()
    most = wide * TALLEST / (INNER / 3)  # no picture is taller than that
    shown = max(wide, tall * wide / most)
    return _View(float(low[0] - room - (shown - wide) / 2), float(low[1] - room), shown, tall)


def _heading(scene: Scene, layer: Layer, first: Key, second: Key) -> tuple[str, float]:
    take, count = first.span.take, second.frame - first.frame - 1
    title = f"{scene.name} · {layer.name} · key {first.frame} to key {second.frame}"
    ease = take.ease
    facts = [
        take.name,
        f"{count} frame{'s' * (count != 1)} between the keys, at {scene.rate:g} a second",
        "a chart by hand" if take.chart else f"ease out {ease.out:g}, in {ease.into:g}",
        *([f"anticipation {ease.anticipation:g}"] if ease.anticipation else []),
        *([f"overshoot {ease.overshoot:g}"] if ease.overshoot else []),
        *([f"drawings for {take.exposure} frames each"] if take.exposure > 1 else []),
        f"blend {take.blend}",
    ]
    lines = [line for text in take.note.splitlines() for line in textwrap.wrap(text, LETTERS)]
    found = _text(0.0, 18.0, title, 'font-size="20" font-weight="700"') + _text(
        0.0, 38.0, " · ".join(facts), f'fill="{SOFT}"'
    )
    for k, line in enumerate(lines):
        found += _text(0.0, 60.0 + k * LINE, line, 'font-size="13"')
    return found, 44.0 + (len(lines) * LINE + 6.0 if lines else 0.0)


def _called(key: Key) -> str:
    return f"key {key.frame}, {key.name}" if key.name else f"key {key.frame}"


def _keys(scene: Scene, view: _View, first: Key, second: Key, plan: SpanPlan) -> tuple[str, float]:
    """Both keys with the hints tied between them, and the ways of all pairs over both."""
    width = (INNER - 2 * GAP) / 3
    tall, scale = view.tall(width), width / view.width
    lefts = [k * (width + GAP) for k in range(3)]
    found = _picture(scene, view, (lefts[0], 0.0, width), drawing_paths(plan.first))
    found += _picture(scene, view, (lefts[1], 0.0, width), drawing_paths(plan.second))
    faint = f'<g opacity="0.4">{drawing_paths(plan.first)}</g><g opacity="0.4">{drawing_paths(plan.second)}</g>'
    found += _picture(scene, view, (lefts[2], 0.0, width), faint + _ways(first, second, plan, 1.0 / scale))
    for k, word in enumerate((_called(first), _called(second), "the way of each")):
        found += _text(lefts[k], tall + LINE, word, f'fill="{SOFT}"')
    for hint in first.span.take.hints:
        ends = hint_points(plan, hint)
        if ends is None:
            continue
        spots = [
            (left + (end[0] - view.x) * scale, (end[1] - view.y) * scale)
            for left, end in zip(lefts, ends, strict=False)
        ]
        broken = any(trouble.hint == hint.id for trouble in plan.troubles)
        found += _thread(spots, hint.name, broken)
    return found, tall + LINE


def _thread(spots: list[tuple[float, float]], name: str, broken: bool) -> str:
    (x0, y0), (x1, y1) = spots
    bend = (x1 - x0) / 3
    d = f"M{number(x0)} {number(y0)}C{number(x0 + bend)} {number(y0)} {number(x1 - bend)} {number(y1)} "
    d += f"{number(x1)} {number(y1)}"
    dashes = ' stroke-dasharray="6 5"' if broken else ""
    dots = "".join(
        f'<circle cx="{number(x)}" cy="{number(y)}" r="4" fill="#ffffff" stroke="{THREAD}" stroke-width="1.5"/>'
        for x, y in spots
    )
    lines = f'<path d="{d}" stroke="#ffffff" stroke-width="4" opacity="0.75"/>'
    lines += f'<path d="{d}" stroke="{THREAD}" stroke-width="1.5"{dashes}/>'
    halo = 'stroke="#ffffff" stroke-width="3" paint-order="stroke" stroke-linejoin="round"'
    return f'<g fill="none">{lines}</g>{dots}' + _text(x0 + 8.0, y0 - 6.0, name, halo)


def _ways(first: Key, second: Key, plan: SpanPlan, unit: float) -> str:
    """The way of the middle of each pair, with a dot at each frame; `unit` is a unit of the sheet in the scene's."""
    times = np.array(places(first, second))
    found = ""
    for pair in plan.pairs:
        if pair.first_id is None or pair.second_id is None:
            continue
        even = _middles(pair.points(np.linspace(times.min(), times.max(), 33)))
        d = "M" + "L".join(f"{number(z.real)} {number(z.imag)}" for z in even.tolist())
        found += f'<path d="{d}" fill="none" stroke="#ffffff" stroke-width="{number(3 * unit)}" opacity="0.6"/>'
        found += f'<path d="{d}" fill="none" stroke="{WAY}" stroke-width="{number(1.4 * unit)}"/>'
        for z in _middles(pair.points(times)).tolist():
            found += f'<circle cx="{number(z.real)}" cy="{number(z.imag)}" r="{number(1.8 * unit)}" fill="{WAY}"/>'
    return found


def _middles(rows: Complexes) -> Complexes:
    return np.asarray(rows[:, 1::3].mean(axis=1))


def _chart(first: Key, second: Key) -> tuple[str, float]:
    """The timing chart: a line from key to key with a tick where each drawing stands between them."""
    steps = places(first, second)
    low, high = min(0.0, *steps), max(1.0, *steps)
    reach, level = INNER - 40.0, 34.0
    at = [20.0 + reach * (place - low) / (high - low) for place in steps]
    found = f'<path d="M{number(min(at))} {level}H{number(max(at))}" stroke="{INK}" stroke-width="1.2"/>'
    above = -np.inf  # where the last number stands above the line
    for k in sorted((k for k in range(len(at)) if _is_new(steps, k)), key=lambda k: at[k]):
        key = k in (0, len(at) - 1)
        half, weight = (13.0, ' font-weight="700"') if key else (8.0, "")
        found += f'<path d="M{number(at[k])} {level - half}V{level + half}" stroke="{INK}" stroke-width="1.2"/>'
        free = at[k] - above > NUMBER
        above = at[k] if free else above
        more = f'text-anchor="middle"{weight}'
        found += _text(at[k], level + (-18.0 if free else 28.0), str(first.frame + k), more)
    return found, 66.0


def _is_new(steps: Sequence[float], k: int) -> bool:
    """Whether a drawing is not the one before it, held."""
    return k == 0 or steps[k] != steps[k - 1]


def _drawings(scene: Scene, view: _View, first: Key, second: Key, plan: SpanPlan) -> tuple[str, float]:
    """The drawings from key to key in their order; one that is held is shown once."""
    steps = places(first, second)
    own = [k for k in range(len(steps)) if _is_new(steps, k)]
    shown = [*own[: -1 : -(-len(own) // MOST)], own[-1]]
    drawings = plan.over([steps[k] for k in shown])
    width = (INNER - (IN_A_ROW - 1) * GAP / 2) / IN_A_ROW
    tall = view.tall(width) + LINE + 4.0
    found = ""
    for n, (k, drawing) in enumerate(zip(shown, drawings, strict=True)):
        key = k in (0, len(steps) - 1)
        x, y = (n % IN_A_ROW) * (width + GAP / 2), (n // IN_A_ROW) * (tall + 6.0)
        found += _picture(scene, view, (x, y, width), drawing_paths(drawing))
        word = f"KEY {first.frame + k}" if key else f"{first.frame + k} · {round(steps[k], 2) + 0.0:.2f}"
        weight = ' font-weight="700"' if key else ""
        found += _text(x + width / 2, y + tall - 5.0, word, f'text-anchor="middle" font-size="11"{weight}')
    return found, -(-len(shown) // IN_A_ROW) * (tall + 6.0)


def _pairs(scene: Scene, plan: SpanPlan) -> tuple[str, float]:
    """What becomes what, with both pictures, and how it travels; in columns."""
    rows = list(_rows(plan))
    width, down = INNER / COLUMNS, -(-len(rows) // COLUMNS)
    found = ""
    for k, (firsts, seconds, names, words) in enumerate(rows):
        x, y = (k // max(down, 1)) * width, (k % max(down, 1)) * ROW
        found += _sample(scene, firsts, x, y) + _sample(scene, seconds, x + 36.0, y)
        found += _text(x + 76.0, y + 13.0, textwrap.shorten(names, 44, placeholder="…"))
        found += _text(
            x + 76.0, y + 26.0, textwrap.shorten(words, 58, placeholder="…"), f'fill="{SOFT}" font-size="11"'
        )
    return found, down * ROW


def _rows(plan: SpanPlan) -> Iterator[tuple[list[Shape], list[Shape], str, str]]:
    """Of each pair its shapes in both keys, their names, and in words how it goes."""
    for pair in plan.pairs:
        firsts = [shape for shape in plan.first.shapes if shape.id in pair.pair.firsts]
        seconds = [shape for shape in plan.second.shapes if shape.id in pair.pair.seconds]
        names = " → ".join(dict.fromkeys(shape.name for shape in (*firsts, *seconds)))
        if not firsts or not seconds:
            words = "vanishes" if firsts else "appears"
        else:
            kind = {"joins": "joins with others, ", "divides": "a piece of what divides, ", "recut": "cut anew, "}
            words = f"{kind.get(pair.pair.kind, '')}{pair.way}: {pair.way_reason}"
        yield firsts, seconds, names, words


def _sample(scene: Scene, shapes: Sequence[Shape], x: float, y: float) -> str:
    """A little picture of some shapes."""
    if not shapes:
        return ""
    nodes = np.array([node.at for shape in shapes for contour in shape.contours for node in contour.nodes])
    low, high = nodes.min(axis=0), nodes.max(axis=0)
    size = 1.2 * max(float((high - low).max()), 1.0)
    left, top = ((low + high - size) / 2).tolist()
    drawing = Drawing(shapes=tuple(shapes))
    return _picture(scene, _View(left, top, size, size), (x, y, 30.0), drawing_paths(drawing))


def _picture(scene: Scene, view: _View, place: tuple[float, float, float], content: str) -> str:
    """What is in view on the scene's paper, at a place of the sheet: left, top and width."""
    x, y, width = (number(value) for value in place)
    tall = number(view.tall(place[2]))
    box = " ".join(number(value) for value in (view.x, view.y, view.width, view.height))
    return (
        f'<rect x="{x}" y="{y}" width="{width}" height="{tall}" fill="{scene.paper}" stroke="{EDGES}"/>'
        f'<svg x="{x}" y="{y}" width="{width}" height="{tall}" viewBox="{box}">{content}</svg>'
    )


def _text(x: float, y: float, words: str, more: str = "") -> str:
    shown = "".join(letter for letter in words if letter.isprintable())  # XML knows no others
    return f'<text x="{number(x)}" y="{number(y)}" {more}>{escape(shown)}</text>'
