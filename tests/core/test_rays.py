"""Lines that are a path each in one key, and one path in the other: the rays of a sun, the waves of a loudspeaker."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Take
from tests.examples import few
from tests.forms import backwards, distances, drawing, outline, polygon, stroked


def rays(count: int, inner: float, outer: float, at: complex = 200 + 200j, turn: float = 0.0) -> list[Contour]:
    ways = np.exp(1j * (turn + 2 * np.pi * np.arange(count) / count))
    ends = [(at + inner * way, at + outer * way) for way in ways]
    return [polygon([(a.real, a.imag), (b.real, b.imag)], closed=False) for a, b in ends]


@few
@given(st.data(), st.integers(3, 9), st.floats(0.6, 1.8), st.complex_numbers(max_magnitude=30))
def test_rays_of_one_path_become_those_that_are_a_path_each(
    data: st.DataObject, count: int, scale: float, move: complex
) -> None:
    one = rays(count, 60, 100)
    two = rays(count, 60 * scale, 100 * scale, 200 + 200j + move)
    order = data.draw(st.permutations(range(count)))
    others = [stroked(backwards(two[k]) if data.draw(st.booleans()) else two[k]) for k in order]
    middle = rays(count, 30 * (1 + scale), 50 * (1 + scale), 200 + 200j + move / 2)
    for keys in ((drawing(stroked(*one)), drawing(*others)), (drawing(*others), drawing(stroked(*one)))):
        half = [c for shape in plan_span(*keys, Take()).at(0.5).shapes for c in shape.contours]
        assert len(half) == count
        lines = [outline(contour) for contour in half]
        assert max(distances(outline(ray), lines).max() for ray in middle) < 2.0


@few
@given(st.sets(st.integers(1, 9), min_size=2, max_size=2), st.floats(0, 2 * np.pi), st.booleans())
def test_no_dot_is_seen_at_a_key_of_a_line_that_is_not_there(counts: set[int], turn: float, shared: bool) -> None:
    one, two = (rays(count, 40, 110, turn=turn) for count in counts)
    second = [stroked(*two)] if shared else [stroked(ray) for ray in two]
    plan = plan_span(drawing(stroked(*one)), drawing(*second), Take())
    for t, lines in ((0.0, one), (1.0, two)):
        points = [outline(contour) for shape in plan.at(t).shapes for contour in shape.contours]
        assert distances(np.concatenate(points), [outline(line) for line in lines]).max() < 1e-6
