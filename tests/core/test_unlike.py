"""Forms that become quite another: they stay upright, and what is symmetric in both keys is so on the way."""

from collections.abc import Sequence

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Take
from tests.examples import few
from tests.forms import backwards, begun_at, by_hand, drawing, filled, outline, polygon, recut, rounded, star, turned

TIMES = (0.25, 0.5, 0.75)


def both_sides(half: Sequence[tuple[float, float]], round_by: float) -> Contour:
    """A form from its right half, which begins and ends on the axis x = 200."""
    points = [(200 + x, y) for x, y in half] + [(200 - x, y) for x, y in half[-2:0:-1]]
    return rounded(points, round_by) if round_by else polygon(points)


FORMS = {
    "toadstool": both_sides([(0, 60), (40, 80), (70, 140), (18, 135), (22, 230), (0, 230)], 0),
    "ears": both_sides([(0, 100), (50, 60), (52, 200), (0, 225)], 0),
    "egg": both_sides([(0, 60), (30, 70), (60, 160), (35, 220), (0, 230)], 25),
    "leaf": both_sides([(0, 110), (30, 70), (75, 100), (60, 160), (0, 240)], 12),
    "star": star(5, 0.45, 90, (200, 150)),
    "heart": both_sides([(0, 95), (50, 60), (80, 110), (0, 230)], 0),
}
PLUS = both_sides([(0, 130), (20, 130), (20, 180), (70, 180), (70, 220), (20, 220), (20, 270), (0, 270)], 0)


def frames(first: Contour, second: Contour) -> list[shapely.Polygon]:
    plan = plan_span(drawing(filled(first)), drawing(filled(second)), Take())
    return [shapely.Polygon(outline(plan.at(t).shapes[0].contours[0])).buffer(0) for t in TIMES]


def lopsided(form: shapely.Polygon) -> float:
    """How much of a form has no mirror image on the other side of x = 200."""
    other = shapely.transform(form, lambda points: points * [-1, 1] + [400, 0])
    return float(form.symmetric_difference(other).area / form.area)


@few
@given(st.permutations(sorted(FORMS)), st.integers(0, 5), st.booleans(), st.lists(st.floats(0.05, 0.95), max_size=3))
def test_what_is_symmetric_in_both_keys_is_so_on_the_way(
    names: list[str], start: int, reverse: bool, shares: list[float]
) -> None:
    first, second = (FORMS[name] for name in names[:2])
    second = recut(begun_at(second, start % len(second.nodes)), shares)
    for form in frames(first, backwards(second) if reverse else second):
        assert lopsided(form) < 0.1


@pytest.mark.parametrize("start", range(4))
def test_what_is_symmetric_about_two_axes_keeps_both(start: int) -> None:
    for form in frames(PLUS, begun_at(star(4, 0.45, 90, (200, 200)), start)):
        assert lopsided(form) < 0.01
        assert lopsided(shapely.affinity.rotate(form, 90, (200, 200))) < 0.01


@few
@given(st.floats(0.3, 1.5), st.floats(0.1, 0.8), st.floats(0.2, 0.6), st.integers(0, 3), st.booleans())
def test_a_box_gets_a_tip_in_the_middle_of_a_side(
    high: float, tip: float, deep: float, start: int, standing: bool
) -> None:
    """A house, a shield, a tag: each corner of it stays one."""
    top = 200 - 80 * high - 60 * (1 - tip)
    corners = [(0.0, top), (80.0, 200 - 80 * high), (80.0, 200 + 80 * high), (0.0, 200 + 80 * high)]
    box = [(0.0, 200 - 80 * high), *corners[1:]]
    gabled = [corners[0], (80.0, 200 - 80 * high + 80 * high * deep), *corners[2:]]
    half = [((a + c) / 2, (b + d) / 2) for (a, b), (c, d) in zip(box, gabled, strict=True)]
    forms = [both_sides(each, 0) for each in (box, gabled, half)]
    first, second, meant = forms if standing else [turned(form, 90, 1.0, (400, 0)) for form in forms]
    _, found, _ = frames(begun_at(recut(first, [0.37]), start), second)
    wanted = shapely.Polygon(outline(meant))
    assert found.symmetric_difference(wanted).area < 0.02 * wanted.area


@pytest.mark.parametrize("tips", [(5, 6), (6, 5), (4, 5), (6, 7), (5, 8), (7, 9)])
def test_a_star_grows_tips_on_its_axis_or_on_both_sides(tips: tuple[int, int]) -> None:
    first, second = (star(count, 0.45, 120) for count in tips)
    for form in frames(first, begun_at(second, 2)):
        assert lopsided(form) < 0.01


@pytest.mark.parametrize("lean", [-14, 9])
@pytest.mark.parametrize("pair", [("toadstool", "ears"), ("leaf", "egg"), ("egg", "ears"), ("ears", "toadstool")])
def test_a_form_that_becomes_another_does_not_roll_over(pair: tuple[str, str], lean: float) -> None:
    first, second = turned(FORMS[pair[0]], lean), FORMS[pair[1]]
    (found,) = plan_span(drawing(filled(first)), drawing(filled(second)), Take()).pairs
    assert abs(np.degrees(found.angle)) < 45


ARMS_DOWN = [(0, 56), (10, 56), (18, 68), (24, 120), (15, 122), (10, 86), (11, 122), (13, 182), (2, 182), (0, 126)]
ARMS_UP = [(0, 56), (18, 60), (58, 16), (66, 24), (26, 74), (12, 92), (12, 118), (48, 176), (36, 182), (0, 128)]


def test_figures_drawn_by_hand_lift_both_arms_alike() -> None:
    """As far as they are drawn alike: at most about as far apart as hands are from what they meant."""
    apart_most = []
    for seed in range(16):
        noise = np.random.default_rng(seed)
        gaps = []
        for form in frames(*(by_hand(both_sides(half, 0), noise, 1.5) for half in (ARMS_DOWN, ARMS_UP))):
            left, right = (form.intersection(shapely.box(*sides)) for sides in ((0, 0, 180, 300), (220, 0, 400, 300)))
            gaps.append(abs(left.centroid.y - right.centroid.y))
        apart_most.append(max(gaps))
    assert np.median(apart_most) < 4.0
    assert max(apart_most) < 9.0


CROWN = [(0, 320), (130, 312), (96, 226), (160, 290), (150, 196), (196, 290)]


@pytest.mark.parametrize("start", [0, 3])
@pytest.mark.parametrize("reverse", [False, True])
@pytest.mark.parametrize("back", [False, True])
def test_corners_that_are_in_one_place_in_both_keys_stay_there_though_all_else_changes(
    start: int, reverse: bool, back: bool
) -> None:
    floor = [(400, 400), (0, 400)]
    splash = polygon([*CROWN, *((404 - x, y) for x, y in CROWN[:0:-1]), (400, 320), *floor])
    calm = begun_at(polygon([(0, 320), (200, 322), (400, 320), *floor]), start)
    first, second = (splash, backwards(calm) if reverse else calm)[:: -1 if back else 1]
    for form in frames(first, second):
        nodes = np.array(form.exterior.coords)
        for corner in [(0, 320), (400, 320), *floor]:
            assert np.hypot(*(nodes - corner).T).min() < 2


TRUNK = [(184, 240), (190, 300), (186, 360), (214, 360), (210, 300), (216, 240)]
BRANCHES = [(272, 168), (264, 160), (204, 210), (198, 110), (186, 110), (190, 214), (140, 174), (130, 180)]


@pytest.mark.parametrize("aside", [0.0, 2.0])
@pytest.mark.parametrize("start", [0, 5])
@pytest.mark.parametrize("reverse", [False, True])
def test_a_trunk_that_both_keys_have_stays_while_branches_grow_out_of_it(
    aside: float, start: int, reverse: bool
) -> None:
    tree = begun_at(polygon([*TRUNK[:-1], (216 - aside, 240), *BRANCHES]), start)
    foot = shapely.Polygon(TRUNK).intersection(shapely.box(0, 300, 400, 400))
    for form in frames(polygon(TRUNK), backwards(tree) if reverse else tree):
        below = form.intersection(shapely.box(0, 300, 400, 400))
        assert below.symmetric_difference(foot).area < 0.02 * foot.area
