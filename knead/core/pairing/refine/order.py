"""What is nearly as like the one as the other keeps its order: what lies in another stays in it, and rows stay rows."""

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.geometry.hull import hull_of
from knead.core.pairing.assign.assignment import ALONE, Assignment, Sheet
from knead.core.pairing.assign.rounds import Rows

INSIDE_OUT = 0.3  # how much dearer two pairs may be, by which what lies in the other does not come to hold it
ACROSS = 0.1  # the same, by which two do not change sides
AS_LIKE = 0.1  # and how much more unlike in form and paint
BACK = -0.5  # the cosine of the angle by which the way from one to the other is turned where they change sides
MOSTLY = 0.8  # the share of it that lies in the other, which is so much larger


def in_order(found: Assignment) -> Assignment:
    """The same with partners exchanged where only so two keep their order, and that costs hardly more."""
    holds = _holds(found.one), _holds(found.two)
    for _ in range(len(found.pairs.rows)):
        exchange = _exchange(found, holds)
        if exchange is None:
            return found
        columns = found.pairs.columns.copy()
        columns[exchange] = columns[exchange[::-1]]
        found = replace(found, pairs=replace(found.pairs, columns=columns))
    return found


def _exchange(found: Assignment, holds: tuple[NDArray[np.bool_], NDArray[np.bool_]]) -> list[int] | None:
    """Which two pairs should have each other's partner: those by which it costs the least.

    `holds` says which of a key goes round which.
    """
    pairs = found.pairs
    dearer, unlike = by_exchange(pairs, pairs.cost + found.stood), by_exchange(pairs, found.unlike + found.stood)
    one, two = (side[own][:, own] for side, own in zip(holds, (pairs.rows, pairs.columns), strict=True))
    inside_out = ((one & two.T) | (one.T & two)) & (dearer < INSIDE_OUT)
    beside = ~(one | one.T | two | two.T)  # which side of what it lies in it is on is nothing
    across = _change_sides(found) & beside & (dearer < ACROSS) & (unlike < AS_LIKE)
    plain = pairs.cost[pairs.rows][:, pairs.columns] < ALONE  # what is much unlike has no order to keep
    may = (across | inside_out) & plain & plain.T & ~keep_partners(found)
    if not may.any():
        return None
    return [int(k) for k in np.unravel_index(np.argmin(np.where(may, dearer, np.inf)), may.shape)]


def by_exchange(pairs: Rows, cost: Floats) -> Floats:
    """How much more two pairs cost with each other's partner, shape (n, n)."""
    crossed = cost[pairs.rows][:, pairs.columns]
    own = np.diagonal(crossed)
    return np.asarray(crossed + crossed.T - own - own[:, None])


def _change_sides(found: Assignment) -> NDArray[np.bool_]:
    """Which two come to lie on the other side of each other, as the whole turns, shape (n, n)."""
    one = np.array([form.centre for form in found.one.portraits])[found.pairs.rows]
    two = np.array([form.centre for form in found.two.portraits])[found.pairs.columns]
    ways = np.exp(1j * found.pairs.turn) * (one[:, None] - one), two[:, None] - two
    return np.asarray((ways[0].conj() * ways[1]).real < BACK * np.abs(ways[0]) * np.abs(ways[1]))


def _holds(sheet: Sheet) -> NDArray[np.bool_]:
    """Which line or shape of a key goes round which smaller one, shape (n, n)."""
    rings = np.array([form.is_ring for form in sheet.portraits], dtype=bool)
    hulls = np.array([hull_of(line.form.contours) for line in sheet.chains], dtype=object)
    areas = np.where(rings, shapely.area(hulls), 0.0)
    may: NDArray[np.bool_] = (
        rings & rings[:, None] & (areas < MOSTLY * areas[:, None]) & shapely.intersects(hulls[:, None], hulls)
    )
    large, small = np.nonzero(may)
    may[large, small] = shapely.area(shapely.intersection(hulls[large], hulls[small])) > MOSTLY * areas[small]
    return may


def keep_partners(found: Assignment) -> NDArray[np.bool_]:
    """Which two pairs are none, or of which one is tied, shape (n, n)."""
    tied = np.array([found.are_tied(*pair) for pair in found.paired], dtype=bool)
    return np.asarray(tied | tied[:, None] | np.eye(len(tied), dtype=bool))
