"""How much an in-between is distorted by a map between two outlines: what maps are judged by."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.track import Track

TURN = 0.08  # the strain of half a round
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
    shares = np.linspace(knots[0, 0], knots[-1, 0], 129)
    z = first.sketch(shares)
    w = second.sketch(np.interp(shares, knots[:, 0], knots[:, 1]))
    a, b = similarity.fit(z, w)
    dz, dw = np.diff(z) * a, np.diff(w)
    whole = max(float(np.sum(np.abs(dz) + np.abs(dw))), 1e-12)
    stretch = float(np.sum(np.abs(np.abs(dz) - np.abs(dw)))) / whole
    change = np.angle(dw[1:] * np.conj(dw[:-1]) * np.conj(dz[1:] * np.conj(dz[:-1])) + 1e-300)
    uneven = float(np.abs(change).sum()) / (2 * np.pi)
    size = max(float(np.abs(w - w.mean()).mean()), 1e-12)
    rest = float(np.abs(a * z + b - w).mean()) / size
    gap = _gap_half_way(dz, dw) if first.closed else 0.0
    return Strain(0.2 * stretch + 0.12 * uneven + 0.03 * rest + 1.5 * gap, abs(float(np.angle(a))))


def _gap_half_way(dz: Complexes, dw: Complexes) -> float:
    """How far the ends stay apart, by the length, when each step has gone half of its stretch and turn."""
    turns = np.unwrap(np.angle(dw * np.conj(dz) + 1e-300))
    middle = np.exp(0.5j * turns) * (np.abs(dz) + np.abs(dw)) * np.exp(1j * np.angle(dz + 1e-300))
    return float(np.abs(middle.sum()) / max(float(np.abs(middle).sum()), 1e-12))
