"""Likes in a line, as the beads of a string or the joints of a caterpillar, keep their order in it."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.sparse.csgraph import minimum_spanning_tree

from knead.core.geometry.bezier import Complexes, Ints
from knead.core.pairing.assign.assignment import Assignment
from knead.core.pairing.assign.constellation import LIKE
from knead.core.pairing.assign.likeness import Portrait, centres, sizeless, unlikeness
from knead.core.pairing.assign.rounds import as_they_were

FEW = 4  # of fewer, no line is told
EVEN = 2.0  # how much longer one step of a line may be than another
SHUT = 2.0  # of how many of its longest steps its ends are apart by less, so that it may be a ring
DEARER = 0.3  # how much dearer in the mean the pairs may be that keep their order


def in_line(found: Assignment) -> Assignment:
    """The same with the likes of a line in their order, from either end, if that costs hardly more."""
    one, two = found.one.portraits, found.two.portraits
    crowd = _crowd(one, two)
    places = [centres(side)[of] for side, of in zip((one, two), crowd, strict=True)]
    lines = [_line(each) for each in places]
    partner = dict(found.pairs.mates)
    if lines[0] is None or lines[1] is None or {partner.get(k) for k in crowd[0].tolist()} != {*crowd[1].tolist()}:
        return found
    if all(_is_ring(each[line]) for each, line in zip(places, lines, strict=True) if line is not None):
        return found
    stays, _ = as_they_were(one, two, found.unlike)
    if 2 * np.isin(crowd[0], stays).sum() > len(crowd[0]):
        return found  # a brick that comes to a wall is of no line
    rows, columns = crowd[0][lines[0]], crowd[1][lines[1]]
    now = np.array([partner[k] for k in rows.tolist()])
    cost = found.pairs.cost.copy()
    best, back = sorted((columns, columns[::-1]), key=lambda line: float(cost[rows, line].sum()))
    dearer = float((cost[rows, best] - cost[rows, now]).mean()) > DEARER
    partner |= dict(zip(rows.tolist(), best.tolist(), strict=True))
    cost[rows, best] -= (cost[rows, back] - cost[rows, best]).mean()  # they are as sure as their order is
    pairs = replace(found.pairs, columns=np.array([partner[k] for k in found.pairs.rows.tolist()]), cost=cost)
    ordered = replace(found, pairs=pairs)
    return found if dearer or ordered.broken > found.broken else ordered


def _crowd(one: Sequence[Portrait], two: Sequence[Portrait]) -> tuple[Ints, Ints]:
    """The largest crowd of which each is like each of the other key."""
    like = unlikeness(sizeless(one), sizeless(two)) < LIKE
    columns = np.flatnonzero(like[np.argmax(like.sum(axis=1))])
    return np.flatnonzero(like[:, columns].all(axis=1)), columns


def _line(places: Complexes) -> Ints | None:
    """The order of places along the line in which they lie: their shortest tree, if it has no branches (Prim 1957)."""
    if len(places) < FEW:
        return None
    tree = minimum_spanning_tree(np.abs(places[:, None] - places)).toarray()  # none goes to what is in one place
    links = (tree + tree.T) > 0
    steps = tree[tree > 0]
    ends = np.flatnonzero(links.sum(axis=1) == 1)
    if len(steps) < len(places) - 1 or len(ends) > 2 or steps.max() > EVEN * steps.min():
        return None
    order = [int(ends[0])]
    while len(order) < len(places):
        (after,) = (k for k in np.flatnonzero(links[order[-1]]).tolist() if k not in order)
        order.append(after)
    return np.array(order)


def _is_ring(line: Complexes) -> bool:
    """Whether its ends are so near each other that it may begin anywhere."""
    return bool(abs(line[-1] - line[0]) < SHUT * np.abs(np.diff(line)).max())
