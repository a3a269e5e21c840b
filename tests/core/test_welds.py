"""What shares an edge with a neighbour in both keys shares it all the way."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Take
from tests.forms import begun_at, drawing, filled, outline, polygon

TIMES = (0.2, 0.5, 0.8)


def box(degrees: float, start: int = 0) -> Drawing:
    """The three faces of a box that are seen, turned about its upright axis."""
    turn = np.exp(1j * np.radians(degrees))

    def seen(x: float, z: float, y: float) -> tuple[float, float]:
        at = (x + 1j * z) * turn
        return 200 + 90 * at.real, 220 + 90 * y + 33 * at.imag

    front = [(-1, 1), (1, 1)]
    side = [(1, 1), (1, -1)]
    top = [seen(x, z, -1) for x, z in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    walls = [[seen(*a, -1), seen(*b, -1), seen(*b, 1), seen(*a, 1)] for a, b in (front, side)]
    colors = ("#ffcc44", "#dd8822", "#aa6622")
    return drawing(*(filled(begun_at(polygon(f), start), color=c) for f, c in zip([top, *walls], colors, strict=True)))


@pytest.mark.parametrize("start", [0, 1, 3])
@pytest.mark.parametrize(("before", "after"), [(12, 52), (60, 15), (50, 75)])
def test_the_faces_of_a_box_keep_their_corners_and_their_edges(before: float, after: float, start: int) -> None:
    plan = plan_span(box(before), box(after, start), Take())
    for t in TIMES:
        corners = [np.array([n.at for n in shape.contours[0].nodes]) @ [1, 1j] for shape in plan.at(t).shapes]
        assert [len(row) for row in corners] == [4, 4, 4], "every corner becomes a corner"
        gaps = np.sort(np.abs(np.subtract.outer(corners[1], corners[2])).ravel())[:2]
        assert gaps.max() < 1e-6, "front and side share two corners"
        for wall in corners[1:]:
            assert np.sort(np.abs(np.subtract.outer(corners[0], wall)).ravel())[:2].max() < 1e-6, "and so with the top"


@pytest.mark.parametrize("bend", [2.0, 2.6])
def test_what_bends_much_keeps_its_form_rather_than_its_edges(bend: float) -> None:
    def leaf(bend: float) -> Drawing:
        """Two halves on both sides of a spine that bends."""
        along = np.linspace(0, 1, 9)
        spine = np.cumsum(np.append(0, 40 * np.exp(1j * bend * along[:-1]))) + 100 + 200j
        width = 30j * np.sin(np.pi * along) * np.exp(1j * bend * along)
        halves = [np.concatenate([spine, (spine + side * width)[-2:0:-1]]) for side in (1, -1)]
        rows = [[(z.real, z.imag) for z in half.tolist()] for half in halves]
        return drawing(*(filled(polygon(row), color=c) for row, c in zip(rows, ("#66aa55", "#447733"), strict=True)))

    first, second = leaf(0.0), leaf(bend)
    plan = plan_span(first, second, Take())
    areas = [
        [shapely.Polygon(outline(s.contours[0])).area for s in key.shapes] for key in (first, plan.at(0.5), second)
    ]
    assert areas[1] == pytest.approx(np.mean([areas[0], areas[2]], axis=0), rel=0.1)
