"""What lies within another shape, and goes with it however that bends: teeth in a mouth that opens."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.inside import mean_values


@dataclass(frozen=True, eq=False)
class Holder:
    """An outline around other shapes: at the key in which they are, shape (m,), and at any times, (len(times), m)."""

    own: Complexes
    at: Callable[[Floats], Complexes]
    opens: bool = False
    """Whether it is shut at the other key, so that what is in it need not grow or shrink."""

    def carried(self, places: Complexes, times: Floats) -> Complexes:
        """Where places within it, which may be others at each time, are then; both of shape (len(times), n)."""
        weights = mean_values(self.own, places.ravel()).reshape(*places.shape, -1)
        return np.asarray(np.einsum("tnm,tm->tn", weights, self.at(times)), dtype=complex)
