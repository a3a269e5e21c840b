"""What comes off a neighbour of its paint comes out of it, if that changes; else it grows in its place."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Take
from tests.forms import drawing, ellipse, filled, outline, polygon, smooth

TIMES = (0.02, 0.25, 0.5, 0.75, 0.98)
WATER, AIR = "#5599dd", "#eeeeff"
DROPS = [(110.0, 190.0), (200.0, 120.0), (290.0, 190.0)]


def pool(*crests: float) -> Contour:
    """Water with crests of these heights between its edges."""
    tops = [(110.0 + 90 * k, 300 - height) for k, height in enumerate(crests)]
    dips = [(155.0 + 90 * k, 290.0) for k in range(len(crests) - 1)]
    line = [*(each for pair in zip(tops, dips, strict=False) for each in pair), tops[-1]]
    return polygon([(60, 300), *line, (340, 300), (340, 360), (60, 360)])


def middles(key: Drawing, names: list[str]) -> list[shapely.Point]:
    found = {shape.id: shapely.MultiPoint(outline(shape.contours[0])).centroid for shape in key.shapes}
    return [found[name] for name in names]


@pytest.mark.parametrize("sky", [False, True])
@pytest.mark.parametrize("comes", [False, True])
def test_drops_come_off_the_crests_and_fall_back_on_them(sky: bool, comes: bool) -> None:
    ground = [filled(polygon([(0, 0), (400, 0), (400, 400), (0, 400)]), color=AIR)] if sky else []
    drops = [filled(ellipse(x, y, 10, 10), color=WATER) for x, y in DROPS]
    flat = drawing(*ground, filled(pool(8, 10, 8), color=WATER))
    high = drawing(*ground, filled(pool(75, 150, 75), color=WATER), *drops)
    plan = plan_span(*((flat, high) if comes else (high, flat)), Take())
    for t in TIMES:
        key, share = plan.at(t), t if comes else 1.0 - t
        water = shapely.Polygon(outline(key.shapes[len(ground)].contours[0], 128))
        for middle, (x, y) in zip(middles(key, [drop.id for drop in drops]), DROPS, strict=True):
            assert abs(middle.x - x) < 12
            assert middle.distance(water) < 6 + 40 * share, "it leaves the water by and by"
            assert middle.y == pytest.approx((1 - share) * 291 + share * y, abs=10)


def test_stars_beside_a_moon_appear_in_their_places() -> None:
    moon = filled(smooth([(150, 100), (230, 150), (200, 250), (120, 260), (170, 180)]), color="#ffdd88")
    stars = [filled(ellipse(x, y, 8, 8), color="#ffdd88") for x, y in ((300, 120), (320, 220), (80, 120))]
    plan = plan_span(drawing(moon), drawing(moon, *stars), Take())
    places = np.array([[(p.x, p.y) for p in middles(plan.at(t), [star.id for star in stars])] for t in TIMES])
    assert np.abs(places - places[-1]).max() < 1
