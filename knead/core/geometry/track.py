"""An outline measured along its length: where is the point at a share of it, and where on it is a point."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from knead.core.geometry.bezier import (
    Complexes,
    Floats,
    area,
    bernstein,
    evened,
    gone,
    path_of,
    points_at,
    preceding,
    reversed_path,
    within,
)
from knead.core.geometry.feet import feet
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.model import Contour

STEPS = 16  # measured stretches a segment
T = np.linspace(0.0, 1.0, 2 * STEPS + 1)
BASIS = bernstein(T)
SPEED_BASIS = 3 * np.stack([(1 - T) ** 2, 2 * (1 - T) * T, T**2])  # of the derivative, shape (3, 33)
DENSE = 512  # points that stand for an outline
HARDLY, FEW = 1e-4, 0.01  # a segment shorter than this share of the whole, and of an even part, is hardly there
AROUND = np.linspace(-1.0, 1.0, 21)  # where about a point a nearer one is looked for
MEETS = 0.01  # how near to its beginning, by its length, a line ends that is a ring
HALF_ROUND, ONCE_ROUND = 2.5, 6.6  # radians that what is most of a ring goes round, at least and at most
AT_END, TOUCHES = 0.15, 0.04  # shares of its length: what is no end of it, and how far that is from its ends at least
OPEN, BULGES = 0.45, 1.03  # how far apart its ends are at most, by its length; or how much wider it is than that
SEEN = np.linspace(0.0, 1.0, 129)  # places at which an outline is seen
CORNER = 0.35  # radians of tangent break from which a node counts as a corner


@dataclass(frozen=True, eq=False)
class Track:
    """A path with its arc length. Places along it are *shares* of the whole length, 0 to 1.

    What was measured of it once is kept with it.
    """

    path: Floats
    closed: bool
    params: Floats
    lengths: Floats

    @property
    def length(self) -> float:
        """Whole length in scene units."""
        return float(self.lengths[-1])

    @property
    def is_ring(self) -> bool:
        """Whether it is closed, or a line that ends where it began: perhaps one that was drawn in several strokes."""
        return self.closed or float(np.linalg.norm(self.path[0, 0] - self.path[-1, 3])) <= MEETS * self.length

    @cached_property
    def is_open_ring(self) -> bool:
        """Whether it is a line that is most of a ring, as a C: it goes round, and its ends are near each other.

        Or it goes out beyond them, as no smile does.
        """
        way = complex(*(self.path[-1, 3] - self.path[0, 0]))
        z = self.sketch(SEEN)
        steps = np.diff(z)
        round_about = abs(float(np.angle(steps[1:] * np.conj(steps[:-1]) + 1e-300).sum()))
        if self.is_ring or not HALF_ROUND < round_about < ONCE_ROUND:
            return False
        inner = z[(SEEN > AT_END) & (SEEN < 1.0 - AT_END)]  # a 6 ends on itself
        if np.abs(inner - z[[[0], [-1]]]).min() < TOUCHES * self.length:
            return False
        width = float(np.ptp((z * np.conj(way)).real)) / max(abs(way), 1e-300)
        return abs(way) < OPEN * self.length or BULGES * abs(way) < width

    @cached_property
    def inside(self) -> float:
        """The area within, negative where it runs round the other way."""
        return area(self.path)

    @cached_property
    def nodes(self) -> Floats:
        """The shares of the nodes, the end of an open path included."""
        found = self.lengths[::STEPS] / max(self.length, 1e-300)
        return found[:-1] if self.closed else found

    def shares(self, params: Floats) -> Floats:
        """Shares at parameters. Parameters beyond the end of a closed path give shares above 1."""
        turns = np.floor(params / len(self.path)) if self.closed else np.zeros_like(params)
        return self._lengths(params - turns * len(self.path)) / max(self.length, 1e-300) + turns

    def params_at(self, shares: Floats) -> Floats:
        """Parameters at shares. Shares outside 0..1 go round a closed path, and stop at the ends of an open one."""
        turns = np.floor(shares) if self.closed else np.zeros_like(shares)
        return self._params((shares - turns) * self.length) + turns * len(self.path)

    def _lengths(self, params: Floats) -> Floats:
        """Lengths from the start at parameters. Within a measured stretch the speed is taken as a parabola.

        So a straight segment, which may be run through unevenly, is measured exactly.
        """
        steps = params * STEPS
        at = within(steps.astype(np.int64), 0, len(self.lengths) - 2)
        start, rise, bow, whole = self._speeds[:, at]
        x = within(steps - at, 0.0, 1.0)
        share = ((bow * x + rise) * x + start) * x / np.maximum(whole, 1e-300)
        return np.asarray(self.lengths[at] + share * (self.lengths[at + 1] - self.lengths[at]))

    def _params(self, lengths: Floats) -> Floats:
        """Parameters at lengths from the start: the inverse of `_lengths`."""
        at = np.searchsorted(self.lengths[1:-1], lengths, side="right")
        start, rise, bow, whole = self._speeds[:, at]
        before = self.lengths[at]
        size = self.lengths[at + 1] - before
        wanted = within((lengths - before) / np.where(size > 0, size, 1.0), 0.0, 1.0) * whole
        # first as if the speed changed evenly, then by Newton's method
        end = start + 2 * rise + 3 * bow
        even = wanted * (start + end) / np.maximum(2 * whole, 1e-300)
        root = np.sqrt(np.maximum(start**2 + 2 * (end - start) * even, 0.0))
        x = np.minimum(2 * even / np.maximum(start + root, 1e-300), 1.0)
        least = 1e-9 * whole + 1e-300
        for _ in range(2):
            off = ((bow * x + rise) * x + start) * x - wanted
            speed = (3 * bow * x + 2 * rise) * x + start
            x = within(x - off / np.maximum(speed, least), 0.0, 1.0)
        return np.asarray((at + x) / STEPS)

    @cached_property
    def _speeds(self) -> Floats:
        """How far one has gone at the share x of each measured stretch is start x + rise x^2 + bow x^3.

        So it is where the speed is a parabola through that at the start, the middle and the end. Shape (4, stretches),
        the last row the whole.
        """
        z = as_complex(self.path)
        speeds = np.abs((z[:, 1:] - z[:, :-1]) @ SPEED_BASIS)
        start, middle, end = (speeds[:, k : k + 2 * STEPS - 1 : 2].ravel() for k in range(3))
        rise, bow = 0.5 * (4 * middle - 3 * start - end), 2 / 3 * (start + end - 2 * middle)
        return np.array([start, rise, bow, (start + 4 * middle + end) / 6])

    def points(self, shares: Floats) -> Floats:
        """Points at shares, shape (len(shares), 2)."""
        params = self.params_at(shares)
        return points_at(self.path, np.mod(params, len(self.path)) if self.closed else params)

    @cached_property
    def breaks(self) -> tuple[Floats, Complexes, Complexes]:
        """The nodes where the outline breaks: their shares, and its directions into and out of them, of length 1."""
        return self.breaks_over(CORNER)

    def breaks_over(self, least: float) -> tuple[Floats, Complexes, Complexes]:
        """The same of nodes where it breaks by more than this, in radians.

        Segments that are hardly there, as tools leave them, have none.
        """
        kept = np.diff(self.lengths[::STEPS]) >= min(HARDLY, FEW / len(self.path)) * self.length
        path, starts = self.path[kept], self.lengths[:-1:STEPS][kept] / max(self.length, 1e-300)
        out, back = _direction(path, (1, 2, 3), 0), _direction(path, (2, 1, 0), 3)
        into = -preceding(back) if self.closed else -back[:-1]
        out, nodes = (out, starts) if self.closed else (out[1:], starts[1:])
        sharp = np.abs(np.angle(out * np.conj(into) + 0j)) > least  # 0 where either has no direction
        return nodes[sharp], into[sharp], out[sharp]

    @property
    def corners(self) -> tuple[Floats, Floats]:
        """Shares of the nodes where the outline breaks, and the breaks in radians (unsigned)."""
        shares, into, out = self.breaks
        return shares, np.abs(np.angle(out * np.conj(into)))

    @cached_property
    def turning(self) -> float:
        """How much it turns to and fro in all, in radians, seen at 128 steps."""
        steps = np.diff(self.sketch(SEEN))
        around = np.append(steps, steps[:1]) if self.closed else steps
        return float(np.abs(np.angle(around[1:] * np.conj(around[:-1]) + 1e-300)).sum())

    @cached_property
    def backwards(self) -> "Track":
        """The same outline run through from its end."""
        return measure(reversed_path(self.path), self.closed)

    @cached_property
    def samples(self) -> tuple[Floats, Complexes]:
        """At least DENSE points, the nodes among them, and their shares of the length."""
        parts = -(-DENSE // (STEPS * len(self.path)))
        path = as_complex(self.path)
        points = np.concatenate([(path @ _even_basis(STEPS * parts)).ravel(), path[-1:, 3]])
        chords = np.abs(points[1:] - points[:-1]).reshape(-1, parts)
        whole = chords.sum(axis=1)
        chords *= ((self.lengths[1:] - self.lengths[:-1]) / np.where(whole > 0, whole, 1.0))[:, None]
        return gone(chords.ravel()) / max(self.length, 1e-300), points

    def sketch(self, shares: Floats) -> Complexes:
        """Points at shares as complex numbers, to within a chord between two samples: for measuring, not drawing."""
        places, points = self.samples
        return np.asarray(np.interp(np.mod(shares, 1.0) if self.closed else shares, places, points), dtype=complex)

    def turned(self, angle: float) -> "Track":
        """The same outline turned by an angle, in radians, about the origin."""
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        return Track(self.path @ turn.T, self.closed, self.params, self.lengths)

    def mirrored(self) -> "Track":
        """The outline's mirror image on the other side of the line through its ends, or of a level one if they meet."""
        z = as_complex(self.path)
        start, step = z[0, 0], z[-1, 3] - z[0, 0]
        over = step / np.conj(step) if step else 1.0
        return Track(as_points(start + over * np.conj(z - start)), self.closed, self.params, self.lengths)

    def nearest(self, point: Floats) -> tuple[float, float]:
        """The parameter of the nearest point, and its distance: by chords, then by ever finer stretches.

        Where an outline passes a place again, as a line that goes there and back, the first time counts. Samples alone
        would not tell the two sides of a bar that is thinner than they lie apart.
        """
        there = complex(*point.tolist())
        chords = np.stack([self._measured[:-1], self._measured[1:]], axis=1)
        (along,), (away,) = feet(np.array([there]), chords)
        chord = int(np.argmax(away <= away.min() * (1 + 1e-9) + 1e-9))
        best = self.params[chord] + along[chord] * (self.params[chord + 1] - self.params[chord])
        count, step, distance = len(self.path), 1.0 / STEPS, np.inf
        for _ in range(5):
            grid = best + step * AROUND
            grid = np.mod(grid, count) if self.closed else within(grid, 0.0, count)
            at = np.minimum(grid.astype(np.int64), count - 1)
            t, (a, b, c, d) = grid - at, self._powers[:, at]
            gaps = np.abs(((d * t + c) * t + b) * t + a - there)
            k = int(np.argmin(gaps))
            best, distance, step = grid[k], float(gaps[k]), step / 10.0
        return float(best), distance

    @cached_property
    def _measured(self) -> Complexes:
        """The points at its measured parameters."""
        return as_complex(points_at(self.path, self.params))

    @cached_property
    def _powers(self) -> Complexes:
        """Factors of the powers of t of each segment, from t^0 on, shape (4, segments)."""
        p, q, r, s = as_complex(self.path).T
        return np.array([p, 3 * (q - p), 3 * (p - 2 * q + r), s - 3 * r + 3 * q - p])


def measure(path: Floats, closed: bool) -> Track:
    """Measure a path, shape (segments, 4, 2). However it is cut into segments, its length is the same to about 1e-6.

    Chords and half chords give the length by Richardson extrapolation.
    """
    params = np.arange(len(path) * STEPS + 1) / STEPS
    z = as_complex(path) @ BASIS
    halves = np.abs(z[:, 1:] - z[:, :-1])
    chords = np.abs(z[:, 2::2] - z[:, :-2:2])
    lengths = (4.0 * (halves[:, ::2] + halves[:, 1::2]) - chords) / 3.0
    return Track(path, closed, params, gone(lengths.ravel()))


@lru_cache(maxsize=1024)
def track_of(contour: Contour) -> Track:
    """Measure a contour. The latest are kept: pairing, matching and looking for snags all go by the same ones."""
    return measure(path_of(contour), contour.closed)


@lru_cache(maxsize=1024)
def even_track(contour: Contour) -> Track:
    """A contour measured with its straight segments run through evenly, for cutting: halves of two lines must agree.

    A line whose handles stand at its ends is run through slowly there. Cut and laid on one that is not, it would bend.
    """
    track = track_of(contour)
    path = evened(track.path)
    return track if path is track.path else measure(path, contour.closed)


@lru_cache
def _even_basis(count: int) -> Floats:
    return bernstein(np.arange(count) / count)


def _direction(path: Floats, order: tuple[int, ...], start: int) -> Complexes:
    """Unit directions away from control point `start`, by the first control point in `order` that differs from it."""
    z = as_complex(path)
    size = max(float(np.ptp(path[..., 0])), float(np.ptp(path[..., 1])), 1e-12)
    found = np.zeros(len(z), dtype=complex)
    for k in order:
        step = z[:, k] - z[:, start]
        usable = (np.abs(found) == 0) & (np.abs(step) > 1e-9 * size)
        found = np.where(usable, step / np.maximum(np.abs(step), 1e-300), found)
        if np.all(found):
            break
    return found
