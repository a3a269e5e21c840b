"""Many likes that keep their pattern keep their places in it: a dot that swells does not become one of its old size."""

import math
import random
from itertools import product

from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.model import Contour
from knead.core.pairing.shapes import pair_shapes
from tests.forms import drawing, ellipse, filled, polygon, turned

SPOTS = list(product(range(4), range(3)))


def dot(spot: tuple[int, int], size: float) -> Contour:
    return ellipse(100.0 + 60 * spot[0], 100.0 + 60 * spot[1], size, size)


@given(st.randoms(use_true_random=False), st.integers(-30, 30), st.floats(0.8, 1.3), st.integers(-25, 25))
@example(random.Random(1), 0, 1.0, 0)
def test_dots_of_a_screen_swell_in_their_places_however_the_whole_moves(
    rng: random.Random, degrees: int, scale: float, shift: int
) -> None:
    """In each key one is missing."""
    gone = rng.sample(range(len(SPOTS)), 2)
    first = [filled(dot(spot, rng.uniform(6, 26))) for spot in SPOTS]
    second = [filled(turned(dot(spot, rng.uniform(6, 26)), degrees, scale, (shift, 0))) for spot in SPOTS]
    kept = {(a.id, b.id) for k, (a, b) in enumerate(zip(first, second, strict=True)) if k not in gone}
    sides = [[shape for k, shape in enumerate(side) if k != gone[n]] for n, side in enumerate((first, second))]
    for side in sides:
        rng.shuffle(side)
    found = {(pair.first, pair.second) for pair in pair_shapes(drawing(*sides[0]), drawing(*sides[1]), [])}
    assert kept <= found


def tile(column: int, row: int, degrees: float, depth: float) -> Contour:
    """A tile of a floor that is turned by degrees and goes off into the distance."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    corners = [(column + x - 2.0, row + y - 2.0) for x, y in ((0, 0), (1, 0), (1, 1), (0, 1))]
    spots = [(x * c - y * s, x * s + y * c) for x, y in corners]
    return polygon([(300 + 60 * x / (1 - depth * y), 200 + 30 * y / (1 - depth * y)) for x, y in spots])


@given(st.integers(28, 40), st.floats(0.03, 0.08), st.sampled_from([-1, 1]))
@example(38, 0.06, 1)
def test_tiles_of_a_floor_keep_their_places_as_it_turns(degrees: int, depth: float, way: int) -> None:
    """They are all of one colour, and those at its edge would have less far to go the other way round."""
    places = list(product(range(4), repeat=2))
    first = [filled(tile(*place, way * 5, depth)) for place in places]
    second = [filled(tile(*place, way * (5 + degrees), depth)) for place in places]
    found = {(pair.first, pair.second) for pair in pair_shapes(drawing(*first), drawing(*second), [])}
    assert found == {(a.id, b.id) for a, b in zip(first, second, strict=True)}
