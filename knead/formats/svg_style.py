"""Style sheets of an SVG file, written onto the elements that they are about."""

from collections.abc import Iterable
from typing import Any

import cssselect2
import tinycss2

from knead.formats.svg_guard import local_name

Declared = tuple[str, str, bool]  # a property's name, its value, and whether that is important


def inline_styles(root: Any) -> None:
    """Give every element what the file's style sheets say of it, as a style of its own, and empty the sheets.

    What is said of certain media, or states, is passed over, as are selectors that are none.
    """
    sheets = [element for element in root.iter() if local_name(element.tag) == "style"]
    if not sheets:
        return
    matcher = cssselect2.Matcher()
    for sheet in sheets:
        for rule in tinycss2.parse_stylesheet("".join(sheet.itertext()), skip_comments=True, skip_whitespace=True):
            if rule.type == "qualified-rule":
                _add(matcher, rule)
        sheet.clear()
    for element in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
        matches = [declared for *_, pseudo, declared in matcher.match(element) if pseudo is None]
        if matches:
            own = _declared(element.etree_element.get("style") or "")
            said = [each for declared in [*matches, own] for each in declared]
            last = {name: value for turn in (False, True) for name, value, important in said if important == turn}
            element.etree_element.set("style", ";".join(f"{name}:{value}" for name, value in last.items()))


def _add(matcher: Any, rule: Any) -> None:
    """Add a rule; a matcher gives what it matches from the least to the most special."""
    try:
        selectors = cssselect2.compile_selector_list(rule.prelude)
    except cssselect2.SelectorError:
        return
    for selector in selectors:
        matcher.add_selector(selector, _declared(rule.content))


def _declared(text: str | Iterable[Any]) -> list[Declared]:
    rows = tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True)
    return [(d.lower_name, tinycss2.serialize(d.value).strip(), d.important) for d in rows if d.type == "declaration"]
