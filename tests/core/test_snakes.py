"""What is slender bends from tip to tip, as wide as it is; what is on it stays on it, and turns with it."""

import numpy as np
import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Take
from tests.forms import backwards, begun_at, drawing, drawn_anew, ellipse, filled, outline, polygon, smooth, stroked

LONG, WIDE = 420.0, 15.0
ALONG = np.linspace(0.0, 1.0, 41)
WIDTHS = WIDE * np.interp(ALONG, [0.0, 0.08, 0.5, 1.0], [0.5, 1.0, 1.0, 0.4])
TIMES = (0.2, 0.4, 0.5, 0.6, 0.8)
Bend = tuple[float, float, float]  # how much it bends, in how many waves, begun where
S, Z, FLAT, RISING = (7.0, 1.0, 0.0), (-7.0, 1.0, 0.0), (3.0, 0.6, 0.2), (6.0, 1.3, 0.25)
BOW, BOW_OVER = (5.0, 0.5, 0.0), (-4.0, 0.5, 0.0)


class Snake:
    """A snake as it bends: places on it are parts of its length, and how far they are to a side of the line within."""

    def __init__(self, bend: Bend) -> None:
        much, waves, start = bend
        turns = np.cumsum(much * np.sin(2 * np.pi * (waves * ALONG + start))) / len(ALONG)
        self.ways = np.exp(1j * (turns - turns.mean()))
        steps = (self.ways[1:] + self.ways[:-1]) / 2 * LONG / (len(ALONG) - 1)
        self.line = np.append(0, np.cumsum(steps))
        self.line += 400 + 300j - self.line.mean()

    def at(self, part: float, ahead: float = 0.0, aside: float = 0.0) -> tuple[float, float]:
        place, way = (complex(np.interp(part, ALONG, row)) for row in (self.line, self.ways))
        place += (ahead + 1j * aside) * way / abs(way)
        return place.real, place.imag

    @property
    def body(self) -> Contour:
        sides = [[self.at(s, 0.0, side * w) for s, w in zip(ALONG, WIDTHS, strict=True)] for side in (-1, 1)]
        return smooth([*sides[0][::3], *sides[1][::-3]])


def dense(contour: Contour) -> np.ndarray:
    return outline(contour, 12)


@pytest.mark.parametrize("start", [0, 5, 17])
@pytest.mark.parametrize("bends", [(S, Z), (Z, RISING), (BOW, BOW_OVER), (RISING, S), (FLAT, Z)])
@pytest.mark.parametrize("hand", [0.0, 1.0])
def test_a_slender_body_is_as_wide_as_it_was_however_it_bends(
    bends: tuple[Bend, Bend], start: int, hand: float
) -> None:
    one, two = (Snake(bend).body for bend in bends)
    two = begun_at(backwards(two), start)
    if hand:
        one, two = (drawn_anew(body, np.random.default_rng(start), hand) for body in (one, two))
    area = np.mean([shapely.Polygon(dense(body)).area for body in (one, two)])
    plan = plan_span(drawing(filled(one)), drawing(filled(two)), Take())
    for t in TIMES:
        body = shapely.Polygon(dense(plan.at(t).shapes[0].contours[0]))
        assert body.is_valid, "it does not cross itself"
        assert body.area == pytest.approx(area, rel=0.06)
        assert isinstance(body.buffer(-0.25 * WIDE), shapely.Polygon), "it is not pinched"
        assert body.buffer(-1.35 * WIDE).is_empty, "nor swollen"


def figure(bend: Bend, other_way: bool) -> Drawing:
    snake = Snake(bend)
    stripe = polygon([snake.at(0.4, 0, -WIDE), snake.at(0.4, 3), snake.at(0.4, 0, WIDE)], closed=False)
    tongue = polygon([snake.at(0.0, 4), snake.at(0.0, -14, 2), snake.at(0.0, -28)], closed=False)
    leaf = smooth([snake.at(1.0, *off) for off in ((-6, 0), (2, -9), (18, 0), (2, 9))])
    eye = smooth([snake.at(0.1, 3 * np.cos(a), 5 + 3 * np.sin(a)) for a in np.arange(6) * np.pi / 3])
    lines = [backwards(stripe), backwards(tongue)] if other_way else [stripe, tongue]
    body = backwards(snake.body) if other_way else snake.body
    return drawing(
        filled(body, color="#5f8f3e"),
        *(stroked(each, color=color) for each, color in zip(lines, ("#e8c04a", "#b85040"), strict=True)),
        filled(begun_at(leaf, 2 if other_way else 0), color="#d98aa8"),
        filled(eye, color="#202030"),
    )


@pytest.mark.parametrize("bends", [(S, Z), (Z, RISING), (BOW, BOW_OVER), (RISING, S), (Z, FLAT)])
def test_what_is_on_a_body_that_bends_stays_on_it_and_turns_with_it(bends: tuple[Bend, Bend]) -> None:
    plan = plan_span(figure(bends[0], False), figure(bends[1], True), Take())
    for t in TIMES:
        outlines = [outline(shape.contours[0], 12) for shape in plan.at(t).shapes]
        body = shapely.Polygon(outlines[0])
        stripe, tongue = (shapely.LineString(row) for row in outlines[1:3])
        leaf, eye = (shapely.Polygon(row) for row in outlines[3:])
        assert body.contains(eye), "the eye is in the head"
        assert stripe.intersection(body.buffer(4)).length > 0.95 * stripe.length
        ends = [body.exterior.project(shapely.Point(stripe.coords[k])) / body.exterior.length for k in (0, -1)]
        assert max(body.exterior.distance(shapely.Point(stripe.coords[k])) for k in (0, -1)) < 6, "the stripe is across"
        assert 0.3 < abs(ends[0] - ends[1]) < 0.95
        assert tongue.distance(body) < 3
        assert tongue.difference(body).length > 0.5 * tongue.length, "the tongue is out"
        assert leaf.distance(body) < 3
        assert leaf.difference(body).area > 0.6 * leaf.area, "the leaf is at the end"


@pytest.mark.parametrize("count", [2, 5])
@pytest.mark.parametrize("bends", [(S, Z), (Z, RISING), (BOW, BOW_OVER), (FLAT, S)])
def test_stripes_keep_their_order_along_a_body(bends: tuple[Bend, Bend], count: int) -> None:
    places = np.linspace(0.4, 0.6, count) if count == 2 else np.linspace(0.2, 0.8, count)

    def striped(bend: Bend) -> Drawing:
        snake = Snake(bend)
        ends = [[snake.at(s, 0, -WIDE), snake.at(s, 2), snake.at(s, 0, WIDE)] for s in places]
        tongue = polygon([snake.at(0.0, 4), snake.at(0.0, -14, 2), snake.at(0.0, -28)], closed=False)
        return drawing(filled(snake.body), *(stroked(polygon(row, closed=False)) for row in ends), stroked(tongue))

    first, second = map(striped, bends)
    order = np.random.default_rng(count).permutation(count + 2)
    shuffled = drawing(*(second.shapes[k] for k in order))
    plan = plan_span(first, shuffled, Take())
    meant = {(a.id, b.id) for a, b in zip(first.shapes, second.shapes, strict=True)}
    assert {(pair.first_id, pair.second_id) for pair in plan.pairs} == meant


@pytest.mark.parametrize(("swing", "elbows"), [(100.0, (-10.0, 20.0)), (-126.0, (17.0, -12.0))])
def test_a_cuff_stays_on_an_arm_that_hardly_bends_as_it_swings(swing: float, elbows: tuple[float, float]) -> None:
    def arm(degrees: float, elbow: float, cuff_at: float) -> Drawing:
        ways = np.exp(1j * np.radians([degrees, degrees + elbow / 2, degrees + elbow]))
        joints = 300 + 200j + np.append(0, np.cumsum(85 * ways[[0, 2]]))
        sides = 1j * ways * np.array([14, 13, 10])
        place = joints[1] + cuff_at * 85 * ways[2]
        cuff = place + np.array([10.5j, 2, -10.5j]) * ways[2]
        body = np.concatenate([joints + sides, (joints - sides)[::-1]])
        rows = [[(z.real, z.imag) for z in row] for row in (body, cuff)]
        return drawing(filled(smooth(rows[0])), stroked(polygon(rows[1], closed=False), color="#f4efe2"))

    plan = plan_span(arm(240.0, elbows[0], 0.8), arm(240.0 + swing, elbows[1], 0.68), Take())
    for t in TIMES:
        body, cuff = (outline(shape.contours[0], 12) for shape in plan.at(t).shapes)
        assert shapely.LineString(cuff).difference(shapely.Polygon(body).buffer(4)).length < 3


@pytest.mark.parametrize("curls", [((0.9, 1.1, -55), (-3.5, 0.9, -5)), ((-0.5, 2.7, -20), (-2.9, 1.8, -22))])
def test_the_head_of_a_snake_that_curls_otherwise_stays_its_head(curls: tuple[Bend, Bend]) -> None:
    """Turned about as little, it would bend more, and come out from under its eyes and its stripe."""

    def snake(curl: Bend) -> Drawing:
        along = np.linspace(0.0, 1.0, 20)
        turns = np.radians(curl[2]) + np.cumsum(np.interp(along, [0.0, 1.0], curl[:2])) * 2 / 19
        ways = np.exp(1j * turns)
        line = np.append(0, np.cumsum(ways[:-1] * 14))
        aside = 1j * ways * 13 * np.minimum(1.0, (1.0 - along) * 2.2 + 0.05)
        stripe = [*(line + aside)[6:8], *(line - aside)[6:8][::-1]]
        rows = [[(z.real, z.imag) for z in row] for row in ([*(line + aside), *(line - aside)[::-1]], stripe)]
        eyes = [line[0] + 6 * ways[0] + 0.4 * k * aside[0] for k in (-1, 1)]
        dots = [filled(ellipse(z.real, z.imag, 3, 3), color="#ffffff") for z in eyes]
        return drawing(filled(smooth(rows[0])), filled(polygon(rows[1]), color="#a04040"), *dots)

    plan = plan_span(snake(curls[0]), snake(curls[1]), Take())
    for t in TIMES:
        body, *rest = (shapely.Polygon(outline(shape.contours[0], 12)) for shape in plan.at(t).shapes)
        assert all(each.difference(body.buffer(2)).area < 0.1 * each.area for each in rest)
