"""What others hide in the other key is there all the time: it comes out from behind them, and goes behind them."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from knead.core.snags.find import findings
from tests.forms import drawing, ellipse, filled, outline, polygon, stroked, turned

TIMES = (0.1, 0.3, 0.5, 0.7, 0.9)
SKY = polygon([(0, 0), (400, 0), (400, 400), (0, 400)])
SUN = ellipse(180, 200, 40, 40)


def cloud(x: float, y: float) -> Contour:
    puffs = [(-90, 40), (-90, -10), (-40, -60), (30, -50), (90, -10), (90, 40)]
    return polygon([(x + a, y + b) for a, b in puffs])


def area_of(contour: Contour) -> shapely.Polygon:
    return shapely.Polygon(outline(contour))


@pytest.mark.parametrize("sky", [False, True])
@pytest.mark.parametrize("comes", [False, True])
def test_a_sun_comes_out_behind_a_cloud_that_moves_off(sky: bool, comes: bool) -> None:
    ground = [filled(SKY, color="#99ddff")] if sky else []
    gleam = filled(ellipse(170, 190, 8, 8), color="#ffffff")
    hidden = drawing(*ground, filled(cloud(180, 210), color="#ffffff"))
    seen = drawing(*ground, filled(SUN, color="#ffdd33"), gleam, filled(cloud(260, 330), color="#ffffff"))
    plan = plan_span(*((hidden, seen) if comes else (seen, hidden)), Take())
    for t in TIMES:
        sun, light = plan.at(t).shapes[len(ground) : len(ground) + 2]
        assert area_of(sun.contours[0]).symmetric_difference(area_of(SUN)).area < 1
        assert area_of(light.contours[0]).centroid.distance(shapely.Point(170, 190)) < 0.1
    reasons = {pair.way_reason for pair in plan.pairs if None in (pair.first_id, pair.second_id)}
    assert reasons == {f"it {'comes out from' if comes else 'goes'} behind its neighbours"}
    assert not findings(plan, Take(), list(TIMES)).snags


def test_what_would_lie_over_what_covers_it_shrinks_instead_of_being_there_to_the_end() -> None:
    stone = filled(ellipse(60, 360, 30, 20), color="#555566")
    sky, sun = filled(SKY, color="#99ddff"), filled(SUN, color="#ffdd33")
    first = drawing(sky, stone, sun, filled(cloud(260, 330), color="#ffffff"))
    second = drawing(sky, filled(cloud(180, 210), color="#ffffff"), stone)  # now the stone lies over the cloud
    near = plan_span(first, second, Take()).at(0.98)
    seen = [area_of(s.contours[0]) for s in near.shapes if s.fill and s.fill.paint.color == "#ffdd33"]
    assert sum(area.area for area in seen) < 0.1 * area_of(SUN).area


def test_what_is_in_a_box_that_turns_goes_with_it_as_its_lid_comes_off() -> None:
    def key(degrees: float, lid: float, *within: Contour) -> Drawing:
        parts = [polygon([(100, 150), (300, 150), (300, 300), (100, 300)]), *within]
        parts.append(polygon([(105, 155 - lid), (295, 155 - lid), (295, 295 - lid), (105, 295 - lid)]))
        colors = ["#996633", *["#ffdd33" for _ in within], "#cc9966"]
        return drawing(*(filled(_about(p, degrees), color=c) for p, c in zip(parts, colors, strict=True)))

    ball = ellipse(200, 225, 30, 30)
    plan = plan_span(key(0, 0), key(30, 170, ball), Take())
    for t in TIMES:
        box, found, _ = (area_of(shape.contours[0]) for shape in plan.at(t).shapes)
        assert found.area == pytest.approx(area_of(ball).area, rel=0.02), "it does not grow"
        assert box.centroid.distance(found.centroid) < 2, "it stays in the middle of the box"


def _about(contour: Contour, degrees: float) -> Contour:
    turn = 1.0 - np.exp(1j * np.radians(degrees))
    move = (200 + 225j) * turn
    return turned(contour, degrees, 1.0, (move.real, move.imag))


@pytest.mark.parametrize("why", ["seen through", "only a line", "too small", "beneath"])
def test_what_is_not_hidden_grows(why: str) -> None:
    def cover(x: float, y: float) -> Shape:
        form = ellipse(x, y, 20, 20) if why == "too small" else cloud(x, y)
        shape = stroked(form, color="#ffffff") if why == "only a line" else filled(form, color="#ffffff")
        return shape.model_copy(update={"opacity": 0.5 if why == "seen through" else 1.0})

    shapes = [filled(SUN, color="#ffdd33"), cover(260, 330)]
    second = drawing(*(shapes[::-1] if why == "beneath" else shapes))
    plan = plan_span(drawing(cover(180, 210)), second, Take())
    sizes = [area_of(shape.contours[0]).area for t in TIMES for shape in plan.at(t).shapes if shape.id == shapes[0].id]
    assert np.all(np.diff(sizes) > 0.0)
    assert sizes[0] < 0.1 * area_of(SUN).area
