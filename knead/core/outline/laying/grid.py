"""An outline seen as a row of measured places: positions, directions and how it turns at several scales."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, Ints, following, preceding
from knead.core.geometry.track import Track

SEEN = 512  # places at which an outline is looked at for what is plain
UNEVENLY = 0.02  # where an outline turns more or less than this by its mean it is not round
BULGE = 0.5  # radians of turning from which on a bulge is plain
SCALES = np.array([0.015, 0.05, 0.13])  # half windows of turning, as shares of the length


@dataclass(frozen=True)
class Grid:
    """Places along an outline, features among them exactly.

    `shares` has n + 1 rising entries over one round (closed: the last is the first plus 1); the other arrays have
    n + 1 rows, too, so that both ends of a stretch can be addressed.
    """

    track: Track
    shares: Floats
    points: Complexes
    tangents: Complexes
    turns: Floats  # (n + 1, len(SCALES)), radians, positive clockwise on screen
    weight: Floats  # how much of a feature a place is, 0 to 1

    @property
    def steps(self) -> int:
        """The number of steps in one round."""
        return len(self.shares) - 1

    @cached_property
    def spread(self) -> float:
        """How far the places lie about their mean: root of the mean square."""
        return max(float(np.std(self.points)), 1e-12)

    @cached_property
    def standard(self) -> Complexes:
        """The places with their mean at 0 and a spread of 1, wherever it begins."""
        every = self.points[:-1] if self.track.closed else self.points
        moved = self.points - every.mean()
        return np.asarray(moved / max(float(np.std(every)), 1e-12), dtype=complex)

    def begun_at(self, start: int) -> "Grid":
        """The grid of a closed outline begun at another of its places."""
        order = np.arange(start, start + self.steps + 1)
        shares = self.shares[order % self.steps] + np.where(order >= self.steps, 1.0, 0.0)
        order %= self.steps
        return Grid(self.track, shares, self.points[order], self.tangents[order], self.turns[order], self.weight[order])

    def index(self, share: float) -> int:
        """The place nearest to a share, on a closed outline in the round it covers."""
        if self.track.closed:
            gaps = np.abs(np.mod(self.shares[:-1] - share + 0.5, 1.0) - 0.5)
            return int(np.argmin(gaps))
        return int(np.argmin(np.abs(self.shares - share)))


@lru_cache(maxsize=256)
def grid_of(track: Track, steps: int, *pinned: float) -> Grid:
    """Measure an outline at about `steps` places.

    Corners and the `pinned` shares (of hints and shared nodes) are among the places exactly; where there are none, the
    places where it turns most and least are.
    """
    corner_at, breaks = track.corners
    features = np.concatenate([np.mod(pinned, 1.0) if track.closed else pinned, corner_at])
    features = _apart(features if len(features) else _smooth_features(track), 0.25 / steps)
    shares = _places(features, steps, track.closed)
    points = track.sketch(shares)
    turns = turning(track, shares)
    weight = np.clip(np.abs(turns[:, 1]) / np.pi, 0.0, 1.0) * _is_peak(np.abs(turns[:, 1]), track.closed)
    for share, size in zip(corner_at, breaks, strict=True):
        at = np.abs(shares - share) < 0.3 / steps
        weight[at] = np.maximum(weight[at], min(1.0, size / 2.0))
    chord = track.sketch(shares + SCALES[0]) - track.sketch(shares - SCALES[0])
    tangents = chord / np.maximum(np.abs(chord), 1e-12)
    if track.closed:
        weight[-1] = weight[0]
    return Grid(track, shares, points, tangents, turns, weight)


def _smooth_features(track: Track) -> Floats:
    """Where a closed outline without corners turns most and least: shares over one round, from the greatest turn on.

    They hang on neither nodes nor where it lies. Of like turns, and of what is round, the uppermost (then leftmost)
    point is the first.
    """
    if not track.closed:
        return np.zeros(0)
    places = np.arange(SEEN) / SEEN
    seen = track.sketch(places)
    height = -seen.imag - 1e-4 * seen.real
    row = turning(track, places)[:, 1]
    row = row * np.sign(row.sum() + 1e-12)
    uneven = np.abs(row - row.mean()) > UNEVENLY * abs(row.mean())
    most = _is_peak(row, False) & uneven & (row > row.mean())
    least = _is_peak(-row, False) & uneven & (row < row.mean())
    found = np.flatnonzero(most | least)
    if not most.any():
        row, found = height, np.array([np.argmax(height)])
    before, here, after = preceding(row)[found], row[found], following(row)[found]
    curve = before - 2 * here + after
    shares = (found + 0.5 * (before - after) / np.where(curve == 0.0, np.inf, curve)) / SEEN
    plainest = here > here.max() - UNEVENLY * abs(row.mean())
    start = shares[np.argmax(np.where(plainest, height[found], -np.inf))]
    return np.sort(start + np.mod(shares - start, 1.0))


def turning(track: Track, shares: Floats) -> Floats:
    """How much the outline turns at the shares, shape (len(shares), len(SCALES)), radians, at each scale."""
    here = track.sketch(shares)[:, None]
    around = track.sketch(np.concatenate([shares[:, None] + SCALES, shares[:, None] - SCALES], axis=1))
    ahead, behind = around[:, : len(SCALES)] - here, here - around[:, len(SCALES) :]
    turns = np.angle(ahead * np.conj(behind) + 1e-300)
    if not track.closed:  # past an end there is nothing to turn to
        inside = (shares[:, None] > SCALES) & (shares[:, None] < 1.0 - SCALES)
        turns = np.where(inside, turns, 0.0)
    return turns


@lru_cache(maxsize=256)
def bulges(track: Track) -> Floats:
    """Shares at which an outline turns sharply though it has no corner there: peaks at the two finer scales."""
    turns = np.abs(turning(track, np.arange(SEEN) / SEEN))
    found = track.breaks[0].tolist()
    corners = len(found)
    for scale, row in zip(SCALES[:2], turns.T, strict=False):
        before, after = preceding(row), following(row)
        for peak in np.flatnonzero((row >= before) & (row > after) & (row > BULGE)).tolist():
            between = 0.5 * (before[peak] - after[peak]) / (before[peak] - 2 * row[peak] + after[peak])
            share = float((peak + between) / SEEN)
            if all(abs((share - other + 0.5) % 1.0 - 0.5) > scale for other in found):
                found.append(share)
    return np.array(found[corners:])


def _apart(shares: Floats, gap: float) -> Floats:
    """Rising shares with those nearer than `gap` to the one before left out."""
    kept: list[float] = []
    for share in np.sort(shares).tolist():
        if not kept or share - kept[-1] > gap:
            kept.append(share)
    if len(kept) > 1 and kept[0] + 1.0 - kept[-1] <= gap:
        kept.pop()
    return np.array(kept)


def _places(features: Floats, steps: int, closed: bool) -> Floats:
    """About `steps` + 1 even places over one round, with the features among them."""
    if closed:
        first = features[0] if len(features) else 0.0
        stops = np.concatenate([features if len(features) else [0.0], [first + 1.0]])
    else:
        inner = features[(features > 1e-9) & (features < 1 - 1e-9)]
        stops = np.concatenate([[0.0], inner, [1.0]])
    gaps = np.diff(stops)
    counts = np.maximum(1, np.round(gaps * steps)).astype(np.int64)
    rows = [np.linspace(stops[k], stops[k + 1], counts[k] + 1)[:-1] for k in range(len(gaps))]
    return np.concatenate([*rows, stops[-1:]])


def _is_peak(values: Floats, closed: bool) -> Ints:
    """1 where a value is not less than both neighbours, else 0."""
    row = values[:-1] if closed else values
    peak = (row >= preceding(row)) & (row >= following(row))
    return np.append(peak, peak[0]).astype(np.int64) if closed else peak.astype(np.int64)
