"""How and when one pair goes: its own blend, whole rounds, a drawn path, its own part of the span."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from knead.core.edit import Operation
from knead.core.geometry.route import along, parted
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.letters import letter_outlines
from knead.core.model import Contour, Fill, Gradient, Paint, PairTravel, Point, Shape, Stop, Take
from knead.core.snags.find import findings
from tests.forms import blob, drawing, ellipse, filled, outline, polygon, turned, work_of

finite = st.floats(-300, 300)
points = st.builds(complex, finite, finite)
operation: TypeAdapter[Operation] = TypeAdapter(Operation)


def middle(shape: Shape) -> complex:
    nodes = [complex(*n.at) for c in shape.contours for n in c.nodes]
    return sum(nodes) / len(nodes)


def planned(travel: PairTravel, one: Shape, two: Shape, *others: tuple[Shape, Shape]) -> SpanPlan:
    first, second = drawing(one, *(a for a, _ in others)), drawing(two, *(b for _, b in others))
    return plan_span(first, second, Take(travels=(travel,)))


@given(points, st.tuples(points, points), points)
def test_a_path_is_gone_along_evenly_from_end_to_end(
    start: complex, handles: tuple[complex, complex], end: complex
) -> None:
    way = along(start, handles, end, np.linspace(0, 1, 101))
    assert way[0] == pytest.approx(start)
    assert way[-1] == pytest.approx(end)
    steps = np.abs(np.diff(way))
    turning_back = steps.min() < 0.5 * steps.max()  # a cusp cuts a corner between two samples
    assert turning_back or steps.max() < 1.25 * steps.mean() + 1e-6


@given(points, st.tuples(points, points), points, st.floats(0.1, 0.9))
def test_a_path_parted_is_the_same_path(
    start: complex, handles: tuple[complex, complex], end: complex, place: float
) -> None:
    whole = along(start, handles, end, np.linspace(0, 1, 401))
    joint = complex(along(start, handles, end, np.array([place]))[0])
    before, after = parted(start, handles, end, place)
    both = [along(start, before, joint, np.linspace(0, 1, 50)), along(joint, after, end, np.linspace(0, 1, 50))]
    gaps = np.abs(np.concatenate(both)[:, None] - whole[None]).min(axis=1)
    assert gaps.max() < 0.02 * np.abs(np.diff(whole)).sum() + 1e-6


@pytest.mark.parametrize("blend", ["auto", "direct", "arc", "solid"])
def test_a_drawn_path_leads_the_middle_and_keeps_the_keys(blend: str) -> None:
    one, two = filled(blob([100, 70, 120, 90])), filled(turned(blob([100, 70, 120, 90]), 20, move=(400, 40)))
    path = Point(0.0, -300.0), Point(0.0, -300.0)
    plan = planned(PairTravel(first=one.id, second=two.id, blend=blend, path=path), one, two)
    plain = planned(PairTravel(first=one.id, second=two.id, blend=blend), one, two)
    for t in (0.0, 1.0):
        assert middle(plan.at(t).shapes[0]) == pytest.approx(middle(plain.at(t).shapes[0]))
    start, end = plan.pairs[0].middles
    led = along(start, (-300j, -300j), end, np.array([0.5]))[0]
    assert abs(middle(plan.at(0.5).shapes[0]) - led) < 12
    assert middle(plain.at(0.5).shapes[0]).imag - led.imag > 150


def test_what_goes_on_a_path_of_its_own_takes_along_what_is_smaller_only() -> None:
    def about(contour: Contour, x: float, degrees: float) -> Contour:
        return turned(turned(turned(contour, 0, move=(-x, 0)), degrees), 0, move=(x, 0))

    body = filled(blob([150, 160, 140, 150], at=(0, 0)))
    limbs = ellipse(170, 0, 60, 40), polygon([(100, -8), (320, 0), (100, 8)]), polygon([(310, -4), (350, 0), (310, 4)])
    # the foot swings about a joint in the body, and the thigh about one on the foot, as it would not about the body
    there = about(about(limbs[0], 180, -75), 120, 80), about(limbs[1], 120, 80), about(limbs[2], 120, 80)
    colors = "#aa2211", "#22aa11", "#1122aa"
    first, second = ([filled(c, color=color) for c, color in zip(k, colors, strict=True)] for k in (limbs, there))
    thigh, foot, toe = zip(first, second, strict=True)
    travel = PairTravel(first=foot[0].id, second=foot[1].id, path=(Point(0, -300), Point(0, -300)))
    led = planned(travel, *foot, (body, body), thigh, toe).at(0.5)
    plain = planned(PairTravel(first=foot[0].id, second=foot[1].id), *foot, (body, body), thigh, toe).at(0.5)
    moved = [abs(middle(led.shape(s.id)) - middle(plain.shape(s.id))) for s in first]
    assert moved[0] < 20
    assert min(moved[1:]) > 100


def test_whole_rounds_are_turned_on_the_way() -> None:
    one, two = filled(blob([100, 70, 120, 90])), filled(turned(blob([100, 70, 120, 90]), 30))
    plan = planned(PairTravel(first=one.id, second=two.id, turns=1), one, two)
    assert plan.pairs[0].angle == pytest.approx(np.radians(390), abs=0.02)
    halfway, start = plan.at(0.5).shapes[0], plan.at(0.0).shapes[0]
    tip = [complex(*s.contours[0].nodes[0].at) - middle(s) for s in (start, halfway)]
    assert np.degrees(np.angle(tip[1] / tip[0])) == pytest.approx(-165, abs=3)


def test_what_goes_in_its_own_time_stands_still_before_and_after() -> None:
    one, two = filled(ellipse(100, 100, 40, 40)), filled(ellipse(300, 100, 40, 40))
    plan = planned(PairTravel(first=one.id, second=two.id, start=0.25, end=0.75), one, two)
    seen = [middle(plan.at(t).shapes[0]).real for t in (0.0, 0.2, 0.5, 0.8, 1.0)]
    assert seen == pytest.approx([100, 100, 200, 300, 300])


@pytest.mark.parametrize("appears", [True, False])
def test_what_appears_or_vanishes_can_go_on_a_path_and_turn_round(appears: bool) -> None:
    body, leaf = filled(ellipse(100, 100, 60, 60)), filled(polygon([(190, 90), (260, 100), (190, 110)]))
    ends = (None, leaf.id) if appears else (leaf.id, None)

    def shown(t: float, **more: object) -> Shape:
        keys = (drawing(body), drawing(body, leaf)) if appears else (drawing(body, leaf), drawing(body))
        travel = PairTravel(first=ends[0], second=ends[1], **more)
        found = plan_span(*keys, Take(travels=(travel,))).at(t).shape(leaf.id)
        assert found is not None
        return found

    plain, led, turned_round = shown(0.5), shown(0.5, path=(Point(0, -100), Point(0, -100))), shown(0.5, turns=1)
    assert middle(led) - middle(plain) == pytest.approx(-75j)
    tips = [complex(*s.contours[0].nodes[1].at) - complex(*s.contours[0].nodes[0].at) for s in (plain, turned_round)]
    assert tips[0] == pytest.approx(-tips[1], abs=1e-6)
    there = 1.0 if appears else 0.0
    assert shown(there, turns=1).contours == shown(there).contours


def test_what_appears_late_is_not_there_before() -> None:
    body = filled(blob([100, 120, 90, 110]))
    spot = filled(ellipse(300, 300, 20, 20), color="#dd3355")
    travel = PairTravel(first=None, second=spot.id, start=0.5, end=0.9)
    plan = plan_span(drawing(body), drawing(body, spot), Take(travels=(travel,)))
    assert [len(plan.at(t).shapes) for t in (0.0, 0.3, 0.5, 0.7, 0.95, 1.0)] == [1, 1, 1, 2, 2, 2]
    grown = plan.at(0.95).shape(spot.id)
    assert grown is not None
    assert grown.contours[0].nodes[0].at == pytest.approx(spot.contours[0].nodes[0].at)


@pytest.mark.parametrize("appears", [True, False])
@pytest.mark.parametrize("part", [(0.0, 1.0), (0.2, 0.6)])
def test_what_appears_or_vanishes_on_an_arm_that_swings_goes_with_it_all_the_time(
    appears: bool, part: tuple[float, float]
) -> None:
    arm, dial = polygon([(-12, 0), (-8, 180), (8, 180), (12, 0)]), ellipse(0, 150, 9, 9)
    glow = Gradient(
        kind="radial",
        start=Point(0, 150),
        end=Point(9, 150),
        stops=(Stop(at=0, color="#ffffff"), Stop(at=1, color="#ffcc00")),
    )
    watch = filled(dial).model_copy(update={"fill": Fill(paint=Paint(color="#ffffff", gradient=glow))})
    shoulder = filled(ellipse(0, -20, 40, 40), color="#336699")
    bare, worn = drawing(shoulder, filled(turned(arm, 120))), drawing(shoulder, filled(arm), watch)
    keys, ends = ((bare, worn), (None, watch.id)) if appears else ((worn, bare), (watch.id, None))
    travel = PairTravel(first=ends[0], second=ends[1], start=part[0], end=part[1])
    plan = plan_span(*keys, Take(travels=(travel,)))
    sizes = []
    for t in np.linspace(0.0, 1.0, 21):
        shown = plan.at(float(t)).shape(watch.id)
        if shown is None:
            continue
        turn = np.radians(120 * (1 - t if appears else t))
        wrist = 150j * np.exp(1j * turn)
        assert middle(shown) == pytest.approx(wrist, abs=4)
        sizes.append(round(float(np.ptp(outline(shown.contours[0]), axis=0).max()), 1))
        assert shown.fill
        assert shown.fill.paint.gradient
        seen = shown.fill.paint.gradient
        assert complex(*seen.start) == pytest.approx(middle(shown), abs=0.2), "its colours go with it"
        assert 2 * abs(complex(*seen.end) - complex(*seen.start)) == pytest.approx(sizes[-1], abs=0.2)
    assert sizes == sorted(sizes, reverse=not appears)


@pytest.mark.parametrize("pair", ["wz", "Ev", "W7"])
def test_what_would_cross_itself_if_it_went_solidly_does_not_do_so_by_itself(pair: str) -> None:
    first, second = (drawing(filled(*letter_outlines(text, 200, 0, 0)[0][1])) for text in pair)

    def is_simple(take: Take) -> bool:
        plan = plan_span(first, second, take)
        shapes = [shape for t in np.linspace(0.1, 0.9, 9) for shape in plan.at(t).shapes]
        return all(shapely.Polygon(outline(contour)).is_valid for shape in shapes for contour in shape.contours)

    assert is_simple(Take())
    assert not is_simple(Take(blend="solid"))
    snags = findings(plan_span(first, second, Take()), Take(), np.linspace(0, 1, 13).tolist()).snags
    assert not any("solid" in snag.remedy for snag in snags)


def test_time_needs_an_end_after_its_start() -> None:
    with pytest.raises(ValidationError, match="after the start"):
        PairTravel(first="a", second="b", start=0.7, end=0.4)


def test_a_breakdown_parts_path_turns_and_time_so_that_nothing_changes() -> None:
    arrow = polygon([(0, -20), (120, -8), (160, 0), (120, 8), (0, 20)])
    one, two = filled(turned(arrow, 0, move=(100, 300))), filled(turned(arrow, 40, move=(500, 300)))
    work = work_of(drawing(one), drawing(two))
    settings = {"turns": 1, "path": [[0, -200], [-50, -200]], "start": 0.0, "end": 0.8}
    fields = {"type": "set_travel", "key": "k1", "first": one.id, "second": two.id, **settings}
    work = operation.validate_python(fields).apply(work)
    before = work.plan("k1")
    kept = operation.validate_python({"type": "new_key", "layer": "l", "frame": 7, "source": "shown"}).apply(work)
    middle_key = kept.layer("l").keys[1].id
    for t in (0.25, 0.75):
        whole = before.at(t).shapes[0]
        half = kept.plan("k1" if t < 0.5 else middle_key).at(0.5).shapes[0]
        assert abs(middle(half) - middle(whole)) < 6
        tips = [complex(*s.contours[0].nodes[2].at) - middle(s) for s in (half, whole)]
        assert abs(np.angle(tips[0] / tips[1])) < 0.12


def test_setting_travel_back_to_the_spans_own_leaves_nothing_behind() -> None:
    one, two = filled(blob([100, 70, 120, 90])), filled(blob([100, 80, 120, 90]))
    work = work_of(drawing(one), drawing(two))
    fields = {"type": "set_travel", "key": "k1", "first": one.id, "second": two.id}
    changed = operation.validate_python({**fields, "blend": "arc", "turns": 2}).apply(work)
    assert changed.key("k1").span.take.travel(one.id, two.id).turns == 2
    assert changed.plan("k1").pairs[0].way == "arc"
    kept = operation.validate_python({**fields, "turns": 0}).apply(changed)
    assert kept.key("k1").span.take.travel(one.id, two.id).blend == "arc"
    assert not operation.validate_python({**fields, "blend": None}).apply(kept).key("k1").span.take.travels
