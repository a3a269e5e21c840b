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
FLAT = 0.95  # how much of what it covers half way lies there once


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


def gap_between(form: shapely.Polygon, mates: Sequence[PairPlan], from_first: bool) -> Holder | None:
    """The outline of what has no partner, taken along by neighbours that it adjoins; None if these do not shut it.

    Nor if it would fold on the way. `from_first` tells in which key it is. What adjoins none of them goes as what is
    beside it along the outline.
    """
    if len(mates) < 2:
        return None
    own, key = as_complex(shapely.get_coordinates(form.exterior)[:-1]), 0.0 if from_first else 1.0
    feet = [_feet(mate, own, key) for mate in mates]
    away = np.array([own - foot.at(np.array([key]))[0] for foot in feet])
    mine = np.argmin(np.abs(away), axis=0)
    steps = np.abs(np.roll(own, -1) - own)
    adjoins = np.abs(away[mine, np.arange(len(own))]) < NEAR * steps.sum()
    shares = np.array([steps[adjoins & (mine == k)].sum() for k in range(len(mates))]) / steps.sum()
    adjoins &= shares[mine] > SIDE
    if np.sum(shares > SIDE) < 2 or steps[adjoins].sum() < SIDES * steps.sum():
        return None
    passed = np.concatenate([[0.0], np.cumsum(steps)])

    def ring(times: Floats) -> Complexes:
        nearness = 1.0 - np.abs(times - key)[:, None]  # what is between them shuts as they meet
        rows = np.array([foot.at(times) + nearness * apart for foot, apart in zip(feet, away, strict=True)])
        moves = np.take_along_axis(rows, mine[None, None], axis=0)[0] - own
        stops = passed[:-1][adjoins]
        moved = [np.interp(passed[:-1], stops, row[adjoins], period=passed[-1]) for row in moves]
        return np.asarray(own + np.array(moved), dtype=complex)

    shut, half = (shapely.Polygon(as_points(row)) for row in ring(np.array([1.0 - key, 0.5])))
    is_gap = shut.area < SHUT * form.area and half.area > FLAT * shapely.make_valid(half).area
    return Holder(own, ring, opens=True) if is_gap else None


def fillings(shapes: Sequence[Shape]) -> list[list[shapely.Polygon]]:
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
    return shapely.union_all([shapely.make_valid(shapely.Polygon(as_points(ring))) for ring in rings])


def _feet(mate: PairPlan, places: Complexes, key: float) -> _Feet:
    points = _outline(mate, np.array([key]))[0]
    starts, ends = (points[side] for side in _edges(mate))
    way, apart = ends - starts, places[:, None] - starts
    along = np.clip((apart * way.conj()).real / np.maximum(np.abs(way) ** 2, 1e-12), 0.0, 1.0)
    nearest = np.argmin(np.abs(apart - along * way), axis=1)
    return _Feet(mate, nearest, along[np.arange(len(places)), nearest])


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
