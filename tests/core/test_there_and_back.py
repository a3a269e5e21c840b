"""The way back is the way there, gone backwards: a loop of A, B, A looks like one."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.edit.work import checked
from knead.core.geometry.track import track_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Ease, Hint, HintEnd, PairTravel, Point, Shape, Take
from knead.core.outline.riches import has_more
from knead.core.snags.propose import proposed
from tests.examples import KINDS, case_of, few
from tests.forms import apart, blob, drawing, ellipse, filled, polygon, star, stroked

TIMES = (0.0, 0.25, 0.5, 0.75, 1.0)


def assert_one_way(there: SpanPlan, back: SpanPlan) -> None:
    """Both show the same, shape by shape from back to front, whatever its nodes are called."""
    for t in TIMES:
        shown, again = there.at(t).shapes, back.at(1.0 - t).shapes
        assert len(shown) == len(again)
        for one, two in zip(shown, again, strict=True):
            assert (one.opacity, bool(one.fill), bool(one.stroke)) == (two.opacity, bool(two.fill), bool(two.stroke))
            assert one.fill is None or two.fill is None or one.fill.paint == two.fill.paint
            for a, b in zip(one.contours, two.contours, strict=True):
                assert len(a.nodes) == len(b.nodes)
                assert apart(a, b) < 1e-6


@pytest.mark.parametrize("kind", KINDS)
def test_the_way_back_is_the_way_there_backwards(kind: str) -> None:
    case, there = case_of(kind)
    back = plan_span(case.second, case.first, Take())
    assert_one_way(there, back)
    told = [{p.pair: p.way_reason if p.is_whole else "" for p in there.pairs}]
    told += [{p.pair.backwards: p.way_reason if p.is_whole else "" for p in back.pairs}]
    assert told[0] == told[1]
    for plan, key in ((there, case.first), (back, case.second)):
        places = {shape.id: k for k, shape in enumerate(key.shapes)}
        listed = [places.get(p.first_id or "", len(places)) + (0 if p.is_whole else len(places)) for p in plan.pairs]
        assert listed == sorted(listed), "as the first key has them, then what vanishes, then what appears"
    assert {shape.id for shape in there.at(0.5).shapes} & {shape.id for shape in case.first.shapes}, "of the first key"
    assert {shape.id for shape in back.at(0.5).shapes} & {shape.id for shape in case.second.shapes}


def hand_set(one: Shape, two: Shape) -> Take:
    """A hint, and a pair that turns once more on a path of its own, begins late, and overshoots."""
    tied = [HintEnd(shape=shape.id, at=shape.contours[0].nodes[k].at) for shape, k in ((one, 1), (two, 3))]
    travel = PairTravel(
        first=one.id,
        second=two.id,
        turns=1,
        path=(Point(40.0, -90.0), Point(-20.0, 60.0)),
        start=0.1,
        end=0.8,
        ease=Ease(out=0.6, into=-0.3, anticipation=0.1, overshoot=0.2),
    )
    return Take(hints=(Hint(name="tip", first=tied[0], second=tied[1]),), travels=(travel,))


@few
@given(st.lists(st.floats(40, 120), min_size=5, max_size=8), st.integers(4, 7), st.booleans())
def test_what_is_set_by_hand_goes_backwards_as_well(radii: list[float], tips: int, swapped: bool) -> None:
    one, two = filled(blob(radii), color="#3366aa"), filled(star(tips, 0.5, 90), color="#aa6633")
    spot, line = filled(ellipse(90, 60, 20, 14), color="#ddcc22"), stroked(blob([30, 50, 40], at=(420, 90)))
    keys = drawing(one, spot), drawing(line, two)
    first, second = keys[::-1] if swapped else keys
    take = hand_set(two, one) if swapped else hand_set(one, two)
    there, back = plan_span(first, second, take), plan_span(second, first, take.backwards)
    assert_one_way(there, back)
    turns = [{p.pair.first if plan is there else p.pair.second: p.angle for p in plan.pairs} for plan in (there, back)]
    assert turns[0] == pytest.approx({name: -angle for name, angle in turns[1].items()})
    led = [next(p for p in plan.pairs if p.is_whole) for plan in (there, back)]
    assert led[0].turns == -led[1].turns == 1
    point = np.array(one.contours[0].nodes[0].at)
    assert there.partner(one.id, point, not swapped) == back.partner(one.id, point, swapped)


def test_hints_that_cross_and_hints_that_are_proposed_name_the_right_key() -> None:
    one, two = filled(star(5, 0.4, 100)), filled(star(6, 0.7, 60))
    ends = [[HintEnd(shape=s.id, at=s.contours[0].nodes[k].at) for k in (0, 2, 4, 6)] for s in (one, two)]
    crossed = [
        Hint(id=str(k), name=f"tip {k}", first=ends[0][k], second=ends[1][j]) for k, j in enumerate((0, 2, 1, 3))
    ]
    for keys in ((one, two), (two, one)):
        hints = tuple(crossed if keys[0] is one else [hint.backwards for hint in crossed])
        plan = plan_span(drawing(keys[0]), drawing(keys[1]), Take(hints=hints))
        assert plan.troubles
        for found in proposed(plan_span(drawing(keys[0]), drawing(keys[1]), Take()), Take()):
            assert (found.hint.first.shape, found.hint.second.shape) == (keys[0].id, keys[1].id)
            assert found.hint.first.at in [node.at for node in keys[0].contours[0].nodes]


def test_what_a_change_elsewhere_leaves_is_taken_over_on_the_way_back_too() -> None:
    one, two = filled(star(5, 0.4, 100)), filled(star(6, 0.7, 60))
    keys = sorted((drawing(one), drawing(two)), key=lambda key: has_more(key, drawing(one)))
    plan = plan_span(*keys, Take())
    again = plan_span(*keys, Take(name="another"), plan)
    assert all(a is b for a, b in zip(plan.pairs, again.pairs, strict=True))


def seen(shape: Shape) -> shapely.Geometry:
    """What is shown of a line: its dashes within the stretch that is revealed."""
    (track,), stroke = [track_of(contour) for contour in shape.contours], shape.stroke
    assert stroke is not None
    places = (np.arange(4000) + 0.5) / 4000
    ends = np.cumsum(stroke.dashes * 2)  # what has an odd number of lengths is repeated
    along = np.mod(places * track.length + stroke.dash_offset, ends[-1])
    shown = (np.searchsorted(ends, along, "right") % 2 == 0) & (places > stroke.reveal[0]) & (places < stroke.reveal[1])
    return shapely.MultiPoint(track.points(places[shown]))


@pytest.mark.parametrize("longer", [0.7, 1.4])
@pytest.mark.parametrize("dashes", [(14.0, 9.0), (30.0, 6.0, 4.0, 12.0), (11.0,)])
def test_what_is_shown_of_a_line_does_not_jump_at_a_key_that_is_drawn_from_its_other_end(
    longer: float, dashes: tuple[float, ...]
) -> None:
    def key(points: list[tuple[float, float]], reveal: tuple[float, float], offset: float) -> Drawing:
        line = stroked(polygon(points, closed=False))
        assert line.stroke is not None
        stroke = checked(line.stroke, reveal=reveal, dashes=dashes, dash_offset=offset)
        return drawing(checked(line, stroke=stroke))

    first = key([(0, 0), (90, 40), (150, -20), (260, 0)], (0.1, 0.6), 5.0)
    second = key([(260 * longer, 12), (150 * longer, 0), (80 * longer, 50), (0, 10)], (0.0, 0.4), 2.0)
    for one, two in ((first, second), (second, first)):
        plan = plan_span(one, two, Take())
        for t, own in ((1e-6, one), (1.0 - 1e-6, two)):
            assert seen(plan.at(t).shapes[0]).hausdorff_distance(seen(own.shapes[0])) < 0.7
