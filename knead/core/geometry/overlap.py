"""What two filled areas have in common, and what of a line lies in one, bounded by stretches of their own Béziers."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, reduce
from itertools import combinations

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Floats, cut, evened, points_at, straight
from knead.core.geometry.parting import oriented
from knead.core.geometry.similarity import as_complex, as_points

CHORDS = 32  # a segment, among which crossings are sought
PLACES = 48  # of a segment, by which it is told what lies within
ALONG = 1e-6  # chords that are nearer to one line than this share of the whole run along each other
EXACT = 1e-7  # how near, by that, a crossing must be found
HAIR = 1.0002  # so many times as large is what is a hair larger
ROUNDS = 6


class NotToldApart(ValueError):
    """Outlines run along each other, or cross themselves, so that where they cross does not tell what lies within."""


@dataclass(frozen=True, eq=False)
class _Stretch:
    """What of a path lies between two crossings, by their numbers."""

    path: Floats
    start: int
    end: int
    middle: Floats


@dataclass(frozen=True, eq=False)
class Area:
    """What outlines fill, holes among them: closed paths, shape (segments, 4, 2)."""

    outlines: tuple[Floats, ...]

    @cached_property
    def paths(self) -> list[Floats]:
        """The outlines, straight segments run through evenly, holes the other way round."""
        return oriented([evened(path) for path in self.outlines])

    @cached_property
    def place(self) -> shapely.Geometry:
        """The area, its outlines seen at PLACES. Raises NotToldApart where they cross themselves, or each other."""
        areas = [shapely.Polygon(_seen(path)) for path in self.outlines]
        if not all(map(shapely.is_valid, areas)):
            raise NotToldApart
        if any(shapely.intersects(one.boundary, other.boundary) for one, other in combinations(areas, 2)):
            raise NotToldApart
        return reduce(shapely.symmetric_difference, areas)

    @cached_property
    def hair_larger(self) -> "Area":
        """The same, a hair larger about its middle: what ran along it inside does not."""
        corners = np.concatenate([path.reshape(-1, 2) for path in self.outlines])
        middle = 0.5 * (corners.min(axis=0) + corners.max(axis=0))
        return Area(tuple(middle + HAIR * (path - middle) for path in self.outlines))

    def holds(self, paths: Sequence[Floats], filled: bool) -> bool:
        """Whether paths, or all that they enclose, lie in it wholly; they may run along its edge.

        Raises NotToldApart.
        """
        near = ALONG * float(np.ptp(np.concatenate([path.reshape(-1, 2) for path in self.outlines]), axis=0).max())
        rows = [_seen(path) for path in paths]
        areas = [shapely.make_valid(shapely.Polygon(row)) for row in rows] if filled else []
        own = shapely.union_all(areas) if filled else shapely.MultiLineString(rows)
        return bool(self.place.buffer(near).covers(own))


def common_area(one: Area, two: Area) -> list[Floats]:
    """The outlines of what lies within both areas, closed paths (segments, 4, 2), holes among them.

    Raises NotToldApart.
    """
    found: list[Floats] = []
    kept: dict[int, _Stretch] = {}
    params = _crossings(one.paths, two.paths)
    for side, (own_area, other) in enumerate(((one, two.place), (two, one.place))):
        for k, path in enumerate(own_area.paths):
            own = {number: place[side][1] for number, place in enumerate(params) if place[side][0] == k}
            if not own and _is_within(points_at(path, np.array([0.5]))[0], other):
                found.append(_plain(path))
            for stretch in _stretches(path, own) if own else []:
                if _is_within(stretch.middle, other):
                    if stretch.start in kept:
                        raise NotToldApart
                    kept[stretch.start] = stretch
    while kept:
        here = start = next(iter(kept))
        pieces = []
        while here in kept:
            stretch = kept.pop(here)
            pieces.append(stretch.path)
            here = stretch.end
        if here != start:
            raise NotToldApart
        found.append(_joined(pieces))
    return found


def line_within(line: Floats, closed: bool, area: Area) -> list[Floats]:
    """The stretches of a line, shape (segments, 4, 2), that lie within an area. Raises NotToldApart."""
    even = evened(line)
    params = [place[0][1] for place in _crossings([even], area.paths)]
    if not params:
        return [line] if _is_within(points_at(line, np.array([0.5]))[0], area.place) else []
    own = dict(enumerate(params))
    if not closed:
        own |= {-1: 0.0, -2: float(len(line))}
    stretches = _stretches(even, own)
    return [_plain(s.path) for s in (stretches if closed else stretches[:-1]) if _is_within(s.middle, area.place)]


def _seen(path: Floats) -> Floats:
    return points_at(path, np.linspace(0.0, len(path), PLACES * len(path) + 1))


def _is_within(point: Floats, area: shapely.Geometry) -> bool:
    return bool(shapely.contains_xy(area, *point))


def _stretches(path: Floats, params: dict[int, float]) -> list[_Stretch]:
    """A closed path cut at numbered parameters, from the first of them on."""
    numbers = sorted(params, key=lambda number: params[number])
    found = []
    for number, after in zip(numbers, [*numbers[1:], numbers[0]], strict=True):
        a, b = params[number], params[after]
        b += len(path) if after == numbers[0] else 0.0
        inner = np.arange(np.floor(a) + 1, np.ceil(b))
        middle = points_at(path, np.mod(np.array([0.5 * (a + b)]), len(path)))[0]
        found.append(_Stretch(cut(path, np.concatenate([[a], inner, [b]])), number, after, middle))
    return found


def _joined(pieces: list[Floats]) -> Floats:
    """Stretches that follow each other as one path, each beginning where the one before ends."""
    found = np.concatenate(pieces)
    found[:, 0] = np.roll(found[:, 3], 1, axis=0)
    return _plain(found)


def _plain(path: Floats) -> Floats:
    """The same path, the handles of straight segments at their ends: that is how a line is drawn."""
    which, found = straight(path), path.copy()
    found[which, 1], found[which, 2] = path[which, 0], path[which, 3]
    return found


def _crossings(one: Sequence[Floats], two: Sequence[Floats]) -> list[tuple[tuple[int, float], tuple[int, float]]]:
    """Where paths of one side cross paths of the other: which path, and its parameter there, of each side."""
    size = float(np.ptp(np.concatenate([path.reshape(-1, 2) for path in (*one, *two)]), axis=0).max())
    found = []
    for i, own in enumerate(one):
        for j, other in enumerate(two):
            found += [((i, s), (j, t)) for s, t in _met(own, other, size)]
    return found


def _met(one: Floats, two: Floats, size: float) -> list[tuple[float, float]]:
    """Parameters of two paths at which they cross."""
    (params, own), (others, other) = _chords(one), _chords(two)
    sides = [shapely.linestrings(as_points(np.stack([row[:-1], row[1:]], axis=1))) for row in (own, other)]
    rows, columns = shapely.STRtree(sides[1]).query(sides[0], predicate="dwithin", distance=ALONG * size)
    r, s, gap = own[rows + 1] - own[rows], other[columns + 1] - other[columns], other[columns] - own[rows]
    turn = _cross(r, s)
    flat = np.abs(turn) <= ALONG * np.abs(r) * np.abs(s)
    ahead = [np.real(way * r.conj()) / np.maximum(np.abs(r) ** 2, 1e-300) for way in (gap, gap + s)]
    if (flat & (np.abs(r) > 0.0) & (np.maximum(*ahead) > 0.0) & (np.minimum(*ahead) < 1.0)).any():
        raise NotToldApart
    turn = np.where(flat, 1.0, turn)
    u, v = _cross(gap, s) / turn, _cross(gap, r) / turn
    met = ~flat & (u >= 0.0) & (u < 1.0) & (v >= 0.0) & (v < 1.0)
    here = params[rows] + u * (params[rows + 1] - params[rows])
    there = others[columns] + v * (others[columns + 1] - others[columns])
    return [_exactly(one, two, a, b, size) for a, b in zip(here[met].tolist(), there[met].tolist(), strict=True)]


def _exactly(one: Floats, two: Floats, a: float, b: float, size: float) -> tuple[float, float]:
    """Parameters at which two paths meet, from such that are near, by Newton's method. Raises NotToldApart.

    Chords may meet on one side of a node, and what they stand for on the other.
    """
    k, n = min(int(a), len(one) - 1), min(int(b), len(two) - 1)
    s, t = a - k, b - n
    for _ in range(ROUNDS):
        (k, s), (n, t) = _on_its_segment(one, k, s), _on_its_segment(two, n, t)
        p, q = as_complex(one[k]), as_complex(two[n])
        (x, dx), (y, dy) = _at(p, s), _at(q, t)
        gap, turn = (y - x).conjugate(), (dx.conjugate() * dy).imag
        if turn == 0.0:
            raise NotToldApart
        s, t = s + (gap * dy).imag / turn, t + (gap * dx).imag / turn
    s, t = min(max(s, 0.0), 1.0), min(max(t, 0.0), 1.0)
    if abs(_at(p, s)[0] - _at(q, t)[0]) > EXACT * size:
        raise NotToldApart
    return k + s, n + t


def _on_its_segment(path: Floats, k: int, t: float) -> tuple[int, float]:
    """A parameter of a segment, or where it leaves that, the nearest end of the next, if there is one."""
    if 0.0 <= t <= 1.0:
        return k, t
    beyond = k + (1 if t > 1.0 else -1)
    goes_round = np.array_equal(path[0, 0], path[-1, 3])
    if not goes_round and not 0 <= beyond < len(path):
        return k, t
    return beyond % len(path), 0.0 if t > 1.0 else 1.0


def _at(p: Complexes, t: float) -> tuple[complex, complex]:
    """A point of a cubic, and its derivative."""
    u = 1.0 - t
    point = u**3 * p[0] + 3 * u * u * t * p[1] + 3 * u * t * t * p[2] + t**3 * p[3]
    return complex(point), complex(3 * (u * u * (p[1] - p[0]) + 2 * u * t * (p[2] - p[1]) + t * t * (p[3] - p[2])))


def _chords(path: Floats) -> tuple[Floats, Complexes]:
    """Parameters of a path between which it is seen as chords, and its points there, shapes (chords + 1,)."""
    counts = np.where(straight(path), 1, CHORDS)
    segment = np.repeat(np.arange(len(path)), counts)
    along = (np.arange(len(segment)) - (np.cumsum(counts) - counts)[segment]) / counts[segment]
    params = np.append(segment + along, float(len(path)))
    return params, as_complex(points_at(path, params))


def _cross(a: Complexes, b: Complexes) -> Floats:
    return np.asarray((np.conj(a) * b).imag, dtype=float)
