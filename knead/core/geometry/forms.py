"""Simple closed forms as contours."""

from collections.abc import Sequence

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.model import Contour, Node, Point

CIRCLE = 0.5522847498  # handle length of a quarter circle, by its radius


def polygon(points: Floats | Sequence[tuple[float, float]]) -> Contour:
    """Straight lines through points, shape (k, 2)."""
    corners = [Point(float(x), float(y)) for x, y in points]
    return Contour(nodes=tuple(Node(at=p, before=p, after=p) for p in corners), closed=True)


def box(x: float, y: float, width: float, height: float) -> Contour:
    """A box, clockwise from its left top."""
    return polygon([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])


def ellipse(x: float, y: float, width: float, height: float) -> Contour:
    """The ellipse that fills a box, clockwise from its top."""
    rx, ry = width / 2, height / 2
    cx, cy = x + rx, y + ry
    nodes = []
    for ux, uy in ((0, -1), (1, 0), (0, 1), (-1, 0)):
        px, py = cx + ux * rx, cy + uy * ry
        hx, hy = -uy * CIRCLE * rx, ux * CIRCLE * ry
        at, before, after = Point(px, py), Point(px - hx, py - hy), Point(px + hx, py + hy)
        nodes.append(Node(at=at, before=before, after=after, kind="symmetric"))
    return Contour(nodes=tuple(nodes), closed=True)


def regular(x: float, y: float, width: float, height: float, tips: int, inner: float = 1.0) -> Contour:
    """A polygon with its corners on the ellipse that fills a box, the first at its top.

    With `inner` below 1 a star: between two tips is a dent at that share of their distance from the middle.
    """
    radii = np.array([1.0]) if inner >= 1.0 else np.array([1.0, inner])
    count = tips * len(radii)
    angles = 2 * np.pi * np.arange(count) / count - np.pi / 2
    way = np.stack([np.cos(angles), np.sin(angles)], axis=1) * np.tile(radii, tips)[:, None]
    return polygon(np.array([x + width / 2, y + height / 2]) + way * np.array([width / 2, height / 2]))
