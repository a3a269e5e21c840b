"""Which shape lies on which in in-betweens: as in the first key, and from some moment on as in the second."""

import numpy as np
import pytest
import shapely

from knead.core.blend.figure.stacking import switch
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Shape, Take
from tests.forms import backwards, drawing, ellipse, filled, outline, polygon, star, stroked, turned


def test_stacking_follows_the_first_key_and_then_the_second() -> None:
    a, b = filled(ellipse(100, 100, 40, 40), color="#aa0000"), filled(star(), color="#00aa00")
    plan = plan_span(drawing(a, b), drawing(b, a), Take())
    assert [s.id for s in plan.at(0.4).shapes] == [a.id, b.id]
    assert [s.id for s in plan.at(0.6).shapes] == [b.id, a.id]


@pytest.mark.parametrize(("degrees", "start", "end"), [(0, -120, 40), (35, -120, 40), (0, -40, 120), (80, -40, 120)])
def test_what_passes_changes_its_place_in_the_stack_while_it_is_off(degrees: float, start: float, end: float) -> None:
    way = np.exp(1j * np.radians(degrees))
    hill = filled(ellipse(300, 300, 60, 20), color="#556655")

    def moon(gone: float) -> Shape:
        place = 300 + 300j + gone * way
        return filled(ellipse(place.real, place.imag, 18, 18), color="#eeeebb")

    here, there = moon(start), moon(end)
    plan = plan_span(drawing(hill, here), drawing(there, hill), Take())
    apart = []
    for t in (*np.linspace(0.1, 0.9, 5).tolist(), plan.switch):
        one, two = (shapely.Polygon(outline(shape.contours[0])) for shape in plan.at(t).shapes)
        apart.append(one.disjoint(two))
    assert not all(apart)
    assert apart[-1]


@pytest.mark.parametrize("spoke", [False, True])
def test_a_ball_goes_through_a_ring_while_it_is_in_its_hole(spoke: bool) -> None:
    """A spoke of its own paint, which it passes there as well, is not seen."""
    ring = filled(ellipse(300, 300, 150, 150), backwards(ellipse(300, 300, 110, 110)), color="#aa7722")
    bars = [filled(polygon([(290, 200), (310, 200), (310, 400), (290, 400)]), color="#eeeebb")] if spoke else []
    here, there = (filled(ellipse(x, 300, 40, 40), color="#eeeebb") for x in (170, 430))
    plan = plan_span(drawing(ring, *bars, here), drawing(there, *bars, ring), Take())
    (ball,) = (shape for shape in plan.at(plan.switch).shapes if shape.id == here.id)
    assert np.abs(outline(ball.contours[0]) @ [1, 1j] - (300 + 300j)).max() < 110


@pytest.mark.parametrize("degrees", range(0, 180, 7))
def test_straight_lines_change_places_as_well_though_they_have_no_area(degrees: float) -> None:
    """Two that lie on one line, far apart: rounding makes their common spread anything about nothing."""
    way = 300 * np.exp(1j * np.radians(degrees))
    parts = [stroked(polygon([(z.real, z.imag), ((z + way).real, (z + way).imag)], closed=False)) for z in (0, 9 * way)]
    pairs = plan_span(drawing(*parts), drawing(*parts), Take()).pairs
    with np.errstate(over="raise", invalid="raise"):
        assert 0.0 < switch(pairs, [0, 1], [1, 0]) < 1.0


@pytest.mark.parametrize("degrees", [20.0, 60.0])
def test_a_spar_stays_before_its_kite_and_the_tail_that_goes_on_from_it_behind(degrees: float) -> None:
    def kite(angle: float) -> Drawing:
        tail = stroked(turned(polygon([(200, 300), (230, 360), (190, 420), (225, 470)], closed=False), angle))
        sail = filled(turned(polygon([(200, 100), (270, 180), (200, 300), (130, 180)]), angle), color="#cc4433")
        return drawing(tail, sail, stroked(turned(polygon([(200, 100), (200, 300)], closed=False), angle)))

    first, second = kite(-degrees / 2), kite(degrees / 2)
    assert [shape.id for shape in plan_span(first, second, Take()).at(0.3).shapes] == [s.id for s in first.shapes]
