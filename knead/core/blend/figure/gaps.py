"""What opens between neighbours that part: a mouth between jaws, an eye between its lids."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import even_track
from knead.core.model import Shape

PLACES = np.arange(96) / 96  # the places of an outline that are looked at
NEAR = 0.02  # what is nearer than this, by the length of the outline, adjoins it
AS_ONE = 1e-3  # and what is nearer than this, by its own length, fills one gap with it
SIDE, SIDES = 0.15, 0.5  # how much of an outline each of several neighbours adjoins at least, and all of them
SHUT = 0.2  # what is left of its area where they meet, at most
HIDDEN, STIFF = 0.02, 0.3  # and if neighbours hide it, which stray less from a mere turn, by their size
FLAT = 0.95  # how much of what it covers on the way lies there once
HALF_WAY, ON_THE_WAY = (0.5,), (0.25, 0.5, 0.75)
NOTHING = shapely.Polygon(), shapely.Polygon()


@dataclass(frozen=True, eq=False)
class _Feet:
    """The places on the outline of a neighbour that are nearest to places of a form: on its edge, and how far along."""

    mate: PairPlan
    edges: Ints
    along: Floats

    def at(self, times: Floats) -> Complexes:
        """Where they are at the times, shape (len(times), places)."""
        points = _outline(self.mate, times)
        starts, ends = (points[:, side[self.edges]] for side in _edges(self.mate))
        return np.asarray(starts + self.along * (ends - starts))


def gaps_between(
    shapes: Sequence[Shape],
    some: set[int],
    stack: Sequence[str],
    pairs: Sequence[tuple[PairPlan, shapely.Geometry]],
    from_first: bool,
) -> dict[int, Holder]:
    """What some of the lone shapes of a key fill, by itself or with what is beside it, if neighbours shut that.

    `stack` are the ids of all shapes of that key from back to front, and with the `pairs` is told where they are in it.
    """
    rank = {name: k for k, name in enumerate(stack)}
    fronts = [max(rank.get(name, -1) for name in _names(plan, from_first)) for plan, _ in pairs]
    places = np.array([place for _, place in pairs], dtype=object)
    found: dict[int, Holder] = {}
    for k, forms in enumerate(_fillings(shapes)):
        for form in forms if k in some else []:
            near = np.flatnonzero(shapely.dwithin(places, form, NEAR * form.length)).tolist()
            mates = [pairs[j][0] for j in near]
            above = [
                fronts[j] > rank[shapes[k].id] and mate.body.bend < STIFF for j, mate in zip(near, mates, strict=True)
            ]
            gap = _gap(form, mates, [False] * len(mates), from_first)
            gap = gap or (_gap(form, mates, above, from_first) if any(above) else None)
            if gap is not None:
                found.setdefault(k, gap)
    return found


def _names(plan: PairPlan, from_first: bool) -> tuple[str, ...]:
    return plan.pair.firsts if from_first else plan.pair.seconds


def _gap(form: shapely.Polygon, mates: list[PairPlan], above: list[bool], from_first: bool) -> Holder | None:
    """The outline of what has no partner, taken along by neighbours that it adjoins; None if these do not shut it.

    Nor if it would fold on the way. Neighbours that lie `above` it hide its edges, as jaws those of a mouth, and all of
    it where they meet. What adjoins none of them goes as what is beside it along the outline.
    """
    if len(mates) < 2:
        return None
    own, key = as_complex(shapely.get_coordinates(form.exterior)[:-1]), 0.0 if from_first else 1.0
    feet = [_feet(mate, own, key) for mate in mates]
    lids = [_areas(mate, (key, 1.0 - key)) if over else NOTHING for mate, over in zip(mates, above, strict=True)]
    gaps = np.array([own - foot.at(np.array([key]))[0] for foot in feet])
    mine, steps = np.argmin(np.abs(gaps), axis=0), np.abs(np.roll(own, -1) - own)
    away = np.take_along_axis(gaps, mine[None], axis=0)[0]
    hidden = np.array([shapely.contains_xy(here, own.real, own.imag) for here, _ in lids])
    hidden = np.take_along_axis(hidden, mine[None], axis=0)[0]
    adjoins = hidden | (np.abs(away) < NEAR * steps.sum())
    shares = np.array([steps[adjoins & (mine == k)].sum() for k in range(len(mates))]) / steps.sum()
    adjoins &= shares[mine] > SIDE
    if np.sum(shares > SIDE) < 2 or steps[adjoins].sum() < SIDES * steps.sum():
        return None
    passed = np.concatenate([[0.0], np.cumsum(steps)])

    def ring(times: Floats) -> Complexes:
        rows = np.take_along_axis(np.array([foot.at(times) for foot in feet]), mine[None, None], axis=0)[0]
        rows += np.where(hidden, 1.0, 1.0 - np.abs(times - key)[:, None]) * away  # what is between them shuts
        stops = passed[:-1][adjoins]
        moved = [np.interp(passed[:-1], stops, row[adjoins], period=passed[-1]) for row in rows - own]
        return np.asarray(own + np.array(moved), dtype=complex)

    shut, *way = ring(np.array([1.0 - key, *(ON_THE_WAY if any(above) else HALF_WAY)]))
    if any(shapely.Polygon(as_points(row)).area < FLAT * _area(row).area for row in way):
        return None
    if any(above):
        is_shut = _area(shut).difference(shapely.union_all([there for _, there in lids])).area < HIDDEN * form.area
    else:
        is_shut = shapely.Polygon(as_points(shut)).area < SHUT * form.area
    return Holder(own, ring, opens=True) if is_shut else None


def _fillings(shapes: Sequence[Shape]) -> list[list[shapely.Polygon]]:
    """What each of some shapes fills, without holes: by itself, and with those that it lies side by side with."""
    forms = [_form(shape) for shape in shapes]
    wide = [form.buffer(AS_ONE * form.length) for form in forms]
    parts = shapely.STRtree(shapely.get_parts(shapely.union_all(wide)))
    found = []
    for form, own in zip(forms, wide, strict=True):
        whole = parts.geometries[parts.query(own, predicate="intersects")].tolist()
        found.append([each for each in [form, *whole] if isinstance(each, shapely.Polygon) and not each.is_empty])
    return found


def _form(shape: Shape) -> shapely.Geometry:
    tracks = [even_track(each) for each in shape.contours if each.closed]
    rings = [track.sketch(np.union1d(PLACES, track.nodes[track.nodes < 1.0])) for track in tracks]
    return shapely.union_all([_area(ring) for ring in rings])


def _feet(mate: PairPlan, places: Complexes, key: float) -> _Feet:
    points = _outline(mate, np.array([key]))[0]
    starts, ends = (points[side] for side in _edges(mate))
    way, apart = ends - starts, places[:, None] - starts
    along = np.clip((apart * way.conj()).real / np.maximum(np.abs(way) ** 2, 1e-12), 0.0, 1.0)
    nearest = np.argmin(np.abs(apart - along * way), axis=1)
    return _Feet(mate, nearest, along[np.arange(len(places)), nearest])


def _areas(mate: PairPlan, times: tuple[float, float]) -> tuple[shapely.Geometry, shapely.Geometry]:
    """What a shape covers at two times, without its holes."""
    rows = mate.outlines(mate.points(np.array(times)))
    closed = [row for row, contour in zip(rows, mate.contours, strict=True) if contour.closed]
    one, two = (shapely.union_all([_area(row[side]) for row in closed]) for side in (0, 1))
    return one, two


def _area(ring: Complexes) -> shapely.Geometry:
    return shapely.make_valid(shapely.Polygon(as_points(ring)))


def _outline(mate: PairPlan, times: Floats) -> Complexes:
    """Points along all contours of a shape, shape (len(times), points)."""
    return np.concatenate(mate.outlines(mate.points(times)), axis=1)


def _edges(mate: PairPlan) -> tuple[Ints, Ints]:
    """Indices of the points at which edges along these contours begin and end."""
    counts = [outline.shape[1] for outline in mate.outlines(mate.points(np.zeros(1)))]
    starts, ends, first = [], [], 0
    for count, contour in zip(counts, mate.contours, strict=True):
        own = np.arange(first, first + count)
        starts.append(own if contour.closed else own[:-1])
        ends.append(np.roll(own, -1) if contour.closed else own[1:])
        first += count
    return np.concatenate(starts), np.concatenate(ends)
