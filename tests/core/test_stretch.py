"""What is squashed or stretched: it does not turn, nor does its outline slide."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.geometry.bezier import transformed
from knead.core.geometry.track import track_of
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Take
from knead.core.outline.kinds.ovals import squashed
from tests.examples import few
from tests.forms import backwards, begun_at, drawing, ellipse, filled, outline, recut, rounded, smooth

HEAD = rounded([(40, 20), (90, 60), (130, 25), (160, 120), (110, 190), (70, 170), (20, 150)], 12)
FIN = rounded([(20, 60), (110, 30), (190, 70), (120, 90), (150, 160), (60, 120)], 6)


def scaled(form: Contour, across: float, down: float) -> Contour:
    return transformed(form, np.array([[across, 0.0, 0.0], [0.0, down, 0.0]]))


@few
@given(
    st.sampled_from([HEAD, FIN]),
    st.floats(0.65, 0.85),
    st.floats(1.15, 1.5),
    st.booleans(),
    st.integers(0, 20),
    st.booleans(),
    st.lists(st.floats(0.05, 0.95), max_size=3),
)
def test_what_is_stretched_goes_straight_however_it_is_cut(
    form: Contour, less: float, more: float, tall: bool, start: int, reverse: bool, shares: list[float]
) -> None:
    by = (less, more) if tall else (more, less)
    second = recut(begun_at(scaled(form, *by), start % len(form.nodes)), shares)
    plan = plan_span(drawing(filled(form)), drawing(filled(backwards(second) if reverse else second)), Take())
    half = shapely.Polygon(outline(plan.at(0.5).shapes[0].contours[0]))
    wanted = shapely.Polygon(outline(scaled(form, *((1 + factor) / 2 for factor in by))))
    assert half.symmetric_difference(wanted).area < 0.02 * wanted.area


def test_a_ball_that_is_squashed_does_not_turn_and_takes_its_gleam_along() -> None:
    def ball(wide: float, tall: float, bottom: float) -> Drawing:
        middle = bottom - tall
        gleam = ellipse(200 - 0.3 * wide, middle - 0.45 * tall, 5 + wide / 10, 3 + tall / 13)
        return drawing(filled(ellipse(200, middle, wide, tall), color="#cc5544"), filled(gleam, color="#ffffff"))

    plan = plan_span(ball(28, 40, 200), ball(50, 24, 220), Take())
    for t in (0.25, 0.5, 0.75):
        for shape in plan.at(t).shapes:
            spread = np.cov(outline(shape.contours[0]).T)
            assert abs(spread[0, 1]) < 0.02 * np.trace(spread), "neither leans on the way"
        whole, gleam = (outline(shape.contours[0]) for shape in plan.at(t).shapes)
        share = (gleam.mean(axis=0) - whole.min(axis=0)) / np.ptp(whole, axis=0)
        assert np.allclose(share, [0.35, 0.275], atol=0.03), "the gleam stays in its place on the ball"


def test_a_fish_that_turns_back_keeps_its_eye_in_its_head() -> None:
    body = rounded([(60, 100), (110, 65), (170, 95), (210, 60), (210, 140), (170, 105), (110, 135)], 4)
    fish = drawing(filled(body, color="#5599cc"), filled(ellipse(95, 92, 6, 6), color="#222222"))
    over = np.array([[-1.0, 0.0, 270.0], [0.0, 1.0, 0.0]])
    shapes = [shape.model_copy(update={"contours": (transformed(shape.contours[0], over),)}) for shape in fish.shapes]
    plan = plan_span(fish, drawing(*shapes), Take())
    for t in (0.2, 0.4, 0.6, 0.8):
        whole, eye = (shapely.Polygon(outline(shape.contours[0])) for shape in plan.at(t).shapes)
        assert whole.buffer(0.5).contains(eye), "it is turned over in depth, not round"


@pytest.mark.parametrize("smaller", [0.5, 0.9, 0.99])
def test_what_crosses_itself_is_no_oval(smaller: float) -> None:
    """An 8 with a smaller half, whose area is what one half has more than the other."""
    t = 2 * np.pi * np.arange(16) / 16
    half = np.where(np.sin(t) > 0, 1.0, smaller)
    eight = smooth(list(zip(200 + 100 * np.sin(t) * half, 200 + 60 * np.sin(2 * t) * half, strict=True)))
    oval = ellipse(200, 200, 90, 50)
    for one, two in ((eight, oval), (oval, eight), (eight, eight)):
        assert squashed(track_of(one), track_of(two)) is None
