"""When one pair goes within its span."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.model import Ease, PairTravel
from knead.core.pace.ease import eased

EVEN = Ease()


@dataclass(frozen=True)
class Timing:
    """It goes between the shares `start` and `end` of the span, by an ease of its own; it stands still at other times.

    Only a pair that goes from the very start shares the span's anticipation, and one to the very end its overshoot.
    """

    start: float = 0.0
    end: float = 1.0
    ease: Ease = EVEN

    @staticmethod
    def of(travel: PairTravel) -> "Timing":
        """That of a pair's travel."""
        return Timing(travel.start, travel.end, travel.ease)

    @property
    def plain(self) -> bool:
        """Whether it is the span's own."""
        return self == PLAIN

    def places(self, times: Floats) -> Floats:
        """How far the pair has gone at places of the span, both of shape (n,); beyond 0 and 1 where it overshoots."""
        if self.plain:
            return times
        own = (times - self.start) / (self.end - self.start)
        held = np.clip(own, 0.0, 1.0)
        lowest, highest = -np.inf if self.start == 0.0 else 0.0, np.inf if self.end == 1.0 else 1.0
        return eased(self.ease, held) + np.clip(own, lowest, highest) - held


PLAIN = Timing()
