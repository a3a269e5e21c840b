"""What moves before something that stays, or slides, as a figure before its wall: no limb hangs on that.

How a shape moves against its ground has a fixed point that is on the ground, wherever that is: it tells nothing.
"""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse.csgraph import connected_components

from knead.core.blend.course.body import Body
from knead.core.blend.course.pivot import pivot_of
from knead.core.geometry.bezier import Complexes, Floats

SLIDES = 0.02  # what else its points do, by its size, is less than this where a thing only slides, or stays
COVERED = 0.5  # what lies on something with more of its area than this lies on it wherever it turns
TIGHT = 0.1  # what hangs together less loosely than this is of one figure
SURE = 0.05  # what hangs less loosely than this on a thing that stays does so though it hangs more tightly on others
PINNED = 0.15  # the same of what is pinned
AWAY = 0.15  # how far a hinge may be from what holds it there, by the size of the smaller
TURNS = 0.05  # radians, from which on there is a place about which a shape turns


def grounds(bodies: Sequence[Body]) -> NDArray[np.bool_]:
    """Which shapes (columns) move before which that only slide, or stay, otherwise than they do (rows); (n, n)."""
    return _before(bodies, _astir(bodies))


def _before(bodies: Sequence[Body], astir: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Of shapes (columns) that do not go as others (rows) slide, those that move before these; (n, n)."""
    hulls, hairs = (
        np.array(each, dtype=object).reshape(-1, 2).T
        for each in ([body.hulls for body in bodies], [body.hairs for body in bodies])
    )
    areas = shapely.area(hairs)
    found = np.asarray(astir & (areas[0][:, None] > COVERED * areas.max(axis=0)))
    for side in (0, 1):
        back, child = np.nonzero(found)
        common = shapely.area(shapely.intersection(hulls[side, back], hairs[side, child]))
        found[back, child] = common > COVERED * areas[side, child]
    return found


def _astir(bodies: Sequence[Body]) -> NDArray[np.bool_]:
    """Which shapes (columns) do not go as others (rows) slide; (n, n)."""
    sizes = np.array([body.size for body in bodies])
    shifts = np.array([(body.second - body.first).mean() for body in bodies])
    strays = np.array(
        [np.abs(body.second - body.first - shift).mean() for body, shift in zip(bodies, shifts, strict=True)]
    )
    slide = (strays < SLIDES * sizes) & ~_is_led(bodies)
    return np.asarray(slide[:, None] & (np.hypot(np.abs(shifts[:, None] - shifts), strays) >= SLIDES * sizes))


def do_not_hold(bodies: Sequence[Body], looseness: Floats, hinges: Complexes) -> NDArray[np.bool_]:
    """Which shapes (rows) do not hold others (columns), of which one stays in its place, or is behind; (n, n).

    `looseness` and `hinges` (n, n) are how loosely, and at which places, they would. What stays hangs on nothing that
    moves, nor does a ground on what moves before it. What stays holds what turns about a place of its own, unless that
    hangs on something that moves, rather. What moves before it turns about some place of it in any case: that it holds
    only if it is pinned there, and no limb of a figure that does so.
    """
    still, astir = np.array([body.still for body in bodies]) & ~_is_led(bodies), _astir(bodies)
    behind = _before(bodies, astir)
    off: NDArray[np.bool_] = (still & ~still[:, None]) | behind.T
    for back in np.flatnonzero(behind.any(axis=1) & ~still):
        jointed, figures, others = _figures(looseness, ~astir[back])
        before = jointed & figures[:, behind[back]].any(axis=1)
        off[back] |= before | (behind[back] & (looseness[back] > np.maximum(SURE, others)))
    if not still.any():
        return off
    jointed, figures, others = _figures(looseness, still)
    pinned = np.array([_is_pinned(body) for body in bodies])
    loose = looseness > np.maximum(np.where(pinned, PINNED, SURE), others)
    for back in np.flatnonzero(still):
        before = np.where(jointed, figures[:, behind[back]].any(axis=1), behind[back] & ~pinned)
        off[back] |= (before | loose[back]) & ~still
    lines = np.array([body.line for body in bodies])  # these may bend: about which place tells little
    parent, child = np.nonzero(still[:, None] & ~still & ~lines & ~off & (looseness < np.inf))
    hulls, sizes = np.array([body.hulls[0] for body in bodies]), np.array([body.size for body in bodies])
    places = hinges[parent, child]
    away = shapely.distance(hulls[parent], shapely.points(places.real, places.imag))
    off[parent, child] = away > AWAY * np.minimum(sizes[parent], sizes[child])
    return off


def _is_led(bodies: Sequence[Body]) -> NDArray[np.bool_]:
    """Which shapes go a way of their own, whatever their keys say: they take along what is on them."""
    return np.array([body.path is not None or body.ride is not None for body in bodies], dtype=bool)


def _figures(looseness: Floats, rests: NDArray[np.bool_]) -> tuple[NDArray[np.bool_], NDArray[np.bool_], Floats]:
    """Which of the things that do not rest hang on others, which of them together, and how loosely on the nearest.

    Of shapes (n,), (n, n) and (n,).
    """
    apart = rests[:, None] | rests | np.eye(len(rests), dtype=bool)
    limbs = np.where(apart, np.inf, looseness)
    _, own = connected_components(limbs < TIGHT, directed=False)
    figures = np.asarray(own[:, None] == own)
    return figures.sum(axis=0) > 1, figures, np.minimum(limbs.min(axis=0), limbs.min(axis=1))


def _is_pinned(body: Body) -> bool:
    """Whether it turns about a place at its edge, as the hand of a clock."""
    a, b = body.motion
    if abs(np.angle(a)) <= TURNS:
        return False
    middle, pin = body.start, b / (1.0 - a)
    return abs(pivot_of([body], middle, body.motion) - pin) < abs(middle - pin) / 2
