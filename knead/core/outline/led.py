"""A map between two outlines drawn to what is tied: it stays what it was as far as that goes."""

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track

AT = 0.005  # what is nearer to a corner, or to a tie, than this share of the outline is there
THERE = 1e-3  # what misses its partner by less than this share of the outline is there
ASIDE = 0.25  # a corner farther from a tie than this is not passed over by it
END = 1e-6  # what is nearer than this to the end of a line is there


def led(first: Track, second: Track, knots: Floats, ties: Floats) -> list[Floats]:
    """A map, as knots (k, 2), drawn to `ties` (n, 2), if there is one, for outlines that run the same way round.

    Between ties, and corners that are laid on each other, what a tie is off by is shared out evenly. There is none if
    the ties lie in another order than the map.
    """
    here, off = _pulled(knots, ties, first.closed)
    held = _corners(first, second, knots)
    held = held[~_passed(held, knots, ties, first.closed)]
    places, pulls = np.concatenate([here, held]), np.concatenate([off, np.zeros(len(held))])
    places, pulls = _all_round(places, pulls) if first.closed else _to_the_ends(places, pulls)
    shares = np.union1d(knots[:, 0], np.concatenate([here, held]))
    along = np.interp(shares, knots[:, 0], knots[:, 1]) + np.interp(shares, places, pulls)
    if first.closed:
        along[-1] = along[0] + 1.0
    return [np.stack([shares, along], axis=1)] if np.all(np.diff(along) > 0.0) else []


def agree(knots: Floats, ties: Floats, closed: bool, near: float) -> bool:
    """Whether a map takes what is tied there anyway, or so near to it."""
    return bool(np.abs(_pulled(knots, ties, closed)[1]).max() < near)


def _pulled(knots: Floats, ties: Floats, closed: bool) -> tuple[Floats, Floats]:
    """Where ties begin within the map, rising, and how far they end from where it takes them, shapes (n,)."""
    start = knots[0, 0]
    here = start + np.mod(ties[:, 0] - start, 1.0) if closed else ties[:, 0]
    order = np.argsort(here)
    here = here[order]
    off = ties[order, 1] - np.interp(here, knots[:, 0], knots[:, 1])
    if closed:
        off = np.unwrap(np.mod(off + 0.5, 1.0) - 0.5, period=1.0)
    return here, off


def _corners(first: Track, second: Track, knots: Floats) -> Floats:
    """Where corners are in the first outline that the map lays on corners, shape (k,)."""
    own, other = first.breaks[0], second.breaks[0]
    if not len(own) or not len(other):
        return np.zeros(0)
    here = knots[0, 0] + np.mod(own - knots[0, 0], 1.0) if first.closed else own
    gaps = np.interp(here, knots[:, 0], knots[:, 1])[:, None] - other[None]
    gaps = np.mod(gaps + 0.5, 1.0) - 0.5 if first.closed else gaps
    return np.asarray(here[np.abs(gaps).min(axis=1) < AT])


def _passed(corners: Floats, knots: Floats, ties: Floats, closed: bool) -> NDArray[np.bool_]:
    """Whether a tie would pass over a corner if that stayed, or is at it, shape (k,)."""
    stay = np.stack([corners, np.interp(corners, knots[:, 0], knots[:, 1])], axis=1)
    gaps = stay[:, None] - ties[None]
    gaps = np.mod(gaps + 0.5, 1.0) - 0.5 if closed else gaps
    near = np.abs(gaps).min(axis=2)
    return np.asarray(((near < AT) | ((gaps.prod(axis=2) < 0.0) & (near < ASIDE))).any(axis=1))


def _all_round(places: Floats, pulls: Floats) -> tuple[Floats, Floats]:
    """Places in their order, and the last before and the first after them, a round away."""
    order = np.argsort(places)
    places, pulls = places[order], pulls[order]
    return np.concatenate([places[-1:] - 1.0, places, places[:1] + 1.0]), pulls[np.r_[-1, : len(pulls), 0]]


def _to_the_ends(places: Floats, pulls: Floats) -> tuple[Floats, Floats]:
    """Places in their order between the ends of a line, which stay; a tie at an end is there."""
    inner = np.flatnonzero((places > END) & (places < 1.0 - END))
    inner = inner[np.argsort(places[inner])]
    return np.concatenate([[0.0], places[inner], [1.0]]), np.concatenate([[0.0], pulls[inner], [0.0]])
