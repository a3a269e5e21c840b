"""Which point of one outline becomes which point of another: several candidates, judged by the in-between they give."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats, Ints, area, reversed_path
from knead.core.geometry.track import Track, measure
from knead.core.outline.corners import corner_ties
from knead.core.outline.elastic import COARSE_MOVES, MOVES, align, align_all_starts, evened
from knead.core.outline.grid import Grid, grid_of, turning
from knead.core.outline.mirror import mirror_ties, mirrored
from knead.core.outline.rigid import even_map
from knead.core.outline.strain import Strain, strain
from knead.core.outline.work import least_work

NDArrayBool = NDArray[np.bool_]

COARSE = 28
FINE = ((1.6, 36), (2.6, 56), (np.inf, 80))  # places of a fine grid, by how many full turns an outline makes at most
STRETCH = 0.6
TIE = 1.04  # maps are alike up to this much more strain: then how nodes lie must not choose
RIVAL = 0.2  # a start this much worse than the best, by the spread of all starts, is tried as well
HARD = 0.1  # a map with more strain than this is sought in more ways
LYING = np.pi / 4  # a map that turns by more, and strains, is compared with one that does not turn
FAIR = 1.34  # what is symmetric in both keys stays so, if that strains no more than this against any other map
UNEVEN = (2.0, 0.4)  # what it costs stretches between corners to be unlike in length: the usual, and where it must be
PLAINLY = 0.85  # what is found in other ways must be better by this much: else chance would choose
AT_A_TIE = 0.005  # corners nearer to a tie than this share of the outline are left to it
GOOD = 0.04  # a map with no more strain than this needs no rival
SCALE_WEIGHTS = np.array([0.5, 0.9, 0.7])
AT_END = 0.01  # a share nearer to an end of a line than this is at it


@dataclass(frozen=True)
class Look:
    """What a candidate goes by: how much turning, direction and place count."""

    turn: float
    direction: float
    place: float


LOOKS = (Look(0.25, 0.9, 0.5), Look(0.9, 0.0, 0.0), Look(0.3, 0.3, 1.6))
AS_IT_LIES = Look(0.1, 0.5, 2.5)


@dataclass(frozen=True)
class Correspondence:
    """A monotone map between the shares of two outlines, by knots: rising, shapes (k,).

    `second` counts along the second outline's reversed path if `reversed`.
    """

    first: Floats
    second: Floats
    reversed: bool
    strain: Strain

    @property
    def knots(self) -> Floats:
        """Both sides of the map, shape (k, 2)."""
        return np.stack([self.first, self.second], axis=1)


def match(first: Track, second: Track, ties: Floats, turned: float = 0.0) -> Correspondence:
    """Match two outlines, both open or both closed; `ties` (k, 2) are shares that must meet, in a consistent order.

    `turned` is about how much the first is to turn, in radians; 0 leaves it open.
    """
    second = second.turned(-turned) if turned else second
    even = None if len(ties) else _even_map(first, second, turned != 0.0)
    if even is not None:
        return even
    candidates = [
        candidate
        for backwards in _directions(first, second, ties)
        for candidate in _candidates(first, second, ties, backwards)
    ]
    best = min(candidates, key=_judged)
    if best.strain.distortion > HARD and first.closed and not len(ties):
        return _symmetric(first, second, FAIR * best.strain.whole) or best
    return best


def _judged(found: Correspondence) -> float:
    return round(found.strain.whole, 4)


def _symmetric(first: Track, second: Track, most: float) -> Correspondence | None:
    """The best map of outlines that are their own mirror images which keeps them so, if it strains less than `most`."""
    ties = mirror_ties(first, second)
    if ties is None:
        return None
    found: list[Correspondence] = []
    for backwards in _directions(first, second, ties):
        partner = measure(reversed_path(second.path), True) if backwards else second
        ends = backwards_ties(ties, True) if backwards else ties
        maps = [candidate.knots for candidate in _candidates(first, second, ties, backwards)]
        halves = [mirrored(knots, ends, of_first) for knots in maps for of_first in (True, False)]
        found += _tried(first, partner, halves, backwards)
    best = min(found, key=_judged)
    return best if best.strain.whole < most else None


def _even_map(first: Track, second: Track, turned: bool) -> Correspondence | None:
    """The map between two outlines that are one form; None if they are not."""
    found: list[Correspondence] = []
    for backwards in _directions(first, second, np.zeros((0, 2))):
        partner = measure(reversed_path(second.path), second.closed) if backwards else second
        start = even_map(first, partner, turned)
        if start is not None:
            knots = np.array([[0.0, start], [1.0, start + 1.0]])
            found.append(Correspondence(knots[:, 0], knots[:, 1], backwards, strain(first, partner, knots)))
    return min(found, key=lambda c: round(c.strain.whole, 6), default=None)


def backwards_ties(ties: Floats, closed: bool) -> Floats:
    """The same ties with the second outline's shares counted from its other end."""
    turned = ties.copy()
    turned[:, 1] = np.mod(1.0 - ties[:, 1], 1.0) if closed else 1.0 - ties[:, 1]
    return turned


def winding(track: Track) -> int:
    """1 or -1 for a closed outline that plainly turns one way, 0 where both ways enclose about as much."""
    if not track.closed or track.length == 0:
        return 0
    inside = area(track.path)
    return int(np.sign(inside)) if abs(inside) > 0.01 * track.length**2 / (4 * np.pi) else 0


def _directions(first: Track, second: Track, ties: Floats) -> tuple[bool, ...]:
    """Whether to try the second outline as it is (False), backwards (True), or both."""
    if first.closed:
        if len(ties) >= 3:  # what is tied in the other order is meant to be turned over
            order = np.argsort(ties[:, 0])
            return (bool(np.sum(np.diff(np.append(ties[order, 1], ties[order[0], 1])) < 0) > 1),)
        turn = winding(first) * winding(second)
        if turn:
            return (turn < 0,)
    elif len(ties) >= 2:
        low, high = np.argmin(ties[:, 0]), np.argmax(ties[:, 0])
        return (bool(ties[high, 1] < ties[low, 1]),)
    elif np.all(np.minimum(ties, 1.0 - ties) < AT_END):  # an end tied to an end, if there is a tie at all
        return tuple(bool((a < 0.5) != (b < 0.5)) for a, b in ties) or (False, True)
    return (False, True)


def _candidates(first: Track, second: Track, ties: Floats, backwards: bool) -> list[Correspondence]:
    if backwards:
        second = measure(reversed_path(second.path), second.closed)
        ties = backwards_ties(ties, second.closed)
    fields = [_Field(first, second, start) for start in _starts(first, second, ties)]
    laid: list[tuple[Strain, Look, Floats]] = []
    for look in LOOKS:
        for field in fields:
            knots = field.lay(look, 1)
            laid.append((strain(first, second, knots), look, knots))
        if min(laid, key=lambda each: each[0].whole)[0].distortion < GOOD:
            break
    limit = TIE * min(each[0].whole for each in laid)
    least, look, knots = next(each for each in laid if each[0].whole <= limit)  # of like ones, the first
    if first.closed and len(ties) == 0:
        fields = [_Field(first, second, _steadiest(first, second, knots))]
    found = _tried(first, second, [knots, *(field.lay(look, 2) for field in fields)], backwards)
    if least.distortion > HARD and first.closed and len(ties) == 0:
        more = [_Field(first, second, _steadiest(first, second, knots)) for _, _, knots in laid]
        others = _tried(first, second, [field.lay(look, 2) for field in more for look in LOOKS], backwards)
        limit = PLAINLY * min(each.strain.whole for each in found)
        found += [other for other in others if other.strain.whole < limit]
    if least.distortion > GOOD:
        found += _by_corners(first, second, ties, min(found, key=lambda c: c.strain.whole), backwards)
    if least.distortion > HARD and least.turn > LYING and first.closed and len(ties) == 0:
        found += _as_they_lie(first, second, backwards)
    if least.distortion > HARD:
        found += _by_work(first, second, ties, min(found, key=lambda c: c.strain.whole), backwards)
    return found


def _by_work(first: Track, second: Track, ties: Floats, best: Correspondence, backwards: bool) -> list[Correspondence]:
    """The map of least work through the ties, where it is plainly better than the best one so far."""
    if first.closed and not len(ties):
        ties = _steadiest(first, second, best.knots)
    knots = least_work(first, second, _in_order(ties, first.closed))
    tried = [] if knots is None else _tried(first, second, [knots], backwards)
    return [found for found in tried if found.strain.whole < PLAINLY * best.strain.whole]


def _by_corners(
    first: Track, second: Track, ties: Floats, best: Correspondence, backwards: bool
) -> list[Correspondence]:
    """Maps that lay corners on corners, as far as the ties allow, and what lies between evenly or elastically."""
    knots = best.knots
    maps: list[Floats] = []
    for uneven in UNEVEN:
        met = corner_ties(first, second, knots, uneven)
        met = np.concatenate([ties, met[_between_alike(met, ties, first.closed)]])
        if len(met) > 1:
            met = _in_order(met, first.closed)
            maps += [np.concatenate([met, met[:1] + 1.0]) if first.closed else met]
            maps += [_Field(first, second, met).lay(LOOKS[0], 2)]
    return _tried(first, second, maps, backwards)


def _between_alike(met: Floats, ties: Floats, closed: bool) -> NDArrayBool:
    """Which pairs of places lie between the same two ties on both outlines, and not at one."""
    if not len(ties):
        return np.ones(len(met), dtype=bool)
    sides, near = [], np.zeros(len(met), dtype=bool)
    for k in (0, 1):
        start = ties[0, k] if closed else 0.0
        places, stops = (np.mod(x - start, 1.0) if closed else x for x in (met[:, k], ties[:, k]))
        sides.append(np.searchsorted(np.sort(stops), places))
        near |= (np.abs(np.mod(places[:, None] - stops + 0.5, 1.0) - 0.5) < AT_A_TIE).any(axis=1)
    return np.asarray((sides[0] == sides[1]) & ~near)


def _tried(first: Track, second: Track, maps: list[Floats], backwards: bool) -> list[Correspondence]:
    return [Correspondence(k[:, 0], k[:, 1], backwards, strain(first, second, k)) for k in maps]


def _in_order(ties: Floats, closed: bool) -> Floats:
    """Ties rising on both outlines: over a round from the first one, or with the ends of open outlines."""
    ties = ties[np.argsort(ties[:, 0])]
    if closed:
        rounds = np.append(0.0, np.cumsum(np.diff(ties[:, 1]) < 0))
        return np.asarray(ties + np.stack([np.zeros(len(ties)), rounds], axis=1))
    inner = np.all((ties > 1e-6) & (ties < 1 - 1e-6), axis=1)
    return np.concatenate([[[0.0, 0.0]], ties[inner], [[1.0, 1.0]]])


class _Coarse:
    """Two closed outlines measured in few places, the first from its plainest feature on: where to start."""

    def __init__(self, first: Track, second: Track) -> None:
        one, self.two = (grid_of(track, COARSE, np.zeros(0)) for track in (first, second))
        height = one.points.imag[:-1] + 1e-3 * one.points.real[:-1]
        anchor = int(np.argmax(one.weight[:-1] - 1e-6 * height / max(float(np.ptp(height)), 1e-12)))
        self.one = one.begun_at(anchor)
        self.gain, self.unlike = _gain(self.one, self.two), _Unlike(self.one, self.two)

    def totals(self, look: Look) -> Floats:
        """What the best map costs that lays the feature on each place of the second."""
        cost = self.unlike.cost(look, 1.0 + 0j, None)
        return align_all_starts(cost, self.gain, self.one.shares, self.two.shares, STRETCH, COARSE_MOVES)


def _as_they_lie(first: Track, second: Track, backwards: bool) -> list[Correspondence]:
    """Maps of closed outlines that keep what is above above, and what is left left."""
    coarse = _Coarse(first, second)
    start = int(np.argmin(coarse.totals(AS_IT_LIES)))
    field = _Field(first, second, np.array([[coarse.one.shares[0], coarse.two.shares[start]]]))
    return _tried(first, second, [field.lay(look, 1) for look in (LOOKS[0], LOOKS[2])], backwards)


def _starts(first: Track, second: Track, ties: Floats) -> list[Floats]:
    """Ties to begin with: those given, the ends of open outlines, or promising starts of closed ones."""
    if not first.closed or len(ties):
        return [_in_order(ties, first.closed)]
    coarse = _Coarse(first, second)
    one, two = coarse.one, coarse.two
    found: dict[int, None] = {}
    for look in LOOKS[:2]:
        totals = coarse.totals(look)
        best = int(np.argmin(totals))
        away = np.abs(np.mod(two.shares[:-1] - two.shares[best] + 0.5, 1.0) - 0.5) > 0.08
        rival = int(np.argmin(np.where(away, totals, np.inf)))
        found[best] = None
        if totals[rival] - totals[best] < RIVAL * (float(np.median(totals)) - totals[best]):
            found[rival] = None
    return [np.array([[one.shares[0], two.shares[k]]]) for k in found]


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


def _fineness(track: Track) -> int:
    """How many places an outline needs: the more it turns to and fro, the more. Its nodes play no part."""
    steps = np.diff(track.sketch(np.linspace(0, 1, 129)))
    turns = float(np.abs(np.angle(steps[1:] * np.conj(steps[:-1]) + 1e-300)).sum()) / (2 * np.pi)
    return next(places for most, places in FINE if turns <= most)


class _Field:
    """Two outlines measured with the same ties pinned; it can be laid in several looks."""

    def __init__(self, first: Track, second: Track, ties: Floats) -> None:
        steps = max(_fineness(first), _fineness(second))
        one, two = grid_of(first, steps, ties[:, 0]), grid_of(second, steps, ties[:, 1])
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
            turn, size = a / abs(a), max(float(np.std(two.points)), 1e-12)
            place = ((a * one.points + b) / size, two.points / size)
            if not (look.direction or look.place):
                look = Look(look.turn, 0.4, 0.3)
        pinned = _pins(one, two, steps)
        for i, j in zip(self.stops_one, self.stops_two, strict=True):
            pinned |= (steps[:, 0] == i) & (steps[:, 1] == j)
        return evened(np.stack([one.shares[steps[:, 0]], two.shares[steps[:, 1]]], axis=1), pinned)


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


def _steadiest(first: Track, second: Track, knots: Floats) -> Floats:
    """The knot to start anew from: where both outlines turn most and alike."""
    one, two = turning(first, knots[:-1, 0])[:, 1], turning(second, knots[:-1, 1])[:, 1]
    worth = np.minimum(np.abs(one), np.abs(two)) - np.abs(one - two)
    return np.mod(knots[[int(np.argmax(worth))]], 1.0)
