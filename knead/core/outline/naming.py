"""Names for points of an outline, from their form and side: 'left tip of ear'."""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.outline.directions import winding
from knead.core.outline.hints import nearest_contour, share_of
from knead.core.outline.laying.grid import turning


def hint_name(shape: Shape, point: Floats, taken: set[str]) -> str:
    """A name for a hint at a point of a shape that is not in `taken`."""
    tracks = [track_of(c) for c in shape.contours]
    index, param, _ = nearest_contour(tracks, point)
    track = tracks[index]
    share = share_of(track, param)
    turn = turning(track, np.array([share]))[0] * (winding(track) or 1)
    if not track.closed and min(share, 1 - share) < 0.02:
        form = "end"
    elif np.any(np.abs(np.mod(track.corners[0] - share + 0.5, 1.0) - 0.5) < 0.01):
        form = "corner"
    elif abs(turn[1]) > 0.6:
        form = "tip" if turn[1] > 0 else "dent"
    else:
        form = "side"
    everything = np.concatenate([t.points(np.linspace(0, 1, 33)) for t in tracks])
    low, high = everything.min(axis=0), everything.max(axis=0)
    x, y = (2 * (point - low) / np.maximum(high - low, 1e-9) - 1).tolist()
    side = ("left" if x < 0 else "right") if abs(x) >= abs(y) else ("upper" if y < 0 else "lower")
    base = f"{shape.name}, {side} {form}"
    name, count = base, 2
    while name in taken:
        name, count = f"{base} {count}", count + 1
    return name[:120]
