"""Edits of spans, layers and the scene."""

from typing import get_args

import pytest
from pydantic import TypeAdapter, ValidationError

from knead.core.edit import EditError, Operation, Work
from knead.core.inbetween import hint_points
from knead.core.model import Drawing, Key, Layer, Scene, SceneBundle, Span
from knead.core.playback import frame
from tests.forms import blob, drawing, ellipse, filled, polygon, star, stroked, work_of

operation: TypeAdapter[Operation] = TypeAdapter(Operation)


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python(fields).apply(work)


@pytest.fixture
def work() -> Work:
    """Two layers; on the first, two shapes become two others."""
    first = drawing(filled(star()), filled(ellipse(420, 80, 40, 30), color="#aa4444"))
    second = drawing(filled(blob([90, 60, 100, 70, 80])), filled(ellipse(440, 90, 50, 30), color="#a84646"))
    keys = (
        Key(id="k1", frame=1, drawing=first.hash, span=Span(inbetween=True)),
        Key(id="k2", frame=13, drawing=second.hash),
    )
    other = Layer(id="l2", name="reeds", keys=(Key(id="k3", frame=5, drawing=second.hash),))
    scene = Scene(layers=(Layer(id="l1", name="pond", keys=keys), other))
    return Work(scene, {first.hash: first, second.hash: second})


def ids(work: Work, key: str) -> list[str]:
    return [s.id for s in work.drawing(key).shapes]


def test_every_operation_has_a_type_and_a_label_in_words() -> None:
    for kind in get_args(get_args(Operation)[0]):
        assert isinstance(kind.label, property)
        assert kind.model_fields["type"].default.replace("_", "").isalpha()
        assert kind.__doc__


def test_unknown_operations_and_fields_are_refused() -> None:
    for fields in ({"type": "fly"}, {"type": "remove_key", "key": "k", "extra": 1}, {"type": "set_ease", "key": "k"}):
        with pytest.raises(ValidationError):
            operation.validate_python(fields)


def test_a_pair_by_hand_replaces_what_it_contradicts_and_can_be_freed(work: Work) -> None:
    (a, _), (c, d) = ids(work, "k1"), ids(work, "k2")
    crossed = do(work, type="pair_shapes", key="k1", first=a, second=d)
    assert (a, d) in {(p.first_id, p.second_id) for p in crossed.plan("k1").pairs}
    again = do(crossed, type="pair_shapes", key="k1", first=a, second=c)
    assert [(p.first, p.second) for p in again.key("k1").span.take.pairs] == [(a, c)]
    assert do(again, type="free_pair", key="k1", first=a, second=c).key("k1").span.take.pairs == ()


def test_parting_a_pair_lets_one_vanish_and_the_other_appear(work: Work) -> None:
    a, c = ids(work, "k1")[0], ids(work, "k2")[0]
    parted = do(work, type="pair_shapes", key="k1", first=a, second=None)
    found = {(p.first_id, p.second_id) for p in parted.plan("k1").pairs}
    assert (a, None) in found
    assert (a, c) not in found
    with pytest.raises(EditError, match="needs a shape"):
        do(work, type="pair_shapes", key="k1", first=None, second=None)
    with pytest.raises(EditError, match="gone"):
        do(work, type="pair_shapes", key="k1", first="nowhere", second=None)


def test_pairing_anew_takes_hints_of_the_old_pair_with_it(work: Work) -> None:
    (a, _), (_, d) = ids(work, "k1"), ids(work, "k2")
    tied = do(work, type="add_hint", key="k1", first={"shape": a, "at": (200, 100)}, snap=9)
    assert len(tied.key("k1").span.take.hints) == 1
    assert do(tied, type="pair_shapes", key="k1", first=a, second=d).key("k1").span.take.hints == ()


def test_a_hint_is_moved_named_and_removed(work: Work) -> None:
    a, c = ids(work, "k1")[0], ids(work, "k2")[0]
    tied = do(work, type="add_hint", key="k1", id="h", first={"shape": a, "at": (200, 100)}, snap=9)
    to = {"shape": c, "at": (400, 300)}
    moved = do(tied, type="move_hint", key="k1", hint="h", end="second", to=to, snap=15)
    (hint,) = moved.key("k1").span.take.hints
    assert hint.second.at == pytest.approx((390, 300))
    assert hint.second.node is not None
    named = do(moved, type="rename_hint", key="k1", hint="h", name="top")
    assert named.key("k1").span.take.hints[0].name == "top"
    assert do(named, type="remove_hints", key="k1", hints=["h"]).key("k1").span.take.hints == ()
    assert do(named, type="remove_hints", key="k1").key("k1").span.take.hints == ()
    with pytest.raises(EditError, match="gone"):
        do(work, type="rename_hint", key="k1", hint="h", name="top")


def test_a_hint_follows_its_node_when_the_key_is_edited(work: Work) -> None:
    a = ids(work, "k1")[0]
    tied = do(work, type="add_hint", key="k1", id="h", first={"shape": a, "at": (200, 100)}, snap=9)
    node = tied.key("k1").span.take.hints[0].first.node
    move = {"node": node, "at": (210, 60), "before": (210, 60), "after": (210, 60)}
    moved = do(tied, type="move_nodes", key="k1", moves=[move])
    ends = hint_points(moved.plan("k1"), moved.key("k1").span.take.hints[0])
    assert ends is not None
    assert tuple(ends[0]) == (210, 60)
    assert moved.plan("k1").troubles == ()


def test_a_hint_needs_a_point_that_is_not_tied_and_something_to_be_tied_to(work: Work) -> None:
    a = ids(work, "k1")[0]
    spot = {"shape": a, "at": (200, 100)}
    with pytest.raises(EditError, match="needs a point"):
        do(work, type="add_hint", key="k1")
    tied = do(work, type="add_hint", key="k1", first=spot)
    with pytest.raises(EditError, match="tied already, by hint"):
        do(tied, type="add_hint", key="k1", first=spot)
    bare = do(work, type="remove_shapes", key="k2", shapes=ids(work, "k2"))
    with pytest.raises(EditError, match="nothing in the other key"):
        do(bare, type="add_hint", key="k1", first=spot)


def test_a_hint_is_dragged_from_stroke_to_stroke_of_one_line() -> None:
    corners = [(100, 100), (300, 100), (300, 300), (100, 300), (100, 100)]
    keys = [
        drawing(stroked(polygon(corners[: cut + 1], closed=False)), stroked(polygon(corners[cut:], closed=False)))
        for cut in (1, 2)
    ]
    work = work_of(*keys)
    own, other = ids(work, "k2")
    tied = do(work, type="add_hint", key="k1", id="h", first={"shape": ids(work, "k1")[0], "at": (200, 100)})
    assert tied.key("k1").span.take.hints[0].second.shape == own
    moved = do(tied, type="move_hint", key="k1", hint="h", end="second", to={"shape": own, "at": (104, 205)}, snap=0)
    (hint,) = moved.key("k1").span.take.hints
    assert hint.second.shape == other
    assert hint.second.at == pytest.approx((100, 205))
    assert moved.plan("k1").troubles == ()


def test_a_hint_on_a_shape_without_a_partner_says_where_it_goes(work: Work) -> None:
    (a, b), (c, d) = ids(work, "k1"), ids(work, "k2")
    parted = do(work, type="pair_shapes", key="k1", first=None, second=d)
    at = parted.of(parted.key("k2").drawing).shapes[1].contours[0].nodes[0].at
    tied = do(parted, type="add_hint", key="k1", id="h", second={"shape": d, "at": at}, snap=5)
    take = tied.key("k1").span.take
    assert [(p.first, p.second) for p in take.pairs] == [(None, d)]
    assert tied.plan("k1").troubles == ()
    assert "a hint says where" in next(p.pair.reason for p in tied.plan("k1").pairs if p.second_id == d)
    # any place will do, and what others become is another matter
    moved = do(tied, type="move_hint", key="k1", hint="h", end="first", to={"shape": a, "at": (222, 111)})
    assert moved.key("k1").span.take.hints[0].first.at == (222, 111)
    assert len(do(moved, type="pair_shapes", key="k1", first=a, second=c).key("k1").span.take.hints) == 1
    assert do(moved, type="pair_shapes", key="k1", first=b, second=d).key("k1").span.take.hints == ()
    assert do(moved, type="free_pair", key="k1", first=None, second=d).key("k1").span.take.hints == ()


def test_the_last_key_has_no_span(work: Work) -> None:
    with pytest.raises(EditError, match="needs two"):
        do(work, type="set_inbetween", key="k2", inbetween=True)


def test_ease_and_blend_are_settings_of_the_span_alone(work: Work) -> None:
    eased = do(work, type="set_ease", key="k1", ease={"out": 0.5, "into": -1})
    assert (eased.key("k1").span.take.ease.out, eased.key("k1").span.take.ease.into) == (0.5, -1)
    assert eased.fresh == {}
    assert do(eased, type="set_blend", key="k1", blend="solid").plan("k1").pairs[0].way == "solid"
    with pytest.raises(ValidationError):
        do(work, type="set_ease", key="k1", ease={"out": 2, "into": 0})


def test_layers_are_added_moved_changed_and_removed(work: Work) -> None:
    added = do(work, type="add_layer", id="l3", name="  moon ", over="l1")
    assert [layer.name for layer in added.scene.layers] == ["pond", "moon", "reeds"]
    moved = do(added, type="move_layer", layer="l3", index=0)
    assert [layer.id for layer in moved.scene.layers] == ["l3", "l1", "l2"]
    faded = do(moved, type="set_layer", layer="l3", opacity=0.25, hidden=True)
    assert (faded.layer("l3").opacity, faded.layer("l3").hidden, faded.layer("l3").name) == (0.25, True, "moon")
    assert [layer.id for layer in do(faded, type="remove_layer", layer="l3").scene.layers] == ["l1", "l2"]
    with pytest.raises(EditError, match="locked"):
        do(do(work, type="set_layer", layer="l2", locked=True), type="remove_layer", layer="l2")
    with pytest.raises(EditError, match="gone"):
        do(work, type="set_layer", layer="nowhere", hidden=True)


def test_a_layer_is_duplicated_with_its_keys_and_shown_alone_and_tagged(work: Work) -> None:
    both = do(work, type="duplicate_layer", layer="l1", id="l9")
    assert [layer.id for layer in both.scene.layers] == ["l1", "l9", "l2"]
    old, new = both.layer("l1"), both.layer("l9")
    assert new.name == "pond copy"
    assert [(k.frame, k.drawing, k.span) for k in new.keys] == [(k.frame, k.drawing, k.span) for k in old.keys]
    assert not {k.id for k in new.keys} & {k.id for k in old.keys}
    edited = do(both, type="remove_shapes", key=new.keys[0].id, shapes=ids(both, new.keys[0].id)[:1])
    assert len(ids(edited, "k1")) == 2, "the first layer's key is as it was"
    alone = do(both, type="show_alone", layer="l9")
    assert [layer.hidden for layer in alone.scene.layers] == [True, False, True]
    assert not any(layer.hidden for layer in do(alone, type="show_alone", layer="l9").scene.layers)
    assert do(work, type="set_layer", layer="l2", tag="sea").layer("l2").tag == "sea"


def test_hidden_layers_and_frames_before_the_first_key_show_nothing(work: Work) -> None:
    drawings = dict(work.drawings)

    def shown(scene: Scene, n: int) -> list[str]:
        return [layer.id for layer, _ in frame(scene, n, drawings, lambda a, _: work.plan(a.id))]

    assert shown(work.scene, 1) == ["l1"]
    assert shown(work.scene, 5) == ["l1", "l2"]
    assert shown(do(work, type="set_layer", layer="l1", hidden=True).scene, 5) == ["l2"]


def test_keys_are_made_duplicated_and_removed(work: Work) -> None:
    empty = do(work, type="new_key", layer="l1", frame=20, source="empty")
    assert empty.drawing(empty.layer("l1").keys[-1].id) == Drawing()
    held = do(work, type="new_key", layer="l1", frame=30, source="shown")
    assert held.layer("l1").keys[-1].drawing == held.key("k2").drawing
    assert held.scene.length == 30, "the scene grows with its keys"
    twin = do(work, type="duplicate_key", key="k1", frame=18)
    assert ids(twin, twin.layer("l1").keys[-1].id) == ids(work, "k1"), "the same things: they pair by themselves"
    assert [k.id for k in do(work, type="remove_key", key="k1").layer("l1").keys] == ["k2"]
    before_first = do(work, type="new_key", layer="l2", frame=2, source="shown")
    assert before_first.drawing(before_first.layer("l2").keys[0].id) == Drawing()


def test_removing_a_key_joins_the_spans_and_drops_settings_that_point_at_it(work: Work) -> None:
    a = ids(work, "k1")[0]
    tied = do(work, type="add_hint", key="k1", first={"shape": a, "at": (200, 100)}, snap=9)
    longer = do(tied, type="duplicate_key", key="k2", frame=20)
    joined = do(longer, type="remove_key", key="k2")
    first, last = joined.layer("l1").keys
    assert (first.span.inbetween, first.span.take.hints, last.frame) == (True, (), 20)


def test_the_scene_keeps_to_sensible_bounds(work: Work) -> None:
    changed = do(work, type="set_scene", name="Pond at noon", width=640, rate=24)
    assert (changed.scene.name, changed.scene.width, changed.scene.height, changed.scene.rate) == (
        "Pond at noon",
        640,
        540,
        24,
    )
    for wrong in ({"rate": 0}, {"width": 0}, {"name": ""}, {"length": 0}, {"rate": float("nan")}):
        with pytest.raises(ValidationError):
            do(work, type="set_scene", **wrong)


def test_models_refuse_what_can_not_be() -> None:
    form = drawing(filled(star()))
    keys = (Key(frame=5, drawing=form.hash), Key(frame=5, drawing=form.hash))
    with pytest.raises(ValidationError, match="rising frames"):
        Layer(keys=keys)
    with pytest.raises(ValidationError, match="missing"):
        SceneBundle(scene=Scene(layers=(Layer(keys=keys[:1]),)), drawings={})
    with pytest.raises(ValidationError, match="does not match its hash"):
        SceneBundle(scene=Scene(), drawings={"0" * 64: form})
    with pytest.raises(ValidationError):
        form.shapes = ()  # type: ignore[misc]


def test_a_shape_parted_from_itself_is_two_shapes_also_through_a_breakdown(work: Work) -> None:
    a = ids(work, "k1")[0]
    twin = do(work, type="duplicate_key", key="k1", frame=7)
    middle = twin.layer("l1").keys[1].id
    parted = do(twin, type="pair_shapes", key="k1", first=a, second=None)
    shown = [s.id for s in parted.plan("k1").at(0.5).shapes]
    assert len(set(shown)) == len(shown) == 3
    kept = do(parted, type="new_key", layer="l1", frame=4, source="shown")
    breakdown = kept.layer("l1").keys[1].id
    found = {(p.first_id, p.second_id) for p in kept.plan(breakdown).pairs}
    assert {(a, None), (f"{a}+", a)} <= found
    assert kept.layer("l1").keys[2].id == middle
