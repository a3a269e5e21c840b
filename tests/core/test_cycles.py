"""Layers that are played again: round and round, there and back, and on other layers."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from knead.core.edit import EditError, Operation, Work
from knead.core.model import Drawing, Picture
from knead.core.model.scene import Repeat
from knead.core.playback import Exposure, exposures, frame
from tests.examples import few
from tests.forms import blob, drawing, ellipse, filled, star, stroked, turned, wave, work_of

LENGTH = 60
operation: TypeAdapter[Operation] = TypeAdapter(Operation)
first = drawing(filled(blob([60, 80, 60, 90])), stroked(wave(), width=6.0))
second = drawing(filled(turned(blob([60, 80, 60, 90]), 50, move=(80, 20))), stroked(wave(height=20.0), width=3.0))


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python(fields).apply(work)


def swaying(repeat: Repeat = "once", back: bool = False) -> Work:
    """Two keys at 1 and 13; `back` lets the second be the first again."""
    work = work_of(first, first if back else second).with_scene(length=LENGTH)
    return do(work, type="set_layer", layer="l", repeat=repeat)


def shown(work: Work, layer: str = "l") -> list[Exposure | None]:
    return exposures(work.scene, work.layer(layer), LENGTH)


def seen(work: Work, layer: str, number: int) -> Drawing:
    drawings = {**work.drawings, **work.fresh}
    layers = frame(work.scene, number, drawings, lambda one, _: work.plan(one.id))
    return next((each for of, each in layers if of.id == layer), Drawing())


def places(picture: Drawing) -> np.ndarray:
    return np.array([n.at for shape in picture.shapes for c in shape.contours for n in c.nodes])


@pytest.mark.parametrize("back", [False, True])
def test_round_and_round_a_layer_begins_anew_and_shows_no_drawing_twice(back: bool) -> None:
    period = 12 if back else 13
    once, again = shown(swaying(back=back)), shown(swaying("round and round", back))
    assert again[:period] == once[:period]
    assert again[period:] == again[:-period]
    assert all(one != two for one, two in pairwise(again))


def test_there_and_back_it_turns_at_both_ends_without_a_pause() -> None:
    again = shown(swaying("there and back"))
    assert again[12:25] == again[:13][::-1]
    assert again[24:] == again[:-24]
    assert all(one != two for one, two in pairwise(again))


def test_one_drawing_is_held_however_it_is_played() -> None:
    work = do(swaying("there and back"), type="remove_key", key="k2")
    assert {e and e.number for e in shown(work)} == {0}


def again(work: Work, **how: object) -> Work:
    work = do(work, type="add_cycle", layer="l", id="again")
    return do(work, type="set_cycle", layer="again", **how) if how else work


@given(st.integers(-30, 40), st.sampled_from([0.5, 1.0, 2.0, 3.0]), st.sampled_from(["once", "there and back"]))
def test_a_cycle_plays_the_keys_from_its_own_start_at_its_own_speed(start: int, stretch: float, repeat: Repeat) -> None:
    work = again(swaying(repeat), start=start, stretch=stretch)
    source = exposures(work.scene, work.layer("l"), 400)
    for number, exposure in enumerate(shown(work, "again"), 1):
        gone = int((number - start) // stretch)
        assert exposure == (source[gone] if gone >= 0 else None)


def test_a_cycle_shows_what_it_plays_scaled_turned_and_moved_and_follows_what_is_done_there() -> None:
    work = again(swaying(), scale=0.5, turn=90.0, move=(300, -20))
    pivot = np.array(work.layer("again").cycle.pivot)
    for number in (1, 6, 13):
        source, own = seen(work, "l", number), seen(work, "again", number)
        away = (places(source) - pivot) * 0.5
        assert places(own) == pytest.approx(pivot + (300, -20) + np.stack([-away[:, 1], away[:, 0]], axis=1))
        assert own.shapes[1].stroke.width == pytest.approx(0.5 * source.shapes[1].stroke.width)
    changed = work.with_drawing("k1", drawing(filled(star())))
    assert len(seen(changed, "again", 1).shapes) == 1


@few
@given(st.integers(1, 20), st.sampled_from([1.0, 2.0]), st.floats(0.4, 2.0), st.floats(-90, 90))
def test_what_is_cut_loose_looks_the_same_and_follows_no_more(
    start: int, stretch: float, scale: float, turn: float
) -> None:
    way = {"first": first.shapes[1].id, "second": second.shapes[1].id, "path": ((0, -60), (0, -60))}
    spot = {"shape": first.shapes[0].id, "at": first.shapes[0].contours[0].nodes[1].at}
    work = do(swaying("there and back"), type="add_hint", key="k1", first=spot)
    work = again(do(work, type="set_travel", key="k1", **way), start=start, stretch=stretch, scale=scale, turn=turn)
    loose = do(work, type="cut_loose", layer="again")
    assert [key.frame for key in loose.layer("again").keys] == [start, start + 12 * stretch]
    for number in (start, start + int(6 * stretch), start + int(12 * stretch)):
        apart = np.abs(places(seen(work, "again", number)) - places(seen(loose, "again", number)))
        assert apart.max() < 0.5
    changed = loose.with_drawing("k1", Drawing())
    assert seen(changed, "again", start) == seen(loose, "again", start)


def test_a_cycle_of_a_cycle_plays_the_same_keys() -> None:
    work = do(again(swaying(), start=5), type="add_cycle", layer="again", id="third")
    assert work.layer("third").cycle == work.layer("again").cycle
    assert len({layer.name for layer in work.scene.layers}) == 3


def test_what_a_cycle_can_t_do_is_refused_in_a_sentence() -> None:
    work = again(swaying(), start=0)
    bare = do(do(work, type="remove_key", key="k1"), type="remove_key", key="k2")
    empty = do(work, type="add_layer", id="empty", name="empty")
    rough = work.layer("l").model_copy(
        update={"id": "rough", "keys": (), "picture": Picture(image="0" * 64, width=8, height=6, at=(0, 0))}
    )
    refusals = [
        (work, {"type": "cut_loose", "layer": "again"}, "whole frames from 1 on"),
        (work, {"type": "cut_loose", "layer": "l"}, "keys of its own"),
        (bare, {"type": "cut_loose", "layer": "again"}, "has no keys that"),
        (work, {"type": "new_key", "layer": "again", "frame": 3, "source": "shown"}, "cut this one loose"),
        (work, {"type": "bring_key", "layer": "again", "frame": 3, "shapes": first.shapes}, "cut this one loose"),
        (work, {"type": "move_key_over", "key": "k2", "layer": "again", "frame": 3}, "cut this one loose"),
        (work, {"type": "remove_layer", "layer": "l"}, "Cut it loose or delete it first"),
        (empty, {"type": "add_cycle", "layer": "empty"}, "no keys that could be played again"),
        (work.with_scene(layers=(*work.scene.layers, rough)), {"type": "add_cycle", "layer": "rough"}, "no keys"),
    ]
    for before, edit, sentence in refusals:
        with pytest.raises(EditError, match=sentence):
            do(before, **edit)


def test_a_cycle_turned_into_drawings_shows_the_same() -> None:
    work = again(swaying("there and back"), start=4, stretch=2.0, scale=0.5, move=(200, 0))
    done = do(work, type="keep_drawings", layer="again", id="drawn")
    for number in (3, 4, 9, 40):
        assert seen(done, "drawn", number) == seen(work, "again", number)


def test_a_key_after_the_last_goes_on_from_what_is_played_again_there_and_changes_nothing_before() -> None:
    work = swaying("there and back")
    for number in (18, 25):
        done = do(work, type="new_key", layer="l", frame=number, source="shown")
        keys = done.layer("l").keys
        assert keys[:2] == work.layer("l").keys
        assert places(done.of(keys[2].drawing)) == pytest.approx(places(seen(work, "l", number)))


def test_a_picture_is_matched_to_what_a_cycle_shows() -> None:
    work = again(do(swaying(), type="set_layer", layer="l", hidden=True), scale=0.5, move=(100, 0))
    tall = drawing(filled(ellipse(200, 200, 50, 100)))
    work = work.with_drawing("k1", tall)
    pivot = work.layer("again").cycle.pivot
    rough = work.layer("l").model_copy(
        update={"id": "rough", "keys": (), "picture": Picture(image="0" * 64, width=80, height=100, at=(0, 0))}
    )
    work = work.with_scene(layers=(*work.scene.layers, rough))
    picture = do(work, type="match_picture", layer="rough", to="again", frame=1).layer("rough").picture
    assert picture.scale == pytest.approx(1.0)
    assert picture.at == pytest.approx((pivot.x + 100 + 0.5 * (200 - pivot.x), pivot.y + 0.5 * (200 - pivot.y)))
