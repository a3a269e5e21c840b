"""SVG in: shapes as final coordinates in the root's user units, and a list in words of what could not be kept."""

import io
import math
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import svgelements as svg
from defusedxml import ElementTree
from shapely.errors import GEOSException

from knead.core.geometry.bezier import Floats, contour_of, path_of
from knead.core.geometry.overlap import Area, NotToldApart
from knead.core.model import Contour, Drawing, Fill, Paint, Shape, Stroke
from knead.formats.svg_clip import clipped, mark_clips, numbers_on
from knead.formats.svg_guard import MOST_BYTES, BadSvg, safe_root
from knead.formats.svg_lost import what_is_lost
from knead.formats.svg_names import MARK, NAME, in_parts, mark_groups
from knead.formats.svg_paint import GradientBook
from knead.formats.svg_plain import make_plain, number, plain_length
from knead.formats.svg_style import inline_styles

MEETS = 1e-4  # how near to its start a line ends, by its size, that ends where it began
SMOOTH = 0.02  # radians; what turns by less where it ends has no corner there
# what the reading library raises where it meets what it did not expect
UNREADABLE = (ValueError, TypeError, KeyError, AttributeError, IndexError, RecursionError, ArithmeticError)


@dataclass(frozen=True)
class Canvas:
    """The root's view: origin and size in user units."""

    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class SvgDrawing:
    """What was read: a drawing, the SVG ids of its shapes (by shape id), its canvas, and what was lost, in words."""

    drawing: Drawing
    ids: dict[str, str]
    canvas: Canvas
    lost: tuple[str, ...]


def read_svg(data: bytes, what: str = "The file") -> SvgDrawing:
    """Read an SVG document. Raises BadSvg with a sentence that begins with `what`."""
    root = safe_root(data, what)
    canvas = _canvas(root, what)
    for name in ("width", "height"):
        root.attrib.pop(name, None)
    inline_styles(root)
    make_plain(root, canvas.width, canvas.height)
    mark_groups(root)
    root.set("viewBox", f"{canvas.x!r} {canvas.y!r} {canvas.width!r} {canvas.height!r}")
    documents = mark_clips(root, (canvas.x, canvas.y, canvas.width, canvas.height))
    gradients = GradientBook(root)
    tree = _parsed(ElementTree.tostring(root, encoding="unicode"), what)
    clips = [_clip(document, canvas, what) for document in documents]
    read: list[tuple[int, Shape]] = []
    ids: dict[str, str] = {}
    groups: list[str] = []
    unclipped = 0
    for count, element in enumerate((e for e in tree.elements() if _is_drawn(e)), start=1):
        try:
            shape = _shape(element, canvas, gradients, what)
            pieces, told = _seen(shape, [clips[number] for number in numbers_on(element.values)])
        except UNREADABLE as error:
            raise BadSvg(f"{what} has a shape that can't be read ({element.id or count}): {error}.") from error
        unclipped += not told
        for piece in pieces:
            name = element.id or f"shape-{count}"
            while name in ids.values():
                name += "'"
            ids[piece.id] = name
            given = element.values.get(NAME) or element.id or ""
            read.append((count, piece.model_copy(update={"name": given[:120].strip()})))
            groups.append(element.values.get(MARK) or "")
    # a counted name pairs nothing
    shapes = [
        shape if shape.name else shape.model_copy(update={"name": f"shape {count}"})
        for (count, _), shape in zip(read, in_parts([shape for _, shape in read], groups), strict=True)
    ]
    return SvgDrawing(Drawing(shapes=tuple(shapes)), ids, canvas, what_is_lost(root, unclipped))


def _parsed(text: str, what: str) -> Any:
    try:
        return svg.SVG.parse(io.StringIO(text), reify=False, ppi=96.0)
    except UNREADABLE as error:
        raise BadSvg(f"{what} is not a drawing that can be read: its shapes are damaged ({error}).") from error


def _clip(document: str, canvas: Canvas, what: str) -> Area:
    """What a clip shows, given as a document."""
    found: list[Contour] = []
    for element in _parsed(document, what).elements():
        if isinstance(element, svg.Shape):
            path = svg.Path(element)
            path.reify()
            found += _contours(path, np.array([canvas.x, canvas.y]), what)
    return Area(tuple(path_of(contour.model_copy(update={"closed": True})) for contour in found))


def _seen(shape: Shape | None, clips: list[Area]) -> tuple[list[Shape], bool]:
    """What clips leave of a shape, and whether that could be told of each of them."""
    pieces = [shape] if shape is not None else []
    try:
        for clip in clips:
            pieces = [piece for each in pieces for piece in clipped(each, clip)]
    except (NotToldApart, GEOSException):
        return pieces, False
    return pieces, True


def read_svg_file(path: Path) -> SvgDrawing:
    """Read an SVG file. Raises BadSvg."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BadSvg(f"{path.name} is larger than {MOST_BYTES // 2**20} MB.")
        return read_svg(path.read_bytes(), path.name)
    except OSError as error:
        raise BadSvg(f"{path.name} can't be opened: {error.strerror or error}.") from error


def _canvas(root: Any, what: str) -> Canvas:
    box = root.get("viewBox")
    try:
        if box:
            x, y, width, height = (float(v) for v in re.split(r"[\s,]+", box.strip()))
        else:
            x = y = 0.0
            width, height = (_pixels(root.get(name), size) for name, size in (("width", 960.0), ("height", 540.0)))
    except ValueError as error:
        raise BadSvg(f"{what} has a broken viewBox or size.") from error
    if not all(map(math.isfinite, (x, y, width, height))) or width <= 0 or height <= 0:
        raise BadSvg(f"{what} has a broken viewBox or size.")
    return Canvas(x, y, width, height)


def _pixels(text: str | None, otherwise: float) -> float:
    if text is None or text.strip().endswith("%"):
        return otherwise
    return float(svg.Length(plain_length(text) or "broken").value(ppi=96.0))


def _is_drawn(element: Any) -> bool:
    if not isinstance(element, svg.Shape):
        return False
    values = element.values
    return values.get("visibility") not in {"hidden", "collapse"} and values.get("display") != "none"


def _shape(element: Any, canvas: Canvas, gradients: GradientBook, what: str) -> Shape | None:
    path = svg.Path(element)
    path.reify()
    contours = _contours(path, np.array([canvas.x, canvas.y]), what)
    if not contours:
        return None
    values = element.values
    whole = _Paints(element, canvas, gradients)
    fill_paint, stroke_paint = whole.paint("fill", element.fill), whole.paint("stroke", element.stroke)
    width = float(element.implicit_stroke_width if element.stroke_width is not None else 1.0)
    fill = stroke = None
    if fill_paint is not None and not all(map(_is_straight, contours)):  # a line has no inside
        fill = Fill(paint=fill_paint, rule="evenodd" if values.get("fill-rule") == "evenodd" else "nonzero")
    if stroke_paint is not None and width > 0:
        matrix = svg.Path(element).transform
        dashes, offset = _dashes(values, math.sqrt(abs(matrix.a * matrix.d - matrix.b * matrix.c)))
        cap, join = values.get("stroke-linecap", "butt"), values.get("stroke-linejoin", "miter")
        stroke = Stroke(
            paint=stroke_paint,
            width=width,
            cap=cap if cap in {"butt", "round", "square"} else "butt",
            join=join if join in {"miter", "round", "bevel"} else "miter",
            miter_limit=max(1.0, number(values.get("stroke-miterlimit"), 4.0)),
            dashes=dashes,
            dash_offset=offset,
        )
    if fill is None and stroke is None:
        return None
    contours = tuple(_shut(contour, stroke) for contour in contours)
    return Shape(contours=contours, fill=fill, stroke=stroke, opacity=min(1.0, max(0.0, _opacity(element))))


def _opacity(element: Any) -> float:
    return number(element.values.get("opacity"), 1.0)


@dataclass(frozen=True)
class _Paints:
    """The paints of an element, gradients on it resolved."""

    element: Any
    canvas: Canvas
    gradients: GradientBook

    def paint(self, name: str, color: Any) -> Paint | None:
        values = self.element.values
        opacity = min(1.0, max(0.0, number(values.get(f"{name}-opacity"), 1.0)))
        reference = re.match(r"\s*url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)\s*(.*)", str(values.get(name) or ""))
        if reference:
            found = self.gradients.paint(reference[1], opacity, *self._frame())
            color = svg.Color(reference[2].strip() or "none")
            if found is not None:
                return found
        if color is None or color.value is None:
            return None
        # the library folds the opacity attribute into a colour's alpha, rounded to 1/255
        return Paint(color=color.hexrgb.lower(), opacity=min(opacity, color.alpha / 255.0))

    def _frame(self) -> tuple[tuple[float, float, float, float], Floats]:
        """The element's box in its own units, and the map from those to the drawing's."""
        plain = svg.Path(self.element)
        matrix = plain.transform
        plain.transform = svg.Matrix()
        x0, y0, x1, y1 = plain.bbox() or (0.0, 0.0, 0.0, 0.0)
        rows = [[matrix.a, matrix.c, matrix.e + self.canvas.x], [matrix.b, matrix.d, matrix.f + self.canvas.y]]
        return (x0, y0, x1 - x0, y1 - y0), np.array(rows, dtype=float)


def _dashes(values: Any, scale: float) -> tuple[tuple[float, ...], float]:
    """Dashes and their offset in the drawing's units."""
    raw = [part for part in re.split(r"[\s,]+", str(values.get("stroke-dasharray") or "none").strip()) if part]
    if not raw or raw == ["none"]:
        return (), 0.0
    try:
        lengths = tuple(float(svg.Length(part).value(ppi=96.0)) * scale for part in raw)
        offset = float(svg.Length(values.get("stroke-dashoffset") or "0").value(ppi=96.0)) * scale
    except (ValueError, TypeError):
        return (), 0.0
    usable = len(lengths) <= 16 and min(lengths) >= 0 and sum(lengths) > 0
    return (lengths, offset) if usable else ((), 0.0)


def _contours(path: Any, origin: Floats, what: str) -> tuple[Contour, ...]:
    """Sub-paths as contours of cubics; those of no extent are left out."""
    found: list[Contour] = []
    segments: list[Floats] = []

    def finish(closed: bool) -> None:
        nonlocal segments
        if segments:
            array = np.array(segments) + origin
            if not np.isfinite(array).all() or np.abs(array).max() > 1e6:
                raise BadSvg(f"{what} has coordinates that are no numbers or far too large.")
            found.append(_contour(array, closed))
        segments = []

    for part in path:
        if isinstance(part, svg.Move):
            finish(False)
        elif isinstance(part, svg.Close):
            start, end = _xy(part.start), _xy(part.end)
            if part.end is not None and np.hypot(*(start - end)) > 1e-9:
                segments.append(_line(start, end))
            finish(True)
        elif isinstance(part, svg.Arc):
            segments.extend(_arc(part))
        elif isinstance(part, svg.CubicBezier):
            segments.append(np.array([_xy(part.start), _xy(part.control1), _xy(part.control2), _xy(part.end)]))
        elif isinstance(part, svg.QuadraticBezier):
            a, c, b = _xy(part.start), _xy(part.control), _xy(part.end)
            segments.append(np.array([a, a + (c - a) * 2 / 3, b + (c - b) * 2 / 3, b]))
        elif isinstance(part, svg.Line):
            segments.append(_line(_xy(part.start), _xy(part.end)))
    finish(False)
    return tuple(found)


def _xy(point: Any) -> Floats:
    return np.array([math.nan, math.nan]) if point is None else np.array([float(point.x), float(point.y)])


def _arc(arc: Any) -> list[Floats]:
    """Quarters of an arc at most, as cubics that touch it in the middle, too: the library's lie 0.2 % within it."""
    count = max(1, math.ceil(abs(arc.sweep) / (math.pi / 2) - 1e-6))
    sweep = abs(arc.sweep) / count
    own = math.sin(sweep) * (math.sqrt(4.0 + 3.0 * math.tan(sweep / 2.0) ** 2) - 1.0) / 3.0
    longer = 4.0 / 3.0 * math.tan(sweep / 4.0) / own if own > 0.0 else 1.0
    rows = [
        (_xy(c.start), _xy(c.control1), _xy(c.control2), _xy(c.end)) for c in arc.as_cubic_curves(arc_required=count)
    ]
    return [np.array([a, a + longer * (b - a), d + longer * (c - d), d]) for a, b, c, d in rows]


def _line(a: Floats, b: Floats) -> Floats:
    return np.array([a, a, b, b])


def _contour(path: Floats, closed: bool) -> Contour:
    """A contour of a path. One that ends where it began and is drawn shut is one round."""
    if closed and np.hypot(*(path[-1, 3] - path[0, 0])) <= 1e-9:
        path[-1, 3] = path[0, 0]
    return contour_of(path, closed)


def _is_straight(contour: Contour) -> bool:
    """Whether all of it, handles too, lies along one straight line."""
    z = path_of(contour).reshape(-1, 2)
    x, y = (z - z[0]).T
    far = int(np.argmax(np.hypot(x, y)))
    off, size = np.abs(x * y[far] - y * x[far]).max(), float(np.hypot(x[far], y[far]))
    return bool(off <= 1e-9 * size**2)


def _shut(contour: Contour, stroke: Stroke | None) -> Contour:
    """What ends where it began is closed, if it looks as if it were: many tools leave the end of such a path out."""
    path = path_of(contour).copy()
    size = float(np.ptp(path, axis=(0, 1)).max())
    meets = float(np.hypot(*(path[-1, 3] - path[0, 0]))) <= MEETS * size
    if contour.closed or size == 0.0 or not meets or (stroke is not None and not _has_no_seam(path, stroke)):
        return contour
    path[-1, 3] = path[0, 0]
    return contour_of(path, True)


def _has_no_seam(path: Floats, stroke: Stroke) -> bool:
    """Whether two caps where its ends meet look as a join would."""
    if stroke.cap == stroke.join == "round":
        return True
    into, out = (row[np.hypot(*row.T) > 0] for row in (path[-1, 3] - path[-1, 2::-1], path[0, 1:] - path[0, 0]))
    if stroke.cap == "square" or not (len(into) and len(out)):
        return False
    return abs(math.remainder(math.atan2(*into[0]) - math.atan2(*out[0]), 2 * math.pi)) < SMOOTH
