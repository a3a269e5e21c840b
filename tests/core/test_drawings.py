"""Whole drawings, each key drawn for itself and cut into strokes in its own way: what is meant is plain to anyone."""

from itertools import cycle, product

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Shape, Take
from tests.forms import distances, drawing, ellipse, filled, outline, polygon, smooth, stroked

Place = tuple[float, float]

# elbows and hands from the shoulders, knees and feet from the hip; left, right
STANDS = ((-28, 22), (28, 25)), ((-40, 62), (40, 64)), ((-14, 42), (12, 44)), ((-22, 92), (20, 92))
STRIDES = ((-34, -4), (36, 10)), ((-60, -38), (70, -6)), ((-30, 34), (26, 40)), ((-62, 78), (30, 92))
WAVES = ((-20, 30), (34, -14)), ((8, 52), (40, -56)), ((-10, 44), (30, 26)), ((-8, 94), (8, 58))
POSES = {"stands": (250, 356, 0.0, STANDS), "strides": (330, 350, 0.2, STRIDES), "waves": (300, 354, -0.15, WAVES)}


def joints(pose: str) -> dict[str, Place]:
    x, y, lean, limbs = POSES[pose]
    shoulder = (x + 75 * lean, y - 75)
    found = {"hip": (x, y), "neck": (x + 90 * lean, y - 90), "shoulder": shoulder}
    for name, (left, right), (own_x, own_y) in zip(
        ("elbow", "hand", "knee", "foot"), limbs, (shoulder, shoulder, (x, y), (x, y)), strict=True
    ):
        found[f"left {name}"] = (own_x + left[0], own_y + left[1])
        found[f"right {name}"] = (own_x + right[0], own_y + right[1])
    return found


ARM, LEG = "left hand,left elbow,shoulder", "left foot,left knee,hip"
RIGHT_ARM, RIGHT_LEG = "shoulder,right elbow,right hand", "hip,right knee,right foot"
STROKES = {
    "each limb": ["neck,hip", ARM, RIGHT_ARM, LEG, RIGHT_LEG],
    "on in the left leg": ["neck,hip,left knee,left foot", RIGHT_LEG, f"{ARM},right elbow,right hand"],
    "on in the right leg": [f"neck,{RIGHT_LEG}", LEG, ARM, RIGHT_ARM],
    "from foot to foot": [f"{LEG},right knee,right foot", "hip,neck", f"{ARM},right elbow,right hand"],
}


def stick_figure(pose: str, strokes: str) -> Drawing:
    """A figure of lines on its ground, drawn in strokes."""
    at = joints(pose)
    lines = [polygon([at[name] for name in line.split(",")], closed=False) for line in STROKES[strokes]]
    x, y = at["neck"]
    ground = polygon([(60, 452), (700, 450)], closed=False)
    return drawing(filled(ellipse(x, y - 26, 24, 26)), *map(stroked, lines), stroked(ground))


@pytest.mark.parametrize(
    ("ways", "poses"),
    list(zip(product(STROKES, STROKES), cycle([("stands", "strides"), ("strides", "waves"), ("waves", "stands")]))),
)
def test_each_limb_of_a_stick_figure_stays_that_limb_however_it_was_drawn(
    ways: tuple[str, str], poses: tuple[str, str]
) -> None:
    plan = plan_span(stick_figure(poses[0], ways[0]), stick_figure(poses[1], ways[1]), Take())
    for end in ("left hand", "right hand", "left foot", "right foot"):
        here, there = joints(poses[0])[end], joints(poses[1])[end]
        shape = min(plan.first.shapes, key=lambda each: gap(each, here))
        found = plan.partner(shape.id, np.array(here), True)
        assert found is not None, end
        assert np.hypot(found[1].x - there[0], found[1].y - there[1]) < 12, end


def gap(shape: Shape, place: Place) -> float:
    return min(float(np.hypot(node.at.x - place[0], node.at.y - place[1])) for node in shape.contours[0].nodes)


BODY = [(380, 330), (430, 285), (520, 290), (590, 330), (640, 372), (560, 382), (460, 378)]
WATER, LEG, FOOT = [(200, 490), (470, 492), (760, 492)], [(470, 378), (474, 482)], [(440, 485), (474, 481), (506, 487)]


def heron(neck: list[Place], head: Shape, beak: list[list[Place]], more: list[list[Place]]) -> Drawing:
    """Filled body and head, lines for all else; the last ones are those of the beak."""
    lines = [stroked(polygon(line, closed=False)) for line in (neck, WATER, LEG, FOOT, *more, *beak)]
    return drawing(filled(smooth(BODY)), head, *lines)


def test_a_heron_that_drinks_keeps_its_leg_in_its_place_and_its_beak_on_its_head() -> None:
    up: list[Place] = [(395, 318), (372, 270), (398, 222), (410, 175), (388, 140)]
    down: list[Place] = [(388, 330), (330, 300), (285, 350), (300, 410)]
    shut: list[list[Place]] = [[(336, 128), (262, 147), (342, 147)]]
    first = heron(up, filled(ellipse(361, 137, 28, 16)), shut, [[(520, 380), (505, 410), (540, 425)]])
    legs: list[list[Place]] = [[(520, 380), (520, 480)], [(490, 486), (548, 487)]]
    second = heron(down, filled(ellipse(301, 430, 18, 22)), [[(290, 446), (255, 512), (306, 450)]], legs)
    plan = plan_span(first, second, Take())
    times = np.array([0.25, 0.5, 0.75])
    (head,) = (p for p in plan.pairs if p.pair.ids(True) == (first.shapes[1].id,))
    (beak,) = (p for p in plan.pairs if first.shapes[-1].id in p.pair.ids(True))
    leg = np.linspace(*np.array(LEG, dtype=float), 9)
    for t, opened, around in zip(times.tolist(), beak.points(times)[:, 1::3], head.points(times)[:, 1::3], strict=True):
        lines = [outline(contour) for shape in plan.at(t).shapes for contour in shape.contours]
        assert distances(leg, lines).max() < 5
        assert abs(opened[0] - opened[-1]) < 45
        assert max(np.abs(around - opened[[0, -1], None]).min(axis=1)) < 30
