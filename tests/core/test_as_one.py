"""What goes as one: lines that end on themselves, contours of one path, and drawings that turn or bend as a whole."""

from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Take
from tests.core.test_solid import bent
from tests.examples import few
from tests.forms import blob, drawing, drawn, ellipse, filled, outline, polygon, stroked, turned

SIX = [(0, 100), (45, 100), (60, 115), (60, 185), (45, 200), (15, 200), (0, 185), (0, 15), (15, 0), (45, 0), (60, 15)]
EIGHT = [(45, 100), (60, 115), (60, 185), (45, 200), (15, 200), (0, 185), (0, 115), (15, 100)]
EIGHT += [(45, 100), (60, 85), (60, 15), (45, 0), (15, 0), (0, 15), (0, 85), (15, 100)]
CUTS = st.sets(st.integers(1, 14), max_size=2)


def digit(points: list[tuple[int, int]], degrees: float, cuts: set[int]) -> Drawing:
    """A digit drawn in strokes, turned about its middle."""
    spots = [(x - 30.0, y - 100.0) for x, y in points]
    nodes = turned(polygon(spots, closed=False), degrees, move=(300, 300)).nodes
    ends = sorted({0, len(nodes) - 1, *(cut for cut in cuts if cut < len(nodes) - 1)})
    return drawing(*(stroked(Contour(nodes=nodes[start : end + 1])) for start, end in pairwise(ends)))


@few
@given(points=st.sampled_from([SIX, EIGHT]), degrees=st.sampled_from([-70, -30, 50, 80]), one=CUTS, two=CUTS)
@example(EIGHT, -70, {8, 4}, {11})
def test_a_digit_that_ends_on_itself_turns_as_one_however_it_was_drawn(
    points: list[tuple[int, int]], degrees: float, one: set[int], two: set[int]
) -> None:
    plan = plan_span(digit(points, 0, one), digit(points, degrees, two), Take())
    assert drawn(plan.at(0.5)).hausdorff_distance(drawn(digit(points, degrees / 2, set()))) < 3


def test_digits_turn_each_by_itself_though_they_touch_by_chance_in_one_key() -> None:
    def both(six: tuple[float, set[int]], eight: tuple[float, set[int]]) -> Drawing:
        places = ((-200, digit(SIX, *six)), (-40, digit(EIGHT, *eight)))
        return drawing(
            *(
                shape.model_copy(update={"contours": tuple(turned(c, 0, move=(by, 0)) for c in shape.contours)})
                for by, key in places
                for shape in key.shapes
            )
        )

    plan = plan_span(both((0, {3}), (0, {4, 8})), both((40, {7}), (-60, {11})), Take())
    assert drawn(plan.at(0.5)).hausdorff_distance(drawn(both((20, set()), (-30, set())))) < 9


@pytest.mark.parametrize("seed", [2, 25, 33, 43, 54])
def test_two_strokes_around_a_form_stay_its_two_sides_when_it_turns_and_bends(seed: int) -> None:
    noise = np.random.default_rng(seed)
    around = 2 * np.pi * np.arange(24) / 24
    uneven = sum(noise.normal(0, 14 / k) * np.cos(k * around + noise.uniform(0, 2 * np.pi)) for k in range(2, 7))
    form, amount, turn = (100 + uneven) * np.exp(1j * around), noise.uniform(1.0, 2.2), noise.uniform(-1, 1)
    keys = []
    for places in (form, bent(form, amount) * np.exp(1j * turn)):
        rows = [[(z.real, z.imag) for z in side] for side in (places[:13], places[14:])]
        keys.append(drawing(*(stroked(polygon(row, closed=False)) for row in rows)))
    pairs = {(p.first_id, p.second_id) for p in plan_span(*keys, Take()).pairs}
    assert pairs == {(a.id, b.id) for a, b in zip(keys[0].shapes, keys[1].shapes, strict=True)}


@pytest.mark.parametrize("degrees", [60, -60, -70])
def test_stripes_of_one_path_turn_with_the_flag_they_are_on(degrees: float) -> None:
    """Whose middle turns more than its edges do, as if it were stirred."""
    stripes = [[(30, -8), (95 - 7 * k, -34 + 3 * k), (95 - 7 * k, -8)] for k in range(4)]

    def flag(angle: float) -> Drawing:
        def placed(points: list[tuple[int, int]], quarters: int = 0) -> Contour:
            spots = np.array([complex(*point) for point in points]) * 1j**quarters
            there = spots * np.exp(1j * np.radians(angle) * (1.1 - np.abs(spots) / 1000)) + 300 + 300j
            return polygon([(z.real, z.imag) for z in there])

        cloth = placed([(-100, -100), (250, -100), (250, 100), (-100, 100)])
        rows = [placed(points, k) for k, points in enumerate(stripes)]
        return drawing(filled(cloth, color="#20407a"), filled(*rows, color="#d03040"))

    plan = plan_span(flag(0), flag(degrees), Take())
    (pair,) = (pair for pair in plan.pairs if len(pair.runs) == 4)
    assert [(c.first_contour, c.second_contour) for c in pair.runs] == [(k, k) for k in range(4)]
    assert np.degrees(pair.angle) == pytest.approx(degrees, abs=10)


def test_straps_of_one_path_are_not_taken_for_a_buckle_beside_one_of_them() -> None:
    """Where they lie is told by both of them, whichever is the longer."""
    coat = blob([90, 80, 90, 80])

    def straps(*longer: int) -> list[Contour]:
        rows = zip((230, 356), longer, strict=True)
        return [polygon([(x, 240), (x + 14, 240), (x + 14, 300 + more), (x, 300)]) for x, more in rows]

    buckle = turned(polygon([(248, 250), (262, 250), (262, 308), (248, 308)]), 8)
    first = drawing(filled(coat, color="#aa7744"), filled(*straps(2, 0), color="#222222"))
    moved = [turned(strap, 8) for strap in straps(0, 2)]
    second = drawing(
        filled(turned(coat, 8), color="#aa7744"), filled(buckle, color="#232323"), filled(*moved, color="#242424")
    )
    pairs = {(p.first_id, p.second_id) for p in plan_span(first, second, Take()).pairs}
    assert pairs >= {(first.shapes[1].id, second.shapes[2].id), (None, second.shapes[1].id)}


def test_what_appears_between_two_eyes_of_one_path_goes_with_the_face() -> None:
    """Though they look down then, and lie on both sides of it."""
    face = ellipse(200, 200, 150, 150)
    eyes = [[ellipse(x, y, 14, 20) for x in (130, 270)] for y in (120, 200)]
    nose = polygon([(190, 190), (210, 190), (216, 214), (184, 214)])
    first = drawing(filled(face, color="#ffcc4d"), filled(*eyes[0], color="#222222"))
    second = drawing(filled(face, color="#ffcc4d"), filled(*eyes[1], color="#222222"), filled(nose, color="#cc8833"))
    plan = plan_span(first, second, Take())
    for t in (0.25, 0.5, 0.75):
        grown = plan.at(t).shapes[-1]
        assert abs(shapely.Polygon(outline(grown.contours[0])).centroid.y - 202) < 6


@pytest.mark.parametrize("degrees", [50, 58, -55])
def test_a_frame_turns_with_the_picture_in_it_though_a_quarter_round_less_would_distort_it_less(degrees: int) -> None:
    """It is a little longer than high in one key, and higher than long in the other."""
    marks = [np.array([-60, -20, -20, -60]) + 1j * np.array([-70, -70, -50, -60]) + k * (38 + 45j) for k in range(3)]

    def picture(angle: float, long: float, high: float) -> Drawing:
        frame = np.array([-long - 1j * high, long - 1j * high, long + 1j * high, -long + 1j * high])
        rows = zip((frame, *marks), ("#8899aa", "#cc5533", "#338855", "#225588"), strict=True)
        turn = np.exp(1j * np.radians(angle))
        return drawing(
            *(
                filled(polygon([(z.real, z.imag) for z in places * turn + 300 + 300j]), color=color)
                for places, color in rows
            )
        )

    plan = plan_span(picture(0, 107, 95), picture(degrees, 97, 105), Take())
    assert np.degrees(plan.pairs[0].angle) == pytest.approx(degrees, abs=3)
