"""Ways that go through a key without a corner."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from knead.core.edit import EditError, Operation, Work
from knead.core.geometry.similarity import as_complex
from knead.core.model import Drawing, Key, Layer, Scene, Shape, Span
from knead.core.model.scene import Repeat
from tests.examples import few
from tests.forms import blob, drawing, ellipse, filled, outline, turned

operation: TypeAdapter[Operation] = TypeAdapter(Operation)
NEAR = 1e-3
BALL = filled(blob([30, 26, 30, 34], at=(0, 0)))
ARM = filled(turned(ellipse(60, 0, 40, 9), 0), color="#aa6633")
spots = st.tuples(st.floats(-200, 200), st.floats(-200, 200))


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python(fields).apply(work)


def moved(shape: Shape, place: tuple[float, float], degrees: float = 0.0) -> Shape:
    contours = tuple(turned(contour, degrees, move=place) for contour in shape.contours)
    return shape.model_copy(update={"contours": contours})


def standing(*keys: Drawing, frames: tuple[int, ...] = (1, 9, 25), repeat: Repeat = "once") -> Work:
    """A layer of these keys, in-betweened."""
    span = Span(inbetween=True)
    layer = Layer(
        id="l",
        repeat=repeat,
        keys=tuple(Key(id=f"k{n}", frame=n, drawing=key.hash, span=span) for n, key in zip(frames, keys, strict=True)),
    )
    return Work(Scene(length=60, layers=(layer,)), {key.hash: key for key in keys})


def middle(work: Work, key: str, t: float, shape: int = 0) -> complex:
    return complex(as_complex(outline(work.plan(key).at(t).shapes[shape].contours[0], 256)).mean())


def corner(work: Work, before: str, after: str) -> float:
    """By how much the way turns at a key, in radians."""
    into = middle(work, before, 1.0) - middle(work, before, 1.0 - NEAR)
    out = middle(work, after, NEAR) - middle(work, after, 0.0)
    return abs(float(np.angle(out / into)))


@few
@given(spots, spots)
def test_a_way_goes_through_a_key_without_a_corner(one: tuple[float, float], two: tuple[float, float]) -> None:
    ways = [complex(*one), complex(*two) - complex(*one)]
    if min(map(abs, ways)) < 20 or abs(np.angle(ways[1] / ways[0])) > 2.6:
        return  # what turns back may well do so on the spot
    work = standing(*(drawing(moved(BALL, place)) for place in ((0.0, 0.0), one, two)))
    before = corner(work, "k1", "k9")
    smooth = do(work, type="flow_through", key="k9")
    assert corner(smooth, "k1", "k9") < max(0.05, 0.1 * before)
    for key, t in (("k1", 0.0), ("k1", 1.0), ("k9", 1.0)):
        assert middle(smooth, key, t) == pytest.approx(middle(work, key, t), abs=1e-6)


def test_through_several_keys_each_stays_smooth_and_so_does_the_end_of_a_round() -> None:
    places = [(0.0, 0.0), (120.0, -60.0), (200.0, 80.0), (0.0, 0.0)]
    keys = [drawing(moved(BALL, place)) for place in places]
    work = standing(*keys[:3], keys[0], frames=(1, 9, 17, 25), repeat="round and round")
    for key in ("k9", "k17", "k1"):
        work = do(work, type="flow_through", key=key)
    for before, after in (("k1", "k9"), ("k9", "k17"), ("k17", "k1")):
        assert corner(work, before, after) < 0.05
    assert do(work, type="flow_through", key="k25").scene == work.scene, "the round's end is its beginning"


def test_what_hangs_on_another_is_taken_along_unless_it_is_meant() -> None:
    poses = [((0.0, 0.0), 0.0), ((90.0, -80.0), 30.0), ((220.0, 0.0), -20.0)]
    keys = [drawing(moved(BALL, place), moved(ARM, place, degrees)) for place, degrees in poses]
    work = standing(*keys)
    ball, arm = (shape.id for shape in keys[1].shapes)
    led = do(work, type="flow_through", key="k9")
    assert [t.first for t in led.key("k9").span.take.travels] == [ball]
    chosen = do(work, type="flow_through", key="k9", shape=arm)
    assert [t.second for t in chosen.key("k1").span.take.travels] == [arm]


def test_where_no_way_goes_through_that_is_said() -> None:
    still = standing(*[drawing(BALL)] * 3)
    work = standing(*(drawing(moved(BALL, (x, 0.0))) for x in (0.0, 90.0, 220.0)))
    held = do(work, type="set_inbetween", key="k1", inbetween=False)
    for refused, key, why in (
        (still, "k9", "no way"),
        (work, "k1", "one side"),
        (work, "k25", "one side"),
        (held, "k9", "held"),
    ):
        with pytest.raises(EditError, match=why):
            do(refused, type="flow_through", key=key)
