"""A form that opens like a fan: a slice of a pie or a ring that grows, a mouth that opens about its corner.

All of it stays as far from one point as it was, but turns about that by more at one side than at the other.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, bernstein, preceding, segments_of
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track

AS_FAR = 0.01  # how far off its way round, by the size of the form, a point may be
TOLD = 0.05  # by how much less a centre may be told one way than the other
TIP = 0.05  # what is nearer to the centre, by that size, does not tell how it turns
OPENS = 0.15  # by how many radians one side must turn against the other
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
    centres = _centres(z, w)
    turns = None if centres is None else _turns(z - centres[0], w - centres[1])
    if centres is None or turns is None:
        return None
    here, step = turns[:: len(QUARTERS), None], len(QUARTERS)
    sides = np.stack([np.roll(turns, 1)[::step], turns[::step], np.roll(turns, -1)[::step]], axis=1)
    at_tip = (np.abs(first[:, 1] - centres[0]) < TIP * float(np.std(z)))[:, None]  # there each side turns by its own
    return Fan(*centres, np.where(at_tip, sides, here))


def corner_maps(first: Track, second: Track) -> Iterator[Floats]:
    """Maps (k, 2) of shares, corner by corner, by which one outline opens to be the other, which runs the same way."""
    for one, two in _corners(first, second):
        here = np.append(one, one[0] + 1.0)
        for k in range(len(two)):
            there = np.concatenate([two[k:], two[:k] + 1.0, two[k : k + 1] + 1.0])
            z, w = (
                as_complex(track.points((ends[:-1, None] + BETWEEN * np.diff(ends)[:, None]).ravel()))
                for track, ends in ((first, here), (second, there))
            )
            centres = _centres(z, w)
            if centres is not None and _turns(z - centres[0], w - centres[1]) is not None:
                yield np.stack([here, there], axis=1)


def _corners(first: Track, second: Track) -> Iterator[tuple[Floats, Floats]]:
    """Shares of the corners of both; of a half disc, the tip of which is none, with a place where the other has one."""
    sides = first, second
    found = [track.corners[0] for track in sides]
    fewer = int(len(found[1]) < len(found[0]))
    if not FEWEST <= len(found[1 - fewer]) <= MOST:
        return
    if len(found[0]) == len(found[1]):
        yield found[0], found[1]
    elif len(found[fewer]) + 1 == len(found[1 - fewer]):
        for place in sides[1 - fewer].points(found[1 - fewer]):
            param, away = sides[fewer].nearest(place)
            share = float(sides[fewer].shares(np.array([param]))[0])
            if away <= AS_FAR * sides[fewer].length and np.abs(found[fewer] - share).min(initial=1.0) > AS_FAR:
                more = np.sort(np.append(found[fewer], share))
                yield (more, found[1]) if fewer == 0 else (found[0], more)


def _centres(first: Complexes, second: Complexes) -> tuple[complex, complex] | None:
    """The points of both keys from which points that become each other are as far, or by a scale farther.

    It is one point that stays, by least squares; or points of the outlines that become each other.
    """
    size, moved = float(np.std(first)), second - first
    middle = first.mean()
    z, w = first - middle, second - middle
    rows = 2 * np.stack([moved.real, moved.imag], axis=1)
    (x, y), _, _, told = np.linalg.lstsq(rows, np.abs(w) ** 2 - np.abs(z) ** 2, rcond=None)
    if told[1] > TOLD * told[0] and _off(z, w, complex(x, y), complex(x, y)) <= AS_FAR * size:
        return complex(middle + complex(x, y)), complex(middle + complex(x, y))
    off = [_off(first, second, *ends) for ends in zip(first.tolist(), second.tolist(), strict=True)]
    best = int(np.argmin(off))
    return (complex(first[best]), complex(second[best])) if off[best] <= AS_FAR * size else None


def _off(first: Complexes, second: Complexes, one: complex, two: complex) -> float:
    """How far points are from where they would be as far from the centre as at the other key, at most."""
    own, there = np.abs(first - one), np.abs(second - two)
    return float(np.abs(there - own * float(there.sum()) / max(float(own.sum()), 1e-300)).max())


def _turns(own: Complexes, there: Complexes) -> Floats | None:
    """By how much each point turns about the centre; None if that is as much for all, or leaps."""
    far = np.abs(own) > TIP * float(np.std(own))
    start = int(np.argmin(np.abs(own)))
    order = np.roll(np.arange(len(own)), -start)
    seen = order[far[order]]
    turns = np.unwrap(np.angle(there[seen] * own[seen].conj()))
    tipped = not far.all()
    steps = np.abs(np.diff(turns)) if tipped else np.abs(turns - preceding(turns))
    if not len(turns) or np.ptp(turns) < OPENS or float(steps.max()) > STEP:
        return None
    turns -= 2 * np.pi * np.round(0.5 * (turns.min() + turns.max()) / (2 * np.pi))
    found = np.empty(len(own))
    found[order] = np.interp(np.arange(len(own)), np.flatnonzero(far[order]), turns)
    return found
