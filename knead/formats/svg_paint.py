"""Paint in SVG: gradients both ways, dashes and reveal out."""

import hashlib
import re
from collections.abc import Iterable
from typing import Any

import numpy as np
import svgelements as svg

from knead.core.geometry.bezier import Floats
from knead.core.geometry.brush import dash_pattern
from knead.core.geometry.placing import placed_gradient
from knead.core.geometry.track import track_of
from knead.core.model import Gradient, Paint, Point, Shape, Stop
from knead.formats.svg_guard import local_name
from knead.formats.svg_plain import number as number_of

GRADIENTS = {"linearGradient", "radialGradient"}


def number(value: float) -> str:
    """A number as short as it can be at a ten-thousandth of a unit."""
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in {"-0", ""} else text


def gradient_element(gradient: Gradient, name: str) -> str:
    """A `<linearGradient>` or `<radialGradient>` with this id, in user units."""
    start, end = np.array(gradient.start), np.array(gradient.end)
    stops = "".join(
        f'<stop offset="{number(s.at)}" stop-color="{s.color}"'
        + (f' stop-opacity="{number(s.opacity)}"' if s.opacity < 1 else "")
        + "/>"
        for s in gradient.stops
    )
    head = f'id="{name}" gradientUnits="userSpaceOnUse"'
    if gradient.kind == "linear":
        places = zip(("x1", "y1", "x2", "y2"), (*gradient.start, *gradient.end), strict=True)
        return f"<linearGradient {head} {_attributes(places)}>{stops}</linearGradient>"
    radius = float(np.hypot(*(end - start)))
    angle = float(np.degrees(np.arctan2(*(end - start)[::-1])))
    turn = f"translate({number(start[0])} {number(start[1])}) rotate({number(angle)})"
    transform = f'gradientTransform="{turn} scale(1 {number(gradient.squash)})"'
    focus = ""
    if gradient.focus is not None:
        z = complex(*(np.array(gradient.focus) - start)) * np.exp(-1j * np.radians(angle))
        focus = f'fx="{number(z.real)}" fy="{number(z.imag / gradient.squash)}" '
    return f'<radialGradient {head} cx="0" cy="0" r="{number(radius)}" {focus}{transform}>{stops}</radialGradient>'


def gradient_id(gradient: Gradient) -> str:
    """An id by content: equal gradients share it."""
    return "g" + hashlib.sha256(gradient.model_dump_json().encode()).hexdigest()[:12]


def _attributes(pairs: Iterable[tuple[str, float]]) -> str:
    return " ".join(f'{name}="{number(value)}"' for name, value in pairs)


def dash_attributes(shape: Shape) -> dict[str, str]:
    """`stroke-dasharray` and its offset: dashes, and how much of the line is there."""
    length = max(track_of(c).length for c in shape.contours) if _trimmed(shape) else 0.0
    dashes, offset = dash_pattern(shape, length)
    if not dashes:
        return {}
    return {"stroke-dasharray": " ".join(map(number, dashes)), "stroke-dashoffset": number(offset)}


def _trimmed(shape: Shape) -> bool:
    return shape.stroke is not None and shape.stroke.reveal != (0.0, 1.0)


class GradientBook:
    """The gradients of a document that is read, by id, with what they refer to resolved."""

    def __init__(self, root: Any) -> None:
        found = [e for e in root.iter() if local_name(e.tag) in GRADIENTS and e.get("id")]
        self._elements = {e.get("id"): e for e in found}

    def paint(self, name: str, opacity: float, box: tuple[float, float, float, float], matrix: Floats) -> Paint | None:
        """The paint of a gradient on a shape, None where there is no such gradient or it has no stop.

        `box` is the shape's (x, y, width, height) in its own units, `matrix` (2, 3) goes from those to the drawing's.
        """
        element = self._elements.get(name)
        if element is None:
            return None
        stops = self._stops(element)
        if not stops:
            return None
        if len(stops) == 1:
            return Paint(color=stops[0].color, opacity=opacity * stops[0].opacity)
        gradient = self._geometry(element, stops)
        if gradient is None:
            return Paint(color=stops[-1].color, opacity=opacity * stops[-1].opacity)
        own = _matrix(self._inherited(element, "gradientTransform"))
        if self._inherited(element, "gradientUnits") != "userSpaceOnUse":
            x, y, width, height = box
            own = _after(np.array([[width, 0, x], [0, height, y]]), own)
        gradient = placed_gradient(gradient, _after(matrix, own))
        return Paint(color=stops[0].color, opacity=opacity, gradient=gradient)

    def _geometry(self, element: Any, stops: tuple[Stop, ...]) -> Gradient | None:
        """The gradient in its own units; None where it has no extent."""

        def place(name: str, default: float) -> float:
            return number_of(self._inherited(element, name), default)

        if local_name(element.tag) == "linearGradient":
            start, end = (place("x1", 0.0), place("y1", 0.0)), (place("x2", 1.0), place("y2", 0.0))
            if start == end:
                return None
            return Gradient(kind="linear", start=Point(*start), end=Point(*end), stops=stops)
        cx, cy, r = place("cx", 0.5), place("cy", 0.5), place("r", 0.5)
        if r <= 0:
            return None
        fx, fy = place("fx", cx), place("fy", cy)
        focus = None if (fx, fy) == (cx, cy) else Point(fx, fy)
        return Gradient(kind="radial", start=Point(cx, cy), end=Point(cx + r, cy), focus=focus, stops=stops)

    def _inherited(self, element: Any, name: str) -> str | None:
        for each in self._chain(element):
            if each.get(name) is not None:
                return str(each.get(name))
        return None

    def _chain(self, element: Any) -> list[Any]:
        chain = [element]
        while len(chain) < 20:
            link = next((v for k, v in chain[-1].attrib.items() if k.split("}")[-1] == "href"), "")
            following = self._elements.get(link.strip().removeprefix("#"))
            if following is None or following in chain:
                break
            chain.append(following)
        return chain

    def _stops(self, element: Any) -> tuple[Stop, ...]:
        for each in self._chain(element):
            found = [_stop(s) for s in each if local_name(s.tag) == "stop"]
            if found:
                places = np.maximum.accumulate([s.at for s in found]).tolist()
                return tuple(s.model_copy(update={"at": at}) for s, at in zip(found, places, strict=True))
        return ()


def _stop(element: Any) -> Stop:
    style = dict(re.findall(r"([\w-]+)\s*:\s*([^;]+)", element.get("style") or ""))
    color = svg.Color((style.get("stop-color") or element.get("stop-color") or "#000000").strip())
    opacity = number_of(style.get("stop-opacity") or element.get("stop-opacity"), 1.0)
    offset = (element.get("offset") or "0").strip()
    at = number_of(offset.rstrip("%"), 0.0) / (100.0 if offset.endswith("%") else 1.0)
    if color.value is None:
        return Stop(at=min(max(at, 0.0), 1.0), color="#000000", opacity=0.0)
    alpha = min(max(opacity, 0.0), 1.0) * color.alpha / 255.0
    return Stop(at=min(max(at, 0.0), 1.0), color=color.hexrgb.lower(), opacity=alpha)


def _matrix(text: str | None) -> Floats:
    m = svg.Matrix(text or "")
    return np.array([[m.a, m.c, m.e], [m.b, m.d, m.f]], dtype=float)


def _after(outer: Floats, inner: Floats) -> Floats:
    """The map that does `inner` and then `outer`, both (2, 3)."""
    return np.concatenate([outer[:, :2] @ inner[:, :2], (outer[:, :2] @ inner[:, 2] + outer[:, 2])[:, None]], axis=1)
