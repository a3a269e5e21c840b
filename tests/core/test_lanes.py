"""A line whose keys are stretches of one curve goes along that: what is drawn on, draws back, or runs round."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.geometry.bezier import contour_of, cut, path_of
from knead.core.geometry.track import track_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Hint, HintEnd, PairTravel, Shape, Take
from knead.core.snags.find import findings
from tests.examples import few
from tests.forms import apart, backwards, drawing, ellipse, outline, polygon, recut, smooth, stroked, turned, wave

MIDDLE = 200 + 200j
TIMES = np.linspace(0.0, 1.0, 9)
ZIGZAG = polygon([(0, 0), (60, 80), (100, -20), (190, 60), (200, 140), (300, 120)], closed=False)


def stretch(curve: Contour, start: float, end: float) -> Contour:
    """The part of a curve between two shares of its length."""
    track = track_of(curve)
    a, b = track.params_at(np.array([start, end])).tolist()
    inner = np.arange(math.floor(a) + 1, math.ceil(b))
    return contour_of(cut(path_of(curve), np.array([a, *inner, b])), False)


def arc(start: float, end: float) -> Contour:
    """A part of the circle about (200, 200) with radius 100, between angles in degrees."""
    steps = math.radians(end - start) / 4
    handle = 4j / 3 * math.tan(steps / 4)
    ends = [MIDDLE + 100 * np.exp(1j * (math.radians(start) + k * steps)) for k in range(5)]
    path = [[a, a + handle * (a - MIDDLE), b - handle * (b - MIDDLE), b] for a, b in pairwise(ends)]
    return contour_of(np.array([[(p.real, p.imag) for p in row] for row in path]), False)


def line_at(plan: SpanPlan, t: float) -> shapely.LineString:
    return shapely.LineString(outline(plan.at(t).shapes[0].contours[0]))


def between(plan: SpanPlan) -> list[shapely.LineString]:
    return [line_at(plan, float(t)) for t in TIMES]


@few
@given(
    st.sampled_from([ZIGZAG, wave(7, 500, 80)]),
    st.tuples(st.floats(0.0, 0.4), st.floats(0.6, 1.0)),
    st.tuples(st.floats(0.0, 0.5), st.floats(0.7, 1.0)),
    st.lists(st.floats(0.05, 0.95), max_size=2),
    st.booleans(),
)
@example(ZIGZAG, (0.0, 0.62), (0.0, 1.0), [], False)
@example(ZIGZAG, (0.25, 0.96875), (0.0, 0.984375), [], True)
def test_stretches_of_one_curve_run_along_it(
    curve: Contour, first: tuple[float, float], second: tuple[float, float], cuts: list[float], turned: bool
) -> None:
    """However they are cut, and from whichever end they are drawn."""
    if max(abs(a - b) for a, b in zip(first, second, strict=True)) < 0.06:
        return
    one, two = stretch(curve, *first), recut(stretch(curve, *second), cuts)
    plan = plan_span(drawing(stroked(one)), drawing(stroked(backwards(two) if turned else two)), Take())
    whole = track_of(curve)
    for t, line in zip(TIMES, between(plan), strict=True):
        a, b = ((1 - t) * p + t * q for p, q in zip(first, second, strict=True))
        meant = shapely.LineString(whole.points(np.linspace(a, b, 400)))
        assert line.hausdorff_distance(meant) < 0.01 * whole.length
        assert line.length == pytest.approx((b - a) * whole.length, rel=0.01)
    for t, key in ((0.0, one), (1.0, two)):
        assert line_at(plan, t).hausdorff_distance(shapely.LineString(outline(key))) < 0.05


@pytest.mark.parametrize(
    ("first", "second"),
    [
        ((-60, 130), (90, 140)),
        ((90, 140), (130, 390)),
        ((0, 60), (100, 160)),
        ((10, 355), (60, 400)),
        ((0, 20), (0, 330)),
    ],
)
@pytest.mark.parametrize("turned", [False, True])
def test_arcs_of_one_circle_run_round_it(first: tuple[int, int], second: tuple[int, int], turned: bool) -> None:
    two = arc(*second)
    plan = plan_span(drawing(stroked(arc(*first))), drawing(stroked(backwards(two) if turned else two)), Take())
    for t, line in zip(TIMES, between(plan), strict=True):
        sweep = (1 - t) * (first[1] - first[0]) + t * (second[1] - second[0])
        assert np.abs(np.abs(shapely.get_coordinates(line) @ [1, 1j] - MIDDLE) - 100).max() < 0.1
        assert line.length == pytest.approx(100 * math.radians(sweep), rel=0.005)


@pytest.mark.parametrize("other_way", [False, True])
def test_waves_of_steam_that_rise_by_one_of_them_go_straight_up(other_way: bool) -> None:
    """They might as well run along themselves."""
    steam = smooth([(200 + (-1) ** k * 20, 300 - 25 * k) for k in range(9)], closed=False)
    risen = turned(steam, 0, move=(0, -50))
    plan = plan_span(drawing(stroked(steam)), drawing(stroked(backwards(risen) if other_way else risen)), Take())
    for t in TIMES.tolist():
        assert apart(turned(steam, 0, move=(0, -50 * t)), plan.at(t).shapes[0].contours[0]) < 1e-3


def test_the_parts_of_a_ring_stay_together_whatever_shares_they_have() -> None:
    def ring(shares: list[int]) -> list[Shape]:
        stops = np.cumsum([-90, *shares]).tolist()
        colors = ["#c94f4f", "#f2c84b", "#5fb47c", "#3d618f"]
        return [stroked(arc(*ends), width=40, color=c) for ends, c in zip(pairwise(stops), colors, strict=True)]

    plan = plan_span(drawing(*ring([144, 108, 72, 36])), drawing(*ring([36, 72, 90, 162])), Take())
    assert not findings(plan, Take(), TIMES.tolist()).snags
    for t in TIMES:
        lengths = [track_of(shape.contours[0]).length for shape in plan.at(float(t)).shapes]
        assert sum(lengths) == pytest.approx(200 * math.pi, rel=0.002)


def test_a_hint_on_what_is_yet_to_be_drawn_on_changes_nothing() -> None:
    one, two = stroked(stretch(ZIGZAG, 0, 0.4)), stroked(ZIGZAG)
    plan = plan_span(drawing(one), drawing(two), Take())
    _, tip = plan.partner(two.id, np.array([250.0, 130.0]), False) or ("", (0.0, 0.0))
    hint = Hint(first=HintEnd(shape=one.id, at=tip), second=HintEnd(shape=two.id, at=(250, 130)))
    hinted = plan_span(drawing(one), drawing(two), Take(hints=(hint,)))
    for before, after in zip(between(plan), between(hinted), strict=True):
        assert before.hausdorff_distance(after) < 1e-6


@pytest.mark.parametrize("moved", [False, True])
def test_a_hint_lays_such_a_line_otherwise_only_if_it_says_something_else(moved: bool) -> None:
    one, two = stroked(stretch(ZIGZAG, 0, 0.4)), stroked(ZIGZAG)
    place, there = (60, 80), (190, 60) if moved else (60, 80)
    hint = Hint(first=HintEnd(shape=one.id, at=place), second=HintEnd(shape=two.id, at=there))
    plan = plan_span(drawing(one), drawing(two), Take(hints=(hint,)))
    half = outline(plan.at(0.5).shapes[0].contours[0])
    assert (plan.pairs[0].way_reason == "it goes along itself") != moved
    assert np.min(np.linalg.norm(half - 0.5 * (np.array(place) + there), axis=1)) < (30 if moved else 0.1)


def test_a_drawn_path_takes_such_a_line_along() -> None:
    one, two = stroked(stretch(ZIGZAG, 0, 0.4)), stroked(ZIGZAG)
    aside = PairTravel(first=one.id, second=two.id, path=((60, -160), (120, -160)))
    plans = [plan_span(drawing(one), drawing(two), Take(travels=travels)) for travels in ((), (aside,))]
    for t in TIMES:
        free, led = (outline(plan.at(float(t)).shapes[0].contours[0]) for plan in plans)
        shift = led - free
        assert np.ptp(shift, axis=0) == pytest.approx([0, 0], abs=1e-6)
        assert (shift[0, 1] < -50) == (0.2 < t < 0.8)
    for t, key in ((0.0, one), (1.0, two)):
        assert line_at(plans[1], t).hausdorff_distance(shapely.LineString(outline(key.contours[0]))) < 0.01


def test_the_end_of_an_arc_that_stays_does_not_move() -> None:
    """A ring that shows how far something has come begins at its top, though its circle is told by a quarter of it."""
    ring = path_of(ellipse(200, 200, 100, 100))
    first, second = (drawing(stroked(contour_of(ring[:count], False))) for count in (1, 3))
    plan = plan_span(first, second, Take())
    starts = np.array([plan.at(t).shapes[0].contours[0].nodes[0].at for t in TIMES])
    assert starts == pytest.approx(np.tile(ring[0, 0], (len(TIMES), 1)), abs=0.01)
