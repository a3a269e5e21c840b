"""What an SVG file has that can't be kept, in words for the user."""

import re
from collections import Counter
from collections.abc import Iterator
from typing import Any

from knead.formats.svg_guard import local_name
from knead.formats.svg_paint import GRADIENTS
from knead.formats.svg_plain import number

Box = tuple[float, float, float, float]

DRAWN = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
KEPT = {"svg", "g", "a", "use", "defs", "symbol", "switch", "title", "desc", "metadata", "style", "stop", "tspan"}
USED = {"mask", "clipPath", "filter"}  # what these are does not matter, but where they are asked for
LOST = {
    "text": "text (turn it into outlines first)",
    "image": "pictures",
    "pattern": "patterns",
    "marker": "markers",
    "foreignObject": "foreign objects",
    "script": "scripts",
    "animate": "animations",
    "animateTransform": "animations",
    "animateMotion": "animations",
    "set": "animations",
}
LOST_ATTRIBUTES = {
    "filter": "filters",
    "mask": "masks",
    "clip-path": "clipping",
    "mix-blend-mode": "blend modes",
}


def what_is_lost(root: Any, canvas: Box) -> tuple[str, ...]:
    """What the file has that can't be kept, in words with counts. `canvas` is x, y, width and height."""
    counts: Counter[str] = Counter()
    idle = {f"url(#{name})" for name in _idle_clips(root, canvas)}
    for element, moved in _every(root, False):
        tag = local_name(element.tag)
        if tag in LOST:
            counts[LOST[tag]] += 1
        elif tag not in KEPT | USED | DRAWN | GRADIENTS and str(element.tag).startswith("{http://www.w3.org/2000/svg}"):
            counts["other elements"] += 1
        style = element.get("style") or ""
        for name, words in LOST_ATTRIBUTES.items():
            value = element.get(name) or next(iter(re.findall(rf"(?:^|;)\s*{name}\s*:\s*([^;]+)", style)), "none")
            if value.strip() not in {"none", "normal", ""} and (moved or value.strip() not in idle):
                counts[words] += 1
    return tuple(f"{words}: {count}" for words, count in counts.items() if count)


def _every(element: Any, moved: bool) -> Iterator[tuple[Any, bool]]:
    """An element and all in it, and whether each is moved against the root."""
    moved = moved or "transform" in element.attrib or "transform" in (element.get("style") or "")
    yield element, moved
    for child in element:
        yield from _every(child, moved)


def _idle_clips(root: Any, canvas: Box) -> Iterator[str]:
    """The ids of clips that leave all of the canvas as it is, as tools write one around a whole drawing."""
    for clip in root.iter():
        inside = list(clip)
        plain = len(inside) == 1 and not {"transform", "clipPathUnits", "clip-path"} & {*clip.attrib, *inside[0].attrib}
        if local_name(clip.tag) == "clipPath" and plain and local_name(inside[0].tag) == "rect":
            x, y, width, height = (number(inside[0].get(name), 0.0) for name in ("x", "y", "width", "height"))
            left, top, wide, high = canvas
            if x <= left and y <= top and x + width >= left + wide and y + height >= top + high:
                yield clip.get("id") or ""
