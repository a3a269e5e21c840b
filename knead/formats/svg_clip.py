"""Clips of an SVG file, and masks that are no more than that: what they hide is cut away. Shapes here have none."""

import re
from typing import Any

from defusedxml import ElementTree
from shapely.errors import GEOSException

from knead.core.geometry.bezier import contour_of, path_of
from knead.core.geometry.overlap import Area, NotToldApart, common_area, line_within
from knead.core.model import Shape, new_id
from knead.formats.svg_guard import href, local_name
from knead.formats.svg_plain import PAINTED, drop_property, number, property_of

MARK = "knead-clips"
SHOWS = PAINTED - {"line"}
NOT_DRAWN = {"defs", "clipPath", "pattern"}  # what else is only asked for has been put into defs
KINDS = {"clip-path": "clipPath", "mask": "mask"}
WHITE = {"white", "#fff", "#ffffff"}
REFERENCE = re.compile(r"\s*url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)\s*")

Box = tuple[float, float, float, float]


def mark_clips(root: Any, canvas: Box) -> list[str]:
    """Take clips off their elements, and number them there instead: what is within an element inherits the numbers.

    Returns the clips in this order, each as an SVG document of the one shape it shows. `canvas` is x, y, width and
    height; a clip that leaves all of it as it is, as tools write one around a whole drawing, is dropped. Clips of
    several shapes, or in units of what they clip, stay where they are.
    """
    named = {element.get("id"): element for element in root.iter() if element.get("id")}
    found: dict[str, int] = {}
    _mark(root, "", "", named, canvas, found)
    return list(found)


def numbers_on(values: Any) -> list[int]:
    """The numbers of the clips on an element, by the values it was read with."""
    return [int(found) for found in (values.get(MARK) or "").split()]


def clipped(shape: Shape, clip: Area) -> list[Shape]:
    """What of a shape lies within a clip: its fill, and its line, which is not drawn along the clip.

    Raises NotToldApart, or GEOSException, where it can't be told.
    """
    if not clip.outlines:
        return []
    try:
        return _cut(shape, clip)
    except (NotToldApart, GEOSException):
        return _cut(shape, clip.hair_larger)


def _cut(shape: Shape, clip: Area) -> list[Shape]:
    paths = [path_of(contour) for contour in shape.contours]
    rings = [path_of(contour.model_copy(update={"closed": True})) for contour in shape.contours]
    if clip.holds(rings if shape.fill is not None else paths, shape.fill is not None):
        return [shape]
    found = []
    areas = common_area(Area(tuple(rings)), clip) if shape.fill is not None else []
    if areas:
        contours = tuple(contour_of(path, True) for path in areas)
        found.append(shape.model_copy(update={"contours": contours, "stroke": None}))
    if shape.stroke is not None:
        lines = [
            contour_of(piece, contour.closed and piece is path)
            for path, contour in zip(paths, shape.contours, strict=True)
            for piece in line_within(path, contour.closed, clip)
        ]
        cut = shape.stroke.model_copy(update={"cap": "butt"})
        own = {"id": new_id(), "contours": tuple(lines), "fill": None, "stroke": cut}
        found += [shape.model_copy(update=own)] if lines else []
    return found


def _mark(parent: Any, transform: str, numbers: str, named: dict[str, Any], canvas: Box, found: dict[str, int]) -> None:
    """Mark all that is drawn in an element; `transform` and `numbers` are its own. Clips are found by their numbers."""
    for element in parent:
        if local_name(element.tag) in NOT_DRAWN:
            continue
        own, held = f"{transform} {element.get('transform') or ''}".strip(), numbers
        for name, kind in KINDS.items():
            clip = named.get(_reference(element, name))
            shown = _shown(clip, named) if clip is not None and local_name(clip.tag) == kind else None
            if clip is None or shown is None:
                continue
            drop_property(element, name)
            moved = f"{own} {clip.get('transform') or ''}".strip()
            if moved or not _covers(shown, canvas):
                known = found.setdefault(_document(shown, moved, canvas), len(found))
                held = f"{held} {known}".strip()
                element.set(MARK, held)
        _mark(element, own, held, named, canvas, found)


def _reference(element: Any, name: str) -> str:
    found = REFERENCE.fullmatch(property_of(element, name))
    return found[1] if found else ""


def _shown(clip: Any, named: dict[str, Any]) -> Any:
    """The one shape that a clip shows; None if it shows several, or is in units of what it clips.

    So does a mask, if that is white all over, or the mask does not ask for its colour.
    """
    units = {clip.get("clipPathUnits"), clip.get("maskContentUnits")}
    inside = [element for element in clip if local_name(element.tag) in SHOWS]
    nested = any(_reference(element, name) for element in (clip, *inside) for name in KINDS)
    if "objectBoundingBox" in units or len(inside) != 1 or nested:
        return None
    (shown,) = inside
    if local_name(shown.tag) == "use":
        plain = not {"x", "y", "transform"} & set(shown.attrib)
        shown = named.get(href(shown).removeprefix("#")) if plain else None
    if shown is None or local_name(shown.tag) not in SHOWS - {"use"}:
        return None
    return shown if local_name(clip.tag) == "clipPath" or _is_plain(clip, shown) else None


def _is_plain(mask: Any, shown: Any) -> bool:
    """Whether what a mask shows is there wholly, with an even fill and no line, or not at all."""
    fill = property_of(shown, "fill").lower()
    even = fill in WHITE or (property_of(mask, "mask-type") == "alpha" and not fill.startswith(("none", "url")))
    faint = property_of(shown, "opacity") or property_of(shown, "fill-opacity")
    return even and property_of(shown, "stroke") in {"", "none"} and not faint


def _covers(shown: Any, canvas: Box) -> bool:
    """Whether what a clip shows is a box around the whole canvas."""
    if local_name(shown.tag) != "rect" or "transform" in shown.attrib:
        return False
    x, y, width, height = (number(shown.get(name), 0.0) for name in ("x", "y", "width", "height"))
    left, top, wide, high = canvas
    return x <= left and y <= top and x + width >= left + wide and y + height >= top + high


def _document(shown: Any, transform: str, canvas: Box) -> str:
    inside = ElementTree.tostring(shown, encoding="unicode")
    view = " ".join(map(repr, canvas))
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{view}"><g transform="{transform}">{inside}</g></svg>'
