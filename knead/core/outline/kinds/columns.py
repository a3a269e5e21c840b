"""What is drawn over the same columns in both keys, as the line of a graph, or its area, goes up and down in them."""

from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, straight
from knead.core.geometry.track import Track
from knead.core.outline.correspondence import run
from knead.core.outline.directions import directions

NEAR = 5e-3  # how near to its column each corner must stay, by the length of the longer outline
STRAYS = 0.02  # how far what stays in its column may stray from it, by how far the farthest goes
FEWEST, MOST = 4, 48  # so many straight stretches a graph has, in one key at least
AREA = 5  # so many corners the area of one has


def go_straight(first: Complexes, second: Complexes) -> bool:
    """Whether points all go straight up and down, or straight across, from the one key to the other."""
    moved = second - first
    strays = min(float(np.abs(moved.real).max()), float(np.abs(moved.imag).max()))
    return strays < STRAYS * float(np.abs(moved).max())


@lru_cache(maxsize=256)
def in_columns(first: Track, second: Track) -> tuple[Floats, bool] | None:
    """The map (k, 2) of outlines that are drawn over the same columns, or rows, and whether the second is run back.

    None of others: lines that are not straight from node to node, or go back, and closed ones whose corners stray.
    """
    if first.closed != second.closed or not (straight(first.path).all() and straight(second.path).all()):
        return None
    near = NEAR * max(first.length, second.length)
    for backwards in directions(first, second, np.zeros((0, 2))):
        found = (_of_areas if first.closed else _of_lines)(first, run(second, backwards), near)
        if found is not None:
            return found, backwards
    return None


def _of_lines(first: Track, second: Track, near: float) -> Floats | None:
    if not FEWEST <= max(len(first.path), len(second.path)) <= MOST:
        return None
    for k in (0, 1):
        one, two = (track.points(track.nodes)[:, k] for track in (first, second))
        steps = np.concatenate([np.diff(one), np.diff(two)])
        onward = 1.0 if one[-1] > one[0] else -1.0
        if np.all(steps * onward > 0.0) and _are_one(one, two, near):
            # the columns of both, as shares of their extents: the ends meet exactly
            places = [(side - side[0]) / (side[-1] - side[0]) for side in (one, two)]
            grid = np.union1d(*places)
            return np.stack(
                [np.interp(grid, *at) for at in zip(places, (first.nodes, second.nodes), strict=True)], axis=1
            )
    return None


def _are_one(one: Floats, two: Floats, near: float) -> bool:
    """Whether columns have the same ends, and all others of the fewer are among the more."""
    fewer, more = sorted((one, two), key=len)
    among = np.abs(fewer[:, None] - more).min(axis=1).max() <= near
    return bool(among and np.abs(one[[0, -1]] - two[[0, -1]]).max() <= near)


def _of_areas(first: Track, second: Track, near: float) -> Floats | None:
    one, two = (track.breaks[0] for track in (first, second))
    if not AREA <= len(one) == len(two) <= MOST:
        return None
    places, others = first.points(one), second.points(two)
    for k in range(len(two)):
        if np.abs(places - np.roll(others, -k, axis=0)).max(axis=0).min() <= near:
            knots = np.stack([one, np.concatenate([two[k:], two[:k] + 1.0])], axis=1)
            return np.append(knots, knots[:1] + 1.0, axis=0)
    return None
