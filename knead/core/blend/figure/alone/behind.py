"""What others hide in the other key is there all the time: a sun from which a cloud moves off, a drawer's inside."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.figure.holds.within import holder_of
from knead.core.blend.figure.stacking import Levels
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.geometry.bezier import Floats
from knead.core.geometry.cover import area_within, line_along
from knead.core.geometry.hull import points_along
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import even_track
from knead.core.model import Shape
from knead.core.pairing.lines.ink import edges_of
from knead.core.pairing.pairs import ShapePair

PLACES = np.arange(97) / 96  # the places of an outline that are looked at
HIDDEN = 0.02  # how much of it may be seen in the key in which it is not,
INK = 0.15  # and of ink, which is as wide as its pen where it comes to the edge of what hides it
SEEN = 0.2  # and how much of it must be in the other


def hidden(
    groups: Mapping[int, Sequence[Shape]],
    levels: Levels,
    pairs: Sequence[tuple[PairPlan, shapely.Geometry]],
    from_first: bool,
) -> dict[int, Holder]:
    """What takes along groups of lone shapes of a key that neighbours over them hide in the other key.

    `pairs` are with their places at that key. What they lie on takes them along; else they stay where they are.
    """
    keys = np.array([0.0, 1.0] if from_first else [1.0, 0.0])
    covers = [plan.covers(keys) if groups and _is_opaque(plan) else None for plan, _ in pairs]
    found: dict[int, Holder] = {}
    for name, group in groups.items():
        names = [shape.id for shape in group]
        lids = [lid for lid, above in zip(covers, levels.over(names), strict=True) if lid is not None and above]
        lower = [pair for pair, below in zip(pairs, levels.under(names), strict=True) if below]
        if not lids:
            continue
        own = shapely.union_all([_drawn(shape) for shape in group])
        around = [(plan, place) for plan, place in lower if place.covers(own)]
        ground = min(around, key=lambda pair: pair[1].area, default=(None, own))[0]
        holder = _behind(group, own, lids, ground, from_first, HIDDEN)
        if holder is not None:
            found[name] = holder
    return found


def hidden_ink(
    shapes: Sequence[Shape], levels: Levels, pairs: Sequence[PairPlan], from_first: bool
) -> dict[int, tuple[Holder, ShapePair]]:
    """What takes along lone lines of a key, by their places, that are ink of an edge which is hidden in the other key.

    And the fill that has the edge. Though they lie on top of all fills, they are there all the time: they come out from
    behind what hides it.
    """
    plain = [plan for plan in pairs if plan.pair.kind == "pair" and _is_opaque(plan) and len(plan.contours) == 1]
    forms = {plan.pair.ids(from_first)[0]: plan for plan in plain}
    keys = {name: plan.paint.first if from_first else plan.paint.second for name, plan in forms.items()}
    keys |= {shape.id: shape for shape in shapes if shape.fill is None}
    if len(keys) == len(forms):
        return {}
    edges = edges_of({name: keys[name] for name in sorted(keys, key=lambda name: levels.key[name])})
    times = np.array([0.0, 1.0] if from_first else [1.0, 0.0])
    covers = [plan.covers(times) if edges and _is_opaque(plan) else None for plan in pairs]
    found: dict[int, tuple[Holder, ShapePair]] = {}
    for k, shape in enumerate(shapes):
        fill = next(iter(edges.get(shape.id, [])), None)
        if fill is None:
            continue
        lids = [lid for lid, above in zip(covers, levels.over([fill]), strict=True) if lid is not None and above]
        holder = _behind([shape], _drawn(shape), lids, forms[fill], from_first, INK) if lids else None
        if holder is not None:
            found[k] = holder, forms[fill].pair
    return found


def _behind(
    shapes: Sequence[Shape],
    own: shapely.Geometry,
    lids: Sequence[NDArray[np.object_]],
    ground: PairPlan | None,
    from_first: bool,
    most: float,
) -> Holder | None:
    """What takes along shapes of a key, if the `lids` hide all but `most` of them in the other key.

    Those are what they cover in both. `own` is where the shapes are seen, `ground` what they lie on.
    """
    here, there = (shapely.union_all(each) for each in zip(*lids, strict=True))
    if own.is_empty or own.difference(here).area < SEEN * own.area:
        return None
    points = np.concatenate([points_along(shape.contours) for shape in shapes])
    holder = None if ground is None else holder_of(ground, points, from_first)
    goes = _still(own) if holder is None else Holder(holder.own, holder.at, opens="behind")

    def carried(points: Floats) -> Floats:
        return as_points(goes.carried(as_complex(points)[None], np.array([1.0 if from_first else 0.0]))[0])

    moved = shapely.make_valid(shapely.transform(own, carried)) if holder is not None else own
    return goes if moved.difference(there).area < most * own.area else None


def _still(form: shapely.Geometry) -> Holder:
    """What does not take along what it holds."""
    ring = as_complex(shapely.get_coordinates(form.convex_hull)[:-1])
    return Holder(ring, lambda times: np.tile(ring, (len(times), 1)), opens="behind")


def _is_opaque(plan: PairPlan) -> bool:
    """Whether nothing is seen through it in both keys."""
    return all(
        key.fill is not None
        and key.opacity * key.fill.paint.opacity == 1.0
        and (key.fill.paint.gradient is None or all(stop.opacity == 1.0 for stop in key.fill.paint.gradient.stops))
        for key in (plan.paint.first, plan.paint.second)
    )


def _drawn(shape: Shape) -> shapely.Geometry:
    """Where a shape is seen: what it fills, and its lines."""
    found = []
    for contour in shape.contours:
        points = even_track(contour).sketch(PLACES)
        if shape.fill is not None:
            found.append(area_within(points))
        if shape.stroke is not None:
            found.append(line_along(points, shape.stroke.width))
    return shapely.union_all(found)
