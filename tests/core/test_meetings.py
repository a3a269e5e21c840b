"""What meets at a corner in both keys meets there all the way: the slices of a pie, whatever shares they have."""

import math
import random
from itertools import pairwise

import numpy as np
import pytest
import shapely

from knead.core.geometry.bezier import contour_of
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Shape, Take
from knead.core.snags.find import findings
from tests.forms import backwards, begun_at, drawing, filled, outline, polygon, recut

TIMES = np.linspace(0.1, 0.9, 9)
COLORS = ["#c94f4f", "#f2c84b", "#5fb47c", "#3d618f", "#9a5fb4"]


def slice_of(middle: complex, radius: float, start: float, end: float, color: str) -> Shape:
    """A slice of a pie between two angles in degrees."""
    steps = math.radians(end - start) / 3
    handle = 4j / 3 * math.tan(steps / 4)
    spokes = [radius * np.exp(1j * (math.radians(start) + k * steps)) for k in range(4)]
    rim = [(a, a + handle * a, b - handle * b, b) for a, b in pairwise(spokes)]
    rows = [(0, 0, spokes[0], spokes[0]), *rim, (spokes[-1], spokes[-1], 0, 0)]
    path = [[((middle + p).real, (middle + p).imag) for p in row] for row in rows]
    return filled(contour_of(np.array(path), True), color=color)


def pie(shares: list[float], middle: complex = 200 + 200j, radius: float = 120.0, start: float = -90.0) -> Drawing:
    stops = np.cumsum([start, *(360 * share / sum(shares) for share in shares)]).tolist()
    return drawing(*(slice_of(middle, radius, *ends, c) for ends, c in zip(pairwise(stops), COLORS, strict=False)))


def redrawn(key: Drawing, rng: random.Random) -> Drawing:
    shapes = []
    for shape in key.shapes:
        contour = begun_at(recut(shape.contours[0], [rng.random()]), rng.randrange(5))
        contour = backwards(contour) if rng.random() < 0.5 else contour
        shapes.append(shape.model_copy(update={"contours": (contour,)}))
    return drawing(*rng.sample(shapes, len(shapes)))


def surfaces(key: Drawing) -> list[shapely.Geometry]:
    return [shapely.Polygon(outline(shape.contours[0], 24)).buffer(0) for shape in key.shapes]


@pytest.mark.parametrize("seed", range(6))
def test_slices_of_a_pie_stay_together(seed: int) -> None:
    rng = random.Random(seed)
    count = rng.randint(3, 5)
    one, two = ([rng.uniform(0.12, 1.0) for _ in range(count)] for _ in "ab")
    moved = pie(two, 200 + rng.uniform(-30, 30) * 1j, 120 * rng.uniform(0.8, 1.2), -90 + rng.uniform(-25, 25))
    plan = plan_span(pie(one), redrawn(moved, rng), Take())
    for t in TIMES:
        parts = surfaces(plan.at(float(t)))
        whole = shapely.unary_union(parts)
        assert sum(part.area for part in parts) - whole.area < 0.02 * whole.area, "none covers another"
        assert whole.convex_hull.area - whole.area < 0.04 * whole.area, "and there are no gaps"
    assert not [snag for snag in findings(plan, Take(), TIMES.tolist()).snags if snag.kind != "turn"]


@pytest.mark.parametrize("seed", range(3))
def test_panes_meet_at_a_place_that_moves(seed: int) -> None:
    rng = random.Random(seed)

    def panes() -> Drawing:
        x, y, left, right, low = (rng.uniform(120, 280) for _ in range(5))
        rows = [
            [(60, 60), (x, 60), (x, y), (60, left)],
            [(x, 60), (340, 60), (340, right), (x, y)],
            [(x, y), (340, right), (340, 340), (low, 340)],
            [(60, left), (x, y), (low, 340), (60, 340)],
        ]
        return drawing(*(filled(polygon(row), color=color) for row, color in zip(rows, COLORS, strict=False)))

    plan = plan_span(panes(), redrawn(panes(), rng), Take())
    for t in TIMES:
        parts = surfaces(plan.at(float(t)))
        whole = shapely.unary_union(parts)
        assert whole.area == pytest.approx(280 * 280, rel=0.03)
        assert sum(part.area for part in parts) == pytest.approx(whole.area, rel=0.02)
