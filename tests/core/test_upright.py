"""Which way up: mouths bend and do not roll over, and what lies about a form tells how it is turned."""

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import given
from hypothesis import strategies as st

from knead.core.geometry.similarity import fit
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.letters import letter_outlines
from knead.core.model import Contour, Drawing, Hint, HintEnd, Node, Shape, Take
from tests.examples import few
from tests.forms import (
    backwards,
    begun_at,
    blob,
    by_hand,
    distances,
    drawing,
    drawn,
    ellipse,
    filled,
    outline,
    polygon,
    recut,
    stroked,
    turned,
)

SMILE = [(120, 180), (160, 215), (200, 228), (240, 215), (280, 180)]
CHEVRON = [(130, 160), (200, 230), (270, 160)]
ZIGZAG = [(110, 200), (155, 155), (200, 245), (245, 155), (290, 200)]
NEEDLE = [(180, 100), (200, 300), (220, 100)]
LIPS = [(120, 180), (160, 210), (200, 222), (240, 210), (280, 180), (240, 222), (200, 236), (160, 222)]


def line(points: list[tuple[float, float]]) -> Contour:
    return polygon(points, closed=False)


def upside_down(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    return [(x, 400 - y) for x, y in points]


def planned(first: Contour, second: Contour) -> SpanPlan:
    make = filled if first.closed else stroked
    return plan_span(drawing(make(first)), drawing(make(second)), Take())


@few
@given(st.sampled_from([SMILE, CHEVRON, ZIGZAG]), st.booleans(), st.lists(st.floats(0.05, 0.95), max_size=3))
def test_a_line_that_becomes_its_mirror_image_is_bent_over_with_its_ends_in_place(
    points: list[tuple[float, float]], reverse: bool, shares: list[float]
) -> None:
    second = recut(line(upside_down(points)), shares)
    plan = planned(line(points), backwards(second) if reverse else second)
    middle = outline(plan.at(0.5).shapes[0].contours[0])
    assert np.abs(middle[:, 1] - 200).max() < 3, "half way it is straight"
    assert np.ptp(middle[:, 0]) > 0.9 * np.ptp(np.array(points)[:, 0])


def test_lips_are_bent_over_and_a_needle_is_turned() -> None:
    lips = outline(planned(polygon(LIPS), polygon(upside_down(LIPS))).at(0.5).shapes[0].contours[0])
    assert np.ptp(lips[:, 1]) < 25
    assert np.ptp(lips[:, 0]) > 130
    needle = outline(planned(line(NEEDLE), line(upside_down(NEEDLE))).at(0.5).shapes[0].contours[0])
    assert np.ptp(needle[:, 0]) > 180, "it would be folded up, else"


@pytest.mark.parametrize(("sink", "start"), [(0, 0), (-30, 3), (20, 5)])
@pytest.mark.parametrize("seen", [True, False])
def test_a_frown_in_a_face_becomes_the_smile_that_it_is_upside_down(sink: int, start: int, seen: bool) -> None:
    """What is thick becomes a smile by bending over, both of its corners alike; it would roll if it were alone.

    Eyes say so, and where none is seen, as behind dark glasses, the face does.
    """
    across = np.linspace(-1, 1, 13)
    frown = [(75 * x, -49 * (1 - x * x)) for x in across] + [(75 * x, -9 * (1 - x * x)) for x in across[-2:0:-1]]
    eyes = [filled(ellipse(x, 135, 25, 35), color="#664500") for x in (120, 240)] if seen else []
    face = filled(ellipse(180, 180, 180, 180), color="#ffcc4d")
    first, second = (
        filled(begun_at(polygon([(180 + x, at + way * y) for x, y in frown]), begin), color="#664500")
        for at, way, begin in ((270, 1, 0), (270 + sink, -1, start))
    )
    plan = plan_span(drawing(face, *eyes, first), drawing(face, *eyes, second), Take())
    mouth = next(p for p in plan.pairs if p.first_id == first.id)
    half = outline(next(s for s in plan.at(0.5).shapes if s.id == mouth.identity).contours[0])
    assert np.ptp(half[:, 0]) == pytest.approx(160, rel=0.1)
    assert np.ptp(half[:, 1]) < 50
    assert distances(half * [-1, 1] + [360, 0], [half]).max() < 3


HAIR = polygon([(140, 190), (160, 90), (205, 125), (250, 80), (262, 190), (200, 160)])
HEAD: list[tuple[Contour, str]] = [
    (ellipse(200, 200, 60, 60), "#ffcc66"),
    (HAIR, "#885533"),
    (ellipse(176, 196, 8, 8), "#222222"),
    (ellipse(224, 196, 8, 8), "#222222"),
    (line([(172, 224), (186, 234), (200, 238), (214, 234), (228, 224)]), "#222222"),
]


def head(degrees: float, start: int) -> Drawing:
    def shape(contour: Contour, color: str) -> Shape:
        placed = turned(contour, degrees)
        if not placed.closed:
            return stroked(backwards(placed), color=color)
        return filled(begun_at(placed, start % len(placed.nodes)), color=color)

    return drawing(*(shape(contour, color) for contour, color in HEAD))


@few
@given(st.integers(-170, 170), st.integers(0, 3))
def test_a_head_turns_as_one_with_its_round_face_and_its_mouth(degrees: int, start: int) -> None:
    plan = plan_span(head(0, 0), head(degrees, start), Take())
    for name, t in (("half way", 0.5), ("later", 0.75)):
        middles = np.array([outline(shape.contours[0]).mean(axis=0) for shape in plan.at(t).shapes]) @ [1, 1j]
        meant = np.array([outline(shape.contours[0]).mean(axis=0) for shape in head(t * degrees, 0).shapes]) @ [1, 1j]
        apart, wanted = (np.abs(np.subtract.outer(row, row)) for row in (middles, meant))
        assert np.abs(apart - wanted).max() < 0.1, name
        mouth = outline(plan.at(t).shapes[-1].contours[0])
        assert np.hypot(*np.ptp(mouth - mouth.mean(axis=0), axis=0)) > 50, "and the mouth keeps its form"


@pytest.mark.parametrize("degrees", [95, 150, -120])
@pytest.mark.parametrize(
    "stem", [line([(200, 100), (200, 260)]), polygon([(190, 100), (210, 100), (210, 260), (190, 260)])]
)
def test_a_stroke_falls_over_with_its_dot(stem: Contour, degrees: float) -> None:
    def mark(angle: float) -> Drawing:
        own = turned(stem, angle)
        return drawing(filled(turned(ellipse(200, 310, 14, 14), angle)), filled(own) if own.closed else stroked(own))

    plan = plan_span(mark(0), mark(degrees), Take())
    for t in (0.25, 0.5, 0.75):
        dot, own = (outline(shape.contours[0]) for shape in plan.at(t).shapes)
        gap = np.hypot(*(own - dot.mean(axis=0)).T).min()
        assert gap == pytest.approx(50, abs=8), "the dot keeps its distance"


@pytest.mark.parametrize("hand", [(130, 40), (100, 90), (150, 10)])
def test_an_arm_that_is_thrown_up_stays_at_its_shoulder(hand: tuple[float, float]) -> None:
    def figure(elbow: tuple[float, float], hand: tuple[float, float]) -> Drawing:
        trunk = [filled(ellipse(200, 60, 24, 24)), stroked(line([(200, 84), (200, 220)]))]
        legs = [line([(200, 220), (200 + 20 * side, 380)]) for side in (-1, 1)]
        arms = [line([(200, 110), *((200 + side * (200 - x), y) for x, y in (elbow, hand))]) for side in (-1, 1)]
        return drawing(*trunk, *map(stroked, (*legs, *arms)))

    plan = plan_span(figure((166, 160), (158, 210)), figure(((hand[0] + 165) / 2, (hand[1] + 90) / 2), hand), Take())
    for t in (0.2, 0.4, 0.6, 0.8):
        for arm in plan.at(t).shapes[-2:]:
            ends = np.array([arm.contours[0].nodes[k].at for k in (0, -1)])
            assert np.hypot(*(ends - [200, 110]).T).min() < 8


PLUS = [(170, 100), (230, 100), (230, 170), (300, 170), (300, 230), (230, 230), (230, 300), (170, 300), (170, 230)]
WINDOW = [(185, 245), (215, 245), (215, 285), (185, 285)]


@few
@given(st.integers(-175, 175), st.integers(0, 11))
def test_a_window_goes_along_with_the_wall_that_may_lie_any_way(degrees: int, start: int) -> None:
    wall, window = polygon([*PLUS, (100, 230), (100, 170), (170, 170)]), backwards(polygon(WINDOW))
    second = filled(*(begun_at(turned(each, degrees), start) for each in (wall, window)))
    plan = plan_span(drawing(filled(wall, window)), drawing(second), Take())
    for t in (0.25, 0.5, 0.75):
        edge, hole = (shapely.Polygon(outline(contour)) for contour in plan.at(t).shapes[0].contours)
        assert edge.contains(hole)
        assert hole.centroid.distance(edge.centroid) > 45


def test_a_knob_slides_along_in_its_switch() -> None:
    pill = ellipse(200, 200, 120, 50)
    keys = [drawing(filled(begun_at(pill, 1)), filled(ellipse(x, 200, 30, 30), color="#ffffff")) for x in (130, 270)]
    plan = plan_span(keys[0], keys[1], Take())
    for t in (0.2, 0.5, 0.8):
        case, knob = (outline(shape.contours[0]).mean(axis=0) for shape in plan.at(t).shapes)
        assert np.abs(case - 200).max() < 3
        assert knob == pytest.approx([130 + 140 * t, 200], abs=5)


def test_a_bird_beats_its_wings_and_does_not_roll_over() -> None:
    def bird(tip: float, belly: float) -> Drawing:
        wings = [
            [(200 + side * x, 200 + y) for x, y in [(8, 0), (80, 0.55 * tip - belly), (170, tip), (70, 0.4 * tip + 14)]]
            for side in (-1, 1)
        ]
        return drawing(*(filled(polygon(wing)) for wing in wings), filled(ellipse(200, 205 - 0.1 * tip, 40, 24)))

    plan = plan_span(bird(-100, 16), bird(110, 4), Take())
    for t in (0.25, 0.5, 0.75):
        left, right, body = (outline(shape.contours[0]).mean(axis=0) for shape in plan.at(t).shapes)
        assert left[0] < body[0] - 40
        assert right[0] > body[0] + 40
        assert body[0] == pytest.approx(200, abs=1)
        assert left == pytest.approx([400 - right[0], right[1]], abs=2), "it leans to neither side"


def test_the_bars_of_a_chart_grow_and_shrink_and_do_not_roll() -> None:
    def chart(*heights: float) -> Drawing:
        lefts = [100 + 50 * k for k in range(len(heights))]
        colors = ("#cc6633", "#cc9933", "#669933", "#336699")
        corners = [
            [(x, 300 - h), (x + 40, 300 - h), (x + 40, 300), (x, 300)] for x, h in zip(lefts, heights, strict=True)
        ]
        return drawing(*(filled(polygon(c), color=k) for c, k in zip(corners, colors, strict=True)))

    half = plan_span(chart(60, 100, 140, 80), chart(130, 40, 70, 150), Take()).at(0.5)
    found = np.array([shapely.Polygon(outline(shape.contours[0])).bounds for shape in half.shapes])
    meant = [[100 + 50 * k, 300 - h, 140 + 50 * k, 300] for k, h in enumerate((95, 70, 105, 115))]
    assert found == pytest.approx(np.array(meant), abs=1)


@few
@given(st.integers(100, 170), st.integers(0, 3))
def test_two_wheels_that_are_one_shape_turn_with_their_cart(degrees: int, start: int) -> None:
    cart = polygon([(100, 180), (300, 180), (300, 140), (250, 140), (240, 160), (100, 160)])
    wheels = [ellipse(130, 200, 24, 24), ellipse(270, 200, 24, 24)]
    pole = line([(200, 80), (200, 170)])

    def keys(by: float) -> Drawing:
        rim = [begun_at(turned(wheel, by), start) for wheel in (wheels if by == 0 else wheels[::-1])]
        return drawing(filled(*rim, color="#333333"), filled(turned(cart, by)), stroked(turned(pole, by)))

    half = plan_span(keys(0), keys(degrees), Take()).at(0.5)
    meant = keys(degrees / 2)
    gap = [
        np.abs(np.subtract.outer(*(_middles(side) @ [1, 1j] for side in (key, key)))).round(6) for key in (half, meant)
    ]
    assert np.sort(gap[0].ravel()) == pytest.approx(np.sort(gap[1].ravel()), abs=8), "it does not fall apart"


def _middles(key: Drawing) -> np.ndarray:
    return np.array([outline(contour).mean(axis=0) for shape in key.shapes for contour in shape.contours])


def test_a_hole_that_is_nearly_round_does_not_turn_in_its_ring() -> None:
    def squarish(size: float, by: float) -> Contour:
        return turned(blob([size * (1 + 0.008 * (-1) ** k) for k in range(8)], at=(0, 0)), by, move=(200, 200))

    first, second = (
        filled(ellipse(200, 200, outer, outer), backwards(squarish(inner, by)), rule="evenodd")
        for outer, inner, by in ((60, 50, 0), (80, 25, 45))
    )
    (plan,) = plan_span(drawing(first), drawing(second), Take()).pairs
    assert abs(np.degrees(plan.angle)) < 5


@pytest.mark.parametrize("seed", range(4))
def test_an_arrow_that_goes_through_its_bow_does_not_turn_that_over(seed: int) -> None:
    noise = np.random.default_rng(seed)

    def key(x: float, bend: float, pulled: float) -> list[Shape]:
        ends = [(x, 30.0, bend, 60.0), (x, 170.0, bend, 140.0)]
        bow = Contour(nodes=tuple(Node(at=(a, b), before=(c, d), after=(c, d)) for a, b, c, d in ends))
        string = [(x, 30.0), *([(pulled, 100.0)] if pulled < x else []), (x, 170.0)]
        arrow = [(pulled, 100.0), (pulled + 80.0, 100.0)]
        head = [(pulled + 80.0, 92.0), (pulled + 98.0, 100.0), (pulled + 80.0, 108.0)]
        lines = [stroked(by_hand(polygon(points, closed=False), noise, 1.2), width=2) for points in (string, arrow)]
        return [
            stroked(by_hand(bow, noise, 1.2), width=7, color="#885533"),
            *lines,
            filled(by_hand(polygon(head), noise, 1.2)),
        ]

    plan = plan_span(drawing(*key(70, 110, 70)), drawing(*key(86, 112, 34)), Take())
    for t in (0.25, 0.5, 0.75):
        bow = outline(plan.at(t).shapes[0].contours[0])
        assert bow[0, 1] < 50
        assert bow[-1, 1] > 150


@pytest.mark.parametrize("pair", ["ab", "ba"])
def test_what_need_not_roll_over_on_the_way_back_does_not_do_so_on_the_way_there(pair: str) -> None:
    first, second = (drawing(filled(*letter_outlines(text, 200, 0, 0)[0][1])) for text in pair)
    plan = plan_span(first, second, Take())
    assert abs(plan.pairs[0].angle) < 0.3, "the stem bends over, and the bowl stays where it is"


BOX = [(120, 120), (280, 120), (280, 280), (120, 280)]


def box(degrees: float, cuts: list[int], inside: Contour | None, ticks: list[list[tuple[float, float]]]) -> Drawing:
    """A square in strokes that begin at some of its corners, with what lies in it and ticks on its sides."""
    rounds = [(*BOX, *BOX)[start : end + 1] for start, end in zip(cuts, [*cuts[1:], cuts[0] + 4], strict=True)]
    own = [stroked(turned(line(list(part)), degrees)) for part in [*rounds, *ticks]]
    return drawing(*own, *([filled(turned(inside, degrees))] if inside else []))


@pytest.mark.parametrize("degrees", [60, -65, 50])
@pytest.mark.parametrize(("cuts", "others"), [([0, 1, 3], [2, 3]), ([1], [0, 2]), ([0, 2], [3])])
@pytest.mark.parametrize("content", [True, False])
def test_a_square_turns_as_what_lies_in_it_or_on_it_however_it_was_cut(
    degrees: int, cuts: list[int], others: list[int], content: bool
) -> None:
    """It could as well turn the other way, by less; then the ticks on its sides would come off it."""
    arrow = polygon([(200, 150), (250, 200), (215, 200), (215, 260), (185, 260), (185, 200), (150, 200)])
    ticks = [[(120, 200), (135, 200)], [(200, 280), (200, 265)], [(120, 150), (135, 150)]]
    inside, on_it = (arrow, []) if content else (None, ticks)
    first, second = box(0, cuts, inside, on_it), box(degrees, others, inside, on_it)
    plan = plan_span(first, second, Take())
    assert [drawn(plan.at(t)).hausdorff_distance(drawn(key)) for t, key in ((0, first), (1, second))] == [0, 0]
    turns = [float(np.degrees(pair.angle)) for pair in plan.pairs]
    assert turns == pytest.approx([degrees] * len(turns), abs=3)


@pytest.mark.parametrize("spot", [(120.0, 120.0), (200.0, 120.0), (280.0, 230.0)])
@pytest.mark.parametrize("quarter", [False, True])
def test_a_hint_on_a_ring_of_strokes_turns_it_and_changes_nothing_where_it_goes_so_anyway(
    spot: tuple[float, float], quarter: bool
) -> None:
    ticks = [] if quarter else [[(120, 200), (135, 200)], [(200, 280), (200, 265)], [(120, 150), (135, 150)]]
    degrees, meant = (20, 110) if quarter else (60, 60)
    first, second = box(0, [0, 2], None, ticks), box(degrees, [1, 3], None, ticks)
    place = turned(polygon([(400 - spot[1], spot[0]) if quarter else spot]), degrees).nodes[0].at
    own, other = (
        min(key.shapes, key=lambda shape: distances(np.array([at]), [outline(shape.contours[0])])[0])
        for key, at in ((first, spot), (second, place))
    )
    hint = Hint(first=HintEnd(shape=own.id, at=spot), second=HintEnd(shape=other.id, at=place))
    plan = plan_span(first, second, Take(hints=(hint,)), plan_span(first, second, Take()))
    assert not plan.troubles
    turns = [float(np.degrees(pair.angle)) for pair in plan.pairs]
    assert turns == pytest.approx([meant] * len(turns), abs=1)


@pytest.mark.parametrize("degrees", [-76, 40, 100])
def test_a_speaker_in_strokes_is_not_turned_as_its_round_cone_which_may_lie_any_way(degrees: float) -> None:
    corners = [(140, 110), (260, 110), (260, 290), (140, 290)]
    first = [line([*corners, corners[0]][:3]), line([*corners, corners[0]][2:])]
    second = [line([corners[3], *corners[:3]]), line(corners[2:])]
    cones = ellipse(200, 230, 40, 40), recut(ellipse(200, 230, 40, 40), [0.1, 0.15, 0.2])
    keys = [
        drawing(*(stroked(turned(each, angle)) for each in (*strokes, cone)))
        for strokes, cone, angle in ((first, cones[0], 0), (second, cones[1], degrees))
    ]
    half = plan_span(keys[0], keys[1], Take()).at(0.5)
    edges = shapely.MultiLineString([outline(shape.contours[0]) for shape in half.shapes[:-1]])
    around = shapely.get_coordinates(shapely.oriented_envelope(edges))
    assert sorted(np.hypot(*np.diff(around[:3], axis=0).T)) == pytest.approx([120, 180], abs=1), "it keeps its form"


CARD = [
    [(110, 0), (400, 0), (400, 290), (110, 290)],
    [(0, 70), (36, 70), (36, 364), (328, 364), (328, 400), (0, 400)],
    [(220, 70), (290, 70), (290, 110), (256, 110), (256, 220), (220, 220)],
]
BUTTON = [
    [(10, 10), (390, 10), (390, 390), (10, 390)],
    [(80, 180), (220, 180), (160, 120), (190, 90), (310, 200), (190, 310), (160, 280), (220, 220), (80, 220)],
]


@pytest.mark.parametrize(("rounds", "turn", "twist"), [(CARD, 0.0, 1.07), (BUTTON, 0.2, 0.7), (BUTTON, 0.4, 0.7)])
def test_contours_of_one_path_turn_alike_though_each_is_distorted(
    rounds: list[list[tuple[float, float]]], turn: float, twist: float
) -> None:
    """A card with an angle along its sides, and a button with an arrow in it: the square turned the other way."""
    rows = [(outline(recut(polygon(each), [0.1, 0.4, 0.7]), 6)[:-1] - 200) @ [1, 1j] for each in rounds]
    twisted = [row * np.exp(1j * (turn + twist * np.abs(row) / 200)) for row in rows]
    first, second = (
        filled(*(polygon([(z.real, z.imag) for z in np.roll(row, shift)]) for row in each), rule="evenodd")
        for each, shift in ((rows, 0), (twisted, 5))
    )
    (pair,) = plan_span(drawing(first), drawing(second), Take()).pairs
    stops = np.cumsum([3 * len(run.nodes) for run in pair.runs])[:-1]
    ends = zip(*(np.split(points, stops) for points in (pair.first_points, pair.second_points)), strict=True)
    turns = [np.angle(fit(one, two)[0]) for one, two in ends]
    meant = [np.angle(fit(one, two)[0]) for one, two in zip(rows, twisted, strict=True)]
    assert turns == pytest.approx(meant, abs=0.2)


def test_an_arrow_that_goes_through_its_ring_keeps_its_form_while_the_ring_opens_elsewhere() -> None:
    around = np.linspace(0.4, 2 * np.pi - 0.4, 24)
    ring = np.concatenate([150 * np.exp(1j * around), 110 * np.exp(1j * around[::-1])])
    arrow = [(-190, -20), (-20, -20), (-20, -60), (50, 0), (-20, 60), (-20, 20), (-190, 20)]
    first = filled(polygon([(-z.real, z.imag) for z in ring]), polygon(arrow))
    second = filled(polygon([(z.real, z.imag) for z in ring]), polygon([(x + 170, y) for x, y in arrow]))
    plan = plan_span(drawing(first), drawing(second), Take())
    half = shapely.LineString(outline(plan.at(0.5).shapes[0].contours[1]))
    meant = shapely.LineString(outline(polygon(arrow)))
    dx, dy = np.subtract(half.centroid.coords[0], meant.centroid.coords[0])
    assert half.hausdorff_distance(shapely.affinity.translate(meant, dx, dy)) < 1


@pytest.mark.parametrize("one_path", [True, False])
def test_a_skipping_rope_stays_in_both_hands(one_path: bool) -> None:
    def figure(high: float, depth: float) -> Drawing:
        arms = [line([(200 + side * 18, high), (200 + side * 60, high + 50)]) for side in (-1, 1)]
        rope = [(140 + 15 * k, high + 50 + depth * (1 - (k / 4 - 1) ** 2)) for k in range(9)]
        trunk = filled(polygon([(182, high - 10), (218, high - 10), (214, high + 90), (186, high + 90)]))
        held = [stroked(*arms, width=12)] if one_path else [stroked(arm, width=12) for arm in arms]
        return drawing(trunk, *held, stroked(line(rope), color="#cc3333"))

    plan = plan_span(figure(145, 165), figure(135, -180), Take())
    for t in (0.25, 0.5, 0.75):
        trunk, *arms, rope = plan.at(t).shapes
        wide = [np.ptp(outline(trunk.contours[0])[:, k]) for k in (0, 1)]
        assert wide == pytest.approx([36, 100], abs=2), "the figure stands"
        hands = [contour.nodes[k].at for arm in arms for contour in arm.contours for k in (0, -1)]
        for end in (rope.contours[0].nodes[k].at for k in (0, -1)):
            assert min(np.hypot(end.x - hand.x, end.y - hand.y) for hand in hands) < 5


BOARD = [(0, 120), (100, 120), (120, 145), (100, 170), (0, 170)]


def test_the_foot_of_a_sign_that_is_moved_does_not_roll_over_because_an_end_comes_to_lie_where_the_other_was() -> None:
    def sign(left: float) -> Drawing:
        foot = [(left, 320), (left + 80, 320)]
        post, board = line([(left + 40, 320), (left + 40, 120)]), polygon([(x + left, y) for x, y in BOARD])
        return drawing(stroked(backwards(line(foot)) if left else line(foot)), stroked(post), filled(board))

    half = plan_span(sign(0), sign(80), Take()).at(0.5)
    assert np.ptp(outline(half.shapes[0].contours[0]), axis=0) == pytest.approx([80, 0], abs=0.1)


@pytest.mark.parametrize("jumps", [0, 30])
@pytest.mark.parametrize("back", [False, True])
def test_a_rope_is_swung_over_a_head_that_it_does_not_touch(jumps: float, back: bool) -> None:
    def key(up: float, depth: float) -> Drawing:
        rope = [(130 + 17.5 * k, 210 - up + depth * (1 - (k / 4 - 1) ** 2)) for k in range(9)]
        trunk = polygon([(185, 150 - up), (215, 150 - up), (215, 240 - up), (185, 240 - up)])
        head = filled(ellipse(200, 120 - up, 28, 28), color="#ffcc99")
        return drawing(head, filled(trunk), stroked(line(rope[::-1] if back and depth < 0 else rope), color="#cc3333"))

    *_, rope = plan_span(key(0, 105), key(jumps, -115), Take()).at(0.5).shapes
    nodes = rope.contours[0].nodes
    ends = sorted((node.at.x, node.at.y) for node in (nodes[0], nodes[-1]))
    assert np.array(ends) == pytest.approx(np.array([(130, 210 - jumps / 2), (270, 210 - jumps / 2)]), abs=4)
