"""A box that turns until another side comes to the front stays a box, with what is on its sides."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Shape, Take
from knead.core.snags.find import findings
from tests.examples import few
from tests.forms import drawing, drawn_anew, ellipse, filled, outline, polygon, smooth, turned

TIMES = np.linspace(0.0, 1.0, 9)
SIDES = {"front": 0.0, "right": 90.0, "back": 180.0, "left": 270.0}  # where they look to, in degrees
SPOTS = {"front": 5, "right": 1, "back": 2, "left": 4, "top": 3}
PLACES = [(0.0, 0.0), (-0.5, -0.5), (0.5, 0.5), (-0.5, 0.5), (0.5, -0.5)]
SHADES = {"top": "#ddbb88", "front": "#bb9966", "right": "#aa8855", "back": "#b3915e", "left": "#997744"}


def die(turn: float, tilt: float = 25.0, spots: bool = True) -> dict[str, Shape]:
    """What is seen of a die that has turned by so many degrees, looked at from above, from back to front."""
    yaw, down = math.radians(turn), math.radians(tilt)

    def seen(x: float, y: float, z: float) -> tuple[float, float]:
        across, depth = x * math.cos(yaw) + z * math.sin(yaw), z * math.cos(yaw) - x * math.sin(yaw)
        return 300 + across, 300 - y * math.cos(down) + depth * math.sin(down)

    def on(name: str, u: float, v: float) -> tuple[float, float]:
        if name == "top":
            return seen(100 * u, 100, 100 * v)
        way = math.radians(SIDES[name])
        out, along = (math.sin(way), math.cos(way)), (math.cos(way), -math.sin(way))
        return seen(100 * (out[0] + u * along[0]), -100 * v, 100 * (out[1] + u * along[1]))

    found = {}
    for name in ("top", *SIDES):
        if name != "top" and math.cos(math.radians(SIDES[name]) + yaw) < 0.05:
            continue
        corners = [on(name, *place) for place in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        found[name] = filled(polygon(corners), color=SHADES[name])
        for k, (u, v) in enumerate(PLACES[: SPOTS[name]] if spots else []):
            ring = [on(name, u + 0.16 * x, v + 0.16 * y) for x, y in outline(ellipse(0, 0, 1, 1), 2)]
            found[f"{name} {k}"] = filled(smooth(ring), color="#332211")
    return found


def key(seen: dict[str, Shape], order: int = 0) -> Drawing:
    """The drawing, with its shapes in another order if so asked: they do not lie over each other, but for spots."""
    names = sorted(seen, key=lambda name: (" " in name, sum(map(ord, name)) * (order + 7) % 11))
    return drawing(*(seen[name] for name in names))


def pairs_of(plan: SpanPlan, first: dict[str, Shape], second: dict[str, Shape]) -> set[tuple[str | None, str | None]]:
    names = {shape.id: name for seen in (first, second) for name, shape in seen.items()}
    return {(names.get(pair.first_id or ""), names.get(pair.second_id or "")) for pair in plan.pairs}


def staying(first: dict[str, Shape], second: dict[str, Shape]) -> set[tuple[str | None, str | None]]:
    both = {(name, name) for name in first if name in second}
    return (
        both
        | {(name, None) for name in first if name not in second}
        | {(None, name) for name in second if name not in first}
    )


@few
@given(st.floats(-60, 30), st.floats(40, 60), st.floats(15, 40), st.integers(0, 5))
@example(-30, 60, 25, 0)
@example(80, -50, 20, 1)
def test_sides_stay_those_that_they_are_and_none_comes_off_another(
    begins: float, goes: float, tilt: float, order: int
) -> None:
    first, second = die(begins, tilt), die(begins + goes, tilt)
    plan = plan_span(key(first), key(second, order), Take())
    assert pairs_of(plan, first, second) == staying(first, second)
    for t in TIMES:
        areas = [shapely.Polygon(outline(shape.contours[0])).buffer(0) for shape in plan.at(float(t)).shapes]
        whole = shapely.union_all([area.buffer(0.5) for area in areas])
        assert whole.area > 0.94 * whole.convex_hull.area
    assert not findings(plan, Take(), TIMES.tolist()).snags, "that its sides are squashed is meant"


def test_a_box_that_a_hand_drew_turns_as_well() -> None:
    noise = np.random.default_rng(5)
    keys = [
        {
            name: shape.model_copy(update={"contours": (drawn_anew(shape.contours[0], noise, 1.5),)})
            for name, shape in seen.items()
        }
        for seen in (die(-25), die(30))
    ]
    assert pairs_of(plan_span(key(keys[0]), key(keys[1]), Take()), *keys) == staying(*keys)


@pytest.mark.parametrize("degrees", [50.0, 90.0])
def test_one_that_is_turned_in_the_picture_turns_with_all_that_is_on_it(degrees: float) -> None:
    first = die(-25)
    second = {
        name: shape.model_copy(update={"contours": (turned(shape.contours[0], degrees, move=(80.0, 20.0)),)})
        for name, shape in first.items()
    }
    plan = plan_span(key(first), key(second, 3), Take())
    sizes, kept = (
        sorted(shapely.Polygon(outline(shape.contours[0])).area for shape in shapes)
        for shapes in (plan.at(0.5).shapes, first.values())
    )
    assert sizes == pytest.approx(kept, rel=0.02)
