"""Faces as drawing tools write them: all that has one colour in one path, or in several, as it comes."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from tests.forms import begun_at, blob, by_hand, drawing, ellipse, filled, outline, polygon, smooth, stroked, turned

SKIN, INK = "#ffcc4d", "#292f33"
BROWS = [polygon([(x - 20, 118), (x, 108), (x + 20, 118), (x + 20, 124), (x, 116), (x - 20, 124)]) for x in (150, 250)]
SMILE = polygon([(150, 250), (200, 268), (250, 250), (235, 285), (200, 296), (165, 285)])
GRIN = polygon([(130, 240), (270, 240), (262, 290), (235, 325), (200, 336), (165, 325), (138, 290)])
WINK = turned(GRIN, 0, 0.5, (152, 24))


def ink(*contours: Contour, color: str = INK) -> Shape:
    return filled(*contours, color=color)


def head() -> Shape:
    return filled(ellipse(200, 200, 150, 150), color=SKIN)


def middles(plan: SpanPlan, t: float) -> dict[str, list[complex]]:
    """Where the outlines of each inked shape are, by the ids of the two shapes it is made of."""
    names = {p.identity: f"{p.first_id}>{p.second_id}" for p in plan.pairs}
    return {
        names[shape.id]: [complex(*shapely.Polygon(outline(c)).centroid.coords[0]) for c in shape.contours]
        for shape in plan.at(t).shapes
        if shape.fill and shape.fill.paint.color != SKIN
    }


@pytest.mark.parametrize("turned_round", [False, True])
@pytest.mark.parametrize("tint", [INK, "#2b2f34"])
def test_two_eyes_of_one_path_become_the_eyes_that_are_a_path_each(turned_round: bool, tint: str) -> None:
    """Though they move and grow, and a mouth of their colour appears."""
    eyes = ink(ellipse(140, 190, 16, 16), ellipse(260, 190, 16, 16))
    left, right = (ink(ellipse(x, 140, 16, 28), color=tint) for x in (150, 250))
    mouth = ink(GRIN, color=tint)
    first, second = (drawing(head(), eyes), drawing(head(), mouth, left, right))[:: -1 if turned_round else 1]
    plan = plan_span(first, second, Take())
    pairs = {(p.first_id, p.second_id) for p in plan.pairs}
    assert {(eyes.id, left.id), (eyes.id, right.id)} <= {pair[:: -1 if turned_round else 1] for pair in pairs}
    half = [middle for own in middles(plan, 0.5).values() for middle in own if middle.imag < 220]
    assert sorted(half, key=lambda z: z.real) == pytest.approx([145 + 165j, 255 + 165j], abs=4)


@pytest.mark.parametrize(("degrees", "move"), [(0, (0, -30)), (30, (0, 30)), (15, (40, -40)), (45, (60, 0))])
def test_eyes_of_the_colour_of_the_hair_stay_eyes_when_the_head_moves(
    degrees: float, move: tuple[float, float]
) -> None:
    """The hair is of two pieces, behind the face and in front, and where it was the eyes come to lie."""

    def face(angle: float, by: tuple[float, float]) -> Drawing:
        hair = blob([120, 125, 118, 130, 122], at=(0, -10))
        fringe = [(-100, 20), (-110, -60), (-60, -120), (60, -120), (110, -60), (100, 20), (60, -20), (-60, -20)]
        rows = [[hair], [ellipse(0, 10, 90, 110)], [polygon(fringe)], [ellipse(x, 10, 12, 9) for x in (-40, 40)]]
        moved = [[turned(contour, angle, move=by) for contour in row] for row in rows]
        return drawing(*(filled(*row, color="#e0a070" if k == 1 else INK) for k, row in enumerate(moved)))

    first, second = face(0, (0, 0)), face(degrees, move)
    found = {(pair.pair.firsts, pair.pair.seconds) for pair in plan_span(first, second, Take()).pairs}
    assert found == {((a.id,), (b.id,)) for a, b in zip(first.shapes, second.shapes, strict=True)}


@pytest.mark.parametrize("seed", [6, 17, 22])
def test_eyes_drawn_by_hand_do_not_change_places_when_the_head_turns(seed: int) -> None:
    """Though the one happens to look just as the other did."""
    noise = np.random.default_rng(seed)

    def face(aside: float, degrees: float) -> Drawing:
        eyes = [ellipse(x + 0.6 * aside, -35, 42, 42) for x in (-45, 45)]
        pupils = [ellipse(x + aside, -35, 18, 19) for x in (-38, 38)]
        looks = zip([ellipse(0, 0, 110, 90), *eyes, *pupils], [SKIN, *2 * ["#ffffff"], *2 * [INK]], strict=True)
        return drawing(*(filled(by_hand(turned(form, degrees), noise, 1.2), color=color) for form, color in looks))

    first, second = face(25, 29), face(-10, 5)
    pairs = plan_span(first, second, Take()).pairs
    assert [p.second_id for p in pairs] == [shape.id for shape in second.shapes]


def test_pupils_stay_in_eyes_that_nearly_shut_in_a_drawing_of_lines() -> None:
    """Though an eye that is nearly shut is more like a slit, turned, than like an eye."""
    first, second = (
        drawing(
            stroked(ellipse(200, 200, 110, 100)),
            *(stroked(ellipse(x, 180, 27, eye)) for x in (150, 250)),
            *(stroked(ellipse(x, 180, 9, slit)) for x in (150, 250)),
        )
        for eye, slit in ((33, 27), (11, 8))
    )
    pairs = {(p.first_id, p.second_id) for p in plan_span(first, second, Take()).pairs}
    assert pairs == {(a.id, b.id) for a, b in zip(first.shapes, second.shapes, strict=True)}


@pytest.mark.parametrize("seed", [26, 29])
def test_buttons_in_a_row_keep_their_order_though_a_hand_draws_them_as_it_happens(seed: int) -> None:
    noise = np.random.default_rng(seed)

    def coat(top: float, step: float) -> Drawing:
        belly = ellipse(200, top + 60, 103 - step, 52 + step)
        forms = [ellipse(200, top - 110, 60, 60), belly, *(ellipse(200, top + step * k, 5, 5) for k in range(3))]
        return drawing(*(stroked(by_hand(form, noise, 1.2)) for form in forms))

    first, second = coat(200, 28), coat(310, 16)
    pairs = {(p.first_id, p.second_id) for p in plan_span(first, second, Take()).pairs}
    assert pairs == {(a.id, b.id) for a, b in zip(first.shapes, second.shapes, strict=True)}


def test_what_stays_as_it_is_beside_eyes_that_are_parted_keeps_its_reason() -> None:
    eyes, left, right = (
        ink(*(ellipse(x, 190, 16, 16) for x in (140, 260))),
        *(ink(ellipse(x, 140, 16, 28)) for x in (150, 250)),
    )
    smile, again = ink(SMILE), ink(turned(SMILE, 0, 1.0, (4, -20)))
    plan = plan_span(drawing(head(), eyes, smile), drawing(head(), left, again, right), Take())
    reasons = {(p.first_id, p.second_id): p.pair.reason for p in plan.pairs}
    assert reasons[eyes.id, left.id].startswith("of one colour")
    assert not reasons[smile.id, again.id].startswith("of one colour")


def test_a_mouth_becomes_the_mouth_though_brows_and_an_eye_are_in_its_path() -> None:
    """The eye that winks is the very form of it, and of all in the path it lies nearest to their middle."""
    first = drawing(head(), ink(ellipse(150, 180, 16, 26)), ink(*BROWS, WINK, SMILE))
    shut = polygon([(125, 190), (140, 172), (165, 172), (180, 190), (165, 182), (140, 182)])
    second = drawing(head(), ink(shut), ink(GRIN), filled(ellipse(250, 170, 40, 40), color="#f5f8fa"))
    plan = plan_span(first, second, Take())
    mouth = next(p for p in plan.pairs if p.second_id == second.shapes[2].id)
    assert [c.first_contour for c in mouth.contours if c.second_contour == 0] == [3]


def test_a_face_that_blushes_is_that_face_though_its_mouth_had_the_colour() -> None:
    face, mouth = head(), filled(GRIN, color="#ea5a47")
    blushing, sigh = filled(ellipse(200, 200, 150, 150), color="#ea5a47"), filled(SMILE, color="#663333")
    plan = plan_span(drawing(face, mouth), drawing(blushing, sigh), Take())
    assert (face.id, blushing.id) in {(p.first_id, p.second_id) for p in plan.pairs}


@pytest.mark.parametrize(("low", "start"), [(4, 0), (-4, 3), (0, 2)])
def test_what_is_symmetric_in_one_path_pairs_symmetrically(low: int, start: int) -> None:
    """An eye with its brow in one outline becomes an eye and a brow, on both sides alike, though drawn by hand."""
    glare = [(110, 110), (180, 135), (186, 150), (176, 185), (150, 185), (142, 150), (105, 125)]
    brow = [(150, 60), (180, 95), (186, 130), (165, 125), (150, 95)]
    eye = [(110, 155), (140, 162), (170, 155), (165, 168), (140, 174), (115, 168)]

    def both(points: list[tuple[int, int]], lower: int = 0) -> list[Contour]:
        right = polygon([(400.0 - x, float(y + lower)) for x, y in reversed(points)])
        return [polygon([(float(x), float(y)) for x, y in points]), begun_at(right, start)]

    first, second = ink(SMILE, *both(glare, low)), ink(*both(eye), *both(brow), SMILE)
    (pair,) = plan_span(drawing(first), drawing(second), Take()).pairs
    partners = {c.first_contour: c.second_contour for c in pair.runs if c.second_contour is not None}
    assert partners[0] == 4
    assert (partners[1], partners[2]) in {(0, 1), (2, 3)}


@pytest.mark.parametrize("hours", [1, 2, 3, 4, 5, -2, -4])
def test_the_hand_of_a_clock_goes_round_its_pin(hours: int) -> None:
    """Its ends are alike, and it lies on the face with all of it, all the way."""
    hand = turned(polygon([(-6, 6), (-6, -94), (6, -94), (6, 6)]), 30)
    long = filled(turned(polygon([(-6, 6), (-6, -120), (6, -120), (6, 6)]), 0, 1.0, (200, 200)), color=INK)
    face = filled(ellipse(200, 200, 160, 160), color="#e1e8ed")

    def clock(turn: float) -> list[Shape]:
        placed = turned(turned(hand, turn), 0, 1.0, (200, 200))
        return [
            shape.model_copy(
                update={"id": f"{shape.id}{turn}", "contours": tuple(begun_at(c, 2) for c in shape.contours)}
            )
            for shape in (face, long, filled(placed, color=INK))
        ]

    plan = plan_span(drawing(*clock(0)), drawing(*clock(30 * hours)), Take())
    for t in (0.25, 0.5, 0.75):
        shapes = plan.at(t).shapes
        on_pin = [
            shape for shape in shapes if shapely.Polygon(outline(shape.contours[0])).covers(shapely.Point(200, 200))
        ]
        assert len(on_pin) == 3


@pytest.mark.parametrize("start", [0, 1])
@pytest.mark.parametrize("shuts", [False, True])
def test_a_head_that_grows_taller_than_broad_does_not_turn_by_a_quarter(start: int, shuts: bool) -> None:
    """Though it would be the very same form then; and what appears in it does so in its place."""

    def face(broad: float, tall: float, rise: float, *eyes: Shape) -> Drawing:
        skin = filled(begun_at(ellipse(200, 200, broad, tall), start), color=SKIN)
        brows = [ink(turned(brow, 0, move=(0, -rise))) for brow in BROWS]
        return drawing(skin, *brows, *eyes, ink(ellipse(200, 260 + rise / 2, 40 - rise, 20 + rise), color="#8a2f3a"))

    def looks(size: float) -> list[Shape]:
        return [ink(ellipse(x, 170, size, 1.2 * size)) for x in (155, 245)]

    whites = [ink(ellipse(x, 170, 24, 28), color="#ffffff") for x in (155, 245)]
    keys = [face(120, 110, 0, *looks(14)), face(112, 124, 10, *whites, *looks(9))]
    plan = plan_span(*(keys[::-1] if shuts else keys), Take())
    assert abs(plan.pairs[0].angle) < 0.1
    for t in (0.3, 0.6):
        shown = {shape.id: outline(shape.contours[0]).mean(axis=0) for shape in plan.at(t).shapes}
        for white, x in zip(whites, (155, 245), strict=True):
            assert shown[white.id] == pytest.approx([x, 170], abs=6)


@pytest.mark.parametrize("shuts", [False, True])
@pytest.mark.parametrize("drawn_first", ["mouth", "dimples"])
def test_a_smile_becomes_the_mouth_that_opens_and_no_dimple(shuts: bool, drawn_first: str) -> None:
    def line(*points: tuple[float, float]) -> Shape:
        return stroked(polygon(points, closed=False), width=5)

    face = stroked(ellipse(200, 200, 112, 138), width=5)
    smile = line((165, 280), (200, 288), (235, 280))
    dimples = [line((200 + s * 76, 229), (200 + s * 89, 240), (200 + s * 91, 252)) for s in (-1, 1)]
    lips = polygon([(140, 262), (200, 270), (260, 262), (240, 316), (200, 322), (160, 316)])
    mouth = stroked(lips, width=5).model_copy(update={"fill": filled(lips, color="#8a2f3a").fill})
    laughing = (mouth, *dimples) if drawn_first == "mouth" else (*dimples, mouth)
    keys = drawing(face, smile), drawing(face, *laughing)
    plan = plan_span(*keys[:: -1 if shuts else 1], Take())
    pairs = {(p.first_id, p.second_id)[:: -1 if shuts else 1] for p in plan.pairs}
    assert {(smile.id, mouth.id), *((None, dimple.id) for dimple in dimples)} <= pairs


@pytest.mark.parametrize("back", [False, True])
@pytest.mark.parametrize("degrees", [-9, 0, 9])
def test_the_white_of_an_eye_that_shuts_is_not_the_teeth_of_a_mouth_that_opens(degrees: float, back: bool) -> None:
    """Though both are white, lenses, and about as large."""
    white, skin, hair = "#f4f4f0", "#d8c545", "#c8d8b8"

    def face(shut: bool, angle: float) -> Drawing:
        forms: list[tuple[Contour, str]] = [(ellipse(0, -20, 115, 128), hair), (ellipse(0, 0, 95, 115), skin)]
        for x in (-42, 42):
            if not shut:
                forms += [(ellipse(x, -20, 26, 9), white), (ellipse(x + 4, -20, 9, 9), "#6a4aa0")]
            forms.append((polygon([(x - 25, -52), (x, -60), (x + 25, -52), (x, -54)]), hair))
        forms.append((smooth([(-38, 58), (0, 52), (38, 58), (0, 90 if shut else 66)]), "#401018"))
        if shut:
            forms.append((smooth([(-30, 57), (0, 54), (30, 57), (0, 68)]), white))
        lids = [smooth([(x - 26, -20), (x, -10 if shut else -29), (x + 26, -20)], closed=False) for x in (-42, 42)]
        fills = [filled(turned(form, angle), color=color) for form, color in forms]
        return drawing(*fills, *(stroked(turned(lid, angle)) for lid in lids))

    first, second = (face(False, 0), face(True, degrees))[:: -1 if back else 1]
    whites = {s.id for key in (first, second) for s in key.shapes if s.fill and s.fill.paint.color == white}
    assert len(whites) == 3
    assert not any({pair.first_id, pair.second_id} <= whites for pair in plan_span(first, second, Take()).pairs)
