"""Figures of limbs in any two poses, each key drawn anew: the end of a limb that is at its joint stays there."""

import math
from collections.abc import Sequence

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Take
from tests.forms import backwards, begun_at, drawing, filled, smooth

TORSO, HEAD = "#4f9a6a", "#f0e3c8"
Limbs = list[tuple[str, Contour, complex | None]]


def tube(middle: Sequence[complex], thick: float, thin: float) -> Contour:
    """A closed form about a line, thinner towards its end."""
    points = np.array(middle)
    ways = np.gradient(points)
    ways /= np.abs(ways)
    sides = 1j * ways * np.linspace(thick, thin, len(points))
    tips = [points[0] - ways[0] * thick], [points[-1] + ways[-1] * thin]
    around = np.concatenate([tips[0], points + sides, tips[1], (points - sides)[::-1]])
    return smooth(list(zip(around.real.tolist(), around.imag.tolist(), strict=True)))


def posed(chance: np.random.Generator, wild: float) -> Limbs:
    """Shapes from back to front with their colours, and the joint of each limb; angles are by chance."""

    def limb(root: complex, upper: float, bent: float, lengths: tuple[float, float], width: float) -> Contour:
        knee = root + lengths[0] * np.exp(1j * upper)
        return tube([root, knee, knee + lengths[1] * np.exp(1j * (upper + bent))], width, 0.7 * width)

    hip = 200 + 230j + complex(*chance.normal(0, 10, 2))
    up = -1j * np.exp(1j * chance.normal(0, wild))
    shoulder, head = hip + 100 * up, hip + 164 * up
    arms = [
        limb(shoulder, math.pi / 2 + chance.normal(0, 1.1), -abs(chance.normal(0, 0.7)), (52, 46), width)
        for width in (13, 14)
    ]
    legs = [
        limb(hip, math.pi / 2 + chance.normal(0, 0.6), abs(chance.normal(0, 0.6)), (66, 62), width)
        for width in (17, 18)
    ]
    face = [head + 34 * np.exp(0.25j * math.pi * k) for k in range(8)]
    return [
        ("#3f6b52", arms[0], shoulder),
        ("#2f4b6e", legs[0], hip),
        (TORSO, tube([hip, (hip + shoulder) / 2, shoulder], 25, 22), None),
        (HEAD, smooth([(z.real, z.imag) for z in face]), None),
        ("#3d618f", legs[1], hip),
        ("#5fb47c", arms[1], shoulder),
    ]


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("set_of_poses", [3, 4])
def test_a_limb_keeps_the_end_that_is_at_its_joint(set_of_poses: int, seed: int) -> None:
    chance = np.random.default_rng([set_of_poses, seed])
    poses = [posed(chance, 0.25 if seed % 2 else 0.6) for _ in range(2)]
    keys = []
    for pose in poses:
        drawn = [begun_at(c if chance.random() < 0.5 else backwards(c), int(chance.integers(8))) for _, c, _ in pose]
        keys.append(drawing(*(filled(c, color=color) for (color, _, _), c in zip(pose, drawn, strict=True))))
    plan = plan_span(*keys, Take())
    joints = {
        (a.id, b.id): (one, two)
        for a, b, (_, _, one), (_, _, two) in zip(*(key.shapes for key in keys), *poses, strict=True)
        if one is not None and two is not None
    }
    limbs = [pair for pair in plan.pairs if (pair.first_id, pair.second_id) in joints]
    assert len(limbs) == 4
    for limb in limbs:
        one, two = joints[limb.first_id or "", limb.second_id or ""]
        ends = limb.first_points[1::3], limb.second_points[1::3]
        at_joint = int(np.argmin(np.abs(ends[0] - one)))
        assert abs(ends[1][at_joint] - two) < 45, "a third of its length at most"
