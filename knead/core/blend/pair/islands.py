"""Islands of a shape that become several: a bell is cut in two where the bell that is crossed out lies in two parts."""

from functools import lru_cache

import numpy as np
import shapely

from knead.core.geometry.islands import LIES, Island, is_flat, islands_of, pieces_of
from knead.core.model import Contour, Shape

SLIGHT = 0.15  # what is smaller, by the largest of them, is no part
MOST = 0.5  # the share of an island's area that its parts must have together


@lru_cache(maxsize=256)
def with_islands(first: Shape, second: Shape) -> tuple[Shape, Shape]:
    """The shapes with those islands cut into pieces of which the other has several parts in their place.

    Filled, they look as they did. Shapes with an outline, on which cuts would show, stay as they are.
    """
    if not (is_flat(first) and is_flat(second)):
        return first, second
    if set(first.node_ids) & set(second.node_ids):
        return first, second
    one, two = islands_of(first.contours), islands_of(second.contours)
    if not one or not two or len(one) == len(two):
        return first, second
    if len(one) < len(two):
        return _cut(first, one, two), second
    return first, _cut(second, two, one)


def _cut(shape: Shape, islands: list[Island], others: list[Island]) -> Shape:
    """The shape with islands cut into a piece for each other island in their place, as that is or laid on them."""
    for parts in ([other.place for other in others], _laid_on(others, islands)):
        contours: list[Contour] = []
        least = SLIGHT * max(part.area for part in parts)
        for island in islands:
            own = [p for p in parts if p.area > least and p.intersection(island.place).area > LIES * p.area]
            kept = tuple(shape.contours[k] for k in island.contours)
            if len(own) > 1 and sum(part.area for part in own) > MOST * island.place.area:
                pieces = pieces_of(shape.model_copy(update={"contours": kept}), own)
                kept = kept if pieces is None else tuple(contour for piece in pieces for contour in piece)
            contours += kept
        if set(contours) != set(shape.contours):
            return shape.model_copy(update={"contours": tuple(contours)})
    return shape


def _laid_on(islands: list[Island], others: list[Island]) -> list[shapely.Geometry]:
    """The places of islands, moved and scaled so that all of them lie on all of the others."""
    whole, there = (shapely.union_all([island.place for island in side]) for side in (islands, others))
    size = float(np.sqrt(there.area / max(whole.area, 1e-12)))
    middle, target = (np.array([place.centroid.x, place.centroid.y]) for place in (whole, there))
    return [shapely.transform(island.place, lambda p: (p - middle) * size + target) for island in islands]
