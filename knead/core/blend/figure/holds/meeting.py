"""Where corners of several shapes meet in both keys they meet all the way: at the middle of a pie, or of a fan."""

from dataclasses import replace

import numpy as np
import shapely

from knead.core.blend.figure.half_round import SAME, is_free, is_sure
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_held
from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points, between
from knead.core.geometry.track import Track, even_track

FEWEST = 3  # so many corners must meet
MEET = 2e-3  # how far apart corners that meet are, by the size of all
PARTS = 0.03  # how far apart they come that are plainly apart, by the size of the smallest
DEARER = 0.4  # how much more distortion a shape may take on so that its corners meet others
DEARER_SURE = 0.03  # the same of what is plainly one form in both keys
ALONG = np.linspace(0.0, 1.0, 257)
HALF_WAY = np.array([0.5])

Meeting = dict[int, float]  # of each shape, the parameter of the place where they meet


def meetings_of(plans: list[PairPlan]) -> list[tuple[Meeting, Meeting]]:
    """Where shapes meet at corners in both keys. Each set of shapes meets nowhere else."""
    free = {k: plan for k, plan in enumerate(plans) if _may_meet(plan)}
    first = _met({k: even_track(plan.paint.first.contours[0]) for k, plan in free.items()})
    second = first and _met({k: even_track(plan.paint.second.contours[0]) for k, plan in free.items()})
    both = [shapes for shapes in first if shapes in second]
    together = {k for shapes in both if len(shapes) >= FEWEST for k in shapes}
    return [(first[shapes], second[shapes]) for shapes in both if shapes & together]


def tied_where_they_meet(plans: list[PairPlan], meetings: list[tuple[Meeting, Meeting]]) -> list[PairPlan]:
    """The plans, with corners at meetings tied where they would become something else."""
    found = list(plans)
    for k in {k for meeting, _ in meetings for k in meeting}:
        plan = plans[k]
        held = np.array([(first[k], second[k]) for first, second in meetings if k in first])
        if strays(plan, held):
            tied = replace(plan_held(plan, held), tied=True)
            found[k] = tied if _may_be_tied(plan, tied) else plan
    return found


def _may_be_tied(plan: PairPlan, tied: PairPlan) -> bool:
    """Whether a shape can take that on. A tile that slides as it is does not roll over a corner to meet others."""
    if not is_sure(plan):
        return tied.strain <= plan.strain + DEARER
    rolls = between(*np.angle([plan.motion[0], tied.motion[0]])) > SAME
    return tied.strain <= plan.strain + DEARER_SURE and not rolls


def pinned(plans: list[PairPlan], meetings: list[tuple[Meeting, Meeting]]) -> list[PairPlan]:
    """The plans, with shapes pinned to where they meet in threes or more if they would come apart there."""
    found, taken = list(plans), set[int]()
    for meeting, there in [both for both in meetings if len(both[0]) >= FEWEST]:
        at = {k: _node_of(plans[k], (place, there[k])) for k, place in meeting.items()}
        nodes = {k: node for k, node in at.items() if node is not None}
        if len(nodes) < len(at) or taken & set(nodes):
            continue
        half = np.array([plans[k].points(HALF_WAY)[0, 3 * node + 1] for k, node in nodes.items()])
        if np.abs(half - half.mean()).max() > PARTS * min(plans[k].body.size for k in meeting):
            taken |= set(nodes)
            for k, node in nodes.items():
                found[k] = replace(found[k], pins=tuple({*found[k].pins, node}))
    return found


def _may_meet(plan: PairPlan) -> bool:
    return is_free(plan) and plan.blend == "auto" and plan.goes.plain and len(plan.contours) == 1


def _met(outlines: dict[int, Track]) -> dict[frozenset[int], Meeting]:
    """Sets of shapes that meet where two of them have a corner, and nowhere else; where that is on each of them."""
    owners = np.array([k for k, track in outlines.items() for _ in track.breaks[0]], dtype=int)
    if len(owners) < FEWEST:
        return {}
    places = np.concatenate([track.sketch(track.breaks[0]) for track in outlines.values()])
    near = MEET * float(np.hypot(np.ptp(places.real), np.ptp(places.imag)))
    spots = shapely.points(as_points(places))
    one, other = shapely.STRtree(spots).query(spots, "dwithin", near)
    meet = np.flatnonzero(np.bincount(one[owners[one] != owners[other]], minlength=len(owners)))
    meet = meet[[corner == other[one == corner].min() for corner in meet]]  # the first of those at a place
    if not len(meet):
        return {}
    lines = {k: shapely.LineString(track.points(ALONG)) for k, track in outlines.items()}
    found: dict[frozenset[int], list[Meeting]] = {}
    for place in as_points(places[meet]):
        shapes = [k for k, line in lines.items() if shapely.dwithin(line, shapely.Point(place), 2 * near)]
        found.setdefault(frozenset(shapes), []).append({k: outlines[k].nearest(place)[0] for k in shapes})
    return {shapes: met[0] for shapes, met in found.items() if len(met) == 1}


def strays(plan: PairPlan, held: Floats) -> bool:
    """Whether what is held would become something else."""
    one, two = (even_track(shape.contours[0]) for shape in (plan.paint.first, plan.paint.second))
    wanted = two.points(two.shares(held[:, 1]))
    partners = [plan.partner(point, from_first=True) for point in one.points(one.shares(held[:, 0]))]
    gaps = [np.hypot(*(np.array(p) - place)) for p, place in zip(partners, wanted, strict=True) if p is not None]
    return max(gaps, default=0.0) > PARTS * plan.body.size


def _node_of(plan: PairPlan, place: tuple[float, float]) -> int | None:
    """The node of a plan's contour that lies at these parameters of both keys."""
    (contour,) = plan.contours
    if contour.cuts is None:
        return None
    ends = [path[:, 0] for path in (contour.cuts.first, contour.cuts.second)]
    keys = [even_track(shape.contours[0]) for shape in (plan.paint.first, plan.paint.second)]
    gaps = [
        np.hypot(*(own - track.points(track.shares(np.array([param])))[0]).T)
        for own, track, param in zip(ends, keys, place, strict=True)
    ]
    worst = np.maximum(*gaps)
    node = int(np.argmin(worst))
    return node if worst[node] <= MEET * plan.body.size else None
