"""Where shapes grow from, or shrink to, that have no partner: the place at which they hang on a neighbour."""

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
import shapely.ops
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import Course
from knead.core.blend.course.ground import grounds
from knead.core.blend.figure.alone.behind import hidden
from knead.core.blend.figure.alone.drops import drops
from knead.core.blend.figure.alone.gaps import gaps_between
from knead.core.blend.figure.alone.rims import round_rims
from knead.core.blend.figure.alone.turned_away import turned_away
from knead.core.blend.figure.holds.riding import way_of
from knead.core.blend.figure.holds.within import holder_of
from knead.core.blend.figure.stacking import Levels
from knead.core.blend.paint.paint import PaintPlan
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.blend.travel.load import Load
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.hull import hull, hull_of, points_along
from knead.core.geometry.route import FOLLOWED, Ride, followed
from knead.core.geometry.similarity import affine_weights, as_complex, as_points
from knead.core.model import PairTravel, Shape
from knead.core.outline.contour_plan import plan_lone
from knead.core.pairing.pairs import ShapePair

BENDS = 0.1  # what strays less from a mere turn, by its size, does not bend
AS_MUCH = 0.001  # what is bound less than another by this share is bound as much
ANOTHER = 0.4  # what strays more from a mere turn, by its size, becomes another thing
AS_NEAR = 0.05  # what is farther off than another by this share is as near
WITHIN = 0.9  # what has so much in common with a smaller one as with a larger one lies in that
TOUCHES = 0.1  # what is nearer to a thing than this, by its own size, touches it
FACING = 0.1  # what is farther off than the nearest point by this, by the size of the shape, faces a neighbour as well
BESIDE = 0.75  # what is nearer to another than this, by its own size, may belong to it
SEVERAL = 2  # so many of its like around one shape say that it belongs there
MOVES = 0.1  # how far, by its size, what faces a neighbour must go with that, for another place to be its foot
STAYS, FOOT = 0.6, 0.1  # how far, by that, its foot may go at most, and how much farther all of the foot
LIKE = 0.8  # how large the smaller of two like shapes is at least, by the larger one
RESTS = 0.08  # how near to the edge around it, by its size, a form rests on that
STRETCH = 0.25  # with how much of its own edge, at least
SIDE, ADJOINS = 0.15, 2e-3  # how much of its outline a side has at least, and how near by it what adjoins it is
GONE = np.concatenate([[0.0], FOLLOWED, [1.0]])  # the times at which a way is known

Neighbour = tuple[PairPlan, Complexes, shapely.Geometry]  # its way, and its place at the key in which a shape is


@dataclass(frozen=True)
class Sprout:
    """Where a lone shape hangs on its neighbours at both keys, the way that these take it, and by how much it turns.

    At the key in which it is not there it is a point at that place. What lies in another goes as that does.
    """

    first: complex
    second: complex
    ride: Ride | None = None
    angle: float = 0.0
    holder: Holder | None = None


@dataclass(frozen=True)
class Given:
    """Where a lone shape is told to be at both keys: where it is not there, it is a point on this shape."""

    first: complex
    second: complex
    shape: str


def sprouts(
    shapes: Sequence[Shape],
    levels: Levels,
    from_first: bool,
    pairs: Sequence[PairPlan],
    given: Mapping[str, Given],
) -> list[Sprout]:
    """The places of lone shapes of one key at the first and second key; on its way each moves as a neighbour.

    Where a place is `given` for a shape, it is so for all that belongs to it.

    The neighbour is the paired shape that a shape overlaps most, else the nearest ones. What belongs to another lone
    shape rather than to that grows from the same place, so that they stay together: a new eye with all that is in it,
    a foot on a new leg, a sun with its rays. What is beside nothing grows from its own middle.
    """
    if not shapes:
        return []
    hulls = np.array([hull_of(shape.contours) for shape in shapes], dtype=object)
    others = np.array([_place(pair, from_first) for pair in pairs], dtype=object)
    own, neighbours = _bound_before(hulls, others, grounds([pair.body for pair in pairs]))
    like = _like(shapes, hulls)
    neighbours = _with_what_they_adjoin(neighbours, hulls, others, [pair.body.bend for pair in pairs])
    neighbours = _with_most_of_their_like(neighbours, like, hulls, others)
    roots = _roots(hulls, own, like)
    groups = {root: [shapes[k] for k in np.flatnonzero(roots == root).tolist()] for root in set(roots.tolist())}
    placed = list(zip(pairs, others, strict=True))
    sides = {k: _opening(holder) for k, holder in turned_away(shapes, pairs, from_first).items()}
    holders = hidden(groups, levels, placed, from_first) | gaps_between(shapes, set(groups), levels, placed, from_first)
    opening = {k: _opening(holder) for k, holder in holders.items()}
    alone = {k: group[0] for k, group in groups.items() if len(group) == 1 and k not in opening}
    ways = round_rims(hulls, roots, placed, from_first) | drops(alone, placed, from_first)
    coming = {k: Given(*way) for k, way in ways.items()}
    coming |= {k: given[shape.id] for k, shape in enumerate(shapes) if shape.id in given}
    told = {k: _as_given(each, from_first, pairs) for k, each in coming.items()}
    found: dict[int, Sprout] = {}
    routes: dict[int, Complexes] = {}
    for root, members in groups.items():
        group = np.concatenate([points_along(shape.contours) for shape in members])
        plans = [pairs[k] for k in neighbours[root]]
        sprout = told.get(root) or opening.get(root) or _within(hulls[root], group, plans, from_first)
        if sprout is None:
            routes |= {k: way_of(pairs[k]) for k in neighbours[root] if k not in routes}
            mates = [(pairs[k], routes[k], others[k]) for k in neighbours[root]]
            sprout = _sprout(hulls[root], hull(group).centroid, mates, from_first)
        found[root] = sprout
    return [told.get(k) or sides.get(k) or opening.get(k) or found[root] for k, root in enumerate(roots.tolist())]


def _as_given(told: Given, from_first: bool, pairs: Sequence[PairPlan]) -> Sprout:
    """Where a shape grows that is told to: from a place that goes with the shape it is on, and on to its own place."""
    mate = next((plan for plan in pairs if told.shape in plan.pair.ids(not from_first)), None)
    if mate is None or not mate.goes.plain:
        return Sprout(told.first, told.second)
    rows, (far, own) = way_of(mate), (told.first, told.second)
    if from_first:
        rows, (far, own) = rows[::-1], (own, far)
    places = (affine_weights(rows[0], np.array([far])) @ rows.T)[0]
    places = places + GONE * (own - places[-1])
    places = places[::-1] if from_first else places
    return Sprout(told.first, told.second, followed(told.first, told.second, places[1:-1]), _turn([mate]))


def _place(plan: PairPlan, from_first: bool) -> shapely.Geometry:
    """The hull of a shape at a key; of what is in parts, as eyes of one path, those of all parts that are there."""
    if len(plan.contours) == 1:
        return plan.body.hulls[0 if from_first else 1]
    rings = plan.outlines(plan.points(np.array([0.0 if from_first else 1.0])))
    there = [c.first_contour if from_first else c.second_contour for c in plan.contours]
    parts = [ring[0] for ring, contour in zip(rings, there, strict=True) if contour is not None]
    whole = shapely.union_all([hull(part) for part in parts])
    # of what is as thin as rounding errors, nothing is left by a union
    return hull(np.concatenate(parts)) if whole.is_empty else whole


def _opening(gap: Holder) -> Sprout:
    """Where what need not grow opens, and all that belongs to it."""
    first, second = gap.at(np.array([0.0, 1.0])).mean(axis=1).tolist()
    return Sprout(first, second, holder=gap)


def _within(own: shapely.Geometry, group: Complexes, mates: list[PairPlan], from_first: bool) -> Sprout | None:
    """Where a shape grows that lies in its only neighbour, with all that belongs to it, the points of the group."""
    holder = holder_of(mates[0], group, from_first) if len(mates) == 1 else None
    if holder is None:
        return None
    inside = shapely.make_valid(shapely.polygons(as_points(holder.own)), method="structure", keep_collapsed=False)
    root = (_resting(own, inside) if mates[0].body.bend < BENDS else None) or _facing(own, inside)
    first, second = holder.carried(np.full((2, 1), root), np.array([0.0, 1.0]))[:, 0].tolist()
    return Sprout(first, second, holder=holder)


def _resting(own: shapely.Geometry, inside: shapely.Geometry) -> complex | None:
    """The middle of the stretch with which a form rests on the edge that it lies within, as sand in a glass; if any.

    Asked of an edge that bends, it would stick out on the way: teeth behind a lip.
    """
    near = RESTS * float(np.hypot(*np.subtract(own.bounds[2:], own.bounds[:2])))
    touching = own.boundary.intersection(inside.boundary.buffer(near))
    return _spot(touching.centroid) if touching.length > STRETCH * own.length else None


def _sprout(own: shapely.Geometry, middle: shapely.Point, mates: list[Neighbour], from_first: bool) -> Sprout:
    """Where a shape grows, and what takes it along: the neighbours."""
    plans = [mate for mate, _, _ in mates]
    turn = complex(np.exp(1j * np.angle(sum(mate.motion[0] / abs(mate.motion[0]) for mate in plans) + 1e-300)))
    hung = [_on(own, middle, mate, turn, from_first) for mate in mates]
    places = np.mean(hung, axis=0) if hung else np.full(len(GONE), _spot(middle))
    here, there = complex(places[0]), complex(places[-1])
    steady = all(mate.goes.plain for mate in plans)  # what goes in its own time has no even way
    return Sprout(here, there, followed(here, there, places[1:-1]) if steady else None, _turn(plans))


def _turn(mates: list[PairPlan]) -> float:
    """By how much a single neighbour turns that does, in radians. How a round form is turned is chance."""
    turns = len(mates) == 1 and mates[0].way != "direct" and not mates[0].body.round
    return mates[0].course.angle if turns else 0.0


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


def _on(own: shapely.Geometry, middle: shapely.Point, mate: Neighbour, turned: complex, from_first: bool) -> Complexes:
    """The place where a shape hangs on a neighbour, at the first key, the times FOLLOWED, and the second.

    What does not touch it keeps its distance, and goes by a turn; what is not even beside it stays where it is, if it
    becomes another thing.
    """
    plan, way, neighbour = mate
    gap, size = own.distance(neighbour), float(np.hypot(*np.subtract(own.bounds[2:], own.bounds[:2])))
    rows = way if from_first else way[::-1]  # from the key on in which the shape is

    def goes(places: Complexes) -> Complexes:
        return np.asarray(affine_weights(rows[0], places) @ rows.T, dtype=complex)

    if gap == 0.0:
        place = held = _facing(own, neighbour)
    else:
        near = gap < BESIDE * size
        if not near and plan.body.bend > ANOTHER:
            return np.full(len(GONE), _spot(middle))
        place = _rooted(own, _facing(own, neighbour.buffer(gap + FACING * size)), goes) if near else _spot(middle)
        held = _spot(shapely.ops.nearest_points(shapely.Point(place.real, place.imag), neighbour)[1])
    turns = np.exp(1j * np.angle(turned if from_first else 1.0 / turned) * GONE)
    found = goes(np.array([held]))[0] + (place - held) * turns
    found[0] = place
    return np.asarray(found if from_first else found[::-1], dtype=complex)


def _rooted(own: shapely.Geometry, facing: complex, goes: Callable[[Complexes], Complexes]) -> complex:
    """The foot of a form, which what its neighbour does leaves in its place, as that of grass; else what faces it."""
    corners = as_complex(shapely.get_coordinates(own))
    far = np.abs(goes(corners)[:, -1] - corners)
    size, moved = float(np.abs(corners - facing).max()), abs(complex(goes(np.array([facing]))[0, -1]) - facing)
    if moved < MOVES * size or far.min() > STAYS * moved:
        return facing
    return complex(corners[far <= far.min() + FOOT * moved].mean())


def _facing(own: shapely.Geometry, other: shapely.Geometry) -> complex:
    """The middle of what a form has in common with another; of what has hardly any area, that may be nothing."""
    common = own.intersection(other)
    return _spot(shapely.ops.nearest_points(own, other)[0] if common.is_empty else common.centroid)


def _spot(point: shapely.Point) -> complex:
    return complex(point.x, point.y)


def plan_lone_shape(shape: Shape, pair: ShapePair, sprout: Sprout, travel: PairTravel) -> PairPlan:
    """A shape that grows from the first of two places, or shrinks to the second, on its way from one to the other."""
    at_first, at_second = sprout.first, sprout.second
    from_first = pair.first is not None
    target = at_second if from_first else at_first
    plans = tuple(plan_lone(c, k, from_first, target, False) for k, c in enumerate(shape.contours))
    there = np.array([at_first])
    body = Body(there, np.array([at_second]), there, (1.0 + 0j, at_second - at_first), at_first, at_second)
    course = Course(at_first, at_second, sprout.angle + 2 * np.pi * travel.turns, 1.0, ride=sprout.ride)
    load, paint = Load(plans, course.angle), PaintPlan(shape, shape)
    plan = PairPlan(
        pair=pair, load=load, paint=paint, body=body, course=course, identity=shape.id, holder=sprout.holder
    )
    plan = plan.led(travel)
    return plan.on_course(replace(course, path=plan.body.path))
