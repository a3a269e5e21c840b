"""Refusing SVG files that are broken or hostile, before anything is read from them."""

import io
import re
from typing import Any

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

MOST_BYTES = 10 * 1024 * 1024
MOST_ELEMENTS = 20_000
DEEPEST = 64
NUMERIC = ("d", "points", "transform", "x", "y", "width", "height", "cx", "cy", "r", "rx", "ry", "x1", "y1", "x2", "y2")
NOT_FINITE = re.compile(r"nan|inf", re.IGNORECASE)
STRANGE = re.compile(r"[^MmZzLlHhVvCcSsQqTtAaEe0-9\s,.+-]")


class BadSvg(ValueError):
    """A file that is refused; the message is a sentence for the user."""


def safe_root(data: bytes, what: str) -> Any:
    """The root of an SVG that is safe to read. Raises BadSvg with a sentence that begins with `what`."""
    if len(data) > MOST_BYTES:
        raise BadSvg(f"{what} is larger than {MOST_BYTES // 2**20} MB.")
    try:
        depth = most = count = 0
        root = None
        for event, element in ElementTree.iterparse(io.BytesIO(data), events=("start", "end"), forbid_dtd=False):
            root = element if root is None else root
            depth += 1 if event == "start" else -1
            count += event == "start"
            most = max(most, depth)
            if most > DEEPEST:
                raise BadSvg(f"{what} is nested more than {DEEPEST} levels deep.")
            if count > MOST_ELEMENTS:
                raise BadSvg(f"{what} has more than {MOST_ELEMENTS} elements.")
    except DefusedXmlException as error:
        raise BadSvg(f"{what} declares entities or refers to other files; such files are not read.") from error
    except ElementTree.ParseError as error:
        raise BadSvg(f"{what} is not well-formed SVG ({error}).") from error
    if root is None or local_name(root.tag) != "svg":
        raise BadSvg(f"{what} is not an SVG file.")
    _check_uses(root, what)
    _check_numbers(root, what)
    return root


def _check_uses(root: Any, what: str) -> None:
    """Refuse references to other files, and `use` chains that go in circles or multiply beyond reason."""
    targets = {e.get("id"): e for e in root.iter() if e.get("id")}
    seen: dict[int, int] = {}

    def weight(element: Any, trail: tuple[int, ...]) -> int:
        if id(element) in trail:
            raise BadSvg(f"{what} has a 'use' that contains itself.")
        if id(element) in seen:
            return seen[id(element)]
        total = 1 + sum(weight(child, (*trail, id(element))) for child in element)
        if local_name(element.tag) == "use":
            target = targets.get(href(element).removeprefix("#"))
            total += weight(target, (*trail, id(element))) if target is not None else 0
        if total > MOST_ELEMENTS:
            raise BadSvg(f"{what} has more than {MOST_ELEMENTS} elements once its 'use' elements are drawn.")
        seen[id(element)] = total
        return total

    for element in root.iter():
        if (
            local_name(element.tag) in {"use", "image"}
            and not href(element).startswith(("#", "data:"))
            and href(element)
        ):
            if local_name(element.tag) == "use":
                raise BadSvg(f"{what} refers to another file ({href(element)[:80]}); such files are not read.")
            element.attrib.clear()
    weight(root, ())


def href(element: Any) -> str:
    """What an element refers to; empty if nothing."""
    return str(element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or "")


def local_name(tag: Any) -> str:
    """A tag without its namespace; empty for comments."""
    return tag.rsplit("}", 1)[-1] if isinstance(tag, str) else ""


def _check_numbers(root: Any, what: str) -> None:
    for element in root.iter():
        for name in NUMERIC:
            if NOT_FINITE.search(element.get(name) or ""):
                raise BadSvg(f"{what} has a '{name}' that is not a number.")
        strange = STRANGE.search(element.get("d") or "")
        if strange:
            raise BadSvg(f"{what} has a path with '{strange[0]}' in it, which is no path command.")
