"""Figures of lines: arms stay at their shoulders and legs at their hips, whatever crosses or touches by chance."""

import math
from itertools import pairwise

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Shape, Take
from tests.forms import drawing, drawn, ellipse, polygon, stroked

# the angles of both bones of the left arm, the right arm, the left leg and the right one, in degrees from right to down
STANDS = [(115, 105), (65, 75), (98, 97), (82, 83)]
RUNS = [(125, 75), (45, -5), (128, 148), (50, 85)]
CHEERS = [(200, 250), (-20, -70), (105, 97), (75, 83)]
AKIMBO = [(140, 60), (40, 120), (110, 75), (70, 105)]
LIMBS = ("left arm", "right arm", "left leg", "right leg")
ARM, LEG, BODY, HEAD = 40, 48, 60, 24

Pose = list[tuple[float, float]]
Joints = dict[str, list[tuple[float, float]]]


def joints(pose: Pose, left: float) -> Joints:
    """Of each limb, where it begins, bends and ends."""
    found = {}
    for name, bones in zip(LIMBS, pose, strict=True):
        is_arm = name.endswith("arm")
        places = [(left, 100.0 if is_arm else 100.0 + BODY)]
        for degrees in bones:
            way = math.radians(degrees)
            length = ARM if is_arm else LEG
            places.append((places[-1][0] + length * math.cos(way), places[-1][1] + length * math.sin(way)))
        found[name] = places
    return found


def straight(*places: tuple[float, float]) -> Shape:
    """A stroke through places, of which the nodes are as close as a hand's."""
    ways = [np.linspace(a, b, 6)[:-1] for a, b in pairwise(places)]
    return stroked(polygon([*map(tuple, np.concatenate(ways).tolist()), places[-1]], False))


def figure(pose: Pose, left: float, cut: str) -> dict[str, Shape]:
    """A figure of which each limb is a stroke, or each bone, or both arms and both legs."""
    limbs = joints(pose, left)
    found = {"body": straight((left, 100), (left, 100 + BODY)), "head": stroked(ellipse(left, 100 - HEAD, HEAD, HEAD))}
    if cut == "bones":
        bones = {f"{name} {k}": bone for name, places in limbs.items() for k, bone in enumerate(pairwise(places))}
        return found | {name: straight(*bone) for name, bone in bones.items()}
    if cut == "limbs":
        return found | {name: straight(*places) for name, places in limbs.items()}
    both = {"arms": (LIMBS[0], LIMBS[1]), "legs": (LIMBS[2], LIMBS[3])}
    return found | {name: straight(*limbs[one][:0:-1], *limbs[two]) for name, (one, two) in both.items()}


@pytest.mark.parametrize("cut", ["limbs", "bones", "arms in one"])
@pytest.mark.parametrize(
    ("before", "after"), [(RUNS, AKIMBO), (STANDS, AKIMBO), (CHEERS, AKIMBO), (STANDS, CHEERS), (STANDS, RUNS)]
)
def test_limbs_swing_about_where_they_are_joined(before: Pose, after: Pose, cut: str) -> None:
    first, second = figure(before, 120, cut), figure(after, 150, cut)
    order = sorted(second, key=lambda name: name[::-1])
    plan = plan_span(drawing(*first.values()), drawing(*(second[name] for name in order)), Take())
    names = {shape.id: name for seen in (first, second) for name, shape in seen.items()}
    for pair in plan.pairs:
        own = pair.pair
        assert {names[a] for a in own.firsts} == {names[b] for b in own.seconds}
    turned = [tuple((a + b) / 2 for a, b in zip(*bones, strict=True)) for bones in zip(before, after, strict=True)]
    meant = drawing(*figure(turned, 135, cut).values())
    assert drawn(plan.at(0.5)).hausdorff_distance(drawn(meant)) < 10
