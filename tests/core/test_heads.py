"""A head that turns keeps its eyes, whichever is then the near one, and what it hides goes to its rim."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.blend.figure.told import Asked
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, PairTravel, Shape, Take
from knead.core.pairing.assign.likeness import portrait
from knead.core.pairing.pairs import ShapePair, Turning
from knead.core.pairing.shapes import pair_shapes
from tests.examples import few
from tests.forms import drawing, ellipse, filled, smooth, stroked, traced

SIZE = 100.0
EYE, PUPIL, CHEEK, NOSE, LIPS = "#f4f4ee", "#222222", "#dd6655", "#aa6644", "#882233"
# each with its place and size by degrees as it is seen from the front
FEATURES = [
    *((EYE, side * 25, -15, 11) for side in (-1, 1)),
    *((PUPIL, side * 24, -14, 5) for side in (-1, 1)),
    *((CHEEK, side * 38, 18, 7) for side in (-1, 1)),
    (NOSE, 0, 5, 8),
    (LIPS, 0, 32, 10),
]


def patch(aside: float, down: float, size: float, turn: float, at: complex) -> Contour | None:
    """A round patch on a ball that has turned aside by degrees; None where its middle is not seen."""
    east, south, wide = (math.radians(angle) for angle in (aside + turn, down, size))
    out = np.array([math.cos(south) * math.sin(east), math.sin(south), math.cos(south) * math.cos(east)])
    across = np.array([math.cos(east), 0.0, -math.sin(east)])
    below = np.cross(out, across)
    around = np.linspace(0, 2 * np.pi, 8, endpoint=False)[:, None]
    points = out * math.cos(wide) + math.sin(wide) * (np.cos(around) * across + np.sin(around) * below)
    seen = points[:, 0] * SIZE + at.real, points[:, 1] * SIZE + at.imag
    return smooth(list(zip(*seen, strict=True))) if out[2] > 0.1 else None


def head(turn: float, lines: bool = False, at: complex = 200 + 200j) -> dict[int, Shape]:
    """The head, -1, and those of its features that are seen after it has turned by degrees."""
    outlines = {-1: (ellipse(at.real, at.imag, SIZE, SIZE), "#ddaa88")}
    for k, (color, aside, down, size) in enumerate(FEATURES):
        contour = patch(aside, down, size, turn, at)
        if contour is not None:
            outlines[k] = (contour, color)
    return {k: stroked(contour) if lines else filled(contour, color=color) for k, (contour, color) in outlines.items()}


def drawn(side: dict[int, Shape]) -> Drawing:
    return drawing(*side.values())


@given(st.integers(-42, -20), st.integers(20, 42), st.booleans(), st.integers(-40, 40))
@example(-40, 40, True, 0)
def test_eyes_and_cheeks_stay_on_their_side_of_the_nose(start: int, end: int, lines: bool, shift: int) -> None:
    """The far eye, narrow at the rim, is then the near one: as large and as broad as the other was."""
    one, two = head(start, lines), head(end, lines, 200 + shift + 200j)
    found = {(pair.first, pair.second) for pair in pair_shapes(drawn(one), drawn(two), [])}
    assert found == {(one[k].id, two[k].id) for k in one}


@few
@given(st.integers(65, 85), st.integers(-10, 10), st.sampled_from([-1, 1]))
def test_the_far_eye_comes_from_behind_the_rim_and_goes_back_there(start: int, end: int, side: int) -> None:
    """As the head turns away, the near eye, cheek, nose and mouth go along, and the rest is last seen at the rim."""
    one, two = head(side * start), head(side * end)
    far = two.keys() - one.keys()
    assert far
    for first, second, times in ((one, two, (0.05, 0.5)), (two, one, (0.95, 0.5))):
        plan = plan_span(drawn(first), drawn(second), Take())
        pairs = {(pair.first_id, pair.second_id) for pair in plan.pairs}
        assert pairs >= {(first[k].id, second[k].id) for k in one}
        middle = {k: portrait(two[k]).centre for k in far}
        for t in times:
            shapes = {shape.id: shape for shape in plan.at(t).shapes}
            for k in far:
                place = portrait(shapes[two[k].id]).centre
                assert side * place.real > side * middle[k].real + 5
                assert (0.0 if t == 0.5 else 0.75) * SIZE < abs(place - 200 - 200j) < SIZE


@pytest.mark.parametrize("start", [75, -75])
def test_what_comes_to_be_seen_on_a_head_is_seen_on_it_all_the_way(start: int) -> None:
    """Though an ear, which lies just under it in the other key, comes out from behind the head."""
    ear = [filled(ellipse(x, 200, 15, 22), color="#cc9977") for x in (200, 290)]
    one, two = head(start), head(0)
    behind, *rest = one.values()
    first = drawing(ear[0], behind, *rest)
    second = drawing(two[-1], ear[1].model_copy(update={"id": "ear"}), *(s for k, s in two.items() if k != -1))
    plan = plan_span(first, second, Take())
    for t in (0.25, 0.5, 0.75):
        ids = [shape.id for shape in plan.at(t).shapes]
        new = [two[k].id for k in two.keys() - one.keys()]
        assert all(ids.index(each) > ids.index(one[-1].id) for each in new)


@few
@given(st.integers(0, 10**6))
def test_what_a_hand_drew_on_a_head_goes_across_it_and_does_not_turn_over(seed: int) -> None:
    hand = np.random.default_rng(seed)
    first, second = (traced(drawn(head(turn, lines=True)), hand, 1.0) for turn in (-36, 38))
    plan = plan_span(first, second, Take())
    one, two, half = ({s.id: portrait(s).centre for s in key.shapes} for key in (first, second, plan.at(0.5)))
    assert len(plan.pairs) == len(one)
    for pair in plan.pairs:
        assert abs(half[pair.identity] - (one[pair.first_id] + two[pair.second_id]) / 2) < 8


def test_what_turns_out_to_lie_on_a_ball_that_turns_is_planned_anew() -> None:
    """As it does while the rest of the face is drawn: what its pair was known to do is then another thing."""
    one, two = (filled(ellipse(x, 200, 8, 12)) for x in (150, 250))
    asked = Asked(
        ShapePair(one.id, two.id, 1.0, ""),
        ({one.id: one}, {two.id: two}),
        Take(),
        PairTravel(first=one.id, second=two.id),
    )
    known = asked.planned(None, same=False)
    later = replace(asked, pair=replace(asked.pair, turning=Turning("ball"))).planned(known, same=False)
    assert (known.body.turning, later.body.turning) == (False, True)
