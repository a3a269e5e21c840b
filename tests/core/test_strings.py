"""Likes in a line keep their order in it: neighbours of a caterpillar that bends stay neighbours."""

import random

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.model import Shape
from knead.core.pairing.shapes import pair_shapes
from tests.forms import drawing, ellipse, filled, stroked

BENDS = st.tuples(st.floats(-3.0, 3.0), st.floats(-1.0, 1.0))


def caterpillar(joints: int, bend: float, sway: float, step: float) -> list[Shape]:
    along = np.linspace(-0.5, 0.5, joints)
    ways = bend * along + sway * np.sin(2 * np.pi * along)
    places = 400 + 400j + np.cumsum(step * np.exp(1j * ways))
    return [filled(ellipse(place.real, place.imag, 20, 20)) for place in places.tolist()]


@given(st.integers(5, 12), BENDS, BENDS, st.floats(25, 42), st.randoms(use_true_random=False))
@example(12, (0.4, 0.0), (2.9, 0.6), 36.0, random.Random(1))
def test_neighbours_of_a_line_stay_neighbours(
    joints: int, bend: tuple[float, float], other: tuple[float, float], step: float, rng: random.Random
) -> None:
    first, second = caterpillar(joints, *bend, step), caterpillar(joints, *other, step)
    place = {shape.id: k for side in (first, second) for k, shape in enumerate(side)}
    keys = [drawing(*rng.sample(side, joints)) for side in (first, second)]
    found = {place[p.first]: place[p.second] for p in pair_shapes(*keys, []) if p.first and p.second}
    order = [found.get(k) for k in range(joints)]
    assert order in (list(range(joints)), list(range(joints))[::-1])


def test_a_line_that_plainly_goes_on_as_it_was_is_sure() -> None:
    keys = [drawing(*caterpillar(8, bend, 0.0, 36.0)) for bend in (0.2, 1.6)]
    assert min(pair.confidence for pair in pair_shapes(*keys, [])) > 0.7  # of each, the next is nearly as like


@pytest.mark.parametrize(("times", "more"), [(1.0, 6.0), (1.5, 0.0)])  # one of them comes to where another was
def test_rings_about_one_place_are_no_line(times: float, more: float) -> None:
    radii = range(20, 120, 20)
    first, second = (
        [stroked(ellipse(200, 200, r, r)) for r in side] for side in (radii, [times * r + more for r in radii])
    )
    found = {(pair.first, pair.second) for pair in pair_shapes(drawing(*first), drawing(*second[::-1]), [])}
    assert found == {(a.id, b.id) for a, b in zip(first, second, strict=True)}
