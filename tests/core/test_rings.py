"""Outlines drawn in several strokes: cut at corners, and rings that have no beginning of their own."""

import math
from collections.abc import Sequence

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Take
from tests.examples import few
from tests.forms import backwards, by_hand, drawing, drawn, outline, polygon, stroked

HOUSE = np.array([40 + 160j, 100 + 40j, 160 + 100j, 170 + 160j, 110 + 190j])
TALLER = np.array([30 + 170j, 90 + 10j, 150 + 90j, 180 + 170j, 110 + 200j])


def strokes(ring: np.ndarray, cuts: Sequence[int], flipped: bool = False) -> Drawing:
    """A closed polygon as open strokes from each cut to the next."""
    rows = [
        np.take(ring, range(start, end + 1), mode="wrap")
        for start, end in zip(cuts, [*cuts[1:], cuts[0] + len(ring)], strict=True)
    ]
    lines = [polygon([(z.real, z.imag) for z in row.tolist()], closed=False) for row in rows]
    return drawing(*(stroked(backwards(line) if flipped else line) for line in lines))


@few
@given(
    st.sets(st.integers(0, 4), min_size=1, max_size=4),
    st.sets(st.integers(0, 4), min_size=1, max_size=4),
    st.booleans(),
)
def test_a_ring_of_strokes_does_not_turn_because_it_was_begun_elsewhere(
    one: set[int], two: set[int], flipped: bool
) -> None:
    first, second = strokes(HOUSE, sorted(one)), strokes(TALLER, sorted(two), flipped)
    plan = plan_span(first, second, Take())
    assert sorted(name for pair in plan.pairs for name in pair.pair.seconds) == sorted(s.id for s in second.shapes)
    half = plan.at(0.5)
    meant = strokes(0.5 * (HOUSE + TALLER), [0])
    assert drawn(half).hausdorff_distance(drawn(meant)) < 20, "each corner goes about to its own"
    ends = np.array([shape.contours[0].nodes[k].at for shape in half.shapes for k in (0, -1)]) @ [1, 1j]
    gaps = np.abs(np.subtract.outer(ends, ends)) + 1e9 * np.eye(len(ends))
    assert gaps.min(axis=1).max() < 2, "and it stays shut"


@few
@given(
    st.sets(st.integers(0, 4), min_size=1, max_size=4),
    st.sets(st.integers(0, 4), min_size=1, max_size=4),
    st.floats(-120, 120),
    st.booleans(),
)
@example({0}, {1}, 2.0, False)
@example({0}, {0, 1}, 3.0, False)
@example({0, 3}, {2, 3}, 0.0, False)
def test_a_ring_of_strokes_that_turns_keeps_its_form_wherever_it_was_begun(
    one: set[int], two: set[int], degrees: float, flipped: bool
) -> None:
    middle, turn = HOUSE.mean(), np.exp(1j * np.radians(degrees))
    first, second = (
        strokes(middle + turns * (HOUSE - middle), sorted(cuts), redrawn)
        for turns, cuts, redrawn in ((1.0, one, False), (turn, two, flipped))
    )
    half = drawn(plan_span(first, second, Take()).at(0.5))
    meant = drawn(strokes(middle + np.sqrt(turn) * (HOUSE - middle), [0]))
    # about which place it turns, the keys do not tell
    dx, dy = np.array(meant.centroid.coords[0]) - half.centroid.coords[0]
    assert math.hypot(dx, dy) < 5
    assert shapely.affinity.translate(half, dx, dy).hausdorff_distance(meant) < 0.5


@pytest.mark.parametrize("hand", [13, 20, 21, 25, 27])
def test_strokes_that_a_hand_did_not_quite_join_are_one_line(hand: int) -> None:
    noise = np.random.default_rng(hand)
    rows = [[(20, 100), (80, 90), (130, 96)], [(130, 96), (190, 100), (240, 92)], [(240, 92), (300, 86), (360, 100)]]
    parts = [stroked(by_hand(polygon(row, closed=False), noise, 1.2), width=4) for row in rows]
    line = stroked(polygon([(20, 160), (130, 140), (240, 170), (360, 150)], closed=False), width=4)
    (pair,) = plan_span(drawing(*parts), drawing(line), Take()).pairs
    assert pair.pair.firsts == tuple(part.id for part in parts)


ZIGZAG = np.array([50 + 180j, 60 + 90j, 70 + 150j, 90 + 40j, 100 + 150j, 120 + 30j, 130 + 150j, 150 + 60j, 150 + 180j])


@pytest.mark.parametrize("cuts", [(2, 4), (4, 6), (2, 6), (1, 4, 7)])
def test_a_line_that_was_cut_at_other_corners_is_one_line(cuts: tuple[int, ...]) -> None:
    def cut(line: np.ndarray, at: Sequence[int]) -> Drawing:
        rows = [line[a : b + 1] for a, b in zip((0, *at), (*at, len(line) - 1), strict=True)]
        return drawing(*(stroked(polygon([(z.real, z.imag) for z in row.tolist()], closed=False)) for row in rows))

    lower = ZIGZAG.real + 1j * (180 - 0.5 * (180 - ZIGZAG.imag))
    plan = plan_span(cut(ZIGZAG, (2, 4, 6)), cut(lower, cuts), Take())
    half = shapely.MultiLineString([outline(shape.contours[0], 16) for shape in plan.at(0.5).shapes])
    meant = 0.5 * (ZIGZAG + lower)
    away = shapely.distance(half, shapely.points(meant.real, meant.imag))
    assert away.max() < 4


@pytest.mark.parametrize("flipped", [False, True])
@pytest.mark.parametrize("forward", [True, False])
def test_strokes_that_go_on_in_each_other_across_a_gap_are_as_they_were_drawn_at_the_keys(
    forward: bool, flipped: bool
) -> None:
    rows = [[(50, 100), (120, 104), (180, 100)], [(182, 101), (250, 98), (300, 106)]]
    parts = drawing(*(stroked(polygon(row, closed=False), width=8) for row in rows))
    line = polygon([(50, 140), (160, 150), (240, 140), (300, 170)], closed=False)
    whole = drawing(stroked(backwards(line) if flipped else line, width=8))
    keys = (parts, whole) if forward else (whole, parts)
    plan = plan_span(*keys, Take())
    assert len(plan.pairs) == 1, "the two are one line"
    at_parts, at_whole = (plan.at(t) for t in ((0.0, 1.0) if forward else (1.0, 0.0)))
    assert drawn(at_whole).hausdorff_distance(drawn(whole)) < 1e-9
    assert drawn(at_parts).hausdorff_distance(drawn(parts)) < 1e-9
    gaps = [shapely.distance(*shapely.get_parts(drawn(plan.at(t)))) for t in (0.25, 0.5, 0.75)]
    assert max(gaps) < np.hypot(2, 1), "and the gap closes on the way"


def test_a_shape_that_has_more_than_the_line_it_is_part_of_keeps_the_rest() -> None:
    halves = [stroked(polygon(row, closed=False)) for row in ([(40, 60), (100, 90)], [(100, 90), (180, 140)])]
    line, tick = polygon([(60, 80), (200, 150)], closed=False), polygon([(120, 40), (130, 60)], closed=False)
    keys = drawing(*halves), drawing(stroked(line, tick))
    plan = plan_span(*keys, Take())
    assert [pair.pair.kind for pair in plan.pairs] == ["recut"]
    shown = [outline(contour, 16) for shape in plan.at(1.0).shapes for contour in shape.contours]
    assert (
        shapely.MultiLineString(shown).hausdorff_distance(shapely.MultiLineString([outline(line), outline(tick)]))
        < 1e-9
    )
