"""What an SVG file has that can't be kept, in words for the user."""

from collections import Counter
from collections.abc import Iterator
from typing import Any

from knead.formats.svg_guard import local_name
from knead.formats.svg_paint import GRADIENTS
from knead.formats.svg_plain import PAINTED, property_of

KEPT = {"svg", "g", "a", "defs", "symbol", "switch", "title", "desc", "metadata", "style", "stop", "tspan"}
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
LOST_PROPERTIES = {
    "filter": "filters",
    "mask": "masks",
    "clip-path": "clipping",
    "mix-blend-mode": "blend modes",
    "spreadMethod": "gradients that go on beyond their ends",
}


def what_is_lost(root: Any, unclipped: int) -> tuple[str, ...]:
    """What the file has that can't be kept, in words with counts, shapes of which a clip could not be cut among it."""
    counts: Counter[str] = Counter({LOST_PROPERTIES["clip-path"]: unclipped})
    for element in _every(root):
        tag = local_name(element.tag)
        if tag in LOST:
            counts[LOST[tag]] += 1
        elif tag not in KEPT | USED | PAINTED | GRADIENTS and str(element.tag).startswith(
            "{http://www.w3.org/2000/svg}"
        ):
            counts["other elements"] += 1
        for name, words in LOST_PROPERTIES.items():
            if property_of(element, name) not in {"none", "normal", "pad", ""}:
                counts[words] += 1
    return tuple(f"{words}: {count}" for words, count in counts.items() if count)


def _every(element: Any) -> Iterator[Any]:
    """An element and all in it, but for what a filter is made of."""
    yield element
    for child in element if local_name(element.tag) != "filter" else ():
        yield from _every(child)
