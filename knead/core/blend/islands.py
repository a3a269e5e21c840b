"""Islands of a shape that become several: a bell is cut in two where the bell that is crossed out lies in two parts."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from knead.core.geometry.parting import parted
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Shape

LIES = 0.4  # an island that lies with more of its area than this in the place of another has a part of it
SLIGHT = 0.15  # what is smaller, by the largest of them, is no part
MOST = 0.5  # the share of an island's area that its parts must have together
ROUND = np.linspace(0.0, 1.0, 129)[:-1]


@dataclass(frozen=True)
class _Island:
    """An outline with the holes in it, by their indices, and what it fills."""

    contours: tuple[int, ...]
    place: shapely.Geometry


@lru_cache(maxsize=256)
def with_islands(first: Shape, second: Shape) -> tuple[Shape, Shape]:
    """The shapes with those islands cut into pieces of which the other has several parts in their place.

    Filled, they look as they did. Shapes with an outline, on which cuts would show, stay as they are.
    """
    if not (_is_flat(first) and _is_flat(second)):
        return first, second
    if {n.id for c in first.contours for n in c.nodes} & {n.id for c in second.contours for n in c.nodes}:
        return first, second
    one, two = _islands(first.contours), _islands(second.contours)
    if not one or not two or len(one) == len(two):
        return first, second
    if len(one) < len(two):
        return _cut(first, one, two), second
    return first, _cut(second, two, one)


def _is_flat(shape: Shape) -> bool:
    return shape.fill is not None and shape.stroke is None and all(contour.closed for contour in shape.contours)


def _islands(contours: Sequence[Contour]) -> list[_Island]:
    """The islands of a shape; none where its outlines cross each other, or enclose nothing."""
    rings = [_ring(track_of(contour)) for contour in contours]
    tree = shapely.STRtree(rings)
    meet = tree.query(rings, predicate="intersects").T.tolist()
    if any(ring.area == 0.0 for ring in rings) or any(rings[k].overlaps(rings[j]) for k, j in meet):
        return []
    around: list[list[int]] = [[] for _ in rings]
    for k, j in tree.query(rings, predicate="within").T.tolist():
        around[k] += [j] if j != k else []
    found = []
    for k, ring in enumerate(rings):
        if len(around[k]) % 2 == 0:
            holes = [j for j, outer in enumerate(around) if k in outer and len(outer) == len(around[k]) + 1]
            found.append(_Island((k, *holes), ring.difference(shapely.union_all([rings[j] for j in holes]))))
    return found


def _ring(track: Track) -> shapely.Geometry:
    return shapely.Polygon(as_points(track.sketch(ROUND))).buffer(0)


def _cut(shape: Shape, islands: list[_Island], others: list[_Island]) -> Shape:
    """The shape with islands cut into a piece for each other island in their place, as that is or laid on them."""
    for parts in ([other.place for other in others], _laid_on(others, islands)):
        contours: list[Contour] = []
        least = SLIGHT * max(part.area for part in parts)
        for island in islands:
            own = [p for p in parts if p.area > least and p.intersection(island.place).area > LIES * p.area]
            kept = tuple(shape.contours[k] for k in island.contours)
            if len(own) > 1 and sum(part.area for part in own) > MOST * island.place.area:
                kept = _pieces(shape.model_copy(update={"contours": kept}), own)
            contours += kept
        if set(contours) != set(shape.contours):
            return shape.model_copy(update={"contours": tuple(contours)})
    return shape


def _laid_on(islands: list[_Island], others: list[_Island]) -> list[shapely.Geometry]:
    """The places of islands, moved and scaled so that all of them lie on all of the others."""
    whole, there = (shapely.union_all([island.place for island in side]) for side in (islands, others))
    size = float(np.sqrt(there.area / max(whole.area, 1e-12)))
    middle, target = (np.array([place.centroid.x, place.centroid.y]) for place in (whole, there))
    return [shapely.transform(island.place, lambda p: (p - middle) * size + target) for island in islands]


def _pieces(island: Shape, parts: list[shapely.Geometry]) -> tuple[Contour, ...]:
    """The contours of an island's pieces, one for each part; its own where it can't be cut."""
    seeds, areas = np.array([complex(*part.centroid.coords[0]) for part in parts]), [part.area for part in parts]
    pieces = parted(island, seeds, np.array(areas) / sum(areas))
    cut = pieces[0].contours != island.contours
    return tuple(c for piece in pieces for c in piece.contours) if cut else island.contours
