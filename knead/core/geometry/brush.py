"""A stroke whose width changes along it, as the outline of what the pen covers."""

import numpy as np

from knead.core.geometry.bezier import path_of, points_at
from knead.core.geometry.similarity import Complexes, as_complex
from knead.core.geometry.track import measure
from knead.core.model import Contour, Shape, Stroke

STEPS = 10  # samples a segment
ROUND = 5  # samples of a half circle at an end


def is_brushed(shape: Shape) -> bool:
    """Whether a shape has a stroke of changing width."""
    return shape.stroke is not None and any(node.weight != 1.0 for c in shape.contours for node in c.nodes)


def brushed(contour: Contour, stroke: Stroke) -> list[Complexes]:
    """Closed polygons, each of shape (k,), that cover the stroke when filled by the nonzero rule; its ends are round.

    The stroke's width is multiplied by each node's weight, evenly between nodes; only what its reveal shows is there.
    Contours with equally many nodes give polygons with equally many points.
    """
    track = measure(path_of(contour), contour.closed)
    params = np.arange(len(track.path) * STEPS + 1) / STEPS
    whole = stroke.reveal == (0.0, 1.0)
    if not whole:
        low, high = sorted(stroke.reveal)
        params = track.params_at(low + (high - low) * track.shares(params))
    points = as_complex(points_at(track.path, params))
    nodes = np.array([n.weight for n in contour.nodes])
    known = np.append(nodes, nodes[0]) if contour.closed else nodes
    radii = 0.5 * stroke.width * np.interp(params, np.arange(len(known)), known)
    ring = contour.closed and whole
    ways = _ways(points, ring)
    left, right = points + 1j * ways * radii, points - 1j * ways * radii
    if ring:
        return [left, right[::-1]]
    fan = np.exp(1j * np.pi * np.linspace(0, 1, ROUND + 2)[1:-1])
    end = points[-1] + radii[-1] * ways[-1] * 1j / fan
    start = points[0] - radii[0] * ways[0] * 1j / fan
    return [np.concatenate([left, end, right[::-1], start])]


def _ways(points: Complexes, closed: bool) -> Complexes:
    """Unit directions at points of a line."""
    steps = np.diff(points)
    size = np.abs(steps)
    still = size <= 1e-12
    if still.all():
        return np.ones(len(points), dtype=complex)
    good = np.flatnonzero(~still)
    moving = good[np.clip(np.searchsorted(good, np.arange(len(steps))), 0, len(good) - 1)]
    steps = (steps / np.where(still, 1.0, size))[moving]
    before = np.concatenate([steps[-1:] if closed else steps[:1], steps])
    after = np.concatenate([steps, steps[:1] if closed else steps[-1:]])
    mean = before + after
    return np.asarray(np.where(np.abs(mean) > 1e-6, mean / np.maximum(np.abs(mean), 1e-12), after), dtype=complex)


def dash_pattern(shape: Shape, length: float) -> tuple[list[float], float]:
    """Dashes and offset, in scene units, that show a stroke's dashes within its reveal; none for a whole solid line."""
    assert shape.stroke is not None
    stroke = shape.stroke
    start, end = sorted(stroke.reveal)
    if (start, end) == (0.0, 1.0):
        return list(stroke.dashes), stroke.dash_offset
    if not stroke.dashes or sum(stroke.dashes) <= 0:
        return [max((end - start) * length, 0.0), length + 1.0], -start * length
    pattern = list(stroke.dashes) * (2 if len(stroke.dashes) % 2 else 1)
    drawn: list[float] = []
    at, k = -(stroke.dash_offset % sum(pattern)), 0
    while at < end * length and len(drawn) < 2000:
        low, high = max(at, start * length), min(at + pattern[k % len(pattern)], end * length)
        if k % 2 == 0 and high > low:
            drawn += [low, high]
        at, k = at + pattern[k % len(pattern)], k + 1
    if not drawn:
        return [0.0, length + 1.0], 0.0
    gaps = np.diff([*drawn, drawn[-1] + length + 1.0]).tolist()
    return gaps, -drawn[0]
