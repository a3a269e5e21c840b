"""What moves before something that stays, as a figure before its wall: that holds only what is pinned to it."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.course.body import Body
from knead.core.blend.course.pivot import pivot_of
from knead.core.geometry.bezier import Complexes, Floats

COVERED = 0.5  # what lies on something with more of its area than this lies on it wherever it turns
TIGHT = 0.1  # what hangs together less loosely than this is of one figure
SURE = 0.05  # what hangs less loosely than this on a thing that stays does so though it hangs more tightly on others
PINNED = 0.15  # the same of what is pinned
AWAY = 0.15  # how far a hinge may be from what holds it there, by the size of the smaller
TURNS = 0.05  # radians, from which on there is a place about which a shape turns
HAIR = 1e-6  # how broad a line counts, by its size: its share on a ground is then one of area


def grounds(bodies: Sequence[Body]) -> NDArray[np.bool_]:
    """Which shapes (columns) move before which that stay (rows), in both keys; (n, n)."""
    still = np.array([body.still for body in bodies], dtype=bool)
    hulls = np.array([body.hulls for body in bodies], dtype=object).reshape(-1, 2).T
    hairs = shapely.buffer(hulls, HAIR * np.array([body.size for body in bodies]))
    areas = shapely.area(hairs)
    found = np.asarray(still[:, None] & ~still & (areas[0][:, None] > COVERED * areas.max(axis=0)))
    for side in (0, 1):
        back, child = np.nonzero(found)
        common = shapely.area(shapely.intersection(hulls[side, back], hairs[side, child]))
        found[back, child] = common > COVERED * areas[side, child]
    return found


def do_not_hold(bodies: Sequence[Body], looseness: Floats, hinges: Complexes) -> NDArray[np.bool_]:
    """Which shapes (rows) do not hold others (columns), of which one stays in its place, as its own; (n, n).

    `looseness` and `hinges` (n, n) are how loosely, and at which places, they would. What stays hangs on nothing that
    moves. It holds what turns about a place of its own, unless that hangs on something that moves, rather. What moves
    before it turns about some place of it in any case: that it holds only if it is pinned there, and no limb of a
    figure that does so.
    """
    still = np.array([body.still for body in bodies])
    limbs = np.where(still[:, None] | still | np.eye(len(bodies), dtype=bool), np.inf, looseness)
    figures = _together(limbs < TIGHT)
    behind, jointed = grounds(bodies), figures.sum(axis=0) > 1
    pinned = np.array([_is_pinned(body) for body in bodies])
    others = np.minimum(limbs.min(axis=0), limbs.min(axis=1))
    off = np.where(jointed, behind @ figures, behind & ~pinned) | (
        looseness > np.maximum(np.where(pinned, PINNED, SURE), others)
    )
    lines = np.array([body.line for body in bodies])  # these may bend: about which place tells little
    parent, child = np.nonzero(still[:, None] & ~still & ~lines & ~off & (looseness < np.inf))
    hulls, sizes = np.array([body.hulls[0] for body in bodies]), np.array([body.size for body in bodies])
    places = hinges[parent, child]
    away = shapely.distance(hulls[parent], shapely.points(places.real, places.imag))
    off[parent, child] = away > AWAY * np.minimum(sizes[parent], sizes[child])
    return np.asarray(np.where(still[:, None], off & ~still, still))


def _together(meet: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which things are of one piece, if those are that meet; each with itself, too; (n, n)."""
    found = meet | meet.T | np.eye(len(meet), dtype=bool)
    while not np.array_equal(wider := found @ found, found):
        found = wider
    return found


def _is_pinned(body: Body) -> bool:
    """Whether it turns about a place at its edge, as the hand of a clock."""
    a, b = body.motion
    if abs(np.angle(a)) <= TURNS:
        return False
    middle, pin = body.start, b / (1.0 - a)
    return abs(pivot_of([body], middle, body.motion) - pin) < abs(middle - pin) / 2
