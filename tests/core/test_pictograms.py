"""What becomes what in small drawings that an animator has planned: by colour, by symmetry, by parts of a whole."""

from collections.abc import Sequence

import pytest
from hypothesis import given
from hypothesis import strategies as st

from knead.core.model import Contour, Drawing, Shape
from knead.core.pairing.shapes import pair_shapes
from tests.examples import few
from tests.forms import drawing, ellipse, filled, polygon, star, stroked


def pairs(first: Sequence[Shape], second: Sequence[Shape]) -> set[tuple[int | None, int | None]]:
    """Which becomes which, by their places in the two rows; None for what appears or vanishes."""
    places = {shape.id: k for row in (first, second) for k, shape in enumerate(row)}
    found = pair_shapes(drawing(*first), drawing(*second), ())
    return {(places.get(pair.first or ""), places.get(pair.second or "")) for pair in found}


def bar(left: tuple[float, float], right: tuple[float, float]) -> Shape:
    return stroked(polygon([left, right], closed=False), width=8)


@few
@given(st.permutations(range(3)), st.floats(0, 8))
def test_of_three_bars_that_become_a_cross_the_middle_one_goes(order: list[int], apart: float) -> None:
    bars = [bar((50, y), (150, y)) for y in (70 - apart, 100, 130 + apart)]
    cross = [bar((65, 65), (135, 135)), bar((135, 65), (65, 135))]
    rows = [bars[k] for k in order]
    found = pairs(rows, cross)
    assert (order.index(1), None) in found
    assert len(found) == 3
    assert {(a, b) for b, a in pairs(cross, rows)} == found, "the way back is the same"


def test_a_triangle_divides_into_two_bars() -> None:
    triangle = filled(polygon([(60, 45), (155, 100), (60, 155)]))
    bars = [filled(polygon([(x, 50), (x + 33, 50), (x + 33, 150), (x, 150)])) for x in (55, 112)]
    assert pairs([triangle], bars) == {(0, 0), (0, 1)}


def test_a_splash_becomes_its_pool_not_one_of_its_drops() -> None:
    crown = [(40, 160), (60, 110), (75, 75), (90, 110), (105, 60), (120, 110), (140, 80), (150, 120), (160, 160)]
    drops = [filled(ellipse(x, y, 9, 9)) for x, y in ((40, 70), (75, 50), (112, 40), (155, 65))]
    found = pairs([filled(polygon(crown))], [*drops, filled(ellipse(100, 152, 52, 11))])
    assert (0, 4) in found
    assert len(found) == 5


def leg(x: float, knee: float, foot: float) -> Contour:
    return polygon([(x - 7, 100), (x + 7, 100), (knee + 7, 125), (foot + 8, 155), (foot - 8, 155), (knee - 7, 125)])


@pytest.mark.parametrize(("far", "near"), [("#335577", "#446688"), ("#664433", "#775544")])
def test_the_near_leg_stays_the_near_leg(far: str, near: str) -> None:
    body = filled(ellipse(100, 70, 18, 40), color="#cc5544")

    def stride(far_foot: float, near_foot: float) -> Drawing:
        legs = ((far, far_foot), (near, near_foot))
        back, front = (filled(leg(100, (100 + foot) / 2, foot), color=color) for color, foot in legs)
        return drawing(back, body.model_copy(update={"id": "body"}), front)

    found = pairs(stride(70, 130).shapes, stride(130, 70).shapes)
    assert found == {(0, 0), (1, 1), (2, 2)}


def test_a_cloud_becomes_the_sun_though_they_share_nothing_but_their_place() -> None:
    cloud = filled(star(7, 0.8, 60, (150, 100)), color="#99aabb")
    rain = [stroked(polygon([(x, 170), (x - 8, 200)], closed=False), color="#5599cc") for x in (120, 150, 180)]
    sun = filled(ellipse(150, 105, 34, 34), color="#eecc44")
    assert (0, 0) in pairs([cloud, *rain], [sun])


@pytest.mark.parametrize("paint", ["#eecc44", "#222222"])
def test_what_each_key_is_mostly_made_of_becomes_each_other(paint: str) -> None:
    body = filled(polygon([(100, 20), (128, 90), (122, 140), (78, 140), (72, 90)]), color="#eeeeee")
    fins = [filled(polygon([(100 + 22 * s, 110), (100 + 50 * s, 150), (100 + 22 * s, 140)])) for s in (-1, 1)]
    window = filled(ellipse(100, 80, 14, 14), color="#88aacc")
    shine = filled(star(5, 0.4, 90, (105, 95)), color=paint)
    assert pairs([body, *fins, window], [shine]) == {(0, 0), (1, None), (2, None), (3, None)}
    other = filled(ellipse(440, 100, 95, 95), color="#447744")
    aside = filled(star(5, 0.4, 90, (205, 95)), color=paint)
    assert (0, 0) not in pairs([body, *fins, window], [aside, other]), "here it is not most of its key, and aside"


def test_a_shadow_that_grows_and_darkens_where_it_lies_is_one_shadow() -> None:
    def ball(y: float, rx: float, ry: float, shadow: tuple[float, float], color: str) -> list[Shape]:
        gleam = filled(ellipse(92, y - 0.4 * ry, 0.25 * rx, 0.3 * ry), color="#ffffff")
        return [
            filled(ellipse(100, y, rx, ry), color="#cc3333"),
            gleam,
            filled(ellipse(100, 184, *shadow), color=color),
        ]

    found = pairs(ball(60, 32, 40, (16, 4), "#bbbbbb"), ball(160, 56, 24, (60, 6), "#888888"))
    assert found == {(0, 0), (1, 1), (2, 2)}


def test_a_bud_that_takes_the_colour_of_its_leaf_stays_a_bud() -> None:
    stem = stroked(polygon([(100, 60), (104, 30)], closed=False), width=8)

    def key(bud: str, leaf: str, side: int) -> list[Shape]:
        blade = [(100, 45), (100 + 25 * side, 25), (100 + 50 * side, 45), (100 + 25 * side, 55)]
        return [filled(ellipse(100, 110, 55, 50), color=bud), filled(polygon(blade), color=leaf), stem]

    assert pairs(key("#d83a4a", "#77aa55", 1), key("#77aa55", "#3a6622", -1)) == {(0, 0), (1, 1), (2, 2)}


def test_two_fireflies_that_change_places_keep_their_colours() -> None:
    left, right = ellipse(60, 100, 20, 20), ellipse(140, 100, 20, 20)
    first = [filled(left, color="#d83a4a"), filled(right, color="#3a66d8")]
    second = [filled(left, color="#3a66d8"), filled(right, color="#d83a4a")]
    assert pairs(first, second) == {(0, 1), (1, 0)}
