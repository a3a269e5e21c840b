"""Hints laid on outlines: which can be honoured together, and complaints about the others."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats, path_of
from knead.core.geometry.track import Track, measure
from knead.core.model import Hint, HintEnd, Point, Shape
from knead.core.outline.hints import consistent, end_point, nearest_contour, order_warning, share_of

OFF = 0.08  # a hint farther from its outline than this share of the outline's length is said to lie off it


@dataclass(frozen=True)
class HintTrouble:
    """A hint that can't be honoured as it stands, and what to do, in a sentence."""

    hint: str
    text: str


Located = tuple[Hint, int, int, float, float]


def located(
    hints: tuple[Hint, ...], first: Shape, second: Shape, one: list[Track], two: list[Track]
) -> tuple[list[Located], list[HintTrouble]]:
    """Hints with the contours and parameters they stand on, and those that lie far off their outline."""
    found: list[Located] = []
    troubles = []
    for hint in hints:
        i, a, gap_one = nearest_contour(one, end_point(hint.first, first))
        j, b, gap_two = nearest_contour(two, end_point(hint.second, second))
        found.append((hint, i, j, a, b))
        if gap_one > OFF * one[i].length or gap_two > OFF * two[j].length:
            text = (
                f"Hint '{hint.name}' lies off its outline; the nearest point of it is used. Drag it onto the outline."
            )
            troubles.append(HintTrouble(hint.id, text))
    return found, troubles


def honoured(ends: list[Located], one: Track, two: Track) -> tuple[Floats, list[HintTrouble]]:
    """Parameter ties of the largest consistent set of hints on one pair of contours, and complaints of the rest."""
    closed = one.closed and two.closed
    shares = np.array([[share_of(one, a), share_of(two, b)] for _, _, _, a, b in ends])
    kept = consistent(shares, closed)
    troubles = []
    for k, end in enumerate(ends):
        if k not in kept:
            rival = min(kept, key=lambda j: float(np.abs(shares[j] - shares[k]).min()))
            troubles.append(HintTrouble(end[0].id, order_warning(end[0], ends[rival][0])))
    return np.array([ends[k][3:] for k in kept], dtype=float).reshape(-1, 2), troubles


def hint_end(shape: Shape, point: Floats, snap: float) -> HintEnd:
    """A hint's end on a shape near a point: at a node within `snap` scene units, else at the bare nearest point."""
    nodes = [n for c in shape.contours for n in c.nodes]
    gaps = [float(np.hypot(n.at.x - point[0], n.at.y - point[1])) for n in nodes]
    best = int(np.argmin(gaps))
    if gaps[best] <= snap:
        return HintEnd(shape=shape.id, at=nodes[best].at, node=nodes[best].id)
    tracks = [measure(path_of(c), c.closed) for c in shape.contours]
    index, param, _ = nearest_contour(tracks, point)
    x, y = tracks[index].points(tracks[index].shares(np.array([param])))[0].tolist()
    return HintEnd(shape=shape.id, at=Point(x, y))
