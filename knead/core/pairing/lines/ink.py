"""Which lines are the ink of which fill: those that lie along its edge."""

from collections.abc import Mapping
from typing import TypeVar

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape

ALONG, AROUND = np.linspace(0.0, 1.0, 17), np.linspace(0.0, 1.0, 65)
NEAR = 0.015  # how far off an edge its ink is at most, by the size of what it goes round
MOSTLY = 0.9  # the share of a line that lies along the edge

Name = TypeVar("Name", int, str)


def edges_of(shapes: Mapping[Name, Shape]) -> dict[Name, list[Name]]:
    """Of each line that lies along the edges of fills, these, the one on which it was drawn first.

    Shapes go by some name, from back to front.
    """
    named = list(enumerate(shapes.items()))
    fills = [(k, name, shape) for k, (name, shape) in named if shape.fill is not None and shape.contours[0].closed]
    lines = [(k, name, shape) for k, (name, shape) in named if shape.fill is None and shape.stroke is not None]
    if not fills or not lines:
        return {}
    rings = [_places(shape, AROUND) for _, _, shape in fills]
    low, high = (np.array([[end(ring.real), end(ring.imag)] for ring in rings]) for end in (np.min, np.max))
    reach = NEAR * np.hypot(*(high - low).T)[:, None]
    edges: dict[int, shapely.Geometry] = {}
    found: dict[Name, list[Name]] = {}
    for k, name, line in lines:
        points = as_points(_places(line, ALONG))
        within = (low - reach <= points.min(axis=0)) & (high + reach >= points.max(axis=0))
        near = np.flatnonzero(within.all(axis=1)).tolist()
        spots = shapely.points(points) if near else None
        for n in sorted(near, key=lambda n: _off(k, fills[n][0])):
            edge = edges.get(n) or edges.setdefault(n, _edge(fills[n][2]))
            if shapely.dwithin(edge, spots, reach[n, 0]).mean() >= MOSTLY:
                found.setdefault(name, []).append(fills[n][1])
    return found


def _places(shape: Shape, shares: Floats) -> Complexes:
    return np.concatenate([track_of(contour).sketch(shares) for contour in shape.contours])


def _edge(shape: Shape) -> shapely.Geometry:
    tracks = [track_of(contour) for contour in shape.contours]
    rows = [as_points(track.sketch(np.union1d(AROUND, track.nodes))) for track in tracks]
    edge = shapely.MultiLineString(rows)
    shapely.prepare(edge)
    return edge


def _off(line: int, fill: int) -> int:
    """How far from a line a fill lies in the stack; it is meant to lie beneath."""
    return line - fill if fill < line else 2 * (fill - line)
