"""A straight line that becomes a bow is bent evenly, wherever the bow has its handles; its points go where it says."""

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.geometry.track import track_of
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Node, Take
from tests.examples import few
from tests.forms import backwards, distances, drawing, outline, polygon, recut, stroked

LINE = polygon([(0, 0), (400, 0)], closed=False)
TIMES = (0.25, 0.5, 0.75)
cuts = st.lists(st.floats(0.05, 0.95), max_size=2)


def bow(height: float, top: float, tip: float) -> Contour:
    """An arch over the line as a pen draws it: without handles at its ends, with long ones at its top."""
    nodes = [(0, 0, 0), (400 * top, height, tip), (400, 0, 0)]
    return Contour(
        nodes=tuple(
            Node(at=(x, y), before=(x - reach, y), after=(x + reach, y), kind="smooth") for x, y, reach in nodes
        )
    )


bows = st.builds(bow, st.floats(40, 200), st.floats(0.4, 0.6), st.floats(80, 150))


@few
@given(bows, cuts, cuts, st.booleans())
@example(bow(160, 0.5, 150), [], [], False)
def test_it_is_bent_one_way_all_the_time(arch: Contour, one: list[float], two: list[float], other_way: bool) -> None:
    first, second = recut(LINE, one), recut(arch, two)
    plan = plan_span(drawing(stroked(first)), drawing(stroked(backwards(second) if other_way else second)), Take())
    for t in TIMES:
        steps = np.diff(outline(plan.at(t).shapes[0].contours[0], 32) @ [1, 1j])
        turns = np.angle(steps[1:] * steps[:-1].conj())
        assert min(turns.max(), -turns.min()) < 0.01


@few
@given(bows, cuts, cuts, st.lists(st.floats(0.02, 0.98), min_size=3, max_size=3))
@pytest.mark.parametrize("to_second", [False, True])
def test_its_points_go_where_it_is_said(
    to_second: bool, arch: Contour, one: list[float], two: list[float], shares: list[float]
) -> None:
    """So a hint that is pressed there changes nothing."""
    keys = drawing(stroked(recut(LINE, one))), drawing(stroked(recut(arch, two)))
    plan = plan_span(*keys, Take(blend="direct"))
    shape = keys[not to_second].shapes[0]
    half = outline(plan.at(0.5).shapes[0].contours[0], 64)
    for place in track_of(shape.contours[0]).points(np.array(shares)):
        found = plan.partner(shape.id, place, to_second)
        assert found is not None
        assert distances(np.array([0.5 * (place + found[1])]), [half])[0] < 0.3
