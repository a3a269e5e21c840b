"""A line that goes along itself: at both keys it is a stretch of one curve, as a crack that grows, or an arc."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, cut, triples_of, within
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import Track, measure
from knead.core.outline.structure import Cuts

ON_IT = 0.025  # how far off each other stretches are that are one, by the length of the longer line
LEAST = 0.2  # the share of the shorter line that both have in common
MOVES = 0.05  # how far an end goes at least, by the length of the longer line
WAITING = 1e-3  # the share of a line along which nodes wait at its ends at most
NOTHING = 1e-9  # a line that is shorter than this, by the other's length, runs nowhere
SAME = 1e-3  # how far lines that are merely moved are off each other at most, by the length of the longer one
STAYS = 0.01  # how far an end that stays may go, by the length of the longer line: a hand draws it anew
AGAIN = 1e-3  # nodes of both that are nearer along it than this, by its length, are one
ROUND = 0.01  # how unlike the radii of an arc may be
SWEEP = 0.4  # radians that an arc goes round at least
FARTHEST = 0.9 * np.pi  # how far round its circle the middle of an arc goes
ALONG = np.linspace(0.0, 1.0, 33)


@dataclass(frozen=True, eq=False)
class Lane:
    """The curve, and from where to where on it the line runs at each key, as lengths from its beginning."""

    track: Track
    first: tuple[float, float]
    second: tuple[float, float]

    def at(self, first: Complexes, second: Complexes, times: Floats) -> Complexes:
        """Node triples at the times, shape (len(times), nodes * 3); at the keys they are `first` and `second`.

        Nodes wait at the line's ends until these pass them, so that corners stay where they are.
        """
        length = self.track.length
        nodes = self.track.nodes * length
        low, high = (a + np.array([0.0, *times, 1.0]) * (b - a) for a, b in zip(self.first, self.second, strict=True))
        stops = np.array([_waiting(nodes, a, b) for a, b in zip(low, high, strict=True)])
        params = self.track.params_at((stops / length).ravel()).reshape(stops.shape)
        params = np.where(stops == nodes, np.arange(len(nodes)), params)
        rows = np.array([as_complex(triples_of(cut(self.track.path, row), False)).ravel() for row in params])
        t = times[:, None]
        return np.asarray(rows[1:-1] + (1.0 - t) * (first - rows[0]) + t * (second - rows[-1]))


@dataclass(frozen=True, eq=False)
class Lanes:
    """Those of all lines of a shape, in their order."""

    lanes: tuple[Lane, ...]

    def at(self, first: Complexes, second: Complexes, times: Floats) -> Complexes:
        """Node triples at the times, as each has them."""
        stops = np.cumsum([3 * len(lane.track.nodes) for lane in self.lanes])[:-1]
        keys = np.split(first, stops), np.split(second, stops)
        return np.concatenate(
            [lane.at(one, two, times) for lane, one, two in zip(self.lanes, *keys, strict=True)], axis=1
        )


def _waiting(places: Floats, low: float, high: float) -> Floats:
    """Rising places, those beyond the ends of a line close together at these: no stretch is without a direction."""
    stops, last = np.minimum(np.maximum(places, low), high), len(places) - 1
    begins, ends = int(np.sum(stops <= low)) - 1, last + 1 - int(np.sum(stops >= high))
    step = WAITING * (high - low) / last
    stops[: begins + 1] = low + step * np.arange(begins + 1)
    stops[ends:] = high - step * np.arange(last - ends, -1, -1)
    return np.asarray(np.maximum.accumulate(stops))


@dataclass(frozen=True)
class _Circle:
    """A circle, and at which angle, in radians, places of a line on it begin; `way` is 1 or -1, as it goes round."""

    middle: complex
    radius: float
    start: float
    sweep: float

    @property
    def way(self) -> float:
        return float(np.sign(self.sweep))

    def arcs(self, starts: Floats, ends: Floats) -> Floats:
        """Arcs between lengths from where the line begins, each less than half a round; shape (k, 4, 2)."""
        angles = [self.start + self.way * lengths / self.radius for lengths in (starts, ends)]
        one, two = (self.radius * np.exp(1j * angle) for angle in angles)
        handle = 4j / 3 * np.tan(0.25 * (angles[1] - angles[0]))
        return as_points(self.middle + np.stack([one, one + handle * one, two - handle * two, two], axis=1))


def _circle_of(track: Track) -> _Circle | None:
    """The circle that a line is an arc of."""
    z = track.sketch(ALONG)
    sides = np.stack([z.real, z.imag, np.ones(len(z))], axis=1)
    x, y, rest = np.linalg.lstsq(sides, np.abs(z) ** 2, rcond=None)[0].tolist()
    middle = complex(x, y) / 2
    radius = float(np.sqrt(max(rest + abs(middle) ** 2, 0.0)))
    spokes = z - middle
    turns = np.angle(spokes[1:] * spokes[:-1].conj() + 1e-300)
    sweep = float(turns.sum())
    if np.abs(np.abs(spokes) - radius).max() > ROUND * radius or abs(sweep) < SWEEP or np.ptp(np.sign(turns)):
        return None
    return _Circle(middle, radius, float(np.angle(spokes[0])), sweep)


def lane_of(first: Track, second: Track) -> tuple[Lane, Cuts] | None:
    """The curve that two open lines run along, and how they are cut for it; None if they don't, or hardly move.

    They overlap by a good part, or are arcs of one circle.
    """
    shorter, longer = sorted((first, second), key=lambda track: track.length)
    if shorter.length <= NOTHING * longer.length:
        return None
    one = _circle_of(first)
    two = one and _circle_of(second)
    overlap = _overlap(shorter, longer)
    for backwards in (False, True):
        other = second.backwards if backwards else second
        shift = _shift_round(first, other, one, two, backwards) if one and two else None
        if shift is not None:
            return _made(first, other, shift, one, backwards)
        shift = _shift(first, other) if overlap else None
        if shift is not None:
            return _made(first, other, shift, None, backwards)
    return None


def _overlap(shorter: Track, longer: Track) -> bool:
    """Whether a good part of a line may lie on a longer one, by a few places on both."""
    gaps = np.abs(shorter.sketch(ALONG)[:, None] - longer.sketch(ALONG)).min(axis=1)
    return bool(np.mean(gaps < (0.5 / (len(ALONG) - 1) + ON_IT) * longer.length) >= 0.5 * LEAST)


def _made(first: Track, second: Track, shift: float, circle: _Circle | None, backwards: bool) -> tuple[Lane, Cuts]:
    """The lane of lines of which a place of the first is on the second farther along by the `shift`."""
    shift = _plainly(shift, first, second)
    lines = ((first, 0.0), (second, shift))
    places, *params = _nodes(first, second, shift, circle)
    track = measure(_path(lines, circle, places, params), False)
    lengths, keys, paths = track.nodes * track.length, [], []
    for k, (line, moved) in enumerate(lines):
        there = places + moved
        # its ends may have met nodes of the other line that are just beside them
        begin, end = (float(lengths[np.argmin(np.abs(there - at))]) for at in (0.0, line.length))
        keys.append((begin, end))
        at = _waiting(there, 0.0, line.length)
        params[k] = np.where(at == there, params[k], line.params_at(at / line.length))
        paths.append(cut(line.path, params[k]))
    return Lane(track, keys[0], keys[1]), Cuts(paths[0], paths[1], params[0], params[1], backwards)


def _plainly(shift: float, first: Track, second: Track) -> float:
    """The shift, exactly such that an end that hardly moves stays."""
    stays = 0.0, second.length - first.length
    nearest = min(stays, key=lambda each: abs(each - shift))
    return nearest if abs(nearest - shift) < STAYS * max(first.length, second.length) else shift


def _nodes(first: Track, second: Track, shift: float, circle: _Circle | None) -> Floats:
    """Where nodes are: lengths from the first line's beginning, and the parameters of both; rising, shape (3, k)."""
    own, other = first.nodes * first.length, second.nodes * second.length - shift
    gaps = np.abs(own[:, None] - other)
    nearest = np.argmin(gaps, axis=0)
    meets = gaps[nearest, np.arange(len(other))] < AGAIN * max(first.length, second.length)
    meets &= np.append(True, nearest[1:] != nearest[:-1])  # each with one
    more = np.zeros(0)
    if circle is not None:  # what lies between two arcs is drawn as well
        low, high = min(own[-1], other[-1]), max(own[0], other[0])
        more = np.linspace(low, high, 2 + max(0, int((high - low) / circle.radius)))[1:-1]
    places = np.concatenate([own, other[~meets], more])
    params = np.full((2, len(places)), np.nan)
    params[0, : len(own)] = np.arange(len(own))
    params[1, nearest[meets]] = np.flatnonzero(meets)
    params[1, len(own) : len(places) - len(more)] = np.flatnonzero(~meets)
    for row, track, moved in zip(params, (first, second), (0.0, shift), strict=True):
        at = track.params_at(within((places + moved) / track.length, 0.0, 1.0))
        row[:] = np.where(np.isnan(row), at, row)
    order = np.argsort(places, kind="stable")
    return np.stack([places[order], *np.maximum.accumulate(params[:, order], axis=1)])


def _path(
    lines: Sequence[tuple[Track, float]], circle: _Circle | None, places: Floats, params: Sequence[Floats]
) -> Floats:
    """The curve between the nodes: the first line, what the second adds to it, and what is between arcs."""
    (first, _), (second, shift) = lines
    halves = 0.5 * (places[1:] + places[:-1])
    pieces = [cut(line.path, row) for (line, _), row in zip(lines, params, strict=True)]
    within_it = [((halves + moved > 0.0) & (halves + moved < line.length))[:, None, None] for line, moved in lines]
    if circle is not None:
        arcs = circle.arcs(places[:-1], places[1:])
        return np.where(within_it[0], pieces[0], np.where(within_it[1], pieces[1], arcs))
    # what the second adds begins where the first ends
    ends = (np.array([0.0, first.length]) + shift) / second.length
    off = first.path[[0, -1], [0, 3]] - second.points(within(ends, 0.0, 1.0))
    beyond = (halves > 0.5 * first.length).astype(np.int64)
    return np.where(within_it[0], pieces[0], pieces[1] + off[beyond][:, None])


def _shift(first: Track, second: Track) -> float | None:
    """How much farther along the second line a place of the first is, as a length, if they overlap by a good part."""
    most = max(first.length, second.length)
    param, away = second.nearest(first.path[0, 0])
    shift = second.length * float(second.shares(np.array([param]))[0])
    back, behind = first.nearest(second.path[0, 0])
    if behind < away:  # what begins farther back lies off the other's end
        away, shift = behind, -first.length * float(first.shares(np.array([back]))[0])
    low, high = max(0.0, -shift), min(first.length, second.length - shift)
    moves = max(abs(shift), abs(second.length - shift - first.length)) > MOVES * most
    if away > ON_IT * most or not moves or high - low < LEAST * min(first.length, second.length):
        return None
    places = low + ALONG * (high - low)
    apart = np.abs(first.sketch(places / first.length) - second.sketch((places + shift) / second.length)).max()
    return shift if apart <= ON_IT * most and not _is_moved(first, second, max(apart, SAME * most)) else None


def _is_moved(first: Track, second: Track, near: float) -> bool:
    """Whether the second line is the first one elsewhere: waves of steam rise, where they might as well run along."""
    ways = second.sketch(ALONG) - first.sketch(ALONG)
    return bool(np.abs(ways - ways.mean()).max() <= near)


def _shift_round(first: Track, second: Track, one: _Circle, two: _Circle, backwards: bool) -> float | None:
    """The shift of arcs of one circle, the short way round; `two` is that of the second as it was drawn."""
    near = ON_IT * one.radius
    one_circle = abs(one.middle - two.middle) <= near and abs(one.radius - two.radius) <= near
    if not one_circle or (one.way == two.way) == backwards:
        return None
    middles = [circle.start + 0.5 * circle.sweep for circle in (one, two)]
    on = float(np.angle(np.exp(1j * (middles[1] - middles[0]))))
    ahead = one.way * (middles[0] + on - one.start) * one.radius - 0.5 * abs(two.sweep) * one.radius
    moves = max(abs(ahead), abs(ahead + second.length - first.length)) > MOVES * max(first.length, second.length)
    return -ahead if moves and abs(on) < FARTHEST else None
