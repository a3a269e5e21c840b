"""Gradients, dashes and lines of changing width, in files and on their way."""

import io

import numpy as np
import pytest
from PIL import Image

from knead.core.color import to_oklab
from knead.core.geometry.bezier import path_of
from knead.core.geometry.brush import brushed, dash_pattern
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Fill, Gradient, Node, Paint, Point, Shape, Stop, Stroke, Take
from knead.formats.pictures import png_of
from knead.formats.svg_read import read_svg
from knead.formats.svg_write import drawing_paths, root_element
from tests.forms import blob, drawing, ellipse, filled, polygon, stroked, turned, wave

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="200" viewBox="0 0 300 200">'
STOPS = '<stop offset="10%" stop-color="#e03020"/><stop offset=".9" stop-color="#2040d0" stop-opacity=".5"/>'


def picture(svg: str) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png_of(svg, 300))).convert("RGBA"), dtype=float)


def written(shapes: Drawing) -> str:
    return root_element(drawing_paths(shapes), 300, 200)


@pytest.mark.parametrize(
    "gradient",
    [
        f'<linearGradient id="g">{STOPS}</linearGradient>',
        f'<linearGradient id="g" x1="0" y1="0" x2="1" y2="1">{STOPS}</linearGradient>',
        f'<linearGradient id="g" gradientTransform="rotate(30) skewX(25)">{STOPS}</linearGradient>',
        f'<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="20" x2="200" y2="90">{STOPS}</linearGradient>',
        f'<radialGradient id="g">{STOPS}</radialGradient>',
        f'<radialGradient id="g" cx=".3" cy=".4" r=".6" fx=".5" fy=".3">{STOPS}</radialGradient>',
        f'<radialGradient id="g" gradientTransform="rotate(20) skewX(30) translate(.1 -.1)">{STOPS}</radialGradient>',
        f'<linearGradient id="h">{STOPS}</linearGradient>'
        '<radialGradient id="g" xmlns:x="http://www.w3.org/1999/xlink" x:href="#h" r="70%"/>',
    ],
)
@pytest.mark.parametrize("place", ["", 'transform="translate(40 20) rotate(12) scale(1.1 .7)"'])
def test_a_gradient_looks_the_same_after_reading_and_writing(gradient: str, place: str) -> None:
    shape = f'<rect x="30" y="30" width="150" height="90" fill="url(#g)" {place}/>'
    source = f"{HEAD}{gradient}{shape}</svg>"
    read = read_svg(source.encode())
    assert not read.lost
    assert np.abs(picture(source) - picture(written(read.drawing))).mean() < 0.6


def test_dashes_come_in_and_go_out() -> None:
    dashes = 'stroke-dasharray="12 6 2" stroke-dashoffset="5"'
    source = f'{HEAD}<path d="M20 50H280" stroke="#000" stroke-width="4" {dashes}/></svg>'
    read = read_svg(source.encode())
    assert read.drawing.shapes[0].stroke is not None
    assert read.drawing.shapes[0].stroke.dashes == (12.0, 6.0, 2.0)
    assert np.abs(picture(source) - picture(written(read.drawing))).mean() < 0.2


def gradient_fill(kind: str, *colors: str, at: tuple[float, float] = (300.0, 300.0)) -> Fill:
    stops = tuple(Stop(at=k / (len(colors) - 1), color=c) for k, c in enumerate(colors))
    ends = {"start": Point(*at), "end": Point(at[0] + 100, at[1])}
    return Fill(paint=Paint(color=colors[0], gradient=Gradient(kind=kind, stops=stops, **ends)))


def painted(fill: Fill, degrees: float = 0.0) -> Shape:
    return Shape(contours=(turned(blob([100, 70, 120, 90, 60]), degrees),), fill=fill)


def between(one: Shape, two: Shape, t: float) -> Gradient:
    shape = plan_span(drawing(one), drawing(two), Take()).at(t).shapes[0]
    assert shape.fill is not None
    assert shape.fill.paint.gradient is not None
    return shape.fill.paint.gradient


def test_gradients_of_other_counts_of_stops_meet() -> None:
    one, two = gradient_fill("linear", "#ff0000", "#0000ff"), gradient_fill("linear", "#ff0000", "#00ff00", "#0000ff")
    middle = between(painted(one), painted(two), 0.5)
    assert [s.at for s in middle.stops] == [0.0, 0.5, 1.0]
    expected = 0.25 * (to_oklab("#ff0000") + to_oklab("#0000ff")) + 0.5 * to_oklab("#00ff00")
    assert to_oklab(middle.stops[1].color) == pytest.approx(expected, abs=0.06)  # what no screen can show is clipped


def test_an_even_colour_becomes_a_gradient_and_a_linear_one_a_radial_one_without_a_jump() -> None:
    even = Fill(paint=Paint(color="#335577"))
    linear, radial = gradient_fill("linear", "#ff8800", "#224466"), gradient_fill("radial", "#ff8800", "#224466")
    for one, two in ((even, linear), (linear, even), (linear, radial), (radial, linear)):
        keys = drawing(painted(one)), drawing(painted(two))
        plan = plan_span(*keys, Take())
        for t, key in ((0.0, keys[0]), (1.0, keys[1])):
            assert plan.at(t).shapes[0].fill == key.shapes[0].fill
            near = plan.at(abs(t - 1e-3))
            frame = [root_element(drawing_paths(d), 300, 300, (150, 150, 300, 300)) for d in (near, key)]
            assert np.abs(picture(frame[0]) - picture(frame[1])).mean() < 1.5


def test_a_gradient_turns_with_its_shape() -> None:
    one = gradient_fill("linear", "#ff0000", "#0000ff", at=(300.0, 300.0))
    matrix = np.array([[0.0, -1.0], [1.0, 0.0]])
    start, end = (Point(*(matrix @ np.array(p)).tolist()) for p in ((300, 300), (400, 300)))
    assert one.paint.gradient is not None
    turned_gradient = one.paint.gradient.model_copy(update={"start": start, "end": end})
    two = Fill(paint=Paint(color="#ff0000", gradient=turned_gradient))
    middle = between(painted(one), painted(two, 90), 0.5)
    way = np.subtract(middle.end, middle.start)
    assert np.hypot(*way) == pytest.approx(100, rel=1e-3)
    assert np.degrees(np.arctan2(way[1], way[0])) == pytest.approx(45, abs=0.5)


def test_stroke_properties_go_from_key_to_key() -> None:
    one, two = stroked(wave(4)), stroked(turned(wave(4), 10))
    dashed = Stroke(dashes=(10.0, 6.0), dash_offset=4.0, reveal=(0.0, 0.5), cap="butt", join="bevel", width=2)
    plan = plan_span(drawing(one), drawing(two.model_copy(update={"stroke": dashed})), Take())
    early, late = (plan.at(t).shapes[0].stroke for t in (0.25, 0.75))
    assert early is not None
    assert late is not None
    assert early.dashes == pytest.approx((14.5, 1.5))
    assert late.dashes == pytest.approx((11.5, 4.5))
    assert late.reveal == pytest.approx((0.0, 0.625))
    assert (early.cap, early.join, late.cap, late.join) == ("round", "round", "butt", "bevel")


def weighted(shape: Shape, weights: list[float]) -> Shape:
    nodes: list[Node] = [
        n.model_copy(update={"weight": w}) for n, w in zip(shape.contours[0].nodes, weights, strict=True)
    ]
    return shape.model_copy(update={"contours": (shape.contours[0].model_copy(update={"nodes": tuple(nodes)}),)})


def test_a_width_profile_travels_and_is_covered_by_its_outline() -> None:
    one = weighted(stroked(polygon([(0, 100), (100, 100), (200, 100)], closed=False), width=10), [0.0, 1.0, 2.0])
    two = weighted(stroked(polygon([(0, 100), (200, 100)], closed=False), width=10), [2.0, 0.0])
    middle = plan_span(drawing(one), drawing(two), Take()).at(0.5).shapes[0]
    assert [n.weight for n in middle.contours[0].nodes] == pytest.approx([1.0, 1.0, 1.0])
    assert one.stroke is not None
    (ring,) = brushed(one.contours[0], one.stroke)
    near = ring[np.abs(ring.real - 150) < 5]
    assert np.ptp(near.imag) == pytest.approx(15, rel=0.05)
    pixels = picture(written(drawing(one)))[:, :, 3]
    assert (pixels[:, 150] > 128).sum() == pytest.approx(15, abs=1)


@pytest.mark.parametrize("reveal", [(0.0, 0.4), (0.25, 1.0), (0.5, 0.5)])
@pytest.mark.parametrize("dashes", [(), (7.0, 3.0), (5.0,)])
@pytest.mark.parametrize("brush", [False, True])
def test_only_what_is_revealed_is_drawn(reveal: tuple[float, float], dashes: tuple[float, ...], brush: bool) -> None:
    line = polygon([(20, 50), (220, 50)], closed=False)
    shape = Shape(contours=(line,), stroke=Stroke(width=4, cap="butt", reveal=reveal, dashes=dashes))
    shape = weighted(shape, [1.0, 1.5]) if brush else shape
    end = 3 if brush and not dashes else 0  # a brush ends round
    row = picture(written(drawing(shape)))[50, :, 3] > 128
    drawn = np.flatnonzero(row)
    if reveal[0] == reveal[1]:
        assert not len(drawn)
        return
    assert drawn.min() >= 20 + 200 * reveal[0] - 1 - end
    assert drawn.max() <= 20 + 200 * reveal[1] + 1 + end
    share = 1.0 if not dashes else 0.7 if len(dashes) == 2 else 0.5
    assert len(drawn) == pytest.approx(200 * (reveal[1] - reveal[0]) * share + 2 * end, abs=6)
    assert dash_pattern(shape, float(np.abs(np.diff(path_of(line)[:, [0, 3], 0])).sum()))[0]


def test_a_hole_stays_a_hole_when_fill_rules_differ() -> None:
    ring = filled(ellipse(100, 100, 80, 80), ellipse(100, 100, 40, 40), rule="evenodd")
    other = filled(ellipse(120, 110, 70, 80), turned(ellipse(0, 0, 30, -40), 0, move=(120, 110)), rule="nonzero")
    for t in (0.3, 0.7):
        frame = written(plan_span(drawing(ring), drawing(other), Take()).at(t))
        assert picture(frame)[104, 110, 3] == 0
