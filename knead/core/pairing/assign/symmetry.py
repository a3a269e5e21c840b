"""Drawings that are their own mirror images in both keys stay so: of three bars that become two, the middle goes."""

from collections.abc import Sequence

import numpy as np

from knead.core.geometry.bezier import Floats, Ints
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.likeness import Form, mirror_mates
from knead.core.pairing.assign.rounds import Rows

FAIR = 1.5  # how much dearer pairs may be that keep the drawing symmetric


def symmetric(one: Sequence[Form], two: Sequence[Form], found: Rows, alone: float) -> Rows | None:
    """The cheapest pairs of which each has its mirror image among them, if they are hardly dearer than those found.

    None if they are, or if either drawing is not its own mirror image, left to right or top to bottom.
    """
    tried: list[Rows] = []
    for upright in (True, False):
        first, second = mirror_mates(one, upright), mirror_mates(two, upright)
        if first is not None and second is not None:
            tried.append(_in_mirror(first, second, found.cost, alone))
    best = min(tried, key=lambda rows: rows.price(alone), default=None)
    return best if best is not None and best.price(alone) <= FAIR * found.price(alone) else None


def _in_mirror(first: Ints, second: Ints, cost: Floats, alone: float) -> Rows:
    """The cheapest pairs that hold in the mirror, too: twins become twins, and what lies on the axis stays on it."""
    rows, columns = [], []
    for lone in (True, False):
        i, j = (_each_once(mates, lone) for mates in (first, second))
        straight = cost[np.ix_(i, j)] + cost[np.ix_(first[i], second[j])]
        crossed = cost[np.ix_(i, second[j])] + cost[np.ix_(first[i], j)]
        a, b = cheapest(np.minimum(straight, crossed) / 2, alone)
        cross = crossed[a, b] < straight[a, b]
        rows += [i[a]] if lone else [i[a], first[i[a]]]
        there, back = np.where(cross, second[j[b]], j[b]), np.where(cross, j[b], second[j[b]])
        columns += [there] if lone else [there, back]
    order = np.argsort(np.concatenate(rows))
    return Rows(np.concatenate(rows)[order], np.concatenate(columns)[order], cost)


def _each_once(mates: Ints, lone: bool) -> Ints:
    """What is its own mirror image, or the first of each two twins."""
    each = np.arange(len(mates))
    return np.flatnonzero(mates == each if lone else mates > each)
