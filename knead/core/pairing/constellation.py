"""Places that keep their pattern, as the dots of a screen: that most of them fit is no chance.

Where many are alike, how large each is and what is near it tells less than that.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.pairing.likeness import Form, centres, form_gap, sizeless

FEW, MOST = 4, 0.75  # how many places have to fit, and how many of those of the key that has fewer
BESIDES = 2  # so many fit by choice if a map is told by two of them
MANY = 40  # of more, pairs of places are not tried
MOVES = 3.0  # so many more places fit, if the whole moves by its size: a ring fits itself after a step
KEPT = 0.15  # how far off a place may be, by how far off the next is
STAYS, LEAVES = 0.3, 0.3  # how much it counts how unlike what stays is, and what it costs to leave a place
LIKE = 0.25  # how unlike shapes of one size are that may be one
AS_LARGE = 0.05  # how much larger, by natural logarithm, is as large
GROWS, TURNS = 2.5, np.pi / 3  # how much the whole may grow or shrink, and turn: a pattern may repeat itself


@dataclass(frozen=True)
class Constellation:
    """How the whole goes, z -> a z + b + c conj(z), and which shapes of both keys are one by that, (n, m)."""

    a: complex
    b: complex
    c: complex
    kept: NDArray[np.bool_]

    def __call__(self, z: Complexes) -> Complexes:
        return np.asarray(self.a * z + self.b + self.c * np.conj(z), dtype=complex)

    def held(self, unlike: Floats) -> Floats:
        """How unlike forms are, (n, m), if what keeps its place is held to be the same, and not to be another."""
        leaves = np.logical_or.outer(self.kept.any(axis=1), self.kept.any(axis=0)) & ~self.kept
        return np.where(self.kept, STAYS * unlike, unlike + LEAVES * leaves)

    @property
    def turn(self) -> float:
        """By how many radians the whole turns."""
        return float(np.angle(self.a))


def constellation(first: Sequence[Form], second: Sequence[Form], unlike: Floats) -> Constellation | None:
    """The motion under which the most places of many likes fit, and they hardly move, if these are most of them.

    `unlike` (n, m) is how unlike forms are, place left aside.
    """
    like = _likes(first, second, unlike)
    rows, columns = (np.flatnonzero(like.sum(axis=side) >= FEW) for side in (1, 0))
    if min(len(rows), len(columns)) < FEW:
        return None
    like = like[np.ix_(rows, columns)]
    here, there = centres(first)[rows], centres(second)[columns]
    size = float(np.abs(here - here.mean()).max())
    if not size:
        return None
    wholly, by_two = _as_the_whole(here, there), _by_two(here, there, like)
    maps = np.concatenate([wholly, by_two])
    moved = maps[:, :1] * here + maps[:, 1:2] + maps[:, 2:] * np.conj(here)
    near = KEPT * np.minimum(_next(here)[:, None], _next(there))
    fits = like & (np.abs(moved[:, :, None] - there) < near)
    count = fits.sum(axis=(1, 2))
    needed = np.repeat([FEW, FEW + BESIDES], [len(wholly), len(by_two)])
    count = np.where(count < np.maximum(needed, MOST * min(like.shape)), -np.inf, count)
    off = moved - here
    shift = off.mean(axis=1)
    moves = (np.abs(shift) + np.abs(off - shift[:, None]).mean(axis=1)) / size
    best = int(np.argmax(count - MOVES * moves))
    if np.isinf(count[best]):
        return None
    kept = np.zeros((len(first), len(second)), dtype=bool)
    kept[np.ix_(rows, columns)] = fits[best]
    a, b, c = maps[best].tolist()
    return Constellation(a, b, c, kept)


def _likes(first: Sequence[Form], second: Sequence[Form], unlike: Floats) -> NDArray[np.bool_]:
    """Which are hardly unlike, if their sizes are left aside."""
    return np.asarray(unlike - form_gap(first, second) + form_gap(sizeless(first), sizeless(second)) < LIKE)


def _as_the_whole(here: Complexes, there: Complexes) -> Complexes:
    """Maps of all places, one each row: none, by their middle, by either corner, and stretched into their box."""
    (low, high), (left, right) = ((_corner(side, np.min), _corner(side, np.max)) for side in (here, there))
    spans = high - low, right - left
    wide, tall = (b / a if a > 0 else 1.0 for a, b in zip(*((s.real, s.imag) for s in spans), strict=True))
    a, c = (wide + tall) / 2, (wide - tall) / 2
    shifts = [0j, complex(there.mean() - here.mean()), left - low, right - high]
    return np.array([*([1.0, by, 0.0] for by in shifts), [a, left - a * low - c * np.conj(low), c]])


def _corner(places: Complexes, pick: Callable[[Floats], Floats]) -> complex:
    return complex(pick(places.real) + 1j * pick(places.imag))


def _by_two(here: Complexes, there: Complexes, like: NDArray[np.bool_]) -> Complexes:
    """Maps that take two places far apart to any two, one each row; and two others, if either of these is lone."""
    if max(like.shape) > MANY:
        return np.zeros((0, 3), dtype=complex)
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
    return np.concatenate(maps)


def _farthest(places: Complexes, of: Ints) -> tuple[int, int]:
    """Which two of these places are the farthest apart."""
    apart = np.abs(places[of, None] - places[of])
    i, j = np.unravel_index(np.argmax(apart), apart.shape)
    return int(of[i]), int(of[j])


def _next(places: Complexes) -> Floats:
    """How far off the next place is."""
    apart = np.abs(places[:, None] - places)
    np.fill_diagonal(apart, np.inf)
    return np.asarray(apart.min(axis=1))


def exchanged(first: Sequence[Form], second: Sequence[Form]) -> bool:
    """Whether both keys have the very same sizes."""
    one, two = (np.sort(np.log([form.size + 1e-9 for form in side])) for side in (first, second))
    return len(one) == len(two) and bool(np.abs(one - two).max() < AS_LARGE)
