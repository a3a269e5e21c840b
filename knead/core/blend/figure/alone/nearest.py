"""On which neighbours shapes hang that have no partner, and which of them belong to one another."""

from collections import Counter
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.ground import grounds
from knead.core.geometry.bezier import Floats, Ints
from knead.core.model import Shape

BENDS = 0.1  # what strays less from a mere turn, by its size, does not bend
BESIDE = 0.75  # what is nearer to another than this, by its own size, may belong to it
AS_MUCH = 0.001  # what is bound less than another by this share is bound as much
AS_NEAR = 0.05  # what is farther off than another by this share is as near
WITHIN = 0.9  # what has so much in common with a smaller one as with a larger one lies in that
TOUCHES = 0.1  # what is nearer to a thing than this, by its own size, touches it
SEVERAL = 2  # so many of its like around one shape say that it belongs there
LIKE = 0.8  # how large the smaller of two like shapes is at least, by the larger one
SIDE, ADJOINS = 0.15, 2e-3  # how much of its outline a side has at least, and how near by it what adjoins it is


def nearest(
    shapes: Sequence[Shape], hulls: NDArray[np.object_], others: NDArray[np.object_], bodies: Sequence[Body]
) -> tuple[list[list[int]], Ints]:
    """On which of the others lone shapes hang, which have these hulls and bodies, and to which shape each belongs.

    That is itself, if it does not belong to another lone shape rather than to one of the others.
    """
    own, neighbours = _bound_before(hulls, others, grounds(bodies))
    like = _like(shapes, hulls)
    neighbours = _with_what_they_adjoin(neighbours, hulls, others, [body.bend for body in bodies])
    return _with_most_of_their_like(neighbours, like, hulls, others), _roots(hulls, own, like)


def _bound_before(
    hulls: NDArray[np.object_], others: NDArray[np.object_], before: NDArray[np.bool_]
) -> tuple[Floats, list[list[int]]]:
    """The same as `_bound`, but that what touches a figure is that one's, and not of the ground behind both.

    Of the others, some (columns) move `before` some (rows). A hat is not the wall's, before which all of it is.
    """
    most, nearest = _bound(hulls, others)
    behind = np.asarray(before.any(axis=1))
    on_ground = [any(behind[j] for j in mates) for mates in nearest]
    if not any(on_ground):
        return most, nearest
    figure = np.flatnonzero(~behind)
    bound, mates = _bound(hulls, others[figure])
    touches = np.asarray(on_ground) & (bound > -TOUCHES * _reach(hulls))
    found = [figure[mates[k]].tolist() if touch else nearest[k] for k, touch in enumerate(touches)]
    return np.where(touches, bound, most), found


def _bound(hulls: NDArray[np.object_], others: NDArray[np.object_]) -> tuple[Floats, list[list[int]]]:
    """How much each is bound to that of the others to which it is bound most, and which that is.

    That is by what both have in common, or, below 0, by how far it is from it; others may be as far.
    """
    if not len(others):
        return np.full(len(hulls), -np.inf), [[] for _ in hulls]
    tree = shapely.STRtree(others)
    gaps = np.asarray(shapely.distance(hulls, others[tree.nearest(hulls)]))
    one, two = tree.query(hulls, predicate="dwithin", distance=gaps * (1.0 + AS_NEAR))
    most, nearest = -gaps, [two[one == k].tolist() for k in range(len(hulls))]
    # the smallest last: a tongue lies in the mouth, though as much in the face
    large = shapely.area(others)
    for k, other, area in sorted(zip(*_overlaps(hulls, tree), strict=True), key=lambda each: -large[each[1]]):
        if area > (1.0 if most[k] <= 0.0 else WITHIN) * most[k]:
            most[k], nearest[k] = max(area, most[k]), [other]
    return most, nearest


def _like(shapes: Sequence[Shape], hulls: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which shapes look alike and are about as large, as rays or petals, shape (n, n); none is its own like."""
    looks = {look: k for k, look in enumerate({(shape.fill, shape.stroke) for shape in shapes})}
    own, reach = np.array([looks[shape.fill, shape.stroke] for shape in shapes]), _reach(hulls)
    sizes = np.minimum(reach[:, None], reach) >= LIKE * np.maximum(reach[:, None], reach)
    return np.asarray((own[:, None] == own) & sizes & ~np.eye(len(own), dtype=bool))


def _reach(hulls: NDArray[np.object_]) -> Floats:
    """How large hulls are, by the diagonal of their boxes."""
    low, high = np.split(shapely.bounds(hulls), 2, axis=1)
    return np.asarray(np.linalg.norm(high - low, axis=1))


def _with_most_of_their_like(
    neighbours: list[list[int]], like: NDArray[np.bool_], hulls: NDArray[np.object_], others: NDArray[np.object_]
) -> list[list[int]]:
    """The neighbours, with that of most of its like for what is beside it too: no ray of the sun is the hill's."""
    found, reach = list(neighbours), _reach(hulls)
    for k, row in enumerate(like):
        votes = Counter(neighbours[j][0] for j in np.flatnonzero(row).tolist() if len(neighbours[j]) == 1)
        for mate, count in votes.most_common(1):
            if count > max(SEVERAL, row.sum() / 2) and shapely.dwithin(hulls[k], others[mate], BESIDE * reach[k]):
                found[k] = [mate]
    return found


def _with_what_they_adjoin(
    neighbours: list[list[int]], hulls: NDArray[np.object_], others: NDArray[np.object_], bends: Sequence[float]
) -> list[list[int]]:
    """The neighbours, with what a shape has a side in common with for what lies across it: light is the lamp's.

    What bends comes off a side on the way.
    """
    found, tree = list(neighbours), shapely.STRtree(others)
    for k, own in enumerate(hulls):
        near = ADJOINS * own.length
        sides = {
            j: own.boundary.intersection(_edge(others[j]).buffer(near)).length
            for j in tree.query(own, predicate="dwithin", distance=near).tolist()
            if bends[j] < BENDS and own.intersection(others[j]).area < near * own.length
        }
        side = max(sides, key=lambda j: sides[j], default=-1)
        crossed = max((own.intersection(others[j]).area for j in neighbours[k]), default=0.0)
        if side >= 0 and sides[side] > SIDE * own.length and crossed < own.area / 2:
            found[k] = [side]
    return found


def _edge(place: shapely.Geometry) -> shapely.Geometry:
    """The boundary of what may be lines and areas in one."""
    return shapely.union_all(shapely.boundary(shapely.get_parts(place)))


def _overlaps(hulls: NDArray[np.object_], tree: shapely.STRtree) -> tuple[list[int], list[int], list[float]]:
    """Which hulls meet which of a tree, and how much they have in common."""
    one, two = tree.query(hulls, predicate="intersects")
    return one.tolist(), two.tolist(), _common(hulls[one], tree.geometries[two]).tolist()


def _common(one: NDArray[np.object_], two: NDArray[np.object_]) -> Floats:
    """The area that hulls have in common, times how much of the smaller one that is, shape (n,).

    So a glow belongs to the lamp around which it is, though it covers more of the post.
    """
    area = shapely.area(shapely.intersection(one, two))
    return np.asarray(area**2 / np.maximum(np.minimum(shapely.area(one), shapely.area(two)), 1e-12))


def _roots(hulls: NDArray[np.object_], own: Floats, like: NDArray[np.bool_]) -> Ints:
    """The lone shape that each belongs to in the end, itself if it hangs on a neighbour.

    What overlaps most is sure first; of what overlaps nothing, what touches a neighbour, and then the largest: the head
    of a jack comes out of the box on its spring.
    """
    bonds, areas = _bonds(hulls), shapely.area(hulls)
    roots, most = np.arange(len(hulls)), own.copy()
    waiting = np.ones(len(hulls), dtype=bool)
    for _ in range(len(hulls)):
        k = int(np.lexsort((areas, most >= 0.0, np.maximum(most, 0.0), waiting))[-1])
        waiting[k] = False
        held = waiting & (bonds[k] > -np.inf) & (bonds[k] >= most - AS_MUCH * np.abs(most))
        roots[held], most[held] = roots[k], bonds[k][held]
    return _with_their_like(bonds, roots, like)


def _bonds(hulls: NDArray[np.object_]) -> Floats:
    """How much each is bound to each: by the common area, or by how far they are apart; else not at all."""
    one, two = shapely.STRtree(hulls).query(hulls, predicate="dwithin", distance=BESIDE * _reach(hulls))
    one, two = one[one != two], two[one != two]
    bonds = np.full((len(hulls), len(hulls)), -np.inf)
    areas = _common(hulls[one], hulls[two])
    bonds[two, one] = np.where(areas > 0.0, areas, -shapely.distance(hulls[one], hulls[two]))
    return bonds


def _with_their_like(bonds: Floats, roots: Ints, like: NDArray[np.bool_]) -> Ints:
    """The same, with what is beside a shape that has several of its like around it belonging there, as petals do."""
    beside = bonds > -np.inf
    around = (beside & (roots[:, None] == roots)) @ like.astype(float)
    around[~beside | like] = 0.0
    holders = np.argmax(around, axis=0)
    several = (around.max(axis=0) >= SEVERAL) & (roots == np.arange(len(roots))) & (roots[holders] != roots)
    return np.where(several, roots[holders], roots)[roots]
