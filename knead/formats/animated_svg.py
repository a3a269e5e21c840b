"""An animated SVG that plays by itself, without scripts: SMIL `animate` on paths with exact node structures."""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from knead.core.model import Drawing, Shape
from knead.formats.svg_paint import number
from knead.formats.svg_write import gradients_of, paper_rect, root_element, shape_attributes

UNANIMATED = {"fill-rule", "stroke-linecap", "stroke-linejoin"}  # of these a run keeps its first value
MISSING = {"stroke-dasharray": "none", "stroke-dashoffset": "0", "stroke-miterlimit": "4"}


@dataclass(frozen=True)
class Run:
    """Frames of one layer whose drawings share one structure: the same shapes, in one order, with the same nodes."""

    start: int
    drawings: Sequence[Drawing]


def animated_svg(
    layers: Sequence[tuple[float, Sequence[Drawing | None]]],
    rate: float,
    size: tuple[float, float],
    width: float,
    paper: str | None,
) -> str:
    """A looping document of layers from back to front, each an opacity and a drawing (or None) for every frame.

    `size` is the scene's, `width` that of the picture on the page; both in CSS pixels.
    """
    count = len(layers[0][1]) if layers else 1
    parts = [paper_rect(*size, paper)] if paper else []
    gradients: dict[str, str] = {}
    for shape in (s for _, drawings in layers for drawing in drawings if drawing for s in drawing.shapes):
        gradients |= gradients_of(shape)
    if gradients:
        parts.append("<defs>\n" + "\n".join(gradients.values()) + "\n</defs>")
    for opacity, drawings in layers:
        faded = "" if opacity >= 1 else f' opacity="{number(opacity)}"'
        groups = "\n".join(_run(run, count, rate) for run in runs(drawings))
        parts.append(f"<g{faded}>\n{groups}\n</g>")
    return root_element("\n".join(parts), width, width * size[1] / size[0], (0.0, 0.0, *size))


def runs(drawings: Sequence[Drawing | None]) -> list[Run]:
    """Part frames into runs of one structure; frames without a drawing are in none."""
    found: list[Run] = []
    structure: object = None
    for frame, drawing in enumerate(drawings):
        own = None if drawing is None else tuple(map(_structure, drawing.shapes))
        if drawing is not None:
            if own == structure and found:
                last = found[-1]
                found[-1] = Run(last.start, [*last.drawings, drawing])
            else:
                found.append(Run(frame, [drawing]))
        structure = own
    return found


def _structure(shape: Shape) -> object:
    kinds = shape_attributes(shape)
    contours = tuple((len(c.nodes), c.closed) for c in shape.contours)
    return shape.id, contours, tuple(kind.get(name) for kind in kinds for name in sorted(UNANIMATED))


def _run(run: Run, count: int, rate: float) -> str:
    """A group that shows only during its frames, with a path a shape."""
    seconds = count / rate
    end = run.start + len(run.drawings)
    paths = [
        _path(list(frames), run.start, count, seconds)
        for k in range(len(run.drawings[0].shapes))
        for frames in zip(*(shape_attributes(drawing.shapes[k]) for drawing in run.drawings), strict=True)
    ]
    if run.start == 0 and end == count:
        return "<g>\n" + "\n".join(paths) + "\n</g>"
    steps = [(0, "none"), (run.start, "inline"), (end, "none")]
    steps = [step for k, step in enumerate(steps) if k + 1 == len(steps) or steps[k + 1][0] > step[0]]
    shown = _animate("display", [s for s in steps if s[0] < count], count, seconds)
    first = "inline" if run.start == 0 else "none"
    return f'<g display="{first}">{shown}\n' + "\n".join(paths) + "\n</g>"


def _path(frames: list[dict[str, str]], start: int, count: int, seconds: float) -> str:
    """A path with an `animate` for each attribute that changes."""
    names = dict.fromkeys(name for frame in frames for name in frame)
    first = " ".join(f'{name}="{escape(value)}"' for name, value in frames[0].items())
    changes = []
    for name in names:
        if name in UNANIMATED:
            continue
        values = [frame.get(name, MISSING.get(name, "1")) for frame in frames]
        steps = [(start + k, v) for k, v in enumerate(values) if k == 0 or v != values[k - 1]]
        if len(steps) > 1:
            if start > 0:
                steps.insert(0, (0, steps[0][1]))
            changes.append(_animate(name, steps, count, seconds))
    return f"<path {first}/>" if not changes else f"<path {first}>" + "".join(changes) + "</path>"


def _animate(name: str, steps: list[tuple[int, str]], count: int, seconds: float) -> str:
    """Values that change at frames, for ever. Discrete: exactly the frames of the scene, at its rate."""
    times = ";".join(number(frame / count) if frame else "0" for frame, _ in steps)
    values = ";".join(value for _, value in steps)
    return (
        f'<animate attributeName="{name}" dur="{number(seconds)}s" repeatCount="indefinite" calcMode="discrete" '
        f'keyTimes="{times}" values="{escape(values)}"/>'
    )
