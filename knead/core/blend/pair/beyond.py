"""What does not go on where a pair goes beyond its keys, since it anticipates or overshoots."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats
from knead.core.outline.contour_plan import ContourPlan

LEAST = 0.5  # the share of its size at a key that is left of what shrinks beyond it
JUST = 1e-9  # how near to a key paint comes where the shape goes beyond that


def _inside(places: Floats) -> bool:
    """Whether none is beyond a key, as is usual."""
    return _all_inside(places.tobytes())


@lru_cache(maxsize=64)
def _all_inside(places: bytes) -> bool:
    """The same of their bytes: all pairs are asked for the same places."""
    own = np.frombuffer(places)
    return not own.size or bool(own.min() >= 0.0 and own.max() <= 1.0)


def reached(places: Floats, scale: float) -> Floats:
    """Places, held back beyond the keys as far as what grows to `scale` would shrink to less than half there.

    On and on, it would turn inside out.
    """
    if _inside(places):
        return places
    low, high = LEAST / max(scale - 1.0, 1e-9), LEAST / max(1.0 / max(scale, 1e-9) - 1.0, 1e-9)
    before, after = np.minimum(places, 0.0), np.maximum(places - 1.0, 0.0)
    return np.asarray(np.clip(places, 0.0, 1.0) + low * np.tanh(before / low) + high * np.tanh(after / high))


def between_keys(places: Floats) -> Floats:
    """Places beyond a key drawn back to just short of it: paint stays as it is there, but its gradients go along."""
    if _inside(places):
        return places
    return np.asarray(np.where((places < 0.0) | (places > 1.0), np.clip(places, JUST, 1.0 - JUST), places))


def kept_shut(rows: Complexes, contours: Sequence[ContourPlan], places: Floats) -> Complexes:
    """Node triples at the places, shape (len(places), nodes * 3), where what is a point at a key is one beyond it, too.

    Else what opens or closes would turn inside out.
    """
    if _inside(places):
        return rows
    start = 0
    for contour in contours:
        end = start + contour.first.size
        for index, beyond in ((contour.first_contour, places < 0.0), (contour.second_contour, places > 1.0)):
            if index is None and beyond.any():
                rows[beyond, start:end] = rows[beyond, start:end].mean(axis=1, keepdims=True)
        start = end
    return rows
