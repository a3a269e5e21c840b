"""Figures of lines: arms stay at their shoulders and legs at their hips, whatever crosses or touches by chance."""

import math
from itertools import pairwise

import numpy as np
import pytest

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Shape, Take
from tests.forms import drawing, drawn, ellipse, polygon, stroked

Pose = list[tuple[float, float]]  # degrees from right to down of both bones: left arm, right arm, left leg, right leg
LIMBS = ("left arm", "right arm", "left leg", "right leg")
ARM, LEG, HEAD = 40, 48, 24


def straight(*places: tuple[float, float]) -> Shape:
    """A stroke through places, of which the nodes are as close as a hand's."""
    ways = [np.linspace(a, b, 6)[:-1] for a, b in pairwise(places)]
    return stroked(polygon([*map(tuple, np.concatenate(ways).tolist()), places[-1]], False))


def figure(pose: Pose, left: float, cut: str, body: float) -> dict[str, Shape]:
    """A figure of which each limb is a stroke, or each bone, or both arms and both legs."""
    limbs = {}
    for name, bones in zip(LIMBS, pose, strict=True):
        is_arm = name.endswith("arm")
        places = [(left, 100.0 if is_arm else 100.0 + body)]
        for way in map(math.radians, bones):
            x, y = places[-1]
            length = ARM if is_arm else LEG
            places.append((x + length * math.cos(way), y + length * math.sin(way)))
        limbs[name] = places
    found = {"body": straight((left, 100), (left, 100 + body)), "head": stroked(ellipse(left, 100 - HEAD, HEAD, HEAD))}
    if cut == "bones":
        bones = {f"{name} {k}": bone for name, places in limbs.items() for k, bone in enumerate(pairwise(places))}
        return found | {name: straight(*bone) for name, bone in bones.items()}
    if cut == "limbs":
        return found | {name: straight(*places) for name, places in limbs.items()}
    both = {"arms": LIMBS[:2], "legs": LIMBS[2:]}
    return found | {name: straight(*limbs[one][:0:-1], *limbs[two]) for name, (one, two) in both.items()}


def plan_of(first: dict[str, Shape], second: dict[str, Shape]) -> SpanPlan:
    order = sorted(second, key=lambda name: name[::-1])
    return plan_span(drawing(*first.values()), drawing(*(second[name] for name in order)), Take())


@pytest.mark.parametrize(
    ("cut", "body", "before", "after"),
    [
        pytest.param(
            "limbs",
            45,
            [(140, 65), (50, 115), (105, 65), (60, 115)],
            [(110, 70), (35, -20), (125, 150), (60, 95)],
            id="a hand comes off the hip",
        ),
        pytest.param(
            "bones",
            65,
            [(125, 90), (25, -5), (115, 145), (70, 80)],
            [(205, 245), (-25, -80), (100, 110), (85, 85)],
            id="both arms are raised",
        ),
        pytest.param(
            "bones",
            45,
            [(115, 100), (50, 80), (100, 85), (80, 85)],
            [(115, 80), (50, -15), (130, 140), (60, 100)],
            id="a step",
        ),
        pytest.param(
            "bones",
            55,
            [(205, 250), (-10, -70), (110, 95), (85, 80)],
            [(125, 50), (45, 125), (115, 75), (55, 105)],
            id="elbows are stretched before they bend the other way",
        ),
        pytest.param(
            "arms in one",
            55,
            [(190, 260), (-15, -80), (90, 95), (75, 75)],
            [(145, 60), (25, 135), (105, 80), (70, 120)],
            id="arms do not roll over the body",
        ),
        pytest.param(
            "arms in one",
            65,
            [(110, 90), (70, 70), (95, 110), (80, 75)],
            [(195, 240), (-20, -75), (110, 115), (70, 90)],
            id="nor move along under it",
        ),
    ],
)
def test_limbs_swing_about_where_they_are_joined(cut: str, body: float, before: Pose, after: Pose) -> None:
    first, second = figure(before, 120, cut, body), figure(after, 150, cut, body)
    plan = plan_of(first, second)
    names = {shape.id: name for seen in (first, second) for name, shape in seen.items()}
    for pair in plan.pairs:
        assert {names[a] for a in pair.pair.firsts} == {names[b] for b in pair.pair.seconds}
    turned = [tuple((a + b) / 2 for a, b in zip(*bones, strict=True)) for bones in zip(before, after, strict=True)]
    meant = drawing(*figure(turned, 135, cut, body).values())
    assert drawn(plan.at(0.5)).hausdorff_distance(drawn(meant)) < 7


def test_the_last_lines_left_are_one_if_they_meet_the_same_body() -> None:
    stands, runs = [(115, 130), (60, 75), (90, 100), (85, 90)], [(100, 80), (45, -15), (125, 165), (55, 85)]
    first, second = figure(stands, 120, "arms in one", 52), figure(runs, 150, "arms in one", 52)
    plan = plan_of(first, second)
    assert (first["legs"].id, second["legs"].id) in {(pair.first_id, pair.second_id) for pair in plan.pairs}
