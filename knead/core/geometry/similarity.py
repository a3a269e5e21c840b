"""Similarities of the plane as complex numbers: z -> a z + b turns, scales and moves."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats

HARDLY = 1e-6  # points that are less broad than this, by their length, are a line


def as_complex(points: Floats) -> Complexes:
    """Points, shape (..., 2), as complex numbers, shape (...)."""
    return np.ascontiguousarray(points).view(complex)[..., 0]


def as_points(values: Complexes) -> Floats:
    """Complex numbers as points, shape (..., 2)."""
    return np.ascontiguousarray(values).view(float).reshape(*values.shape, 2)


def between(one: Floats | float, other: Floats | float) -> Floats:
    """How far two turns are from each other, whole rounds left aside, in radians from 0 to pi."""
    return np.asarray(np.abs(np.angle(np.exp(1j * np.subtract(one, other)))))


def fit(first: Complexes, second: Complexes, weights: Floats | None = None) -> tuple[complex, complex]:
    """The similarity (a, b) that takes `first` nearest to `second` in the least-squares sense.

    A first set of no extent gives a pure move (a = 1). Source: Horn 1987, in the plane.
    """
    w = np.ones(len(first)) if weights is None else weights
    w = w / w.sum()
    mean_first, mean_second = complex(w @ first), complex(w @ second)
    p, q = first - mean_first, second - mean_second
    weighed = w * p
    spread = float(np.vdot(weighed, p).real)
    a = complex(np.vdot(weighed, q)) / spread if spread > 1e-18 else 1.0 + 0j
    if abs(a) < 1e-9:
        a = 1.0 + 0j
    return a, mean_second - a * mean_first


def fit_robustly(first: Complexes, second: Complexes, weights: Floats, rounds: int = 12) -> tuple[complex, complex]:
    """As `fit`, but far-off correspondences count little (Geman-McClure weights, re-weighted least squares)."""
    w = weights
    for _ in range(rounds):
        a, b = fit(first, second, w)
        gaps = np.abs(a * first + b - second)
        usual = float(np.partition(gaps, len(gaps) // 2)[len(gaps) // 2])  # the median, without its overhead
        scale = max(usual * 1.5, 1e-9)
        w = weights / (1.0 + (gaps / scale) ** 2) ** 2
    return fit(first, second, w)


def affine_weights(points: Complexes, places: Complexes) -> Complexes:
    """How much each of points, shape (k,), counts for where places, shape (n,), go with them; shape (n, k).

    That is by the affine map which is fitted to where the points go, in the least-squares sense.
    """
    middle = points.mean()
    sides, at = (np.stack([z - middle, (z - middle).conj(), np.ones_like(z)], axis=1) for z in (points, places))
    return np.asarray(at @ np.linalg.pinv(sides, rcond=HARDLY), dtype=complex)


def inbetween(a: complex, b: complex, times: Floats) -> tuple[Complexes, Complexes]:
    """The similarities (a_t, b_t) at times in 0..1 along the logarithmic spiral from standing still to (a, b).

    Shapes (len(times),). The centre stays put, angle and log scale grow evenly; without turn and scale it is the
    straight move (Whited et al. 2010).
    """
    a_t = np.asarray(np.exp(times * np.log(a)), dtype=complex)
    if abs(a - 1.0) < 1e-7:
        return a_t, np.asarray(times * b, dtype=complex)
    return a_t, np.asarray(b * (a_t - 1.0) / (a - 1.0), dtype=complex)
