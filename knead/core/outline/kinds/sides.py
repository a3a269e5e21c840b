"""What is longer or higher in one key and keeps the rest need not turn: a bar of a chart, water in a glass, a pill.

A form without dents is laid on another by the directions in which their outlines run: sides on sides, what is round on
what is round. So the in-betweens are sums of both (Minkowski addition of convex bodies), and have no dents either.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Floats, gone, preceding
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track
from knead.core.outline.correspondence import run
from knead.core.outline.directions import winding

ROUND = 2 * np.pi
PLACES = np.linspace(0.0, 1.0, 129)
DENT = 0.02  # radians by which an outline may turn the other way and still have no dents
STRAIGHT = 2e-3  # radians; what turns by less from one place to the next is straight
SIDE = 0.02  # and a side, if it is longer than this share of the outline
SPREAD = 1e-5  # radians to which a side is spread, so that its ends have directions of their own
PARALLEL = 0.3  # sides may turn so far, in radians, and be the same sides
THE_SAME = 0.04  # steps that differ by less than this share are kept
UNTURNED = 0.02  # radians; what turns by less does not
KEPT, KEPT_UNTURNED = 0.3, 0.03  # the share of the shorter outline that must be kept, and if nothing is turned
ALL = 0.97  # the share of the longer one that is all of it
APART = 1e-7  # what is nearer on both outlines is one place


@dataclass(frozen=True)
class _Way:
    """In which direction each stretch of an outline runs, in radians, and the shares of its ends: rising, over a round.

    What is no side has no length: it is the middle of an arc. Shapes (k,), (k, 2).
    """

    angles: Floats
    ends: Floats

    @property
    def sides(self) -> Floats:
        """The directions of its sides."""
        return np.asarray(self.angles[self.ends[:, 0] < self.ends[:, 1]])

    @property
    def turned(self) -> Floats:
        """The directions at its ends, a side's a little apart."""
        return np.asarray((self.angles[:, None] + np.array([-SPREAD, SPREAD]) * (np.diff(self.ends) > 0)).ravel())

    def at(self, angles: Floats) -> Floats:
        """The shares where it runs in directions up to a round away from its own."""
        rounds = np.array([[-1.0], [0.0], [1.0]])
        ways, shares = (self.turned + ROUND * rounds).ravel(), (self.ends.ravel() + rounds).ravel()
        return np.asarray(np.interp(angles, ways, shares), dtype=float)


@lru_cache(maxsize=256)
def by_sides(first: Track, second: Track) -> tuple[Floats, bool] | None:
    """The map between outlines of which a good part is kept, and whether the second is run backwards; None for others.

    The map is knots (k, 2) of shares. Neither outline has dents, and they have the same sides, or one has none.
    """
    if not winding(first) * winding(second):
        return None
    backwards = winding(first) != winding(second)
    partner = run(second, backwards)
    one, two = _way_round(first), _way_round(partner)
    two = None if one is None or two is None else _made_parallel(two, one)
    if one is None or two is None:
        return None
    start = float(one.turned[0])
    grid = np.unique(np.concatenate([one.turned, start + np.mod(two.turned - start, ROUND), [start + ROUND]]))
    knots = np.stack([one.at(grid), two.at(grid)], axis=1)
    knots = knots[np.append(True, (np.diff(knots, axis=0) > APART).any(axis=1))]
    return (knots, backwards) if _is_longer(first, partner, knots) else None


@lru_cache(maxsize=256)
def _way_round(track: Track) -> _Way | None:
    """How an outline runs; None of one with dents."""
    shares = np.union1d(PLACES, track.lengths / track.length)
    steps = np.diff(as_complex(track.points(shares)))
    there = np.abs(steps) > APART * track.length
    shares, steps = shares[:-1][there], steps[there]
    turns = winding(track) * np.angle(steps * preceding(steps).conj())
    if float(np.minimum(turns, 0.0).sum()) < -DENT:
        return None
    start = int(np.argmax(turns))  # at a corner, if it has any
    turns = np.roll(turns, -start)[1:]
    angles = float(winding(track) * np.angle(steps[start])) + gone(np.maximum(turns, 0.0))
    shares = np.concatenate([shares[start:], shares[: start + 1] + 1.0])
    first = np.flatnonzero(np.append(True, turns > STRAIGHT))
    last = np.append(first[1:], len(angles))
    ends = np.stack([shares[first], shares[last]], axis=1)
    arcs = np.diff(ends)[:, 0] <= SIDE
    ends[arcs] = ends[arcs].mean(axis=1, keepdims=True)
    return _Way(0.5 * (angles[first] + angles[last - 1]), ends)


def _made_parallel(way: _Way, model: _Way) -> _Way | None:
    """The way of an outline with its sides turned into those of a model; None if these are not the same sides.

    One of them may have no sides, as a disc that becomes a pill.
    """
    if not len(way.sides) or not len(model.sides):
        return way if len(way.sides) or len(model.sides) else None
    if len(way.sides) != len(model.sides):
        return None
    off = np.mod(model.sides[:, None] - way.sides + np.pi, ROUND) - np.pi
    turns = np.roll(off, -int(np.argmin(np.abs(off[:, 0]))), axis=0).diagonal()
    if float(np.abs(turns).max()) > PARALLEL:
        return None
    sides = (way.sides + ROUND * np.array([[-1.0], [0.0], [1.0]])).ravel()
    angles = way.angles + np.interp(way.angles, sides, np.tile(turns, 3))
    return replace(way, angles=np.maximum.accumulate(angles))


def _is_longer(first: Track, second: Track, knots: Floats) -> bool:
    """Whether a map leaves a good part of the outlines as it is; if nothing turns by it, a little, but not all."""
    ends = (first, knots[:, 0]), (second, knots[:, 1])
    steps, others = (np.diff(as_complex(track.points(shares))) for track, shares in ends)
    lengths = np.maximum(np.abs(steps), np.abs(others))
    kept = float(lengths[np.abs(others - steps) < THE_SAME * lengths].sum())
    turned = np.abs(np.angle(others * steps.conj() + 1e-300)) > UNTURNED
    least = KEPT if lengths[turned].sum() > THE_SAME * lengths.sum() else KEPT_UNTURNED
    shorter, longer = sorted((first.length, second.length))
    return least * shorter < kept < ALL * longer
