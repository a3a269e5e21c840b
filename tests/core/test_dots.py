"""Dots that a pen dabs: strokes shorter than it is wide, of which nothing is seen but where they are."""

import numpy as np
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.model import Shape
from knead.core.pairing.shapes import pair_shapes
from tests.forms import drawing, polygon, stroked


@given(
    st.lists(st.tuples(st.floats(0.001, 1.9), st.floats(0, 6.28), st.booleans()), min_size=4, max_size=4),
    st.floats(0.6, 1.6),
)
@example([(0.01, 0.3, False), (1.4, 1.9, True), (0.002, 4.0, True), (1.9, 3.0, False)], 0.62)
def test_dots_of_a_pen_are_dots_however_they_were_dabbed(dabs: list[tuple[float, float, bool]], squash: float) -> None:
    """Opposite each other, in a face that is squashed, each stays where it is in that."""

    def dot(x: float, y: float, length: float, way: float, bow: bool) -> Shape:
        tip = (x + length * np.cos(way), y + length * np.sin(way))
        return stroked(polygon([(x, y), (x + length * 0.5 * bow, y), tip], closed=False))

    spots = [(120.0, 100.0), (280.0, 300.0)]
    first = [dot(*spot, *dab) for spot, dab in zip(spots, dabs, strict=False)]
    second = [dot(x * squash, y / squash, *dab) for (x, y), dab in zip(spots, dabs[2:], strict=True)]
    nose = [(190, 170), (215, 220), (190, 220)]
    noses = [stroked(polygon([(x * a, y / a) for x, y in nose], closed=False)) for a in (1.0, squash)]
    found = pair_shapes(drawing(noses[0], *first), drawing(*second[::-1], noses[1]), [])
    mates = {(pair.first, pair.second) for pair in found}
    assert {(a.id, b.id) for a, b in zip(first, second, strict=True)} <= mates
