"""How much an in-between is distorted by a map between two outlines: what maps are judged by."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats, gone
from knead.core.geometry.track import Track

EVENLY = np.linspace(0.0, 1.0, 129)
TURN = 0.08  # the strain of half a round
MOVED = 1e-5  # what is distorted by less is moved, turned and sized, and no more
ASTRAY = 0.9  # how much more half a round counts, by the distortion: what becomes another thing should not roll over


@dataclass(frozen=True)
class Strain:
    """How much an in-between would be distorted, and how much it turns, in radians.

    The distortion is 0 for a mere move and about 1 for a bad map.
    """

    distortion: float
    turn: float

    @property
    def whole(self) -> float:
        """Both in one figure: of maps that distort alike, the one that turns less is meant."""
        rounds = self.turn / np.pi
        return self.distortion * (1.0 + ASTRAY * rounds**2) + TURN * rounds


def strain(first: Track, second: Track, knots: Floats) -> Strain:
    """How much an in-between along this map would be distorted: uneven turning, a gap half way, stretch.

    A bend turns each stretch of an outline a little more than the one before; a wrong map turns them to and fro: so the
    unevenness of turning counts, not the turning. Where every stretch goes half of its turn, the outline should
    close again: the gap that is left counts most.
    """
    shares = knots[0, 0] + EVENLY * (knots[-1, 0] - knots[0, 0])
    z = first.sketch(shares)
    w = second.sketch(np.interp(shares, knots[:, 0], knots[:, 1]))
    a, b = similarity.fit(z, w)
    dz, dw = a * (z[1:] - z[:-1]), w[1:] - w[:-1]
    one, two, turned = np.abs(dz), np.abs(dw), dw * dz.conj()
    whole = max(float((one + two).sum()), 1e-12)
    stretch = float(np.abs(one - two).sum()) / whole
    change = np.angle(turned[1:] * turned[:-1].conj() + 1e-300)
    uneven = float(np.abs(change).sum()) / (2 * np.pi)
    size = max(float(np.abs(w - w.sum() / len(w)).sum()), 1e-12)
    rest = float(np.abs(a * z + b - w).sum()) / size
    gap = _gap_half_way(dz, one + two, np.angle(turned + 1e-300)) if first.closed else 0.0
    return Strain(0.2 * stretch + 0.12 * uneven + 0.03 * rest + 1.5 * gap, abs(float(np.angle(a))))


def _gap_half_way(steps: Complexes, lengths: Floats, turns: Floats) -> float:
    """How far the ends stay apart, by the length, when each step has gone half of its stretch and turn.

    `lengths` are twice those half way. Turns by more than half a round against the step before are taken to be less.
    """
    rounds = gone(np.round((turns[1:] - turns[:-1]) / (2 * np.pi)))
    middle = np.exp(0.5j * turns - 1j * np.pi * rounds) * lengths * np.exp(1j * np.angle(steps + 1e-300))
    return float(np.abs(middle.sum()) / max(float(lengths.sum()), 1e-12))
