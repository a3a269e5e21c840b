# cython: boundscheck=False, wraparound=False, cdivision=True, infer_types=True
"""What is asked of hundreds of maps between two outlines: how far an in-between is distorted, and even speeds.

What calls them sees the types in measures.pyi. All arrays are C-contiguous.
"""

import cython
import numpy as np
from cython.cimports.libc.math import atan2, cos, fabs, floor, hypot, sin

PLACES = cython.declare(cython.Py_ssize_t, 129)  # where an in-between is measured
LEAST = cython.declare(cython.double, 1e-12)  # no size is less
FLAT = cython.declare(cython.double, 1e-18)  # of what spreads by less no turn is told,
NONE = cython.declare(cython.double, 1e-9)  # nor of what is smaller by this than what it becomes
ROUND = cython.declare(cython.double, 6.283185307179586)
ROUNDS = cython.declare(cython.Py_ssize_t, 4)  # so many times a speed is smoothed


def distorted(
    shares: cython.const[cython.double][::1],
    points: cython.const[cython.double][:, ::1],
    its_shares: cython.const[cython.double][::1],
    its_points: cython.const[cython.double][:, ::1],
    knots: cython.const[cython.double][:, ::1],
    closed: cython.bint,
):
    """What an in-between along a map with these knots (k, 2) is distorted by, of outlines sampled at rising shares.

    Shapes: shares (n,), points (n, 2), and the same of the other outline. The stretch, the unevenness of turning, what
    is left over by the best similarity and the gap half way, each 0 or more; and that similarity's turn in radians.
    """
    z: cython.double[:, ::1] = np.empty((PLACES, 2))
    w: cython.double[:, ::1] = np.empty((PLACES, 2))
    last: cython.Py_ssize_t = PLACES - 1
    start: cython.double = knots[0, 0]
    whole: cython.double = knots[knots.shape[0] - 1, 0] - start
    k: cython.Py_ssize_t = 0
    for i in range(PLACES):
        share: cython.double = start + whole * (cython.cast(cython.double, i) / last)
        k = _knot(knots, k, share)
        _place(shares, points, share, closed, z, i)
        _place(its_shares, its_points, _becomes(knots, k, share), closed, w, i)
    return _compared(z, w, closed)


@cython.cfunc
def _knot(knots: cython.const[cython.double][:, ::1], k: cython.Py_ssize_t, share: cython.double) -> cython.Py_ssize_t:
    """The last knot that a share is not before, if the k-th is such a one."""
    while k + 1 < knots.shape[0] and knots[k + 1, 0] <= share:
        k += 1
    return k


@cython.cfunc
def _becomes(knots: cython.const[cython.double][:, ::1], k: cython.Py_ssize_t, share: cython.double) -> cython.double:
    """What a share becomes that lies on the stretch from the k-th knot on."""
    its: cython.double = knots[k, 1]
    if k + 1 < knots.shape[0] and share > knots[k, 0]:
        its += (share - knots[k, 0]) * (knots[k + 1, 1] - its) / (knots[k + 1, 0] - knots[k, 0])
    return its


@cython.cfunc
def _place(
    shares: cython.const[cython.double][::1],
    points: cython.const[cython.double][:, ::1],
    share: cython.double,
    closed: cython.bint,
    found: cython.double[:, ::1],
    i: cython.Py_ssize_t,
) -> cython.void:
    """Put the place at a share, on a chord between two samples, into a row."""
    if closed:
        share -= floor(share)
    low: cython.Py_ssize_t = 0
    high: cython.Py_ssize_t = shares.shape[0] - 1
    at: cython.double = 0.0
    if share >= shares[high]:
        low = high
    elif share > shares[0]:
        while high - low > 1:
            middle: cython.Py_ssize_t = (low + high) // 2
            if shares[middle] <= share:
                low = middle
            else:
                high = middle
        at = (share - shares[low]) / (shares[high] - shares[low])
    for side in range(2):
        step: cython.double = points[low + 1, side] - points[low, side] if at > 0.0 else 0.0
        found[i, side] = points[low, side] + at * step


@cython.cfunc
@cython.locals(sx=cython.double, sy=cython.double, px=cython.double, py=cython.double, qx=cython.double)
@cython.locals(qy=cython.double, one=cython.double, two=cython.double, along=cython.double, across=cython.double)
@cython.locals(here_x=cython.double, here_y=cython.double, turn=cython.double, half=cython.double, both=cython.double)
def _compared(z: cython.double[:, ::1], w: cython.double[:, ::1], closed: cython.bint):
    """Stretch, unevenness, rest, gap and turn of two rows of places.

    Turns by more than half a round against the step before are taken to be less.
    """
    n: cython.Py_ssize_t = z.shape[0]
    stretch: cython.double = 0.0
    lengths: cython.double = 0.0
    uneven: cython.double = 0.0
    gap_x: cython.double = 0.0
    gap_y: cython.double = 0.0
    rounds: cython.double = 0.0
    before: cython.double = 0.0
    before_x: cython.double = 0.0
    before_y: cython.double = 0.0
    ax, ay, rest = _fitted(z, w)
    for i in range(n - 1):
        sx, sy = z[i + 1, 0] - z[i, 0], z[i + 1, 1] - z[i, 1]
        px, py = ax * sx - ay * sy, ax * sy + ay * sx
        qx, qy = w[i + 1, 0] - w[i, 0], w[i + 1, 1] - w[i, 1]
        one, two = hypot(px, py), hypot(qx, qy)
        both = one + two
        stretch += fabs(one - two)
        lengths += both
        here_x, here_y = px * qx + py * qy, px * qy - py * qx
        if i > 0:
            along, across = here_x * before_x + here_y * before_y, here_y * before_x - here_x * before_y
            uneven += fabs(atan2(across, along + 1e-300))
        before_x, before_y = here_x, here_y
        if closed:  # where each step has gone half of its stretch and turn
            turn = atan2(here_y, here_x + 1e-300)
            if i > 0:
                rounds += floor((turn - before) / ROUND + 0.5)
            before = turn
            half = 0.5 * (turn - ROUND * rounds)
            if one > 0.0:
                px, py = px / one, py / one
            else:
                px, py = 1.0, 0.0
            gap_x += both * (cos(half) * px - sin(half) * py)
            gap_y += both * (cos(half) * py + sin(half) * px)
    lengths = max(lengths, LEAST)
    return stretch / lengths, uneven / ROUND, rest, hypot(gap_x, gap_y) / lengths, fabs(atan2(ay, ax))


@cython.cfunc
@cython.locals(px=cython.double, py=cython.double, qx=cython.double, qy=cython.double)
def _fitted(z: cython.double[:, ::1], w: cython.double[:, ::1]) -> tuple[cython.double, cython.double, cython.double]:
    """The turn and size (x, y) of the similarity that takes the first places nearest to the others, and what it misses.

    That is by the size of the others, as in `similarity.fit`.
    """
    n: cython.Py_ssize_t = z.shape[0]
    zx: cython.double = 0.0
    zy: cython.double = 0.0
    wx: cython.double = 0.0
    wy: cython.double = 0.0
    for i in range(n):
        zx += z[i, 0] / n
        zy += z[i, 1] / n
        wx += w[i, 0] / n
        wy += w[i, 1] / n
    ax: cython.double = 0.0
    ay: cython.double = 0.0
    spread: cython.double = 0.0
    size: cython.double = 0.0
    for i in range(n):
        px, py, qx, qy = z[i, 0] - zx, z[i, 1] - zy, w[i, 0] - wx, w[i, 1] - wy
        spread += (px * px + py * py) / n
        ax += (px * qx + py * qy) / n
        ay += (px * qy - py * qx) / n
        size += hypot(qx, qy)
    if spread <= FLAT or hypot(ax, ay) < NONE * spread:
        ax, ay, spread = 1.0, 0.0, 1.0
    ax, ay = ax / spread, ay / spread
    rest: cython.double = 0.0
    for i in range(n):
        px, py, qx, qy = z[i, 0] - zx, z[i, 1] - zy, w[i, 0] - wx, w[i, 1] - wy
        rest += hypot(ax * px - ay * py - qx, ax * py + ay * px - qy)
    return ax, ay, rest / max(size, LEAST)


def evened(knots: cython.const[cython.double][:, ::1], pinned: cython.const[cython.uchar][::1]):
    """A map's knots (k, 2), its speed smoothed between pins: a programme's steps are coarse, a map should not be.

    `pinned` (k,) is not 0 at pins; the first and the last knot are.
    """
    pins = np.flatnonzero(np.asarray(pinned))
    counts: cython.longlong[::1] = np.maximum(2, np.diff(pins))  # even steps from pin to pin
    at: cython.longlong[::1] = pins
    total: cython.Py_ssize_t = np.sum(counts)
    found = np.empty((total + 1, 2))
    rows: cython.double[:, ::1] = found
    offset: cython.double[::1] = np.empty(total + 1)
    n: cython.Py_ssize_t = 0
    k: cython.Py_ssize_t = 0
    for pin in range(counts.shape[0]):
        low: cython.Py_ssize_t = at[pin]
        high: cython.Py_ssize_t = at[pin + 1]
        for step in range(counts[pin]):
            share: cython.double = cython.cast(cython.double, step) / counts[pin]
            one: cython.double = knots[low, 0] + share * (knots[high, 0] - knots[low, 0])
            two: cython.double = knots[low, 1] + share * (knots[high, 1] - knots[low, 1])
            k = _knot(knots, k, one)
            rows[n, 0], rows[n, 1], offset[n] = one, two, _becomes(knots, k, one) - two
            n += 1
    rows[total, 0], rows[total, 1] = knots[knots.shape[0] - 1, 0], knots[knots.shape[0] - 1, 1]
    offset[total] = 0.0
    for _ in range(ROUNDS):
        _smooth(offset, counts)
    _pin(offset, counts)
    n = 0
    most: cython.double = knots[0, 1]
    for pin in range(counts.shape[0]):
        least: cython.double = knots[at[pin], 1]
        top: cython.double = knots[at[pin + 1], 1]
        for _ in range(counts[pin]):
            most = max(most, min(max(rows[n, 1] + offset[n], least), top))
            rows[n, 1] = most
            n += 1
    rows[total, 1] = max(most, rows[total, 1])
    return found


@cython.cfunc
def _smooth(offset: cython.double[::1], counts: cython.longlong[::1]) -> cython.void:
    """Each but the first and the last nearer to its neighbours, those at pins taken to be 0."""
    _pin(offset, counts)
    before: cython.double = offset[0]
    for i in range(1, offset.shape[0] - 1):
        here: cython.double = offset[i]
        offset[i] = 0.25 * before + 0.5 * here + 0.25 * offset[i + 1]
        before = here


@cython.cfunc
def _pin(offset: cython.double[::1], counts: cython.longlong[::1]) -> cython.void:
    place: cython.Py_ssize_t = 0
    for pin in range(counts.shape[0]):
        offset[place] = 0.0
        place += counts[pin]
    offset[place] = 0.0
