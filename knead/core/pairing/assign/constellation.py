"""Places that keep their pattern, as the dots of a screen: that most of them fit is no chance.

Where many are alike, how large each is and what is near it tells less than that.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.pairing.assign.likeness import Form, centres, form_gap, sizeless

FEW, MOST = 4, 0.75  # how many places have to fit, and how many of those of the key that has fewer
CORNERS = 4  # by so many corners of all places a map is told at most
BLUNT = 0.1  # how far off the line between its neighbours a corner lies at least, by the size of all
MANY = 40  # of more, pairs of places are not tried
ALL = 1.0  # so many places it counts that none is left over: else the last would jump over all others
MOVES = 3.0  # so many more places fit, if the whole moves by its size: a ring fits itself after a step
KEPT = 0.15  # how far off a place may be, by how far off the next is
STAYS, LEAVES = 0.3, 0.3  # how much it counts how unlike what stays is, and what it costs to leave a place
SHEARED = 0.6  # the same of those of which each key has many likes: tiles may all be sheared
LIKE = 0.25  # how unlike shapes of one size are that may be one
AS_LARGE = 0.05  # how much larger, by natural logarithm, is as large
GROWS, TURNS = 2.5, np.pi / 3  # how much the whole may grow or shrink, and turn: a pattern may repeat itself

_Ways = Callable[[Complexes, Complexes, NDArray[np.bool_]], tuple[Floats, Ints]]


@dataclass(frozen=True)
class Constellation:
    """How the whole goes, a homography (3, 3), and which shapes of both keys are one by that, (n, m)."""

    map: Floats
    middle: complex
    kept: NDArray[np.bool_]

    def __call__(self, z: Complexes) -> Complexes:
        return _moved(self.map, z)

    def held(self, unlike: Floats) -> Floats:
        """How unlike forms are, (n, m), if what keeps its place is held to be the same, and not to be another."""
        leaves = np.logical_or.outer(self.kept.any(axis=1), self.kept.any(axis=0)) & ~self.kept
        return np.where(self.kept, STAYS * unlike, unlike + LEAVES * leaves)

    @property
    def turn(self) -> float:
        """By how many radians the whole turns, in its middle."""
        return float(_turns(self.map, self.middle))


def constellation(first: Sequence[Form], second: Sequence[Form], unlike: Floats) -> Constellation | None:
    """The motion under which the most places of many likes fit, and they hardly move, if these are most of them.

    `unlike` (n, m) is how unlike forms are, place left aside.
    """
    one, two = sizeless(first), sizeless(second)
    by_form = unlike - form_gap(first, second) + form_gap(one, two)
    plainly = _of_likes(first, second, by_form < LIKE, _plain_ways)
    if plainly is not None:
        return plainly
    many = [(form_gap(side, side) < LIKE).sum(axis=1) > FEW for side in (one, two)]
    return _of_likes(first, second, (by_form < SHEARED) & np.logical_and.outer(*many), _by_corners)


def _of_likes(
    first: Sequence[Form], second: Sequence[Form], like: NDArray[np.bool_], ways: _Ways
) -> Constellation | None:
    """The same of those that may become each other, (n, m), by maps that are told by some of the places."""
    rows, columns = (np.flatnonzero(like.sum(axis=side) >= FEW) for side in (1, 0))
    if min(len(rows), len(columns)) < FEW:
        return None
    like = like[np.ix_(rows, columns)]
    here, there = centres(first)[rows], centres(second)[columns]
    size = float(np.abs(here - here.mean()).max())
    if not size:
        return None
    maps, told_by = ways(here, there, like)
    moved = _moved(maps, here)
    near = KEPT * np.minimum(to_next(here)[:, None], to_next(there))
    fits = like & (np.abs(moved[:, :, None] - there) < near)
    count = fits.sum(axis=(1, 2))
    count = np.where(count < np.maximum(FEW + told_by, MOST * min(like.shape)), -np.inf, count)
    off = moved - here
    shift = off.mean(axis=1)
    moves = (np.abs(shift) + np.abs(off - shift[:, None]).mean(axis=1)) / size
    everyone = np.all(np.any(fits, axis=1), axis=1) & np.all(np.any(fits, axis=2), axis=1)
    best = int(np.argmax(count + ALL * everyone - MOVES * moves)) if len(maps) else 0
    if not len(maps) or np.isinf(count[best]):
        return None
    kept = np.zeros((len(first), len(second)), dtype=bool)
    kept[np.ix_(rows, columns)] = fits[best]
    return Constellation(maps[best], complex(here.mean()), kept)


def _plain_ways(here: Complexes, there: Complexes, like: NDArray[np.bool_]) -> tuple[Floats, Ints]:
    """Maps of all places, and by two of them; and by how many each is told, which fit by choice."""
    wholly, by_two = _as_the_whole(here, there), _by_two(here, there, like)
    return np.concatenate([wholly, by_two]), np.repeat([0, 2], [len(wholly), len(by_two)])


def _as_the_whole(here: Complexes, there: Complexes) -> Floats:
    """Maps of all places, one each matrix: none, by their middle, by either corner, and stretched into their box."""
    (low, high), (left, right) = ((_corner(side, np.min), _corner(side, np.max)) for side in (here, there))
    spans = high - low, right - left
    wide, tall = (b / a if a > 0 else 1.0 for a, b in zip(*((s.real, s.imag) for s in spans), strict=True))
    a, c = (wide + tall) / 2, (wide - tall) / 2
    shifts = [0j, complex(there.mean() - here.mean()), left - low, right - high]
    return _affine(np.array([*([1.0, by, 0.0] for by in shifts), [a, left - a * low - c * np.conj(low), c]]))


def _corner(places: Complexes, pick: Callable[[Floats], Floats]) -> complex:
    return complex(pick(places.real) + 1j * pick(places.imag))


def _by_two(here: Complexes, there: Complexes, like: NDArray[np.bool_]) -> Floats:
    """Maps that take two places far apart to any two, one each matrix; and two others, if either of these is lone."""
    if max(like.shape) > MANY:
        return np.zeros((0, 3, 3))
    every = np.arange(len(here))
    ends = _farthest(here, every)
    maps = [np.zeros((0, 3), dtype=complex)]
    for i, j in (ends, *(_farthest(here, np.delete(every, end)) for end in ends)):
        if here[i] == here[j]:
            continue
        k, m = np.nonzero(np.logical_and.outer(like[i], like[j]) & ~np.eye(len(there), dtype=bool))
        a = (there[m] - there[k]) / (here[j] - here[i])
        fair = (np.abs(np.log(np.abs(a) + 1e-12)) < np.log(GROWS)) & (np.abs(np.angle(a)) < TURNS)
        maps.append(np.stack([a, there[k] - a * here[i], 0.0 * a], axis=1)[fair])
    return _affine(np.concatenate(maps))


def _by_corners(here: Complexes, there: Complexes, _: NDArray[np.bool_]) -> tuple[Floats, Ints]:
    """Maps that take the corners of all places to those of the others: a floor seen otherwise; and how many tell."""
    one, two = (_corners(places) for places in (here, there))
    if len(one) != len(two) or not 3 <= len(one) <= CORNERS:
        return np.zeros((0, 3, 3)), np.zeros(0, dtype=int)
    maps = np.stack([_homography(one, np.roll(two, k)) for k in range(len(two))])
    maps = maps[np.abs(_turns(maps, complex(here.mean()))) < TURNS]
    return maps, np.full(len(maps), len(one))


def _corners(places: Complexes) -> Complexes:
    """The corners of the hull of places, counterclockwise, without blunt ones."""
    hull = shapely.convex_hull(shapely.MultiPoint(as_points(places)))
    if hull.geom_type != "Polygon":
        return np.zeros(0, dtype=complex)
    ring = as_complex(shapely.get_coordinates(hull))[:-1]
    ring = ring if (ring.conj() * np.roll(ring, -1)).imag.sum() > 0 else ring[::-1]
    while len(ring) > 3:
        before, after = np.roll(ring, 1), np.roll(ring, -1)
        off = np.abs(((after - before).conj() * (ring - before)).imag / np.abs(after - before))
        if off.min() > BLUNT * np.sqrt(hull.area):
            break
        ring = np.delete(ring, np.argmin(off))
    return ring


def _homography(one: Complexes, two: Complexes) -> Floats:
    """The homography, or of three places the affine map, that takes some places the nearest to others (DLT)."""
    x, y, ones, none = one.real, one.imag, np.ones(len(one)), np.zeros((len(one), 3))
    plain = np.stack([x, y, ones], axis=1)
    rows = []
    for own, target in ((0, two.real), (1, two.imag)):
        linear = [plain, none] if own == 0 else [none, plain]
        deep = -target[:, None] * plain[:, :2] if len(one) > 3 else none[:, :2]
        rows.append(np.concatenate([*linear, deep], axis=1))
    found = np.linalg.lstsq(np.concatenate(rows), np.concatenate([two.real, two.imag]), rcond=None)[0]
    return np.append(found, 1.0).reshape(3, 3)


def _affine(maps: NDArray[np.complex128]) -> Floats:
    """The maps z -> a z + b + c conj(z), rows (a, b, c), as homographies, shape (n, 3, 3)."""
    a, b, c = maps.T
    rows = [
        [(a + c).real, (c - a).imag, b.real],
        [(a + c).imag, (a - c).real, b.imag],
        [0.0 * a.real, 0.0 * a.real, np.ones(len(a))],
    ]
    return np.moveaxis(np.array(rows, dtype=float), 2, 0)


def _moved(maps: Floats, z: Complexes) -> Complexes:
    """Where homographies take places, shape (…, n)."""
    x, y, w = np.moveaxis(maps @ np.stack([z.real, z.imag, np.ones(len(z))]), -2, 0)
    return np.asarray((x + 1j * y) / np.where(np.abs(w) < 1e-9, 1e-9, w))


def _turns(maps: Floats, middle: complex) -> Floats:
    """By how many radians homographies turn what is about a place, shape (…)."""
    here, right, below = np.moveaxis(_moved(maps, middle + np.array([0.0, 1e-3, 1e-3j])), -1, 0)
    return np.asarray(np.angle(right - here + (below - here) / 1j), dtype=float)


def _farthest(places: Complexes, of: Ints) -> tuple[int, int]:
    """Which two of these places are the farthest apart."""
    apart = np.abs(places[of, None] - places[of])
    i, j = np.unravel_index(np.argmax(apart), apart.shape)
    return int(of[i]), int(of[j])


def to_next(places: Complexes) -> Floats:
    """How far off the next place is."""
    apart = np.abs(places[:, None] - places)
    np.fill_diagonal(apart, np.inf)
    return np.asarray(apart.min(axis=1))


def exchanged(first: Sequence[Form], second: Sequence[Form]) -> bool:
    """Whether both keys have the very same sizes."""
    one, two = (np.sort(np.log([form.size + 1e-9 for form in side])) for side in (first, second))
    return len(one) == len(two) and bool(np.abs(one - two).max() < AS_LARGE)
