"""How much an in-between is distorted by a map between two outlines: what maps are judged by."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track
from knead.core.outline.compiled.measures import distorted

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
    sides = [(shares, as_points(points)) for shares, points in (first.samples, second.samples)]
    stretch, uneven, rest, gap, turn = distorted(*sides[0], *sides[1], np.ascontiguousarray(knots), first.closed)
    return Strain(0.2 * stretch + 0.12 * uneven + 0.03 * rest + 1.5 * gap * first.closed, turn)
