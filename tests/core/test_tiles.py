"""Tiles, slats, drawers and beads: what is as it was in another place slides there, and what stays stays."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Shape, Take
from tests.forms import begun_at, box, by_hand, drawing, ellipse, filled, outline, planned, polygon, recut, stroked

BOARD, TILE, MARK = "#505860", "#76b35f", "#f4f0e8"
TIMES = (0.25, 0.5, 0.75)


def size_at(plan: SpanPlan, shape: Shape, t: float) -> np.ndarray:
    """How wide and how high a shape of the first key is on its way."""
    own = next(each for each in plan.at(t).shapes if each.id == shape.id)
    return np.ptp(outline(own.contours[0]), axis=0)


def rectangle(x: float, y: float, wide: float, high: float) -> Contour:
    return polygon([(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)])


@given(
    wide=st.floats(20, 200),
    high=st.floats(20, 200),
    down=st.booleans(),
    cuts=st.tuples(st.floats(0.1, 0.9), st.floats(0.1, 0.9)),
    off=st.sampled_from([0.0, 0.002, 0.01]),
    starts=st.tuples(st.integers(0, 4), st.integers(0, 4)),
)
def test_a_tile_that_goes_on_by_its_own_length_slides(
    wide: float, high: float, down: bool, cuts: tuple[float, float], off: float, starts: tuple[int, int]
) -> None:
    noise, most = np.random.default_rng(int(wide * high)), off * min(wide, high)
    there = (0.0, high) if down else (wide, 0.0)
    tiles = [
        begun_at(by_hand(recut(rectangle(*at, wide, high), [cut]), noise, most), start)
        for at, cut, start in zip(((0.0, 0.0), there), cuts, starts, strict=True)
    ]
    first, second = (filled(tile) for tile in tiles)
    plan = plan_span(drawing(first), drawing(second), Take())
    for t in TIMES:
        np.testing.assert_allclose(size_at(plan, first, t), [wide, high], atol=0.02 * min(wide, high) + 4 * most)


def puzzle(hole: int, along: int) -> list[Shape]:
    """A board of tiles with marks, some as many beside each other, one of which is not there."""
    places = [(x, y) for y in range(along) for x in range(along) if y * along + x != hole]
    tiles = [box(60 * x, 60 * y, 60 * x + 60, 60 * y + 60, TILE) for x, y in places]
    marks = [
        filled(ellipse(60 * x + 30, 60 * y + 30, 12, 12), color=MARK)
        if y == 0
        else box(60 * x + 20, 60 * y + 20, 60 * x + 40, 60 * y + 40, MARK)
        for x, y in places
    ]
    return [box(-8, -8, 60 * along + 8, 60 * along + 8, BOARD), *tiles, *marks]


@pytest.mark.parametrize(("along", "hole", "gone"), [(2, 2, 3), (3, 4, 5), (3, 7, 4)])
def test_a_tile_of_a_board_slides_into_the_hole_beside_it(along: int, hole: int, gone: int) -> None:
    first, second = puzzle(hole, along), puzzle(gone, along)
    count = along * along - 1
    left = [k for k in range(count + 1) if k != hole].index(gone)  # the tile that moves, as the first key counts
    came = [k for k in range(count + 1) if k != gone].index(hole)
    rest = [k for k in range(count) if k != came]
    own = [*rest[:left], came, *rest[left:]]
    plan = planned(first, [second[0], *(second[1 + k] for k in own), *(second[1 + count + k] for k in own)])
    for tile in first[1 : count + 1]:
        np.testing.assert_allclose(size_at(plan, tile, 0.5), 60, atol=0.5)


@pytest.mark.parametrize("count", [7, 9])
@pytest.mark.parametrize(("thick", "apart"), [((9, 9), (25, 16)), ((13.9, 19.7), (23.8, 15.4))])
def test_slats_of_a_blind_stay_level_and_in_their_order(
    count: int, thick: tuple[float, float], apart: tuple[float, float]
) -> None:
    def blind(high: float, step: float, cut: float) -> list[Shape]:
        rows = [rectangle(-115, -110 + step * (k + 0.5) - high / 2, 230, high) for k in range(count)]
        slats = [filled(recut(row, [cut, 1.1 + 0.1 * cut])) for row in rows]
        cord = stroked(polygon([(90, -118), (90, -118 + 9.4 * step)], closed=False))
        return [box(-120, -130, 120, -118, BOARD), *slats, cord]

    first, second = (blind(*each) for each in zip(thick, apart, (0.3, 0.8), strict=True))
    plan = planned(first, second)
    for slat in first[1:-1]:
        for t in TIMES:
            assert size_at(plan, slat, t)[1] < 20


@pytest.mark.parametrize("count", [1, 2, 3])
def test_knobs_of_switches_slide_while_these_stay(count: int) -> None:
    def switches(x: float) -> list[Shape]:
        rows = range(0, 56 * count, 56)
        tracks = [
            filled(polygon([(20, y), (60, y), (80, y + 20), (60, y + 40), (20, y + 40), (0, y + 20)])) for y in rows
        ]
        return [*tracks, *(filled(ellipse(x, y + 20, 15, 15), color=MARK) for y in rows)]

    planned(switches(20), switches(60))


def test_bricks_of_a_wall_stay_when_one_more_comes_down_to_it() -> None:
    def wall(*last: float) -> list[Shape]:
        return [filled(rectangle(*at, 48, 22)) for at in ((0, 0), (50, 0), (100, 0), last)]

    planned(wall(11, -96), wall(25, -24))


def test_wings_of_a_door_slide_and_are_no_box_that_turns() -> None:
    def door(opens: float) -> list[Shape]:
        wings = [box(-80 - opens, -120, -opens, 120, TILE), box(opens, -120, opens + 80, 120, TILE)]
        handles = [filled(ellipse(side * (12 + opens), 0, 5, 5), color="#303030") for side in (-1, 1)]
        walls = [box(-170, -140, -80, 120, BOARD), box(80, -140, 170, 120, BOARD)]
        behind = filled(ellipse(0, 20, 24, 60), color="#ac2f9b")
        return [box(-80, -120, 80, 120, MARK), behind, *wings, *handles, *walls]

    planned(door(65), door(5))


def test_a_drawer_that_is_shut_is_not_the_other_that_is_opened() -> None:
    def chest(*out: float) -> list[Shape]:
        drawers = []
        for k, o in enumerate(out):
            x, y, grown = 80 * (1 + 0.15 * o), 10 + 60 * k + 18 * o, 50 * (1 + 0.15 * o)
            drawers += [box(-x, y, x, y + grown, TILE), filled(ellipse(0, y + grown / 2, 5, 5), color="#202020")]
        return [box(-90, 0, 90, 130, BOARD), *drawers]

    planned(chest(0.9, 0.0), chest(0.0, 0.9))


def test_beads_keep_their_rods() -> None:
    def abacus(*left: int) -> list[Shape]:
        rods = [stroked(polygon([(-10, 40 * row), (230, 40 * row)], closed=False)) for row in range(len(left))]
        beads = [
            filled(ellipse(12 + 24 * k + (100 if k >= count else 0), 40 * row, 11, 16), color=TILE)
            for row, count in enumerate(left)
            for k in range(5)
        ]
        return [*rods, *beads]

    first, second = abacus(1, 3), abacus(4, 1)
    plan = plan_span(drawing(*first), drawing(*second), Take())
    row = {shape.id: k // 5 for side in (first, second) for k, shape in enumerate(side[2:])}
    assert [row[p.first_id] for p in plan.pairs if p.first_id in row] == [
        row[p.second_id] for p in plan.pairs if p.first_id in row
    ]


def test_a_slat_that_becomes_thinner_stays_level() -> None:
    first, second = (
        filled(recut(rectangle(-115, top, 230, bottom - top), [1 + share]))
        for top, bottom, share in ((-59.1, -44.3, 0.04), (-65.0, -58.4, 0.8))
    )
    plan = plan_span(drawing(first), drawing(second), Take())
    for t in TIMES:
        assert size_at(plan, first, t)[0] == pytest.approx(230, abs=1)
