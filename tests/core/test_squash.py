"""What is tall in one key and wide in the other: a ball is squashed, a limb swings, a body turns with its face."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Shape, Take
from tests.examples import few
from tests.forms import backwards, begun_at, drawing, drawn, ellipse, filled, outline, polygon, recut, rounded, stroked


def half_way(first: Drawing, second: Drawing) -> Drawing:
    return plan_span(first, second, Take()).at(0.5)


def box_of(key: Drawing) -> tuple[float, float]:
    """How wide and how high it is."""
    left, top, right, bottom = drawn(key).bounds
    return right - left, bottom - top


def area_of(shape: Shape) -> shapely.Polygon:
    return shapely.Polygon(outline(shape.contours[0], 256))


def card(width: float, height: float) -> Contour:
    x, y = width / 2, height / 2
    return rounded([(200 - x, 200 - y), (200 + x, 200 - y), (200 + x, 200 + y), (200 - x, 200 + y)], 16)


@few
@given(st.floats(1.15, 2.1), st.floats(1.15, 2.1), st.integers(0, 3), st.booleans(), st.booleans())
def test_a_ball_is_squashed_and_does_not_roll_over(
    tall: float, wide: float, start: int, back: bool, hollow: bool
) -> None:
    """However its outline begins and runs; and a ring as well."""
    rings = [(1.0, 0.5) if hollow else (1.0,)] * 2
    first, second = (
        [ellipse(200, 200, 80 * size * one, 80 * size / one) for size in sizes]
        for sizes, one in zip(rings, (1 / np.sqrt(tall), np.sqrt(wide)), strict=True)
    )
    second = [backwards(begun_at(recut(each, [0.1, 0.6]), start)) if back else begun_at(each, start) for each in second]
    keys = [drawing(filled(*each, rule="evenodd")) for each in (first, second)]
    width, height = box_of(half_way(*keys))
    assert width == pytest.approx(np.mean([box_of(key)[0] for key in keys]), rel=0.03)
    assert height == pytest.approx(np.mean([box_of(key)[1] for key in keys]), rel=0.03)


@pytest.mark.parametrize("ground", [False, True])
def test_a_ball_with_a_gleam_is_squashed_on_the_ground(ground: bool) -> None:
    floor = [filled(polygon([(0, 300), (400, 300), (400, 360), (0, 360)]), color="#999999")] if ground else []
    first = drawing(*floor, filled(ellipse(200, 200, 60, 101)), filled(ellipse(180, 150, 12, 22), color="#ffffff"))
    second = drawing(*floor, filled(ellipse(200, 240, 100, 61)), filled(ellipse(160, 215, 24, 11), color="#ffffff"))
    ball = half_way(first, second).shapes[-2]
    assert box_of(drawing(ball)) == pytest.approx((160, 162), abs=4)


def test_an_arm_that_is_an_oval_swings() -> None:
    body, head = filled(ellipse(200, 220, 60, 100), color="#cc6655"), filled(ellipse(200, 90, 45, 45), color="#ffcc99")
    first = drawing(body, head, filled(ellipse(260, 205, 20, 45), color="#eebb88"))
    second = drawing(body, head, filled(ellipse(295, 170, 45, 20), color="#eebb88"))
    arm = area_of(half_way(first, second).shapes[2])
    assert arm.area == pytest.approx(np.pi * 20 * 45, rel=0.05)
    sides = shapely.minimum_rotated_rectangle(arm)
    lengths = sorted(np.hypot(*np.diff(np.array(sides.exterior.coords), axis=0).T))
    assert lengths[-1] == pytest.approx(90, rel=0.05), "it is as long as ever"


def test_a_body_turns_with_its_face() -> None:
    def key(up: bool) -> Drawing:
        def laid(*points: tuple[float, float]) -> list[tuple[float, float]]:
            return list(points) if up else [(400 - y, x) for x, y in points]

        eyes = [filled(ellipse(*at, 10, 10), color="#222222") for at in laid((180, 130), (220, 130))]
        mouth = stroked(polygon(laid((180, 160), (200, 170), (220, 160)), closed=False))
        return drawing(filled(ellipse(200, 200, *((60, 110) if up else (110, 60)))), *eyes, mouth)

    body = area_of(half_way(key(True), key(False)).shapes[0])
    width, height = np.ptp(np.array(body.exterior.coords), axis=0)
    assert body.area == pytest.approx(np.pi * 60 * 110, rel=0.05)
    assert width == pytest.approx(height, rel=0.05)
    assert shapely.minimum_rotated_rectangle(body).area < 0.9 * width * height, "it lies aslant"


def test_a_tall_card_becomes_a_wide_one_with_what_is_on_it() -> None:
    def written(*boxes: tuple[float, float, float, float]) -> list[Contour]:
        return [polygon([(x, y), (x + w, y), (x + w, y + h), (x, y + h)]) for x, y, w, h in boxes]

    first = [card(160, 280), *written((140, 80, 120, 90), (140, 190, 120, 14), (140, 220, 80, 14))]
    second = [card(320, 150), *written((60, 140, 110, 110), (190, 150, 150, 14), (190, 180, 100, 14))]
    colors = ["#ffffff", "#99bbdd", "#445566", "#445566"]
    keys = (drawing(*(filled(c, color=k) for c, k in zip(key, colors, strict=True))) for key in (first, second))
    assert box_of(drawing(half_way(*keys).shapes[0])) == pytest.approx((240, 215), abs=4)


def test_a_bar_falls_over() -> None:
    first, second = (drawing(filled(card(*sides))) for sides in ((40, 200), (196, 40)))
    bar = half_way(first, second)
    assert min(box_of(bar)) > 120
    assert area_of(bar.shapes[0]).area == pytest.approx(40 * 198, rel=0.08), "it is as slender as ever"
