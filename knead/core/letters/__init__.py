"""Letters of the shipped open font as outlines."""

from functools import cache
from importlib.resources import files
from typing import Any

import uharfbuzz
from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont

from knead.core.geometry.bezier import kind_of
from knead.core.model import Contour, Node, Point

FONT = "figtree-semibold.ttf"


@cache
def shipped_font() -> TTFont:
    """The font that ships with Knead (SIL Open Font License)."""
    with files(__name__).joinpath(FONT).open("rb") as file:
        return TTFont(file, lazy=False)


@cache
def _shaper() -> uharfbuzz.Font:
    return uharfbuzz.Font(uharfbuzz.Face(uharfbuzz.Blob(files(__name__).joinpath(FONT).read_bytes())))


def letter_outlines(text: str, size: float, x: float, y: float) -> list[tuple[str, tuple[Contour, ...]]]:
    """The letters of a text and their contours; the first begins at x on the baseline y, `size` units to the em.

    Lines are parted by line breaks, 1.2 em apart. Letters are set as the font asks for (HarfBuzz): pairs such as AV
    move together; but none melt into one, since each is a shape. Blanks move on and give nothing. What the font lacks
    gives its empty-box glyph.
    """
    font = shipped_font()
    scale = size / font["head"].unitsPerEm
    glyphs = font.getGlyphSet()
    found = []
    for row, line in enumerate(text.splitlines()):
        at = x
        for letter, glyph, (dx, dy), advance in _set(line):
            pen = _ContourPen(glyphs, scale, at + dx * scale, y + 1.2 * size * row - dy * scale)
            glyphs[font.getGlyphName(glyph)].draw(pen)
            if pen.contours:
                found.append((letter, tuple(pen.contours)))
            at += advance * scale
    return found


def _set(line: str) -> list[tuple[str, int, tuple[int, int], int]]:
    """The glyphs of a line: its letter, its number in the font, how far it is shifted, how far it moves on."""
    buffer = uharfbuzz.Buffer()
    buffer.add_str(line)
    buffer.guess_segment_properties()
    uharfbuzz.shape(_shaper(), buffer, {"liga": False, "clig": False})
    return [
        (line[info.cluster], info.codepoint, (place.x_offset, place.y_offset), place.x_advance)
        for info, place in zip(buffer.glyph_infos or (), buffer.glyph_positions or (), strict=True)
    ]


class _ContourPen(BasePen):  # type: ignore[misc]
    """Collects contours; BasePen turns the font's quadratic curves into cubic ones, exactly."""

    def __init__(self, glyphs: Any, scale: float, x: float, y: float) -> None:
        super().__init__(glyphs)
        self.contours: list[Contour] = []
        self._scale, self._origin = scale, (x, y)
        self._triples: list[list[Point]] = []

    def _place(self, p: tuple[float, float]) -> Point:
        return Point(self._origin[0] + self._scale * p[0], self._origin[1] - self._scale * p[1])

    def _moveTo(self, point: tuple[float, float]) -> None:
        self._triples = [[self._place(point)] * 3]

    def _lineTo(self, point: tuple[float, float]) -> None:
        self._triples.append([self._place(point)] * 3)

    def _curveToOne(self, one: tuple[float, float], two: tuple[float, float], end: tuple[float, float]) -> None:
        self._triples[-1] = [*self._triples[-1][:2], self._place(one)]
        self._triples.append([self._place(two), self._place(end), self._place(end)])

    def _closePath(self) -> None:
        first, last = self._triples[0], self._triples[-1]
        if len(self._triples) > 1 and first[1] == last[1]:
            self._triples[0] = [last[0], first[1], first[2]]
            self._triples.pop()
        nodes = (Node(before=b, at=p, after=a, kind=kind_of(b, p, a)) for b, p, a in self._triples)
        self.contours.append(Contour(nodes=tuple(nodes), closed=True))

    _endPath = _closePath
