"""About what a thing turns: its end, if it keeps that, as pendulums, leaning trees and lids do; else its middle."""

import math
from collections.abc import Callable

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Node, Shape, Take
from tests.examples import few
from tests.forms import (
    backwards,
    begun_at,
    blob,
    by_hand,
    drawing,
    ellipse,
    filled,
    outline,
    polygon,
    star,
    stroked,
    turned,
    wave,
)

Thing = Callable[[], list[Shape]]


def pendulum() -> list[Shape]:
    rod = filled(polygon([(-4, 0), (4, 0), (4, 250), (-4, 250)]))
    return [rod, filled(ellipse(0, 280, 40, 40), color="#aa3311")]


def lamp() -> list[Shape]:
    shade = filled(polygon([(-30, 220), (30, 220), (80, 300), (-80, 300)]), color="#3366aa")
    return [stroked(polygon([(0, 0), (0, 220)], closed=False)), shade, filled(ellipse(0, 310, 18, 18), color="#ffdd55")]


def tree() -> list[Shape]:
    trunk = filled(polygon([(-20, 0), (20, 0), (15, -200), (-15, -200)]), color="#664422")
    return [trunk, filled(ellipse(0, -260, 110, 90), color="#229944"), filled(ellipse(40, -240, 12, 12))]


def lid() -> list[Shape]:
    return [filled(polygon([(0, 0), (200, 0), (200, 60), (0, 60)])), filled(ellipse(170, 20, 10, 10), color="#ffcc00")]


def posed(shape: Shape, degrees: float, at: tuple[float, float], redrawn: bool) -> Shape:
    """A shape turned about the origin, which comes to `at`; with its outlines begun elsewhere if it is `redrawn`."""

    def drawn(contour: Contour) -> Contour:
        turn = turned(contour, degrees, move=at)
        return (begun_at(turn, 2) if turn.closed else backwards(turn)) if redrawn else turn

    name = f"{shape.id} again" if redrawn else shape.id
    return shape.model_copy(update={"id": name, "contours": tuple(drawn(contour) for contour in shape.contours)})


def off(shape: Shape, true: Shape) -> float:
    """How far a shape is from another, in scene units."""
    one, two = (shapely.MultiLineString([outline(c) for c in each.contours]) for each in (shape, true))
    return float(one.hausdorff_distance(two))


@pytest.mark.parametrize("thing", [pendulum, lamp, tree, lid])
@few
@given(
    degrees=st.floats(45, 125),
    start=st.floats(-180, 180),
    other_way=st.booleans(),
    two=st.booleans(),
    miss=st.floats(-180, 180),
)
@example(degrees=90.0, start=0.0, other_way=True, two=False, miss=0.0)  # a lid's knob says which way that turns
@example(degrees=100.0, start=0.0, other_way=False, two=True, miss=0.0)  # and its bob which way a rod does
@example(degrees=75.0, start=59.0, other_way=False, two=True, miss=1.0)  # and a trunk that its crown is no ball
def test_what_turns_as_one_about_its_end_keeps_that_end(
    thing: Thing, degrees: float, start: float, other_way: bool, two: bool, miss: float
) -> None:
    degrees = -degrees if other_way else degrees
    things = [(thing(), degrees, (0.0, 0.0)), *([(thing(), -degrees, (900.0, 0.0))] if two else [])]

    def pose(t: float, redrawn: bool) -> list[Shape]:
        found = []
        for shapes, turn, (x, y) in things:
            # no one draws a pivot twice in the very same place
            at = (x + 3 * math.cos(miss), y + 3 * math.sin(miss)) if redrawn else (x, y)
            found += [posed(shape, start + turn * t, at, redrawn) for shape in shapes]
        return found

    plan = plan_span(drawing(*pose(0.0, False)), drawing(*pose(1.0, True)), Take())
    for t in (0.3, 0.5, 0.7):
        shown = {shape.id: shape for shape in plan.at(t).shapes}
        for true in pose(t, False):
            assert off(shown[true.id], true) < 8.0  # of some 300


def test_a_tree_that_hardly_leans_says_with_what_each_of_its_shapes_goes() -> None:
    trunk, crown, apple = tree()
    upright, leaning = ([posed(shape, turn, (0, 0), turn > 0) for shape in (trunk, crown, apple)] for turn in (0, 12))
    plan = plan_span(drawing(*upright), drawing(*leaning), Take())
    assert [(p.way, p.way_reason) for p in plan.pairs] == [
        ("arc", "it goes along with its neighbour"),
        ("arc", "it goes along with what hangs on it"),
        ("arc", "it goes along with its neighbour"),
    ]


@pytest.mark.parametrize(("lean", "swept"), [(0.0, 0.0), (25.0, -10.0), (-20.0, 15.0)])
def test_wings_that_are_larger_than_the_body_flap_about_their_roots(lean: float, swept: float) -> None:
    body, head = filled(ellipse(0, 0, 150, 14)), filled(ellipse(-150, 0, 24, 24), color="#225588")

    def wing(x: float, height: float, tip: float) -> Shape:
        way = math.copysign(1.0, height)
        nodes = (
            Node(at=(x - 12, way), before=(x - 12, way), after=(x - 45, 0.5 * height)),
            Node(at=(x + tip, height), before=(x + tip - 35, height), after=(x + tip + 35, 0.9 * height)),
            Node(at=(x + 12, way), before=(x + 40, 0.45 * height), after=(x + 12, way)),
        )
        return filled(Contour(nodes=nodes, closed=True), color="#bbddff")

    roots = [-50.0, 10.0]
    one, two = ([wing(x, way * 170, tip) for x in roots] for way, tip in ((-1, lean), (1, swept)))
    plan = plan_span(drawing(body, head, *one), drawing(body, head, *two), Take())
    for t in (0.25, 0.5, 0.75):
        shown = {shape.id: shape for shape in plan.at(t).shapes}
        for wing_, x in zip(one, roots, strict=True):
            points = outline(shown[wing_.id].contours[0])
            away = [math.hypot(*point) for point in points - [x, 0.0]]
            assert min(away) < 12.0
            assert max(away) > 140.0, "its tip stays as far from the body as it is"


@pytest.mark.parametrize("from_tip", [False, True])
def test_a_stalk_that_bends_over_keeps_its_foot_though_it_is_less_bent_the_other_way_round(from_tip: bool) -> None:
    upright = Contour(
        nodes=(
            Node(at=(40, 180), before=(40, 180), after=(60, 140)),
            Node(at=(50, 40), before=(60, 100), after=(50, 40)),
        )
    )
    over = Contour(
        nodes=(
            Node(at=(40, 180), before=(40, 180), after=(60, 140)),
            Node(at=(165, 110), before=(100, 110), after=(165, 110)),
        )
    )
    stalk = stroked(upright, width=10)
    plan = plan_span(drawing(stalk), drawing(stroked(backwards(over) if from_tip else over, width=10)), Take())
    for t in (0.25, 0.5, 0.75):
        (shape,) = plan.at(t).shapes
        assert tuple(shape.contours[0].nodes[0].at) == pytest.approx((40, 180), abs=8)


def test_what_is_thrown_goes_straight_by_its_middle_while_it_turns() -> None:
    ball = [
        filled(polygon([(-60, -40), (60, -40), (60, 40), (-60, 40)])),
        filled(ellipse(30, 0, 10, 10), color="#222222"),
    ]
    first = [posed(shape, 0, (0, 0), False) for shape in ball]
    second = [posed(shape, 80, (700, 100), True) for shape in ball]
    half = {shape.id: shape for shape in plan_span(drawing(*first), drawing(*second), Take()).at(0.5).shapes}
    for shape in ball:
        assert off(half[shape.id], posed(shape, 40, (350, 50), False)) < 1.0


@few
@given(degrees=st.floats(40, 150), start=st.floats(-180, 180), bars=st.integers(1, 4))
@example(degrees=55.0, start=0.0, bars=2)  # a bar's one end comes to where its other one was
def test_lines_turn_about_the_middle_of_what_they_span_wherever_most_of_them_are(
    degrees: float, start: float, bars: int
) -> None:
    gate = [polygon([(-200, -120), (-200, 120)], closed=False), polygon([(200, -120), (200, 120)], closed=False)]
    gate += [polygon([(-180 + 25 * k, -90), (-180 + 25 * k, 80)], closed=False) for k in range(bars)]
    lines = [stroked(contour) for contour in gate]
    first, second, true = (
        [posed(line, start + degrees * t, (300, 200), t == 1.0) for line in lines] for t in (0.0, 1.0, 0.5)
    )
    half = {shape.id: shape for shape in plan_span(drawing(*first), drawing(*second), Take()).at(0.5).shapes}
    assert max(off(half[line.id], own) for line, own in zip(lines, true, strict=True)) < 5.0  # of some 470


@few
@given(hand=st.integers(0, 200), length=st.floats(85, 104))
@example(hand=5, length=100.0)
def test_a_lone_stalk_bends_about_its_foot_although_no_hand_meets_it_again_exactly(hand: int, length: float) -> None:
    noise = np.random.default_rng(hand)
    upright = Node(at=(40, 180), before=(40, 180), after=(60, 140)), Node(at=(50, 40), before=(60, 100), after=(50, 40))
    over = (
        Node(at=(40, 180), before=(40, 180), after=(60, 140)),
        Node(at=(65 + length, 110), before=(length, 110), after=(65 + length, 110)),
    )
    first, second = (drawing(stroked(by_hand(Contour(nodes=nodes), noise, 1.2))) for nodes in (upright, over))
    (half,) = plan_span(first, second, Take()).at(0.5).shapes
    assert shapely.LineString(outline(half.contours[0])).distance(shapely.Point(40, 180)) < 6


@pytest.mark.parametrize("which", [0, 1, 2, 3])
def test_one_shape_that_a_hand_moved_by_a_hair_leaves_the_middle_of_the_whole(which: int) -> None:
    forms = [
        star(5, size=60, at=(150, 150)),
        wave(5, 120),
        blob([50, 70, 60, 40, 55], at=(420, 200)),
        ellipse(260, 420, 70, 40),
    ]
    forms[1] = turned(forms[1], 20, move=(120, 330))
    first = drawing(*(stroked(form) for form in forms))

    def half(off: float) -> list[np.ndarray]:
        moves = [(300.0 + off * (k == which), 60.0) for k in range(len(forms))]
        second = drawing(*(stroked(turned(form, 100, move=move)) for form, move in zip(forms, moves, strict=True)))
        return [outline(shape.contours[0], 16) for shape in plan_span(first, second, Take()).at(0.5).shapes]

    for exact, moved in zip(half(0.0), half(2.0), strict=True):
        assert np.abs(exact - moved).max() < 6
