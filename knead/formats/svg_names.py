"""Names in an SVG file: those of shapes, and of groups, which become the parts of a drawing."""

from collections import Counter
from collections.abc import Sequence
from typing import Any

from knead.core.model import Shape
from knead.formats.svg_guard import local_name
from knead.formats.svg_plain import DRAWN

MARK, NAME = "knead-part", "knead-name"
LABELS = "label", "data-name", "aria-label"  # what tools call something for people; its id is often counted
DEEPEST, LONGEST, MOST = 6, 60, 120  # so many levels, letters of each, and of all with the slashes, are kept


def mark_groups(element: Any, path: tuple[str, ...] = ()) -> None:
    """Give every named group the names of all groups it is in, and its own: what is read within inherits that.

    What is drawn gets the name that it has for people, if any.
    """
    for child in element:
        if local_name(child.tag) in DRAWN:
            child.set(NAME, _label(child))
        name = _name(child) if local_name(child.tag) == "g" else ""
        own, marked = path, "/".join((*path, name))
        if name and len(path) < DEEPEST and len(marked) <= MOST:
            own = (*path, name)
            child.set(MARK, marked)
        mark_groups(child, own)


def in_parts(shapes: Sequence[Shape], paths: Sequence[str]) -> list[Shape]:
    """The shapes in the parts that their groups make, given as they were marked.

    A group of all shapes is no part, nor is one of a single shape; that one is called so if it has no name of its own,
    which is to say, an empty one.
    """
    levels = [tuple(path.split("/")) if path else () for path in paths]
    held = Counter(own[: k + 1] for own in levels for k in range(len(own)))
    found = []
    for shape, own in zip(shapes, levels, strict=True):
        kept = [name for k, name in enumerate(own) if 1 < held[own[: k + 1]] < len(shapes)]
        alone = next((name for k, name in enumerate(own) if held[own[: k + 1]] == 1), None)
        found.append(shape.model_copy(update={"part": "/".join(kept) or None, "name": shape.name or alone or ""}))
    return found


def _name(group: Any) -> str:
    given = _label(group) or group.get("id") or ""
    return " ".join(given.replace("/", " ").split())[:LONGEST].strip()


def _label(element: Any) -> str:
    labels = {local_name(name): value for name, value in element.attrib.items()}
    return next((labels[label] for label in LABELS if labels.get(label)), "")
