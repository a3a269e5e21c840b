"""Making an SVG tree plainer before it is read: what the reading library gets wrong or does not know is rewritten."""

import math
import re
from copy import deepcopy
from functools import cache
from typing import Any

import svgelements as svg

from knead.formats.svg_guard import href, local_name

DRAWN = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
PAINTED = DRAWN | {"use"}
ASKED_FOR = {"symbol", "mask", "marker"}
LENGTHS = ("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r", "x1", "y1", "x2", "y2", "stroke-width")
LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*(px|pt|pc|mm|cm|in|%|em|rem|ex|ch)?\s*", re.I)
STROKE_WIDTH = re.compile(r"(stroke-width\s*:\s*)([^;]+)")
FONT = {"em": 16.0, "rem": 16.0, "ex": 8.0, "ch": 8.0}  # units of a font are taken for those of a browser's usual one
VIEWPORT = ("x", "y", "width", "height", "viewBox", "preserveAspectRatio", "overflow")


def make_plain(root: Any, width: float, height: float) -> None:
    """Rewrite a tree in place; width and height are the root's in user units."""
    _put_away(root)
    _open_symbols(root, {e.get("id"): e for e in root.iter() if local_name(e.tag) == "symbol"})
    _push_opacity(root, 1.0)
    _open_nested(root, width, height)
    for element in root.iter():
        if local_name(element.tag) in PAINTED | {"g"}:
            _plain_lengths(element)
        for name in ("fill", "stroke", "color", "style"):
            if "rebeccapurple" in (element.get(name) or ""):  # a colour name of CSS 4, younger than the library's list
                element.set(name, element.get(name).replace("rebeccapurple", "#663399"))


def _put_away(parent: Any) -> None:
    """Lay what is drawn only where it is asked for into `defs`: elsewhere, the library draws it."""
    for k, child in enumerate(parent):
        if local_name(child.tag) in ASKED_FOR:
            parent[k] = type(child)(child.tag.replace(local_name(child.tag), "defs"))
            parent[k].append(child)
        elif local_name(child.tag) != "defs":
            _put_away(child)


def _open_symbols(parent: Any, symbols: dict[str, Any]) -> None:
    """Turn every `use` of a symbol into a group with the symbol as a nested `svg` in it (SVG 2, section 5.6)."""
    for child in parent:
        symbol = symbols.get(href(child).removeprefix("#")) if local_name(child.tag) == "use" else None
        if symbol is not None:
            name, inside = child.tag, deepcopy(symbol)
            child.tag, inside.tag = name.replace("use", "g"), name.replace("use", "svg")
            inside.attrib |= {size: child.attrib.pop(size) for size in ("width", "height") if size in child.attrib}
            place = " ".join(child.attrib.pop(at, "0") for at in ("x", "y"))
            child.set("transform", f"{child.get('transform') or ''} translate({place})".strip())
            child.append(inside)
        _open_symbols(child, symbols)


def _plain_lengths(element: Any) -> None:
    """Lengths in units the library knows; one that is none counts as not given, as SVG wants it."""
    for name in LENGTHS:
        if name in element.attrib:
            length = plain_length(element.get(name))
            if length is None:
                del element.attrib[name]
            else:
                element.set(name, length)
    if "stroke-width" in (element.get("style") or ""):
        element.set("style", STROKE_WIDTH.sub(lambda m: m[1] + (plain_length(m[2]) or "1"), element.get("style")))


def plain_length(text: str) -> str | None:
    """A length without units of a font; None for what is no length."""
    found = LENGTH.fullmatch(text)
    if found is None or not math.isfinite(float(found[1])):
        return None
    size = FONT.get((found[2] or "").lower())
    return text.strip() if size is None else repr(float(found[1]) * size)


def number(text: Any, otherwise: float) -> float:
    """A number or percentage as a float; `otherwise` where it is neither."""
    try:
        value = float(str(text).rstrip("%")) / (100.0 if str(text).endswith("%") else 1.0)
    except ValueError:
        return otherwise
    return value if math.isfinite(value) else otherwise


def property_of(element: Any, name: str) -> str:
    """What an element says of a property: its style, or else its attribute; empty if neither does."""
    said = _declaration(name).findall(element.get("style") or "")
    return str(said[-1] if said else element.get(name) or "").strip()


def drop_property(element: Any, name: str) -> None:
    """Let an element say nothing of a property."""
    element.attrib.pop(name, None)
    if element.get("style"):
        element.set("style", _declaration(name).sub("", element.get("style")))


@cache
def _declaration(name: str) -> re.Pattern[str]:
    return re.compile(rf"(?:^|;)\s*{name}\s*:\s*([^;]+)")


def _push_opacity(element: Any, outer: float) -> None:
    """Multiply the opacity of groups into what they hold: shapes have one opacity of their own."""
    own = outer * min(1.0, max(0.0, number(property_of(element, "opacity"), 1.0)))
    drop_property(element, "opacity")
    if local_name(element.tag) in PAINTED:
        if own < 1.0:
            element.set("opacity", repr(own))
        return
    for child in element:
        _push_opacity(child, own)


def _open_nested(parent: Any, width: float, height: float) -> None:
    """Turn nested `svg` elements into groups that place their content alike (SVG 2, section 8.2)."""
    for child in parent:
        if local_name(child.tag) != "svg":
            _open_nested(child, width, height)
            continue
        x, y = _length(child.get("x"), width, 0.0), _length(child.get("y"), height, 0.0)
        w, h = _length(child.get("width"), width, width), _length(child.get("height"), height, height)
        box = [number(v, 0.0) for v in re.split(r"[\s,]+", (child.get("viewBox") or "").strip()) if v]
        box = box if len(box) == 4 and box[2] > 0 and box[3] > 0 else [0.0, 0.0, w, h]
        matrix = _fit(x, y, w, h, box, child.get("preserveAspectRatio") or "xMidYMid meet")
        for name in VIEWPORT:
            child.attrib.pop(name, None)
        child.tag = (
            child.tag.replace("svg", "g") if "}" not in child.tag else child.tag[: child.tag.index("}") + 1] + "g"
        )
        own = child.get("transform")
        child.set("transform", f"{own or ''} matrix({matrix})".strip())
        _open_nested(child, box[2], box[3])


def _length(text: str | None, whole: float, otherwise: float) -> float:
    text = plain_length(text) if text else None
    if text is None:
        return otherwise
    return float(svg.Length(text).value(ppi=96.0, relative_length=whole))


def _fit(x: float, y: float, w: float, h: float, box: list[float], ratio: str) -> str:
    """The matrix that lays a viewBox into a rectangle, as preserveAspectRatio says."""
    sx, sy = w / box[2], h / box[3]
    if "none" not in ratio:
        sx = sy = max(sx, sy) if "slice" in ratio else min(sx, sy)
        x += (w - box[2] * sx) * (0.0 if "xMin" in ratio else 1.0 if "xMax" in ratio else 0.5)
        y += (h - box[3] * sy) * (0.0 if "YMin" in ratio else 1.0 if "YMax" in ratio else 0.5)
    return f"{sx!r} 0 0 {sy!r} {x - box[0] * sx!r} {y - box[1] * sy!r}"
