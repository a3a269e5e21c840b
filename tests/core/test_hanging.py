"""Strings, ropes and legs: lines that end on fills stay on these, in their order, and carry none of them off."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Shape, Take
from tests.examples import few
from tests.forms import drawing, ellipse, filled, outline, polygon, smooth, stroked

TIMES = np.linspace(0.0, 1.0, 9)
Place = tuple[float, float]


def rod(start: Place, end: Place, wide: float, color: str = "#4477aa") -> Shape:
    a, b = complex(*start), complex(*end)
    side = 0.5j * wide * (b - a) / abs(b - a)
    return filled(polygon([(z.real, z.imag) for z in (a + side, b + side, b - side, a - side)]), color=color)


def plan_of(first: dict[str, Shape], second: dict[str, Shape]) -> tuple[SpanPlan, dict[str, str]]:
    """The plan of named shapes, of which those of the second key are shuffled, and what becomes of each."""
    order = sorted(second, key=lambda name: name[::-1])
    plan = plan_span(drawing(*first.values()), drawing(*(second[name] for name in order)), Take())
    names = {shape.id: name for name, shape in second.items()}
    partners = {pair.first_id: pair.second_id for pair in plan.pairs}
    return plan, {name: names.get(partners[shape.id] or "", "nothing") for name, shape in first.items()}


def holds(key: Drawing, line: Shape, fill: Shape) -> float:
    """How far the nearer end of a line is off a fill."""
    shapes = {shape.id: shape for shape in key.shapes}
    ring = shapely.Polygon(outline(shapes[fill.id].contours[0], 12))
    ends = shapes[line.id].contours[0].nodes
    return min(ring.distance(shapely.Point(*ends[k].at)) for k in (0, -1))


def balloons(places: list[Place], hand: Place) -> dict[str, Shape]:
    colors = ("#3a7fcc", "#707dd3", "#6e3b57", "#4e2d81")
    middles = [(0.6 * hand[0] + 0.4 * x - 4, 0.6 * hand[1] + 0.4 * (y + 30)) for x, y in places]
    strings = {
        f"string {k}": stroked(smooth([hand, middle, (x, y + 30)], False))
        for k, ((x, y), middle) in enumerate(zip(places, middles, strict=True))
    }
    forms = {
        f"balloon {k}": filled(ellipse(x, y, 23, 30), color=color)
        for k, ((x, y), color) in enumerate(zip(places, colors, strict=True))
    }
    return strings | forms | {"hand": filled(ellipse(*hand, 9, 9), color="#e0b090")}


def test_strings_stay_on_their_balloons_however_these_pass_each_other() -> None:
    first = balloons([(-18, -59), (91, -48), (138, -32), (170, -107)], (15, 120))
    second = balloons([(-42, -98), (22, -67), (35, -102), (46, -36)], (-6, 120))
    plan, becomes = plan_of(first, second)
    assert becomes == {name: name for name in first}
    for t in TIMES:
        for k in range(4):
            assert holds(plan.at(t), first[f"string {k}"], first[f"balloon {k}"]) < 1.5


@few
@given(st.permutations(range(4)), st.floats(15, 40))
def test_sticks_go_with_what_is_on_them(order: list[int], lean: float) -> None:
    colors = ("#3a7fcc", "#d05050", "#50a040", "#d0a020")

    def sweets(places: list[int], lean: float) -> dict[str, Shape]:
        tops = [(100.0 * at + lean, 100.0) for at in places]
        sticks = {f"stick {k}": stroked(polygon([(x, y), (x - lean, y + 120)], False)) for k, (x, y) in enumerate(tops)}
        return sticks | {f"sweet {k}": filled(ellipse(*top, 30, 30), color=colors[k]) for k, top in enumerate(tops)}

    first, second = sweets([0, 1, 2, 3], 0.0), sweets(order, lean)
    assert plan_of(first, second)[1] == {name: name for name in first}


@few
@given(st.lists(st.floats(-28, 28), min_size=8, max_size=8))
def test_a_ball_that_goes_from_hand_to_hand_takes_no_arm_along(off: list[float]) -> None:
    def thrower(off: list[float], side: int) -> dict[str, Shape]:
        hands = [(-45 + off[0] / 2, 40 + off[1]), (45 + off[2] / 2, 40 + off[3])]
        found = {"body": filled(polygon([(-20, 0), (20, 0), (14, 80), (-14, 80)]), color="#3355aa")}
        for way, (x, y) in zip((-1, 1), hands, strict=True):
            elbow = ((19 * way + x) / 2 + 14 * way, (4 + y) / 2 + 8)
            found[f"arm {way}"] = stroked(smooth([(19 * way, 4), elbow, (x, y)], False))
        x, y = hands[side]
        return found | {"ball": filled(ellipse(x, y + 10, 14, 14), color="#d03030")}

    first, second = thrower(off[:4], 0), thrower(off[4:], 1)
    assert plan_of(first, second)[1] == {name: name for name in first}


def puppet(middle: float, hands: tuple[Place, Place], feet: tuple[Place, Place]) -> dict[str, Shape]:
    """A body of bars, with a string from a bar above to its head, and to the end of each limb."""
    neck, hip = (middle, -60.0), (middle, 5.0)
    found = {"bar": rod((-80, -190), (80, -190), 9, "#705030"), "body": rod(neck, hip, 14, "#44aa88")}
    found["head"] = filled(ellipse(middle, -84, 24, 24), color="#44aa88")
    ends = {"left arm": hands[0], "right arm": hands[1], "left leg": feet[0], "right leg": feet[1]}
    for name, end in ends.items():
        start = neck if name.endswith("arm") else hip
        z = 0.5 * (complex(*start) + complex(*end)) + (18j if name.endswith("arm") else 0)
        found[name] = rod(start, (z.real, z.imag), 9, "#44aa88")
        found[f"end of {name}"] = rod((z.real, z.imag), end, 9, "#e0b090")
    tops = dict(zip(ends, (-70, 70, -35, 35), strict=True))
    found |= {f"string to {name}": stroked(polygon([(tops[name], -190), end], False)) for name, end in ends.items()}
    return found | {"string to head": stroked(polygon([(0, -190), (middle, -84)], False))}


@pytest.mark.parametrize(
    ("first", "second"),
    [
        ((-43, ((-122, -79), (21, -7)), ((-64, 91), (-22, 83))), (35, ((12, -87), (54, -95)), ((-6, 91), (50, 95)))),
        ((14, ((-39, -103), (28, -35)), ((-29, 85), (27, 98))), (21, ((-15, -75), (31, -61)), ((4, 90), (49, 97)))),
        ((5, ((-22, -14), (17, -42)), ((-32, 85), (11, 87))), (-14, ((-61, -100), (23, -33)), ((-37, 96), (34, 97)))),
    ],
)
def test_strings_hold_limbs_by_both_ends_and_carry_none(
    first: tuple[float, tuple[Place, Place], tuple[Place, Place]],
    second: tuple[float, tuple[Place, Place], tuple[Place, Place]],
) -> None:
    keys = puppet(*first), puppet(*second)
    plan, becomes = plan_of(*keys)
    assert becomes == {name: name for name in keys[0]}
    for t in TIMES:
        shapes = {shape.id: shape for shape in plan.at(t).shapes}
        bar = outline(shapes[keys[0]["bar"].id].contours[0])
        assert np.abs(bar[:, 1] + 190).max() < 5, "it stays where it is"
        for name in ("left arm", "right arm", "left leg", "right leg"):
            string, end = keys[0][f"string to {name}"], keys[0][f"end of {name}"]
            assert holds(plan.at(t), string, keys[0]["bar"]) < 1.0
            assert holds(plan.at(t), string, end) < 1.5
            limb = [shapely.Polygon(outline(shapes[part.id].contours[0])) for part in (keys[0][name], end)]
            assert limb[0].distance(limb[1]) < 3


@few
@given(st.lists(st.floats(-0.6, 0.6), min_size=16, max_size=16), st.floats(-0.3, 0.3))
def test_legs_keep_their_order_on_a_body_though_they_cross(bends: list[float], turn: float) -> None:
    def spider(own: list[float], turn: float) -> dict[str, Shape]:
        found = {}
        for k, (a, b) in enumerate(zip(own[:4] + own[4:8], own[::-1], strict=True)):
            side = 1 if k < 4 else -1
            one = np.exp(1j * (-0.75 + 0.5 * (k % 4) + a))
            two = np.exp(1j * (-0.75 + 0.5 * (k % 4) + a + 1.1 + b))
            places = np.cumsum([24 + 1j * (-12 + 8 * (k % 4)), 35 * one, 48 * two])
            places = (side * places.real + 1j * places.imag) * np.exp(1j * turn)
            found[f"leg {k}"] = stroked(polygon([(z.real, z.imag) for z in places], False))
        return found | {"body": filled(ellipse(0, 0, 30, 36))}

    first, second = spider(bends[:8], 0.0), spider(bends[8:], turn)
    assert plan_of(first, second)[1] == {name: name for name in first}


def test_a_beam_does_not_roll_over_for_a_node_more() -> None:
    """Half round its nodes would lie on each other all but exactly."""
    first = filled(polygon([(105.2, 32.5), (-102.5, -40.1), (-105.2, -32.5), (102.5, 40.1), (103.2, 38.3)]))
    second = filled(polygon([(-109.6, -9.9), (-109.8, -7.5), (-110.1, -1.9), (109.6, 9.9), (110.1, 1.9)]))
    (pair,) = plan_span(drawing(first), drawing(second), Take()).pairs
    assert abs(pair.angle) < 0.4
