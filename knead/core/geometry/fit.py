"""Fitting few cubic Béziers to many points.

Source: Schneider 1990, "An Algorithm for Automatically Fitting Digitized Curves".
"""

import numpy as np

from knead.core.geometry.bezier import Floats, lengths_along, points_at

ROUNDS = 6
LONGEST = 0.8  # a handle is shorter than this, by the row of points, or it loops between them; half a round takes 0.42
SHARP = 0.5  # cosine of the turn between neighbouring chords below which a freehand line has a corner


def fit_path(points: Floats, tolerance: float) -> tuple[Floats, list[int]]:
    """Segments within `tolerance` scene units of the points, shape (segments, 4, 2), and each node's point index.

    Points, shape (k, 2) with k >= 2 and no two neighbours equal. Corners of the row of points stay corners. Where it
    ends at its first point, and turns no corner there, it goes on smoothly.
    """
    stops = [0, *_corner_indices(points, tolerance), len(points) - 1]
    pieces: list[Floats] = []
    nodes = [0]
    seam = _seam(points)
    for start, end in zip(stops[:-1], stops[1:], strict=True):
        row = points[start : end + 1]
        leave, arrive = _unit(row[min(2, len(row) - 1)] - row[0]), _unit(row[-min(3, len(row))] - row[-1])
        if seam is not None:
            leave, arrive = (seam if start == 0 else leave), (-seam if end == len(points) - 1 else arrive)
        for piece, last in _fit(row, leave, arrive, tolerance):
            pieces.append(piece)
            nodes.append(start + last)
    return np.array(pieces), nodes


def _seam(points: Floats) -> Floats | None:
    """The direction in which a row of points that ends where it began passes that place; None if it turns there."""
    if len(points) < 6 or np.any(points[0] != points[-1]):
        return None
    into, out = points[-1] - points[-3], points[2] - points[0]
    sharp = into @ out < SHARP * float(np.linalg.norm(into) * np.linalg.norm(out))
    return None if sharp else _unit(points[2] - points[-3])


def fit_one(points: Floats, leave: Floats, arrive: Floats) -> Floats:
    """The single segment, shape (4, 2), nearest to the points with given unit tangents (both pointing inwards)."""
    return fitted(points, leave, arrive)[0]


def fitted(points: Floats, leave: Floats, arrive: Floats) -> tuple[Floats, float]:
    """`fit_one`, with the largest distance of a point from its own place on the segment."""
    params = _chord_params(points)
    segment = _bezier(points, params, leave, arrive)
    for _ in range(ROUNDS):
        params = _improved(segment, points, params)
        segment = _bezier(points, params, leave, arrive)
    return segment, float(np.linalg.norm(points_at(segment[None], params) - points, axis=1).max())


def _fit(points: Floats, leave: Floats, arrive: Floats, tolerance: float) -> list[tuple[Floats, int]]:
    """Segments with the index of the point each ends at."""
    last = len(points) - 1
    if last < 2:
        third = np.linalg.norm(points[last] - points[0]) / 3
        return [(np.array([points[0], points[0] + leave * third, points[last] + arrive * third, points[last]]), last)]
    params = _chord_params(points)
    segment = _bezier(points, params, leave, arrive)
    for _ in range(ROUNDS):
        gaps = np.linalg.norm(points_at(segment[None], params) - points, axis=1)
        if gaps.max() <= tolerance:
            return [(segment, last)]
        if gaps.max() > 6 * tolerance:
            break
        params = _improved(segment, points, params)
        segment = _bezier(points, params, leave, arrive)
    gaps = np.linalg.norm(points_at(segment[None], params) - points, axis=1)
    split = int(np.clip(np.argmax(gaps), 1, last - 1))
    reach = max(1, min(3, split, last - split))
    through = _unit(points[split - reach] - points[split + reach])
    before = _fit(points[: split + 1], leave, through, tolerance)
    after = _fit(points[split:], -through, arrive, tolerance)
    return [*before, *((segment, index + split) for segment, index in after)]


def _corner_indices(points: Floats, tolerance: float) -> list[int]:
    """Inner points at which the line turns sharply, seen at the scale of the tolerance."""
    lengths = lengths_along(points)
    reach = max(4.0 * tolerance, 1e-9)
    behind = np.stack([np.interp(lengths - reach, lengths, points[:, k]) for k in (0, 1)], axis=1)
    ahead = np.stack([np.interp(lengths + reach, lengths, points[:, k]) for k in (0, 1)], axis=1)
    a, b = points - behind, ahead - points
    norms = np.maximum(np.linalg.norm(a, axis=1) * np.linalg.norm(b, axis=1), 1e-12)
    cosines = (a * b).sum(axis=1) / norms
    inner = (lengths > reach) & (lengths < lengths[-1] - reach) & (cosines < SHARP)
    found: list[int] = []
    for k in np.flatnonzero(inner).tolist():
        if found and lengths[k] - lengths[found[-1]] < 2 * reach:
            if cosines[k] < cosines[found[-1]]:
                found[-1] = k
        else:
            found.append(k)
    return found


def _unit(vector: Floats) -> Floats:
    return np.asarray(vector / max(float(np.linalg.norm(vector)), 1e-12), dtype=float)


def _chord_params(points: Floats) -> Floats:
    lengths = lengths_along(points)
    return np.asarray(lengths / max(float(lengths[-1]), 1e-12), dtype=float)


def _bezier(points: Floats, params: Floats, leave: Floats, arrive: Floats) -> Floats:
    """Least-squares handle lengths for given parameters; a third of the chord where they make no sense."""
    t, s = params[:, None], 1.0 - params[:, None]
    b0, b1, b2, b3 = s**3, 3 * s * s * t, 3 * s * t * t, t**3
    first, last = points[0], points[-1]
    one, two = b1 * leave, b2 * arrive
    rest = points - (b0 + b1) * first - (b2 + b3) * last
    matrix = np.array([[np.sum(one * one), np.sum(one * two)], [np.sum(one * two), np.sum(two * two)]])
    right = np.array([np.sum(one * rest), np.sum(two * rest)])
    chord = float(np.linalg.norm(last - first))
    alphas = np.full(2, chord / 3)
    if abs(np.linalg.det(matrix)) > 1e-12:
        solved = np.linalg.solve(matrix, right)
        if np.all((solved > 1e-4 * chord) & (solved < LONGEST * lengths_along(points)[-1])):
            alphas = solved
    return np.array([first, first + alphas[0] * leave, last + alphas[1] * arrive, last])


def _improved(segment: Floats, points: Floats, params: Floats) -> Floats:
    """One Newton step of each parameter towards its nearest point on the segment."""
    t = params[:, None]
    d1 = 3 * (segment[1:] - segment[:-1])
    d2 = 2 * (d1[1:] - d1[:-1])
    at = points_at(segment[None], params)
    velocity = (1 - t) ** 2 * d1[0] + 2 * (1 - t) * t * d1[1] + t * t * d1[2]
    acceleration = (1 - t) * d2[0] + t * d2[1]
    top = ((at - points) * velocity).sum(axis=1)
    bottom = (velocity**2).sum(axis=1) + ((at - points) * acceleration).sum(axis=1)
    step = np.where(np.abs(bottom) > 1e-12, top / np.where(np.abs(bottom) > 1e-12, bottom, 1.0), 0.0)
    return np.maximum.accumulate(np.clip(params - step, 0.0, 1.0))
