"""Ties between outlines: hints by hand and nodes that both keys share; which of them can be honoured together."""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track
from knead.core.model import Contour, HintEnd, Shape

ONE_PLACE = 1e-6  # shares nearer than this are one place


def end_point(end: HintEnd, shape: Shape) -> Floats:
    """Where a hint's end stands now: at its node if that still exists, else at its kept place."""
    for contour in shape.contours:
        for node in contour.nodes:
            if node.id == end.node:
                return np.array(node.at)
    return np.array(end.at)


def nearest_contour(tracks: list[Track], point: Floats) -> tuple[int, float, float]:
    """The contour nearest to a point, the parameter there, and the distance."""
    found = [track.nearest(point) for track in tracks]
    best = min(range(len(found)), key=lambda k: found[k][1])
    return best, found[best][0], found[best][1]


def share_of(track: Track, param: float) -> float:
    """The share at a parameter; on an open outline the end is 1."""
    share = float(track.shares(np.array([param]))[0])
    return float(np.mod(share, 1.0)) if track.closed else share


def consistent(ties: Floats, closed: bool) -> list[int]:
    """Indices of the largest set of ties (k, 2) in one order on both outlines, in either direction.

    Two ties at one place count as out of order. Exact for the few ties there are: from each tie on, the longest
    rising run of the partners (Fredman 1975).
    """
    best: list[int] = []
    for sign in (1.0, -1.0):
        for start in range(len(ties)) if closed else range(1):
            a, b = ties[:, 0], sign * ties[:, 1]
            if closed:
                a, b = _on_round(a - ties[start, 0]), _on_round(b - sign * ties[start, 1])
            order = [int(k) for k in np.lexsort((b, a))]
            run = _longest_rising(order, a, b)
            if len(run) > len(best):
                best = run
    return sorted(best)


def _on_round(shares: Floats) -> Floats:
    """Shares from 0 on; what is a hair before a whole round is at its start."""
    return np.mod(shares + ONE_PLACE, 1.0) - ONE_PLACE


def _longest_rising(order: list[int], a: Floats, b: Floats) -> list[int]:
    runs: dict[int, list[int]] = {}
    for place, k in enumerate(order):
        before = [runs[j] for j in order[:place] if a[j] < a[k] - ONE_PLACE and b[j] < b[k] - ONE_PLACE]
        runs[k] = [*max(before, key=len, default=[]), k]
    return max(runs.values(), key=len, default=[])


def shared_nodes(first: Contour, second: Contour) -> list[tuple[int, int]]:
    """Indices of nodes that both contours have by identity."""
    places = {node.id: k for k, node in enumerate(second.nodes)}
    return [(k, places[node.id]) for k, node in enumerate(first.nodes) if node.id in places]
