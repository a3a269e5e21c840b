"""What is moved from key to key all of one piece: frames, bars and ticks go with it, whatever they do by themselves."""

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Shape, Take
from tests.examples import few
from tests.forms import (
    apart,
    backwards,
    begun_at,
    drawing,
    ellipse,
    filled,
    outline,
    polygon,
    rounded,
    stroked,
    traced,
    turned,
)

FRAME = rounded([(100, 100), (300, 100), (300, 300), (100, 300)], 30)
HEXAGON = polygon([(300, 200), (250, 287), (150, 287), (100, 200), (150, 113), (250, 113)])
FLAG = polygon([(180, 160), (240, 180), (190, 200), (190, 240), (180, 240)])
TICK = polygon([(160, 200), (190, 230), (240, 170)], closed=False)
ARROW = (polygon([(200, 150), (200, 250)], closed=False), polygon([(170, 220), (200, 250), (230, 220)], closed=False))
SIGNS = {
    "a flag in a square": [stroked(FRAME), filled(FLAG)],
    "a tick in a square": [stroked(FRAME), stroked(TICK)],
    "an arrow in a square": [filled(FRAME, color="#ffdd88"), *(stroked(line) for line in ARROW)],
    "a flag in a hexagon": [filled(HEXAGON, color="#ffdd88"), filled(FLAG)],
}


def moved(shape: Shape, degrees: float, redrawn: bool) -> Shape:
    """A shape turned about the middle of the sign; run the other way and begun elsewhere if it is `redrawn`."""
    about = 200 + 200j
    gone = about - about * np.exp(1j * np.radians(degrees))
    contours = [turned(contour, degrees, move=(gone.real, gone.imag)) for contour in shape.contours]
    if redrawn:
        contours = [begun_at(backwards(c), 2) if c.closed else backwards(c) for c in contours]
    return shape.model_copy(update={"id": shape.id + "'" * redrawn, "contours": tuple(contours)})


def off(sign: list[Shape], degrees: float, inbetween: dict[str, Shape]) -> float:
    """How far off, at most, the shapes of an in-between are from the sign turned by so much, by their sizes."""
    true = (moved(shape, degrees, False) for shape in sign)
    return max(apart(shape.contours[0], inbetween[shape.id].contours[0]) for shape in true)


@pytest.mark.parametrize("name", SIGNS)
@few
@given(st.sampled_from([*range(66, 79), *range(103, 115), *range(125, 139)]), st.booleans())
def test_a_sign_turns_with_all_that_is_on_it(name: str, degrees: float, other_way: bool) -> None:
    sign, degrees = SIGNS[name], -degrees if other_way else degrees
    plan = plan_span(drawing(*sign), drawing(*(moved(shape, degrees, True) for shape in sign)), Take())
    for t in (0.25, 0.5, 0.75):
        assert off(sign, t * degrees, {shape.id: shape for shape in plan.at(t).shapes}) < 0.02


def test_a_sign_drawn_anew_by_a_hand_turns_so_too() -> None:
    sign = SIGNS["a flag in a square"]
    for seed in range(4):
        hand = np.random.default_rng(seed)
        first, second = drawing(*sign), drawing(*(moved(shape, 115, True) for shape in sign))
        plan = plan_span(traced(first, hand, 1.0), traced(second, hand, 1.0), Take())
        assert off(sign, 57.5, {shape.id: shape for shape in plan.at(0.5).shapes}) < 0.06


@few
@given(st.sampled_from([(100, 200), (100, 110), (200, 290), (230, 220)]), st.sampled_from([70, -110, 40]))
@example((100, 200), 70)  # the middle of a bar stays
@example((100, 110), -110)  # a serif hardly moves
def test_what_turns_of_one_piece_keeps_its_distances_about_whatever_place(place: tuple[int, int], degrees: int) -> None:
    """An H with serifs, of mere lines, and a mark beside it: none is held by another."""
    bars = [[(100, 100), (100, 300)], [(200, 100), (200, 300)], [(100, 200), (200, 200)]]
    marks = [[(85, 100), (115, 100)], [(185, 300), (215, 300)], [(260, 150), (300, 120), (300, 300)]]
    sign = [stroked(polygon(points, closed=False)) for points in bars + marks]
    about = complex(*place)
    gone = about - about * np.exp(1j * np.radians(degrees))
    lines = [backwards(turned(shape.contours[0], degrees, move=(gone.real, gone.imag))) for shape in sign]
    half = plan_span(drawing(*sign), drawing(*(stroked(line) for line in lines)), Take()).at(0.5)
    found = {shape.id: shape for shape in half.shapes}
    ends = [
        np.concatenate([[c.nodes[0].at, c.nodes[-1].at] for c in (each.contours[0] for each in shapes)]) @ [1, 1j]
        for shapes in (sign, [found[shape.id] for shape in sign])
    ]
    one, two = (np.abs(side[:, None] - side) for side in ends)
    assert np.abs(one - two).max() < 1


def test_a_clock_that_is_moved_stays_upright_while_its_hand_goes_on_by_a_quarter() -> None:
    hand = filled(polygon([(196, 200), (204, 200), (204, 110), (196, 110)]), color="#cc3322")
    first = [stroked(FRAME), hand, filled(ellipse(200, 200, 10, 10))]
    second = [moved(shape, 90 if shape is hand else 0, True) for shape in first]
    second = [
        shape.model_copy(update={"contours": tuple(turned(c, 0, move=(150, 20)) for c in shape.contours)})
        for shape in second
    ]
    half = {shape.id: shape for shape in plan_span(drawing(*first), drawing(*second), Take()).at(0.5).shapes}
    assert apart(turned(FRAME, 0, move=(75, 10)), half[first[0].id].contours[0]) < 0.02


@pytest.mark.parametrize("degrees", [5, -12, 20])
@pytest.mark.parametrize("lean", [0.0, 0.3, -0.6])
def test_bars_that_look_alike_half_round_turn_the_shorter_way_together(degrees: float, lean: float) -> None:
    corners = [[(100, 200), (300, 200), (300, 218), (100, 218)], [(100, 205), (300, 205), (300, 212), (100, 212)]]
    first = [polygon(bar) for bar in corners]
    second = [turned(polygon([(x + lean * y, y) for x, y in bar]), degrees) for bar in corners]
    plan = plan_span(*(drawing(*map(filled, side)) for side in (first, second)), Take())
    for shape in plan.at(0.5).shapes:
        assert np.ptp(outline(shape.contours[0])[:, 1]) < 80  # half round, it would stand upright
