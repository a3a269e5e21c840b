"""Paths of travel: one that an animator drew, a cubic Bézier gone along at an even speed, or one that was followed."""

from collections.abc import Callable

import numpy as np
from numpy.polynomial.chebyshev import chebval, chebvander

from knead.core.geometry.bezier import Complexes, Floats, bernstein, gone

STEPS = 64

Ride = tuple[complex, ...]
"""How a way leaves the straight line: the terms of a Chebyshev series, of which t (1 - t) times is added."""


def chebyshev(count: int) -> Floats:
    """So many times at which a way is followed: Chebyshev's, from 0 to 1."""
    return np.asarray(0.5 - 0.5 * np.cos(np.pi * (np.arange(count) + 0.5) / count))


FOLLOWED = chebyshev(9)


def _at(control: Complexes, params: Floats) -> Complexes:
    return np.asarray(control @ bernstein(params))


def _params(control: Complexes, shares: Floats) -> Floats:
    """Bézier parameters at shares of the length."""
    params = np.linspace(0, 1, STEPS + 1)
    lengths = gone(np.abs(np.diff(_at(control, params))))
    return np.interp(shares * lengths[-1], lengths, params) if lengths[-1] > 0 else shares


def along(start: complex, handles: tuple[complex, complex], end: complex, times: Floats) -> Complexes:
    """Where one is at the times, shape (len(times),); the handles are relative to start and end."""
    control = np.array([start, start + handles[0], end + handles[1], end])
    return _beyond(lambda inner: _at(control, _params(control, inner)), start, end, times)


def _beyond(way: Callable[[Floats], Complexes], start: complex, end: complex, times: Floats) -> Complexes:
    """A way that is known at times 0 to 1; before it and after it, it goes on as it would have come, turned over."""
    found = way(np.where(times < 0.0, -times, np.where(times > 1.0, 2.0 - times, times)))
    return np.asarray(np.where(times < 0.0, 2 * start - found, np.where(times > 1.0, 2 * end - found, found)))


def parted(
    start: complex, handles: tuple[complex, complex], end: complex, place: float
) -> tuple[tuple[complex, complex], tuple[complex, complex]]:
    """The handles of the two parts, before and after a place (de Casteljau), each relative to its own ends."""
    control = np.array([start, start + handles[0], end + handles[1], end])
    t = float(_params(control, np.array([place]))[0])
    rows = [control]
    while len(rows[-1]) > 1:
        rows.append((1 - t) * rows[-1][:-1] + t * rows[-1][1:])
    middle = complex(rows[3][0])
    before = complex(rows[1][0]) - start, complex(rows[2][0]) - middle
    after = complex(rows[2][1]) - middle, complex(rows[1][2]) - end
    return before, after


def through(before: complex, at: complex, after: complex, times: tuple[int, int]) -> tuple[complex, complex]:
    """The handles, relative to it, of a place that is gone through smoothly on the way from one to another.

    The way takes `times` before and after the place; its speed there is that of the parabola through all three
    (Catmull and Rom 1974, for uneven times).
    """
    one, two = times
    speed = ((at - before) / one * two + (after - at) / two * one) / (one + two)
    return -speed * one / 3.0, speed * two / 3.0


def eased_in(way: complex, handle: complex) -> complex:
    """The handle at the beginning of a stretch that goes by `way` to its end, where it has this one: unbent there."""
    return (way + handle) / 2.0


def followed(start: complex, end: complex, places: Complexes) -> Ride:
    """The way through some places at as many Chebyshev times, from start to end."""
    times = chebyshev(len(places))
    rest = (places - start - times * (end - start)) / (times * (1.0 - times))
    terms = np.linalg.solve(chebvander(2.0 * times - 1.0, len(times) - 1), rest)
    return tuple(terms.tolist())


def ridden(start: complex, ride: Ride, end: complex, times: Floats) -> Complexes:
    """Where one is on it at the times, shape (len(times),); exact at 0 and 1."""

    def way(inner: Floats) -> Complexes:
        rest = chebval(2.0 * inner - 1.0, np.array(ride))
        return np.asarray(start + inner * (end - start) + inner * (1.0 - inner) * rest, dtype=complex)

    return _beyond(way, start, end, times)
