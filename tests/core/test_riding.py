"""What sits on a neighbour that bends stays where it sits: a hand at the end of an arm that is one bent line."""

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Node, PairTravel, Point, Take
from tests.forms import backwards, drawing, ellipse, filled, polygon, stroked, turned

TIMES = (0.125, 0.25, 0.5, 0.75, 0.875)


def arm(*degrees: float) -> Contour:
    """A line from the shoulder on, each stretch of 40 going its own way."""
    steps = 40 * np.exp(1j * np.radians(degrees))
    places = 300 + 200j + np.append(0, np.cumsum(steps))
    return polygon([(z.real, z.imag) for z in places.tolist()], closed=False)


def noodle(x: float, y: float, bulge: float) -> Contour:
    """A line from the shoulder to (x, y) that is one bow."""
    start = Node(at=Point(300, 200), before=Point(300, 200), after=Point(300 + bulge, 200 + bulge))
    return Contour(nodes=(start, Node(at=Point(x, y), before=Point(x + bulge, y), after=Point(x, y))))


def figure(line: Contour, reverse: bool = False) -> Drawing:
    x, y = line.nodes[-1].at
    body, hand = filled(ellipse(250, 230, 60, 90), color="#336699"), filled(ellipse(x, y, 14, 14), color="#eecc99")
    nail = filled(ellipse(x + 6, y, 4, 4), color="#aa4444")
    return drawing(body, stroked(backwards(line) if reverse else line, width=12), hand, nail)


UP, DOWN = arm(-20, -45, -70, -100), arm(60, 75, 90, 105)


@pytest.mark.parametrize("reverse", [False, True])
@pytest.mark.parametrize(
    ("before", "after"),
    [(DOWN, UP), (arm(10, 30, 60, 80), arm(-30, -10, 70, 150)), (noodle(330, 330, 30), noodle(350, 60, 70))],
)
def test_a_hand_stays_at_the_end_of_its_arm_and_the_nail_on_the_hand(
    before: Contour, after: Contour, reverse: bool
) -> None:
    first, second = figure(before), figure(after, reverse)
    plan = plan_span(first, second, Take())
    for t in TIMES:
        _, line, hand, nail = (
            np.array([node.at for node in shape.contours[0].nodes]) @ [1, 1j] for shape in plan.at(t).shapes
        )
        assert np.abs(line[[0, -1]] - hand.mean()).min() < 5, "the hand is at the end"
        assert abs(nail.mean() - hand.mean() - 6) < 2, "and what lies on it goes along"
    assert plan.at(1).shapes[2].contours[0].nodes[0].at == pytest.approx(second.shapes[2].contours[0].nodes[0].at)


def test_a_path_that_was_drawn_for_it_goes_before() -> None:
    first, second = figure(DOWN), figure(UP)
    hands = first.shapes[2].id, second.shapes[2].id
    path = Point(-150, 0), Point(-150, 0)
    led = plan_span(first, second, Take(travels=(PairTravel(first=hands[0], second=hands[1], path=path),)))
    half = np.mean([node.at for node in led.at(0.5).shapes[2].contours[0].nodes], axis=0)
    ends = [np.mean([node.at for node in key.shapes[2].contours[0].nodes], axis=0) for key in (first, second)]
    assert half[0] < np.mean(ends, axis=0)[0] - 80


def test_what_only_turns_with_its_neighbour_needs_no_ride() -> None:
    bar, knob = polygon([(0, -8), (200, -8), (200, 8), (0, 8)]), ellipse(200, 0, 14, 14)
    keys = [
        drawing(
            *(filled(turned(c, degrees, move=(300, 300)), color=k) for c, k in ((bar, "#336699"), (knob, "#eecc99")))
        )
        for degrees in (0, 100)
    ]
    assert all(pair.body.ride is None for pair in plan_span(*keys, Take()).worked.pairs)
