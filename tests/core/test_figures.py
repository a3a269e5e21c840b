"""How the shapes of a figure go together: limbs swing on joints, bodies turn about their middle, forms stay known."""

import math
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from knead.core.blend.course.course import Course
from knead.core.geometry import similarity
from knead.core.geometry.similarity import as_complex
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from tests.core.test_pairing import figure
from tests.examples import few
from tests.forms import (
    apart,
    backwards,
    begun_at,
    blob,
    drawing,
    ellipse,
    filled,
    outline,
    polygon,
    recut,
    smooth,
    stroked,
    turned,
)

BODY = blob([150, 130, 160, 135, 150, 140], at=(0, 0))
BONE = turned(blob([70, 22, 12, 20, 60, 18, 14, 24], at=(0, 0)), 0, move=(62, 0))  # its joint is at the origin
angles = st.floats(-80, 80)
cuts = st.sets(st.integers(1, 30), max_size=4)


def swung(contour: Contour, degrees: float, joint: tuple[float, float]) -> Contour:
    """Turned about the origin, then moved so that the origin comes to the joint."""
    return turned(contour, degrees, move=joint)


@few
@given(angles, angles, st.floats(0, 30), st.integers(0, 7), st.booleans())
def test_a_limb_swings_on_its_joint_though_it_does_not_touch_the_body(
    lean: float, bend: float, gap: float, start: int, reverse: bool
) -> None:
    joint = np.array([150.0 + gap, 0.0])

    def pose(t: float, redrawn: bool) -> tuple[Shape, Shape]:
        angle = math.radians(lean * t)
        at = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]]) @ joint + 400
        bone = swung(BONE, (lean + bend) * t, (at[0], at[1]))
        bone = begun_at(backwards(bone) if reverse else bone, start) if redrawn else bone
        return filled(turned(BODY, lean * t, move=(400, 400))), filled(bone, color="#cc5522")

    first, second, between = pose(0.0, False), pose(1.0, True), pose(0.5, False)
    plan = plan_span(drawing(*first), drawing(*second), Take())
    shown = plan.at(0.5).shapes
    for shape, true in zip(shown, between, strict=True):
        assert apart(true.contours[0], shape.contours[0]) < 0.03


@few
@given(cuts, cuts, st.integers(0, 8), st.floats(-170, 170), st.booleans())
def test_no_stretch_of_an_inbetween_is_without_length_at_both_keys(
    own: set[int], other: set[int], start: int, degrees: float, reverse: bool
) -> None:
    first = recut(BONE, [k / 31 for k in own])
    second = begun_at(recut(turned(BONE, degrees), [k / 31 for k in other]), start)
    plan = plan_span(drawing(filled(first)), drawing(filled(backwards(second) if reverse else second)), Take())
    keys = plan.pairs[0].first_points[1::3], plan.pairs[0].second_points[1::3]
    lengths = [np.abs(np.roll(nodes, -1) - nodes) for nodes in keys]
    assert np.maximum(*lengths).min() > 0.01


def test_a_form_is_known_again_though_another_of_its_colour_is_nearer() -> None:
    """An arm swings away, and another of its kind lies where it was."""
    short = turned(blob([60, 26, 16, 22, 58, 18, 18, 18], at=(0, 0)), 0, move=(56, 0))
    spots = [filled(ellipse(x, y, 9, 7), color="#ddcc44") for x, y in ((360, 370), (430, 350), (380, 450), (450, 440))]
    body = [filled(turned(BODY, 0, move=(400, 400))), *spots]
    arm, swung_arm = filled(swung(BONE, 0, (540, 400))), filled(swung(BONE, 40, (540, 400)))
    other = filled(swung(short, 4, (542, 400)))
    plan = plan_span(drawing(*body, arm), drawing(*body, other, swung_arm), Take())
    found = {(p.first_id, p.second_id) for p in plan.pairs}
    assert (arm.id, swung_arm.id) in found
    assert (None, other.id) in found


@pytest.mark.parametrize("nodes", [[], [0.01, 0.02, 0.03, 0.05, 0.07]])
def test_what_carries_others_turns_about_the_middle_of_its_area_however_it_is_cut(nodes: list[float]) -> None:
    body = recut(BODY, nodes)
    first = filled(turned(body, 0, move=(300, 300))), filled(swung(BONE, 0, (450, 300)), color="#cc5522")
    second = filled(turned(body, 70, move=(600, 340))), filled(turned(BONE, 70, move=(651.3, 481)), color="#cc5522")
    plan = plan_span(drawing(*first), drawing(*second), Take())
    true = turned(body, 35, move=(450, 320))
    assert apart(true, plan.at(0.5).shapes[0].contours[0]) < 0.015


def middle_nodes(drawing: Drawing, ids: list[str]) -> np.ndarray:
    """The middle of each shape's nodes, in the order of `ids`."""
    by_id = {shape.id: shape for shape in drawing.shapes}
    return np.array([np.mean([n.at for c in by_id[name].contours for n in c.nodes], axis=0) for name in ids])


@few
@given(st.floats(-100, 100), st.floats(-250, 250), st.floats(-250, 250), st.sampled_from([0.2, 0.5, 0.7]))
def test_what_moves_as_one_piece_stays_one_piece_on_the_way(degrees: float, x: float, y: float, t: float) -> None:
    (first, one), (second, _) = figure(0, (400, 300), 0), figure(degrees, (400 + x, 300 + y), 1)
    plan = plan_span(first, second, Take())
    z, w = as_complex(middle_nodes(plan.at(0.0), one)), as_complex(middle_nodes(plan.at(t), one))
    a, b = similarity.fit(z, w)
    assert np.abs(a * z + b - w).max() < 3.0, "no shape drifts from the others: the figure is 300 units wide"
    assert abs(a) == pytest.approx(1.0, abs=0.02)
    assert math.degrees(np.angle(a)) == pytest.approx(t * degrees, abs=2.0)


def redrawn(shape: Shape, rng: random.Random) -> Shape:
    """The same shape by another hand: other nodes, start, direction and ids."""
    contours = []
    for contour in shape.contours:
        found = recut(contour, sorted(rng.uniform(0.05, 0.95) for _ in range(rng.randint(0, 3))))
        found = begun_at(found, rng.randrange(9)) if contour.closed else found
        contours.append(backwards(found) if rng.random() < 0.5 else found)
    return Shape(contours=tuple(contours), fill=shape.fill, stroke=shape.stroke)


@few
@given(st.integers(0, 10**6), st.floats(-40, 40))
def test_however_a_figure_is_drawn_and_ordered_its_shapes_become_the_same(seed: int, degrees: float) -> None:
    rng = random.Random(seed)
    (first, one), (second, two) = figure(0, (300, 300), 0), figure(degrees, (420, 330), 0)
    again = {name: redrawn(shape, rng) for name in two if (shape := second.shape(name))}
    order = list(again.values())
    rng.shuffle(order)
    plan, other = plan_span(first, second, Take()), plan_span(first, Drawing(shapes=tuple(order)), Take())
    found = {(p.first_id, p.second_id) for p in other.pairs}
    assert found == {(a, again[b].id) for a, b in zip(one, two, strict=True)}
    for name in one:
        shapes = [p.at(0.5).shape(name) for p in (plan, other)]
        assert shapes[0]
        assert shapes[1]
        assert apart(shapes[0].contours[0], shapes[1].contours[0]) < 0.05


@pytest.mark.parametrize("hinge", [0j, 30 + 20j])
def test_what_swings_on_a_hinge_keeps_its_arm_wherever_the_hinge_is(hinge: complex) -> None:
    course = Course(hinge + 10, hinge + 10j, math.pi / 2, 1.0, hinge)
    way = course.at(np.array([0.0, 0.5, 1.0]))[1]
    assert np.abs(way - hinge) == pytest.approx([10, 10, 10])
    assert way[[0, 2]] == pytest.approx([hinge + 10, hinge + 10j])


@few
@given(st.floats(20, 150), st.tuples(st.floats(-150, 150), st.floats(-150, 150)), st.integers(0, 5))
def test_pieces_that_do_not_touch_turn_with_the_whole_drawing(
    degrees: float, move: tuple[float, float], start: int
) -> None:
    places = {"#cc3322": (0, 0), "#3366cc": (300, 20), "#44aa55": (40, 260), "#ddbb33": (280, 310)}
    pieces = {color: blob([50, 30, 44, 38, 52, 30], at=at) for color, at in places.items()}
    first = drawing(*(filled(c, color=color) for color, c in pieces.items()))
    second = drawing(*(filled(begun_at(turned(c, degrees, move=move), start), color=k) for k, c in pieces.items()))
    half = plan_span(first, second, Take()).at(0.5)
    middles = [as_complex(outline(shape.contours[0])).mean() for key in (first, half) for shape in key.shapes]
    apart_first, apart_half = (np.abs(np.subtract.outer(m, m)) for m in (np.array(middles[:4]), np.array(middles[4:])))
    assert np.abs(apart_first - apart_half).max() < 5, "they neither close up nor fly apart"


@few
@given(st.floats(-25, 25), st.floats(0.05, 0.95), st.floats(0.05, 0.95))
def test_an_egg_does_not_turn_over_because_its_nodes_lie_so(degrees: float, cut: float, other: float) -> None:
    egg = [blob([30, 30.5, 32, 30.5], at=(0, 0)), blob([30, 30.5, 28.5, 30.5], at=(0, 0))]
    first, second = filled(recut(egg[0], [cut])), filled(turned(recut(egg[1], [other]), degrees, move=(90, 0)))
    (plan,) = plan_span(drawing(first), drawing(second), Take()).pairs
    assert abs(np.degrees(plan.angle)) < 100


@pytest.mark.parametrize("degrees", [30, 120, 150])
def test_what_looks_alike_half_round_turns_with_the_figure_and_what_stands_still_stays(degrees: float) -> None:
    ground = filled(polygon([(-400, 460), (400, 460), (400, 500), (-400, 500)]), color="#775533")
    bar = polygon([(-140, -260), (140, -260), (140, -230), (-140, -230)])
    parts = [blob([90, 60, 80, 70, 95, 60], at=(0, 0)), blob([40, 30, 44, 38, 52, 30], at=(220, 0)), bar]
    colors = ("#44aa55", "#cc3322", "#3366cc")
    figure_, turned_ = (
        [filled(c, color=color) for c, color in zip(side, colors, strict=True)]
        for side in (parts, [turned(begun_at(c, 1), degrees) for c in parts])
    )
    again = filled(recut(ground.contours[0], [0.3]), color="#775533")
    plan = plan_span(drawing(ground, *figure_), drawing(again, *turned_), Take())
    assert apart(ground.contours[0], plan.at(0.5).shapes[0].contours[0]) < 1e-3
    (turn,) = (np.degrees(p.angle) for p in plan.pairs if p.first_id == figure_[2].id)
    assert turn == pytest.approx(degrees, abs=2)


@pytest.mark.parametrize("degrees", [-40, -70])
@pytest.mark.parametrize("length", [120, 240])
def test_a_post_stands_while_its_barrier_is_lifted(degrees: float, length: float) -> None:
    post, hub = polygon([(70, 220), (110, 220), (110, 340), (70, 340)]), ellipse(90, 232, 14, 14)
    bar = polygon([(-10, -8), (length, -8), (length, 12), (-10, 12)])
    down, up = (
        drawing(filled(post), filled(turned(bar, angle, move=(90, 230)), color="#eeeeee"), filled(hub, color="#222222"))
        for angle in (0, degrees)
    )
    half = plan_span(down, up, Take()).at(0.5)
    assert apart(post, half.shapes[0].contours[0]) < 1e-3
    assert apart(turned(bar, degrees / 2, move=(90, 230)), half.shapes[1].contours[0]) < 1e-2


@pytest.mark.parametrize("degrees", [40, 60, 75])
@pytest.mark.parametrize("start", [0, 2])
def test_the_foot_of_a_lever_does_not_roll_over_with_it(degrees: float, start: int) -> None:
    foot = polygon([(140, 280), (260, 280), (260, 320), (140, 320)])
    keys = []
    for angle in (-degrees, degrees):
        bar = turned(polygon([(-6, 0), (-6, -120), (6, -120), (6, 0)]), angle, move=(200, 280))
        knob = turned(ellipse(0, -130, 18, 18), angle, move=(200, 280))
        keys.append(drawing(filled(bar, color="#553322"), filled(knob, color="#cc4444"), filled(foot)))
        foot = begun_at(foot, start)
    half = plan_span(*keys, Take()).at(0.5)
    assert apart(foot, half.shapes[2].contours[0]) < 1e-3
    assert half.shapes[1].contours[0].nodes[0].at[1] < 170, "the knob goes over the top"


@pytest.mark.parametrize("grown", [1.0, 1.3])
@pytest.mark.parametrize("start", range(4))
def test_an_eye_that_looks_alike_half_round_does_not_roll_in_a_head_that_turns_aside(grown: float, start: int) -> None:
    head = [filled(ellipse(200, 200, 120, 130), color="#eecc99"), filled(ellipse(215, 200, 105, 128), color="#eecc99")]
    hair = [
        filled(polygon(c), color="#333333")
        for c in ([(80, 190), (200, 40), (320, 190)], [(90, 210), (210, 40), (320, 150)])
    ]
    eyes = [filled(ellipse(245, 200, 16, 20)), filled(begun_at(ellipse(275, 190, 14 * grown, 20 * grown), start))]
    plan = plan_span(drawing(head[0], hair[0], eyes[0]), drawing(head[1], hair[1], eyes[1]), Take())
    (turn,) = (np.degrees(p.angle) for p in plan.pairs if p.first_id == eyes[0].id)
    assert abs(turn) < 30


@pytest.mark.parametrize(("before", "after"), [(27, 146), (150, 30), (30, 130)])
@pytest.mark.parametrize("start", [0, 3])
@pytest.mark.parametrize("bulge", [0, 2, 6])
def test_a_leg_swings_about_its_hip_though_its_ends_are_alike(
    before: float, after: float, start: int, bulge: float
) -> None:
    def leg(degrees: float, bulge: float) -> Shape:
        bone = polygon([(0, -7), (50, -7 - bulge), (100, -7), (100, 7), (50, 7 - bulge), (0, 7)])
        return filled(turned(bone, degrees, move=(290, 220)), color="#884422")

    body = [filled(ellipse(200, 200, 110, height), color="#aa6633") for height in (40, 46)]
    one, two = leg(before, bulge), leg(after, -bulge)
    two = filled(begun_at(two.contours[0], start), color="#884422")
    plan = plan_span(drawing(body[0], one), drawing(body[1], two), Take())
    half = as_complex(outline(plan.at(0.5).shapes[1].contours[0]))
    assert np.abs(half - (290 + 220j)).max() > 85, "it neither shrinks nor rolls over"
    assert np.abs(half - (290 + 220j)).min() < 15, "and stays at the hip"


@pytest.mark.parametrize("side", [-1, 1])
@pytest.mark.parametrize("back", [False, True])
def test_an_arm_that_passes_another_keeps_its_shoulder(side: int, back: bool) -> None:
    def form(color: str, *points: tuple[float, float]) -> Shape:
        return filled(smooth([(200 + side * (x - 200), y) for x, y in points]), color=color)

    def torso(bob: float) -> Shape:
        sides = (200, 0), (226, 30), (228, 90), (214, 120), (186, 120), (174, 85), (178, 30)
        return form("#4f9a6a", *((x, y + bob) for x, y in sides))

    hanging = drawing(
        form("#3f6b52", (187, 146), (189, 194), (207, 230), (220, 235), (225, 222), (211, 190), (213, 146)),
        torso(116),
        form("#5fb47c", (184, 144), (178, 193), (196, 236), (210, 242), (216, 228), (202, 191), (212, 148)),
    )
    striding = drawing(
        form("#3f6b52", (188, 148), (156, 190), (141, 228), (146, 241), (159, 236), (176, 202), (208, 164)),
        torso(126),
        form("#5fb47c", (190, 165), (224, 202), (262, 216), (276, 210), (270, 196), (240, 182), (210, 147)),
    )
    plan = plan_span(*(hanging, striding)[:: -1 if back else 1], Take())
    for shape in plan.at(0.5).shapes[::2]:
        hand = max(outline(shape.contours[0]), key=lambda point: float(np.hypot(*(point - (200, 150)))))
        assert hand[1] > 205, "it swings below the shoulder"


@pytest.mark.parametrize("back", [False, True])
def test_an_arm_as_long_as_the_torso_swings_over_on_its_shoulder(back: bool) -> None:
    def pose(torso: list[tuple[float, float]], arm: list[tuple[float, float]]) -> Drawing:
        return drawing(filled(smooth(torso), color="#4f9a6a"), filled(smooth(arm), color="#5fb47c"))

    right = pose(
        [(226, 228), (220, 180), (222, 132), (202, 108), (178, 128), (172, 180), (174, 232)],
        [(205, 143), (260, 119), (304, 75), (304, 61), (290, 61), (245, 99), (195, 117)],
    )
    left = pose(
        [(216, 236), (213, 187), (218, 139), (199, 114), (174, 133), (165, 185), (164, 236)],
        [(188, 125), (149, 160), (110, 122), (96, 122), (96, 136), (146, 184), (204, 147)],
    )
    plan = plan_span(*(right, left)[:: -1 if back else 1], Take())
    half = outline(plan.at(0.5).shapes[1].contours[0])
    assert half[:, 1].min() < 80, "the hand is above the head"
    assert half[:, 1].max() < 165, "and the shoulder where it was"


@pytest.mark.parametrize("lean", [55, -60])
@pytest.mark.parametrize("reverse", [False, True])
def test_hair_keeps_its_roots_however_far_it_swings(lean: float, reverse: bool) -> None:
    def strand(angle: float, lean: float) -> Contour:
        curl = 12 * np.sign(lean)
        line = polygon([(80, 0), (100, curl), (120, curl), (140, 0)], closed=False)
        leaning = turned(turned(line, 0, move=(-80, 0)), lean, move=(80, 0))
        return turned(leaning, angle, move=(200, 200))

    head, angles = filled(ellipse(200, 200, 80, 80), color="#eecc99"), (-150.0, -90.0, -40.0)
    one, two = ([strand(angle, way) for angle in angles] for way in (lean, -lean))
    if reverse:
        two = [backwards(line) for line in two]
    plan = plan_span(drawing(head, *map(stroked, one)), drawing(head, *map(stroked, two)), Take())
    for t in (0.25, 0.5, 0.75):
        for shape in plan.at(t).shapes[1:]:
            away = [abs(complex(*shape.contours[0].nodes[k].at) - (200 + 200j)) for k in (0, -1)]
            assert min(away) == pytest.approx(80, abs=8), "its root is at the head"
            assert max(away) > 120, "and its tip is not"
