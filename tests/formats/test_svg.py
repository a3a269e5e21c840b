"""SVG in and out."""

import math
from xml.etree import ElementTree

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.geometry.bezier import area, path_of
from knead.core.model import Drawing
from knead.formats.svg_read import BadSvg, read_svg
from knead.formats.svg_write import drawing_paths, root_element, scene_content
from tests.forms import blob, drawing, filled, outline, stroked, wave

NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def read(body: str, attributes: str = 'viewBox="0 0 200 100"') -> Drawing:
    return read_svg(f"<svg {NS} {attributes}>{body}</svg>".encode()).drawing


def box(found: Drawing, index: int = 0) -> list[float]:
    points = np.concatenate([outline(c) for c in found.shapes[index].contours])
    return [*points.min(axis=0).tolist(), *points.max(axis=0).tolist()]


@pytest.mark.parametrize(
    ("body", "bounds"),
    [
        ('<rect x="10" y="20" width="30" height="40"/>', [10, 20, 40, 60]),
        ('<rect x="10" y="20" width="30" height="40" rx="5"/>', [10, 20, 40, 60]),
        ('<circle cx="50" cy="40" r="20"/>', [30, 20, 70, 60]),
        ('<ellipse cx="50" cy="40" rx="20" ry="10"/>', [30, 30, 70, 50]),
        ('<line x1="1" y1="2" x2="9" y2="8" stroke="black"/>', [1, 2, 9, 8]),
        ('<polyline points="1,2 9,8 3,4" fill="none" stroke="black"/>', [1, 2, 9, 8]),
        ('<polygon points="1,2 9,8 3,4"/>', [1, 2, 9, 8]),
        ('<path d="M10 10H30V40H10Z"/>', [10, 10, 30, 40]),
        ('<path d="m10 10 h20 v30 h-20 z"/>', [10, 10, 30, 40]),
        ('<path d="M10 50A20 20 0 0 1 50 50Z"/>', [10, 30, 50, 50]),
        ('<path d="M0 0C0 40 40 40 40 0Z"/>', [0, 0, 40, 30]),
        ('<path d="M0 0Q20 40 40 0T80 0"/>', [0, -20, 80, 20]),
        ('<path d="M0 0C0 20 20 20 20 0S40 -20 40 0"/>', [0, -15, 40, 15]),
        ('<g transform="translate(5 6)"><rect width="10" height="10" transform="scale(2)"/></g>', [5, 6, 25, 26]),
        ('<g transform="rotate(90)"><rect x="10" width="20" height="5"/></g>', [-5, 10, 0, 30]),
        ('<defs><rect id="r" width="10" height="10"/></defs><use href="#r" x="7" y="8"/>', [7, 8, 17, 18]),
        ('<defs><rect id="r" width="10" height="10"/></defs><use xlink:href="#r" x="7"/>', [7, 0, 17, 10]),
        (
            '<svg x="50" width="20" height="20" viewBox="0 0 100 100"><rect width="50" height="50"/></svg>',
            [50, 0, 60, 10],
        ),
    ],
)
def test_every_form_lands_where_it_is_drawn(body: str, bounds: list[float]) -> None:
    assert box(read(body)) == pytest.approx(bounds, abs=0.02)


ROUND = "M30 50a20 20 0 1 0 40 0a20 20 0 1 0 -40 0"
CORNERED = "M10 10H50V50L10 10"


@pytest.mark.parametrize(
    ("path", "attributes", "shut"),
    [
        (ROUND, "", True),
        (CORNERED, "", True),
        ("M10 10H50V50", "", False),
        ("M10 10H50V50H10L10.003 10.002", "", True),
        (ROUND, 'fill="none" stroke="black"', True),
        (ROUND, 'fill="none" stroke="black" stroke-linecap="square"', False),
        (CORNERED, 'fill="none" stroke="black"', False),
        (CORNERED, 'fill="none" stroke="black" stroke-linecap="round" stroke-linejoin="round"', True),
        ("M10 10H50V50", 'stroke="black" stroke-linecap="round" stroke-linejoin="round"', False),
    ],
)
def test_a_path_that_ends_where_it_began_is_closed_if_it_looks_so(path: str, attributes: str, shut: bool) -> None:
    (contour,) = read(f'<path d="{path}" {attributes}/>').shapes[0].contours
    assert contour.closed == shut
    ring = outline(contour)
    assert np.allclose(ring[0], ring[-1], atol=1e-9) or not shut
    if path == ROUND:
        assert abs(area(path_of(contour))) == pytest.approx(math.pi * 400, rel=3e-3)


@pytest.mark.parametrize(
    ("path", "filled"), [("M5 5L90 50", False), ("M5 5L90 50L48 27.24", True), ("M5 5L45 25L85 45Z", False)]
)
def test_a_straight_line_has_no_fill_whatever_the_file_forgot_to_say(path: str, filled: bool) -> None:
    shapes = read(f'<path d="{path}" stroke="#123456"/>').shapes
    assert [shape.fill is not None for shape in shapes] == [filled]


def test_coordinates_stay_in_user_units_whatever_the_size_on_the_page() -> None:
    rect = '<rect x="12" y="22" width="10" height="10"/>'
    assert box(read(rect, 'viewBox="10 20 50 50" width="200mm" height="200mm"')) == pytest.approx([12, 22, 22, 32])
    assert box(read(rect, 'width="300" height="200"')) == pytest.approx([12, 22, 22, 32])


def test_paint_is_read_from_attributes_styles_and_groups() -> None:
    shapes = read(
        "<style>.warm{fill:#ff8800}</style>"
        '<g opacity="0.5" stroke="rebeccapurple" stroke-width="2" transform="scale(3)">'
        '<rect class="warm" width="9" height="9" opacity="0.5"/></g>'
        '<path d="M0 0H9V9Z" style="fill:rgb(10%,20%,30%);fill-opacity:.25;fill-rule:evenodd;stroke:none"/>'
        '<path d="M0 0H9V9Z" fill="none" stroke="hsl(120,100%,50%)" stroke-linecap="round" stroke-linejoin="bevel"/>'
    ).shapes
    first, second, third = shapes
    assert first.fill is not None
    assert first.stroke is not None
    assert (first.fill.paint.color, first.stroke.paint.color, first.stroke.width) == ("#ff8800", "#663399", 6)
    assert first.opacity == pytest.approx(0.25)
    assert second.fill is not None
    assert (second.fill.paint.opacity, second.fill.rule, second.stroke) == (0.25, "evenodd", None)
    assert third.stroke is not None
    assert (third.fill, third.stroke.cap, third.stroke.join) == (None, "round", "bevel")


def test_a_frame_that_is_written_and_read_again_has_its_names_and_parts() -> None:
    parts = (None, "head", "head/left & right", "head/left & right", "head", "feet", "feet", None)
    shapes = [filled(blob([9, 8, 7, 9], at=(20.0 * k, 50.0)), name=f"<piece> {k}?") for k in range(len(parts))]
    own = [shape.model_copy(update={"part": part}) for shape, part in zip(shapes, parts, strict=True)]
    for others in ([], [("ground", 0.5, drawing(*own[:2]))]):
        content = scene_content([("frog", 1.0, drawing(*own)), *others])
        found = read_svg(root_element(content, 200, 100).encode()).drawing.shapes[: len(own)]
        layer = ["frog"] if others else []
        assert [(s.name, s.parts) for s in found] == [(s.name, [*layer, *s.parts]) for s in own]


@pytest.mark.parametrize("tag", ["symbol", "mask", "marker", "clipPath", "pattern", "defs"])
def test_what_is_only_there_to_be_asked_for_is_not_drawn(tag: str) -> None:
    body = f'<g><{tag} id="x"><rect id="inside" width="2" height="2"/></{tag}></g><path d="M0 0H9V9Z"/>'
    assert [shape.name for shape in read(body).shapes] == ["shape 1"]
    assert len(read(f'{body}<use href="#inside"/>').shapes) == 2


def test_what_cannot_be_kept_is_listed_in_words() -> None:
    body = (
        '<text>a</text><text>b</text><image href="data:,"/><rect width="5" height="5" filter="url(#f)" mask="url(#m)"/>'
    )
    body += '<filter id="f"><feGaussianBlur stdDeviation="2"/></filter>'
    lost = read_svg(f"<svg {NS} viewBox='0 0 9 9'>{body}</svg>".encode()).lost
    assert lost == ("text (turn it into outlines first): 2", "pictures: 1", "filters: 1", "masks: 1")


def test_style_sheets_are_read_with_all_their_selectors() -> None:
    sheet = """
        .leaf, rect.stem { fill: #ff8800; opacity: 0.5 } g > path { stroke: blue !important }
        .tree .leaf { fill: #0088ff } #top { fill: red; opacity: 0.25 } @media print { path { fill: black } } ?{ x }
        .part { clip-path: url(#c) } .off { display: none }
    """
    body = (
        f"<style>/* a */ {sheet}</style><clipPath id='c'><rect width='5' height='50'/></clipPath>"
        "<path class='leaf' d='M0 0H9V9Z'/><g class='tree part'><path class='leaf' style='stroke:red' d='M0 0H9V9Z'/>"
        "<path id='top' class='leaf' d='M0 0H4V4Z'/><rect class='off' width='9' height='9'/></g>"
    )
    plain, cut, line, top = read(body).shapes
    looks = [
        (s.fill and s.fill.paint.color, s.stroke and s.stroke.paint.color, s.opacity) for s in (plain, cut, line, top)
    ]
    assert looks == [
        ("#ff8800", None, 0.5),
        ("#0088ff", None, 0.5),
        (None, "#0000ff", 0.5),
        ("#ff0000", "#0000ff", 0.25),
    ]
    assert box(drawing(cut)) == pytest.approx([0, 0, 5, 5], abs=1e-3)


def test_named_groups_become_parts_but_for_one_of_all_shapes_or_of_a_single_one() -> None:
    eye = '<g id="g7" label="left eye"><circle r="5"/><circle id="pupil" r="2"/></g>'
    head = f'<g id="head">{eye}<g id="nose"><path d="M0 0H9V9Z"/></g><g><rect width="3" height="4"/></g></g>'
    shapes = read(
        f'<g id="all">{head}<g id="far/ground"><rect width="9" height="4"/><path d="M0 0H9V9Z"/></g></g>'
    ).shapes
    assert [(shape.name, shape.part) for shape in shapes] == [
        ("shape 1", "head/left eye"),
        ("pupil", "head/left eye"),
        ("nose", "head"),
        ("shape 4", "head"),
        ("shape 5", "far ground"),
        ("shape 6", "far ground"),
    ]


@pytest.mark.parametrize(
    "body", ['<circle cx="9" cy="9" r="50"/>', '<path d="M59 9A50 50 0 0 1 -8.101007 55.984631"/>']
)
def test_what_is_round_is_round_to_a_few_ten_thousandths(body: str) -> None:
    radii = np.hypot(*(outline(read(body).shapes[0].contours[0]) - 9.0).T)
    assert np.abs(radii / radii[0] - 1.0).max() < 3e-4


EYE = '<circle id="white" cx="50" cy="50" r="20" fill="#ffffff"/>'
CLIPPED = '<circle id="pupil" cx="66" cy="50" r="10" fill="#222222"/>'


@pytest.mark.parametrize(
    "body",
    [
        f'<clipPath id="c">{EYE}</clipPath>{EYE}<g clip-path="url(#c)">{CLIPPED}</g>',
        f'<defs>{EYE}</defs><clipPath id="c"><use href="#white"/></clipPath><g style="clip-path:url(#c)">{CLIPPED}</g>',
        f'<mask id="c">{EYE}</mask><g mask="url(#c)">{CLIPPED}</g>',
        f'<mask id="c" style="mask-type:alpha">{EYE.replace("#ffffff", "red")}</mask><g mask="url(#c)">{CLIPPED}</g>',
        f'<clipPath id="c" transform="scale(0.5)"><circle cx="80" cy="100" r="40"/></clipPath>'
        f'<g transform="translate(10)" clip-path="url(#c)"><g transform="translate(-10)">{CLIPPED}</g></g>',
        f'<clipPath id="c">{EYE}</clipPath><clipPath id="d"><rect width="90" height="90"/></clipPath>'
        f'<g clip-path="url(#c)"><g clip-path="url(#d)">{CLIPPED}</g></g>',
    ],
)
def test_what_a_clip_hides_is_cut_away(body: str) -> None:
    found = read_svg(f"<svg {NS} viewBox='0 0 100 100'>{body}</svg>".encode())
    pupil = next(shape for shape in found.drawing.shapes if shape.name == "pupil")
    seen = shapely.Polygon(outline(pupil.contours[0]))
    white, whole = (shapely.Point(x, 50).buffer(r, 256) for x, r in ((50, 20), (66, 10)))
    assert seen.symmetric_difference(white.intersection(whole)).area < 0.2
    assert len(pupil.contours[0].nodes) <= 8
    assert found.lost == ()


@pytest.mark.parametrize(
    ("clip", "seen"),
    [
        ('<rect width="20" height="20"/>', (0, 0, 20, 20)),
        ('<path d="M3 0H20V7H3Z"/>', (3, 0, 20, 7)),  # runs along two edges
        ('<circle cx="10" cy="10" r="10"/>', None),  # touches all of them
    ],
)
def test_a_clip_may_run_along_what_it_clips(clip: str, seen: tuple[int, int, int, int] | None) -> None:
    body = f'<clipPath id="c">{clip}</clipPath><path clip-path="url(#c)" d="M0 0H20V20H0Z"/>'
    found = read_svg(f"<svg {NS} viewBox='0 0 90 90'>{body}</svg>".encode())
    whole = shapely.box(*seen) if seen else shapely.Point(10, 10).buffer(10, 256)
    area = shapely.Polygon(outline(found.drawing.shapes[0].contours[0]))
    assert area.symmetric_difference(whole).area < 0.3
    assert found.lost == ()


def test_a_symbol_is_drawn_to_the_size_of_its_use() -> None:
    symbol = '<symbol id="s" viewBox="0 0 20 10"><rect width="20" height="10"/></symbol>'
    found = read(f'{symbol}<use href="#s" x="10" y="10" width="40" height="40"/><use href="#s" transform="scale(2)"/>')
    assert box(found) == pytest.approx([10, 20, 50, 40])
    assert box(found, 1) == pytest.approx([0, 0, 400, 200])


def test_a_clip_of_nothing_hides_all() -> None:
    body = (
        '<clipPath id="c"><path d=""/></clipPath><rect clip-path="url(#c)" width="5" height="5"/><path d="M0 0H9V9Z"/>'
    )
    assert [shape.name for shape in read(body).shapes] == ["shape 2"]


def test_the_line_of_what_is_clipped_is_cut_and_not_drawn_along_the_clip() -> None:
    clip = '<clipPath id="c"><rect x="-9" y="-9" width="59" height="99"/></clipPath>'
    box = '<path d="M20 20H80V60H20Z" fill="#44aa44" stroke="#222222" stroke-width="2" stroke-linecap="round"/>'
    fill, line = read(f'{clip}<g clip-path="url(#c)">{box}<path d="M60 0V9" stroke="red"/></g>').shapes
    assert (fill.stroke, line.fill, fill.id == line.id) == (None, None, False)
    assert shapely.Polygon(outline(fill.contours[0], 1)).symmetric_difference(shapely.box(20, 20, 50, 60)).area < 1e-6
    assert not line.contours[0].closed
    corners = sorted((round(node.at.x, 6), round(node.at.y, 6)) for node in line.contours[0].nodes)
    assert corners == [(20, 20), (20, 60), (50, 20), (50, 60)]


@pytest.mark.parametrize(
    ("clip", "lost"),
    [
        ('<clipPath id="c"><rect width="9" height="9"/></clipPath>', ()),  # around the whole canvas
        ('<clipPath id="c"><rect width="9" height="9"/><circle r="2"/></clipPath>', ("clipping: 1",)),
        (
            '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width="1" height="1"/></clipPath>',
            ("clipping: 1",),
        ),
        ('<clipPath id="other"><rect width="2" height="2"/></clipPath>', ("clipping: 1",)),
        ('<mask id="c"><rect width="2" height="2" fill="#d9d9d9"/></mask>', ("masks: 1",)),
    ],
)
def test_a_clip_that_cannot_be_kept_is_listed_and_what_it_clips_is_whole(clip: str, lost: tuple[str, ...]) -> None:
    by = "mask" if "mask" in clip else "clip-path"
    body = f'{clip}<g {by}="url(#c)"><path d="M0 0H20V20H0Z"/></g>'
    found = read_svg(f"<svg {NS} viewBox='0 0 9 9'>{body}</svg>".encode())
    assert found.lost == lost
    assert shapely.Polygon(outline(found.drawing.shapes[0].contours[0])).area == 400


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"<svg", "not well-formed"),
        (b"\x00\xff\xfe", "not well-formed"),
        (b"<html/>", "not an SVG"),
        (
            b'<!DOCTYPE svg [<!ENTITY a "&b;"><!ENTITY b "b">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>',
            "entities",
        ),
        (
            b'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>',
            "entities",
        ),
        (f"<svg {NS}><use href='other.svg#x'/></svg>".encode(), "refers to another file"),
        (f"<svg {NS}><g id='a'><use href='#a'/></g></svg>".encode(), "contains itself"),
        (f"<svg {NS}>{'<g>' * 70}{'</g>' * 70}</svg>".encode(), "nested"),
        (f"<svg {NS}>{'<g/>' * 20_001}</svg>".encode(), "elements"),
        (f"<svg {NS}><path d='M0 0LNaN 1'/></svg>".encode(), "not a number"),
        (f"<svg {NS}><path d='M0 0L1e9 1L5 5Z'/></svg>".encode(), "far too large"),
        (f"<svg {NS}><path d='M0 0L1 1 !'/></svg>".encode(), "no path command"),
        (f"<svg {NS} viewBox='0 0 0 0'/>".encode(), "viewBox"),
        (b" " * (50 * 1024 * 1024), "larger than 10 MB"),
    ],
)
def test_broken_and_hostile_files_are_refused_with_a_sentence(data: bytes, sentence: str) -> None:
    with pytest.raises(BadSvg, match=sentence) as refused:
        read_svg(data, "pond.svg")
    assert str(refused.value).startswith("pond.svg ")


def test_billions_of_uses_are_refused_before_they_are_drawn() -> None:
    tens = [f"<use href='#g{k - 1}'/>" * 10 for k in range(1, 12)]
    rows = "".join(f"<g id='g{k}'>{uses}</g>" for k, uses in enumerate(tens, start=1))
    with pytest.raises(BadSvg, match="once its 'use' elements are drawn"):
        read_svg(f"<svg {NS}><g id='g0'><rect width='1' height='1'/></g>{rows}</svg>".encode())


@given(st.lists(st.floats(20, 90), min_size=4, max_size=8), st.floats(0.5, 9), st.floats(0, 1))
def test_what_is_written_is_read_back(radii: list[float], width: float, opacity: float) -> None:
    shapes = drawing(filled(blob(radii)), stroked(wave(), width=width)).shapes
    written = Drawing(shapes=tuple(s.model_copy(update={"opacity": round(opacity, 3)}) for s in shapes))
    data = root_element(drawing_paths(written), 960, 540).encode()
    again = read_svg(data).drawing
    assert abs(area(path_of(again.shapes[0].contours[0]))) == pytest.approx(
        abs(area(path_of(written.shapes[0].contours[0]))), rel=1e-5
    )
    for one, two in zip(written.shapes, again.shapes, strict=True):
        assert [len(c.nodes) for c in one.contours] == [len(c.nodes) for c in two.contours]
        assert two.opacity == pytest.approx(one.opacity, abs=1e-4)
        assert (one.fill is None, one.stroke is None) == (two.fill is None, two.stroke is None)
    assert math.isclose(again.shapes[1].stroke.width, width, abs_tol=1e-4)  # type: ignore[union-attr]
    paths = ElementTree.fromstring(data).findall("{http://www.w3.org/2000/svg}path")
    assert all("transform" not in path.attrib for path in paths)
