"""A stroke whose width changes along it, as the outline of what the pen covers."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, points_at
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Shape, Stroke

STEPS = 10  # samples a segment
ROUND = 5  # samples of a half circle at an end
MOST_DASHES = 1000


def is_brushed(shape: Shape) -> bool:
    """Whether a shape has a stroke of changing width."""
    return shape.stroke is not None and any(node.weight != 1.0 for c in shape.contours for node in c.nodes)


def brushed(contour: Contour, stroke: Stroke) -> list[Complexes]:
    """Closed polygons, each of shape (k,), that cover the stroke when filled by the nonzero rule.

    The stroke's width is multiplied by each node's weight, evenly between nodes; only what its reveal and dashes show
    is there. Its ends are round, those of dashes only with a round cap. Solid strokes of contours with equally many
    nodes give polygons with equally many points.
    """
    track = track_of(contour)
    params = np.arange(len(track.path) * STEPS + 1) / STEPS
    if _dashed(stroke):
        count, length = len(params), max(track.length, 1e-12)
        parts = [(low / length, high / length) for low, high in _seen(stroke, track.length)]
        few = [np.linspace(low, high, max(6, round(4 * (high - low) * count))) for low, high in parts]
        return [ring for row in few for ring in _covered(contour, stroke, track, track.params_at(row), False)]
    if stroke.reveal == (0.0, 1.0):
        return _covered(contour, stroke, track, params, contour.closed)
    low, high = sorted(stroke.reveal)
    if low == high:
        return []
    return _covered(contour, stroke, track, track.params_at(low + (high - low) * track.shares(params)), False)


def _covered(contour: Contour, stroke: Stroke, track: Track, params: Floats, ring: bool) -> list[Complexes]:
    """The polygons that cover a stretch of a stroke, given by parameters along it; of a ring, its two sides."""
    points = as_complex(points_at(track.path, params))
    nodes = np.array([n.weight for n in contour.nodes])
    known = np.append(nodes, nodes[0]) if contour.closed else nodes
    radii = 0.5 * stroke.width * np.interp(params, np.arange(len(known)), known)
    ways = _ways(points, ring)
    left, right = points + 1j * ways * radii, points - 1j * ways * radii
    if ring:
        return [left, right[::-1]]
    flat = _dashed(stroke) and stroke.cap != "round"
    fan = np.exp(1j * np.pi * np.linspace(0, 1, ROUND + 2)[1:-1]) if not flat else np.zeros(0, dtype=complex)
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
    if not _dashed(stroke):
        return [max((end - start) * length, 0.0), length + 1.0], -start * length
    drawn = [place for stretch in _seen(stroke, length) for place in stretch]
    if not drawn:
        return [0.0, length + 1.0], 0.0
    gaps = np.diff([*drawn, drawn[-1] + length + 1.0]).tolist()
    return gaps, -drawn[0]


def _dashed(stroke: Stroke) -> bool:
    return sum(stroke.dashes) > 0


def _seen(stroke: Stroke, length: float) -> list[tuple[float, float]]:
    """The dashes within the reveal of a dashed stroke of this length: where each begins and ends."""
    start, end = sorted(stroke.reveal)
    pattern = list(stroke.dashes) * (2 if len(stroke.dashes) % 2 else 1)
    found: list[tuple[float, float]] = []
    at, k = -(stroke.dash_offset % sum(pattern)), 0
    while at < end * length and len(found) < MOST_DASHES:
        low, high = max(at, start * length), min(at + pattern[k % len(pattern)], end * length)
        if k % 2 == 0 and high > low:
            found.append((low, high))
        at, k = at + pattern[k % len(pattern)], k + 1
    return found
