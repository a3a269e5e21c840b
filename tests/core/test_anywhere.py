"""What a morph does not hang on: where on the paper it is drawn, how large, which way up, as what it is called."""

import math

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from knead.core.geometry.placing import placed
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Shape, Take, new_id
from tests.examples import KINDS, case_of, few
from tests.forms import apart, blob, drawing, filled, outline


def mapped(drawing: Drawing, matrix: np.ndarray) -> Drawing:
    return Drawing(shapes=tuple(placed(shape, matrix) for shape in drawing.shapes))


def assert_alike(one: Drawing, two: Drawing) -> None:
    """Both have the same shapes, whose outlines are one, wherever their nodes stand."""
    assert {shape.id for shape in one.shapes} == {shape.id for shape in two.shapes}
    size = math.hypot(*np.ptp(np.concatenate([outline(c) for s in one.shapes for c in s.contours]), axis=0))
    others = {shape.id: shape for shape in two.shapes}
    for shape in one.shapes:
        for first, second in zip(shape.contours, others[shape.id].contours, strict=True):
            own = math.hypot(*np.ptp(outline(first), axis=0))
            assert apart(first, second) * own < 0.002 * size


@pytest.mark.parametrize("kind", KINDS)
@given(st.floats(-180, 180), st.floats(0.3, 4), st.floats(-500, 900), st.booleans())
@settings(max_examples=2, phases=[Phase.generate])
def test_a_morph_is_the_same_wherever_it_lies_and_however_large(
    kind: str, degrees: float, scale: float, move: float, flipped: bool
) -> None:
    drawn, plan = case_of(kind)
    c, s = scale * math.cos(math.radians(degrees)), scale * math.sin(math.radians(degrees))
    matrix = np.array([[-c if flipped else c, -s, move], [-s if flipped else s, c, -move / 2]])
    other = plan_span(mapped(drawn.first, matrix), mapped(drawn.second, matrix), Take(tolerance=max(scale, 0.05)))
    assert [(p.first_id, p.second_id) for p in other.pairs] == [(p.first_id, p.second_id) for p in plan.pairs]
    assert other.switch == plan.switch
    for t in (0.25, 0.5):
        assert_alike(mapped(plan.at(t), matrix), other.at(t))


HEART = [100, 108, 122, 118, 96, 90, 95, 119, 121, 107]  # nearly its own mirror image, as drawn by hand
BEAN = [100, 130, 120, 80, 60, 70, 95, 105]


@pytest.mark.parametrize(("radii", "later"), [(BEAN, [90, 100, 70, 75, 60, 120, 140, 90]), (HEART, HEART[5:])])
@few
@given(st.floats(-180, 180))
def test_outlines_without_corners_meet_alike_however_they_are_turned(
    radii: list[float], later: list[float], degrees: float
) -> None:
    one, two = (filled(blob(row, at=(0.0, 0.0))) for row in (radii, later))
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    matrix = np.array([[c, -s, 40], [s, c, -70]])
    plain = plan_span(drawing(one), drawing(two), Take()).at(0.5)
    other = plan_span(*(mapped(drawing(shape), matrix) for shape in (one, two)), Take()).at(0.5)
    assert (
        np.abs(outline(mapped(plain, matrix).shapes[0].contours[0]) - outline(other.shapes[0].contours[0])).max() < 0.01
    )


@pytest.mark.parametrize("kind", KINDS)
def test_names_and_order_of_what_is_not_stacked_on_each_other_do_not_matter(kind: str) -> None:
    drawn, plan = case_of(kind)

    def renamed(shape: Shape) -> Shape:
        return shape.model_copy(update={"id": new_id(), "name": "shape"})

    fresh = {shape.id: renamed(shape) for shape in (*drawn.first.shapes, *drawn.second.shapes)}
    first, second = (Drawing(shapes=tuple(fresh[s.id] for s in k.shapes[::-1])) for k in (drawn.first, drawn.second))
    names = {shape.id: old for old, shape in fresh.items()}

    def pairs(made: SpanPlan, known: dict[str, str]) -> set[tuple[frozenset[str], frozenset[str]]]:
        sides = ((p.pair.firsts, p.pair.seconds) for p in made.pairs)
        return {tuple(frozenset(known.get(name, name) for name in side) for side in both) for both in sides}

    assert pairs(plan_span(first, second, Take()), names) == pairs(plan, {})


@pytest.mark.parametrize("kind", KINDS)
def test_a_plan_made_again_is_the_same_to_the_last_digit(kind: str) -> None:
    drawn, plan = case_of(kind)
    again = plan_span(drawn.first, drawn.second, Take())
    assert [shape.contours for shape in again.at(0.4).shapes] == [shape.contours for shape in plan.at(0.4).shapes]


@pytest.mark.parametrize("kind", KINDS)
def test_nothing_jumps_between_frames_however_many_there_are(kind: str) -> None:
    _, plan = case_of(kind)
    times = np.linspace(0, 1, 97)
    for pair in plan.pairs:
        points = pair.points(times)
        steps = np.abs(np.diff(points, axis=0))
        # no step is much longer than the whole way in even steps of the fastest point
        way = np.abs(np.diff(points, axis=0)).sum(axis=0)
        assert steps.max() <= 4 * max(way.max(), 1e-9) / len(steps) + 1e-6
