"""A map between two outlines, and what it strains."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track
from knead.core.outline.strain import Strain, strain


@dataclass(frozen=True)
class Correspondence:
    """A monotone map between the shares of two outlines, by knots: rising, shapes (k,).

    `second` counts along the second outline's reversed path if `reversed`.
    """

    first: Floats
    second: Floats
    reversed: bool
    strain: Strain

    @property
    def knots(self) -> Floats:
        """Both sides of the map, shape (k, 2)."""
        return np.stack([self.first, self.second], axis=1)

    @property
    def inverse(self) -> "Correspondence":
        """The map from the second outline to the first."""
        knots = self.knots[:, ::-1]
        knots = 1.0 - knots[::-1] if self.reversed else knots
        knots = knots - np.floor(knots[:1] + 1e-9)
        return Correspondence(knots[:, 0], knots[:, 1], self.reversed, self.strain)


def tried(first: Track, second: Track, maps: list[Floats], backwards: bool) -> list[Correspondence]:
    """Maps, knots (k, 2) each, from the first outline to the second, which is given as it is run."""
    return [Correspondence(k[:, 0], k[:, 1], backwards, strain(first, second, k)) for k in maps]


def judged(found: Correspondence) -> float:
    """What maps are compared by: the less, the better. What differs by hardly anything is alike."""
    return round(found.strain.whole, 4)


def run(track: Track, backwards: bool) -> Track:
    """The outline, run the other way if asked."""
    return track.backwards if backwards else track
