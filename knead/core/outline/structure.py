"""The common node structure: both outlines cut at each other's nodes, exactly, with as few cuts as possible."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, Ints, bernstein, straight, within
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track
from knead.core.outline.correspondence import Correspondence

NEAR = 0.02  # two nodes closer than this share of the outline always meet without a second cut
SAME = 1e-6  # two cuts closer than this share on both outlines are one: what parts them is how shares are reckoned
CLOSELY = np.linspace(0.0, 1.0, 17)  # parameters at which a bow is measured
STEPS = 32  # where outlines meet is told at so many places along each piece
ONE_PLACE = 1e-9  # nodes closer than this share are at one place


@dataclass(frozen=True)
class Cuts:
    """Two outlines cut into equally many pieces. Paths of shape (pieces, 4, 2); parameters on the original paths.

    `second_params` counts along the reversed second path if `reversed`.
    """

    first: Floats
    second: Floats
    first_params: Floats
    second_params: Floats
    reversed: bool

    @cached_property
    def meets(self) -> Floats:
        """Parameters of both that meet, close together, shape (pieces * STEPS + 1, 2).

        Pieces go to each other by their own parameters. A straight one has that of the line it lies on: even by length.
        """
        sides = (self.first, self.first_params), (self.second, self.second_params)
        rows = [params[:-1, None] + _gone(path) * np.diff(params)[:, None] for path, params in sides]
        ends = [[params[-1]] for _, params in sides]
        return np.stack([np.append(row, end) for row, end in zip(rows, ends, strict=True)], axis=1)

    def partner(self, param: float, count: int, to_second: bool) -> float:
        """The parameter on the other side of one on a path of `count` segments, both of paths as they are run.

        Of a closed one it is perhaps rounds farther.
        """
        source, target = self.meets.T if to_second else self.meets.T[::-1]
        while param < source[0] - 1e-12:
            param += count
        return float(np.interp(param, source, target))

    def halved(self, paths: tuple[Floats, Floats], at: Ints) -> "Cuts":
        """The same with these pieces halved, of which the paths are then these."""
        first, second = np.insert(self.meets[::STEPS], at + 1, self.meets[at * STEPS + STEPS // 2], axis=0).T
        return replace(self, first=paths[0], second=paths[1], first_params=first, second_params=second)


def drawn_alike(first: Floats, second: Floats) -> tuple[Floats, Floats]:
    """Two cut paths, the handles of straight stretches as long, by these, as those of their partners.

    So these set out in one direction, and what is smooth stays so: with a handle of its own, a straight line goes like
    an S where a bow begins without one. Where both are straight they are drawn in: that is how a line is drawn.
    """
    lines, others = straight(first), straight(second)
    return _run_as(first, lines, second, others), _run_as(second, others, first, lines)


def _run_as(path: Floats, lines: NDArray[np.bool_], partner: Floats, others: NDArray[np.bool_]) -> Floats:
    """A path whose `lines` are run through as their partners are, of which the `others` are straight as well."""
    shares = np.tile([0.0, 1.0], (len(path), 1))
    bows = lines & ~others
    if bows.any():
        z = as_complex(partner[bows])
        lengths = np.maximum(np.abs(np.diff(z @ bernstein(CLOSELY), axis=1)).sum(axis=1), 1e-300)
        handles = np.abs(np.stack([z[:, 1] - z[:, 0], z[:, 3] - z[:, 2]], axis=1)) / lengths[:, None]
        shares[bows] = np.abs([0.0, 1.0] - np.minimum(handles, 1.0))
    drawn = (1.0 - shares[..., None]) * path[:, :1] + shares[..., None] * path[:, 3:]
    return np.concatenate([path[:, :1], np.where(lines[:, None, None], drawn, path[:, 1:3]), path[:, 3:]], axis=1)


def _gone(path: Floats) -> Floats:
    """How far one has gone at steps along each piece, as a share of its parameters, shape (pieces, STEPS)."""
    steps = np.linspace(0.0, 1.0, STEPS, endpoint=False)
    chords = path[:, 3] - path[:, 0]
    lengths = np.sum(chords**2, axis=1, keepdims=True)
    along = np.sum((path - path[:, :1]) * chords[:, None], axis=2) / np.maximum(lengths, 1e-300)
    uneven = straight(path)[:, None] & (lengths > 0.0)
    return np.where(uneven, along @ bernstein(steps), steps)


def common(first: Track, second: Track, way: Correspondence, ties: Floats, tolerance: float) -> Floats:
    """Where to cut both outlines: wherever either has a node or a tie ends, paired by the correspondence.

    Rising parameters of both, shape (k, 2); the second outline and its ties run as the correspondence says. Two nodes
    that miss each other by less than NEAR, or than twice the tolerance in scene units, meet in one cut.
    """
    near = max(NEAR, 2.0 * tolerance / max(first.length, second.length, 1e-12))
    own, partner = first.nodes, second.nodes
    if first.closed:
        knots = _through(way, _fixed(way, ties, True))
        way = _begun_between(replace(way, first=knots[:, 0], second=knots[:, 1]), own, partner, ties)
        own, partner = _in_round(own, way.first[0]), _in_round(partner, way.second[0])
    a, b = _stops(way, _fixed(way, ties, first.closed), own, partner, near, first.closed)
    return np.array([_exact(first, a), _exact(second, b)]).T


def _in_round(shares: Floats, start: float) -> Floats:
    """Shares of a closed outline in the round that begins at `start`."""
    return np.asarray(start + np.mod(shares - start, 1.0), dtype=float)


def _begun_between(way: Correspondence, own: Floats, partner: Floats, ties: Floats) -> Correspondence:
    """The same round begun in its widest gap between nodes, so that its start parts no two nodes that meet."""
    images = np.interp(_in_round(partner, way.second[0]), way.second, way.first)
    places = np.sort(_in_round(np.concatenate([own, images, ties[:, 0]]), way.first[0]))
    gaps = np.diff(np.append(places, places[0] + 1.0))
    widest = int(np.argmax(gaps))
    start = float(_in_round(places[widest] + 0.5 * gaps[widest], way.first[0]))
    there = float(np.interp(start, way.first, way.second))
    after, before = way.first > start, way.first[1:] <= start  # the last knot is the first one a round later
    return replace(
        way,
        first=np.concatenate([[start], way.first[after], way.first[1:][before] + 1.0, [start + 1.0]]),
        second=np.concatenate([[there], way.second[after], way.second[1:][before] + 1.0, [there + 1.0]]),
    )


def _fixed(way: Correspondence, ties: Floats, closed: bool) -> Floats:
    """The ties in the round the correspondence covers, with its two ends where they are ends of the outlines."""
    if not closed:
        return np.concatenate([[[0.0, 0.0]], ties[np.argsort(ties[:, 0])], [[1.0, 1.0]]])
    if not len(ties):
        return ties
    a = _in_round(ties[:, 0] + 1e-9, way.first[0]) - 1e-9
    order = np.argsort(a)
    start = ties[order[0], 1]
    start += np.round(np.interp(a[order[0]], way.first, way.second) - start)
    return np.stack([a[order], _in_round(ties[order, 1] + 1e-9, start) - 1e-9], axis=1)


def _stops(
    way: Correspondence, fixed: Floats, own: Floats, partner: Floats, near: float, closed: bool
) -> tuple[Floats, Floats]:
    """Rising places on both outlines that meet: ties first, then near node pairs, then the lone nodes of either."""
    own, partner = np.sort(own), np.sort(partner)
    images = np.interp(own, way.first, way.second)
    mates, back = nearest(partner, images), nearest(images, partner)
    i = np.flatnonzero((back[mates] == np.arange(len(own))) & (np.abs(partner[mates] - images) < near))
    j = mates[i]
    between_one, between_two = (np.searchsorted(f, x) for f, x in ((fixed[:, 0], own[i]), (fixed[:, 1], partner[j])))
    tied_one, tied_two = np.isin(own, fixed[:, 0]), np.isin(partner, fixed[:, 1])
    onward = np.concatenate([[True], j[1:] > j[:-1]])[: len(j)]
    met = (between_one == between_two) & ~tied_one[i] & ~tied_two[j] & onward
    i, j = i[met], j[met]
    pairs = np.concatenate([fixed, np.array([own[i], partner[j]]).T])
    pairs = pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))]
    knots = _through(way, pairs)
    tied_one[i] = tied_two[j] = True
    lone_one, lone_two = own[~tied_one], partner[~tied_two]
    rows = np.concatenate(
        [
            pairs,
            np.array([lone_one, np.interp(lone_one, knots[:, 0], knots[:, 1])]).T,
            np.array([np.interp(lone_two, knots[:, 1], knots[:, 0]), lone_two]).T,
        ]
    )
    rows = rows[np.lexsort((rows[:, 1], rows[:, 0]))]
    a, b = (np.maximum.accumulate(_apart(rows, side, nodes)) for side, nodes in enumerate((own, partner)))
    if closed:
        a, b = np.concatenate([a, a[:1] + 1.0]), np.concatenate([b, b[:1] + 1.0])
    return a, b


def _apart(rows: Floats, side: int, nodes: Floats) -> Floats:
    """One side of rising rows, those that are one in one row: at the last node among them, if there is one.

    What is cut at the last of nodes that lie close together, as tools draw them, goes on along the whole segment after.
    """
    heads = np.flatnonzero(np.concatenate([[True], (rows[1:] - rows[:-1] > SAME).any(axis=1)]))
    places = rows[:, side]
    found = nodes[np.minimum(np.searchsorted(nodes, places), len(nodes) - 1)] == places
    at_node = np.maximum.reduceat(np.where(found, places, -np.inf), heads)
    return np.where(np.isfinite(at_node), at_node, np.maximum.reduceat(places, heads))


def nearest(sorted_places: Floats, to: Floats) -> Ints:
    """Index of the nearest of some rising places to each of others."""
    right = within(np.searchsorted(sorted_places, to), 1, max(len(sorted_places) - 1, 1))
    left = right - 1
    right = np.minimum(right, len(sorted_places) - 1)
    return np.where(np.abs(sorted_places[left] - to) <= np.abs(sorted_places[right] - to), left, right)


def _through(way: Correspondence, pairs: Floats) -> Floats:
    """The correspondence's knots bent so that they run through the pairs."""
    ends = np.array([[way.first[0], way.second[0]], [way.first[-1], way.second[-1]]])
    shift_at = np.concatenate([pairs, ends]) if len(pairs) else ends
    shift_at = shift_at[np.argsort(shift_at[:, 0], kind="stable")]
    shifts = shift_at[:, 1] - np.interp(shift_at[:, 0], way.first, way.second)
    before = within(np.searchsorted(shift_at[:, 0], way.first, side="right") - 1, 0, len(shift_at) - 2)
    bent = way.second + np.interp(way.first, shift_at[:, 0], shifts)
    low, high = shift_at[before, 1], shift_at[before + 1, 1]
    second = np.minimum(np.maximum(bent, low), high)  # none passes the next pair
    knots = np.concatenate([np.array([way.first, second]).T, pairs])
    knots = knots[knots[:, 0].argsort(kind="stable")]
    knots[:, 1] = np.maximum.accumulate(knots[:, 1])
    return knots


def _exact(track: Track, shares: Floats) -> Floats:
    """Parameters at shares, with those a hair from a node put exactly on it; of nodes at one place, on the last."""
    params = track.params_at(shares)
    turns = np.floor(shares + ONE_PLACE) if track.closed else np.zeros_like(shares)
    last = np.searchsorted(track.nodes, shares - turns + ONE_PLACE, side="right") - 1
    there = np.abs(track.nodes[last] - (shares - turns)) <= ONE_PLACE
    whole = np.round(params)
    params = np.where(np.abs(params - whole) < 1e-6, whole, params)
    return np.asarray(np.where(there, last + turns * len(track.path), params))


def begun_at_node(rows: Floats, counts: Ints) -> Floats:
    """The same round of cuts begun at the first outline's own first node; `counts` are the segments of both."""
    own = rows[:-1, 0] / counts[0]
    turn = int(np.argmin(np.abs(own - np.round(own))))
    rows = np.concatenate([rows[turn:-1], rows[: turn + 1] + counts])
    return np.asarray(rows - counts * np.floor(rows[0] / counts))
