"""However lines were cut into strokes in either key, they become the same in-betweens."""

from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from knead.core.pairing.shapes import pair_shapes
from tests.core.test_solid import bent
from tests.examples import few
from tests.forms import backwards, drawing, drawn, ellipse, filled, polygon, recut, stroked, turned, wave

ZIGZAG = [(0, 0), (70, 0), (140, 0), (70, 60), (0, 120), (70, 120), (140, 120)]
ARCH = [(0, 140), (0, 60), (20, 18), (60, 0), (100, 18), (120, 60), (120, 140)]
FLAG = [(0, 150), (8, 80), (16, 0), (60, 0), (90, 20), (84, 55), (60, 66), (10, 66)]
TABLE = [(0, 30), (0, 0), (60, 0), (120, 0), (120, 30)]
COMB = [(100, 0), (50, 0), (0, 0), (0, 70), (0, 140), (50, 140), (100, 140)]
LINES = (ZIGZAG, ARCH, FLAG, TABLE, COMB)
PLACES = (-220 - 180j, 80 - 170j, -200 + 60j)


def key(which: list[int], amount: float, cuts: list[set[int]]) -> Drawing:
    """Lines on a sheet that is bent by `amount` radians a 200 units, each cut into strokes at some of its corners."""
    shapes: list[Shape] = []
    for k, at, own in zip(which, PLACES, cuts, strict=False):
        places = bent(np.array([complex(*spot) for spot in LINES[k]]) + at, amount)
        nodes = polygon([(z.real, z.imag) for z in places], closed=False).nodes
        ends = sorted({0, len(nodes) - 1, *(cut for cut in own if cut < len(nodes) - 1)})
        shapes += [stroked(Contour(nodes=nodes[start : end + 1])) for start, end in pairwise(ends)]
    return drawing(*shapes)


CUTS = st.lists(st.sets(st.integers(1, 6), max_size=2), min_size=3, max_size=3)


@few
@given(
    which=st.permutations(range(5)).map(lambda row: row[:3]),
    amount=st.floats(0.15, 0.55),
    over=st.booleans(),
    first=CUTS,
    second=CUTS,
)
# a leg and the rest of an arch are like the rest and the other leg, turned over
@example([0, 1, 3], 0.7, True, [{5}, set(), {2, 3}], [set(), {4}, {1}])
# one stroke of many is left over if corners end lines
@example([3, 2, 1], 0.64, False, [{1, 3}, set(), {4, 5}], [{3}, set(), set()])
# nothing is missing where both keys cut a line once
@example([2, 1, 0], 0.4035, True, [set(), {1, 2}, {4, 6}], [{1, 6}, {1, 4}, {2}])
@example([3, 0, 1], 0.71, False, [{1, 3}, set(), {4}], [{3}, {1, 2}, {4}])
def test_in_betweens_do_not_hang_on_where_lines_were_cut(
    which: list[int], amount: float, over: bool, first: list[set[int]], second: list[set[int]]
) -> None:
    amount = -amount if over else amount
    uncut: list[set[int]] = [set()] * 3
    whole = plan_span(key(which, 1e-6, uncut), key(which, amount, uncut), Take()).at(0.5)
    found = plan_span(key(which, 1e-6, first), key(which, amount, second), Take()).at(0.5)
    assert drawn(found).hausdorff_distance(drawn(whole)) < 25


@pytest.mark.parametrize("appears", [True, False])
def test_strokes_that_meet_in_one_place_may_have_no_partner(appears: bool) -> None:
    rays = [stroked(turned(polygon([(0, 0), (90, 0)], closed=False), a, move=(200, 200))) for a in (90, 200, 320)]
    few = drawing(stroked(wave(5)), filled(ellipse(500, 200, 40, 40)))
    many = drawing(*few.shapes, *rays)
    plan = plan_span(few, many, Take()) if appears else plan_span(many, few, Take())
    assert len(plan.at(0.5).shapes) == 5


@few
@given(st.floats(60, 180), st.floats(80, 200), st.floats(0, 1), st.tuples(st.floats(150, 330), st.floats(150, 230)))
@example(143.0, 139.0, 0.42, (283.0, 182.0))
def test_a_stroke_that_stays_is_not_drawn_on_into_one_that_is_new(
    left: float, length: float, gap: float, away: tuple[float, float]
) -> None:
    """A disc on a line, and the same crossed out by a stroke that ends about where the line does."""
    right, width = left + length, 20.0
    line, same = (stroked(polygon([(left, 355), (right, 355)], closed=False), width=width) for _ in range(2))
    end = (right + gap * width, 355.0)
    new = stroked(polygon([(end[0] - away[0], end[1] - away[1]), end], closed=False), width=width)
    one, two = (filled(ellipse(200, 200, 90, 90)) for _ in range(2))
    for keys in ((drawing(one, line), drawing(two, same, new)), (drawing(one, same, new), drawing(two, line))):
        paired = [pair for pair in pair_shapes(*keys, ()) if pair.first and pair.second]
        assert {line.id, same.id} in [{*pair.firsts, *pair.seconds} for pair in paired]
        assert len(paired) == 2


@given(
    gap=st.tuples(st.integers(-10, 10), st.integers(0, 6)),
    flips=st.tuples(*[st.booleans()] * 6),
    shares=st.tuples(*[st.floats(0.1, 0.9)] * 4),
)
@example((0, 2), (False,) * 6, (0.5, 0.11, 0.5, 0.11))
@example((10, 0), (False, False, False, False, False, True), (0.5, 0.5, 0.5, 0.5))
def test_strokes_with_a_gap_between_them_go_straight_if_they_are_merely_moved(
    gap: tuple[int, int], flips: tuple[bool, ...], shares: tuple[float, ...]
) -> None:
    """However they were drawn: where they meet lies half-way, whichever way the line is run."""
    frame = polygon([(0, 0), (300, 0), (300, 300), (0, 300)])
    upper = polygon([(150, 60), (150, 132)], closed=False)
    lower = polygon([(150 + gap[0], 132 + gap[1]), (150 + gap[0], 204 + gap[1])], closed=False)

    def key(move: float, flips: tuple[bool, ...], shares: tuple[float, ...]) -> Drawing:
        lines = [recut(line, [share]) for line, share in zip((upper, lower), shares, strict=True)]
        lines = [backwards(line) if flip else line for line, flip in zip(lines, flips, strict=False)]
        return drawing(*(stroked(turned(line, 0, 1.0, (move, 0))) for line in [frame, *lines[:: 1 - 2 * flips[2]]]))

    plan = plan_span(key(0, flips[:3], shares[:2]), key(80, flips[3:], shares[2:]), Take())
    meant = drawn(key(40, flips[:3], shares[:2]))
    assert shapely.hausdorff_distance(drawn(plan.at(0.5)), meant, densify=0.1) < 0.5
