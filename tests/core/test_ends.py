"""A line that ends on a neighbour in both keys ends on it all the way."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Node, PairTravel, Point, Take
from tests.forms import backwards, drawing, filled, outline, polygon, recut, stroked, turned

TIMES = (0.1, 0.25, 0.5, 0.75, 0.9)


def line(places: np.ndarray) -> Contour:
    return polygon([(z.real, z.imag) for z in places.tolist()], closed=False)


def spine(bend: float, length: float = 300.0, count: int = 13) -> np.ndarray:
    """Places along a line that begins at 200 + 300i and bends by so many radians."""
    steps = np.exp(1j * bend * np.linspace(0, 1, count - 1)) * length / (count - 1)
    return np.append(0, np.cumsum(steps)) + 200 + 300j


def arrow(bend: float, head: float) -> Drawing:
    """Its shaft and its head, of a size, the tip at the end of the shaft and turned as that."""
    shaft = spine(bend)
    barbs = shaft[-1] + head * np.exp(1j * bend) * np.array([-1 + 1j, 0, -1 - 1j])
    return drawing(stroked(line(shaft)), stroked(line(barbs)))


def off(key: Drawing, one: int, other: int) -> float:
    """How far two shapes are apart."""
    return float(shapely.distance(*(shapely.LineString(outline(key.shapes[k].contours[0], 32)) for k in (one, other))))


@pytest.mark.parametrize(("before", "after"), [(0.0, 1.6), (-0.7, 1.4), (1.9, 0.2)])
@pytest.mark.parametrize("head", [20.0, 60.0])
def test_an_arrow_that_bends_keeps_its_head(before: float, after: float, head: float) -> None:
    plan = plan_span(arrow(before, 40.0), arrow(after, head), Take())
    for t in TIMES:
        shaft, barbs = (shape.contours[0] for shape in plan.at(t).shapes)
        tips = [np.array(barbs.nodes[k].at) for k in range(len(barbs.nodes))]
        assert min(np.hypot(*(np.array(shaft.nodes[-1].at) - tip)) for tip in tips) < 0.01


def flagged(bend: float, turn: float) -> Drawing:
    """A line that ends at the middle of a longer one that bends, and waves by itself."""
    pole = spine(bend, 400.0)
    waves = np.linspace(0, 150, 7) + 1j * np.array([0, 12, 20, 8, -6, -14, -4])
    return drawing(stroked(line(pole)), stroked(line(pole[6] + waves * np.exp(1j * (turn + bend / 2)))))


@pytest.mark.parametrize("drawn", [lambda contour: contour, backwards, lambda contour: recut(contour, (0.3, 0.7))])
def test_a_flag_stays_on_its_pole_however_the_pole_is_drawn(drawn: object) -> None:
    assert callable(drawn)
    one, two = flagged(0.0, 1.2), flagged(2.2, 1.9)
    pole = two.shapes[0].model_copy(update={"contours": (drawn(two.shapes[0].contours[0]),)})
    plan = plan_span(one, drawing(pole, two.shapes[1]), Take())
    assert max(off(plan.at(t), 0, 1) for t in TIMES) < 0.2


def chain(bends: tuple[float, float, float]) -> Drawing:
    """Three lines, each from the end of the one before."""
    found, place, way = [], 200 + 300j, 1.0 + 0j
    for k, bend in enumerate(bends):
        part = (spine(bend, 180.0 - 40 * k) - 200 - 300j) * way + place
        found.append(stroked(line(part), color=("#222222", "#aa3322", "#2255aa")[k]))
        place, way = part[-1], way * np.exp(1j * (bend + 0.6))
    return drawing(*found)


def test_lines_that_go_on_from_each_other_stay_together() -> None:
    plan = plan_span(chain((0.2, -1.0, 0.5)), chain((1.5, 0.9, -1.2)), Take())
    assert max(off(plan.at(t), k, k + 1) for t in TIMES for k in (0, 1)) < 0.01


def test_what_was_said_to_go_straight_does() -> None:
    one, two = arrow(0.0, 40.0), arrow(1.6, 20.0)
    take = Take(travels=(PairTravel(first=one.shapes[1].id, second=two.shapes[1].id, blend="direct"),))
    middle = plan_span(one, two, take).at(0.5).shapes[1].contours[0]
    meant = (outline(one.shapes[1].contours[0], 8) + outline(two.shapes[1].contours[0], 8)) / 2
    assert np.abs(outline(middle, 8) - meant).max() < 1e-6


@pytest.mark.parametrize("off", [0.0, 2.0])
def test_a_cord_of_two_nodes_hangs_from_its_bar(off: float) -> None:
    def lamp(side: float, off: float) -> Drawing:
        top, end = Point(300, 90 + off), Point(300 + 60 * side, 220)
        nodes = Node(at=top, before=top, after=Point(300, 150)), Node(at=end, before=Point(end.x, 190), after=end)
        cord = Contour(nodes=nodes, closed=False)
        shade = [(end.x - 40, 250), (end.x - 10, 215), (end.x + 10, 215), (end.x + 40, 250)]
        bar = polygon([(220, 90), (380, 90)], closed=False)
        return drawing(stroked(bar, width=8), stroked(cord, width=5), filled(polygon(shade), color="#b85040"))

    plan = plan_span(lamp(-1.0, off), lamp(1.2, 0.0), Take())
    for t in (0.2, 0.4, 0.5, 0.6, 0.8):
        cord = plan.at(t).shapes[1].contours[0]
        assert min(abs(node.at.y - 90) for node in cord.nodes) < 2.5, "it neither falls nor comes through"


@pytest.mark.parametrize("bow", [0.0, 7.0])
def test_a_stripe_goes_with_its_hull_though_its_other_end_comes_to_the_water(bow: float) -> None:
    def boat(degrees: float) -> Drawing:
        hull = turned(polygon([(-130, -10), (130, -15), (100, 40), (-90, 42)]), degrees)
        stripe = turned(line(np.array([-115 + 5j, bow * 1j, 115 + 3j])), degrees)
        water = line(np.array([-300 + 45j, 44j, 300 + 45j]))
        return drawing(filled(hull), stroked(backwards(stripe) if degrees > 0 else stripe), stroked(water))

    first, second = boat(-22), boat(20)
    plan = plan_span(first, second, Take())
    for t in TIMES:
        hull, stripe, _ = (shape.contours[0] for shape in plan.at(t).shapes)
        assert shapely.Polygon(outline(hull)).buffer(2.0).covers(shapely.LineString(outline(stripe, 32)))
