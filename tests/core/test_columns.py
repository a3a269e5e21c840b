"""What stays in its column or row goes up and down in it, as graphs do; what looks the same in both keys stays."""

import random

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Take
from knead.core.pairing.shapes import pair_shapes
from tests.examples import few
from tests.forms import backwards, drawing, ellipse, filled, outline, polygon, recut, stroked, turned

TIMES = np.linspace(0.1, 0.9, 5)
LEVELS = st.lists(st.floats(10, 140), min_size=4, max_size=7)


def laid(contour: Contour, lying: bool) -> Contour:
    return turned(contour, 90, 1.0, (400, 0)) if lying else contour


@few
@given(LEVELS, st.randoms(use_true_random=False), st.booleans(), st.booleans())
def test_the_bars_of_a_level_meter_stay_in_their_columns(
    levels: list[float], rng: random.Random, one_path: bool, lying: bool
) -> None:
    """Whatever their order and direction, in rows as well, and if all are one path; though some become others' like."""

    def key(heights: list[float]) -> Drawing:
        bars = [polygon([(60 + 40 * k, 200 - h), (60 + 40 * k, 200 + h)], closed=False) for k, h in enumerate(heights)]
        bars = [laid(backwards(bar) if rng.random() < 0.5 else bar, lying) for bar in bars]
        rng.shuffle(bars)
        return drawing(stroked(*bars)) if one_path else drawing(*map(stroked, bars))

    others = rng.sample(levels, len(levels))
    plan = plan_span(key(levels), key(others), Take())
    for t in TIMES:
        lines = [outline(contour) for shape in plan.at(t).shapes for contour in shape.contours]
        lines = sorted(lines, key=lambda line: float(line[:, int(lying)].mean()))
        heights = (1 - t) * np.array(levels) + t * np.array(others)
        for k, (line, height) in enumerate(zip(lines, heights.tolist(), strict=True)):
            along, across = line[:, 1 - int(lying)], line[:, int(lying)]
            assert across == pytest.approx(60 + 40 * k, abs=0.5)
            assert np.ptp(along) == pytest.approx(2 * height, abs=0.5)


@few
@given(LEVELS, st.randoms(use_true_random=False), st.booleans())
def test_the_dots_of_a_graph_stay_on_its_line(levels: list[float], rng: random.Random, back: bool) -> None:
    def key(heights: list[float]) -> tuple[Drawing, list[tuple[float, float]]]:
        places = [(50.0 + 50 * k, 300 - h) for k, h in enumerate(heights)]
        line = polygon([(0, 300), *places, (450, 200)], closed=False)
        dots = [filled(ellipse(*place, 8, 8), color="#cc3333") for place in places]
        rng.shuffle(dots)
        return drawing(stroked(backwards(recut(line, [0.3])) if back else line), *dots), places

    (first, one), (second, two) = key(levels), key(rng.sample(levels, len(levels)))
    plan = plan_span(first, second, Take())
    for t in TIMES:
        line, *dots = plan.at(t).shapes
        drawn = shapely.LineString(outline(line.contours[0], 256))
        middles = sorted(outline(dot.contours[0]).mean(axis=0).tolist() for dot in dots)
        assert shapely.distance(drawn, shapely.points(middles)).max() < 1.0
        assert np.array(middles) == pytest.approx((1 - t) * np.array(one) + t * np.array(two), abs=1.0)


def test_a_line_with_a_spike_becomes_flat_in_its_place() -> None:
    spike = [(20, 200), (120, 200), (180, 200), (195, 100), (215, 300), (235, 200), (380, 200)]
    keys = (drawing(stroked(polygon(points, closed=False))) for points in (spike, [(20, 200), (380, 200)]))
    plan = plan_span(*keys, Take())
    for t in TIMES:
        found = outline(plan.at(t).shapes[0].contours[0], 256)
        high, low = found[np.argmin(found[:, 1])], found[np.argmax(found[:, 1])]
        assert high == pytest.approx((195, 200 - 100 * (1 - t)), abs=0.5)
        assert low == pytest.approx((215, 200 + 100 * (1 - t)), abs=0.5)


@pytest.mark.parametrize("seed", range(3))
def test_what_looks_the_same_stays_though_another_place_would_be_nearer_for_all(seed: int) -> None:
    """The segments of a seven become those of a five: its top, and what is right below, are in both."""
    across = [(130.0, 80.0), (270, 80), (250, 100), (150, 100)]
    right = [(275.0, 85.0), (275, 195), (255, 180), (255, 105)]
    below = [(275.0, 205.0), (275, 315), (255, 295), (255, 220)]
    left, foot = [(400 - x, y) for x, y in right], [(x, 400 - y) for x, y in across]
    middle = [(145.0, 190.0), (255, 190), (265, 200), (255, 210), (145, 210), (135, 200)]
    sides = (across, right, below), (across, left, middle, below, foot)
    seven, five = ([filled(polygon(segment)) for segment in side] for side in sides)
    first, second = (random.Random(seed + k).sample(side, len(side)) for k, side in enumerate((seven, five)))
    pairs = {(pair.first, pair.second) for pair in pair_shapes(drawing(*first), drawing(*second), [])}
    assert {(seven[0].id, five[0].id), (seven[2].id, five[3].id)} <= pairs


def test_links_of_a_belt_go_on_to_the_places_of_the_next() -> None:
    first, second = ([filled(ellipse(x + 70 * k, 200, 20, 20)) for k in range(4)] for x in (60, 130))
    pairs = {(pair.first, pair.second) for pair in pair_shapes(drawing(*first), drawing(*second), [])}
    assert pairs == {(one.id, two.id) for one, two in zip(first, second, strict=True)}


def test_arms_hang_on_a_body_that_only_goes_up() -> None:
    """Its corners stay in their columns, but it is no graph."""

    def key(up: float, degrees: float) -> Drawing:
        body = [(160.0, 150.0), (240, 150), (250, 220), (230, 300), (170, 300), (150, 220)]
        arm = polygon([(-8, -8), (100, -6), (100, 6), (-8, 8)])
        arms = [turned(arm, degrees, 1.0, (240, 160 - up)), turned(arm, 180 - degrees / 2, 1.0, (160, 160 - up))]
        shapes = [filled(polygon([(x, y - up) for x, y in body]), color="#cc5555")]
        return drawing(*shapes, *(filled(each, color=c) for each, c in zip(arms, ("#ffcc99", "#eebb88"), strict=True)))

    plan = plan_span(key(0, 80), key(60, -60), Take())
    assert "columns" not in plan.pairs[0].way_reason
    for t in TIMES:
        for shape, x in zip(plan.at(t).shapes[1:], (240, 160), strict=True):
            arm = shapely.Polygon(outline(shape.contours[0]))
            assert arm.distance(shapely.Point(x, 160 - 60 * t)) < 4, "it stays at its shoulder"
            assert arm.area == pytest.approx(108 * 14, rel=0.1)


def test_lines_that_turn_are_no_chart() -> None:
    """The stripes of a snake may happen to keep their columns."""

    def stripes(slope: float) -> Drawing:
        middles = [(100, 200), (200, 240), (300, 180)]
        return drawing(
            *(stroked(polygon([(x - 10, y - slope), (x + 10, y + slope)], closed=False)) for x, y in middles)
        )

    assert any(pair.alone for pair in pair_shapes(stripes(8.0), stripes(4.0), ()))
    assert not any(pair.alone for pair in pair_shapes(stripes(12.0), stripes(-12.0), ()))
