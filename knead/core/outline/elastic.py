"""The dynamic programme that lays one outline along another, stretching and skipping as little as needed."""

import numba
import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, Ints

_PAIRS = [(1, 1), (1, 2), (2, 1), (2, 3), (3, 2), (1, 3), (3, 1), (1, 5), (5, 1)]
LONGEST = 5  # places that a step may go on
SKEW = 0.34  # how far, in shares, one outline may run ahead of the other
MOVES = np.array(_PAIRS, dtype=np.int64)
COARSE_MOVES = np.array([(1, 1), (1, 2), (2, 1), (1, 3), (3, 1)], dtype=np.int64)


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
    between = np.zeros((len(moves), LONGEST, 2), dtype=np.int64)  # the places a step passes, from its start
    for k in range(len(moves)):
        parts = max(moves[k, 0], moves[k, 1])
        for p in range(1, parts):
            between[k, p, 0], between[k, p, 1] = (moves[k, 0] * p) // parts, (moves[k, 1] * p) // parts
    for i in range(1, n + 1):
        along = (first[i] - first[0]) / (first[n] - first[0])
        for j in range(1, m + 1):
            if abs(along - (second[j] - second[0]) / (second[m] - second[0])) > SKEW:
                continue
            for k in range(len(moves)):
                a, b = moves[k, 0], moves[k, 1]
                if a > i or b > j or total[i - a, j - b] >= far:
                    continue
                ds, dt = first[i] - first[i - a], second[j] - second[j - b]
                parts = max(a, b)
                mean = 0.5 * (cost[i - a, j - b] + cost[i, j])
                for p in range(1, parts):
                    mean += cost[i - a + between[k, p, 0], j - b + between[k, p, 1]]
                step = mean / parts * 0.5 * (ds + dt) + stretch * (ds - dt) ** 2 / (ds + dt + 1e-12) - gain[i, j]
                if total[i - a, j - b] + step < total[i, j]:
                    total[i, j] = total[i - a, j - b] + step
                    origin[i, j] = k
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
