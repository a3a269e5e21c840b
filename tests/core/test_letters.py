"""What is one form is turned, whatever is about it; a mouth that turns down, its own mirror image, is bent over."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Shape, Take
from tests.examples import few
from tests.forms import apart, backwards, begun_at, drawing, ellipse, filled, polygon, smooth, stroked, traced, turned

PENNANT = [(180, 160), (240, 180), (190, 200), (190, 240), (180, 240)]
LETTERS = {
    "an L": filled(polygon([(170, 150), (200, 150), (200, 230), (260, 230), (260, 250), (170, 250)])),
    "a pennant": filled(polygon(PENNANT)),
    "a bolt": filled(polygon([(210, 150), (180, 210), (205, 210), (190, 260), (240, 190), (212, 190), (230, 150)])),
    "a seven of one line": stroked(polygon([(160, 160), (220, 160), (180, 250)], closed=False)),
    "a hook of one line": stroked(smooth([(180, 150), (180, 210), (200, 235), (225, 220), (225, 200)], closed=False)),
}
EMBLEMS = {
    "an arrow": filled(polygon([(190, 260), (190, 190), (170, 190), (200, 140), (230, 190), (210, 190), (210, 260)])),
    "a house": filled(polygon([(160, 250), (160, 190), (200, 150), (240, 190), (240, 250)])),
    "a heart": filled(
        smooth([(200, 250), (160, 205), (150, 175), (175, 155), (200, 175), (225, 155), (250, 175), (240, 205)])
    ),
    "an A": filled(
        polygon([(160, 250), (190, 150), (210, 150), (240, 250), (222, 250), (214, 225), (186, 225), (178, 250)])
    ),
}
WHEEL = filled(ellipse(200, 200, 100, 100), color="#ffdd88")
STAND = filled(polygon([(100, 320), (300, 320), (300, 350), (100, 350)]), color="#557755")
OTHERS = [filled(ellipse(x, 200, 30, 50), color="#88aacc") for x in (60, 340)]
PLACES = {
    "alone": [],
    "on a wheel": [WHEEL],
    "on a wheel on its stand": [STAND, WHEEL],
    "between others": [STAND, *OTHERS],
}
degrees = st.floats(105, 165) | st.floats(-165, -105)


def about(contour: Contour, turn: float) -> Contour:
    """It turned about the middle of the wheel."""
    middle = 200 + 200j
    gone = middle - middle * np.exp(1j * np.radians(turn))
    return turned(contour, turn, move=(gone.real, gone.imag))


def drawn_again(shape: Shape, turn: float) -> Shape:
    """It turned, and run the other way from another node."""
    contour = backwards(about(shape.contours[0], turn))
    again = begun_at(contour, 2) if contour.closed else contour
    return shape.model_copy(update={"id": f"{shape.id} again", "contours": (again,)})


def melts(shape: Shape, turn: float, place: str) -> float:
    """How far a shape that is turned is from its form half way, by its size, wherever it goes."""
    first, second = (drawing(*PLACES[place], key) for key in (shape, drawn_again(shape, turn)))
    half = {each.id: each for each in plan_span(first, second, Take()).at(0.5).shapes}[shape.id].contours[0]
    true = about(shape.contours[0], 0.5 * turn)
    moved = np.mean([n.at for n in half.nodes], axis=0) - np.mean([n.at for n in true.nodes], axis=0)
    return apart(true, turned(half, 0, move=tuple((-moved).tolist())))


@pytest.mark.parametrize("name", LETTERS)
@few
@given(degrees, st.sampled_from(sorted(PLACES)))
def test_a_letter_is_turned_whatever_is_about_it(name: str, turn: float, place: str) -> None:
    assert melts(LETTERS[name], turn, place) < 0.12


@pytest.mark.parametrize("name", EMBLEMS)
@few
@given(st.floats(60, 150) | st.floats(-150, -60), st.sampled_from(sorted(PLACES)))
def test_so_is_what_is_its_own_mirror_image_unless_it_is_turned_over(name: str, turn: float, place: str) -> None:
    assert melts(EMBLEMS[name], turn, place) < 0.12


def test_so_does_a_pennant_that_a_hand_drew_anew() -> None:
    for seed in range(6):
        hand = np.random.default_rng(seed)
        keys = [drawing(WHEEL, shape) for shape in (LETTERS["a pennant"], drawn_again(LETTERS["a pennant"], 130))]
        plan = plan_span(*(traced(key, hand, 0.6) for key in keys), Take())
        assert np.degrees(plan.pairs[1].angle) == pytest.approx(130, abs=10)


def test_a_mouth_that_turns_down_is_bent_over_though_it_is_a_little_askew() -> None:
    across = np.linspace(-60, 60, 7)

    def mouth(depth: float) -> Shape:
        lips = [
            (depth + lower) * (1 - (across / 60) ** 2) * (1 + across / 300) for lower in (0, np.copysign(18, depth))
        ]
        rows = (
            [*zip(across + 200, lips[0] + 230, strict=True)],
            [*zip(across + 200, lips[1] + 230, strict=True)][-2:0:-1],
        )
        return filled(polygon([*rows[0], *rows[1]]), color="#993333")

    for seed in range(4):
        hand = np.random.default_rng(seed)
        plan = plan_span(*(traced(drawing(WHEEL, mouth(depth)), hand, 1.0) for depth in (30, -30)), Take())
        assert abs(np.degrees(plan.pairs[1].angle)) < 30
