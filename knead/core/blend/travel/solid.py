"""Travel that keeps a form stiff: every stretch of the outline turns and stretches evenly from key to key.

Lengths and angles of short edges along the outline are interpolated, and the small gap that is left when it closes is
spread over them (Sederberg, Gao, Wang and Mu 1993, "2-D Shape Blending: An Intrinsic Solution"). Handles turn and
stretch by themselves, so that the curve leaves a node as the edges do.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from knead.core.blend.by_times import ByTimes
from knead.core.geometry.bezier import Complexes, Floats, bernstein, gone, preceding, segments_of

LAGS = (24.0, 12.0, 6.0)  # what turns within the part of an outline that is one of so many is followed with a lag
ROUND = 1.2 * np.pi  # how far, in radians, what is followed round may come out from where it began
NEAR = 0.05  # parts of an outline that are less than this share of its length apart should turn alike
LOOKS = 256  # at so many places along an outline this is looked at
SPREAD = (np.arange(LOOKS) + 0.5) / LOOKS
BESIDE = np.arange(LOOKS) + np.arange(1, math.ceil(NEAR * LOOKS))[:, None]  # of each, those that are near behind it
PLAIN = np.pi / 2  # where no edge turns by so much more than the one before it, none is doubtful
EDGES = 4  # edges a stretch between two nodes: the form must not hang on how the outline is cut
T = np.arange(EDGES) / EDGES
BASIS = bernstein(T)
NOTHING = 1e-9  # what is smaller in one key than this share of its size in the other is a point there
CORNER = 0.2  # radians; handles of a node that are more out of line make a corner
MEETS = 1e-3  # how near to each other, by their length, the ends of a line are that meet


@dataclass(frozen=True)
class SolidContour:
    """One contour prepared.

    `first` and `second` are its edges, and behind them the handles before and after all nodes, forwards; those of the
    second key are turned back by `turns`. `weights` are their shares of the length. `shares` says how much each point
    between edges counts for the middle; `places` are these points at both keys. What is `shut` ends where it began:
    it is closed, or a line whose ends meet in both keys.
    """

    first: Complexes
    second: Complexes
    turns: Floats
    weights: Floats
    shares: Floats
    places: tuple[Complexes, Complexes]
    closed: bool
    shut: bool

    @property
    def middles(self) -> tuple[complex, complex]:
        """Its middle at both keys."""
        return complex(self.shares @ self.places[0]), complex(self.shares @ self.places[1])

    @property
    def opens_at(self) -> int | None:
        """The key, 0 or 1, in which it is a point; None if it is one in neither."""
        one, two = (float(np.abs(np.diff(row)).sum()) for row in self.places)
        points = [k for k, length in enumerate((one, two)) if length <= NOTHING * (one + two)]
        return points[0] if points else None

    @property
    def bend(self) -> float:
        """How much the edges of a closed outline turn unlike each other, in radians, in the mean."""
        count = len(self.shares)
        turns, weights = self.turns[:count], self.weights[:count] / self.weights[:count].sum()
        return float(weights @ np.abs(turns - weights @ turns))

    @property
    def corners(self) -> NDArray[np.bool_]:
        """Which nodes of a closed outline have handles at an angle, in either key."""
        count = len(self.shares)
        sides = (self.first, self.second * np.exp(1j * self.turns))
        handles = [np.split(side[count:], 2) for side in sides]
        one, two = (np.abs(np.angle(after * before.conj() + 1e-300)) for before, after in handles)
        return np.asarray(np.maximum(one, two) > CORNER)

    @property
    def astray(self) -> float:
        """How much farther the ends of a line come from each other's straight way than that is long, by its length."""
        one, two, half = (row[-1] - row[0] for row in (*self.places, self._half_way))
        return float(abs(half - (one + two) / 2) - abs(two - one)) / self.length

    @property
    def apart(self) -> float:
        """How far half way points are, in the mean, from where straight ways take them about the middle, by length."""
        one, two = (row - middle for row, middle in zip(self.places, self.middles, strict=True))
        return float(self.shares @ np.abs(self._half_way - (one + two) / 2)) / self.length

    @cached_property
    def _half_way(self) -> Complexes:
        return np.asarray(self.at(np.array([0.5]))[1][0])

    @property
    def length(self) -> float:
        """The mean of its lengths at the keys, between its points."""
        return max(0.5 * sum(float(np.abs(np.diff(row)).sum()) for row in self.places), 1e-12)

    def at(self, times: Floats) -> tuple[Complexes, Complexes]:
        """Node triples and the points between edges about its own middle at the times.

        Shapes (len(times), nodes * 3) and (len(times), points).
        """
        return self._kept.get(times, self._at)

    @cached_property
    def _kept(self) -> ByTimes[tuple[Complexes, Complexes]]:
        return ByTimes()  # another course takes the same form along

    def _at(self, times: Floats) -> tuple[Complexes, Complexes]:
        t = times[:, None]
        steps = np.exp(1j * t * self.turns) * ((1.0 - t) * self.first + t * self.second)
        count = len(self.shares) if self.closed else len(self.shares) - 1
        if self.shut:
            steps -= steps[:, :count].sum(axis=1, keepdims=True) * self.weights
        inner = np.cumsum(steps[:, : count - 1 if self.closed else count], axis=1)
        points = np.concatenate([np.zeros((len(times), 1)), inner], axis=1)
        points -= (points @ self.shares)[:, None]
        nodes = points[:, ::EDGES]
        before, after = np.split(steps[:, count:], 2, axis=1)
        triples = np.stack([nodes - before, nodes, nodes + after], axis=2)
        return triples.reshape(len(times), -1), points


def prepare(first: Complexes, second: Complexes, closed: bool, angle: float) -> SolidContour | None:
    """Prepare a contour; None where its turns make no consistent round, as when the form is turned inside out.

    Points are node triples (handle before, node, handle after), flat, shape (nodes * 3,); `angle` is about how much the
    whole turns, in radians.
    """
    one, two = first.reshape(-1, 3), second.reshape(-1, 3)
    places = outline_points(one, closed), outline_points(two, closed)
    edges = [np.diff(np.append(row, row[:1])) if closed else np.diff(row) for row in places]
    lengths = np.abs(edges[0]) + np.abs(edges[1])
    whole = float(lengths.sum())
    if whole <= 0:
        return None
    round_ = _round(edges[0], edges[1], closed, angle)
    if round_ is None:
        return None
    into, out = round_[EDGES - 1 :: EDGES], round_[::EDGES]
    into, out = (preceding(into), out) if closed else (np.append(round_[:1], into), np.append(out, round_[-1:]))
    near = np.concatenate([round_, into, out])
    d0, d1 = (
        np.concatenate([row, side[:, 1] - side[:, 0], side[:, 2] - side[:, 1]])
        for row, side in zip(edges, (one, two), strict=True)
    )
    own = np.angle(d1 * np.conj(d0) + 1e-300)
    own = own + branch(near - own)
    tiny = np.minimum(np.abs(d0), np.abs(d1)) < 1e-6 * (whole / len(lengths) + 1e-12)
    turns = np.where(tiny, near, own)
    shares = lengths + preceding(lengths) if closed else np.append(lengths, 0) + np.append(0, lengths)
    weights = (np.abs(d0) + np.abs(d1)) / whole
    shut = closed or all(abs(row[-1] - row[0]) <= MEETS * whole for row in places)
    return SolidContour(d0, d1 * np.exp(-1j * turns), turns, weights, shares / shares.sum(), places, closed, shut)


def outline_points(triples: Complexes, closed: bool) -> Complexes:
    """Points along the outline, EDGES a stretch, and the end of an open one; from shape (..., nodes, 3) to (..., n)."""
    found = segments_of(triples, closed) @ BASIS
    found = found.reshape(*found.shape[:-2], -1)
    return found if closed else np.append(found, triples[..., -1:, 1], axis=-1)


def _round(one: Complexes, two: Complexes, closed: bool, angle: float) -> Floats | None:
    """How much each edge turns, without jumps of a full turn between neighbours; None if that makes no round.

    Short edges, which may lie anyhow, hardly count. What grows from a point, or shrinks to one, turns with the whole.
    """
    weights = np.minimum(np.abs(one), np.abs(two))
    whole = float(weights.sum())
    if whole <= NOTHING * float(np.abs(one).sum() + np.abs(two).sum()):
        return np.full(len(one), angle)
    raw = np.angle(two * np.conj(one) + 1e-300)
    start = int(np.argmax(weights)) if closed else 0
    order = np.roll(np.arange(len(raw)), -start)
    begun = float(raw[start] + branch(angle - raw[start]))
    shares = weights[order] / whole
    followed = list(_followed(raw[order], shares, begun, begun if closed else angle))
    if not closed and len(followed) > 1:
        followed.append(begun + gone(_bends(two) - _bends(one)))
    answers = [
        turns - branch(shares @ turns - angle) for turns in followed if not closed or abs(turns[-1] - turns[0]) <= ROUND
    ]
    if not answers:
        return None

    def unrest(turns: Floats) -> float:
        astray = 0.0 if closed else float(shares @ turns - angle)
        return _unrest(turns, shares, closed) + LOOKS * astray**2

    found = np.empty(len(raw))
    found[order] = answers[0] if len(answers) == 1 else min(answers, key=unrest)
    return found


def _bends(edges: Complexes) -> Floats:
    """How far each edge of a line bends from the one before it: an arm is stretched before it bends the other way."""
    return np.angle(edges[1:] * np.conj(edges[:-1]) + 1e-300)


def _unrest(turns: Floats, shares: Floats, closed: bool) -> float:
    """How unlike parts of an outline turn that are near each other along it: the sum of squares over such parts."""
    looks = turns[np.minimum(np.searchsorted(np.cumsum(shares), SPREAD), len(turns) - 1)]
    apart = (looks[BESIDE % LOOKS] - looks) ** 2
    return float(apart.sum() if closed else apart[BESIDE < LOOKS].sum())


def _followed(raw: Floats, shares: Floats, begun: float, expected: float) -> Iterator[Floats]:
    """How much edges turn, one after the other, of which `raw` tells that but for whole rounds: several answers.

    First as the edge before, where no step is doubtful; then as those before, of ever larger parts of the outline,
    unless that comes to the same.
    """
    steps = np.diff(raw)
    steps -= branch(steps)
    if len(steps) and np.abs(steps).max() < PLAIN:
        turns = begun + gone(steps)
        yield turns
        if np.ptp(turns) < np.pi:
            return
    for lag in LAGS:
        found, memory = list[float](), expected
        for own, share in zip(raw.tolist(), np.minimum(1.0, lag * shares).tolist(), strict=True):
            found.append(own + math.tau * round((memory - own) / math.tau))
            memory += share * (found[-1] - memory)
        yield np.array(found)


def branch(gap: Floats | float) -> Floats:
    """The whole turns nearest to a gap."""
    return np.asarray(2 * np.pi * np.round(np.asarray(gap) / (2 * np.pi)), dtype=float)
