"""Drawings that are their own mirror images in both keys: twins go alike, and what lies between leans to neither."""

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.geometry.bezier import Ints
from knead.core.geometry.mirror import mates


def twins(bodies: list[Body]) -> Ints | None:
    """For each shape the one that is its mirror image in both keys, itself on the axis; None if one has none.

    The axis is upright, or level.
    """
    sizes = np.array([body.size for body in bodies])
    starts, ends = np.array([[body.start, body.end] for body in bodies]).T
    for turn in (1.0, 1j):
        first = mates(starts * turn, sizes)
        if first is None:
            continue
        second = mates(ends * turn, sizes)
        if second is not None and np.array_equal(first, second):
            return first
    return None
