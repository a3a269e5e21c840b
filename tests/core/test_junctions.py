"""Lines that meet in threes: which goes on in which is a matter of how each key was drawn, not of what is drawn."""

import cmath
import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from benchmarks.quality.cases import bend, deformed
from benchmarks.quality.jointed import jointed
from knead.core.geometry.bezier import contour_of, path_of
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Hint, HintEnd, Point, Take
from tests.examples import few
from tests.forms import backwards, by_hand, drawing, drawn, polygon, stroked

FORK = complex(150, 170)
# a trunk, t, and its branches: strokes through the fork, or that end there
CUTS = ("tl r", "tr l", "lr t", "t l r")


def tree(left: float, right: float, cut: str, hand: int = 0) -> Drawing:
    """A tree whose branches lean by these angles in degrees, drawn in these strokes by a more or less steady hand."""
    tips = {
        "t": FORK + 110j,
        **{name: FORK - 90j * cmath.rect(1, math.radians(a)) for name, a in (("l", left), ("r", right))},
    }
    rows = [[tips[name[0]], FORK, *(tips[other] for other in name[1:])] for name in cut.split()]
    noise = np.random.default_rng(hand)
    lines = [
        by_hand(polygon([(z.real, z.imag) for z in row], closed=False), noise, 1.5 if hand else 0.0) for row in rows
    ]
    return drawing(*(stroked(backwards(line) if hand % 2 else line, width=5) for line in lines))


@few
@given(one=st.sampled_from(CUTS), two=st.sampled_from(CUTS), hand=st.integers(0, 50))
@example("tl r", "t l r", 0)
@example("tl r", "tr l", 0)
def test_a_branch_stays_on_its_side_however_the_tree_was_drawn(one: str, two: str, hand: int) -> None:
    first, second = tree(-20, 40, one, hand), tree(-45, 15, two, 2 * hand)
    plan = plan_span(first, second, Take())
    assert drawn(plan.at(0.5)).hausdorff_distance(drawn(tree(-32.5, 27.5, "t l r"))) < 8
    for t, key in ((0.0, first), (1.0, second)):
        assert drawn(plan.at(t)).hausdorff_distance(drawn(key)) < 0.1


def test_what_is_drawn_through_a_fork_in_a_key_is_one_line_and_other_strokes_end_there() -> None:
    first, second = tree(-20, 40, "tl r"), tree(-45, 15, "tr l")
    (through, branch), (also_through, other) = ([s.id for s in key.shapes] for key in (first, second))
    left_is_a_part = {((through, branch), (also_through,)), ((through,), (other,))}
    assert {(pair.pair.firsts, pair.pair.seconds) for pair in plan_span(first, second, Take()).pairs} == left_is_a_part
    # and a hint between the tips of the left branches, one of which is drawn through the fork, leaves it so
    tips = HintEnd(shape=through, at=at(first, 0, -1)), HintEnd(shape=other, at=at(second, 1, -1))
    plan = plan_span(first, second, Take(hints=(Hint(id="h", first=tips[0], second=tips[1]),)))
    assert {(pair.pair.firsts, pair.pair.seconds) for pair in plan.pairs} == left_is_a_part
    assert plan.troubles == ()


@pytest.mark.parametrize("crossed", [False, True])
def test_a_hint_says_what_becomes_what_where_lines_meet(crossed: bool) -> None:
    first, second = tree(-20, 40, "t l r"), tree(-45, 15, "t l r")
    right, goal = first.shapes[2], second.shapes[1 if crossed else 2]
    tips = HintEnd(shape=right.id, at=at(first, 2, -1)), HintEnd(shape=goal.id, at=at(second, 1 if crossed else 2, -1))
    plan = plan_span(first, second, Take(hints=(Hint(id="h", first=tips[0], second=tips[1]),)))
    assert any(right.id in pair.pair.firsts and goal.id in pair.pair.seconds for pair in plan.pairs)
    assert plan.troubles == ()


STANDS = {
    "neck": 200 + 60j, "hip": 200 + 180j, "left foot": 150 + 300j, "right foot": 240 + 300j,
    "left elbow": 150 + 110j, "left hand": 130 + 165j, "right elbow": 245 + 110j, "right hand": 275 + 160j,
}  # fmt: skip
POINTS = STANDS | {
    "left elbow": 140 + 125j, "left hand": 199 + 150j, "right hand": 290 + 150j, "right foot": 255 + 296j,
}  # fmt: skip
LEFT_ARM, RIGHT_ARM = ("left hand", "left elbow", "neck"), ("right hand", "right elbow", "neck")
LEFT_LEG, RIGHT_LEG = ("hip", "left foot"), ("hip", "right foot")
DRAWN = (
    ((*LEFT_ARM, *RIGHT_LEG), RIGHT_ARM, LEFT_LEG),
    ((*RIGHT_ARM, *LEFT_LEG), LEFT_ARM, RIGHT_LEG),
    ((*LEFT_ARM, *RIGHT_ARM[1::-1]), ("neck", *LEFT_LEG), RIGHT_LEG),
    (LEFT_ARM, RIGHT_ARM, ("neck", "hip"), LEFT_LEG, RIGHT_LEG),
)


def figure(joints: dict[str, complex], strokes: Sequence[Sequence[str]]) -> Drawing:
    rows = [[(joints[name].real, joints[name].imag) for name in stroke] for stroke in strokes]
    return drawing(*(stroked(polygon(row, closed=False), width=5) for row in rows))


@pytest.mark.parametrize("two", DRAWN)
@pytest.mark.parametrize("one", DRAWN)
@pytest.mark.parametrize("back", [False, True])
def test_a_figure_of_lines_goes_from_pose_to_pose_however_it_was_drawn(
    one: Sequence[Sequence[str]], two: Sequence[Sequence[str]], back: bool
) -> None:
    """When it points, its other hand touches its back by chance: that is no joint."""
    poses = (POINTS, STANDS) if back else (STANDS, POINTS)
    half = plan_span(figure(poses[0], one), figure(poses[1], two), Take()).at(0.5)
    meant = {name: 0.5 * (STANDS[name] + POINTS[name]) for name in STANDS}
    assert drawn(half).hausdorff_distance(drawn(figure(meant, DRAWN[-1]))) < 16  # arms swing, so their tips are off


@pytest.mark.parametrize("seed", [0, 3, 6])
def test_every_stretch_of_a_line_has_an_identity_of_its_own(seed: int) -> None:
    case = jointed(np.random.default_rng([1, seed]), seed)
    names = [shape.id for shape in plan_span(case.first, case.second, Take()).at(0.4).shapes]
    assert len(set(names)) == len(names)


def at(key: Drawing, stroke: int, node: int) -> Point:
    return key.shapes[stroke].contours[0].nodes[node].at


FRAME = [(0, -200), (100, -100), (200, 0), (100, 100), (0, 200), (-100, 100), (-200, 0), (-100, -100)]
HEADS = (
    [[(0, -80), (80, 0), (0, 80)]],
    [[(0, -80), (40, -40)], [(40, -40), (80, 0), (40, 40)], [(40, 40), (0, 80)]],
    [[(0, -80), (80, 0)], [(80, 0), (0, 80)]],
)
SHAFTS = (
    [[(80, 0), (-90, 0)]],
    [[(80, 0), (10, 0)], [(10, 0), (-90, 0)]],
    [[(80, 0), (10, 0)], [(10, 0), (6, 0)], [(6, 0), (-90, 0)]],  # a hand that stopped and went on
)


def sign(cuts: Sequence[int], head: int, shaft: int, bent: float) -> Drawing:
    """An arrow in a diamond of which strokes begin at these corners, all of it bent by so many radians."""
    frame = [[FRAME[k % 8] for k in range(start, end + 1)] for start, end in pairwise([*cuts, cuts[0] + 8])]
    lines = (polygon(line, closed=False) for line in (*frame, *HEADS[head], *SHAFTS[shaft]))
    return drawing(*(stroked(contour_of(deformed(path_of(line), bend(bent, 200.0)), False)) for line in lines))


@few
@given(
    cuts=st.permutations(
        [st.sampled_from([(0, 3, 6), (1, 3, 6), (2, 5, 7)]), st.sampled_from([(1, 5), (2, 4), (5,)])]
    ).flatmap(lambda sides: st.tuples(*sides)),
    heads=st.tuples(st.integers(0, 2), st.integers(0, 2)),
    shafts=st.tuples(st.integers(0, 2), st.integers(0, 2)),
    bent=st.floats(0.6, 1.2),
)
@example(((0, 3, 6), (1, 5)), (1, 0), (0, 1), 1.2)
@example(((5,), (0, 3, 6)), (0, 2), (2, 0), 1.2)
def test_an_arrow_stays_one_in_a_frame_that_is_cut_elsewhere(
    cuts: tuple[Sequence[int], Sequence[int]], heads: tuple[int, int], shafts: tuple[int, int], bent: float
) -> None:
    first, second = (sign(cuts[k], heads[k], shafts[k], k * bent) for k in (0, 1))
    half = drawn(plan_span(first, second, Take()).at(0.5))
    assert half.hausdorff_distance(drawn(sign((0,), 0, 0, bent / 2))) < 30
