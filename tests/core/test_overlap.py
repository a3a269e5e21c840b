"""What two areas have in common, cut out of their own outlines."""

from collections.abc import Sequence
from functools import reduce

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from knead.core.geometry.bezier import Floats, path_of, points_at
from knead.core.geometry.overlap import Area, NotToldApart, common_area, line_within
from knead.core.model import Contour
from tests.forms import blob, ellipse, polygon, wave

Radii = st.lists(st.floats(40, 150), min_size=4, max_size=8)
Middle = st.tuples(st.floats(150, 350), st.floats(150, 350))
RING = path_of(ellipse(250, 250, 120, 90)), path_of(ellipse(250, 250, 60, 50))


def seen(paths: Sequence[Floats]) -> shapely.Geometry:
    rings = [shapely.Polygon(points_at(path, np.linspace(0, len(path), 64 * len(path) + 1))) for path in paths]
    return reduce(shapely.symmetric_difference, rings, shapely.Polygon())


@given(Radii, Middle)
@settings(max_examples=40)
def test_the_common_area_of_two_outlines_is_what_lies_in_both(radii: list[float], at: tuple[float, float]) -> None:
    one = [path_of(blob(radii, at=at))]
    for found in (common_area(Area(tuple(one)), Area(RING)), common_area(Area(RING), Area(tuple(one)))):
        assert abs(seen(found).area - seen(one).intersection(seen(RING)).area) < 1e-3 * seen(one).area
        nodes = np.concatenate([path[:, 0] for path in found]) if found else np.zeros((0, 2))
        edges = shapely.union(*(side.boundary for side in (seen(one), seen(RING))))
        assert shapely.distance(shapely.points(nodes), edges).max(initial=0.0) < 0.1


@pytest.mark.parametrize("node", range(4))
@pytest.mark.parametrize("off", [(0.0, 0.0), (7e-4, 5e-4), (-6e-4, 8e-4), (-5e-4, -9e-4)])
def test_outlines_are_told_apart_where_they_cross_beside_a_node(node: int, off: tuple[float, float]) -> None:
    """Chords cross on one side of it, and the curves that they stand for on the other."""
    one = path_of(blob([100, 60, 120, 80, 110]))
    one = one + RING[0][node, 0] + off - points_at(one, np.array([0.37]))[0]
    found = common_area(Area((one,)), Area(RING))
    assert abs(seen(found).area - seen([one]).intersection(seen(RING)).area) < 1e-3 * seen([one]).area


def test_what_of_a_line_lies_in_an_area_is_its_own_stretches() -> None:
    line = path_of(wave(5, 400, 30))
    pieces = line_within(line + np.array([50.0, 250.0]), False, Area(RING))
    drawn = shapely.LineString(points_at(line + np.array([50.0, 250.0]), np.linspace(0, len(line), 64 * len(line) + 1)))
    assert len(pieces) == 2
    lengths = [shapely.LineString(points_at(p, np.linspace(0, len(p), 64 * len(p) + 1))).length for p in pieces]
    assert abs(sum(lengths) - drawn.intersection(seen(RING)).length) < 0.2


@pytest.mark.parametrize(
    "outlines",
    [
        [polygon([(100, 100), (300, 300), (300, 100), (100, 300)])],  # crosses itself
        [ellipse(200, 200, 80, 80), ellipse(260, 200, 80, 80)],  # cross each other
        [polygon([(50, 100), (250, 100), (250, 300)])],  # runs along the other
    ],
)
def test_what_cannot_be_told_is_not_guessed(outlines: list[Contour]) -> None:
    box = Area((path_of(polygon([(100, 100), (400, 100), (400, 400), (100, 400)])),))
    with pytest.raises(NotToldApart):
        common_area(box, Area(tuple(path_of(contour) for contour in outlines)))
