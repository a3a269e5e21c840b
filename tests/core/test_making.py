"""What the Draw view makes and changes: forms, letters, pours, points, parts, palette, pictures."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from knead.core.edit import EditError, Operation, Work
from knead.core.edit.arrange import extent
from knead.core.geometry.bezier import area, path_of, points_at
from knead.core.geometry.placing import posed
from knead.core.geometry.pour import area_around, lines_of, outline_along
from knead.core.geometry.simplify import simplified
from knead.core.inbetween import plan_span
from knead.core.letters import letter_outlines
from knead.core.model import Contour, Drawing, Hint, HintEnd, Node, Paint, Picture, Point, Shape, Stroke, Take
from tests.examples import few
from tests.forms import apart, blob, drawing, ellipse, filled, outline, polygon, recut, star, stroked, wave, work_of

operation: TypeAdapter[Operation] = TypeAdapter(Operation)
radii = st.lists(st.floats(40, 120), min_size=5, max_size=9)


def do(work: Work, **fields: object) -> Work:
    scene_wide = {"layer", "swatch"} & fields.keys() or fields["type"] in ("add_swatch", "add_picture", "add_layer")
    on_key = {} if scene_wide and fields["type"] != "move_key_over" else {"key": "k1"}
    return operation.validate_python({**on_key, **fields}).apply(work)


def on(*shapes: Shape) -> Work:
    return work_of(drawing(*shapes), drawing(filled(star())))


def drawn(work: Work) -> tuple[Shape, ...]:
    return work.drawing("k1").shapes


def size(contour: Contour) -> float:
    return math.hypot(*np.ptp(outline(contour), axis=0))


def test_a_copy_of_a_shape_with_something_changed_has_another_hash() -> None:
    shape = filled(star())
    assert shape.hash != shape.model_copy(update={"name": "another"}).hash
    assert shape.hash == shape.model_copy(update={"name": "another"}).model_copy(update={"name": shape.name}).hash


@pytest.mark.parametrize("form", ["box", "ellipse", "polygon", "star"])
def test_a_form_fills_its_rectangle_and_stays_within_it(form: str) -> None:
    (shape,) = drawn(do(on(), type="add_form", form=form, x=10, y=20, width=200, height=100, points=4, inner=0.4))
    assert extent(shape) == pytest.approx(np.array([[10, 20], [210, 120]]), abs=0.1)
    assert len(shape.contours[0].nodes) == (8 if form == "star" else 4)


@few
@given(radii, st.lists(st.floats(0.02, 0.98), max_size=12), st.floats(0.2, 8))
def test_a_simplified_outline_stays_within_its_tolerance(
    form: list[float], cuts: list[float], tolerance: float
) -> None:
    contour = recut(blob(form), cuts)
    simpler = simplified(contour, tolerance)
    assert apart(contour, simpler.contour) * size(contour) <= tolerance * 1.02 + 0.05
    assert simpler.deviation <= tolerance
    kept = [n.id for n in simpler.contour.nodes]
    assert kept == [n.id for n in contour.nodes if n.id in kept], "what is left is still the same points, in order"


def test_simplifying_takes_off_what_was_only_added() -> None:
    plain = wave(6)
    assert len(simplified(recut(plain, [0.1, 0.3, 0.33, 0.5, 0.8, 0.9]), 0.5).contour.nodes) <= len(plain.nodes)


circles = st.lists(st.tuples(st.floats(150, 250), st.floats(150, 250), st.floats(60, 110)), min_size=2, max_size=4)


@few
@given(circles, st.floats(120, 280), st.floats(120, 280))
@example([(173.0, 150.0, 60.0), (150.0, 150.0, 60.0), (172.0, 150.0, 60.0)], 120.0, 120.0)  # the first bounds nothing
def test_a_poured_area_is_the_polygonized_face(rows: list[tuple[float, float, float]], x: float, y: float) -> None:
    shapes = [stroked(ellipse(cx, cy, r, r)) for cx, cy, r in rows]
    rings = [shapely.LinearRing(outline(s.contours[0], 400)) for s in shapes]
    faces = shapely.polygonize(list(shapely.unary_union(rings).geoms)).geoms
    face = min((f for f in faces if f.contains(shapely.Point(x, y))), key=lambda f: f.area, default=None)
    if face is None or face.area < 20:
        return
    poured = next(s for s in drawn(do(on(*shapes), type="pour", x=x, y=y, gap=0)) if s.name == "poured fill")
    found = abs(sum(area(path_of(c)) * (1 if k == 0 else -1) for k, c in enumerate(poured.contours)))
    whole = sum(abs(area(path_of(c))) * (1 if k == 0 else -1) for k, c in enumerate(poured.contours))
    assert min(abs(found - face.area), abs(whole - face.area)) < 0.004 * face.area + 2


def test_a_poured_fill_follows_its_lines_and_is_free_once_it_is_moved_itself() -> None:
    one, two = stroked(ellipse(200, 200, 100, 80)), stroked(ellipse(280, 200, 100, 80))
    work = do(on(one, two), type="pour", x=240, y=200)
    fill = drawn(work)[0]
    assert [s.id for s in drawn(work)[1:]] == [one.id, two.id], "it lies right under the lines"
    assert {b.shape for b in fill.contours[0].bounds} == {one.id, two.id}
    moved = do(work, type="transform_shapes", shapes=[two.id], matrix=(1, 0, 0, 1, 30, 10))
    lens = shapely.Polygon(outline(one.contours[0])) & shapely.Polygon(outline(drawn(moved)[2].contours[0]))
    assert abs(area(path_of(drawn(moved)[0].contours[0]))) == pytest.approx(lens.area, rel=0.002)
    ids = [[n.id for n in s.contours[0].nodes] for s in (fill, drawn(moved)[0])]
    assert ids[0] == ids[1], "its points stay the same ones, so its in-betweens stay"
    free = do(moved, type="transform_shapes", shapes=[fill.id], matrix=(1, 0, 0, 1, 5, 0))
    assert drawn(free)[0].contours[0].bounds == ()
    gone = do(moved, type="remove_shapes", shapes=[two.id])
    assert drawn(gone)[0].contours[0].bounds == ()
    assert drawn(gone)[0].contours[0].nodes == drawn(moved)[0].contours[0].nodes


def test_a_ring_is_poured_with_its_hole_and_a_gap_is_closed_or_named() -> None:
    ring = on(stroked(ellipse(200, 200, 100, 100)), stroked(ellipse(200, 200, 40, 40)))
    poured = drawn(do(ring, type="pour", x=280, y=200))[0]
    assert len(poured.contours) == 2
    assert poured.fill is not None
    assert poured.fill.rule == "evenodd"
    open_box = on(stroked(polygon([(0, 0), (100, 0), (100, 100), (0, 100), (0, 8)], closed=False)))
    with pytest.raises(EditError, match="A gap of 9 would close it"):
        do(open_box, type="pour", x=50, y=50, gap=4)
    assert abs(area(path_of(drawn(do(open_box, type="pour", x=50, y=50, gap=9))[0].contours[0]))) == pytest.approx(1e4)
    with pytest.raises(EditError, match="no lines"):
        do(on(filled(star())), type="pour", x=200, y=200)


@few
@given(st.floats(-3, 3), st.floats(-3, 3), st.booleans())
@example(-1.7765557194129737, -0.8798953311206477, False)
def test_lines_whose_ends_nearly_meet_enclose_an_area(across: float, down: float, two: bool) -> None:
    ring = [(100 * np.cos(k * np.pi / 7), 80 * np.sin(k * np.pi / 7)) for k in range(14)]
    last = (ring[0][0] + across, ring[0][1] + down)
    lines = [ring[:8], [(ring[7][0] - down, ring[7][1] + across), *ring[8:], last]] if two else [[*ring, last]]
    work = on(*(stroked(polygon(points, closed=False)) for points in lines))
    poured = drawn(do(work, type="pour", x=0, y=0, gap=5))[0]
    assert abs(area(path_of(poured.contours[0]))) == pytest.approx(shapely.Polygon(ring).area, rel=0.05)


@given(st.floats(0, 360), st.floats(0.2, 0.8), st.floats(0.2, 0.8), st.sampled_from([0, 4]))
def test_a_line_that_ends_on_another_parts_the_area(lean: float, above: float, below: float, gap: float) -> None:
    corners = np.array([0, 100, 100 + 60j, 60j]) * np.exp(1j * np.radians(lean)) + (3.3 - 7.7j)
    ends = [corners[0] + above * (corners[1] - corners[0]), corners[3] + below * (corners[2] - corners[3])]
    box, bar = ([(z.real, z.imag) for z in row] for row in (corners, np.array(ends)))
    inside = corners[0] + (3 + 30j) * np.exp(1j * np.radians(lean))
    work = on(stroked(polygon(box)), stroked(polygon(bar, closed=False)))
    poured = drawn(do(work, type="pour", x=inside.real, y=inside.imag, gap=gap))[0]
    assert abs(area(path_of(poured.contours[0]))) == pytest.approx(30 * (100 * above + 100 * below), rel=1e-3)


@given(st.floats(-0.1, 0.1), st.integers(0, 99), st.floats(1, 4))
def test_a_line_that_the_hand_shuts_has_no_corner_where_it_began(past: float, seed: int, tolerance: float) -> None:
    angles = np.linspace(0, 2 * np.pi + past, 60)
    tremble = np.random.default_rng(seed).normal(0, 0.2, (60, 2))
    points = np.stack([200 + 100 * np.cos(angles), 200 + 80 * np.sin(angles)], axis=1) + tremble
    samples = [{"x": x, "y": y} for x, y in points.tolist()]
    (form,) = drawn(do(on(), type="add_freehand", samples=samples, tolerance=tolerance, closed=True))
    assert form.contours[0].closed
    assert {node.kind for node in form.contours[0].nodes} == {"smooth"}
    assert area(path_of(form.contours[0])) == pytest.approx(np.pi * 8000, rel=0.05)


def test_an_outline_along_whole_lines_is_the_lines_own() -> None:
    circle = stroked(ellipse(0, 0, 50, 50))
    lines = lines_of([circle])
    (bounds,) = area_around(lines, (0.0, 0.0), 0.0)
    path, now = outline_along(bounds, {line.id: line for line in lines})
    assert abs(area(path)) == pytest.approx(abs(area(path_of(circle.contours[0]))), rel=1e-9)
    assert now == tuple(bounds)


def test_letters_are_outlines_with_holes_one_shape_each() -> None:
    found = letter_outlines("Po d", 100, 10, 200)
    assert [letter for letter, _ in found] == ["P", "o", "d"]
    assert [len(contours) for _, contours in found] == [2, 2, 2]
    heights = [outline(contours[0])[:, 1] for _, contours in found]
    assert all(190 < row.max() < 205 and row.min() > 110 for row in heights), "they stand on the baseline"
    lefts = [outline(contours[0])[:, 0].min() for _, contours in found]
    assert all(a < b for a, b in pairwise(lefts))
    lone, kerned = (min(n.at.x for n in letter_outlines(text, 100, 0, 0)[-1][1][0].nodes) for text in ("V", "AV"))
    assert kerned < lone + 69.9 - 3, "V moves under the slope of A, which is 69.9 wide"
    assert len(letter_outlines("fi", 100, 0, 0)) == 2, "each letter is a shape of its own"
    shapes = drawn(do(on(), type="add_letters", text="ab", x=0, y=0))
    assert [(s.name, s.part) for s in shapes] == [("letter a", "ab"), ("letter b", "ab")]
    with pytest.raises(EditError, match="no letter"):
        do(on(), type="add_letters", text="  ", x=0, y=0)


@given(st.floats(-300, 300), st.floats(-200, 200), st.floats(-180, 180), st.floats(0.2, 3), st.floats(0.2, 3))
def test_posing_keeps_the_pivot_and_is_undone_by_its_opposite(
    x: float, y: float, turn: float, sx: float, sy: float
) -> None:
    pivot = np.array([x, y])
    matrix = posed(pivot, (sx, sy), math.radians(turn), np.zeros(2))
    assert matrix[:, :2] @ pivot + matrix[:, 2] == pytest.approx(pivot, abs=1e-9)
    work = on(filled(star()))
    ids = [drawn(work)[0].id]
    turned = do(work, type="pose_shapes", shapes=ids, pivot=(x, y), turn=turn)
    again = do(turned, type="pose_shapes", shapes=ids, pivot=(x, y), turn=-turn)
    assert apart(drawn(work)[0].contours[0], drawn(again)[0].contours[0]) < 1e-9


def test_points_are_merged_straightened_and_lined_up() -> None:
    work = on(stroked(polygon([(0, 0), (100, 0), (100.2, 0), (60, 80)], closed=True)))
    (shape,) = drawn(work)
    merged = drawn(do(work, type="merge_points", shapes=[shape.id]))[0].contours[0]
    assert [tuple(n.at) for n in merged.nodes] == [(0, 0), (100.1, 0), (60, 80)]
    with pytest.raises(EditError, match="close to each other"):
        do(work, type="merge_points", shapes=[shape.id], within=0.01)
    curve = stroked(wave(4))
    nodes = [n.id for n in curve.contours[0].nodes]
    straight = drawn(do(on(curve), type="straighten_points", nodes=nodes[1:3]))[0].contours[0]
    middle = points_at(path_of(straight), np.array([1.5]))[0]
    assert middle == pytest.approx((np.array(straight.nodes[1].at) + np.array(straight.nodes[2].at)) / 2)
    assert apart(Contour(nodes=curve.contours[0].nodes[:2]), Contour(nodes=straight.nodes[:2])) < 1e-9
    level = drawn(do(on(curve), type="align_points", nodes=nodes[:3], to="level"))[0].contours[0]
    assert len({round(n.at.y, 9) for n in level.nodes[:3]}) == 1
    assert [n.at.x for n in level.nodes] == [n.at.x for n in curve.contours[0].nodes]


@given(radii, st.integers(0, 4))
def test_a_closed_line_split_and_joined_again_is_the_line_it_was(form: list[float], at: int) -> None:
    work = on(stroked(blob(form)))
    (shape,) = drawn(work)
    split = do(work, type="split_line", nodes=[shape.contours[0].nodes[at].id])
    (opened,) = drawn(split)
    ends = opened.contours[0].nodes[0].id, opened.contours[0].nodes[-1].id
    assert not opened.contours[0].closed
    assert len(opened.contours[0].nodes) == len(shape.contours[0].nodes) + 1
    (closed,) = drawn(do(split, type="join_ends", nodes=ends))
    assert closed.contours[0].closed
    assert apart(shape.contours[0], closed.contours[0]) < 1e-9


def test_an_open_line_is_split_into_two_shapes_and_joined_to_another_at_any_ends() -> None:
    line = stroked(wave(5))
    work = do(on(line), type="split_line", nodes=[line.contours[0].nodes[2].id])
    one, two = drawn(work)
    assert (one.id, two.id) == (line.id, two.id)
    assert [len(s.contours[0].nodes) for s in (one, two)] == [3, 3]
    whole = do(work, type="join_ends", nodes=[two.contours[0].nodes[0].id, one.contours[0].nodes[-1].id])
    (joined,) = drawn(whole)
    assert apart(joined.contours[0], line.contours[0]) < 1e-9
    with pytest.raises(EditError, match="Only the ends"):
        do(on(line), type="join_ends", nodes=[line.contours[0].nodes[2].id, line.contours[0].nodes[0].id])


def test_direction_and_seam_are_changed_without_changing_the_form() -> None:
    shape = filled(blob([90, 60, 100, 70, 80]))
    (back,) = drawn(do(on(shape), type="turn_direction", shapes=[shape.id]))
    assert area(path_of(back.contours[0])) == pytest.approx(-area(path_of(shape.contours[0])))
    seam = shape.contours[0].nodes[3].id
    (moved,) = drawn(do(on(shape), type="move_seam", node=seam))
    assert moved.contours[0].nodes[0].id == seam
    assert apart(moved.contours[0], shape.contours[0]) < 1e-9
    line = stroked(wave(4))
    (closed,) = drawn(do(on(line), type="close_lines", shapes=[line.id], closed=True))
    (opened,) = drawn(do(on(closed), type="close_lines", shapes=[line.id], closed=False))
    assert (closed.contours[0].closed, opened.contours[0].closed) == (True, False)


def test_a_line_is_pulled_wider_at_a_place_and_made_even_again() -> None:
    line = stroked(polygon([(0, 0), (200, 0)], closed=False), width=4)
    wide = do(on(line), type="pull_width", shape=line.id, at=(100, 3), width=12)
    contour = drawn(wide)[0].contours[0]
    assert [(round(n.at.x), n.weight) for n in contour.nodes] == [(0, 1), (100, 3), (200, 1)]
    again = do(wide, type="pull_width", shape=line.id, at=(103, 0), width=2)
    assert [n.weight for n in drawn(again)[0].contours[0].nodes] == [1, 0.5, 1], "a point that is near is taken"
    even = do(again, type="even_width", shapes=[line.id])
    assert all(n.weight == 1 for n in drawn(even)[0].contours[0].nodes)


def test_pressure_is_a_profile_along_a_line_that_needs_few_points_for_its_form() -> None:
    u = np.linspace(0, 1, 80)
    samples = [{"x": 300 * t, "y": 0.0, "pressure": math.sin(math.pi * t)} for t in u]
    (line,) = drawn(do(on(), type="add_freehand", shape="l", samples=samples, stroke={"width": 5}))
    nodes = line.contours[0].nodes
    assert 3 <= len(nodes) <= 9
    asked = np.interp(u * 300, [n.at.x for n in nodes], [n.weight for n in nodes])
    assert np.abs(asked - 2 * np.sin(np.pi * u)).max() < 0.3
    refitted = do(on(line), type="add_freehand", shape="l", samples=samples, tolerance=9, stroke={"width": 5})
    assert [s.id for s in drawn(refitted)] == ["l"], "it is fitted anew, not drawn once more"


def test_parts_are_nested_renamed_and_left() -> None:
    eye, pupil, mouth = (filled(star(), name=name) for name in ("eye", "pupil", "mouth"))
    work = do(on(eye, pupil, mouth), type="group_shapes", shapes=[eye.id, pupil.id], name="left eye")
    work = do(work, type="group_shapes", shapes=[eye.id, pupil.id, mouth.id], name="face")
    assert [s.part for s in drawn(work)] == ["face/left eye", "face/left eye", "face"]
    work = do(work, type="rename_part", part="face/left eye", name="right eye")
    assert [s.part for s in drawn(work)] == ["face/right eye", "face/right eye", "face"]
    work = do(work, type="ungroup_shapes", shapes=[eye.id, pupil.id, mouth.id])
    assert [s.part for s in drawn(work)] == ["right eye", "right eye", None]
    with pytest.raises(EditError, match="slash"):
        do(work, type="group_shapes", shapes=[eye.id], name="a/b")


def test_a_changed_colour_of_the_palette_changes_all_that_follow_it() -> None:
    work = do(
        on(filled(star()), filled(blob([50, 60, 70, 50, 60]))), type="add_swatch", id="s", name="skin", color="#112233"
    )
    first, other = drawn(work)
    paint = {"color": "#112233", "swatch": "s"}
    work = do(work, type="repaint", shapes=[first.id], fill=paint)
    work = do(work, type="set_layer", layer="l", locked=True)
    work = do(work, type="change_swatch", swatch="s", color="#aa0000")
    colors = [s.fill.paint.color for s in drawn(work) if s.fill]
    assert colors == ["#aa0000", other.fill.paint.color if other.fill else ""]
    free = do(work, type="remove_swatch", swatch="s")
    assert next(s.fill.paint for s in drawn(free) if s.fill) == Paint(color="#aa0000")
    with pytest.raises(EditError, match="no longer on the palette"):
        do(free, type="change_swatch", swatch="s", color="#000000")


def test_repainting_changes_only_what_is_given() -> None:
    red = Shape(contours=(star(),), stroke=Stroke(width=2, paint=Paint(color="#ff0000")))
    blue = filled(star(), color="#0000ff")
    ids = [red.id, blue.id]
    wide = drawn(do(on(red, blue), type="repaint", shapes=ids, width=7.0, cap="square"))
    assert [(s.stroke.paint.color, s.stroke.width, s.stroke.cap) for s in wide if s.stroke] == [
        ("#ff0000", 7, "square")
    ]
    both = drawn(do(on(red, blue), type="repaint", shapes=ids, line={"color": "#00ff00"}))
    assert [s.stroke.width for s in both if s.stroke] == [2, Stroke().width]
    bare = drawn(do(on(red, blue), type="repaint", shapes=ids, fill=None))
    assert [(s.fill, s.stroke is None) for s in bare] == [(None, False), (None, True)]


def test_a_hint_stays_at_its_place_when_the_point_under_it_goes() -> None:
    first, second = filled(star()), filled(star())
    node, there = first.contours[0].nodes[2], second.contours[0].nodes[2]
    ends = [HintEnd(shape=s.id, at=Point(0, 0), node=n.id) for s, n in ((first, node), (second, there))]
    work = work_of(drawing(first), drawing(second)).with_take(
        "k1", lambda take: take.model_copy(update={"hints": (Hint(first=ends[0], second=ends[1]),)})
    )
    work = do(work, type="remove_nodes", nodes=[node.id])
    work = do(work, type="remove_nodes", key="k2", nodes=[there.id])
    (hint,) = work.key("k1").span.take.hints
    assert (hint.first.node, hint.first.at) == (None, node.at)
    assert (hint.second.node, hint.second.at) == (None, there.at)


def test_shapes_are_put_over_another_and_to_the_very_back() -> None:
    shapes = [filled(star(), name=name) for name in "abcd"]
    ids = {s.name: s.id for s in shapes}
    over = do(on(*shapes), type="place_in_stack", shapes=[ids["a"], ids["b"]], over=ids["c"])
    assert "".join(s.name for s in drawn(over)) == "cabd"
    back = do(over, type="place_in_stack", shapes=[ids["d"]], over=None)
    assert "".join(s.name for s in drawn(back)) == "dcab"


def test_a_poured_fill_pasted_with_its_lines_follows_the_copies() -> None:
    work = do(on(stroked(ellipse(0, 0, 50, 50))), type="pour", x=0, y=0)
    fill, line = drawn(work)
    pasted = drawn(do(work, type="add_shapes", shapes=[s.model_dump() for s in (fill, line)]))
    assert len(pasted) == 4
    assert {b.shape for b in pasted[2].contours[0].bounds} == {pasted[3].id} != {line.id}


def test_a_picture_lies_under_everything_is_matched_in_size_and_never_drawn_on() -> None:
    work = on(filled(ellipse(300, 200, 100, 50)))
    sheet = Picture(image="x", width=400, height=200, at=Point(0, 0))
    work = do(work, type="add_picture", id="p", name="rough", picture=sheet.model_dump())
    assert [layer.id for layer in work.scene.layers] == ["p", "l"]
    over = do(
        do(work, type="add_layer", id="m", name="mist"),
        type="add_picture",
        id="q",
        name="rough",
        picture=sheet.model_dump(),
        under="m",
    )
    assert [layer.id for layer in over.scene.layers] == ["p", "l", "q", "m"]
    matched = do(work, type="match_picture", layer="p", to="l", frame=1).layer("p").picture
    assert matched is not None
    assert (matched.scale, matched.at) == (pytest.approx(0.5, abs=1e-3), pytest.approx((300, 200), abs=0.01))
    with pytest.raises(EditError, match="holds a picture"):
        do(work, type="new_key", layer="p", frame=3, source="shown")
    with pytest.raises(EditError, match="last frame"):
        do(work, type="place_picture", layer="p", first=5, last=2)


def test_a_key_is_moved_to_another_layer_and_an_svg_takes_a_keys_place() -> None:
    work = do(on(filled(star())), type="add_layer", id="m", name="mist")
    moved = do(work, type="move_key_over", layer="m", frame=4)
    assert [k.id for k in moved.layer("l").keys] == ["k2"]
    assert [(k.id, k.frame) for k in moved.layer("m").keys] == [("k1", 4)]
    given_shapes = [filled(blob([50, 60, 70, 50, 60])).model_dump()]
    brought = do(work, type="bring_key", layer="l", frame=1, shapes=given_shapes)
    assert len(brought.layer("l").keys) == 2
    assert drawn(brought)[0].id == given_shapes[0]["id"]


def test_placed_points_become_the_line_they_are() -> None:
    nodes = [
        Node(at=Point(0, 0), before=Point(0, 0), after=Point(10, 0)),
        Node(at=Point(50, 50), before=Point(50, 40), after=Point(50, 50)),
    ]
    (line,) = drawn(do(on(), type="add_path", nodes=[n.model_dump() for n in nodes], stroke={"width": 2}))
    assert line.contours[0].nodes == tuple(nodes)
    assert Drawing(shapes=(line,)).hash == Drawing(shapes=(Shape.model_validate(line.model_dump()),)).hash


def test_how_much_of_a_line_is_drawn_goes_from_key_to_key_and_leaves_the_rest_of_its_style() -> None:
    line = stroked(polygon([(0, 0), (300, 0)], closed=False), width=7)
    dashed = do(on(line), type="repaint", shapes=[line.id], dashes=[6, 4], dash_offset=2, reveal=[0.0, 0.2])
    (begun,) = drawn(dashed)
    assert begun.stroke is not None
    assert (begun.stroke.width, begun.stroke.dashes, begun.stroke.reveal) == (7, (6, 4), (0.0, 0.2))
    (ended,) = drawn(do(dashed, type="repaint", shapes=[line.id], dash_offset=12, reveal=[0.4, 1.0]))
    (half,) = plan_span(drawing(begun), drawing(ended), Take()).at(0.5).shapes
    assert half.stroke is not None
    assert half.stroke.reveal == pytest.approx((0.2, 0.6))
    assert half.stroke.dash_offset == pytest.approx(7.0)
    with pytest.raises(ValidationError):
        do(dashed, type="repaint", shapes=[line.id], reveal=[0.0, 1.5])
