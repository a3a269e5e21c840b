"""Outlines that are one form, moved, turned and scaled: the map between them is even, and no matching is needed."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, following, preceding
from knead.core.geometry.track import Track

SAMPLES = 512
ALIKE = 0.02  # mean gap, by the form's size, up to which two outlines count as one form
RIVAL = 2.0  # starts with a gap up to this much larger are alike: then the form turns as little as may be
PLAIN = 0.2  # the gap without a turn that a quarter round asks for: what is nearly round turns for no small reason
ROUNDISH = 0.12  # what is as broad as it is long, to this, as are a triangle and a star
LESS, SAVED = 0.06, np.pi / 4  # gap that a radian of turning is worth of such a form, beyond so many radians
EDGE = 3e-3  # gaps below this are what is left of reckoning


def even_map(first: Track, second: Track, half_round: bool) -> float | None:
    """Where on the second outline the first one's start lies (a share).

    None if they are not one form. Both run the same way round. With `half_round` False a form that looks alike at
    several turns turns the least; else only turns of less than a quarter round count.

    The best shift is where the circular correlation peaks (Fourier transform), refined by a parabola.
    """
    shares = np.arange(SAMPLES) / (SAMPLES if first.closed else SAMPLES - 1)
    z, w = (track.sketch(shares) for track in (first, second))
    z, w = z - z.sum() / SAMPLES, w - w.sum() / SAMPLES
    power = float(np.vdot(z, z).real), float(np.vdot(w, w).real)
    if min(power) <= 0.0:
        return None
    spectra = np.conj(np.fft.fft(z)) * np.fft.fft(w)
    likeness = np.fft.ifft(spectra) if first.closed else spectra.mean(keepdims=True)
    gaps = np.sqrt(np.maximum(1.0 - np.abs(likeness) ** 2 / (power[0] * power[1]), 0.0))
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


def lies_nearer(points: Complexes, gaps: Floats, turns: Floats, best: int) -> bool:
    """Whether a form, by points about its middle, lies nearly as well at another, plainly smaller turn than the best.

    It must be as broad as it is long: of a triangle that stands on its head, the next tip is up as well.
    """
    power = float(np.vdot(points, points).real)
    if abs(complex(np.sum(points * points))) >= ROUNDISH * power:
        return False
    return bool(np.any(gaps < LESS * (turns[best] - turns - SAVED)))


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
