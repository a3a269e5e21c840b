"""What grows out of one body does so where it did, however it is bent: arms of an octopus, or hair of a head."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Ints
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.pairing.assignment import ALONE, Assignment
from knead.core.pairing.chains import Chain
from knead.core.pairing.cheapest import cheapest
from knead.core.pairing.constellation import to_next
from knead.core.pairing.likeness import extent
from knead.core.pairing.rounds import KEPT, Rows, price_of_place

AROUND = np.linspace(0.0, 1.0, 65)
WITHIN = 0.7  # what lies in a body by more is in it, and does not grow out of it
TELLING, FITS = 3, 0.35  # so many grow out where others did at least, so near by how far off the next does
STAYS, LEAVES = 0.3, 0.3  # how much it counts then how unlike what does is, and what it costs to grow elsewhere
NEAR = 0.02  # how far off a body, by its size, what grows out of it begins


def by_roots(found: Assignment) -> Assignment:
    """The assignment found anew with what grows out of a body held to do so where it did, if all of several may."""
    looks, pairs = (found.one.portraits, found.two.portraits), found.pairs
    cost, anew = pairs.cost.copy(), np.zeros(pairs.cost.shape, dtype=bool)
    outlines = [[_outline(line) for line in sheet.chains] for sheet in (found.one, found.two)]
    for i, j in pairs.mates:
        (rows, here), (columns, there) = (_roots(side, own) for side, own in zip(outlines, (i, j), strict=True))
        if min(len(rows), len(columns)) < TELLING:
            continue
        one, two = looks[0][i], looks[1][j]
        grows = np.exp(1j * pairs.turn) * two.size / max(one.size, 1e-12)
        far = np.abs((two.centre + (here - one.centre) * grows)[:, None] - there)
        unlike = found.unlike[np.ix_(rows, columns)]
        kept = (far < FITS * to_next(there)) & (unlike < ALONE)
        if kept.sum() == min(kept.shape) and max(kept.sum(axis=0).max(), kept.sum(axis=1).max()) == 1:
            places = price_of_place(far / max(extent(looks[1]), 1e-9))
            cost[np.ix_(rows, columns)] = places + np.where(kept, STAYS * unlike, unlike + LEAVES)
            anew[np.ix_(rows, columns)] = True
    if not anew.any():
        return found
    wanted = cost.copy()
    for (i, j), lines in zip(pairs.mates, found.paired, strict=True):
        wanted[i, j] -= KEPT * (found.are_tied(*lines) or not anew[i, j])  # all others stay with their partners
    held = Rows(*cheapest(wanted, ALONE), cost, pairs.turn)
    # else it is as sure as it was, and no dearer
    return found if {*held.mates} == {*pairs.mates} else replace(found, pairs=held)


def _outline(line: Chain) -> shapely.Geometry:
    """A closed fill as an area, and all else as a line."""
    shape = line.whole()[0]
    track = track_of(max(shape.contours, key=lambda contour: track_of(contour).length))
    points = as_points(track.sketch(AROUND))
    area = shape.fill is not None and track.closed and len(shape.contours) == 1
    return shapely.make_valid(shapely.Polygon(points)) if area else shapely.LineString(points)


def _roots(outlines: Sequence[shapely.Geometry], own: int) -> tuple[Ints, Complexes]:
    """Which others grow out of a body, and where they leave it."""
    body = outlines[own]
    none = np.zeros(0, dtype=np.int64), np.zeros(0, dtype=complex)
    if body.geom_type not in ("Polygon", "MultiPolygon"):
        return none
    others = np.array(outlines, dtype=object)
    near = body.buffer(NEAR * np.sqrt(body.area))
    meets = np.flatnonzero(shapely.intersects(others, near))
    meets = meets[meets != own]
    if len(meets) < TELLING:
        return none
    common = shapely.intersection(others[meets], near)
    lines = shapely.area(others[meets]) == 0
    within, whole = (np.where(lines, shapely.length(each), shapely.area(each)) for each in (common, others[meets]))
    out = (within < WITHIN * whole) & ~shapely.is_empty(common)
    places = shapely.centroid(common[out])
    return meets[out], shapely.get_x(places) + 1j * shapely.get_y(places)
