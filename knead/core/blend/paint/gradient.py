"""Gradients on their way: of other kinds or other counts of stops, and between an even colour and a gradient."""

from collections.abc import Callable
from typing import Literal

import numpy as np

from knead.core.color import to_hex, to_oklab
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.model import Gradient, Paint, Point, Stop

Kind = Literal["linear", "radial"]
Carry = Callable[[Complexes, Complexes], Complexes]
"""Takes points of the first and of the second key, shape (k,), along with the shape: (times, k)."""


def gradients(first: Paint, second: Paint, times: Floats, carry: Carry, motion: tuple[complex, complex]) -> list[Paint]:
    """Paints at the times, at least one of the two having a gradient.

    An even colour becomes a gradient of one colour that lies where the other's is carried by the motion. Colours mix
    in OKLab, premultiplied by their opacity; a linear gradient becomes a radial one by the way of large circles.
    """
    one = first.gradient or _even(first, second, motion, True)
    two = second.gradient or _even(second, first, motion, False)
    ends = carry(_points(one), _points(two))
    places, labs, opacities = _stops(one, two, times)
    squash = np.exp((1 - times) * np.log(one.squash) + times * np.log(two.squash))
    found = []
    for k, t in enumerate(times.tolist()):
        colors = to_hex(labs[k])
        stops = tuple(
            Stop(at=float(a), color=c, opacity=float(o))
            for a, c, o in zip(places[k], colors, np.clip(opacities[k], 0, 1), strict=True)
        )
        start, end, focus = ends[k].tolist()
        kind: Kind = one.kind
        if one.kind != two.kind:
            kind, start, focus, stops = _between_kinds(start, end, stops, t if two.kind == "radial" else 1 - t)
        looking = kind == "radial" and abs(focus - start) > 1e-9
        gradient = Gradient(
            kind=kind,
            start=_point(start),
            end=_point(end),
            squash=float(squash[k]),
            focus=_point(focus) if looking else None,
            stops=stops,
        )
        opacity = first.opacity + t * (second.opacity - first.opacity)
        found.append(Paint(color=colors[0], opacity=min(max(opacity, 0.0), 1.0), gradient=gradient))
    return found


def _point(z: complex) -> Point:
    return Point(z.real, z.imag)


def _points(gradient: Gradient) -> Complexes:
    points = gradient.start, gradient.end, gradient.focus or gradient.start
    return np.array([complex(*p) for p in points])


def _even(paint: Paint, other: Paint, motion: tuple[complex, complex], backwards: bool) -> Gradient:
    """An even colour as a gradient where the other's gradient is carried to; `backwards` from the second key."""
    a, b = motion
    assert other.gradient is not None
    z = _points(other.gradient)
    z = (z - b) / a if backwards else a * z + b
    stops = tuple(Stop(at=s.at, color=paint.color, opacity=1.0) for s in other.gradient.stops)
    places = {"start": _point(z[0]), "end": _point(z[1]), "focus": _point(z[2]) if other.gradient.focus else None}
    return other.gradient.model_copy(update={**places, "stops": stops})


def _stops(one: Gradient, two: Gradient, times: Floats) -> tuple[Floats, Floats, Floats]:
    """Places (times, k), OKLab colours (times, k, 3) and opacities (times, k) of stops that both gradients have.

    Equally many stops meet one by one; else both are given stops at the other's places.
    """
    places = [np.array([s.at for s in g.stops]) for g in (one, two)]
    if len(places[0]) != len(places[1]):
        every = np.unique(np.concatenate(places))
        places = [every, every]
    labs, opacities = [], []
    for gradient, at in zip((one, two), places, strict=True):
        own = np.array([s.at for s in gradient.stops]) + 1e-9 * np.arange(len(gradient.stops))
        opacity = np.array([s.opacity for s in gradient.stops])
        color = np.array([to_oklab(s.color) for s in gradient.stops])
        seen = np.interp(at, own, opacity)
        lab = np.stack([np.interp(at, own, color[:, c] * opacity) for c in range(3)], axis=1)
        plain = np.stack([np.interp(at, own, color[:, c]) for c in range(3)], axis=1)
        labs.append(np.where(seen[:, None] > 1e-9, lab / np.maximum(seen, 1e-9)[:, None], plain))
        opacities.append(seen)
    t = times[:, None]
    opacity = (1 - t) * opacities[0] + t * opacities[1]
    share = np.where(opacity > 1e-9, t * opacities[1] / np.maximum(opacity, 1e-9), t)
    mixed = labs[0] + share[:, :, None] * (labs[1] - labs[0])
    return (1 - t) * places[0] + t * places[1], mixed, opacity


def _between_kinds(
    start: complex, end: complex, stops: tuple[Stop, ...], round_share: float
) -> tuple[Kind, complex, complex, tuple[Stop, ...]]:
    """A radial gradient whose rings are as straight as `round_share` says: 0 is linear, 1 radial about `start`."""
    if round_share <= 0.0:
        return "linear", start, start, stops
    inner = abs(end - start) * (1 - round_share) / round_share
    way = (end - start) / max(abs(end - start), 1e-12)
    whole = inner + abs(end - start)
    moved = tuple(
        s.model_copy(update={"at": min(1.0, (inner + abs(end - start) * s.at) / max(whole, 1e-12))}) for s in stops
    )
    centre = start - way * inner
    return "radial", centre, centre, moved
