"""What grows out of one body does so where it did, however it is bent: arms of an octopus, or hair of a head."""

from dataclasses import replace
from functools import lru_cache

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Ints
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.assign.assignment import ALONE, Assignment
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.constellation import to_next
from knead.core.pairing.assign.likeness import extent
from knead.core.pairing.assign.rounds import KEPT, Rows, as_they_were, price_of_place

AROUND = np.linspace(0.0, 1.0, 33)
WITHIN = 0.7  # what lies in a body by more is in it, and does not grow out of it
TELLING, FITS = 3, 0.35  # so many grow out where others did at least, so near by how far off the next does
STAYS, LEAVES = 0.3, 0.3  # how much it counts then how unlike what does is, and what it costs to grow elsewhere
NEAR = 0.02  # how far off a body, by its size, what grows out of it begins


def by_roots(found: Assignment) -> Assignment:
    """The assignment found anew with what grows out of a body held to do so where it did, if all of several may."""
    looks, pairs = (found.one.portraits, found.two.portraits), found.pairs
    cost, anew = pairs.cost.copy(), np.zeros(pairs.cost.shape, dtype=bool)
    roots = [_roots(tuple(chain.form for chain in sheet.chains)) for sheet in (found.one, found.two)]
    for i, j in pairs.mates:
        if i not in roots[0] or j not in roots[1]:
            continue
        (rows, here), (columns, there) = roots[0][i], roots[1][j]
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
    wanted, stays = cost.copy(), set(zip(*as_they_were(*looks, found.unlike), strict=True))
    for (i, j), lines in zip(pairs.mates, found.paired, strict=True):
        wanted[i, j] -= KEPT * (found.are_tied(*lines) or (i, j) in stays or not anew[i, j])  # all others stay as well
    held = Rows(*cheapest(wanted, ALONE), cost, pairs.turn)
    # else it is as sure as it was, and no dearer
    return found if {*held.mates} == {*pairs.mates} else replace(found, pairs=held)


@lru_cache(maxsize=16)  # what is cut otherwise in one key is the same in the other
def _roots(shapes: tuple[Shape, ...]) -> dict[int, tuple[Ints, Complexes]]:
    """Of each body out of which enough others grow, by its place in the row, which do, and where they leave it."""
    outlines = np.array([outline_of(shape) for shape in shapes], dtype=object)
    areas, lengths = shapely.area(outlines), shapely.length(outlines)
    bodies = np.flatnonzero(areas > 0)
    near = shapely.buffer(outlines[bodies], NEAR * np.sqrt(areas[bodies]), quad_segs=1)
    of, others = shapely.STRtree(outlines).query(near, predicate="intersects")
    several = np.bincount(of, minlength=len(bodies)) > TELLING  # it meets itself
    meets = several[of] & (bodies[of] != others)
    of, others = of[meets], others[meets]
    common = shapely.intersection(outlines[others], near[of])
    flat = areas[others] == 0
    within = np.where(flat, shapely.length(common), shapely.area(common))
    out = (within < WITHIN * np.where(flat, lengths[others], areas[others])) & ~shapely.is_empty(common)
    of, others, middles = of[out], others[out], shapely.centroid(common[out])
    places = shapely.get_x(middles) + 1j * shapely.get_y(middles)
    counts = np.bincount(of, minlength=len(bodies))
    return {int(bodies[k]): (others[of == k], places[of == k]) for k in np.flatnonzero(counts >= TELLING)}


@lru_cache(maxsize=1024)
def outline_of(shape: Shape) -> shapely.Geometry:
    """A closed fill as an area, and all else as a line. The latest are kept: each step of pairing asks for them."""
    tracks = [track_of(contour) for contour in shape.contours]
    track = max(tracks, key=lambda track: track.length)
    points = as_points(track.sketch(AROUND))
    if shape.fill is None or not track.closed or len(tracks) > 1:
        return shapely.LineString(points)
    area = shapely.Polygon(points)
    return area if area.is_valid else shapely.make_valid(area)
