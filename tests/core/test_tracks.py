"""What lies on a line that stays goes along it."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Shape, Take
from tests.forms import backwards, drawing, ellipse, filled, outline, polygon, smooth, stroked, turned

TIMES = np.linspace(0.0, 1.0, 9)
RING = ellipse(200, 200, 120, 120)
DIAL = smooth([(200 + 130 * np.sin(a), 200 - 130 * np.cos(a)) for a in np.linspace(-2.4, 2.4, 9)])
RAILS = smooth([(30, 260), (110, 90), (200, 220), (290, 300), (370, 140), (380, 380), (20, 380)])


def line(contour: Contour) -> Contour:
    return contour.model_copy(update={"closed": False})


def middles(plan: SpanPlan, shape: Shape) -> np.ndarray:
    found = (plan.at(float(t)).shape(shape.id) for t in TIMES)
    return np.array([outline(each.contours[0], 8).mean(axis=0) for each in found if each is not None])


def drawn(contour: Contour) -> shapely.LineString:
    return shapely.LineString(outline(contour, 64))


@pytest.mark.parametrize(
    ("track", "one", "two", "least"),
    [
        (RING, (320, 200), (140, 303.9), 240),  # a planet, the shorter way round
        (line(DIAL), outline(line(DIAL))[5], outline(line(DIAL))[-5], 550),  # a knob, and not across the gap
        (line(RAILS), outline(line(RAILS))[9], outline(line(RAILS))[250], 500),
    ],
)
@pytest.mark.parametrize("reverse", [False, True])
def test_what_lies_on_a_line_goes_along_it(
    track: Contour, one: tuple[float, float], two: tuple[float, float], least: float, reverse: bool
) -> None:
    knobs = [filled(ellipse(*place, 12, 12), color="#cc4433") for place in (one, two)]
    keys = [stroked(contour) for contour in (track, backwards(track) if reverse else track)]
    plan = plan_span(drawing(keys[0], knobs[0]), drawing(keys[1], knobs[1]), Take())
    places = middles(plan, knobs[0])
    assert shapely.distance(shapely.points(places), drawn(track)).max() < 2.0
    assert np.linalg.norm(np.diff(places, axis=0), axis=1).sum() > least
    stays = [plan.at(float(t)).shape(keys[0].id) for t in TIMES]
    assert all(shape and drawn(shape.contours[0]).hausdorff_distance(drawn(track)) < 0.1 for shape in stays)


def test_what_hangs_on_something_else_goes_with_that() -> None:
    hill = line(smooth([(20, 300), (200, 220), (380, 300)]))

    def walker(lean: float) -> list[Shape]:
        leg = turned(polygon([(-9, 0), (9, 0), (9, 122), (-9, 122)]), lean, 1.0, (200, 110))
        foot = turned(ellipse(0, 122, 20, 9), lean, 1.0, (200, 110))
        return [filled(leg, color="#336699"), filled(foot, color="#553311")]

    one, two = walker(30), walker(-30)
    plan = plan_span(drawing(stroked(hill), *one), drawing(stroked(hill), *two), Take())
    away = np.linalg.norm(middles(plan, one[1]) - [200, 110], axis=1)
    assert np.abs(away - 122).max() < 3.0
