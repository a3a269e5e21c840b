"""Any SVG: read as a drawing that can be kept, written and in-betweened, or refused in a sentence."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Take
from knead.formats.svg_read import BadSvg, read_svg
from knead.formats.svg_write import drawing_paths, root_element

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def one_of(text: str) -> st.SearchStrategy[str]:
    """One of the values in a text, which are parted by bars."""
    return st.sampled_from(text.split("|"))


LENGTHS = one_of("5|40|-3|1e2|0|25%|2mm|1.5em|3px||wide|1e400|NaN| 7 ")
COLORS = one_of(
    "red|#abc|#204060|rgb(10, 20, 30)|rgba(1,2,3,.5)|hsl(120,100%,50%)|none|url(#g)|url(#gone)|currentColor|"
    "transparent|context-fill|#12|"
)
TRANSFORMS = one_of(
    "translate(5 6)|rotate(30)|scale(0)|scale(-1 2)|skewX(20)|matrix(1 0 0 1 9)|rotate(10 5 5) scale(2)|spin(3)"
)
COMMANDS = one_of(
    "M5 5|m9 9|L40 10|l-5 20|H60|v-9|C10 10 20 40 50 5|s9 9 20 0|Q20 40 40 0|t9 9|A20 10 30 0 1 50 50|a0 0 0 0 0 5 5|"
    "A5 5 0 2 1 9 9|Z|z|L|M5|X9|L1e7 0|1 2 3"
)
STYLES = one_of("fill:#334455|stroke:teal;stroke-width:2em|stroke-width:;|opacity:.4|display:none|fill:|:|fill red")
VIEWS = one_of('viewBox="0 0 200 100"|width="300"|viewBox="0 0 a 9"|viewBox="5 5 20 20" width="9mm"|width="20em"')
ATTRIBUTES = {
    "rect": {"x": LENGTHS, "y": LENGTHS, "width": LENGTHS, "height": LENGTHS, "rx": LENGTHS},
    "circle": {"cx": LENGTHS, "cy": LENGTHS, "r": LENGTHS},
    "ellipse": {"cx": LENGTHS, "rx": LENGTHS, "ry": LENGTHS},
    "line": {"x1": LENGTHS, "x2": LENGTHS, "y2": LENGTHS},
    "polygon": {"points": st.sampled_from(["1,2 9,8 3,4", "1 2 3", "", "a b", "0,0 0,0 0,0", "5,5"])},
    "path": {"d": st.lists(COMMANDS, max_size=7).map("".join)},
    "use": {"href": st.sampled_from(["#one", "#gone", "#g", "#s", "#c", ""]), "x": LENGTHS, "width": LENGTHS},
    "text": {"x": LENGTHS},
}
PAINT = {
    "fill": COLORS,
    "stroke": COLORS,
    "stroke-width": LENGTHS,
    "stroke-dasharray": st.sampled_from(["4 2", "3", "0 0", "-1", "none", "a"]),
    "opacity": st.sampled_from(["0.5", "50%", "2", "-1", "x"]),
    "fill-rule": st.sampled_from(["evenodd", "odd"]),
    "stroke-linecap": st.sampled_from(["round", "none"]),
    "transform": TRANSFORMS,
    "style": STYLES,
    "class": one_of("warm|cold warm|in|"),
    "clip-path": one_of("url(#c)|url(#c)|url(#m)|url(#gone)|none"),
    "mask": one_of("url(#m)|url(#c)"),
    "data-name": one_of("eye|eye/lid|&lt;"),
}
GRADIENT = (
    '<linearGradient id="g" x2="{}" gradientUnits="{}"><stop offset="{}" stop-color="{}"/><stop offset="1"/>'
    "</linearGradient>"
)


@st.composite
def elements(draw: st.DrawFn, depth: int = 0) -> str:
    """An element with attributes, some of them nonsense; a group holds others."""
    if depth < 2 and draw(st.integers(0, 3)) == 0:
        inside = "".join(draw(st.lists(elements(depth + 1), max_size=3)))
        return f"<g {written(draw(st.fixed_dictionaries({}, optional=PAINT)))}>{inside}</g>"
    name = draw(st.sampled_from(sorted(ATTRIBUTES)))
    own = draw(st.fixed_dictionaries({}, optional=ATTRIBUTES[name]))
    paint = draw(st.fixed_dictionaries({}, optional=PAINT))
    return f"<{name} {written({**own, **paint})}/>"


def written(attributes: dict[str, str]) -> str:
    return " ".join(f'{name}="{value}"' for name, value in attributes.items())


@st.composite
def documents(draw: st.DrawFn) -> bytes:
    units = draw(st.sampled_from(["userSpaceOnUse", "objectBoundingBox", "both"]))
    gradient = GRADIENT.format(draw(LENGTHS), units, draw(LENGTHS), draw(COLORS))
    shown = ("".join(draw(st.lists(elements(2), max_size=2))) for _ in range(2))
    clips = f'<clipPath id="c">{next(shown)}</clipPath><mask id="m" style="mask-type:alpha">{next(shown)}</mask>'
    sheet = ".warm{fill:#f80} .warm > { .in{clip-path:url(#c)} g .cold{opacity:.5 !important}"
    symbol = '<symbol id="s" viewBox="0 0 9 9"><rect width="9" height="5" class="in"/></symbol>'
    defs = f'<defs>{gradient}<circle id="one" r="9"/></defs>{clips}{symbol}<style>{sheet}</style>'
    view = draw(VIEWS)
    body = "".join(draw(st.lists(elements(), min_size=1, max_size=5)))
    return f"<svg {NS} {view}>{defs}{body}</svg>".encode()


def read(data: bytes) -> tuple[Drawing | None, str]:
    """What is drawn in a document, or why it can't be read."""
    try:
        return read_svg(data, "pond.svg").drawing, ""
    except BadSvg as refusal:
        return None, str(refusal)


@given(documents())
@settings(max_examples=100, report_multiple_bugs=False)
def test_any_document_is_read_whole_or_refused_in_a_sentence(data: bytes) -> None:
    found, refusal = read(data)
    if found is None:
        assert refusal.startswith("pond.svg ")
        assert refusal.endswith(".")
        return
    assert Drawing.model_validate_json(found.model_dump_json()) == found
    again, _ = read(root_element(drawing_paths(found), 200, 100).encode())
    assert again is not None
    assert [len(s.contours) for s in again.shapes] == [len(s.contours) for s in found.shapes]
    for one, two in zip(found.shapes, again.shapes, strict=True):
        ends = [np.array([n.at for c in shape.contours for n in c.nodes]) for shape in (one, two)]
        assert np.abs(ends[0] - ends[1]).max() < 0.02
        assert (one.fill is None, one.stroke is None) == (two.fill is None, two.stroke is None)
    made = plan_span(found, again, Take()).at(0.5)
    assert Drawing.model_validate_json(made.model_dump_json()) == made
