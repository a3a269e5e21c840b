"""Which shapes touch in both keys."""

import numpy as np
import shapely

from knead.core.blend.course.tree import anchor
from knead.core.blend.pair.plan import PairPlan

TOUCHING = 0.35  # what is nearer than this, by the smaller shape's size, touches


def touching_in_both(plans: list[PairPlan]) -> dict[int, list[int]]:
    """Of each shape, those it touches in both keys, if any; what holds all others touches none.

    What goes on a path that was drawn for it comes off its neighbours on purpose.
    """
    hulls = [np.array([plan.body.hulls[k] for plan in plans]) for k in (0, 1)]
    own, other = np.nonzero(~np.eye(len(plans), dtype=bool))
    reach = TOUCHING * np.array([plan.body.size for plan in plans])
    for side in hulls:  # the boxes first: most are far apart
        boxes, most = shapely.bounds(side), np.minimum(reach[own], reach[other])
        apart = np.maximum(boxes[own, :2] - boxes[other, 2:], boxes[other, :2] - boxes[own, 2:]).max(axis=1)
        own, other, most = own[apart <= most], other[apart <= most], most[apart <= most]
        touch = shapely.dwithin(side[own], side[other], most)
        own, other = own[touch], other[touch]
    touching = np.zeros((len(plans), len(plans)), dtype=bool)
    touching[own, other] = True
    holder = anchor(np.array([plan.body.area for plan in plans]), touching)
    found: dict[int, list[int]] = {}
    for k, mate in zip(own.tolist(), other.tolist(), strict=True):
        if k != holder and plans[mate].body.path is None:
            found.setdefault(k, []).append(mate)
    return found


def neighbours(touching: dict[int, list[int]]) -> dict[int, list[int]]:
    """Of each shape those that it touches, or that touch it, in both keys."""
    both = {(a, b) for k, mates in touching.items() for j in mates for a, b in ((k, j), (j, k))}
    found: dict[int, list[int]] = {}
    for k, j in sorted(both):
        found.setdefault(k, []).append(j)
    return found
