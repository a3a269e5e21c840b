"""Two outlines measured side by side: the ways to lay one along the other, with places that must meet pinned."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.track import Track
from knead.core.outline.compiled.measures import evened
from knead.core.outline.compiled.programmes import align, align_all_starts
from knead.core.outline.laying.grid import Grid, grid_of

NDArrayBool = NDArray[np.bool_]

COARSE = 28
FINE = ((1.6, 36), (2.6, 56), (np.inf, 80))  # places of a fine grid, by how many full turns an outline makes at most
STRETCH = 0.6
# how many places a step may go on along both
MOVES = np.array([(1, 1), (1, 2), (2, 1), (2, 3), (3, 2), (1, 3), (3, 1), (1, 5), (5, 1)], dtype=np.int64)
COARSE_MOVES = np.array([(1, 1), (1, 2), (2, 1), (1, 3), (3, 1)], dtype=np.int64)
SCALE_WEIGHTS = np.array([0.5, 0.9, 0.7])


@dataclass(frozen=True)
class Look:
    """What a candidate goes by: how much turning, direction and place count."""

    turn: float
    direction: float
    place: float


class _Unlike:
    """How unlike the places of two grids are; what does not hang on the look is measured once."""

    def __init__(self, one: Grid, two: Grid) -> None:
        self.one, self.two = one, two
        pairs = zip(one.turns.T, two.turns.T, SCALE_WEIGHTS, strict=True)
        self.turns = np.add.reduce([weight * np.abs(np.subtract.outer(a, b)) for a, b, weight in pairs])

    def cost(self, look: Look, turn: complex, place: tuple[Complexes, Complexes] | None) -> Floats:
        """Shape (n + 1, m + 1), with the first turned, and placed on the second."""
        cost = look.turn * self.turns
        if look.direction:
            a, b = self.one.tangents * turn, self.two.tangents
            cost += look.direction * (1.0 - np.multiply.outer(a.real, b.real) - np.multiply.outer(a.imag, b.imag))
        if look.place:
            z, w = place or (self.one.standard, self.two.standard)
            cost += look.place * np.abs(np.subtract.outer(z, w))
        return np.asarray(cost, dtype=float)


def _gain(one: Grid, two: Grid) -> Floats:
    """What it is worth to lay a corner or bulge on one of its kind, shape (n + 1, m + 1)."""
    likeness = np.exp(-1.5 * np.abs(np.subtract.outer(one.turns[:, 1], two.turns[:, 1])))
    return np.asarray(0.15 * np.minimum.outer(one.weight, two.weight) * likeness, dtype=float)


class Coarse:
    """Two closed outlines measured in few places, the first from its plainest feature on: where to start."""

    def __init__(self, first: Track, second: Track) -> None:
        one, self.two = (grid_of(track, COARSE) for track in (first, second))
        height = one.points.imag[:-1] + 1e-3 * one.points.real[:-1]
        anchor = int(np.argmax(one.weight[:-1] - 1e-6 * height / max(float(np.ptp(height)), 1e-12)))
        self.one = one.begun_at(anchor)
        self.gain, self.unlike = _gain(self.one, self.two), _Unlike(self.one, self.two)

    def totals(self, look: Look) -> Floats:
        """What the best map costs that lays the feature on each place of the second."""
        cost = self.unlike.cost(look, 1.0 + 0j, None)
        twice, gains = (np.concatenate([each[:, :-1], each], axis=1) for each in (cost, self.gain))
        shares = np.concatenate([self.two.shares[:-1], self.two.shares + 1.0])
        return align_all_starts(twice, gains, self.one.shares, shares, STRETCH, COARSE_MOVES)


def _fineness(track: Track) -> int:
    """How many places an outline needs: the more it turns to and fro, the more. Its nodes play no part."""
    return next(places for most, places in FINE if track.turning <= most * 2 * np.pi)


class Field:
    """Two outlines measured with the same ties pinned; it can be laid in several looks."""

    def __init__(self, first: Track, second: Track, ties: Floats) -> None:
        steps = max(_fineness(first), _fineness(second))
        one, two = grid_of(first, steps, *ties[:, 0].tolist()), grid_of(second, steps, *ties[:, 1].tolist())
        if first.closed:
            one, two = one.begun_at(one.index(ties[0, 0])), two.begun_at(two.index(ties[0, 1]))
        self.one, self.two, self.gain = one, two, _gain(one, two)
        self.unlike = _Unlike(one, two)
        self.stops_one, self.stops_two = _stops(one, two, ties)

    def lay(self, look: Look, rounds: int) -> Floats:
        """Knots (k, 2) of the best map through the ties; from the second round on aligned by the one before."""
        one, two = self.one, self.two
        turn, place = 1.0 + 0j, None
        steps = np.zeros((0, 2), dtype=np.int64)
        for _ in range(rounds):
            cost = self.unlike.cost(look, turn, place)
            steps = _through(cost, self.gain, one, two, self.stops_one, self.stops_two)
            a, b = similarity.fit(one.points[steps[:, 0]], two.points[steps[:, 1]])
            turn, place = a / abs(a), ((a * one.points + b) / two.spread, two.points / two.spread)
            if not (look.direction or look.place):
                look = Look(look.turn, 0.4, 0.3)
        pinned = _pins(one, two, steps)
        for i, j in zip(self.stops_one, self.stops_two, strict=True):
            pinned |= (steps[:, 0] == i) & (steps[:, 1] == j)
        knots = np.stack([one.shares[steps[:, 0]], two.shares[steps[:, 1]]], axis=1)
        return evened(knots, pinned.view(np.uint8))


def _stops(one: Grid, two: Grid, ties: Floats) -> tuple[list[int], list[int]]:
    """The places of the ties on both grids, and the ends of the round: rising on both.

    Ties nearer to each other than a step of a grid can't all have places of their own; the first of them has.
    """
    stops = [(0, 0)]
    for i, j in [(one.index(s), two.index(t)) for s, t in ties]:
        if stops[-1][0] < i < one.steps and stops[-1][1] < j < two.steps:
            stops.append((i, j))
    stops.append((one.steps, two.steps))
    return [i for i, _ in stops], [j for _, j in stops]


def _through(cost: Floats, gain: Floats, one: Grid, two: Grid, stops_one: list[int], stops_two: list[int]) -> Ints:
    """The way through all stops; each stretch between two stops is a problem of its own."""
    rows = [np.array([[stops_one[0], stops_two[0]]])]
    for k in range(len(stops_one) - 1):
        i0, i1, j0, j1 = stops_one[k], stops_one[k + 1], stops_two[k], stops_two[k + 1]
        block = np.s_[i0 : i1 + 1, j0 : j1 + 1]
        parts = np.ascontiguousarray(cost[block]), np.ascontiguousarray(gain[block])
        _, way = align(*parts, one.shares[i0 : i1 + 1], two.shares[j0 : j1 + 1], STRETCH, MOVES)
        if not len(way):  # one side has hardly any places here: go straight
            way = np.array([[0, 0], [i1 - i0, j1 - j0]])
        rows.append(way[1:] + [i0, j0])
    return np.concatenate(rows)


def _pins(one: Grid, two: Grid, steps: Ints) -> NDArrayBool:
    """Where the way lays a plain feature on a plain feature: there the map is not smoothed."""
    weight = np.minimum(one.weight[steps[:, 0]], two.weight[steps[:, 1]])
    alike = np.abs(one.turns[steps[:, 0], 1] - two.turns[steps[:, 1], 1]) < 1.0
    pinned = (weight > 0.22) & alike
    pinned[[0, -1]] = True
    return np.asarray(pinned)
