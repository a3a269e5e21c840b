"""What grows out of a body, and what is on it, is told by where it does, however that is bent and stretched."""

import cmath
import math

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Take
from tests.examples import few
from tests.forms import begun_at, drawing, ellipse, filled, smooth, turned

SPREAD, LENGTHS = (-0.95, -0.4, 0.05, 0.5), (62, 95, 105, 85)  # of the thumb and the fingers: which way, and how long
EDGE = [(0.0, 0.95), (0.6, 1.0), (0.92, 0.7), (1.0, 0.0)]  # places along a finger, and how wide it is there
FOLDED = 0.45
BENDS = st.lists(st.floats(-1.5, 1.5), min_size=6, max_size=6)  # of the arms of an octopus, in radians


def hand(folded: tuple[int, ...], degrees: float) -> tuple[Contour, list[Contour]]:
    """A palm with its fingers, of which some are folded, and their nails."""
    points, nails = [(-38.0, 95.0), (-46.0, 40.0)], []
    for k, (way, length) in enumerate(zip(SPREAD, LENGTHS, strict=True)):
        x = -46 + 92 * k / 3
        root, along = complex(x, -38 + 14 * (x / 46) ** 2 + 35 * (k == 0)), cmath.rect(1.0, way - math.pi / 2)
        long = length * (FOLDED if k in folded else 1.0)
        sides = [(part, -wide) for part, wide in EDGE] + [(part, wide) for part, wide in EDGE[-2::-1]]
        places = [root + along * complex(long * part, 16 * wide) for part, wide in sides]
        points += [(z.real, z.imag) for z in places]
        tip = root + along * long * 0.86
        nails.append(turned(ellipse(tip.real, tip.imag, 6, 6), degrees))
    return turned(smooth([*points, (50.0, 30.0), (38.0, 95.0)]), degrees), nails


def key(folded: tuple[int, ...], degrees: float) -> Drawing:
    palm, nails = hand(folded, degrees)
    return drawing(filled(begun_at(palm, 7 + len(folded))), *(filled(nail, color="#f0c8b0") for nail in nails))


@pytest.mark.parametrize(
    ("one", "two", "degrees"),
    [((2,), (3,), -35), ((3,), (1, 2), 40), ((1, 3), (0,), 40), ((1, 2, 3), (0,), -20), ((), (1, 2, 3), 0)],
)
def test_nails_stay_on_their_fingers(one: tuple[int, ...], two: tuple[int, ...], degrees: float) -> None:
    first, second = key(one, 0), key(two, degrees)
    found = {(pair.first_id, pair.second_id) for pair in plan_span(first, second, Take()).pairs}
    assert found == {(a.id, b.id) for a, b in zip(first.shapes, second.shapes, strict=True)}


def octopus(bends: list[float]) -> Drawing:
    """A head, and arms that grow out of it, each bent otherwise."""
    arms = []
    for k, bend in enumerate(bends):
        part = k / (len(bends) - 1)
        place, way = complex(-math.cos(math.pi * part) * 50, 30), math.pi / 2 + (0.5 - part) * 1.9
        line = [place]
        for step in range(7):
            line.append(line[-1] + cmath.rect(21, way + bend * step / 6))
        across = [1j * (b - a) / 21 for a, b in zip(line, [*line[1:], 2 * line[-1] - line[-2]], strict=True)]
        wide = [w * (15 - 1.5 * step) for step, w in enumerate(across)]
        sides = [a - w for a, w in zip(line, wide, strict=True)], [a + w for a, w in zip(line, wide, strict=True)]
        arms.append(smooth([(z.real, z.imag) for z in [*sides[0], *sides[1][::-1]]]))
    return drawing(*map(filled, arms), filled(ellipse(0, -30, 78, 90), color="#aa5577"))


@few
@given(BENDS, BENDS)
@example([0.6, 0.2, 0.1, -1.2, 0.1, 0.8], [-0.9, 1.2, -0.5, 1.0, 0.3, -0.2])
@example([0.9, -0.1, 1.1, -0.8, 0.4, -1.4], [0.2, 1.5, 0.2, 0.2, 1.0, -0.5])
def test_arms_grow_out_where_they_did_however_they_are_bent(one: list[float], two: list[float]) -> None:
    first, second = octopus(one), octopus(two)
    found = {(pair.first_id, pair.second_id) for pair in plan_span(first, second, Take()).pairs}
    assert found == {(a.id, b.id) for a, b in zip(first.shapes, second.shapes, strict=True)}
