"""Forms that are as like each other as not go by what they touch: the upper arm of a hand stays that of this hand."""

from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.pairing.assignment import Assignment, Sheet
from knead.core.pairing.order import by_exchange
from knead.core.pairing.roots import outline_of

TOUCHES = 0.05  # how near what touches is, by the size of the smaller
DEARER = 0.3  # how much dearer two pairs may be, with which more touch in both keys
UNLIKE = 0.3  # and how much more unlike in form and paint
TELLING = 2  # how many more must


def with_what_they_touch(found: Assignment) -> Assignment:
    """The same with partners exchanged where only so two closed fills touch in both keys what they touch in one."""
    pairs = found.pairs
    fills = [_is_fill(found.one, i) and _is_fill(found.two, j) for i, j in pairs.mates]
    if sum(fills) < TELLING + 2:
        return found
    here, there = _touching(found.one)[pairs.rows][:, pairs.rows], _touching(found.two)
    columns = pairs.columns.copy()
    may = np.triu(np.logical_and.outer(fills, fills), 1)
    may &= (by_exchange(pairs, pairs.cost) < DEARER) & (by_exchange(pairs, found.unlike) < UNLIKE)
    for k, n in np.argwhere(may).tolist():
        if not any(found.are_tied(*found.paired[each]) for each in (k, n)):
            gain = _gain(here, there[columns][:, columns], k, n)
            if gain >= TELLING:
                columns[[k, n]] = columns[[n, k]]
    return replace(found, pairs=replace(pairs, columns=columns))


def _gain(here: NDArray[np.bool_], there: NDArray[np.bool_], k: int, n: int) -> int:
    """How many more touch in both keys if two pairs exchange their partners."""
    others = np.ones(len(here), dtype=bool)
    others[[k, n]] = False
    one, two = (side[k].astype(int) - side[n] for side in (here, there))
    return -int(one[others] @ two[others])


def _is_fill(sheet: Sheet, row: int) -> bool:
    shape = sheet.chains[row].lead
    return shape.fill is not None and shape.contours[0].closed


def _touching(sheet: Sheet) -> NDArray[np.bool_]:
    """Which shapes and lines of a key touch each other, shape (n, n)."""
    forms = np.array([outline_of(line) for line in sheet.chains], dtype=object)
    sizes = np.array([form.size for form in sheet.portraits])
    one, two = shapely.STRtree(forms).query(forms, "dwithin", distance=TOUCHES * sizes)
    found = np.zeros((len(forms), len(forms)), dtype=bool)
    found[one, two] = True
    return np.asarray(found & found.T)
