"""Forms that are as like each other as not go by what they touch: the upper arm of a hand stays that of this hand."""

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.pairing.assign.assignment import Assignment, Sheet
from knead.core.pairing.refine.order import by_exchange, keep_partners
from knead.core.pairing.refine.roots import outline_of

TOUCHES = 0.05  # how near what touches is, by the size of the smaller
DEARER = 0.3  # how much dearer two pairs may be, with which more touch in both keys
UNLIKE = 0.3  # and how much more unlike in form and paint
TELLING = 2  # how many more must


def with_what_they_touch(found: Assignment) -> Assignment:
    """The same with partners exchanged where only so two closed fills touch in both keys what they touch in one."""
    pairs = found.pairs
    fills = [is_fill(found.one, i) and is_fill(found.two, j) for i, j in pairs.mates]
    if sum(fills) < TELLING + 2:
        return found
    may = np.logical_and.outer(fills, fills) & ~keep_partners(found)
    may &= (by_exchange(pairs, pairs.cost) < DEARER) & (by_exchange(pairs, found.unlike) < UNLIKE)
    if not may.any():
        return found
    here, there = (touching(sheet).astype(float) for sheet in (found.one, found.two))
    here = here[pairs.rows][:, pairs.rows]
    columns = pairs.columns.copy()
    for _ in range(len(columns)):
        gains = np.where(may, _gains(here, there[columns][:, columns]), 0)
        if gains.max() < TELLING:
            break
        k, n = np.unravel_index(int(gains.argmax()), gains.shape)
        columns[[k, n]] = columns[[n, k]]
        may[[k, n]] = may[:, [k, n]] = False
    return replace(found, pairs=replace(pairs, columns=columns))


def _gains(here: Floats, there: Floats) -> Floats:
    """How many more touch in both keys if each two pairs exchange their partners, (n, n), by which touch in each.

    What two do to each other does not count: they do so either way.
    """
    common = here @ there.T
    own = np.diagonal(common)
    return np.asarray(common + common.T - own - own[:, None] + 2 * here * there)


def is_fill(sheet: Sheet, row: int) -> bool:
    """Whether what is in this row of a key is filled, and closed."""
    shape = sheet.chains[row].lead
    return shape.fill is not None and shape.contours[0].closed


def touching(sheet: Sheet) -> NDArray[np.bool_]:
    """Which shapes and lines of a key touch each other, shape (n, n)."""
    forms = np.array([outline_of(line.form) for line in sheet.chains], dtype=object)
    sizes = np.array([form.size for form in sheet.portraits])
    one, two = shapely.STRtree(forms).query(forms, "dwithin", distance=TOUCHES * sizes)
    found = np.zeros((len(forms), len(forms)), dtype=bool)
    found[one, two] = one != two
    return found & found.T
