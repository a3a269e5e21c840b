"""Edits: pure functions from a scene to the next."""

import contextlib

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from knead.core.edit import EditError, Operation, Work
from knead.core.edit.arrange import EDGES, extent
from knead.core.edit.nodes import with_node, without_nodes
from knead.core.geometry.fit import fit_path
from knead.core.geometry.track import measure, track_of
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Ease, Key, Layer, Scene, Span, Take
from knead.core.pace.ease import eased
from knead.core.playback import exposures, frame, places
from tests.examples import few
from tests.forms import apart, blob, drawing, ellipse, filled, polygon, star, stroked, wave, work_of

radii = st.lists(st.floats(40, 120), min_size=5, max_size=9)
operation: TypeAdapter[Operation] = TypeAdapter(Operation)


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python(fields).apply(work)


@pytest.fixture
def work() -> Work:
    """Two keys at 1 and 13 on one layer, in-betweened: a star becomes a blob."""
    first, second = drawing(filled(star())), drawing(filled(blob([90, 60, 100, 70, 80])))
    keys = (
        Key(id="k1", frame=1, drawing=first.hash, span=Span(inbetween=True)),
        Key(id="k2", frame=13, drawing=second.hash),
    )
    scene = Scene(layers=(Layer(id="l1", name="pond", keys=keys),))
    return Work(scene, {first.hash: first, second.hash: second})


def shape_of(work: Work, key: str = "k1") -> str:
    return work.drawing(key).shapes[0].id


@given(radii, st.floats(0.01, 0.99))
def test_adding_a_node_does_not_change_the_outline(form: list[float], share: float) -> None:
    contour = blob(form)
    more = with_node(contour, share * len(contour.nodes))
    track, points = track_of(more), np.array([n.at for n in contour.nodes])
    assert len(more.nodes) >= len(contour.nodes)
    assert apart(contour, more) < 1e-4  # two samplings of one curve
    assert all(track.nearest(p)[1] < 1e-9 for p in points)
    assert [n.id for n in contour.nodes] == [n.id for n in more.nodes if n.id in {m.id for m in contour.nodes}]


@given(radii, st.floats(0.1, 0.9))
def test_removing_an_added_node_gives_the_outline_back(form: list[float], share: float) -> None:
    contour = blob(form)
    more = with_node(contour, share * len(contour.nodes))
    added = {n.id for n in more.nodes} - {n.id for n in contour.nodes}
    again = without_nodes(more, added)
    assert again is not None
    assert apart(contour, again) < 0.004


@few
@given(st.floats(0.5, 8), st.integers(2, 6), st.floats(-1, 1))
def test_a_freehand_line_is_fitted_within_its_tolerance_by_few_nodes(tolerance: float, bends: int, lean: float) -> None:
    x = np.linspace(0, 400, 160)
    points = np.stack([x, 60 * np.sin(x / 400 * bends * 3) + lean * x], axis=1)
    path, _ = fit_path(points, tolerance)
    track = measure(path, False)
    assert max(track.nearest(p)[1] for p in points) <= tolerance * 1.05
    assert len(path) <= 4 * bends + 4


def test_pen_pressure_is_kept_in_the_nodes(work: Work) -> None:
    samples = [{"x": 10.0 * k, "y": 5.0 * (k % 2), "pressure": k / 20} for k in range(20)]
    done = do(work, type="add_freehand", key="k1", samples=samples, tolerance=8, stroke={"width": 5})
    weights = [n.weight for n in done.drawing("k1").shapes[-1].contours[0].nodes]
    assert weights[0] == 0
    assert weights[-1] == pytest.approx(1.9)


def test_a_moved_node_leaves_other_keys_and_the_old_drawing_alone(work: Work) -> None:
    node = work.drawing("k1").shapes[0].contours[0].nodes[0]
    move = {"node": node.id, "at": (1, 2), "before": (1, 2), "after": (1, 2)}
    done = do(work, type="move_nodes", key="k1", moves=[move])
    assert done.drawing("k1").shapes[0].contours[0].nodes[0].at == (1, 2)
    assert work.drawing("k1").shapes[0].contours[0].nodes[0].at == node.at
    assert done.drawing("k2") == work.drawing("k2")


def test_transforms_restack_and_removal_keep_identity(work: Work) -> None:
    form = {"type": "add_form", "key": "k1", "form": "ellipse", "x": 0, "y": 0, "width": 40, "height": 20}
    done = do(work, **form, fill={"paint": {"color": "#ff0000"}})
    star_id, ellipse_id = (s.id for s in done.drawing("k1").shapes)
    moved = do(done, type="transform_shapes", key="k1", shapes=[ellipse_id], matrix=(2, 0, 0, 2, 5, 0))
    assert moved.drawing("k1").shapes[1].contours[0].nodes[1].at == (85, 20)
    back = do(moved, type="restack", key="k1", shapes=[ellipse_id], to="back")
    assert [s.id for s in back.drawing("k1").shapes] == [ellipse_id, star_id]
    assert [s.id for s in do(back, type="remove_shapes", key="k1", shapes=[ellipse_id]).drawing("k1").shapes] == [
        star_id
    ]
    with pytest.raises(EditError, match="flatten"):
        do(done, type="transform_shapes", key="k1", shapes=[star_id], matrix=(0, 0, 0, 0, 0, 0))


def test_a_breakdown_is_what_was_shown_and_the_rest_of_the_motion_stays(work: Work) -> None:
    plan = work.plan("k1")
    before = plan.at(6 / 12).shapes[0].contours[0]
    done = do(work, type="new_key", layer="l1", frame=7, source="shown")
    first, breakdown, _ = done.layer("l1").keys
    assert (breakdown.frame, breakdown.breakdown, breakdown.span.inbetween) == (7, True, True)
    assert done.drawing(breakdown.id).shapes[0].contours[0] == before
    halves = done.plan(first.id).at(0.5).shapes[0], done.plan(breakdown.id).at(0.5).shapes[0]
    for t, shape in zip((3 / 12, 9 / 12), halves, strict=True):
        assert apart(plan.at(t).shapes[0].contours[0], shape.contours[0]) < 0.03


def film(work: Work) -> list[list[Drawing]]:
    """What is seen at frames 1 to 14."""
    drawings = {**work.drawings, **work.fresh}
    frames = (frame(work.scene, n, drawings, lambda one, _: work.plan(one.id)) for n in range(1, 15))
    return [[shown for _, shown in each] for each in frames]


@few
@given(st.integers(1, 4))
def test_a_layer_turned_into_drawings_shows_the_same_and_can_be_made_anew(each: int) -> None:
    first, second = drawing(filled(star())), drawing(filled(blob([90, 60, 100, 70, 80])))
    work = do(work_of(first, second), type="set_exposure", key="k1", exposure=each)
    done = do(work, type="keep_drawings", layer="l", id="drawn")
    assert film(done) == film(work)
    assert [key.frame for key in done.layer("drawn").keys] == [*range(1, 13, each), 13]
    assert done.layer("l").keys == work.layer("l").keys, "the way back"
    assert done.layer("l").hidden
    one, *others = done.layer("drawn").keys
    changed = done.with_drawing(one.id, Drawing())
    assert changed.layer("drawn").keys[1:] == tuple(others), "one drawing's change touches no other"
    with pytest.raises(EditError, match="could become drawings"):
        do(done, type="keep_drawings", layer="drawn")


def test_drawings_bear_names_and_so_does_what_they_are_turned_into() -> None:
    work = work_of(drawing(filled(star())), drawing(filled(blob([90, 60, 100, 70, 80]))))
    named = do(work, type="name_key", key="k1", name="  puddle ")
    drawn = do(named, type="keep_drawings", layer="l", id="drawn").layer("drawn").keys
    assert [key.name for key in drawn] == ["puddle", *(f"puddle {k}" for k in range(1, 12)), None]
    assert do(named, type="name_key", key="k1", name=None).key("k1").name is None
    with pytest.raises(EditError, match="locked"):
        do(do(named, type="set_layer", layer="l", locked=True), type="name_key", key="k1", name="pond")


def test_on_twos_a_key_from_what_is_held_goes_on_to_the_next_key(work: Work) -> None:
    on_twos = do(work, type="set_exposure", key="k1", exposure=2)
    done = do(on_twos, type="new_key", layer="l1", frame=2, source="shown")
    first, again, last = done.layer("l1").keys
    assert again.drawing == first.drawing
    assert (again.span, first.span.take.exposure) == (on_twos.key("k1").span, 2)
    assert done.plan(again.id).at(0.5) == on_twos.plan("k1").at(0.5)
    shown = [e.place for e in exposures(done.scene, done.layer("l1"), 13) if e and e.key == again.id]
    assert len(set(shown)) == 6
    assert shown[::2] == [*shown[1::2], shown[-1]], "from frame 2 on, each for two frames"
    assert last.frame == 13


@pytest.mark.parametrize(
    "kept",
    [{"type": "new_key", "frame": 7, "source": "shown"}, {"type": "keep_drawings"}],
    ids=lambda kept: kept["type"],
)
def test_lines_that_become_one_have_nodes_of_their_own_once_they_are_drawn(kept: dict[str, object]) -> None:
    lines = [polygon([(0, 0), (200, 0), (200, 200)], False), polygon([(200, 200), (0, 0)], False)]
    work = work_of(drawing(*map(stroked, lines)), drawing(stroked(wave(4))))
    assert {pair.second_id for pair in work.plan("k1").pairs} == {work.drawing("k2").shapes[0].id}
    done = do(work, layer="l", **kept)
    for drawn in map(done.of, {key.drawing for layer in done.scene.layers for key in layer.keys}):
        nodes = [node.id for shape in drawn.shapes for c in shape.contours for node in c.nodes]
        assert len(nodes) == len(set(nodes))


def test_hints_run_on_through_a_breakdown(work: Work) -> None:
    tip = work.drawing("k1").shapes[0].contours[0].nodes[2].at
    tied = do(work, type="add_hint", key="k1", id="h1", first={"shape": shape_of(work), "at": tip}, snap=5)
    done = do(tied, type="new_key", layer="l1", frame=7, source="shown")
    first, breakdown, _ = done.layer("l1").keys
    one, two = first.span.take.hints[0], breakdown.span.take.hints[0]
    assert one.second == two.first
    assert two.second == tied.key("k1").span.take.hints[0].second
    assert done.plan(first.id).troubles == done.plan(breakdown.id).troubles == ()


def test_a_new_hint_is_tied_to_where_its_point_goes_today(work: Work) -> None:
    plan = work.plan("k1")
    tip = work.drawing("k1").shapes[0].contours[0].nodes[4]
    done = do(
        work, type="add_hint", key="k1", first={"shape": shape_of(work), "at": (tip.at[0] + 2, tip.at[1])}, snap=6
    )
    (hint,) = done.key("k1").span.take.hints
    assert hint.first.node == tip.id
    index = next(k for k, n in enumerate(plan.at(0.0).shapes[0].contours[0].nodes) if n.at == tip.at)
    assert hint.second.at == pytest.approx(plan.at(1.0).shapes[0].contours[0].nodes[index].at, abs=0.5)
    assert "tip" in hint.name or "corner" in hint.name
    assert apart(plan.at(0.5).shapes[0].contours[0], done.plan("k1").at(0.5).shapes[0].contours[0]) < 0.03


def test_keys_stay_between_their_neighbours_and_locked_layers_stay_as_they_are(work: Work) -> None:
    assert do(work, type="move_key", key="k2", frame=20).key("k2").frame == 20
    with pytest.raises(EditError, match="between its neighbours"):
        do(do(work, type="move_key", key="k1", frame=3), type="move_key", key="k2", frame=2)
    locked = do(work, type="set_layer", layer="l1", locked=True)
    with pytest.raises(EditError, match="'pond' is locked"):
        do(locked, type="remove_shapes", key="k1", shapes=[shape_of(work)])
    with pytest.raises(EditError, match="already has a key"):
        do(work, type="new_key", layer="l1", frame=13, source="empty")
    with pytest.raises(EditError, match="key at 13"):
        do(work, type="set_scene", length=5)


def test_exposures_hold_inbetween_and_begin_with_the_first_key(work: Work) -> None:
    work = do(work, type="move_key", key="k1", frame=3)
    shown = exposures(work.scene, work.layer("l1"), 16)
    assert shown[:2] == [None, None]
    assert [(e.key, e.number) for e in shown[2:14] if e] == [("k1", n) for n in range(10)] + [("k2", 0)] * 2
    held = do(work, type="set_inbetween", key="k1", inbetween=False)
    assert all(e and e.number == 0 for e in exposures(held.scene, held.layer("l1"), 16)[2:])
    drawings = {**work.drawings}
    (layer, drawn), *_ = frame(work.scene, 8, drawings, lambda a, b: work.plan(a.id))
    assert layer.id == "l1"
    assert drawn == work.plan("k1").at(places(work.key("k1"), work.key("k2"))[5])


@given(st.floats(-1, 1), st.floats(-1, 1))
def test_ease_runs_from_key_to_key_and_never_backwards(out: float, into: float) -> None:
    curve = eased(Ease(out=out, into=into), np.linspace(0, 1, 101))
    assert curve[0] == 0
    assert curve[-1] == pytest.approx(1, abs=1e-12)
    assert np.all(np.diff(curve) >= -1e-12)


def test_ease_is_even_at_zero_and_gentle_at_one() -> None:
    times = np.linspace(0, 1, 13)
    assert eased(Ease(), times) == pytest.approx(times, abs=1e-12)
    slow_start, slow_end = eased(Ease(out=1), times), eased(Ease(into=1), times)
    assert slow_start[1] < 0.5 * times[1]
    assert 1 - slow_end[-2] < 0.5 * times[1]


@given(st.sampled_from(["k1", "k2"]), st.floats(0, 900), st.floats(0, 500))
def test_an_edit_is_its_own_inverse_where_it_says_so(key: str, x: float, y: float) -> None:
    first = drawing(filled(ellipse(100, 100, 40, 30)))
    base = Work(
        Scene(
            layers=(
                Layer(
                    id="l1", keys=(Key(id="k1", frame=1, drawing=first.hash), Key(id="k2", frame=9, drawing=first.hash))
                ),
            )
        ),
        {first.hash: first},
    )
    there = do(base, type="transform_shapes", key=key, shapes=[first.shapes[0].id], matrix=(1, 0, 0, 1, x, y))
    again = do(there, type="transform_shapes", key=key, shapes=[first.shapes[0].id], matrix=(1, 0, 0, 1, -x, -y))
    assert apart(first.shapes[0].contours[0], again.drawing(key).shapes[0].contours[0]) < 1e-9


def test_empty_keys_and_single_points_do_not_break_a_span() -> None:
    dot = wave(2).model_copy(update={"nodes": wave(2).nodes[:1]})
    for first, second in ((Drawing(), drawing(filled(star()))), (drawing(filled(dot)), drawing(filled(star())))):
        assert len(plan_span(first, second, Take()).at(0.5).shapes) >= 1


places_of = st.lists(st.tuples(st.floats(0, 900), st.floats(0, 500), st.floats(5, 90)), min_size=3, max_size=6)


@given(places_of, st.sampled_from(sorted(EDGES)))
def test_aligned_shapes_meet_at_one_line_and_keep_their_forms(
    rows: list[tuple[float, float, float]], edge: str
) -> None:
    shapes = [filled(ellipse(x, y, r, r)) for x, y, r in rows]
    key = Key(id="k", frame=1, drawing=drawing(*shapes).hash)
    work = Work(Scene(layers=(Layer(id="l", keys=(key,)),)), {key.drawing: drawing(*shapes)})
    with contextlib.suppress(EditError):  # where they are in line already
        work = do(work, type="align_shapes", key="k", shapes=[s.id for s in shapes], to=edge)
    axis, share = EDGES[edge]
    boxes = [extent(shape) for shape in work.drawing("k").shapes]
    lines = [box[0, axis] + share * np.ptp(box[:, axis]) for box in boxes]
    assert lines == pytest.approx([lines[0]] * len(lines), abs=1e-6)
    assert [np.ptp(b, axis=0) for b in boxes] == [pytest.approx(np.ptp(extent(s), axis=0)) for s in shapes]


@given(places_of, st.sampled_from(["across", "down"]))
def test_spread_shapes_have_even_gaps_between_the_outer_two(rows: list[tuple[float, float, float]], along: str) -> None:
    shapes = [filled(ellipse(x, y, r, r)) for x, y, r in rows]
    key = Key(id="k", frame=1, drawing=drawing(*shapes).hash)
    work = Work(Scene(layers=(Layer(id="l", keys=(key,)),)), {key.drawing: drawing(*shapes)})
    with contextlib.suppress(EditError):  # where they are even already
        work = do(work, type="spread_shapes", key="k", shapes=[s.id for s in shapes], along=along)
    axis = 0 if along == "across" else 1
    order = sorted(range(len(shapes)), key=lambda k: float(extent(shapes[k])[:, axis].sum()))
    boxes = [extent(work.drawing("k").shapes[k])[:, axis] for k in order]
    gaps = [float(after[0] - before[1]) for before, after in zip(boxes, boxes[1:], strict=False)]
    assert gaps == pytest.approx([gaps[0]] * len(gaps), abs=1e-6)


def test_a_mirrored_copy_is_another_thing_on_the_other_side(work: Work) -> None:
    one = work.drawing("k1").shapes[0]
    mirrored = do(work, type="mirror_shapes", key="k1", shapes=[one.id])
    old, new = mirrored.drawing("k1").shapes
    assert old == one
    assert new.id != old.id
    assert not {n.id for n in new.contours[0].nodes} & {n.id for n in old.contours[0].nodes}
    line = extent(old)[1, 0]
    assert extent(new)[:, 0] == pytest.approx(sorted(2 * line - extent(old)[:, 0]))
    assert extent(new)[:, 1] == pytest.approx(extent(old)[:, 1])
