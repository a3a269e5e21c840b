"""Colours between two, and what a layer shows at which frame, whatever stands on it."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from knead.core.color import as_seen, to_hex, to_oklab
from knead.core.geometry.placing import thickened
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Ease, Key, Layer, Scene, Span, Take
from knead.core.model.style import LONGEST_DASH
from knead.core.pace.ease import eased
from knead.core.playback import exposures, places
from tests.examples import few
from tests.forms import drawing, stroked, wave

colors = st.integers(0, 0xFFFFFF).map(lambda value: f"#{value:06x}")
leans = st.floats(-1, 1)


@given(colors)
def test_every_colour_comes_back_as_it_was(color: str) -> None:
    assert to_hex(to_oklab(color)[None]) == [color]


@given(st.integers(0, 255), st.integers(0, 255), st.floats(0, 1))
def test_between_two_greys_there_are_only_greys(one: int, two: int, t: float) -> None:
    a, b = (to_oklab(f"#{value:02x}{value:02x}{value:02x}") for value in (one, two))
    (mixed,) = to_hex((a + t * (b - a))[None])
    red, green, blue = (int(mixed[k : k + 2], 16) for k in (1, 3, 5))
    assert max(red, green, blue) - min(red, green, blue) <= 1
    assert min(one, two) - 1 <= green <= max(one, two) + 1


@given(st.tuples(*[st.integers(0, 12)] * 3), st.tuples(*[st.integers(0, 12)] * 3))
def test_blacks_look_alike_and_what_differs_plainly_looks_different(one: tuple[int, ...], two: tuple[int, ...]) -> None:
    a, b = (as_seen("#" + "".join(f"{value:02x}" for value in color)) for color in (one, two))
    assert np.linalg.norm(a - b) < 0.1
    assert np.linalg.norm(a - as_seen("#333333")) > 0.1


def test_what_no_screen_can_show_is_clipped_to_what_it_can() -> None:
    assert to_hex(np.array([[2.0, 0, 0], [-1.0, 0, 0]])) == ["#ffffff", "#000000"]


@few
@given(st.floats(1, LONGEST_DASH), st.floats(0, LONGEST_DASH), st.floats(0.1, 100))
def test_dashes_stay_within_what_a_line_can_have_where_they_close_up_and_where_a_cycle_enlarges_them(
    dash: float, gap: float, scale: float
) -> None:
    first, second = stroked(wave()), stroked(wave(height=20.0))
    assert first.stroke is not None
    dashed = first.model_copy(update={"stroke": first.stroke.model_copy(update={"dashes": (dash, gap)})})
    between = plan_span(drawing(dashed), drawing(second), Take()).at(0.9)
    for shown in (between, drawing(thickened(dashed, scale))):
        assert Drawing.model_validate_json(shown.model_dump_json()) == shown


@given(leans, leans, st.lists(st.floats(0, 1), min_size=2, max_size=20))
def test_an_eased_way_keeps_its_order_and_its_ends(out: float, into: float, times: list[float]) -> None:
    ease = Ease(out=out, into=into)
    found = eased(ease, np.array([0.0, *sorted(times), 1.0]))
    assert (found[0], found[-1]) == (0.0, 1.0)
    assert np.all(np.diff(found) >= -1e-12)


@given(leans, leans, st.floats(0, 1))
def test_ease_turned_round_is_the_way_back(out: float, into: float, t: float) -> None:
    there, back = eased(Ease(out=out, into=into), np.array([t])), eased(Ease(out=into, into=out), np.array([1 - t]))
    assert abs(there[0] + back[0] - 1) < 1e-12


@st.composite
def layers(draw: st.DrawFn) -> Layer:
    frames = sorted(draw(st.sets(st.integers(1, 30), max_size=6)))
    takes = st.builds(Take, ease=st.builds(Ease, out=leans), exposure=st.integers(1, 4))
    keys = (Key(frame=n, drawing="d", span=Span(inbetween=draw(st.booleans()), take=draw(takes))) for n in frames)
    return Layer(keys=tuple(keys))


@given(layers(), st.integers(1, 40))
def test_every_frame_shows_the_last_key_before_it_held_or_in_betweened(layer: Layer, length: int) -> None:
    shown = exposures(Scene(layers=(layer,)), layer, length)
    assert len(shown) == length
    for number, exposure in enumerate(shown, start=1):
        before = [key for key in layer.keys if key.frame <= number]
        if not before:
            assert exposure is None
            continue
        key, after = before[-1], next((k for k in layer.keys if k.frame > number), None)
        assert exposure is not None
        assert exposure.key == key.id
        moving = key.span.inbetween and after is not None
        late = (number - key.frame) % key.span.take.exposure
        assert exposure.number == (number - key.frame - late if moving else 0)
        assert 0.0 <= exposure.place < 1.0
        assert (exposure.place == 0.0) == (exposure.number == 0) or key.span.take.ease.out == 1.0


@given(layers())
def test_a_span_has_a_place_for_each_of_its_frames_from_key_to_key(layer: Layer) -> None:
    for one, two in zip(layer.keys, layer.keys[1:], strict=False):
        found = places(one, two)
        assert len(found) == two.frame - one.frame + 1
        assert (found[0], found[-1]) == (0.0, 1.0)


@given(st.integers(2, 40), st.integers(1, 4), leans)
def test_on_twos_every_second_drawing_is_shown_for_two_frames(length: int, each: int, out: float) -> None:
    take = Take(ease=Ease(out=out), exposure=each)
    one, two = Key(frame=1, drawing="d", span=Span(take=take)), Key(frame=1 + length, drawing="e")
    on_ones = places(one.model_copy(update={"span": Span(take=Take(ease=take.ease))}), two)
    assert places(one, two) == [on_ones[n - n % each] for n in range(length)] + [1.0]
