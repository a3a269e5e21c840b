"""Draws demo/roughs/: pencil sketches of the pond's figures, as a scanner would give them: `python -m tools.roughs`."""

import io
from collections.abc import Sequence

import numpy as np
from PIL import Image

from knead.core.geometry import forms
from knead.core.geometry.bezier import Floats, path_of, transformed
from knead.core.geometry.track import measure
from knead.core.model import Contour, Node, Point
from knead.formats.pictures import png_of
from knead.formats.svg_read import read_svg_file
from knead.formats.svg_write import root_element
from knead.service.demo import DEMO
from knead.service.roughs import FOLDER

SIZE = (960, 640)
GRAPHITE = "#3d3b40"


def main() -> None:
    """All sketches."""
    pond = DEMO / "pond-at-dusk"
    fine = {"spot a", "spot b", "spot c", "glint", "iris", "nostril"}
    for name, file in (("tadpole", "tadpole-1"), ("froglet", "tadpole-4"), ("lily", "lily-2")):
        drawn = read_svg_file(pond / f"{file}.svg").drawing
        lines = [c for shape in drawn.shapes if shape.name not in fine for c in shape.contours]
        _keep(name, _centred(lines), seed=len(name))
    _keep("froglet face", _face(), seed=11)


def _face() -> list[Contour]:
    """A froglet seen from the front, with the lines that a construction begins with."""
    head, cheeks = forms.ellipse(250, 200, 460, 330), forms.ellipse(220, 330, 520, 170)
    eyes = [forms.ellipse(x, 110, 150, 150) for x in (275, 535)]
    pupils = [forms.ellipse(x, 150, 62, 78) for x in (322, 572)]
    mouth = _line((300, 395), (400, 455), (560, 455), (660, 395))
    corners = [
        _line((288, 382), (296, 392), (300, 404), (298, 416)),
        _line((672, 382), (664, 392), (660, 404), (662, 416)),
    ]
    nose = [forms.ellipse(x, 322, 14, 20) for x in (440, 506)]
    middle = [
        _line((480, 70), (481, 240), (479, 420), (480, 590)),
        _line((190, 300), (380, 294), (580, 294), (770, 300)),
    ]
    return [head, cheeks, *eyes, *pupils, mouth, *corners, *nose, *middle]


def _line(
    start: tuple[float, float], one: tuple[float, float], two: tuple[float, float], end: tuple[float, float]
) -> Contour:
    a, b, c, d = Point(*start), Point(*one), Point(*two), Point(*end)
    return Contour(nodes=(Node(at=a, before=a, after=b), Node(at=d, before=c, after=d)))


def _centred(lines: Sequence[Contour]) -> list[Contour]:
    points = np.concatenate([path_of(c).reshape(-1, 2) for c in lines])
    low, high = points.min(axis=0), points.max(axis=0)
    scale = float(np.min((np.array(SIZE) - 160) / (high - low)))
    move = np.array(SIZE) / 2 - scale * (low + high) / 2
    return [transformed(c, np.array([[scale, 0, move[0]], [0, scale, move[1]]])) for c in lines]


def _keep(name: str, lines: Sequence[Contour], seed: int) -> None:
    random = np.random.default_rng(seed)
    strokes = "".join(_pencil(line, random) for line in lines for _ in range(2))
    paper = '<rect width="100%" height="100%" fill="#fbfaf6"/>'
    png = png_of(root_element(paper + strokes, float(SIZE[0]), float(SIZE[1])), SIZE[0])
    pixels = np.asarray(Image.open(io.BytesIO(png)).convert("L"), dtype=float)
    grain = random.normal(0.0, 7.0, pixels.shape) * np.clip((246 - pixels) / 90, 0.0, 1.0)
    FOLDER.mkdir(exist_ok=True)
    sheet = Image.fromarray(np.clip(pixels + grain, 0, 255).astype(np.uint8)).quantize(16)
    sheet.save(FOLDER / f"{name}.png", optimize=True)


def _pencil(line: Contour, random: np.random.Generator) -> str:
    """One pass of a pencil along a line: a little off it, overshooting, its weight going up and down."""
    track = measure(path_of(line), line.closed)
    count = max(12, int(track.length / 7))
    start = random.uniform(0, 1) if line.closed else 0.0
    over = random.uniform(0.01, 0.04) if line.closed else 0.0
    points = track.points(np.linspace(start, start + 1 + over, count)) + _drift(count, random, 2.4)
    weight = 0.55 + 0.28 * _drift(count, random, 1.0)[:, 0]
    return "".join(
        f'<path d="M{a[0]:.1f} {a[1]:.1f}L{b[0]:.1f} {b[1]:.1f}" stroke="{GRAPHITE}" stroke-linecap="round" '
        f'stroke-width="{1.1 + 0.9 * max(w, 0.1):.2f}" stroke-opacity="{float(np.clip(w, 0.15, 0.9)):.2f}"/>'
        for a, b, w in zip(points[:-1], points[1:], weight, strict=False)
    )


def _drift(count: int, random: np.random.Generator, size: float) -> Floats:
    """A slow random walk to and fro, shape (count, 2)."""
    knots = random.normal(0.0, size / 1.6, (max(4, count // 9), 2))
    at = np.linspace(0, len(knots) - 1, count)
    return np.stack([np.interp(at, np.arange(len(knots)), knots[:, k]) for k in (0, 1)], axis=1)


if __name__ == "__main__":
    main()
