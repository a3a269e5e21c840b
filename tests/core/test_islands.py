"""What would keep a form from turning as it should: contours that come or go, a loop in a corner, sides alike."""

import math

import numpy as np
import pytest
import shapely

from knead.core.blend.pair.islands import with_islands
from knead.core.blend.travel.solid import prepare
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Hint, HintEnd, Point, Shape, Take
from tests.forms import backwards, begun_at, drawing, ellipse, filled, outline, polygon, star, turned


def surface(shape: Shape) -> shapely.Geometry:
    """What a shape fills by the nonzero rule, where all that overlaps goes round the same way."""
    rings = [outline(contour) for contour in shape.contours]
    signs = [1 if shapely.LinearRing(ring).is_ccw else -1 for ring in rings]
    rings = [shapely.Polygon(ring) for ring in rings]
    main = signs[int(np.argmax([ring.area for ring in rings]))]
    added, cut = ([r for r, s in zip(rings, signs, strict=True) if (s == main) == own] for own in (True, False))
    return shapely.union_all(added).difference(shapely.union_all(cut))


def plank(degrees: float) -> Contour:
    return turned(polygon([(-90, -50), (90, -50), (110, 50), (-90, 50)]), degrees, 1.0, (200, 200))


@pytest.mark.parametrize("hole", [ellipse(200, 200, 12, 12), turned(star(5, 0.5, 30, (0, 0)), 20, 1.0, (180, 200))])
def test_what_turns_while_a_hole_closes_in_it_does_not_shrink(hole: Contour) -> None:
    first, second = filled(plank(0), backwards(hole)), filled(plank(90))
    plan = plan_span(drawing(first), drawing(second), Take())
    assert plan.pairs[0].way == "solid"
    area = shapely.Polygon(outline(plank(0))).area
    for t in (0.3, 0.5, 0.7):
        ring = shapely.Polygon(outline(plan.at(t).shapes[0].contours[0]))
        assert ring.area == pytest.approx(area, rel=0.02)


@pytest.mark.parametrize("start", [0, 1, 2])
def test_a_triangle_on_its_head_turns_to_its_next_tip(start: int) -> None:
    corners = [(100 * math.sin(2 * math.pi * k / 3), -94 * math.cos(2 * math.pi * k / 3)) for k in range(3)]
    upright = turned(polygon(corners), 0, 1.0, (200, 200))
    fallen = begun_at(turned(polygon(corners), 180, 1.0, (200, 200)), start)
    plan = plan_span(drawing(filled(upright)), drawing(filled(fallen)), Take())
    assert abs(plan.pairs[0].angle) == pytest.approx(math.pi / 3, abs=0.05)


def test_what_becomes_another_thing_is_not_rolled_over_by_where_its_holes_lie() -> None:
    ring = polygon([(60, 30), (75, 12), (125, 12), (140, 30), (175, 35), (175, 185), (25, 185), (25, 35)])
    handle, tick = (
        ellipse(100, 40, 22, 18),
        polygon([(70, 120), (90, 140), (130, 95), (138, 103), (90, 155), (62, 128)]),
    )
    button = polygon([(10, 40), (190, 40), (190, 160), (10, 160)])
    pauses = [polygon([(x, 65), (x + 22, 65), (x + 22, 135), (x, 135)]) for x in (65, 112)]
    bag = filled(ring, backwards(handle), backwards(tick))
    plan = plan_span(drawing(bag), drawing(filled(button, *map(backwards, pauses))), Take())
    assert abs(plan.pairs[0].angle) < 0.3


def rays(count: int, start: float, length: float) -> list[Contour]:
    bar = polygon([(start, -4), (start + length, -4), (start + length, 4), (start, 4)])
    return [turned(bar, 360 * k / count, 1.0, (200, 200)) for k in range(count)]


@pytest.mark.parametrize("way", [backwards, lambda contour: contour])
@pytest.mark.parametrize("comes", [True, False])
def test_the_rays_of_a_sun_that_was_a_larger_moon_are_about_where_they_will_be_and_cut_no_holes(
    way: object, comes: bool
) -> None:
    assert callable(way)
    moon, sun = filled(ellipse(200, 200, 110, 120)), filled(ellipse(200, 200, 55, 60), *map(way, rays(8, 75, 30)))
    first, second = (moon, sun) if comes else (sun, moon)
    plan = plan_span(drawing(first), drawing(second), Take())
    for t in (0.25, 0.5, 0.75):
        shape = plan.at(t).shapes[0]
        whole, disk = surface(shape), shapely.Polygon(outline(shape.contours[0]))
        assert whole.covers(disk.buffer(-0.5)), "a ray that lies on the disk is part of it"
        assert max(float(np.abs((outline(c) - 200) @ [1, 1j]).max()) for c in shape.contours) < 125


@pytest.mark.parametrize("size", [20, 26])
def test_a_loop_in_a_corner_does_not_keep_the_rest_from_turning_stiffly(size: float) -> None:
    corner, turn = np.linspace(85 - 49j, 108 - 30j, 7), np.exp(1j * math.radians(70))
    loop = 100 - 38j + size / 2 * np.exp(1j * (math.radians(135) - 2 * np.pi * np.arange(7) / 6))
    before, after = [-90 + 50j, -90 - 50j, -30 - 50j, 30 - 50j, 80 - 50j], [110 - 20j, 110 + 50j, 0 + 50j, -50 + 50j]
    first, second = np.array([*before, *corner, *after]), turn * np.array([*before, *loop, *after])
    contour = prepare(triples(first), triples(second), True, math.radians(70))
    assert contour is not None
    nodes = contour.at(np.array([0.5]))[0][0][1::3]
    meant = first * np.sqrt(turn)
    away = np.delete(nodes - meant, np.arange(5, 12))
    assert np.abs(away - away.mean()).max() < 15


def triples(ring: np.ndarray) -> np.ndarray:
    """The nodes of a polygon with handles a third along its sides, flat."""
    back, on = np.roll(ring, 1) - ring, np.roll(ring, -1) - ring
    return np.stack([ring + back / 3, ring, ring + on / 3], axis=1).ravel()


def box(x: float, y: float, width: float, height: float) -> Contour:
    return polygon([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])


PANES = [box(x, y, 70, 70) for x in (115, 215) for y in (115, 215)]


@pytest.mark.parametrize("move", [(0.0, 0.0), (400.0, 90.0)])
@pytest.mark.parametrize(
    ("whole", "parts"),
    [
        ([box(100, 100, 200, 200)], PANES),
        ([box(100, 100, 200, 200)], [box(100 + 68 * k, 100 + 68 * j, 56, 56) for k in range(3) for j in range(3)]),
        ([polygon([(100, 100), (280, 200), (100, 300)])], [box(105, 110, 45, 180), box(175, 110, 45, 180)]),
        (
            [box(100, 100, 200, 200), backwards(box(180, 20 + 100, 30, 30))],
            [box(100, 100, 90, 200), box(210, 100, 90, 200)],
        ),
    ],
)
def test_one_island_becomes_the_several_that_are_in_its_place(
    whole: list[Contour], parts: list[Contour], move: tuple[float, float]
) -> None:
    first, second = filled(*whole), filled(*(turned(part, 0, 1.0, move) for part in parts))
    area = surface(first).area
    for keys in ((first, second), (second, first)):
        plan = plan_span(drawing(keys[0]), drawing(keys[1]), Take())
        near, far = (surface(plan.at(t).shapes[0]).area for t in ((0.01, 0.5) if keys[0] is first else (0.99, 0.5)))
        assert near == pytest.approx(area, rel=0.04), "the pieces make up the whole"
        assert far == pytest.approx((area + surface(second).area) / 2, rel=0.15)
        assert "islands" in plan.pairs[0].pair.reason
        areas = [shapely.Polygon(outline(contour)).area for contour in plan.at(0.5).shapes[0].contours]
        least = min(shapely.Polygon(outline(part)).area for part in parts)
        assert sum(each > 0.4 * least for each in areas) == len(parts), "none comes from a point"


def test_rays_and_specks_are_no_parts_of_what_they_lie_on() -> None:
    moon, sun = filled(ellipse(200, 200, 110, 120)), filled(ellipse(200, 200, 55, 60), *rays(8, 75, 30))
    first, _ = with_islands(moon, sun)
    assert first is moon


@pytest.mark.parametrize("start", [0, 3])
def test_the_mouth_of_a_face_bends_over_and_the_face_stays_upright(start: int) -> None:
    arcs = [(42 * math.cos(a), 42 * math.sin(a)) for a in np.linspace(0.6, math.pi - 0.6, 6)]
    lips = [*arcs, *((0.72 * x, 0.72 * y) for x, y in arcs[::-1])]
    smile, frown = turned(polygon(lips), 0, 1.0, (200, 195)), turned(polygon(lips), 180, 1.0, (200, 265))
    eyes = [backwards(ellipse(x, 180, 9, 14)) for x in (175, 225)]
    face = ellipse(200, 200, 90, 90)
    first = filled(face, *eyes, backwards(smile))
    second = filled(begun_at(face, start), *eyes, backwards(begun_at(frown, start)))
    plan = plan_span(drawing(first), drawing(second), Take())
    half = plan.at(0.5).shapes[0].contours
    (mouth,) = [c for c in half if outline(c)[:, 1].min() > 205]
    width, height = np.ptp(outline(mouth), axis=0)
    assert width > 60, "its corners stay where they are"
    assert height < 22, "half way it is about straight"
    for kept in (face, *eyes):
        gaps = [shapely.LineString(outline(kept)).hausdorff_distance(shapely.LineString(outline(c))) for c in half]
        assert min(gaps) < 1


@pytest.mark.parametrize("degrees", [80, -75])
def test_a_sign_turns_with_its_arrow_though_its_frame_could_turn_less(degrees: float) -> None:
    arrow = polygon([(-8, 40), (-8, 0), (-30, 0), (0, -40), (30, 0), (8, 0), (8, 40)])
    bent = polygon([(-14, 40), (-2, 0), (-30, 12), (12, -46), (24, -12), (14, -6), (2, 40)])
    frame = polygon([(-100, 0), (0, -100), (100, 0), (0, 100)])
    leaning = polygon([(-28, 24), (-60, -64), (124, -60), (48, 184)])
    first = filled(*(turned(c, 0, 1.0, (200, 200)) for c in (frame, backwards(arrow))))
    second = filled(*(turned(c, degrees, 1.0, (200, 200)) for c in (leaning, backwards(bent))))
    plan = plan_span(drawing(first), drawing(second), Take())
    assert math.degrees(plan.pairs[0].angle) == pytest.approx(degrees, abs=12)


@pytest.mark.parametrize("which", [(True, True), (True, False), (False, True)])
def test_what_is_filled_alone_is_a_round_though_its_outline_is_open(which: tuple[bool, bool]) -> None:
    """One could take its ends for those of a line, which go to ends."""
    square = [(100, 100), (300, 100), (300, 300), (100, 300)]
    begun_elsewhere = [*square[2:], *square[:2]]
    keys = [polygon(ring, closed=not is_open) for ring, is_open in zip((square, begun_elsewhere), which, strict=True)]
    plan = plan_span(drawing(filled(keys[0])), drawing(filled(keys[1])), Take())
    (shape,) = plan.at(0.5).shapes
    half = shapely.Polygon(outline(shape.contours[0]))
    assert half.symmetric_difference(shapely.box(100, 100, 300, 300)).area < 1
    assert shape.contours[0].closed


def test_a_fill_whose_outline_is_open_divides_as_well() -> None:
    whole = polygon([(100, 100), (300, 100), (300, 300), (100, 300)], closed=False)
    halves = [polygon([(x, 105), (x + 90, 105), (x + 90, 295), (x, 295)], closed=False) for x in (100, 210)]
    plan = plan_span(drawing(filled(whole)), drawing(*map(filled, halves)), Take())
    assert [pair.pair.kind for pair in plan.pairs] == ["divides", "divides"]
    parts = [surface(shape) for shape in plan.at(0.01).shapes]
    assert shapely.union_all(parts).area == pytest.approx(40_000, rel=0.02)


def test_a_hint_on_a_shape_that_divides_lets_it_divide() -> None:
    whole = filled(box(100, 100, 200, 200))
    halves = [filled(box(x, 105, 90, 190)) for x in (100, 210)]
    for half, at in zip(halves, ((100, 100), (300, 100)), strict=True):
        there = half.contours[0].nodes[0 if half is halves[0] else 1].at
        hint = Hint(
            first=HintEnd(shape=whole.id, at=Point(*at)), second=HintEnd(shape=half.id, at=there), name="corner"
        )
        plan = plan_span(drawing(whole), drawing(*halves), Take(hints=(hint,)))
        assert [pair.pair.kind for pair in plan.pairs] == ["divides", "divides"]
        assert not plan.troubles


def crossed_out() -> tuple[Shape, Shape, Shape, Shape]:
    """A lantern and its stand; and both crossed out, the pieces shared out among two shapes as it comes."""
    lantern, stand = filled(box(160, 60, 80, 160)), filled(box(120, 260, 160, 20))
    cross = polygon([(110, 190), (280, 90), (290, 105), (120, 205)])
    upper = polygon([(160, 60), (240, 60), (240, 95), (160, 142)])
    lower = polygon([(160, 200), (240, 152), (240, 220), (160, 220)])
    return lantern, stand, filled(upper, box(120, 260, 160, 20)), filled(lower, cross)


@pytest.mark.parametrize("turned_round", [False, True])
def test_pieces_that_lie_in_other_shapes_go_to_those_in_whose_place_they_lie(turned_round: bool) -> None:
    lantern, stand, one, two = crossed_out()
    first, second = ((lantern, stand), (one, two))[:: -1 if turned_round else 1]
    plan = plan_span(drawing(*first), drawing(*second), Take())
    pairs = {(p.pair.first, p.pair.second) for p in plan.pairs}
    wanted = {(lantern.id, one.id), (lantern.id, two.id), (stand.id, one.id)}
    assert pairs == ({(b, a) for a, b in wanted} if turned_round else wanted)
    seen = shapely.union_all([surface(shape) for shape in plan.at(0.999 if turned_round else 0.001).shapes])
    assert surface(lantern).difference(seen.buffer(1)).area < 30
    half = shapely.union_all([surface(shape) for shape in plan.at(0.5).shapes])
    assert half.intersection(shapely.box(120, 255, 280, 285)).area > 3000, "the stand stands"
    names = [node.id for shape in plan.at(0.5).shapes for contour in shape.contours for node in contour.nodes]
    assert len(set(names)) == len(names), "it can be kept as a drawing"


def test_shapes_that_move_are_not_taken_for_others_that_lie_where_they_were() -> None:
    *_, one, two = crossed_out()
    moved = [filled(*(turned(c, 0, 1.0, (90.0, 130.0)) for c in shape.contours)) for shape in (one, two)]
    plan = plan_span(drawing(one, two), drawing(*moved), Take())
    assert {(p.pair.first, p.pair.second) for p in plan.pairs} == {(one.id, moved[0].id), (two.id, moved[1].id)}


def test_a_point_of_a_shape_that_divides_goes_where_its_piece_goes() -> None:
    lantern, stand, one, two = crossed_out()
    plan = plan_span(drawing(lantern, stand), drawing(one, two), Take())
    for at, shape in (((200.0, 60.0), one), ((200.0, 220.0), two)):
        partner = plan.partner(lantern.id, np.array(at), from_first=True)
        assert partner is not None
        assert partner[0] == shape.id
        assert abs(complex(*partner[1]) - complex(*at)) < 25
        back = plan.partner(shape.id, np.array(partner[1]), from_first=False)
        assert back is not None
        assert abs(complex(*back[1]) - complex(*at)) < 1
