"""What belongs to a fill goes with it: its ink, which is lines of its own, however cut, and what is drawn on it."""

import math
import random
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import pytest
import shapely

from knead.core.geometry.bezier import contour_of, path_of
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from knead.core.snags.find import findings
from tests.forms import backwards, blob, distances, drawing, ellipse, filled, outline, polygon, smooth, stroked

TIMES = np.linspace(0.1, 0.9, 5)
SPOT = "#f2c84b"
COLORS = ["#3f8a5f", "#4f9a6a", "#5fb47c", "#e8b98f"]


def limb(start: tuple[float, float], degrees: float, length: float, thick: float) -> Contour:
    """A limb that is thicker where it begins."""
    along = np.exp(1j * math.radians(degrees))
    places = [(-thick, 0), (0, thick), (0.5 * length, 0.8 * thick), (length, 0.6 * thick), (length + 0.6 * thick, 0)]
    rim = [*places, *((x, -y) for x, y in places[-2:0:-1])]
    found = [complex(*start) + complex(x, y) * along for x, y in rim]
    return smooth([(p.real, p.imag) for p in found])


def inked(form: Contour, color: str, rng: random.Random) -> list[Shape]:
    """A fill and its outline in two or three strokes, drawn from either end."""
    path = path_of(form)
    cuts = sorted(rng.sample(range(len(path)), rng.randint(2, 3)))
    around = np.concatenate([path[cuts[0] :], path[: cuts[0]]])
    stops = [cut - cuts[0] for cut in cuts] + [len(path)]
    strokes = [contour_of(around[a:b], False) for a, b in pairwise(stops)]
    return [filled(form, color=color), *(stroked(backwards(s) if rng.random() < 0.5 else s) for s in strokes)]


def limbs(lean: float, far: float, near: float, arm: float) -> list[tuple[Contour, str]]:
    hip, neck = (200 - lean, 250), (200 + lean, 150)
    middle = (200.0, 200.0)
    return [
        (limb(hip, far, 90, 16), COLORS[0]),
        (limb(hip, near, 90, 16), COLORS[1]),
        (blob([45, 44, 60, 44, 45, 44, 60, 44], at=middle), COLORS[2]),
        (limb(neck, arm, 80, 13), COLORS[3]),
    ]


def figure(lean: float, far: float, near: float, arm: float, seed: int) -> Drawing:
    rng = random.Random(seed)
    return drawing(*(shape for form, color in limbs(lean, far, near, arm) for shape in inked(form, color, rng)))


def seen(rims: Sequence[np.ndarray]) -> list[list[np.ndarray]]:
    """What is seen of each of some rims, from back to front."""
    areas = [shapely.Polygon(rim).buffer(0) for rim in rims]
    found = []
    for k, rim in enumerate(rims):
        line = shapely.LineString(rim).difference(shapely.union_all(areas[k + 1 :]).buffer(-0.3))
        line = shapely.line_merge(line) if line.geom_type == "MultiLineString" else line
        found.append([shapely.get_coordinates(part) for part in shapely.get_parts(line) if part.length > 3.0])
    return found


def over_all(parts: Sequence[tuple[Contour, str]]) -> Drawing:
    """Fills, and on top of all of them the ink of what is seen of their edges."""
    rims = [outline(form, 16) for form, _ in parts]
    ink = [stroked(polygon(places.tolist(), closed=False)) for lines in seen(rims) for places in lines]
    return drawing(*(filled(form, color=color) for form, color in parts), *ink)


@pytest.mark.parametrize(
    ("first", "second", "seed"),
    [
        ((0, 50, 130, 100), (10, 130, 50, 20), 0),
        ((5, 70, 115, 160), (-5, 112, 72, -10), 1),
        ((0, 90, 60, 60), (0, 40, 120, 215), 0),
    ],
)
def test_ink_goes_with_its_fill_though_limbs_cross(
    first: tuple[float, ...], second: tuple[float, ...], seed: int
) -> None:
    plan = plan_span(figure(*first, seed), figure(*second, seed + 100), Take())
    for t in TIMES:
        shapes = plan.at(float(t)).shapes
        edges = [shapely.LineString(outline(s.contours[0])) for s in shapes if s.fill is not None]
        assert len(edges) == len(COLORS)
        lines = [shapely.LineString(outline(s.contours[0])) for s in shapes if s.fill is None]
        assert shapely.unary_union(edges).hausdorff_distance(shapely.unary_union(lines)) < 4.0
    assert not findings(plan, Take(), TIMES.tolist()).snags


STEPS = [
    ((0, 50, 130, 100), (10, 130, 50, 20)),
    ((5, 70, 115, 160), (-5, 112, 72, -10)),
    ((0, 90, 60, 60), (0, 40, 120, 215)),
    ((0, 90, 90, 90), (4, 50, 125, 60)),
]


@pytest.mark.parametrize(("first", "second"), STEPS)
def test_ink_on_top_of_all_fills_goes_along_their_edges_and_behind_what_hides_them(
    first: tuple[float, ...], second: tuple[float, ...]
) -> None:
    plan = plan_span(over_all(limbs(*first)), over_all(limbs(*second)), Take())
    for t in TIMES:
        shapes = plan.at(float(t)).shapes
        fills = [(k, outline(s.contours[0], 16)) for k, s in enumerate(shapes) if s.fill is not None]
        drawn = []
        for k, places in ((k, outline(s.contours[0], 16)) for k, s in enumerate(shapes) if s.fill is None):
            off = [distances(places, [rim]).mean() for _, rim in fills]
            assert min(off) < 1.0
            own = int(np.argmin(off))
            drawn.append(shapely.LineString(places))
            for level, rim in fills[own + 1 :]:
                assert level > k or not shapely.contains_xy(shapely.Polygon(rim).buffer(-4.0), *places.T).any()
        rims = np.concatenate([line for lines in seen([rim for _, rim in fills]) for line in lines])
        assert np.mean(shapely.distance(shapely.union_all(drawn), shapely.points(rims)) < 2.0) > 0.95
    assert not {snag.kind for snag in findings(plan, Take(), TIMES.tolist()).snags} & {"gap", "area"}


def spotted(far: float, near: float, order: int) -> Drawing:
    """Two legs of unlike greens with two spots each, all of them alike."""
    shapes = []
    for degrees, color in ((far, COLORS[0]), (near, COLORS[1])):
        along = np.exp(1j * math.radians(degrees))
        places = [200 + 250j + step * along for step in (30, 60)][::order]
        shapes.append(filled(limb((200, 250), degrees, 90, 16), color=color))
        shapes += [filled(ellipse(p.real, p.imag, 5, 5), color=SPOT) for p in places]
    return drawing(*shapes)


@pytest.mark.parametrize("order", [1, -1])
@pytest.mark.parametrize(("first", "second"), [((50, 130), (130, 50)), ((70, 112), (115, 72)), ((60, 125), (120, 40))])
def test_spots_on_legs_that_pass_each_other_stay_on_them(
    first: tuple[float, float], second: tuple[float, float], order: int
) -> None:
    plan = plan_span(spotted(*first, 1), spotted(*second, order), Take())
    for t in TIMES:
        forms = [(shape.fill, shapely.Polygon(outline(shape.contours[0]))) for shape in plan.at(float(t)).shapes]
        spots = [form for fill, form in forms if fill and fill.paint.color == SPOT]
        legs = [form.buffer(1.0) for fill, form in forms if fill and fill.paint.color != SPOT]
        assert len(spots) == 4
        assert all(any(leg.contains(spot) for leg in legs) for spot in spots)


def test_an_eye_with_a_strand_of_hair_under_it_stays_the_same_eye() -> None:
    def face(left: float, right: float, look: float) -> Drawing:
        strands = [smooth([(x - 12, 120), (x + 12, 120), (x + 10, 300), (x - 10, 300)]) for x in (left, right)]
        eyes = [filled(ellipse(x + look, 200, 6, 9), color="#202020") for x in (170, 230)]
        hair = [filled(strand, color=COLORS[0]) for strand in strands]
        return drawing(filled(ellipse(200, 200, 70, 80), color=COLORS[3]), *hair, *eyes)

    one, two = face(174, 254, 4), face(146, 226, -4)
    found = {(p.first_id, p.second_id) for p in plan_span(one, two, Take()).pairs}
    assert {(a.id, b.id) for a, b in zip(one.shapes, two.shapes, strict=True)} == found
