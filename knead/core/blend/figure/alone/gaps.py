"""What opens between neighbours that part: a mouth between jaws, an eye between its lids."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.figure.stacking import Levels
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.holder import Holder
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.cover import area_within
from knead.core.geometry.hull import hull_of
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
NOTHING = shapely.Polygon()


@dataclass(frozen=True, eq=False)
class _Feet:
    """The places on the outline of a neighbour that are nearest to places of a form: how far along edges of it.

    Edges go from one to another of the points along the outline, by their indices.
    """

    mate: PairPlan
    starts: Ints
    ends: Ints
    along: Floats

    def at(self, times: Floats) -> Complexes:
        """Where they are at the times, shape (len(times), places)."""
        points = np.concatenate(self.mate.outlines(self.mate.points(times)), axis=1)
        return np.asarray((1.0 - self.along) * points[:, self.starts] + self.along * points[:, self.ends])


@dataclass(frozen=True, eq=False)
class _Ring:
    """An outline at its key, and how neighbours take it along: each place goes with one of the `feet`, if it adjoins.

    `away` is how far places are off their feet; what is `hidden` stays so, what is between neighbours shuts.
    """

    own: Complexes
    key: float
    feet: Sequence[_Feet]
    mine: Ints
    away: Complexes
    hidden: NDArray[np.bool_]
    adjoins: NDArray[np.bool_]

    def at(self, times: Floats) -> Complexes:
        """Where it is at the times, shape (len(times), places). What adjoins nothing goes as what is beside it."""
        rows = np.take_along_axis(np.array([foot.at(times) for foot in self.feet]), self.mine[None, None], axis=0)[0]
        rows += np.where(self.hidden, 1.0, 1.0 - np.abs(times - self.key)[:, None]) * self.away
        passed = np.concatenate([[0.0], np.cumsum(_steps(self.own))])
        places, stops = passed[:-1], passed[:-1][self.adjoins]
        moved = [np.interp(places, stops, row[self.adjoins], period=passed[-1]) for row in rows - self.own]
        return np.asarray(self.own + np.array(moved), dtype=complex)


def gaps_between(
    shapes: Sequence[Shape],
    some: set[int],
    levels: Levels,
    pairs: Sequence[tuple[PairPlan, shapely.Geometry]],
    from_first: bool,
) -> dict[int, Holder]:
    """What some of the lone shapes of a key fill, by itself or with what is beside it, if neighbours shut that.

    With the `pairs` is told where they are in that key.
    """
    places = np.array([place for _, place in pairs], dtype=object)
    found: dict[int, Holder] = {}
    for k, forms in enumerate(_fillings(shapes)):
        for form in forms if k in some else []:
            near = np.flatnonzero(shapely.dwithin(places, form, NEAR * form.length)).tolist()
            if len(near) < 2:
                continue
            own, key = as_complex(shapely.get_coordinates(form.exterior)[:-1]), 0.0 if from_first else 1.0
            feet = [_feet(pairs[j][0], own, key) for j in near]
            lids = levels.over([shapes[k].id])
            over = [lids[j] and pairs[j][0].body.bend < STIFF for j in near]
            gap = _between(form, own, key, feet) or _behind(form, own, key, feet, over)
            if gap is not None:
                found.setdefault(k, gap)
    return found | _held_in([k for k in range(len(shapes)) if k not in found], shapes, list(found.values()))


def _held_in(some: list[int], shapes: Sequence[Shape], gaps: list[Holder]) -> dict[int, Holder]:
    """Which of some shapes lie in a gap, whatever else they lie on, and in which: a tongue, behind a lip."""
    rooms = [(gap, shapely.Polygon(as_points(gap.own))) for gap in gaps]
    wide = [(gap, room.buffer(AS_ONE * room.length)) for gap, room in rooms]
    hulls = {k: hull_of(shapes[k].contours) for k in some} if gaps else {}
    return {k: gap for k, place in hulls.items() for gap, room in wide if room.covers(place)}


def _between(form: shapely.Polygon, own: Complexes, key: float, feet: list[_Feet]) -> Holder | None:
    """What lies side by side with neighbours, if hardly anything is left of it where they meet."""
    ring = _ring(own, key, feet, [NOTHING for _ in feet])
    if ring is None or _folds(ring, HALF_WAY):
        return None
    left = shapely.Polygon(as_points(ring.at(np.array([1.0 - key]))[0])).area
    return Holder(own, ring.at, opens="between") if left < SHUT * form.area else None


def _behind(form: shapely.Polygon, own: Complexes, key: float, feet: list[_Feet], over: list[bool]) -> Holder | None:
    """What has its edges behind neighbours that lie over it, as a mouth, if all of it is where they meet."""
    if not any(over):
        return None
    keys = (key, 1.0 - key)
    lids = [_areas(foot.mate, keys) if above else (NOTHING, NOTHING) for foot, above in zip(feet, over, strict=True)]
    ring = _ring(own, key, feet, [here for here, _ in lids])
    if ring is None or _folds(ring, ON_THE_WAY):
        return None
    seen = area_within(ring.at(np.array([1.0 - key]))[0]).difference(shapely.union_all([there for _, there in lids]))
    return Holder(own, ring.at, opens="between") if seen.area < HIDDEN * form.area else None


def _ring(own: Complexes, key: float, feet: list[_Feet], lids: list[shapely.Geometry]) -> _Ring | None:
    """The outline of what several neighbours adjoin, or hide with their lids; None if they hardly do."""
    gaps = np.array([own - foot.at(np.array([key]))[0] for foot in feet])
    covered = np.array([shapely.contains_xy(lid, own.real, own.imag) for lid in lids])
    mine, steps = np.argmin(np.abs(gaps), axis=0), _steps(own)
    away, hidden = (np.take_along_axis(side, mine[None], axis=0)[0] for side in (gaps, covered))
    adjoins = hidden | (np.abs(away) < NEAR * steps.sum())
    shares = np.array([steps[adjoins & (mine == k)].sum() for k in range(len(feet))]) / steps.sum()
    adjoins &= shares[mine] > SIDE
    if np.sum(shares > SIDE) < 2 or steps[adjoins].sum() < SIDES * steps.sum():
        return None
    return _Ring(own, key, feet, mine, away, hidden, adjoins)


def _steps(ring: Complexes) -> Floats:
    return np.asarray(np.abs(np.roll(ring, -1) - ring), dtype=float)


def _folds(ring: _Ring, times: tuple[float, ...]) -> bool:
    rows = ring.at(np.array(times))
    return bool((shapely.area(shapely.polygons(as_points(rows))) < FLAT * shapely.area(area_within(rows))).any())


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
    return shapely.union_all([area_within(ring) for ring in rings])


def _feet(mate: PairPlan, places: Complexes, key: float) -> _Feet:
    rows = mate.outlines(mate.points(np.array([key])))
    points, (starts, ends) = np.concatenate(rows, axis=1)[0], _edges(mate, [row.shape[1] for row in rows])
    way, apart = points[ends] - points[starts], places[:, None] - points[starts]
    along = np.clip((apart * way.conj()).real / np.maximum(np.abs(way) ** 2, 1e-12), 0.0, 1.0)
    nearest = np.argmin(np.abs(apart - along * way), axis=1)
    return _Feet(mate, starts[nearest], ends[nearest], along[np.arange(len(places)), nearest])


def _areas(mate: PairPlan, times: tuple[float, float]) -> tuple[shapely.Geometry, shapely.Geometry]:
    """What a shape covers at two times, without its holes."""
    rows = mate.outlines(mate.points(np.array(times)))
    closed = [row for row, contour in zip(rows, mate.contours, strict=True) if contour.closed]
    one, two = shapely.union_all([[NOTHING, NOTHING], *map(area_within, closed)], axis=0)
    return one, two


def _edges(mate: PairPlan, counts: list[int]) -> tuple[Ints, Ints]:
    """Indices of the points at which edges along the contours of a shape begin and end; each has so many points."""
    starts, ends, first = [], [], 0
    for count, contour in zip(counts, mate.contours, strict=True):
        own = np.arange(first, first + count)
        starts.append(own if contour.closed else own[:-1])
        ends.append(np.roll(own, -1) if contour.closed else own[1:])
        first += count
    return np.concatenate(starts), np.concatenate(ends)
