"""Which corner of one outline becomes which corner of another: a matching of few, plain features, with skips."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats, Ints, gone
from knead.core.geometry.track import Track
from knead.core.outline.compiled.programmes import chain
from knead.core.outline.hints import consistent

REACH = 6  # how many corners may be passed over between two that are matched
SEEDS = 3  # pairs of corners, the likeliest first, from which a round is begun
TURNED, BROKEN, PLACED = 0.6, 0.5, 0.5  # what unlike directions, breaks and places cost, each for the worst unlikeness
WORTH = 0.8  # what it is worth to match a right angle with a right angle
FEWEST, MOST = 3, 24  # so many corners a polygon may have of which all are laid on all of another
BLUNT = 0.03  # by so much, in radians, a polygon breaks at least at a corner that is hardly one: a box seen edge-on
IN_CORNERS = 0.8  # the share of its turning that a polygon has in its corners
IN_PLACE, LIES_ALIKE = 5e-3, 0.35  # how far corners that stay are apart, by the length, and how far turned, in radians
FEWEST_KEPT, FEW_KEPT = 3, 12  # so many corners must be in one place for that to be meant, and about so many will do
AT_TIE = 1e-3  # corners that are nearer to a tie, as a share, are at it
SKEWED = 0.8  # what stretches between corners cost where their directions are opposite


@dataclass(frozen=True)
class _Corners:
    """Corners in their order along an outline; `breaks` in radians, signed. Shapes (n,)."""

    shares: Floats
    points: Complexes
    into: Complexes
    out: Complexes

    @property
    def breaks(self) -> Floats:
        return np.asarray(np.angle(self.out * np.conj(self.into)), dtype=float)


def _corners(track: Track) -> _Corners:
    return _of_breaks(track, track.breaks)


def _of_breaks(track: Track, breaks: tuple[Floats, Complexes, Complexes]) -> _Corners:
    shares, into, out = breaks
    return _Corners(shares, track.sketch(shares), into, out)


def corner_ties(first: Track, second: Track, knots: Floats, uneven: float) -> Floats:
    """Shares (k, 2) of corners that become each other, rising, for outlines that run the same way round.

    `knots` (n, 2) are a map that is about right: it says how the first outline is turned and placed on the second.
    `uneven` is what it costs stretches between corners that their shares of the lengths are unlike.
    """
    one, two = _corners(first), _corners(second)
    if not len(one.shares) or not len(two.shares):
        return np.zeros((0, 2))
    shares = np.linspace(knots[0, 0], knots[-1, 0], 65)
    z, w = first.sketch(shares), second.sketch(np.interp(shares, knots[:, 0], knots[:, 1]))
    a, b = similarity.fit(z, w)
    turn = a / abs(a)
    gain = _gain(one, two, turn, (a, b), max(float(np.std(w)), 1e-12))
    ends = not first.closed
    best: tuple[float, Ints] | None = None
    for i, j in [(0, 0)] if ends else _likeliest(gain):
        order_one, order_two = _round(len(one.shares), i, ends), _round(len(two.shares), j, ends)
        here = _along(one.shares, one.points * turn, order_one, first, turn)
        there = _along(two.shares, two.points, order_two, second, 1.0 + 0j)
        rows, columns = np.clip(order_one, 0, None), np.clip(order_two, 0, None)
        worth = gain[np.ix_(rows, columns)]
        if ends:
            worth[[0, -1]], worth[:, [0, -1]] = 0.0, 0.0
        total, steps = chain(worth, here, there, REACH, uneven, SKEWED)
        if best is None or total > best[0] + 1e-9:
            best = total, np.stack([order_one[steps[:, 0]], order_two[steps[:, 1]]], axis=1)
    assert best is not None
    inner = best[1][1:-1] if ends else best[1][:-1]
    return np.stack([one.shares[inner[:, 0]], two.shares[inner[:, 1]]], axis=1)


def _gain(one: _Corners, two: _Corners, turn: complex, motion: tuple[complex, complex], size: float) -> Floats:
    """What it is worth to match two corners, shape (n, m); below 0 they are better left alone."""

    def unlike(a: Complexes, b: Complexes) -> Floats:
        return np.asarray(0.5 - 0.5 * np.real(turn * a[:, None] * np.conj(b[None])), dtype=float)

    directions = unlike(one.into, two.into) + unlike(one.out, two.out)
    breaks = np.abs(one.breaks[:, None] - two.breaks[None]) / np.pi
    places = np.abs((motion[0] * one.points + motion[1])[:, None] - two.points[None]) / size
    sharpness = np.sqrt(np.minimum(np.abs(one.breaks)[:, None], np.abs(two.breaks)[None]) / (np.pi / 2))
    return np.asarray(WORTH * sharpness - TURNED * directions - BROKEN * breaks - PLACED * places, dtype=float)


def _likeliest(gain: Floats) -> list[tuple[int, int]]:
    order = np.argsort(-gain, axis=None, kind="stable")[:SEEDS]
    rows, columns = np.unravel_index(order, gain.shape)
    return list(zip(rows.tolist(), columns.tolist(), strict=True))


def _round(count: int, start: int, ends: bool) -> Ints:
    """Indices of the corners in a round that ends where it began, or between the two ends (-1) of an open outline."""
    if ends:
        return np.concatenate([[-1], np.arange(count), [-1]])
    return np.asarray(np.arange(start, start + count + 1) % count)


def _along(shares: Floats, points: Complexes, order: Ints, track: Track, turn: complex) -> Floats:
    """Rising shares and places of the corners in this order, an open outline's ends among them; shape (3, n)."""
    found, places = shares[np.clip(order, 0, None)], points[np.clip(order, 0, None)]
    if track.closed:
        found = found + gone(np.diff(found) <= 0)
    else:
        found[[0, -1]], places[[0, -1]] = (0.0, 1.0), turn * track.sketch(np.array([0.0, 1.0]))
    return np.stack([found, places.real, places.imag])


def all_corners(first: Track, second: Track) -> list[Floats]:
    """Maps (k, 2) that lay each corner of a polygon on one of another that has as many, in one order.

    A polygon's sides may bend a little. Corners that turn the other way are not laid on each other. Of what is
    seen edge-on, a needle, those count that are blunt, too.
    """
    one, two = _corners(first), _corners(second)
    if is_edge_on(first, second):
        one, two = (_of_breaks(track, track.breaks_over(BLUNT)) for track in (first, second))
    bends, others = np.sign(one.breaks), np.sign(two.breaks)
    if not (FEWEST <= len(bends) == len(others) <= MOST and _is_polygon(first, one) and _is_polygon(second, two)):
        return []
    if not first.closed:
        rows = np.stack([np.concatenate([[0.0], side.shares, [1.0]]) for side in (one, two)], axis=1)
        return [rows] if np.array_equal(bends, others) else []
    here = np.append(one.shares, one.shares[0] + 1.0)
    shifts = [k for k in range(len(others)) if np.array_equal(bends, np.roll(others, -k))]
    there = [np.concatenate([two.shares[k:], two.shares[:k] + 1.0, two.shares[k : k + 1] + 1.0]) for k in shifts]
    return [np.stack([here, row], axis=1) for row in there]


def is_edge_on(first: Track, second: Track) -> bool:
    """Whether one of two closed outlines is a needle of two corners, and the other none."""
    counts = [len(track.breaks[0]) for track in (first, second)]
    return first.closed and min(counts) == 2 < max(counts)


def corners_between(first: Track, second: Track, ties: Floats) -> list[Floats]:
    """A map (k, 2) through ties of closed outlines, in one order, that lays corner on corner between any two of them.

    None if there are not as many of both everywhere, which turn the same way, or none at all.
    """
    stops = np.append(ties, ties[:1] + 1.0, axis=0)
    stops[:, 1] = ties[0, 1] + np.append(np.mod(ties[:, 1] - ties[0, 1], 1.0), 1.0)
    rows = [stops]
    for low, high in zip(stops[:-1], stops[1:], strict=True):
        (own, bends), (there, others) = (
            _within(_corners(track), low[k], high[k]) for k, track in enumerate((first, second))
        )
        if not np.array_equal(bends, others):
            return []
        rows.append(np.stack([own, there], axis=1))
    knots = np.concatenate(rows)
    return [knots[np.argsort(knots[:, 0])]] if len(knots) > len(stops) else []


def _within(corners: _Corners, low: float, high: float) -> tuple[Floats, Floats]:
    """The shares of corners between two shares, rising, and whether they turn one way (1) or the other (-1)."""
    shares = low + np.mod(corners.shares - low, 1.0)
    order = np.argsort(shares)
    order = order[(shares[order] > low + AT_TIE) & (shares[order] < high - AT_TIE)]
    return np.asarray(shares[order]), np.sign(corners.breaks[order])


def kept_corners(first: Track, second: Track) -> tuple[list[Floats], float]:
    """Shares (k, 2) of corners that are in one place in both outlines, which are closed and run the same way; if any.

    They lie there alike, or end a stretch that both outlines have. How much of the shorter outline is such stretches,
    from 0 to 1, is the second of what is returned.
    """
    one, two = _corners(first), _corners(second)
    if not len(one.shares) or not len(two.shares):
        return [], 0.0
    near = IN_PLACE * max(first.length, second.length)
    there = np.abs(one.points[:, None] - two.points) < near
    into, out = (
        np.abs(np.angle(a[:, None].conj() * b)) < LIES_ALIKE for a, b in ((one.into, two.into), (one.out, two.out))
    )
    lengths, others = (_to_next(side.shares) * track.length for side, track in ((one, first), (two, second)))
    after = np.roll(there & into, (-1, -1), (0, 1))  # whether so is the next of both
    begin = there & out & after & (np.abs(lengths[:, None] - others) < near)
    rows, columns = np.nonzero(there & into & out | begin | np.roll(begin, (1, 1), (0, 1)))
    stay = float(lengths[begin.any(axis=1)].sum()) / min(first.length, second.length)
    kept = np.stack([one.shares[rows], two.shares[columns]], axis=1)[:: max(1, len(rows) // FEW_KEPT)]
    kept = kept[consistent(kept, True)]
    return [kept] if len(kept) >= FEWEST_KEPT else [], min(stay, 1.0)


def _to_next(shares: Floats) -> Floats:
    return np.mod(np.roll(shares, -1) - shares, 1.0)


def _is_polygon(track: Track, corners: _Corners) -> bool:
    return float(np.abs(corners.breaks).sum()) >= IN_CORNERS * track.turning
