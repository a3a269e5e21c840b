"""What a hand draws anew is never quite what it was, or where it was: it must go as what is drawn exactly goes."""

import numpy as np
import pytest

from knead.core.geometry.bezier import contour_of
from knead.core.geometry.cutting import piece_of
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from tests.forms import (
    backwards,
    distances,
    drawing,
    drawn_anew,
    ellipse,
    filled,
    outline,
    polygon,
    rounded,
    star,
    stroked,
    traced,
    turned,
    wave,
)

OFF = 0.003  # a hand is off by so much, across and along, by the size of what it draws


def bow(*points: tuple[float, float]) -> Contour:
    """A line of one cubic."""
    return contour_of(np.array([points]), False)


def box(x: float, top: float, width: float, height: float) -> Contour:
    return polygon([(x, top), (x + width, top), (x + width, top + height), (x, top + height)])


def torso(top: float) -> Contour:
    return polygon([(180, top), (220, top), (215, top + 100), (185, top + 100)])


def slider(knob: float) -> Drawing:
    return drawing(stroked(polygon([(60, 200), (340, 200)], closed=False)), filled(ellipse(knob, 200, 18, 18)))


def skipping(top: float, hands: float, rope: float) -> Drawing:
    limbs = [
        [(188, top + 128), (180, top + 220)],
        [(212, top + 128), (220, top + 220)],
        [(182, top + 45), (140, hands)],
        [(218, top + 45), (260, hands)],
    ]
    rest = [stroked(polygon(limb, closed=False), width=16) for limb in limbs]
    swung = bow((140, hands), (180, rope), (220, rope), (260, hands))
    return drawing(filled(torso(top + 30)), filled(ellipse(200, top, 30, 30)), *rest, stroked(swung))


def face(rx: float, ry: float, eyes: float, mouth: float) -> Drawing:
    top = 300 - 1.4 * ry
    smile = bow((200 - mouth, top + 50), (190, top + 70), (210, top + 70), (200 + mouth, top + 50))
    dots = [filled(ellipse(200 + side * eyes, top, 12, 12), color="#222222") for side in (-1, 1)]
    return drawing(filled(ellipse(200, 300 - ry / 2, rx, ry)), *dots, stroked(smile, width=6))


def bars(*heights: float) -> Drawing:
    return drawing(*(filled(box(60 + 80 * k, 350 - height, 50, height)) for k, height in enumerate(heights)))


def star_face(degrees: float) -> Drawing:
    marks = [ellipse(175, 180, 10, 10), ellipse(225, 180, 10, 10), polygon([(170, 215), (200, 240), (230, 215)])]
    head = filled(turned(star(5, 0.45, 160), degrees), color="#ffcc33")
    return drawing(head, *(filled(turned(mark, degrees), color="#222222") for mark in marks))


def seen(whole: Contour, *stretches: tuple[float, float]) -> Shape:
    """What is seen of a line, by its own parameters, as one path."""
    pieces = [piece_of(stroked(whole), *stretch).contours[0] for stretch in stretches]
    return stroked(*pieces)


PAGE = rounded([(90, 90), (310, 90), (310, 310), (90, 310)], 40)
KEYS = {
    "a line that stays while a knob goes along it": (slider(90), slider(300)),
    "a face that is squashed": (face(70, 130, 25, 30), face(140, 70, 50, 50)),
    "bars that grow and sink": (bars(40, 200, 100), bars(40, 100, 200)),
    "a star that turns with the face on it": (star_face(0), star_face(45)),
    "the hand of a clock": (
        drawing(filled(box(60, 60, 280, 280)), stroked(polygon([(200, 200), (200, 90)], closed=False))),
        drawing(filled(box(60, 60, 280, 280)), stroked(polygon([(200, 200), (310, 200)], closed=False))),
    ),
    "a page of which two stretches are hidden": (drawing(stroked(PAGE)), drawing(seen(PAGE, (0.5, 3.6), (4.4, 7.5)))),
}


def by_hand(keys: tuple[Drawing, Drawing], hand: int) -> list[Drawing]:
    """Keys as a hand traces them, every line by itself."""
    noise = np.random.default_rng(hand)
    points = np.concatenate([row for key in keys for row in rows(key)])
    off = OFF * float(np.linalg.norm(np.ptp(points, axis=0)))
    return [traced(key, noise, off) for key in keys]


def rows(key: Drawing) -> list[np.ndarray]:
    return [outline(contour) for shape in key.shapes for contour in shape.contours]


@pytest.mark.parametrize("hand", range(3))
@pytest.mark.parametrize("keys", KEYS.values(), ids=KEYS)
def test_what_is_drawn_by_hand_goes_as_it_does_drawn_exactly(keys: tuple[Drawing, Drawing], hand: int) -> None:
    exact, plan = plan_span(*keys, Take()), plan_span(*by_hand(keys, hand), Take())
    for t in (0.3, 0.5, 0.7):
        meant, found = rows(exact.at(t)), rows(plan.at(t))
        assert distances(np.concatenate(found), meant).mean() < 8
        assert distances(np.concatenate(meant), found).mean() < 8


@pytest.mark.parametrize("hand", range(6))
def test_who_jumps_over_a_rope_stays_upright(hand: int) -> None:
    keys = skipping(100, 200, 390), skipping(90, 180, -20)
    half = plan_span(*by_hand(keys, hand), Take()).at(0.5)
    assert distances(outline(torso(125)), rows(half)[:1]).max() < 15


@pytest.mark.parametrize("hand", range(4))
def test_a_hand_that_opens_keeps_its_wrist(hand: int) -> None:
    fist = [(150, 340), (150, 270), (128, 235), (150, 190), (195, 185), (232, 188), (262, 205), (250, 275), (250, 340)]
    fingers = [(150, 340), (150, 270), (95, 215), (115, 200), (150, 230), (140, 110), (163, 110), (178, 200), (185, 90)]
    fingers += [
        (208, 90),
        (210, 200),
        (230, 100),
        (250, 105),
        (240, 210),
        (270, 145),
        (288, 155),
        (250, 275),
        (250, 340),
    ]
    keys = drawing(filled(polygon(fist))), drawing(filled(polygon(fingers)))
    plan = plan_span(*by_hand(keys, hand), Take())
    for half in map(plan.at, (0.25, 0.5, 0.75)):
        assert distances(np.array([(150.0, 340.0), (150, 290), (250, 290), (250, 340)]), rows(half)).max() < 12


@pytest.mark.parametrize("hand", range(6))
@pytest.mark.parametrize("ends", ["exactly", "a little apart"])
def test_pieces_of_a_line_that_a_hand_drew_one_by_one_are_that_line(hand: int, ends: str) -> None:
    line, other = wave(6, 300.0, 60.0), turned(wave(6, 300.0, 90.0), 25)
    noise = np.random.default_rng(hand)
    gap = 0.0 if ends == "exactly" else 0.03
    pieces = [piece_of(stroked(line), *stretch).contours[0] for stretch in ((0, 1.6), (1.6 + gap, 3.4), (3.4 + gap, 5))]
    parts = [stroked(drawn_anew(piece if k % 2 else backwards(piece), noise, 1.0)) for k, piece in enumerate(pieces)]
    plan = plan_span(drawing(*parts), drawing(stroked(drawn_anew(other, noise, 1.0))), Take())
    assert {name for pair in plan.pairs for name in pair.pair.firsts if pair.pair.seconds} == {p.id for p in parts}
    meant = plan_span(drawing(stroked(line)), drawing(stroked(other)), Take()).at(0.5)
    assert distances(np.concatenate(rows(plan.at(0.5))), rows(meant)).max() < 15


def test_ends_that_come_near_a_line_by_chance_do_not_go_on_in_each_other() -> None:
    tips = [polygon([(60, 200), (190, 200)], closed=False), polygon([(200, 195), (200, 60)], closed=False)]
    straight = polygon([(60, 300), (330, 300)], closed=False)
    plan = plan_span(drawing(*map(stroked, tips)), drawing(stroked(straight), stroked(turned(straight, 90))), Take())
    assert all(len(pair.pair.firsts) <= 1 for pair in plan.pairs)
