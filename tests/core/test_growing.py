"""What becomes longer, higher or wider along one of its sides keeps the rest: charts, water, pills, pies."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Hint, HintEnd, Shape, Take
from tests.examples import few
from tests.forms import apart, backwards, begun_at, drawing, filled, outline, polygon, recut, rounded, stroked

TIMES = np.linspace(0.1, 0.9, 5)
GLASS = [(130.0, 80.0), (150.0, 340.0), (250.0, 340.0), (270.0, 80.0)]


def on_the_way(first: Drawing, second: Drawing) -> list[tuple[float, Drawing]]:
    plan = plan_span(first, second, Take())
    return [(t, plan.at(t)) for t in TIMES.tolist()]


def area_of(shape: Shape) -> shapely.Polygon:
    return shapely.Polygon(outline(shape.contours[0], 512))


def box(x: float, y: float, width: float, height: float) -> Contour:
    return polygon([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])


@few
@given(
    st.floats(20, 80),
    st.lists(st.floats(12, 280), min_size=2, max_size=4),
    st.integers(0, 3),
    st.booleans(),
    st.booleans(),
)
def test_the_bars_of_a_chart_stand_and_do_not_fall_over(
    width: float, heights: list[float], start: int, back: bool, axes: bool
) -> None:
    """Lying or standing, however their outlines begin, run and are cut."""
    frame = [stroked(polygon([(0, 0), (0, 300), (400, 300)], closed=False))] if axes else []
    first = [box(20 + 90 * k, 297 - h, width, h) for k, h in enumerate(heights)]
    second = [box(20 + 90 * k, 297 - h, width, h) for k, h in enumerate(heights[::-1])]
    second = [begun_at(recut(each, [0.1, 0.6]), start) for each in second]
    second = [backwards(each) if back else each for each in second]
    colors = ["#cc5555", "#55aa55", "#5555cc", "#ddaa33"]
    keys = [
        drawing(*frame, *(filled(c, color=k) for c, k in zip(side, colors, strict=False))) for side in (first, second)
    ]
    for t, key in on_the_way(*keys):
        for k, bar in enumerate(key.shapes[len(frame) :]):
            height = (1 - t) * heights[k] + t * heights[-1 - k]
            assert area_of(bar).bounds == pytest.approx((20 + 90 * k, 297 - height, 20 + 90 * k + width, 297), abs=0.5)


@pytest.mark.parametrize("filled_glass", [False, True])
@pytest.mark.parametrize(("low", "high"), [(300, 130), (270, 100), (130, 300)])
def test_water_rises_level_in_a_glass(low: float, high: float, filled_glass: bool) -> None:
    def water(level: float) -> Contour:
        lean = 20 * (340 - level) / 260
        return polygon([(150 - lean, level), (150, 340), (250, 340), (250 + lean, level)])

    glass = filled(polygon(GLASS), color="#888888") if filled_glass else stroked(polygon(GLASS, closed=False))
    keys = [drawing(glass, filled(water(level), color="#66bbff")) for level in (low, high)]
    for t, key in on_the_way(*keys):
        level = (1 - t) * low + t * high
        wrong = area_of(key.shapes[-1]) ^ shapely.Polygon(outline(water(level), 512))
        assert wrong.area < 0.01 * area_of(key.shapes[-1]).area


@few
@given(st.floats(0, 250), st.floats(0, 250), st.integers(0, 3))
def test_a_pill_keeps_its_round_ends(one: float, two: float, start: int) -> None:
    def pill(length: float) -> Contour:
        return rounded([(60, 180), (100 + length, 180), (100 + length, 220), (60, 220)], 20)

    for t, key in on_the_way(drawing(filled(pill(one))), drawing(filled(begun_at(pill(two), start)))):
        length = (1 - t) * one + t * two
        meant = shapely.LineString([(80, 200), (80 + length, 200)]).buffer(20)
        assert (area_of(key.shapes[0]) ^ meant).area < 0.02 * meant.area


def test_the_charge_of_a_battery_changes_its_colour() -> None:
    frame = stroked(box(60, 140, 260, 120), width=14)
    first, second = (
        drawing(frame, filled(box(80, 160, width, 80), color=color))
        for width, color in ((40, "#dd3333"), (220, "#33bb33"))
    )
    (_, pair) = plan_span(first, second, Take()).pairs
    assert (pair.first_id, pair.second_id) == (first.shapes[1].id, second.shapes[1].id)


@pytest.mark.parametrize("moved", [(0, 0, 0), (-30, 20, -25), (25, 30, 20)])
@pytest.mark.parametrize("heights", [(300, 140, 260, 100, 80), (200, 280, 150, 290, 210)])
def test_the_line_of_a_graph_stays_on_its_area(heights: tuple[float, ...], moved: tuple[float, ...]) -> None:
    """Whether it goes up and down in its columns or not."""

    def key(levels: tuple[float, ...], aside: tuple[float, ...] = (0, 0, 0)) -> Drawing:
        top = [(60.0 + 70 * k + x, y) for k, (x, y) in enumerate(zip((0, *aside, 0), levels, strict=True))]
        ink = stroked(polygon(top, closed=False), width=6)
        return drawing(filled(polygon([*top, (340, 340), (60, 340)]), color="#5599dd"), ink)

    for t, between in on_the_way(key((200, 240, 180, 220, 160)), key(heights, moved)):
        if not any(moved):
            ends = [(200, 240, 180, 220, 160), heights]
            places = [(60 + 70 * k, (1 - t) * a + t * b) for k, (a, b) in enumerate(zip(*ends, strict=True))]
            line = shapely.LineString(outline(between.shapes[1].contours[0], 256))
            assert shapely.distance(line, shapely.points(places)).max() < 0.5
        edge = area_of(between.shapes[0]).exterior
        line = shapely.LineString(outline(between.shapes[1].contours[0], 256))
        assert shapely.distance(edge, shapely.points(line.coords)).max() < 3, "the line is on the edge"
        top = shapely.LineString(outline(between.shapes[0].contours[0], 512)).intersection(shapely.box(61, 0, 339, 339))
        assert shapely.distance(line, shapely.points(shapely.get_coordinates(top))).max() < 3, "all of it"


@pytest.mark.parametrize(("one", "two"), [(90, 270), (270, 90), (60, 200)])
def test_a_slice_of_a_pie_grows_about_its_tip(one: float, two: float) -> None:
    def pie(sweep: float) -> Contour:
        rim = 200 + 200j - 120j * np.exp(1j * np.radians(np.linspace(0, sweep, 40)))
        return polygon([(200, 200), *zip(rim.real.tolist(), rim.imag.tolist(), strict=True)])

    for t, key in on_the_way(drawing(filled(pie(one))), drawing(filled(pie(two)))):
        sweep = (1 - t) * one + t * two
        wrong = area_of(key.shapes[0]) ^ shapely.Polygon(outline(pie(sweep), 512))
        assert wrong.area < 0.05 * math.pi * 120**2 * sweep / 360


@pytest.mark.parametrize("grown", [1.0, 3.0, 6.0, 11.0])
def test_a_kite_that_comes_nearer_opens_not_like_a_fan(grown: float) -> None:
    def kite(ahead: float, beside: float, behind: float) -> Contour:
        return polygon([(0, -beside), (-ahead, 0), (0, beside), (behind, 0)])

    far, near = kite(200 / grown, 145 / grown, 173 / grown), kite(200, 134, 200)
    plan = plan_span(drawing(filled(far)), drawing(filled(begun_at(near, 2))), Take())
    half = kite(100 + 100 / grown, 67 + 72.5 / grown, 100 + 86.5 / grown)
    assert apart(half, plan.at(0.5).shapes[0].contours[0]) < 0.002


SLICES = [
    polygon([(200, 200), *((200 + 120 * math.sin(a), 200 - 120 * math.cos(a)) for a in np.linspace(0, far, 30))])
    for far in (1.0, 3.3)
]
GRAPHS = [
    polygon([(60.0 + 70 * k, y) for k, y in enumerate(levels)], closed=False)
    for levels in ((200, 240, 180, 220, 160), (300, 140, 260, 100, 80))
]


@pytest.mark.parametrize(("keys", "node"), [(SLICES, 0), (SLICES, 1), (GRAPHS, 2)])
def test_a_hint_that_ties_a_point_to_where_it_goes_anyway_changes_nothing(keys: list[Contour], node: int) -> None:
    first, second = ((filled if key.closed else stroked)(key) for key in keys)
    ends = (HintEnd(shape=shape.id, at=shape.contours[0].nodes[node].at) for shape in (first, second))
    hint = Hint(id="tip", first=next(ends), second=next(ends))
    plain, hinted = (plan_span(drawing(first), drawing(second), Take(hints=hints)) for hints in ((), (hint,)))
    for t in TIMES:
        one, two = (outline(plan.at(t).shapes[0].contours[0], 8) for plan in (plain, hinted))
        assert shapely.hausdorff_distance(shapely.LineString(one), shapely.LineString(two)) < 0.1
