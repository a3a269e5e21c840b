"""Where shapes grow from, or shrink to, that have no partner: the place at which they hang on a neighbour."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
import shapely.ops

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import Course
from knead.core.blend.figure.alone.behind import hidden, hidden_ink
from knead.core.blend.figure.alone.drops import drops
from knead.core.blend.figure.alone.gaps import gaps_between
from knead.core.blend.figure.alone.nearest import BENDS, BESIDE, nearest
from knead.core.blend.figure.alone.rims import round_rims
from knead.core.blend.figure.alone.turned_away import turned_away
from knead.core.blend.figure.holds.riding import way_of
from knead.core.blend.figure.holds.within import holder_of
from knead.core.blend.figure.stacking import Levels
from knead.core.blend.paint.paint import PaintPlan
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.blend.travel.load import Load
from knead.core.geometry.bezier import Complexes
from knead.core.geometry.hull import hull, hull_of, points_along
from knead.core.geometry.route import FOLLOWED, Ride, followed
from knead.core.geometry.similarity import affine_weights, as_complex, as_points
from knead.core.model import PairTravel, Shape
from knead.core.outline.contour_plan import plan_lone
from knead.core.pairing.pairs import ShapePair

ANOTHER = 0.4  # what strays more from a mere turn, by its size, becomes another thing
FACING = 0.1  # what is farther off than the nearest point by this, by the size of the shape, faces a neighbour as well
MOVES = 0.1  # how far, by its size, what faces a neighbour must go with that, for another place to be its foot
STAYS, FOOT = 0.6, 0.1  # how far, by that, its foot may go at most, and how much farther all of the foot
RESTS = 0.08  # how near to the edge around it, by its size, a form rests on that
STRETCH = 0.25  # with how much of its own edge, at least
GONE = np.concatenate([[0.0], FOLLOWED, [1.0]])  # the times at which a way is known
Neighbour = tuple[PairPlan, Complexes, shapely.Geometry]  # its way, and its place at the key in which a shape is


@dataclass(frozen=True)
class Sprout:
    """Where a lone shape hangs on its neighbours at both keys, the way that these take it, and by how much it turns.

    At the key in which it is not there it is a point at that place. What lies in another goes as that does. Ink is
    that of the `edge` of a fill.
    """

    first: complex
    second: complex
    ride: Ride | None = None
    angle: float = 0.0
    holder: Holder | None = None
    edge: ShapePair | None = None


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
    neighbours, roots = nearest(shapes, hulls, others, [pair.body for pair in pairs])
    groups = {root: [shapes[k] for k in np.flatnonzero(roots == root).tolist()] for root in set(roots.tolist())}
    placed = list(zip(pairs, others, strict=True))
    apart = {k: _opening(holder) for k, holder in turned_away(shapes, pairs, from_first).items()}
    for k, (holder, edge) in hidden_ink(shapes, levels, pairs, from_first).items():
        apart[k] = replace(_opening(holder), edge=edge)
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
    return [told.get(k) or apart.get(k) or opening.get(k) or found[root] for k, root in enumerate(roots.tolist())]


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
        pair=pair,
        load=load,
        paint=paint,
        body=body,
        course=course,
        identity=shape.id,
        holder=sprout.holder,
        edge=sprout.edge,
    )
    plan = plan.led(travel)
    return plan.on_course(replace(course, path=plan.body.path))
