"""How points travel from one key to the other. Points are complex arrays of shape (k,); results (len(times), k)."""

from typing import Literal

import numpy as np

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import Complexes

Way = Literal["direct", "arc"]


def direct(first: Complexes, second: Complexes, times: Floats) -> Complexes:
    """Straight on. Exact at 0 and 1."""
    t = times[:, None]
    return (1.0 - t) * first + t * second


def arc(first: Complexes, second: Complexes, times: Floats, motion: tuple[complex, complex]) -> Complexes:
    """Turn and scale along a logarithmic spiral, the rest straight in the turning frame (Whited et al. 2010).

    `motion` is the similarity that takes the first nearest to the second. Exact at 0 and 1.
    """
    a, b = motion
    a_t, b_t = similarity.inbetween(a, b, times)
    rest = (second - b) / a - first
    found = a_t[:, None] * (first + times[:, None] * rest) + b_t[:, None]
    found[times == 0.0] = first
    found[times == 1.0] = second
    return found


def choose(first: Complexes, second: Complexes, weights: Floats, motion: tuple[complex, complex]) -> tuple[Way, str]:
    """Arc where turning and scaling explain most of the change, else direct; with the reason in words."""
    a, b = motion
    angle = abs(np.degrees(np.angle(a)))
    moved = second - np.average(second, weights=weights) - (first - np.average(first, weights=weights))
    straight = float(np.average(np.abs(moved) ** 2, weights=weights))
    turned = float(np.average(np.abs(a * first + b - second) ** 2, weights=weights))
    explained = 1.0 - turned / max(straight, 1e-18)
    if angle >= 8.0 and explained > 0.5:
        return "arc", f"it turns by {angle:.0f} degrees, which explains {explained:.0%} of the change"
    return "direct", "it hardly turns" if angle < 8.0 else "it changes its form more than it turns"
