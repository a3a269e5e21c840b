"""How loosely the shapes of a drawing would hang on each other, and at which hinges.

A hinge is the fixed point of the motion of two shapes relative to each other; where they hang together it is near both.
"""

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import SAME
from knead.core.geometry.bezier import Complexes, Floats

LOOSE = 0.8  # a hinge farther off than this, by the smaller shape's size, holds nothing
NEIGHBOUR = 0.15  # how much a hinge's distance to the neighbour counts, against that to the shape itself
NOD = 0.6  # what turns less than this against its neighbour may be fixed to it, without a hinge


def offers(bodies: list[Body]) -> tuple[Floats, Complexes]:
    """How loosely each shape (columns) would hang on each other (rows), 0 is tight, and at which hinges; (n, n).

    What touches by chance in one key does not hang together: the looser of both counts.
    """
    a, b = (np.array([body.motion[k] for body in bodies], dtype=complex) for k in (0, 1))
    hulls = np.array([body.hulls for body in bodies]).T
    sizes = np.maximum(np.array([body.size for body in bodies]), 1e-9) * np.array([np.ones(len(a)), np.abs(a)])
    size = np.minimum(sizes[:, :, None], sizes[:, None])
    middles = np.array([body.start for body in bodies])
    turn = np.abs(np.angle(a / a[:, None]))
    slip = np.abs((a[:, None] - a) * middles + b[:, None] - b) / sizes[0]
    low, high = np.split(shapely.bounds(hulls), 2, axis=2)
    ahead = low[:, :, None] - high[:, None]
    boxes = np.maximum(ahead, low[:, None] - high[:, :, None])
    near = np.all(np.linalg.norm(np.maximum(boxes, 0.0), axis=3) / size <= LOOSE / NEIGHBOUR, axis=0)
    same = turn < SAME
    hinges = (b - b[:, None]) / np.where(same, 1.0, a[:, None] - a)
    spots = hinges.real, hinges.imag
    beyond = [np.maximum(np.maximum(low[0, :, k] - spots[k], spots[k] - high[0, :, k]), 0.0) for k in (0, 1)]
    off = np.full(turn.shape, np.inf)
    # the boxes first: most are far off
    there = parent, child = np.nonzero(near & ~same & (np.hypot(*beyond) / size[0] <= LOOSE))
    off[there] = _farther(hulls[:, child], _hinges(hinges[there], a[parent], b[parent]), size[:, parent, child])
    same |= (turn < NOD) & (slip < off)
    hinges, off = np.where(same, middles[None], hinges), np.where(same, slip, off)
    there = parent, child = np.nonzero(near & (off <= LOOSE))
    gap = _farther(hulls[:, parent], hulls[:, child], size[:, parent, child])
    away = _farther(hulls[:, parent], _hinges(hinges[there], a[parent], b[parent]), size[:, parent, child])
    looseness = np.full(off.shape, np.inf)
    looseness[there] = off[there] + np.where(same[there], 0.5 * gap, NEIGHBOUR * (away + gap))
    as_balls, joints = _with_balls(bodies, hulls[0], near)
    tighter = as_balls < looseness
    return np.where(tighter, as_balls, looseness), np.where(tighter, joints, hinges)


def _farther(one: NDArray[np.object_], other: NDArray[np.object_], size: Floats) -> Floats:
    """How far things are apart at the key where that is farther, by the size there; all of shape (2, k)."""
    gaps = np.zeros(one.shape)
    off = ~shapely.intersects(one, other)  # which is told much sooner than how far
    gaps[off] = shapely.distance(one[off], other[off])
    return np.asarray(np.max(gaps / size, axis=0))


def _hinges(places: Complexes, a: Complexes, b: Complexes) -> NDArray[np.object_]:
    """Hinges at both keys, which go as what holds them, z -> a z + b; shape (2, k)."""
    return _spots(np.array([places, a * places + b]))


def _with_balls(bodies: list[Body], hulls: NDArray[np.object_], near: NDArray[np.bool_]) -> tuple[Floats, Complexes]:
    """How loosely what is round would hang on what is not, or that on it, as on a ball, and at which hinges; (n, n).

    How a round form is turned tells nothing: a hand takes along what it holds, however that is turned.
    """
    spins = np.array([body.round for body in bodies])
    parent, child = there = np.nonzero(near & (spins[:, None] != spins))
    a, first, second = np.array([(body.motion[0], body.start, body.end) for body in bodies]).T
    sizes = np.maximum(np.array([body.size for body in bodies]), 1e-9)
    turn = np.where(spins[parent], a[child], a[parent])
    slip = np.abs(turn * (first[child] - first[parent]) - (second[child] - second[parent])) / sizes[child]
    gap = shapely.distance(hulls[parent], hulls[child]) / np.minimum(sizes[parent], sizes[child])
    looseness = np.full(near.shape, np.inf)
    looseness[there] = np.where(slip <= LOOSE, slip + 0.5 * gap, np.inf)
    return looseness, np.where(spins[:, None], first[:, None], first)


def on_riders(bodies: list[Body]) -> NDArray[np.bool_]:
    """Which shapes (columns) lie in both keys on which that ride (rows), as eyes on the head of a snake; (n, n)."""
    found = np.zeros((len(bodies), len(bodies)), dtype=bool)
    ends = np.array([(body.start, body.end) for body in bodies]).T
    sizes = np.array([body.size for body in bodies])
    for k in [k for k, body in enumerate(bodies) if body.ride is not None]:
        inside = [shapely.contains_xy(bodies[k].hulls[side], ends[side].real, ends[side].imag) for side in (0, 1)]
        found[k] = inside[0] & inside[1] & (sizes < sizes[k])
    return found


def _spots(places: Complexes) -> NDArray[np.object_]:
    return np.asarray(shapely.points(places.real, places.imag))
