"""Fills whose contours were drawn in any directions: a hole is one at both keys."""

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from tests.examples import few
from tests.forms import backwards, drawing, ellipse, filled, outline, polygon, turned

SPOTS = np.random.default_rng(5).uniform(0.0, 400.0, (800, 2))


def square(x: float, y: float, half: float) -> Contour:
    return polygon([(x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)])


# islands with all that is in them, each contour in another direction than that around it
GEAR = [square(120, 120, 90), backwards(ellipse(120, 120, 60, 60)), square(120, 120, 20)]
PIN = [ellipse(300, 120, 60, 80), backwards(square(300, 110, 25))]
BAR = [polygon([(60, 260), (270, 260), (270, 350), (60, 350)]), *(backwards(square(x, 305, 20)) for x in (110, 200))]
DOT = [ellipse(330, 330, 40, 40)]
ISLANDS = [GEAR, PIN, BAR, DOT]


def compound(islands: list[list[Contour]], flipped: list[bool], order: int) -> Shape:
    """One path of some islands, of which some are drawn the other way round."""
    rows = [
        c for island, turn in zip(islands, flipped, strict=False) for c in (map(backwards, island) if turn else island)
    ]
    return filled(*rows[order % len(rows) :], *rows[: order % len(rows)])


def painted(key: Drawing) -> np.ndarray:
    """Which of some spots are painted: those around which contours go."""
    rounds = np.zeros(len(SPOTS), dtype=int)
    for contour in key.shapes[0].contours:
        ring = shapely.LinearRing(outline(contour, 16))
        rounds += np.where(shapely.contains_xy(shapely.Polygon(ring), *SPOTS.T), 1 if ring.is_ccw else -1, 0)
    return rounds != 0


@few
@given(
    st.lists(st.sampled_from(range(4)), min_size=1, unique=True),
    st.lists(st.sampled_from(range(4)), min_size=1, unique=True),
    st.lists(st.booleans(), min_size=4, max_size=4),
    st.lists(st.booleans(), min_size=4, max_size=4),
    st.integers(0, 8),
)
@example([0, 1], [2, 3], [True, False, False, False], [False] * 4, 0)
def test_every_hole_is_one_at_both_keys(
    one: list[int],
    two: list[int],
    here: list[bool],
    there: list[bool],
    order: int,
) -> None:
    first = drawing(compound([ISLANDS[k] for k in one], here, order))
    second = drawing(compound([ISLANDS[k] for k in two], there, 0))
    plan = plan_span(first, second, Take())
    for t, key in ((0.0, first), (1.0, second)):
        assert np.mean(painted(plan.at(t)) != painted(key)) < 0.005


@pytest.mark.parametrize("t", [0.25, 0.5, 0.75])
def test_what_holes_there_are_stay_on_the_way(t: float) -> None:
    """Two islands that move a little, one of them drawn the other way round in the second key."""
    moved = [[turned(c, 0, 1.0, (20.0, 0.0)) for c in island] for island in (GEAR, PIN)]
    plan = plan_span(drawing(compound([GEAR, PIN], [False] * 2, 0)), drawing(compound(moved, [False, True], 3)), Take())
    there = compound([[turned(c, 0, 1.0, (20.0 * t, 0.0)) for c in island] for island in (GEAR, PIN)], [False] * 2, 0)
    assert np.mean(painted(plan.at(t)) != painted(drawing(there))) < 0.005
