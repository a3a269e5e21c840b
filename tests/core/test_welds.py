"""What shares an edge with a neighbour in both keys shares it all the way."""

import numpy as np
import pytest
import shapely

from knead.core.geometry.similarity import as_complex
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, PairTravel, Take
from tests.forms import apart, begun_at, distances, drawing, drawn_anew, filled, outline, polygon, smooth, stroked

TIMES = (0.2, 0.5, 0.8)


def box(degrees: float, start: int = 0) -> Drawing:
    """The three faces of a box that are seen, turned about its upright axis."""
    turn = np.exp(1j * np.radians(degrees))

    def seen(x: float, z: float, y: float) -> tuple[float, float]:
        at = (x + 1j * z) * turn
        return 200 + 90 * at.real, 220 + 90 * y + 33 * at.imag

    front = [(-1, 1), (1, 1)]
    side = [(1, 1), (1, -1)]
    top = [seen(x, z, -1) for x, z in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    walls = [[seen(*a, -1), seen(*b, -1), seen(*b, 1), seen(*a, 1)] for a, b in (front, side)]
    colors = ("#ffcc44", "#dd8822", "#aa6622")
    return drawing(*(filled(begun_at(polygon(f), start), color=c) for f, c in zip([top, *walls], colors, strict=True)))


@pytest.mark.parametrize("start", [0, 1, 3])
@pytest.mark.parametrize(("before", "after"), [(12, 52), (60, 15), (50, 75)])
def test_the_faces_of_a_box_keep_their_corners_and_their_edges(before: float, after: float, start: int) -> None:
    plan = plan_span(box(before), box(after, start), Take())
    for t in TIMES:
        corners = [np.array([n.at for n in shape.contours[0].nodes]) @ [1, 1j] for shape in plan.at(t).shapes]
        assert [len(row) for row in corners] == [4, 4, 4], "every corner becomes a corner"
        gaps = np.sort(np.abs(np.subtract.outer(corners[1], corners[2])).ravel())[:2]
        assert gaps.max() < 1e-6, "front and side share two corners"
        for wall in corners[1:]:
            assert np.sort(np.abs(np.subtract.outer(corners[0], wall)).ravel())[:2].max() < 1e-6, "and so with the top"


def leaf(bend: float) -> np.ndarray:
    """The ring of a leaf whose spine bends, as complex numbers; it begins at the stalk, and is at the tip half way."""
    along = np.linspace(0, 1, 9)
    spine = np.cumsum(np.append(0, 40 * np.exp(1j * bend * along[:-1]))) + 100 + 200j
    width = 30j * np.sin(np.pi * along) * np.exp(1j * bend * along)
    return np.concatenate([spine - width, (spine + width)[-2:0:-1]])


def through(places: np.ndarray, closed: bool) -> Contour:
    return polygon([(z.real, z.imag) for z in places.tolist()], closed=closed)


@pytest.mark.parametrize("part", [slice(0, 9), slice(4, 10), slice(2, 6)])
@pytest.mark.parametrize(("before", "after"), [(0.0, 2.6), (-0.8, 0.9), (0.2, 1.8)])
def test_no_gap_opens_between_a_line_and_the_fill_along_whose_edge_it_lies(
    before: float, after: float, part: slice
) -> None:
    first, second = (
        drawing(filled(through(ring, True), color="#66aa55"), stroked(through(ring[part], False)))
        for ring in (leaf(before), leaf(after))
    )
    plan = plan_span(first, second, Take())
    for t in TIMES:
        fill, line = (outline(shape.contours[0]) for shape in plan.at(t).shapes)
        assert shapely.distance(shapely.LineString(fill), shapely.points(line)).max() < 0.5
    for t, key in ((0.0, first), (1.0, second)):
        assert apart(plan.at(t).shapes[1].contours[0], key.shapes[1].contours[0]) < 1e-9, "exact at the keys"


def test_what_is_chosen_by_hand_for_a_line_goes_before_the_edge() -> None:
    rings = leaf(0.0), leaf(2.6)
    first, second = (
        drawing(filled(through(ring, True), color="#66aa55"), stroked(through(ring[:9], False))) for ring in rings
    )
    ids = first.shapes[1].id, second.shapes[1].id
    straight = Take(travels=(PairTravel(first=ids[0], second=ids[1], blend="direct"),))
    half = as_complex(outline(plan_span(first, second, straight).at(0.5).shapes[1].contours[0]))
    meant = 0.5 * (rings[0][:9] + rings[1][:9])
    assert np.abs(np.subtract.outer(meant, half)).min(axis=1).max() < 1


@pytest.mark.parametrize("bend", [2.0, 2.6])
def test_what_bends_much_keeps_its_form_rather_than_its_edges(bend: float) -> None:
    def halves(bend: float) -> Drawing:
        """Two halves on both sides of a spine that bends."""
        ring = leaf(bend)
        upper, lower = ring[:9], np.append(ring[8:], ring[0])
        spine = 0.5 * (upper + lower[::-1])
        sides = [np.concatenate([spine, side[-2:0:-1]]) for side in (upper, lower[::-1])]
        return drawing(*(filled(through(s, True), color=c) for s, c in zip(sides, ("#66aa55", "#447733"), strict=True)))

    first, second = halves(0.0), halves(bend)
    plan = plan_span(first, second, Take())
    areas = [
        [shapely.Polygon(outline(s.contours[0])).area for s in key.shapes] for key in (first, plan.at(0.5), second)
    ]
    assert areas[1] == pytest.approx(np.mean([areas[0], areas[2]], axis=0), rel=0.1)


def bean(bend: float, wave: float, begun: int, light: tuple[float, float], noise: np.random.Generator) -> Drawing:
    """A bean that bends, and a shade along one side of it in this part of its length, by a hand."""
    parts = np.linspace(0, 1, 21)
    ways = np.exp(1j * (bend * (parts - 0.5) + wave * np.sin(2 * np.pi * parts)))
    spine = 300 + 300j + 15.0 * (np.cumsum(ways) - ways.sum() / 2)
    side = 60j * ways * np.sqrt(1 - np.abs(2 * parts - 1) ** 6)
    there = (parts > light[0]) & (parts < light[1])
    body = np.concatenate([spine - side, (spine + side)[-2:0:-1]])
    shade = np.concatenate([(spine + side)[there], (spine + 0.4 * side)[there][-2:0:-1]])
    forms = [smooth([(z.real, z.imag) for z in row.tolist()]) for row in (body, shade)]
    forms = [begun_at(drawn_anew(form, noise, 1.4), begun) for form in forms]
    return drawing(*(filled(f, color=c) for f, c in zip(forms, ("#77bb66", "#447733"), strict=True)))


def along_edge(key: Drawing) -> float:
    """The share of a shade's outline that is along that of its bean."""
    body, shade = (outline(shape.contours[0]) for shape in key.shapes)
    return float(np.mean(distances(shade, [body]) < 4.0))


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize(("before", "after"), [((-1.2, 0.2), (1.2, -0.2)), ((-0.5, 0.4), (1.8, -0.4))])
def test_no_gap_opens_between_a_shade_and_the_edge_of_what_it_is_on(
    before: tuple[float, float], after: tuple[float, float], seed: int
) -> None:
    """By a hand, wherever the outlines were begun, and though light that falls otherwise shifts the shade."""
    noise = np.random.default_rng(seed)
    first = bean(*before, 0, (0.08, 0.92), noise)
    second = bean(*after, seed, (0.12, 0.9 - 0.02 * seed), noise)
    plan = plan_span(first, second, Take())
    for t in TIMES:
        assert along_edge(plan.at(t)) > min(along_edge(first), along_edge(second)) - 0.11
    for t, key in ((0.0, first), (1.0, second)):
        assert apart(plan.at(t).shapes[1].contours[0], key.shapes[1].contours[0]) < 1e-4, "exact at the keys"


def test_what_has_shrunk_to_a_point_on_an_edge_has_inbetweens() -> None:
    def key(left: float, at: tuple[float, float]) -> Drawing:
        box = polygon([(left, 100), (left + 200, 100), (left + 200, 300), (left, 300)])
        return drawing(*(filled(c, color=k) for c, k in ((box, "#77bb66"), (polygon([at] * 3), "#aa3311"))))

    points = plan_span(key(100, (200, 100)), key(140, (240, 100)), Take()).at(0.5).shapes[1].contours[0]
    assert np.isfinite(outline(points)).all()
