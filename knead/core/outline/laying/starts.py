"""Where to begin laying one outline along another, and the looks by which that is done."""

import numpy as np

from knead.core.geometry.bezier import Floats, gone, median
from knead.core.geometry.track import Track
from knead.core.outline.laying.field import Coarse, Look
from knead.core.outline.laying.grid import turning

RIVAL = 0.2  # a start this much worse than the best, by the spread of all starts, is tried as well
LIKE_STARTS = 0.02  # starts that are worse than the best by no more than this, by the spread of all, are as good

LOOKS = (Look(0.25, 0.9, 0.5), Look(0.9, 0.0, 0.0), Look(0.3, 0.3, 1.6))
AS_IT_LIES = Look(0.1, 0.5, 2.5)


def in_order(ties: Floats, closed: bool) -> Floats:
    """Ties rising on both outlines: over a round from the first one, or with the ends of open outlines."""
    ties = ties[np.argsort(ties[:, 0])]
    if closed:
        rounds = gone(np.diff(ties[:, 1]) < 0)
        return np.asarray(ties + np.stack([np.zeros(len(ties)), rounds], axis=1))
    inner = np.all((ties > 1e-6) & (ties < 1 - 1e-6), axis=1)
    return np.concatenate([[[0.0, 0.0]], ties[inner], [[1.0, 1.0]]])


def as_it_lies(first: Track, second: Track) -> Floats:
    """The tie (1, 2) to begin with where closed outlines should keep what is above above, and what is left left."""
    coarse = Coarse(first, second)
    start = int(np.argmin(coarse.totals(AS_IT_LIES)))
    return np.array([[coarse.one.shares[0], coarse.two.shares[start]]])


def starts(first: Track, second: Track, ties: Floats) -> list[Floats]:
    """Ties to begin with: those given, the ends of open outlines, or promising starts of closed ones."""
    if not first.closed or len(ties):
        return [in_order(ties, first.closed)]
    coarse = Coarse(first, second)
    one, two = coarse.one, coarse.two
    found: dict[int, None] = {}
    for look in LOOKS[:2]:
        totals = coarse.totals(look)
        best = int(np.argmin(totals))
        away = np.abs(np.mod(two.shares[:-1] - two.shares[best] + 0.5, 1.0) - 0.5) > 0.08
        rival = int(np.argmin(np.where(away, totals, np.inf)))
        found[best] = None
        worse = (totals - totals[best]) / max(median(totals) - totals[best], 1e-12)
        if worse[rival] < RIVAL:
            found[rival] = None
        alike = np.flatnonzero(worse < LIKE_STARTS)
        if len(alike) > 2:  # it looks alike at several turns: then one is tried that turns little
            found[int(alike[np.argmin(coarse.totals(AS_IT_LIES)[alike])])] = None
    return [np.array([[one.shares[0], two.shares[k]]]) for k in found]


def steadiest(first: Track, second: Track, knots: Floats) -> Floats:
    """The knot to start anew from: where both outlines turn most and alike."""
    one, two = turning(first, knots[:-1, 0])[:, 1], turning(second, knots[:-1, 1])[:, 1]
    worth = np.minimum(np.abs(one), np.abs(two)) - np.abs(one - two)
    return np.mod(knots[[int(np.argmax(worth))]], 1.0)
