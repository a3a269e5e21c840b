"""The dynamic programme that lays one outline along another, stretching and skipping as little as needed."""

import numba
import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, Ints

_PAIRS = [(1, 1), (1, 2), (2, 1), (2, 3), (3, 2), (1, 3), (3, 1), (1, 5), (5, 1)]
SKEW = 0.34  # how far, in shares, one outline may run ahead of the other
MOVES = np.array(_PAIRS, dtype=np.int64)
COARSE_MOVES = np.array([(1, 1), (1, 2), (2, 1), (1, 3), (3, 1)], dtype=np.int64)


@numba.njit(cache=True, fastmath=True, error_model="numpy")
def _price(
    cost: Floats,
    second: Floats,
    row: tuple[int, float],
    move: tuple[int, int],
    places: tuple[int, int],
    stretch: float,
    price: Floats,
) -> None:
    """Fill in what a move costs that ends at places of a row; `row` is its number, and how far the move goes there."""
    (i, ds), (a, b), (start, stop) = row, move, places
    parts, count = max(a, b), stop - start
    begun, ended = cost[i - a, start - b : stop - b], cost[i, start:stop]
    for j in range(count):
        price[j] = 0.5 * (begun[j] + ended[j])
    for p in range(1, parts):
        at = start - b + (b * p) // parts
        passed = cost[i - a + (a * p) // parts, at : at + count]
        for j in range(count):
            price[j] += passed[j]
    left, right = second[start - b : stop - b], second[start:stop]
    for j in range(count):
        dt = right[j] - left[j]
        price[j] = price[j] * 0.5 / parts * (ds + dt) + stretch * (ds - dt) ** 2 / (ds + dt + 1e-12)


@numba.njit(cache=True, fastmath=True, error_model="numpy")
def align(cost: Floats, gain: Floats, first: Floats, second: Floats, stretch: float, moves: Ints) -> tuple[float, Ints]:
    """The cheapest monotone way through `cost` from corner to corner.

    Shapes: cost and gain (n + 1, m + 1); first (n + 1,), second (m + 1,), rising shares. A step costs the mean cost
    over it times its length, plus `stretch` times (ds - dt)^2 / (ds + dt), less the gain at its end. Returns the
    total and the steps' indices, shape (k, 2); no steps where no way exists.

    Dynamic time warping with skips: Sakoe and Chiba 1978; the stretch term as in Sederberg and Greenwood 1992.
    """
    n, m = len(first) - 1, len(second) - 1
    far = 1e300
    total = np.full((n + 1, m + 1), far)
    origin = np.zeros((n + 1, m + 1), dtype=np.int64)
    total[0, 0] = 0.0
    price = np.empty(m + 1)
    low, high = 1, 0
    for i in range(1, n + 1):
        along = (first[i] - first[0]) / (first[n] - first[0])
        while low <= m and along - (second[low] - second[0]) / (second[m] - second[0]) > SKEW:
            low += 1
        while high < m and (second[high + 1] - second[0]) / (second[m] - second[0]) - along <= SKEW:
            high += 1
        for k in range(len(moves)):
            a, b = moves[k, 0], moves[k, 1]
            start, stop = max(low, b), high + 1
            if a > i or start >= stop:
                continue
            # every move goes on along both, so that all places of a row are independent: several are done at once
            count = stop - start
            _price(cost, second, (i, first[i] - first[i - a]), (a, b), (start, stop), stretch, price)
            before, here = total[i - a, start - b : stop - b], total[i, start:stop]
            worth, by = gain[i, start:stop], origin[i, start:stop]
            for j in range(count):
                found = before[j] + price[j] - worth[j]
                if found < here[j]:
                    here[j] = found
                    by[j] = k
    steps = np.zeros((n + m + 1, 2), dtype=np.int64)
    if total[n, m] >= far:
        return far, steps[:0]
    i, j, count = n, m, 0
    while i > 0 or j > 0:
        steps[count, 0], steps[count, 1] = i, j
        k = origin[i, j]
        i -= moves[k, 0]
        j -= moves[k, 1]
        count += 1
    steps[count, 0], steps[count, 1] = 0, 0
    return total[n, m], steps[: count + 1][::-1].copy()


@numba.njit(cache=True, fastmath=True, error_model="numpy")
def align_all_starts(cost: Floats, gain: Floats, first: Floats, second: Floats, stretch: float, moves: Ints) -> Floats:
    """Totals of `align` for a closed second outline started at each of its m places, shape (m,)."""
    m = len(second) - 1
    totals = np.empty(m)
    columns = np.empty(m + 1, dtype=np.int64)
    shares = np.empty(m + 1)
    for shift in range(m):
        for j in range(m + 1):
            columns[j] = (j + shift) % m
            shares[j] = second[columns[j]] + (1.0 if j + shift >= m else 0.0)
        totals[shift], _ = align(cost[:, columns], gain[:, columns], first, shares, stretch, moves)
    return totals


def evened(knots: Floats, pinned: NDArray[np.bool_]) -> Floats:
    """A map's knots (k, 2), its speed smoothed between pins: a programme's steps are coarse, a map should not be."""
    pins = np.flatnonzero(pinned)
    counts = np.maximum(2, np.diff(pins))  # even steps from pin to pin
    starts = np.concatenate([[0], np.cumsum(counts)])
    share = (np.arange(starts[-1]) - np.repeat(starts[:-1], counts)) / np.repeat(counts, counts)
    low, high = (
        np.append(np.repeat(knots[each], counts, axis=0), knots[-1:], axis=0) for each in (pins[:-1], pins[1:])
    )
    even = low + np.append(share, 0.0)[:, None] * (high - low)
    offset = np.interp(even[:, 0], knots[:, 0], knots[:, 1]) - even[:, 1]
    for _ in range(4):
        offset[starts] = 0.0
        offset[1:-1] = 0.25 * offset[:-2] + 0.5 * offset[1:-1] + 0.25 * offset[2:]
    offset[starts] = 0.0
    second = np.maximum.accumulate(np.clip(even[:, 1] + offset, low[:, 1], high[:, 1]))
    return np.stack([even[:, 0], second], axis=1)
