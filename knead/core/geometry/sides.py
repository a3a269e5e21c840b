"""The sides of a box, as far as one sees it: polygons that border on each other along whole edges."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Floats, following
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Shape

COUNTS = range(3, 7)  # how many corners a side of a box may have
AROUND = np.linspace(0.0, 1.0, 65)[:-1]
OFF, KEPT = 0.1, 0.97  # how far off its edges it lies, by how thick it is, and how much of it is between them
NEAR = 0.2  # how near their ends are, by the longer one, of edges that two sides have in common

Edge = tuple[int, int]  # a side, and the corner from which its edge goes on


def corners_of(shape: Shape) -> tuple[Floats, Complexes] | None:
    """The corners of what may be a side of a box: shares of its outline (k,), and places, all in one direction.

    They may be blunt, or a little rounded. None of what has holes or dents, or bulges.
    """
    if shape.fill is None or len(shape.contours) != 1 or not shape.contours[0].closed:
        return None
    return _corners(shape.contours[0])


@lru_cache(maxsize=1024)
def _corners(contour: Contour) -> tuple[Floats, Complexes] | None:
    track = track_of(contour)
    shares = np.union1d(AROUND, track.nodes)
    points = track.sketch(shares)
    first = int(np.abs(points - points.mean()).argmax())  # what is farthest off is a corner
    shares, points = np.roll(shares, -first), np.roll(points, -first)
    ring = shapely.Polygon(as_points(points))
    if ring.area == 0.0:
        return None
    found = shapely.simplify(ring, OFF * 2 * ring.area / ring.length, preserve_topology=False)
    if found.geom_type != "Polygon" or len(found.exterior.coords) - 1 not in COUNTS or found.area < KEPT * ring.area:
        return None
    corners = as_complex(shapely.get_coordinates(found)[:-1])
    steps = following(corners) - corners
    bends = np.sign((steps.conj() * following(steps)).imag)
    if np.ptp(bends) > 0:
        return None
    corners = corners if bends[0] > 0 else corners[::-1]
    return shares[np.abs(corners[:, None] - points).argmin(axis=1)], corners


def borders(sides: Sequence[Complexes], near: float = NEAR) -> dict[Edge, Edge]:
    """Which edge of which other side each edge of a side lies along, of which the corners are given.

    Its ends are so `near` to those of the other at least, by the length of the longer one.
    """
    if not sides:
        return {}
    names = [(k, corner) for k, corners in enumerate(sides) for corner in range(len(corners))]
    of = np.array([k for k, _ in names])
    start, end = np.concatenate(sides), np.concatenate([following(corners) for corners in sides])
    lengths, middles = np.abs(end - start), shapely.points(as_points((start + end) / 2))
    one, two = shapely.STRtree(middles).query(middles, predicate="dwithin", distance=near * lengths)
    one, two = np.append(one, two), np.append(two, one)  # either may be the longer one
    off = np.maximum(np.abs(start[one] - end[two]), np.abs(end[one] - start[two]))
    off /= np.maximum(np.maximum(lengths[one], lengths[two]), 1e-12)
    near_by = (of[one] != of[two]) & (off < near)
    one, two, off = one[near_by], two[near_by], off[near_by]
    order = np.lexsort((two, off, one))[::-1]
    nearest = dict(zip(one[order].tolist(), two[order].tolist(), strict=True))  # the last counts
    return {names[k]: names[n] for k, n in sorted(nearest.items()) if nearest.get(n) == k}


def by_corners(corners: Complexes, places: Complexes) -> Complexes:
    """Places by the corners of a side, as if these were those of a regular polygon about 0, the first of them at 1."""
    middle, count = corners.mean(), len(corners)
    regular = np.exp(2j * np.pi * np.arange(count) / count)
    own, others = (np.column_stack([z.real, z.imag, np.ones(len(z))]) for z in (corners - middle, places - middle))
    return np.asarray(others @ np.linalg.lstsq(own, regular, rcond=None)[0])
