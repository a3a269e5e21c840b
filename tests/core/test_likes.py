"""Rows and fans of forms that are all alike keep their order, though some stand by chance where others stood."""

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Shape, Take
from tests.forms import box, drawing, ellipse, filled, outline, planned, polygon, turned

SHUT, OPEN = 26.0, 96.0  # how wide half a curtain is
COLORS = "#386b39", "#824ab4"


def curtains(wide: float, folds: int) -> list[Shape]:
    """A rod with a curtain at either end, of folds of two colours by turns."""
    found = [box(-170, -8, 170, 0, "#705030")]
    for side in (-1, 1):
        edges = side * (160 - np.linspace(0, wide, folds + 1))
        found += [
            box(min(edges[k : k + 2]), 0, max(edges[k : k + 2]), 190 + 6 * (k % 2), COLORS[k % 2]) for k in range(folds)
        ]
    return found


@pytest.mark.parametrize("wide", [(150.0, 52.0), (26.0, 84.0), (140.0, 125.0)])
@pytest.mark.parametrize("folds", [3, 4, 7])
def test_folds_of_a_curtain_keep_their_order_and_its_rod_stays(wide: tuple[float, float], folds: int) -> None:
    first, second = (curtains(each, folds) for each in wide)
    plan = planned(first, second)
    rod = outline(first[0].contours[0])
    for t in (0.25, 0.5, 0.75):
        own = next(shape for shape in plan.at(t).shapes if shape.id == first[0].id)
        assert np.ptp(outline(own.contours[0])[:, 1]) == pytest.approx(np.ptp(rod[:, 1]), abs=0.5)


@pytest.mark.parametrize("count", [6, 11])
@pytest.mark.parametrize("opens", [((-1.57, -0.3), (-2.3, -0.3)), ((-1.75, -0.7), (-1.6, -1.36))])
def test_blades_of_a_fan_keep_their_order(count: int, opens: tuple[tuple[float, float], tuple[float, float]]) -> None:
    def fan(least: float, most: float) -> list[Shape]:
        found = []
        for angle in np.linspace(least, most, count):
            way = np.exp(1j * angle)
            places = way * np.array([8 + 3j, 120 + 10j, 128, 120 - 10j, 8 - 3j])
            found.append(filled(polygon([(z.real, z.imag) for z in places])))
        return [*found, filled(ellipse(0, 0, 6, 6), color="#303030")]

    planned(fan(*opens[0]), fan(*opens[1]))


def test_no_hint_is_said_to_tie_what_only_looks_as_another_did_there() -> None:
    def train(left: float) -> list[Shape]:
        places = [left + 84 * k for k in range(3)]
        cars = [box(x - 36, 0, x + 36, 38, COLORS[1]) for x in places]
        panes = [turned(polygon([(-14, 6), (14, 6), (14, 22), (-14, 22)]), x / 7, move=(x, 0)) for x in places[::2]]
        return [*cars, *(filled(pane, color="#e8f0f8") for pane in panes)]

    plan = plan_span(drawing(*train(-168)), drawing(*train(-8)), Take())
    assert not [pair for pair in plan.pairs if "hint" in pair.pair.reason]
