"""Which shape becomes which, and what happens to those without partner."""

import random
from itertools import pairwise

import numpy as np
import pytest
import shapely

from knead.core.color import to_hex, to_oklab
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Fill, Paint, PairChoice, Shape, Take
from tests.forms import backwards, blob, drawing, ellipse, filled, outline, polygon, star, stroked, turned, wave


def figure(degrees: float, move: tuple[float, float], seed: int) -> tuple[Drawing, list[str]]:
    """A face of eight shapes, moved and turned as a whole, in shuffled order; and their ids in a fixed order."""
    parts = [
        filled(blob([150, 160, 140, 150, 155], at=(0, 0)), color="#77aa55"),
        filled(ellipse(-50, -30, 24, 20), color="#ffffff"),
        filled(ellipse(50, -30, 24, 20), color="#ffffff"),
        filled(ellipse(-46, -28, 9, 9), color="#111111"),
        filled(ellipse(54, -28, 9, 9), color="#111111"),
        stroked(turned(wave(4, 90, 8), 0, move=(-45, 50))),
        filled(star(5, size=18, at=(0, -110)), color="#ffcc33"),
        stroked(polygon([(-90, 90), (-120, 150)], closed=False), width=9),
    ]
    moved = [s.model_copy(update={"contours": tuple(turned(c, degrees, 1.0, move) for c in s.contours)}) for s in parts]
    order = moved[:]
    random.Random(seed).shuffle(order)
    return Drawing(shapes=tuple(order)), [s.id for s in moved]


@pytest.mark.parametrize(("degrees", "move", "seed"), [(0, (300, 200), 1), (14, (520, 260), 2), (-20, (100, 400), 3)])
def test_like_goes_to_like_whatever_the_order(degrees: float, move: tuple[float, float], seed: int) -> None:
    (first, one), (second, two) = figure(0, (200, 200), 0), figure(degrees, move, seed)
    found = {(p.first_id, p.second_id) for p in plan_span(first, second, Take()).pairs}
    assert found == set(zip(one, two, strict=True))


def test_what_is_left_over_in_both_keys_does_not_become_each_other_if_all_else_is_plain() -> None:
    (first, one), (second, two) = figure(0, (200, 200), 0), figure(14, (300, 240), 2)
    bar = filled(polygon([(300, 100), (360, 100), (360, 108), (300, 108)]), color="#77aa55")
    bulge = filled(blob([100, 60, 120, 80], at=(300, 500)), color="#77aa55")
    plan = plan_span(drawing(*first.shapes, bar), drawing(*second.shapes, bulge), Take())
    lone = {(bar.id, None), (None, bulge.id)}
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {*zip(one, two, strict=True), *lone}


def test_a_shape_of_another_colour_does_not_take_the_place() -> None:
    red, blue = filled(ellipse(100, 100, 40, 40), color="#cc2222"), filled(ellipse(300, 100, 40, 40), color="#2244cc")
    red2, blue2 = filled(ellipse(300, 110, 44, 40), color="#c42a22"), filled(ellipse(100, 110, 40, 44), color="#2a44c4")
    plan = plan_span(drawing(red, blue), drawing(blue2, red2), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {(red.id, red2.id), (blue.id, blue2.id)}


@pytest.mark.parametrize("seed", range(4))
def test_bars_of_a_row_stay_in_their_places_however_high_they_become(seed: int) -> None:
    rng = random.Random(seed)
    places = [80 + 60 * k for k in range(5)]

    def row() -> list[Shape]:
        tops = [(x, 360 - rng.uniform(70, 300)) for x in places]
        bars = [filled(polygon([(x, y), (x + 40, y), (x + 40, 360), (x, 360)])) for x, y in tops]
        return rng.sample(bars, len(bars))

    half = plan_span(drawing(*row()), drawing(*row()), Take()).at(0.5)
    assert sorted(float(outline(bar.contours[0])[:, 0].min()) for bar in half.shapes) == pytest.approx(places, abs=0.5)
    assert all(float(np.ptp(outline(bar.contours[0])[:, 0])) == pytest.approx(40, abs=0.5) for bar in half.shapes)


@pytest.mark.parametrize("seed", range(4))
def test_lines_of_a_text_stay_in_their_rows_however_long_they_become(seed: int) -> None:
    rng = random.Random(seed)
    rows = [100 + 40 * k for k in range(6)]

    def text() -> list[Shape]:
        lines = [polygon([(110, y), (rng.uniform(170, 310), y)], closed=False) for y in rows]
        return [stroked(backwards(line) if rng.random() < 0.5 else line) for line in rng.sample(lines, len(lines))]

    half = plan_span(drawing(*text()), drawing(*text()), Take()).at(0.5)
    assert sorted(float(outline(line.contours[0])[:, 1].mean()) for line in half.shapes) == pytest.approx(rows, abs=0.5)
    assert all(float(outline(line.contours[0])[:, 0].min()) == pytest.approx(110, abs=0.5) for line in half.shapes)


@pytest.mark.parametrize("back", [False, True])
def test_what_stays_in_its_place_is_not_taken_for_what_goes(back: bool) -> None:
    """Of the arcs around a dot only the inner one is left: the outer one does not shrink to it."""
    ways = np.exp(-0.25j * np.pi * np.linspace(1, 3, 9))
    arcs = [polygon([(200 + z.real, 290 + z.imag) for z in r * ways], closed=False) for r in (60, 120, 180)]
    strong = [*map(stroked, arcs), filled(ellipse(200, 290, 14, 14))]
    weak = [stroked(backwards(arcs[0])), filled(ellipse(200, 290, 14, 14))]
    pairs = plan_span(*(drawing(*side) for side in ((weak, strong) if back else (strong, weak))), Take()).pairs
    paired = [(p.second_id, p.first_id) if back else (p.first_id, p.second_id) for p in pairs]
    assert {pair for pair in paired if None not in pair} == {(strong[0].id, weak[0].id), (strong[3].id, weak[1].id)}


def test_nearly_black_is_black() -> None:
    """Tools write black in many ways; no eye tells them apart, and so the left eye stays the left one."""

    def face(left: str, right: str, round_: float) -> tuple[Drawing, list[str]]:
        head = filled(ellipse(200, 200, 150, 160), color="#ddaa77")
        eyes = [filled(ellipse(x, 180, 14, 14 * round_), color=color) for x, color in ((182, left), (218, right))]
        return drawing(head, *eyes), [head.id, *(eye.id for eye in eyes)]

    (first, one), (second, two) = face("#050504", "#000000", 1.0), face("#000000", "#030000", 0.9)
    found = {(p.first_id, p.second_id) for p in plan_span(first, second, Take()).pairs}
    assert found == set(zip(one, two, strict=True))


def test_a_line_of_which_a_stroke_is_missing_is_not_stretched_over_the_rest() -> None:
    """Five strokes are one line, of which the first is gone in the second key: the others stay what they are."""
    line = wave(6, 400)
    bones = [Contour(nodes=ends) for ends in pairwise(line.nodes)]
    first, second = ([stroked(turned(c, degrees)) for c in bones] for degrees in (0, 20))
    plan = plan_span(drawing(*first), drawing(*second[1:]), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {
        (first[0].id, None),
        *((a.id, b.id) for a, b in zip(first[1:], second[1:], strict=True)),
    }


@pytest.mark.parametrize("degrees", [0, 60, 135, 180])
def test_contours_of_one_shape_pair_by_form_however_the_shape_turns(degrees: float) -> None:
    letters = star(5, size=60, at=(0, 0)), blob([60, 20, 60, 20], at=(150, 0)), ellipse(150, 0, 12, 12)
    first = filled(*letters)
    second = filled(*(turned(c, degrees, 1.1, (300, 200)) for c in reversed(letters)))
    (pair,) = plan_span(drawing(first), drawing(second), Take()).pairs
    assert {(c.first_contour, c.second_contour) for c in pair.runs} == {(0, 2), (1, 1), (2, 0)}


def test_outlines_of_one_shape_that_overlap_are_no_holes() -> None:
    bars = polygon([(0, 0), (30, 0), (30, 300), (0, 300)]), polygon([(5, 10), (150, 10), (150, 40), (5, 40)])
    wide = (
        polygon([(0, 0), (80, 0), (80, 300), (0, 300)]),
        polygon([(90, 10), (190, 10), (190, 90), (40, 90), (40, 10)]),
    )
    (pair,) = plan_span(drawing(filled(*bars)), drawing(filled(*wide)), Take()).pairs
    assert {(c.first_contour, c.second_contour) for c in pair.runs} == {(0, 0), (1, 1)}


def test_a_hole_that_pokes_out_in_one_key_stays_the_hole_it_is_in_the_other() -> None:
    plate = polygon([(0, 0), (200, 0), (200, 200), (0, 200)])
    window, moved = (polygon([(x, 60), (x + 80, 60), (x + 80, 140), (x, 140)]) for x in (60, 146))
    for first, second in ((window, moved), (moved, window)):
        (pair,) = plan_span(drawing(filled(plate, first)), drawing(filled(second, plate)), Take()).pairs
        assert {(c.first_contour, c.second_contour) for c in pair.runs} == {(0, 1), (1, 0)}


def test_lineage_is_stronger_than_likeness_and_the_hand_is_stronger_than_lineage() -> None:
    a, b = filled(ellipse(100, 100, 40, 40)), filled(ellipse(300, 100, 40, 40))
    swapped = drawing(
        a.model_copy(update={"contours": (turned(a.contours[0], 0, move=(200, 0)),)}),
        b.model_copy(update={"contours": (turned(b.contours[0], 0, move=(-200, 0)),)}),
    )
    plan = plan_span(drawing(a, b), swapped, Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {(a.id, a.id), (b.id, b.id)}
    by_hand = plan_span(drawing(a, b), swapped, Take(pairs=(PairChoice(first=a.id, second=b.id),)))
    assert (a.id, b.id) in {(p.first_id, p.second_id) for p in by_hand.pairs}
    assert by_hand.pairs[0].pair.reason == "fixed by hand"


def test_given_names_pair_and_counted_names_do_not() -> None:
    ear, tail = filled(ellipse(100, 100, 30, 40), name="ear"), filled(ellipse(300, 100, 30, 40), name="tail")
    ear2, tail2 = filled(ellipse(300, 105, 30, 40), name="ear"), filled(ellipse(100, 105, 30, 40), name="tail")
    plan = plan_span(drawing(ear, tail), drawing(ear2, tail2), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {(ear.id, ear2.id), (tail.id, tail2.id)}
    counted = [s.model_copy(update={"name": n}) for s, n in ((ear, "p1"), (tail, "p2"), (ear2, "p1"), (tail2, "p2"))]
    plan = plan_span(drawing(*counted[:2]), drawing(*counted[2:]), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {(ear.id, tail2.id), (tail.id, ear2.id)}


def test_names_that_are_borne_twice_pair_within_their_parts() -> None:
    def eyes(left: float, right: float, y: float) -> list[Shape]:
        lids = [filled(ellipse(x, y, 30, 20), name="lid") for x in (left, right)]
        return [
            s.model_copy(update={"part": f"head/{side} eye"}) for s, side in zip(lids, ("left", "right"), strict=True)
        ]

    ones, twos = eyes(100, 300, 100), eyes(300, 100, 105)
    plan = plan_span(drawing(*ones), drawing(*twos), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {(a.id, b.id) for a, b in zip(ones, twos, strict=True)}


@pytest.mark.parametrize(("names", "stay"), [(("near leg", "far leg"), True), (("leg 1", "leg 2"), False)])
def test_legs_that_are_alike_and_cross_stay_in_the_parts_that_both_keys_have(
    names: tuple[str, str], stay: bool
) -> None:
    def legs(near: int, far: int) -> list[Shape]:
        found: list[Shape] = []
        for way, name in zip((near, far), names, strict=True):
            leg = stroked(polygon([(200, 100), (200 + 4 * way, 200), (200 + 6 * way, 300)], closed=False), width=20)
            foot = filled(ellipse(200 + 6 * way, 305, 22, 10), color="#553311")
            found += [shape.model_copy(update={"part": f"walker/{name}"}) for shape in (leg, foot)]
        return found

    ones, twos = legs(10, -10), legs(-11, 9)
    plan = plan_span(drawing(*ones), drawing(*twos), Take())
    mates = {(a.id, b.id) for a, b in zip(ones, twos if stay else [*twos[2:], *twos[:2]], strict=True)}
    assert {(p.first_id, p.second_id) for p in plan.pairs} == mates
    assert {s.part for s in plan.at(0.5).shapes} == {f"walker/{name}" for name in names}


def test_a_line_that_was_cut_is_in_its_own_part_on_the_way() -> None:
    places = [(100.0, 100.0), (200.0, 180.0), (280.0, 200.0), (400.0, 230.0)]
    moved = [(x, y + 20.0) for x, y in places]
    rope = stroked(polygon(places, closed=False)).model_copy(update={"part": "boat/rope"})
    pieces = [stroked(polygon(row, closed=False)).model_copy(update={"part": "boat"}) for row in (moved[:3], moved[2:])]
    plan = plan_span(drawing(rope), drawing(*pieces), Take())
    assert plan.pairs[0].pair.kind == "recut"
    assert {s.part for s in plan.at(0.25).shapes} == {"boat/rope"}
    assert {s.part for s in plan.at(0.75).shapes} == {"boat"}


def test_shapes_without_partner_grow_and_shrink_without_flicker() -> None:
    body = filled(blob([100, 120, 90, 110, 100]), color="#668844")
    leg = stroked(polygon([(500, 500), (560, 600)], closed=False), width=12)
    plan = plan_span(drawing(body), drawing(body, leg), Take())
    sizes, widths = [], []
    for t in np.linspace(0, 1, 11):
        shape = plan.at(float(t)).shape(leg.id)
        sizes.append(0.0 if shape is None else float(np.ptp(outline(shape.contours[0]), axis=0).max()))
        widths.append(0.0 if shape is None or shape.stroke is None else shape.stroke.width)
    assert np.all(np.diff(sizes) > 0)
    assert np.diff(sizes).max() < 1.5 * np.diff(sizes).mean()
    assert widths[-1] == 12
    assert np.all(np.diff(widths) > 0)


@pytest.mark.parametrize("appears", [True, False])
def test_what_appears_or_vanishes_with_its_parts_stays_one_thing(appears: bool) -> None:
    body = filled(ellipse(200, 200, 100, 80), color="#668844")
    thigh = filled(ellipse(280, 260, 30, 24), color="#aa2211")
    foot = stroked(polygon([(290, 275), (370, 330)], closed=False), width=9)
    eye = filled(ellipse(140, 160, 30, 30), color="#ffffff")
    pupil = filled(ellipse(158, 160, 9, 9), color="#101010")
    whole, bare = drawing(body, foot, thigh, pupil, eye), drawing(body)
    plan = plan_span(bare, whole, Take()) if appears else plan_span(whole, bare, Take())
    for t in np.linspace(0.05, 0.95, 7):
        shown = plan.at(float(t) if appears else 1 - float(t))
        leg, toe, white, black = (outline(shown.shape(s.id).contours[0]) for s in (thigh, foot, eye, pupil))
        assert shapely.Polygon(leg).intersects(shapely.LineString(toe))
        assert shapely.Polygon(white).contains(shapely.Polygon(black))


def test_a_blossom_with_its_petals_and_a_sun_with_its_rays_grow_as_one() -> None:
    ground = filled(polygon([(0, 300), (400, 300), (400, 400), (0, 400)]), color="#4f7a4c")
    stem = stroked(polygon([(100, 300), (100, 160)], closed=False), width=6)
    angles = np.radians([0, 90, 180, 270])
    centre, disc = (
        filled(ellipse(100, 150, 18, 18), color="#ffcc33"),
        filled(ellipse(300, 100, 24, 24), color="#ee9922"),
    )
    petals = [filled(ellipse(*(100 + 36 * np.cos(a), 150 + 36 * np.sin(a)), 16, 16), color="#dd66aa") for a in angles]
    spokes = [(np.cos(a), np.sin(a)) for a in angles]
    rays = [
        stroked(polygon([(300 + 32 * x, 100 + 32 * y), (300 + 54 * x, 100 + 54 * y)], closed=False), width=4)
        for x, y in spokes
    ]
    plan = plan_span(drawing(ground, stem), drawing(ground, stem, *petals, centre, *rays, disc), Take())
    for group in ([centre, *petals], [disc, *rays]):
        half, whole = (
            np.array([outline(plan.at(t).shape(s.id).contours[0]).mean(axis=0) for s in group]) for t in (0.5, 1.0)
        )
        assert half - half[0] == pytest.approx(0.5 * (whole - whole[0]), abs=1e-6)


@pytest.mark.parametrize("shift", [0.0, 9.0])
def test_new_blades_of_grass_grow_from_the_ground(shift: float) -> None:
    def blade(x: float, height: float) -> Shape:
        return filled(polygon([(x, 0), (x + 0.25 * height, -height), (x + 10, 0)]), color="#55aa33")

    first, new = [blade(x, 40) for x in (40, 80, 120, 160)], [blade(x + shift, 80) for x in (60, 100, 140)]
    grown = [blade(x + shift, 80) for x in (40, 80, 120, 160)]
    plan = plan_span(drawing(*first), drawing(*grown, *new), Take())
    for t in (0.1, 0.4, 0.7):
        feet = [outline(plan.at(t).shape(s.id).contours[0])[:, 1].max() for s in new]
        assert feet == pytest.approx([0.0, 0.0, 0.0], abs=2)


def test_a_light_grows_from_its_lamp_and_a_jack_out_of_its_box() -> None:
    shade = filled(polygon([(150, 120), (250, 120), (280, 200), (120, 200)]), color="#335577")
    lamp = shade, filled(polygon([(194, 200), (206, 200), (206, 340), (194, 340)]), color="#553322")
    light = filled(polygon([(120, 200), (280, 200), (360, 340), (40, 340)]), color="#ffeeaa")
    half = plan_span(drawing(*lamp), drawing(light, *lamp), Take()).at(0.5)
    assert outline(half.shape(light.id).contours[0])[:, 1].min() == pytest.approx(200, abs=1)
    box = filled(polygon([(120, 240), (280, 240), (280, 360), (120, 360)]), color="#335577")
    zigzag = [(200, 240), (170, 220), (230, 200), (170, 180), (230, 160), (200, 140)]
    spring, head = stroked(polygon(zigzag, closed=False)), filled(ellipse(200, 105, 40, 40), color="#eecc99")
    half = plan_span(drawing(box), drawing(box, spring, head), Take()).at(0.5)
    foot = outline(half.shape(spring.id).contours[0])[:, 1].max()
    chin = outline(half.shape(head.id).contours[0])[:, 1].max()
    assert foot == pytest.approx(240, abs=1)
    assert chin == pytest.approx(240 - (240 - 145) / 2, abs=1)


def test_all_drops_of_rain_become_flakes_though_some_are_farther_off() -> None:
    lines = [polygon([(x, 190), (x - 15, 230)], closed=False) for x in (110, 160, 210, 260)]
    drops = [stroked(line, width=8, color="#4488cc") for line in lines]
    places = [(100, 220), (150, 250), (200, 215), (250, 245)]
    flakes = [filled(ellipse(x, y, 10, 10), color="#88aadd") for x, y in places]
    pairs = plan_span(drawing(*drops), drawing(*flakes), Take()).pairs
    assert {(p.first_id, p.second_id) for p in pairs} == {(a.id, b.id) for a, b in zip(drops, flakes, strict=True)}


def test_a_leaf_grows_beside_a_stalk_and_a_bud_that_are_one_path() -> None:
    """The place of what is in parts may be a line and an area."""
    plant = stroked(polygon([(200, 380), (200, 240)], closed=False), ellipse(240, 200, 30, 30))
    leaf = filled(polygon([(200, 380), (200, 260), (300, 300)]), color="#558855")
    half = plan_span(drawing(plant), drawing(plant, leaf), Take()).at(0.5)
    assert outline(half.shape(leaf.id).contours[0])[:, 0].min() < 215


def test_a_ray_that_is_nearer_to_the_hill_goes_with_the_sun_all_the_same() -> None:
    hill = filled(polygon([(0, 140), (200, 140), (200, 200), (0, 200)]), color="#558855")
    low, high = (filled(ellipse(100, y, 34, 34), color="#ffbb33") for y in (170, 70))
    ways = [(np.cos(a), np.sin(a)) for a in np.radians(np.arange(0, 360, 45))]
    rays = [stroked(polygon([(100 + 46 * x, 70 + 46 * y), (100 + 66 * x, 70 + 66 * y)], closed=False)) for x, y in ways]
    plan = plan_span(drawing(low, hill), drawing(high, *rays, hill), Take())
    for t in (0.3, 0.7):
        middle = outline(plan.at(t).shape(low.id).contours[0]).mean(axis=0)
        away = [np.linalg.norm(outline(plan.at(t).shape(r.id).contours[0]).mean(axis=0) - middle) for r in rays]
        assert np.ptp(away) < 3


@pytest.mark.parametrize("appears", [True, False])
@pytest.mark.parametrize("degrees", [0.0, 30.0])
def test_sand_grows_from_the_floor_of_its_glass(appears: bool, degrees: float) -> None:
    glass, sand = (
        polygon([(100, 100), (300, 100), (300, 400), (100, 400)]),
        polygon([(110, 392), (290, 392), (200, 320)]),
    )
    there = [turned(each, degrees) for each in (glass, sand)]
    keys = [drawing(stroked(glass)), drawing(stroked(there[0]), filled(there[1]))]
    plan = plan_span(*(keys if appears else keys[::-1]), Take())
    for t in (0.1, 0.4, 0.7):
        share = t if appears else 1.0 - t
        back = np.exp(-1j * np.radians(degrees * share))
        around, grown = (outline(shape.contours[0]) @ [1, 1j] * back for shape in plan.at(t).shapes)
        floor = around.imag.max()
        assert floor - 10 < grown.imag.max() < floor
        assert np.ptp(grown.real) == pytest.approx(180 * share, rel=0.05)


def test_a_glow_grows_around_its_lamp_though_it_covers_more_of_the_post() -> None:
    post, lamp = filled(polygon([(90, 80), (110, 80), (114, 190), (86, 190)])), filled(ellipse(100, 70, 16, 16))
    glow = filled(ellipse(100, 70, 70, 70), color="#ffeeaa")
    plan = plan_span(drawing(post, lamp), drawing(glow, post, lamp), Take())
    grown = outline(plan.at(0.4).shape(glow.id).contours[0])
    assert grown.mean(axis=0) == pytest.approx([100, 70], abs=1)


@pytest.mark.parametrize("away", [0.0, 1.0, 300.0])
def test_lines_that_lie_on_each_other_grow_from_a_place(away: float) -> None:
    # sampled, these two have a hair of area, and nothing in common
    rows = [((33.026, 54.8917), (33.026, 56.661)), ((33.026, 56.1342), (33.026, 57.9036))]
    lines = [stroked(polygon(row, closed=False), width=1) for row in rows]
    body = filled(ellipse(20 - away, 56, 13.026, 30), color="#668844")
    plan = plan_span(drawing(body), drawing(body, *lines), Take())
    for line in lines:
        grown = outline(plan.at(0.01).shape(line.id).contours[0])
        assert np.linalg.norm(grown - (33.026, 56), axis=1).max() < 3


def test_what_vanishes_between_two_neighbours_goes_where_they_meet() -> None:
    bars = [stroked(polygon([(100, y), (300, y)], closed=False)) for y in (120, 200, 280)]
    cross = [stroked(polygon([(120, y), (280, 400 - y)], closed=False)) for y in (120, 280)]
    plan = plan_span(drawing(*bars), drawing(*cross), Take())
    nearly = outline(plan.at(0.999).shape(bars[1].id).contours[0])
    assert nearly.mean(axis=0) == pytest.approx([200, 200], abs=1)


def test_every_shape_is_in_exactly_one_pair_and_every_pair_has_a_reason() -> None:
    (first, _), (second, _) = figure(0, (200, 200), 0), figure(30, (300, 300), 5)
    second = Drawing(shapes=second.shapes[:-3])
    pairs = plan_span(first, second, Take()).pairs
    assert sorted(p.first_id for p in pairs if p.first_id) == sorted(s.id for s in first.shapes)
    assert sorted(p.second_id for p in pairs if p.second_id) == sorted(s.id for s in second.shapes)
    assert all(0 <= p.pair.confidence <= 1 and p.pair.reason for p in pairs)


def test_only_the_pair_of_a_changed_hint_is_planned_anew() -> None:
    (first, one), (second, two) = figure(0, (200, 200), 0), figure(14, (320, 200), 2)
    before = plan_span(first, second, Take())
    choice = PairChoice(first=one[0], second=two[0])
    after = plan_span(first, second, Take(pairs=(choice,)), before)
    contours = [[id(c) for p in plan.worked.pairs for c in p.contours] for plan in (before, after)]
    assert set(contours[0]) <= set(contours[1])


def test_colours_fade_through_oklab_and_paint_that_one_key_lacks_fades_in() -> None:
    yellow, blue = to_oklab("#ffff00"), to_oklab("#0000ff")
    first = drawing(filled(star(), color="#ffff00"))
    second = drawing(filled(star(at=(300, 200)), color="#0000ff"))
    shape = plan_span(first, second, Take()).at(0.5).shapes[0]
    assert shape.fill is not None
    assert shape.fill.paint.color == to_hex(((yellow + blue) / 2)[None])[0]
    lined = drawing(
        filled(star(at=(300, 200)), color="#0000ff").model_copy(update={"fill": None, "stroke": stroked(star()).stroke})
    )
    shape = plan_span(first, lined, Take()).at(0.75).shapes[0]
    assert shape.fill == Fill(paint=Paint(color="#ffff00", opacity=0.25))
    assert shape.stroke is not None
    assert shape.stroke.width == pytest.approx(3.0)
