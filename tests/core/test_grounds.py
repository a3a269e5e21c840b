"""What stays behind a figure, or under it: it does not move, and the figure goes as it does without it."""

from collections.abc import Callable

import numpy as np
import pytest
import shapely

from benchmarks.quality.cases import Case, all_cases
from knead.core.geometry.placing import placed
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, PairTravel, Shape, Take
from tests.forms import apart, drawing, ellipse, filled, outline, polygon, stroked, turned

CASES = [case for case in all_cases(3, 2) if case.kind in ("bent", "posed")]


def wall(low: np.ndarray, high: np.ndarray) -> Shape:
    (left, top), (right, bottom) = 2 * low - high, 2 * high - low
    return filled(polygon([(left, top), (right, top), (right, bottom), (left, bottom)]), color="#ffeedd")


def floor(low: np.ndarray, high: np.ndarray) -> Shape:
    return stroked(polygon([(2 * low[0] - high[0], high[1]), (2 * high[0] - low[0], high[1])], closed=False))


@pytest.mark.parametrize("ground", [wall, floor])
@pytest.mark.parametrize("case", CASES, ids=lambda case: case.kind)
def test_a_figure_goes_before_what_stays_as_it_does_alone(
    case: Case, ground: Callable[[np.ndarray, np.ndarray], Shape]
) -> None:
    """Whatever it is made of, with what grows on it."""
    points = np.concatenate([outline(c) for key in (case.first, case.second) for s in key.shapes for c in s.contours])
    stays = ground(points.min(axis=0), points.max(axis=0))
    again = stays.model_copy(update={"id": "again"})
    alone = plan_span(case.first, case.second, Take())
    plan = plan_span(drawing(stays, *case.first.shapes), drawing(again, *case.second.shapes), Take())
    for t in (0.25, 0.5, 0.75):
        found = {shape.id: shape for shape in plan.at(t).shapes}
        assert apart(stays.contours[0], found.pop(stays.id).contours[0]) < 1e-4
        own = {shape.id: shape for shape in alone.at(t).shapes}
        assert found.keys() == own.keys()
        for name, shape in own.items():
            for one, other in zip(shape.contours, found[name].contours, strict=True):
                assert apart(one, other) < 1e-4


@pytest.mark.parametrize("case", [case for case in CASES if case.kind == "posed"], ids=lambda case: case.name)
def test_a_figure_that_goes_with_its_wall_goes_as_it_does_alone(case: Case) -> None:
    points = np.concatenate([outline(c) for key in (case.first, case.second) for s in key.shapes for c in s.contours])
    slides = wall(points.min(axis=0), points.max(axis=0))
    moved = [placed(shape, np.array([[1.0, 0.0, 60.0], [0.0, 1.0, -20.0]])) for shape in (slides, *case.second.shapes)]
    alone = plan_span(case.first, drawing(*moved[1:]), Take())
    plan = plan_span(
        drawing(slides, *case.first.shapes), drawing(moved[0].model_copy(update={"id": "again"}), *moved[1:]), Take()
    )
    for t in (0.25, 0.5, 0.75):
        found = {shape.id: shape for shape in plan.at(t).shapes}
        for shape in alone.at(t).shapes:
            for one, other in zip(shape.contours, found[shape.id].contours, strict=True):
                assert apart(one, other) < 0.05


@pytest.mark.parametrize("goes", [0, 120])
def test_a_head_that_is_led_takes_along_what_turns_in_it(goes: float) -> None:
    """An eye with its pupil, that hang together, and a brow."""

    def head(degrees: float, x: float) -> Drawing:
        features = [ellipse(-30, -20, 24, 16), ellipse(-36, -20, 8, 7), polygon([(-60, -50), (0, -58), (0, -50)])]
        looks = zip(features, ("#ffffff", "#222222", "#553311"), strict=True)
        inside = [filled(turned(form, degrees, move=(x, 200)), color=color) for form, color in looks]
        return drawing(filled(ellipse(x, 200, 100, 100), color="#ddaa88"), *inside)

    first, second = head(0, 200), head(25, 200 + goes)
    led = PairTravel(first=first.shapes[0].id, second=second.shapes[0].id, path=((0, -300), (0, -300)))
    for t in (0.25, 0.5, 0.75):
        skull, *features = plan_span(first, second, Take(travels=(led,))).at(t).shapes
        around = shapely.Polygon(outline(skull.contours[0]))
        assert around.centroid.y < 100, "it goes its way"
        assert all(around.contains(shapely.Polygon(outline(shape.contours[0]))) for shape in features)
