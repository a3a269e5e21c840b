"""Pace beyond the keys: a span that anticipates and overshoots; and pieces that start one after the other."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from knead.core.edit import Operation, Work
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Ease, PairTravel, Point, Shape, Take
from knead.core.pace.ease import eased
from knead.core.playback import places
from tests.forms import blob, drawing, ellipse, filled, outline, polygon, star, stroked, turned, wave, work_of

lean, beyond = st.floats(-1, 1), st.sampled_from([0.0, 0.02, 0.15, 0.5])
operation: TypeAdapter[Operation] = TypeAdapter(Operation)
BEYOND = [-0.5, -0.15, 1.15, 1.5]


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python({"key": "k1", **fields}).apply(work)


def area(shape: Shape) -> float:
    """Its area, negative if it is turned inside out."""
    x, y = outline(shape.contours[0], 200).T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def middle(shown: Drawing) -> complex:
    return complex(np.mean([complex(*node.at) for s in shown.shapes for c in s.contours for node in c.nodes]))


@given(lean, lean, beyond, beyond)
@example(0.0, 0.0, 0.15, 0.0)
def test_an_ease_goes_back_and_beyond_as_far_as_it_says_and_turns_round_nowhere_else(
    out: float, into: float, back: float, over: float
) -> None:
    curve = eased(Ease(out=out, into=into, anticipation=back, overshoot=over), np.linspace(0, 1, 4001))
    assert (curve[0], curve[-1]) == (0.0, 1.0)
    assert (curve.min(), curve.max()) == pytest.approx((-back, 1.0 + over), abs=1e-4)
    ways = np.sign(np.diff(curve))[np.abs(np.diff(curve)) > 1e-12]
    assert np.count_nonzero(np.diff(ways)) == (back > 0) + (over > 0)
    assert np.abs(np.diff(curve)).max() < 0.01


KINDS = {
    "bent": (filled(blob([60, 80, 60, 90])), filled(turned(blob([60, 80, 60, 90]), 80, move=(100, 40)))),
    "solid": (stroked(wave()), stroked(turned(wave(tilt=0.4), 60))),
    "drawn anew": (filled(star()), filled(ellipse(200, 200, 120, 60), color="#aa2211")),
    "faded": (stroked(wave(), width=2.0), stroked(wave(height=20.0), width=9.0, color="#11aa22")),
}


@pytest.mark.parametrize("kind", list(KINDS))
def test_beyond_a_key_it_goes_on_as_it_came_in_the_paint_of_that_key(kind: str) -> None:
    first, second = KINDS[kind]
    plan = plan_span(drawing(first), drawing(second), Take())
    for key, way in ((0.0, -1.0), (1.0, 1.0)):
        rows = [np.array([n.at for n in plan.at(key + way * s).shapes[0].contours[0].nodes]) for s in (-0.01, 0, 0.01)]
        steps = np.diff(rows, axis=0)
        assert np.abs(steps[1] - steps[0]).max() < 0.1 * np.abs(steps).max() + 1e-6
        own, there = plan.at(key).shapes[0], plan.at(key + way * 0.3).shapes[0]
        assert (there.fill, there.opacity) == (own.fill, own.opacity)
        assert bool(there.stroke) == bool(own.stroke)
        if there.stroke and own.stroke:
            assert there.stroke.paint == own.stroke.paint
            assert there.stroke.width == pytest.approx(own.stroke.width)


def test_what_grows_much_never_turns_inside_out_before_it() -> None:
    small, large = filled(blob([10, 12, 9, 11])), filled(blob([100, 120, 90, 110]))
    for plan in (plan_span(drawing(a), drawing(b), Take()) for a, b in ((small, large), (large, small))):
        areas = [area(plan.at(t).shapes[0]) for t in (*BEYOND, 0.0, 1.0)]
        assert min(areas) > 0.2 * min(areas[-2:])


def test_a_hole_that_closes_stays_closed_and_what_vanishes_stays_away() -> None:
    ring = filled(ellipse(200, 200, 120, 90), ellipse(200, 200, 40, 30), rule="evenodd")
    mark = stroked(polygon([(600, 20), (650, 40)], closed=False))
    plan = plan_span(drawing(ring, mark), drawing(filled(ellipse(210, 210, 120, 90))), Take())
    there, gone = plan.at(-0.15), plan.at(1.15)
    assert (len(there.shapes), len(gone.shapes)) == (2, 1)
    holes = [shapely.Polygon(outline(shown.shapes[0].contours[1])).area for shown in (there, gone)]
    assert holes[0] > 1000
    assert holes[1] < 1e-9


def test_a_drawn_path_goes_on_straight_beyond_its_ends() -> None:
    one, two = filled(star()), filled(star(at=(500, 200)))
    path = Point(50.0, -200.0), Point(-50.0, -200.0)
    plan = plan_span(drawing(one), drawing(two), Take(travels=(PairTravel(first=one.id, second=two.id, path=path),)))
    ways = [middle(plan.at(t)) for t in (0.99, 1.0, 1.01)]
    assert abs((ways[2] - ways[1]) - (ways[1] - ways[0])) < 0.1 * abs(ways[1] - ways[0])


def row(count: int) -> tuple[Drawing, Drawing]:
    colors = "#aa2211", "#22aa11", "#1122aa", "#aaaa11"
    first = [filled(ellipse(100 * k, 100, 20, 20), color=colors[k]) for k in range(count)]
    second = [filled(ellipse(100 * k, 300, 20, 20), color=colors[k]) for k in range(count)]
    return drawing(*first), drawing(*second)


def fallen(work: Work, frame: int) -> list[float]:
    """How far each of a row has fallen at a frame, from left to right."""
    one, two = work.span("k1")
    shown = work.plan("k1").at(places(one, two)[frame])
    return [y for _, y in sorted(np.mean([n.at for n in s.contours[0].nodes], axis=0).tolist() for s in shown.shapes)]


def test_staggered_pieces_start_in_their_order_and_take_equally_long() -> None:
    work = do(work_of(*row(3)), type="stagger", order="from the right", by=0.5)
    half = fallen(work, 6)
    assert half[0] == pytest.approx(100)
    assert half[1] == pytest.approx(200)
    assert half[2] == pytest.approx(300)
    turned_round = fallen(do(work, type="stagger", order="from the left", by=0.5), 6)
    assert turned_round == pytest.approx(half[::-1])
    at_once = do(work, type="stagger", order="from the left", by=0.0)
    assert at_once.key("k1").span.take == Take()


def test_pieces_of_one_part_go_together_and_keep_how_they_go() -> None:
    work = work_of(*row(3))
    ids = [shape.id for shape in work.drawing("k1").shapes]
    first = Drawing(shapes=tuple(s.model_copy(update={"part": "pair" if s.id in ids[:2] else None})
                                 for s in work.drawing("k1").shapes))  # fmt: skip
    work = work.with_drawing("k1", first)
    second = work.drawing(work.span("k1")[1].id).shapes[0].id
    own = {"first": ids[0], "second": second, "turns": 1}
    work = do(do(work, type="set_travel", **own), type="stagger", order="from the left", by=0.5)
    half = fallen(work, 6)
    assert half == pytest.approx([300, 300, 100])
    assert work.key("k1").span.take.travel(ids[0], second).turns == 1


def test_a_pair_eases_in_its_own_way_within_its_own_time() -> None:
    one, two = row(1)
    names = {"first": one.shapes[0].id, "second": two.shapes[0].id}
    work = do(work_of(one, two), type="set_travel", **names, start=0.25, ease={"out": 1.0, "overshoot": 0.2})
    way = [fallen(work, n)[0] for n in range(13)]
    assert way[:4] == pytest.approx([100] * 4)
    assert max(way) == pytest.approx(340, abs=5)
    assert way[12] == pytest.approx(300)
    assert way[4] - way[3] < 0.5 * (way[7] - way[6])


ticks = st.lists(st.floats(-0.5, 1.5), min_size=1, max_size=20)


@given(ticks, st.integers(2, 30))
def test_on_a_timing_chart_each_in_between_stands_where_it_was_put(chart: list[float], length: int) -> None:
    work = do(work_of(*row(1)), type="set_chart", chart=chart)
    work = operation.validate_python({"type": "move_key", "key": "k2", "frame": 1 + length}).apply(work)
    way = np.array(places(*work.span("k1")))
    assert (way[0], way[-1]) == (0.0, 1.0)
    assert -0.5 <= way.min() <= way.max() <= 1.5
    if length == len(chart) + 1:
        assert way[1:-1] == pytest.approx(chart)
    by_ease = do(work, type="set_ease", ease={"out": 0.5})
    assert by_ease.key("k1").span.take.chart == ()


@pytest.mark.parametrize("frame", [4, 7, 11])
def test_a_breakdown_of_a_charted_span_leaves_the_drawings_where_they_were(frame: int) -> None:
    chart = [0.05, 0.1, 0.3, 0.35, 0.4, 0.7, 0.8, 0.85, 1.1, 0.9, 1.05]
    work = do(work_of(*row(1)), type="set_chart", chart=chart)
    before = [fallen(work, n)[0] for n in range(13)]
    new = {"type": "new_key", "layer": "l", "frame": frame, "source": "shown"}
    done = operation.validate_python(new).apply(work)
    one, middle, two = done.layer("l").keys
    halves = [(done.plan(first.id), places(first, second)) for first, second in ((one, middle), (middle, two))]
    after = [
        float(np.mean([n.at.y for n in plan.at(t).shapes[0].contours[0].nodes])) for plan, way in halves for t in way
    ]
    assert after == pytest.approx([*before[:frame], *before[frame - 1 :]], abs=0.5)


def test_a_breakdown_of_what_is_held_on_twos_parts_the_chart_at_its_own_frame() -> None:
    chart = [k / 24 for k in range(1, 12)]
    work = do(do(work_of(*row(1)), type="set_chart", chart=chart), type="set_exposure", exposure=2)
    new = {"type": "new_key", "layer": "l", "frame": 6, "source": "shown"}
    one, middle, _ = operation.validate_python(new).apply(work).layer("l").keys
    before, after = (np.array(key.span.take.chart) for key in (one, middle))
    held = chart[3]
    assert before == pytest.approx(np.array(chart[:4]) / held)
    assert after == pytest.approx((np.array(chart[5:]) - held) / (1 - held))


@pytest.mark.parametrize("frame", [5, 11])
def test_a_breakdown_of_a_span_that_overshoots_is_what_was_shown_and_each_half_does_its_part(frame: int) -> None:
    work = do(work_of(*row(2)), type="set_ease", ease={"anticipation": 0.1, "overshoot": 0.2})
    shown = fallen(work, frame - 1)
    new = {"type": "new_key", "layer": work.layer_of("k1").id, "frame": frame, "source": "shown"}
    work = operation.validate_python(new).apply(work)
    kept = work.span("k1")[1]
    assert fallen(work, frame - 1) == pytest.approx(shown)
    before, after = work.key("k1").span.take.ease, work.key(kept.id).span.take.ease
    assert (before.anticipation, before.overshoot) == (0.1, 0.0)
    assert (after.anticipation, after.overshoot) == (0.0, 0.2)
    assert math.isclose(fallen(work, frame - 1)[0] > 300, frame == 11)
