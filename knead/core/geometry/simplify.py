"""Fewer nodes on an outline, as many as a tolerance lets go."""

import heapq
from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats, contour_of, path_of, points_at
from knead.core.geometry.fit import fitted
from knead.core.model import Contour

SAMPLES = 16  # a segment


@dataclass(frozen=True)
class Simplified:
    """A contour with fewer nodes, and how far it is from the one before, in scene units."""

    contour: Contour
    deviation: float


def simplified(contour: Contour, tolerance: float) -> Simplified:
    """The contour without the nodes whose removal moves the outline by no more than `tolerance` scene units.

    Greedy: the node that moves it least goes first, and every joined stretch is fitted to the outline as it was. What
    is left keeps its identity, kind and width. Two nodes are left, or three of a closed contour.
    """
    path = path_of(contour)
    count, least = len(contour.nodes), 3 if contour.closed else 2
    pieces = {k: _Piece(k, k + 1, path[k], 0.0) for k in range(len(path))}
    before = {k: (k - 1) % count if contour.closed else k - 1 for k in range(count)}
    after = {k: (k + 1) % count if contour.closed else k + 1 for k in range(count)}
    inner = range(count) if contour.closed else range(1, count - 1)
    queue: list[tuple[float, int, int, int, _Piece]] = []

    def offer(node: int) -> None:
        joined = _joined(path, pieces[before[node]], pieces[node])
        heapq.heappush(queue, (joined.error, node, joined.start, joined.end, joined))

    for node in inner:
        offer(node)
    left = set(range(count))
    while queue and len(left) > least:
        error, node, start, end, joined = heapq.heappop(queue)
        if error > tolerance:
            break
        if node not in left or pieces[before[node]].start != start or pieces[node].end != end:
            continue  # a neighbour has gone meanwhile; the newer candidate is in the queue, too
        left.discard(node)
        pieces[before[node]] = joined
        after[before[node]], before[after[node]] = after[node], before[node]
        for neighbour in {before[node], after[node]} & set(inner):
            offer(neighbour)
    order = sorted(left)
    kept = [pieces[k] for k in (order if contour.closed else order[:-1])]
    nodes = [contour.nodes[k] for k in order]
    new = contour_of(np.array([p.segment for p in kept]), contour.closed, nodes)
    return Simplified(new, max((p.error for p in kept), default=0.0))


@dataclass(frozen=True, eq=False)
class _Piece:
    """One segment in the place of the original segments from node `start` up to node `end` (counted on round)."""

    start: int
    end: int
    segment: Floats
    error: float


def _joined(path: Floats, one: _Piece, two: _Piece) -> _Piece:
    span = (two.end - one.start) % len(path) or len(path)
    start, end = one.start, one.start + span
    numbers = np.arange(start, end) % len(path)
    points = np.concatenate(
        [*(points_at(path, k + np.linspace(0, 1, SAMPLES, endpoint=False)) for k in numbers), path[numbers[-1], 3:]]
    )
    segment, error = fitted(points, _way(path[numbers[0]]), _way(path[numbers[-1], ::-1]))
    return _Piece(one.start, two.end, segment, error)


def _way(segment: Floats) -> Floats:
    """The unit tangent at a segment's start, by the first control point that differs from it."""
    steps = segment[1:] - segment[0]
    lengths = np.linalg.norm(steps, axis=1)
    usable = np.flatnonzero(lengths > 1e-9)
    return steps[usable[0]] / lengths[usable[0]] if len(usable) else np.array([1.0, 0.0])
