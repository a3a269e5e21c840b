"""Legs and arms that cross as someone walks: what is joined stays so, and what is seen before a body stays there."""

import cmath
import math

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Shape, Take
from tests.forms import drawing, drawn_anew, ellipse, filled, outline, smooth


def limb(start: complex, way: float, long: float, wide: float, color: str) -> tuple[Shape, complex]:
    """A rounded bone, and where the next one hangs on it; 0 hangs down, and a positive way goes forwards."""
    along = 1j * cmath.exp(-1j * way)
    side = along * 1j * wide / 2
    end = start + along * long
    middle = (start + end) / 2
    places = [start - along * wide / 2, start + side, middle + 1.1 * side, end + 0.8 * side, end + along * wide / 2]
    places += [end - 0.8 * side, middle - 1.1 * side, start - side]
    return filled(smooth([(z.real, z.imag) for z in places]), color=color), end


def walker(step: float, swing: float = 0.6) -> dict[str, Shape]:
    """Someone who walks, at one phase of the step in radians, from back to front; all limbs of a kind look alike."""
    hip, found = 300 + 200j, {}
    shoulder = hip - 78j

    def arm(side: str, phase: float) -> None:
        way, end = -swing * math.sin(phase), shoulder
        for name, bend, long, wide, color in (("upper", 0.0, 38, 15, "#3355aa"), ("fore", 0.4, 34, 12, "#d8a080")):
            found[f"{side} {name}"], end = limb(end, way + bend, long, wide, color)

    def leg(side: str, phase: float) -> None:
        way, knee = swing * math.sin(phase) + 0.1, max(0.0, 0.2 + 0.7 * math.cos(phase + 0.5))
        found[f"{side} thigh"], end = limb(hip, way, 48, 22, "#665577")
        found[f"{side} shin"], end = limb(end, way - knee, 46, 17, "#665577")
        found[f"{side} shoe"], _ = limb(end, way - knee + 1.3, 16, 12, "#403020")

    arm("far", step + math.pi)
    leg("far", step + math.pi)
    leg("near", step)
    body = [(314, 122), (316, 205), (300, 214), (284, 205), (286, 122), (300, 108)]
    found["body"] = filled(smooth(body), color="#44aa66")
    arm("near", step)
    return found


def become(first: dict[str, Shape], second: dict[str, Shape]) -> dict[str, str]:
    names = {shape.id: name for key in (first, second) for name, shape in key.items()}
    pairs = plan_span(drawing(*first.values()), drawing(*second.values()), Take()).pairs
    return {names[pair.first_id or ""]: names[pair.second_id or ""] for pair in pairs}


@pytest.mark.parametrize("swing", [0.4, 0.6])
@pytest.mark.parametrize(("begins", "goes"), [(3.4, 0.7), (2.2, 1.2), (5.8, 0.7), (1.8, 1.6), (3.4, -0.7), (4.6, -1.2)])
def test_legs_and_arms_that_cross_stay_whole(swing: float, begins: float, goes: float) -> None:
    found = become(walker(begins, swing), walker(begins + goes, swing))
    for side in ("near", "far"):
        leg = {found[f"{side} {part}"].split()[0] for part in ("thigh", "shin", "shoe")}
        assert len(leg) == 1, "whichever it becomes, that nothing tells if all is of one colour"
        assert {found[f"{side} {part}"] for part in ("upper", "fore")} == {f"{side} upper", f"{side} fore"}


@pytest.mark.parametrize("seed", [0, 1, 2])
def test_arms_that_a_hand_drew_stay_on_their_side_of_a_body(seed: int) -> None:
    noise = np.random.default_rng(seed)
    first, second = (
        {name: s.model_copy(update={"contours": (drawn_anew(s.contours[0], noise, 1.0),)}) for name, s in key.items()}
        for key in (walker(3.0), walker(4.2))
    )
    found = become(first, second)
    for name in ("near upper", "near fore", "far upper", "far fore"):
        assert found[name] == name


def spotted(key: dict[str, Shape]) -> dict[str, Shape]:
    """The same with a spot on each limb, all of them alike."""
    found = {}
    for name, shape in key.items():
        found[name] = shape
        if name != "body":
            x, y = outline(shape.contours[0]).mean(axis=0)
            found[f"{name} spot"] = filled(ellipse(x, y, 3, 3), color="#ffe080")
    return found


@pytest.mark.parametrize(("begins", "goes"), [(3.4, 0.7), (2.2, 1.2), (5.8, 0.7), (1.8, 1.6), (3.4, -0.7), (4.6, -1.2)])
def test_what_is_drawn_on_limbs_that_cross_goes_with_them(begins: float, goes: float) -> None:
    found = become(spotted(walker(begins)), spotted(walker(begins + goes)))
    for limb_name in (name for name in found if name != "body" and not name.endswith("spot")):
        assert found[f"{limb_name} spot"] == f"{found[limb_name]} spot"
