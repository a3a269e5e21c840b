"""Drawings that are their own mirror images in both keys: twins go alike, and what lies between leans to neither."""

import numpy as np

from knead.core.blend.body import Body
from knead.core.geometry.bezier import Complexes, Floats, Ints

ALIKE = 0.1  # how far from its mirror image, in place, by the size of the whole, and in size, a shape may be


def twins(bodies: list[Body]) -> Ints | None:
    """For each shape the one that is its mirror image in both keys, itself on the axis; None if one has none.

    The axis is upright, or level.
    """
    sizes = np.array([max(body.size, 1e-9) for body in bodies])
    keys = np.array([[body.start, body.end] for body in bodies]).T
    for turn in (1.0, 1j):
        first, second = (_mates(places * turn, sizes) for places in keys)
        if first is not None and second is not None and np.array_equal(first, second):
            return first
    return None


def _mates(places: Complexes, sizes: Floats) -> Ints | None:
    """For each place the one that is its mirror image, left to right; None if one has none."""
    spread = places - np.average(places, weights=sizes**2)
    gaps = np.abs(-spread.conj()[:, None] - spread) / (np.abs(spread).max() + sizes.max())
    gaps += np.abs(np.log(sizes[:, None] / sizes))
    nearest, each = np.argmin(gaps, axis=1), np.arange(len(places))
    found = np.all(gaps[each, nearest] < ALIKE) and np.all(nearest[nearest] == each)
    return nearest if found else None
