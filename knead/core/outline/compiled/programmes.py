# cython: boundscheck=False, wraparound=False, cdivision=True, infer_types=True
"""The dynamic programmes: which way through a table costs the least, or is worth the most.

What calls them sees the types in programmes.pyi. All arrays are C-contiguous.
"""

import cython
import numpy as np
from cython.cimports.libc.math import sqrt

SKEW = cython.declare(cython.double, 0.34)  # how far, in shares, one outline may run ahead of the other
FAR = cython.declare(cython.double, 1e300)
REACH = cython.declare(cython.Py_ssize_t, 6)  # places that a step may go on: so many on one outline ...
BRISK = cython.declare(cython.Py_ssize_t, 2)  # ... if at most so many on the other
EVEN = cython.declare(cython.double, 0.5)  # what an uneven stretch costs: along a straight line all others are alike
WIDE = cython.declare(cython.Py_ssize_t, 16)  # a step of (a, b) is noted as a * WIDE + b


def align(cost, gain, first, second, stretch, moves: cython.const[cython.longlong][:, ::1]):
    """The cheapest monotone way through `cost` from corner to corner: its total, and its steps' indices (k, 2).

    Shapes: cost and gain (n + 1, m + 1); first (n + 1,), second (m + 1,), rising shares; moves (k, 2), the places a
    step may go on. A step costs the mean cost over it times its length, plus `stretch` times (ds - dt)^2 / (ds + dt),
    less the gain at its end. There are no steps where no way exists.

    Dynamic time warping with skips: Sakoe and Chiba 1978; the stretch term as in Sederberg and Greenwood 1992.
    """
    n: cython.Py_ssize_t = len(first) - 1
    m: cython.Py_ssize_t = len(second) - 1
    total: cython.double[:, ::1] = np.empty((n + 1, m + 1))
    origin: cython.longlong[:, ::1] = np.empty((n + 1, m + 1), dtype=np.int64)
    price: cython.double[::1] = np.empty(m + 1)
    _fill(cost, gain, first, second, 0, stretch, moves, total, origin, price)
    return total[n, m], _way(total, origin)


def align_all_starts(
    cost: cython.const[cython.double][:, ::1],
    gain: cython.const[cython.double][:, ::1],
    first: cython.const[cython.double][::1],
    second: cython.const[cython.double][::1],
    stretch: cython.double,
    moves: cython.const[cython.longlong][:, ::1],
):
    """Totals of `align` for a closed second outline started at each of its m places, shape (m,).

    Costs, gains and shares are those of two rounds, one after the other: 2 m + 1 columns.
    """
    n, m = first.shape[0] - 1, (second.shape[0] - 1) // 2
    total: cython.double[:, ::1] = np.empty((n + 1, m + 1))
    origin: cython.longlong[:, ::1] = np.empty((n + 1, m + 1), dtype=np.int64)
    price: cython.double[::1] = np.empty(m + 1)
    found = np.empty(m)
    totals: cython.double[::1] = found
    for start in range(m):
        _fill(cost, gain, first, second, start, stretch, moves, total, origin, price)
        totals[start] = total[n, m]
    return found


@cython.cfunc
@cython.exceptval(check=False)
def _fill(
    cost: cython.const[cython.double][:, ::1],
    gain: cython.const[cython.double][:, ::1],
    first: cython.const[cython.double][::1],
    second: cython.const[cython.double][::1],
    begin: cython.Py_ssize_t,
    stretch: cython.double,
    moves: cython.const[cython.longlong][:, ::1],
    total: cython.double[:, ::1],
    origin: cython.longlong[:, ::1],
    price: cython.double[::1],
) -> cython.void:
    """What the best way to each place costs, and the move that ends there; the second outline begins at a column."""
    n, m = total.shape[0] - 1, total.shape[1] - 1
    for i in range(n + 1):
        for j in range(m + 1):
            total[i, j] = FAR
    total[0, 0] = 0.0
    low: cython.Py_ssize_t = 1
    high: cython.Py_ssize_t = 0
    zero, whole = second[begin], second[begin + m] - second[begin]
    for i in range(1, n + 1):
        along = (first[i] - first[0]) / (first[n] - first[0])
        while low <= m and along - (second[begin + low] - zero) / whole > SKEW:
            low += 1
        while high < m and (second[begin + high + 1] - zero) / whole - along <= SKEW:
            high += 1
        for k in range(moves.shape[0]):
            a: cython.Py_ssize_t = moves[k, 0]
            b: cython.Py_ssize_t = moves[k, 1]
            start: cython.Py_ssize_t = max(low, b)
            if a > i or start > high:
                continue
            _price(cost, second, i, first[i] - first[i - a], a, b, begin + start, high + 1 - start, stretch, price)
            # every move goes on along both, so that all places of a row are independent: several are done at once
            for j in range(start, high + 1):
                came = total[i - a, j - b] + price[j - start] - gain[i, begin + j]
                origin[i, j] = a * WIDE + b if came < total[i, j] else origin[i, j]
                total[i, j] = min(came, total[i, j])


@cython.cfunc
@cython.exceptval(check=False)
def _price(
    cost: cython.const[cython.double][:, ::1],
    second: cython.const[cython.double][::1],
    i: cython.Py_ssize_t,
    ds: cython.double,
    a: cython.Py_ssize_t,
    b: cython.Py_ssize_t,
    start: cython.Py_ssize_t,
    count: cython.Py_ssize_t,
    stretch: cython.double,
    price: cython.double[::1],
) -> cython.void:
    """Fill in what a move costs that ends at places of a row, from `start` on; `ds` is how far it goes on the first."""
    parts: cython.Py_ssize_t = max(a, b)
    for j in range(count):
        price[j] = 0.5 * (cost[i - a, start - b + j] + cost[i, start + j])
    for p in range(1, parts):
        row: cython.Py_ssize_t = i - a + (a * p) // parts
        column: cython.Py_ssize_t = start - b + (b * p) // parts
        for j in range(count):
            price[j] += cost[row, column + j]
    for j in range(count):
        dt = second[start + j] - second[start - b + j]
        price[j] = price[j] * 0.5 / parts * (ds + dt) + stretch * (ds - dt) * (ds - dt) / (ds + dt + 1e-12)


def least_work(
    one: cython.const[cython.double][:, ::1],
    two: cython.const[cython.double][:, ::1],
    stretch: cython.double,
    bend: cython.double,
):
    """The way with the least work from the first to the last place of both outlines: indices (k, 2), or none.

    Rows of the tables (4, n + 1) and (4, m + 1): rising shares, lengths in one scale, how the outline turns at each
    place in radians, and the sums of these turns' sizes. A step costs by the difference of its lengths, of the turns at
    its end, and of what either outline bends within it.

    Sederberg and Greenwood 1992, with steps that pass over places.
    """
    n, m = one.shape[1] - 1, two.shape[1] - 1
    total: cython.double[:, ::1] = np.full((n + 1, m + 1), FAR)
    origin: cython.longlong[:, ::1] = np.zeros((n + 1, m + 1), dtype=np.int64)
    work: cython.double[::1] = np.empty(m + 1)
    total[0, 0] = 0.0
    low: cython.Py_ssize_t = 1
    high: cython.Py_ssize_t = 0
    for i in range(1, n + 1):
        along = (one[0, i] - one[0, 0]) / (one[0, n] - one[0, 0])
        while low <= m and along - (two[0, low] - two[0, 0]) / (two[0, m] - two[0, 0]) > SKEW:
            low += 1
        while high < m and (two[0, high + 1] - two[0, 0]) / (two[0, m] - two[0, 0]) - along <= SKEW:
            high += 1
        for a in range(1, min(i, REACH) + 1):
            length, bent, turn = one[1, i] - one[1, i - a], one[3, i - 1] - one[3, i - a], one[2, i]
            for b in range(1, (REACH if a <= BRISK else BRISK) + 1):
                start: cython.Py_ssize_t = max(low, b)
                # all places of a row are independent: several are done at once
                for j in range(start, high + 1):
                    other = two[1, j] - two[1, j - b]
                    uneven = EVEN * (length - other) * (length - other) / (length + other + 1e-12)
                    within = abs(bent - two[3, j - 1] + two[3, j - b])
                    work[j] = stretch * (abs(length - other) + uneven) + bend * (abs(turn - two[2, j]) + within)
                for j in range(start, high + 1):
                    came = total[i - a, j - b] + work[j]
                    origin[i, j] = a * WIDE + b if came < total[i, j] else origin[i, j]
                    total[i, j] = min(came, total[i, j])
    return _way(total, origin)


def chain(
    gain: cython.const[cython.double][:, ::1],
    first: cython.const[cython.double][:, ::1],
    second: cython.const[cython.double][:, ::1],
    reach: cython.Py_ssize_t,
    uneven: cython.double,
    skewed: cython.double,
):
    """The most worthwhile rising row of pairs from the first to the last of both: its worth, and the pairs (k, 2).

    `gain` (n, m) is what each pair is worth; rows of `first` (3, n) and `second` (3, m) are rising shares and places.
    At most `reach` are passed over at once. A stretch between two pairs costs `uneven` times the difference of its
    shares of the length, and `skewed` times its share where its directions are opposite.

    Dynamic programming with skips (Liu, Wang, Zhang, Qin and Zhou 2004).
    """
    n, m = gain.shape[0], gain.shape[1]
    total: cython.double[:, ::1] = np.full((n, m), -FAR)
    origin: cython.longlong[:, ::1] = np.zeros((n, m), dtype=np.int64)
    total[0, 0] = gain[0, 0]
    for i in range(1, n):
        for j in range(1, m):
            for a in range(max(0, i - reach - 1), i):
                for b in range(max(0, j - reach - 1), j):
                    if total[a, b] <= -FAR:
                        continue
                    ds, dt = first[0, i] - first[0, a], second[0, j] - second[0, b]
                    x, y = first[1, i] - first[1, a], first[2, i] - first[2, a]
                    u, v = second[1, j] - second[1, b], second[2, j] - second[2, b]
                    size = sqrt((x * x + y * y) * (u * u + v * v))
                    agree = (x * u + y * v) / size if size > 0.0 else 1.0
                    worth = total[a, b] + gain[i, j] - uneven * abs(ds - dt) - skewed * 0.25 * (ds + dt) * (1.0 - agree)
                    if worth > total[i, j]:
                        total[i, j] = worth
                        origin[i, j] = (i - a) * WIDE + j - b
    if total[n - 1, m - 1] <= -FAR:
        return -FAR, np.array([[0, 0], [n - 1, m - 1]])
    return total[n - 1, m - 1], _way(total, origin)


@cython.cfunc
def _way(total: cython.double[:, ::1], origin: cython.longlong[:, ::1]):
    """The way back from the last place to the first: indices (k, 2), rising; none if it was not reached."""
    i: cython.Py_ssize_t = total.shape[0] - 1
    j: cython.Py_ssize_t = total.shape[1] - 1
    found = np.zeros((i + j + 1, 2), dtype=np.int64)
    if total[i, j] >= FAR:
        return found[:0]
    steps: cython.longlong[:, ::1] = found
    count: cython.Py_ssize_t = 0
    while i > 0 or j > 0:
        steps[count, 0], steps[count, 1] = i, j
        by: cython.Py_ssize_t = origin[i, j]
        i, j, count = i - by // WIDE, j - by % WIDE, count + 1
    return found[count::-1].copy()
