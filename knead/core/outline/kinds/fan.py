"""A form that opens like a fan: a slice of a pie or a ring that grows, a mouth that opens about its corner.

All of it stays as far from one point as it was, but turns about that by more at one side than at the other.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import product

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, bernstein, preceding, segments_of
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track

AS_FAR = 0.01  # how far off its way round, by the size of the form, a point may be
TOLD = 0.05  # by how much less a centre may be told one way than the other
TIP = 0.05  # what is nearer to the centre, by that size, does not tell how it turns
OPENS, OPENS_A_SLICE = 0.15, 0.002  # by how many radians one side must turn against the other
BACKWARDS = 0.01  # how much of what goes round the centre may go round the other way at the other key
STEP = 1.2  # radians by which points that follow each other may turn against each other
FEWEST, MOST = 3, 8  # so many corners it has
BETWEEN = np.linspace(0.0, 1.0, 9)[:-1]
QUARTERS = np.array([0.0, 0.25, 0.5, 0.75])


@dataclass(frozen=True, eq=False)
class Fan:
    """The centres at the keys, and by how much node triples turn about them, in radians, shape (nodes, 3)."""

    first: complex
    second: complex
    turns: Floats

    def at(self, first: Complexes, second: Complexes, times: Floats) -> Complexes:
        """Node triples at the times, shape (len(times), nodes * 3); at the keys they are `first` and `second`.

        Nodes go round the centre, and handles go and turn with them.
        """
        one, two = first.reshape(-1, 3), second.reshape(-1, 3)
        t = np.array([0.0, *times, 1.0])[:, None, None]
        turned = np.exp(1j * t * self.turns)
        own, there = one[:, 1:2] - self.first, two[:, 1:2] - self.second
        grown = np.abs(there) / np.where(np.abs(own) > 0.0, np.abs(own), 1.0)
        nodes = self.first + t * (self.second - self.first) + own * (1.0 + t * (grown - 1.0)) * turned[:, :, 1:2]
        handles = [side - side[:, 1:2] for side in (one, two)]
        rows = nodes + turned * ((1.0 - t) * handles[0] + t * handles[1] * np.exp(-1j * self.turns))
        rows, t = rows.reshape(len(rows), -1), t[1:-1, :, 0]
        return np.asarray(rows[1:-1] + (1.0 - t) * (first - rows[0]) + t * (second - rows[-1]))


def fan_of(first: Complexes, second: Complexes) -> Fan | None:
    """How a closed outline, node triples (n, 3) at both keys, opens; None if it does not open so."""
    z, w = ((segments_of(side, True) @ bernstein(QUARTERS)).ravel() for side in (first, second))
    centres = _centres(z, w, len(QUARTERS))
    turns = None if centres is None else _turns(z - centres[0], w - centres[1])
    if centres is None or turns is None:
        return None
    here, step = turns[:: len(QUARTERS), None], len(QUARTERS)
    sides = np.stack([np.roll(turns, 1)[::step], turns[::step], np.roll(turns, -1)[::step]], axis=1)
    at_tip = (np.abs(first[:, 1] - centres[0]) < TIP * float(np.std(z)))[:, None]  # there each side turns by its own
    return Fan(*centres, np.where(at_tip, sides, here))


@lru_cache(maxsize=256)  # a hint that is dragged asks for it again and again
def corner_map(first: Track, second: Track) -> Floats | None:
    """The map (k, 2) of shares, corner by corner, by which one outline opens to be the other; None if it does not.

    Both run the same way round.
    """
    for one, two in _corners(first, second):
        here = np.append(one, one[0] + 1.0)
        for k in range(len(two)):
            there = np.concatenate([two[k:], two[:k] + 1.0, two[k : k + 1] + 1.0])
            z, w = (
                as_complex(track.points((ends[:-1, None] + BETWEEN * np.diff(ends)[:, None]).ravel()))
                for track, ends in ((first, here), (second, there))
            )
            centres = _centres(z, w, len(BETWEEN))
            if centres is not None and _turns(z - centres[0], w - centres[1]) is not None:
                return np.stack([here, there], axis=1)
    return None


def _corners(first: Track, second: Track) -> Iterator[tuple[Floats, Floats]]:
    """Shares of as many corners of both."""
    for one, two in product(_with_tip(first.corners[0]), _with_tip(second.corners[0])):
        if FEWEST <= len(one) == len(two) <= MOST:
            yield one, two


def _with_tip(corners: Floats) -> list[Floats]:
    """The corners of an outline; those of a slice that is about a half disc, with where its flat tip may be."""
    if len(corners) != FEWEST - 1:
        return [corners]
    middle = 0.5 * float(corners.sum())
    return [np.sort(np.append(corners, np.mod(middle + half, 1.0))) for half in (0.0, 0.5)]


def _centres(first: Complexes, second: Complexes, step: int) -> tuple[complex, complex] | None:
    """The points of both keys from which points that become each other are as far, or by a scale farther.

    It is one point that stays, by least squares; or one of the nodes, which are so many points apart.
    """
    size, moved = float(np.std(first)), second - first
    if size == 0.0:
        return None
    middle = first.mean()
    z, w = first - middle, second - middle
    rows = 2 * np.stack([moved.real, moved.imag], axis=1)
    (x, y), _, _, told = np.linalg.lstsq(rows, np.abs(w) ** 2 - np.abs(z) ** 2, rcond=None)
    place = np.array([complex(x, y)])
    if told[1] > TOLD * told[0] and _off(z, w, place, place)[0] <= AS_FAR * size:
        centre = complex(middle + place[0])
        return centre, centre
    off = _off(first, second, first[::step], second[::step])
    best = step * int(np.argmin(off))
    return (complex(first[best]), complex(second[best])) if off.min() <= AS_FAR * size else None


def _off(first: Complexes, second: Complexes, ones: Complexes, twos: Complexes) -> Floats:
    """How far points are from where they would be as far from each of k centres as at the other key, at most; (k,)."""
    own, there = np.abs(first - ones[:, None]), np.abs(second - twos[:, None])
    grown = there.sum(axis=1, keepdims=True) / np.maximum(own.sum(axis=1, keepdims=True), 1e-300)
    return np.asarray(np.abs(there - own * grown).max(axis=1))


def _is_slice(own: Complexes) -> bool:
    """Whether points about a tip are on two straight sides and an arc."""
    radii, turns = np.abs(own), np.unwrap(np.angle(own))
    on_side = np.minimum(np.abs(turns - turns[0]), np.abs(turns - turns[-1])) < AS_FAR
    return bool(np.all(on_side | (np.abs(radii - radii.max()) < AS_FAR * radii.max())))


def _turned_over(own: Complexes, there: Complexes) -> bool:
    """Whether some of what goes round the centre goes the other way at the other key, as in a mirror."""
    one, two = (np.angle(side[1:] * side[:-1].conj()) for side in (own, there))
    return bool(np.minimum(one * two, 0.0).sum() < -BACKWARDS * np.maximum(one * two, 0.0).sum())


def _turns(own: Complexes, there: Complexes) -> Floats | None:
    """By how much each point turns about the centre; None if that is as much for all, or leaps."""
    far = np.abs(own) > TIP * float(np.std(own))
    start = int(np.argmin(np.abs(own)))
    order = np.roll(np.arange(len(own)), -start)
    seen = order[far[order]]
    turns = np.unwrap(np.angle(there[seen] * own[seen].conj()))
    tipped = not far.all()
    steps = np.abs(np.diff(turns)) if tipped else np.abs(turns - preceding(turns))
    least = OPENS_A_SLICE if tipped and _is_slice(own[seen]) and _is_slice(there[seen]) else OPENS
    sizes = float(np.abs(own).sum()), float(np.abs(there).sum())
    least *= max(sizes) / max(min(sizes), 1e-300)  # what grows much goes evenly enough
    if not len(turns) or np.ptp(turns) < least or float(steps.max()) > STEP or _turned_over(own[seen], there[seen]):
        return None
    turns -= 2 * np.pi * np.round(0.5 * (turns.min() + turns.max()) / (2 * np.pi))
    found = np.empty(len(own))
    found[order] = np.interp(np.arange(len(own)), np.flatnonzero(far[order]), turns)
    return found
