"""Which of two outlines, or drawings, has more to it: from there both ways between them are worked out.

So the way back is the way there, gone backwards. Seen from the richer outline, a little more is found besides.
"""

import numpy as np

from knead.core.geometry.track import Track, track_of
from knead.core.model import Drawing

SAME = 1e-5  # what differs by less than this share differs by how it was measured
ABOUT = 1e-3  # the same of what is measured at a few points
MIDDLES = (np.arange(32) + 0.5) / 32


def is_richer(one: Track, other: Track) -> bool:
    """Whether an outline has plainly less in it for its length, or more turns if it is open, or else is longer."""
    for own, its in zip(_riches(one), _riches(other), strict=True):
        if abs(own - its) > SAME * max(abs(own), abs(its)):
            return own > its
    return False


def _riches(track: Track) -> tuple[float, float]:
    length = max(track.length, 1e-12)
    return -abs(track.inside) / length**2 if track.closed else track.turning, length


def has_more(one: Drawing, other: Drawing) -> bool:
    """Whether a drawing has plainly more line, or else its line reaches farther, as where a figure is posed anew."""
    own, its = _tracks(one), _tracks(other)
    more = sum(track.length for track in own) - sum(track.length for track in its)
    if abs(more) > SAME * sum(track.length for track in own):
        return more > 0.0
    return bool(own) and _reach(own) > (1.0 + ABOUT) * _reach(its)


def _tracks(drawing: Drawing) -> list[Track]:
    return [track_of(contour) for shape in drawing.shapes for contour in shape.contours]


def _reach(tracks: list[Track]) -> float:
    """How far points of outlines are from their middle, the root of the mean square by length."""
    points, weights = np.array([track.sketch(MIDDLES) for track in tracks]), np.array([t.length for t in tracks])
    if not weights.any():
        return 0.0
    away = points - np.average(points.mean(axis=1), weights=weights)
    return float(np.sqrt(np.average((np.abs(away) ** 2).mean(axis=1), weights=weights)))
