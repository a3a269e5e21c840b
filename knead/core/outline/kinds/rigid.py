"""Outlines that are one form, moved, turned and scaled: the map between them is even, and no matching is needed."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, following, preceding
from knead.core.geometry.track import Track

SAMPLES = 512
SHARES = {
    closed: np.linspace(0.0, 1.0, SAMPLES, endpoint=not closed) for closed in (True, False)
}  # of a line, its end too
ALIKE = 0.02  # mean gap, by the form's size, up to which two outlines count as one form
RIVAL = 2.0  # starts with a gap up to this much larger are alike: then the form turns as little as may be
PLAIN = 0.2  # the gap without a turn that a quarter round asks for: what is nearly round turns for no small reason
ROUNDISH = 0.12  # what is as broad as it is long, to this, as are a triangle and a star
LESS, SAVED = 0.06, np.pi / 4  # gap that a radian of turning is worth of such a form, beyond so many radians
SIDES = 12  # what looks alike at more turns is as good as round
EDGE = 3e-3  # gaps below this are what is left of reckoning


def even_map(first: Track, second: Track, half_round: bool) -> float | None:
    """Where on the second outline the first one's start lies (a share).

    None if they are not one form. Both run the same way round. With `half_round` False a form that looks alike at
    several turns turns the least; else only turns of less than a quarter round count.

    The best shift is where the circular correlation peaks (Fourier transform), refined by a parabola.
    """
    z, w = (track.sketch(SHARES[first.closed]) for track in (first, second))
    z, w = z - z.sum() / SAMPLES, w - w.sum() / SAMPLES
    if not (z.any() and w.any()):
        return None
    likeness, gaps = _by_shift(z, w, first.closed)
    turns, deep = np.abs(np.angle(likeness)), _valleys(gaps)
    if half_round:
        gaps, deep = (np.where(turns < np.pi / 2, each, np.inf) for each in (gaps, deep))
    if max(float(gaps.min()), float(deep.min())) > ALIKE:
        return None
    near = deep <= RIVAL * float(deep.min()) + EDGE
    best = int(np.argmin(np.where(near, turns + 1e-3 * gaps / ALIKE, np.inf)))
    unturned = float(gaps[int(np.argmin(turns))])
    slight = first.closed and not half_round and unturned < PLAIN * turns[best] / (np.pi / 2)
    if slight and (deep[best] > EDGE or unturned < ALIKE):
        return None
    if first.closed and not half_round and lies_nearer(z, deep, turns, best):
        return None
    return _between(gaps, best) / SAMPLES if first.closed else 0.0


def turns_onto(first: Track, second: Track) -> list[tuple[complex, complex]]:
    """The similarities (a, b), z -> a z + b, that take a closed outline onto another; none if they are not one form.

    Both run the same way round. A square has four of them, as good as one another; what is as good as round, none.
    """
    z, w = (track.sketch(SHARES[True]) for track in (first, second))
    here, there = complex(z.mean()), complex(w.mean())
    if first.length == 0 or second.length == 0:
        return []
    likeness, gaps = _by_shift(z - here, w - there, closed=True)
    factors = likeness[_valleys(gaps) <= ALIKE] / float(np.vdot(z - here, z - here).real)
    return [(complex(a), there - complex(a) * here) for a in factors] if len(factors) <= SIDES else []


def _by_shift(z: Complexes, w: Complexes, closed: bool) -> tuple[Complexes, Floats]:
    """How alike samples are to others, shifted by so many of them, and the gap left by the best turn and scale.

    A line can't be shifted.
    """
    spectra = np.conj(np.fft.fft(z)) * np.fft.fft(w)
    likeness = np.fft.ifft(spectra) if closed else spectra.mean(keepdims=True)
    power = float(np.vdot(z, z).real) * float(np.vdot(w, w).real)
    return likeness, np.sqrt(np.maximum(1.0 - np.abs(likeness) ** 2 / power, 0.0))


def lies_nearer(points: Complexes, gaps: Floats, turns: Floats, best: int) -> bool:
    """Whether a form, by points about its middle, lies nearly as well at another, plainly smaller turn than the best.

    It must be as broad as it is long: of a triangle that stands on its head, the next tip is up as well.
    """
    power = float(np.vdot(points, points).real)
    if abs(complex(np.sum(points * points))) >= ROUNDISH * power:
        return False
    return bool(np.any(gaps < LESS * (turns[best] - turns - SAVED)))


def lies_as_well(first: Track, second: Track, turn: float) -> bool:
    """Whether a closed outline lies on another if it turns by less, in radians. Both run the same way round."""
    z, w = (track.sketch(SHARES[True]) for track in (first, second))
    likeness, gaps = _by_shift(z - z.mean(), w - w.mean(), closed=True)
    return bool(_valleys(gaps)[np.abs(np.angle(likeness)) < turn].min(initial=np.inf) <= EDGE)


def _valleys(gaps: Floats) -> Floats:
    """How small the gap gets about each shift where it is least, between samples, too; infinite at all others.

    The square of the gap is a parabola about a shift at which the outlines meet. Forms of five tips meet at shifts that
    do not fall on samples: by samples alone, one that does would always be taken.
    """
    square = gaps**2
    before, after = preceding(square), following(square)
    curve = np.maximum(before - 2 * square + after, 1e-15)
    lowest = np.maximum(square - (before - after) ** 2 / (8 * curve), 0.0)
    return np.where((square <= before) & (square <= after), np.sqrt(lowest), np.inf)


def _between(gaps: Floats, at: int) -> float:
    """The lowest place of a parabola through the squares of three neighbours."""
    before, here, after = (gaps[(at + k) % SAMPLES] ** 2 for k in (-1, 0, 1))
    curve = before - 2 * here + after
    return at + (0.5 * float((before - after) / curve) if np.isfinite(curve) and curve > 1e-15 else 0.0)
