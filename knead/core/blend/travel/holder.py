"""What lies within another shape, and goes with it however that bends: teeth in a mouth that opens."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from knead.core.blend.by_times import ByTimes
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.inside import mean_values


@dataclass(frozen=True, eq=False)
class Holder:
    """An outline around other shapes: at the key in which they are, shape (m,), and at any times, (len(times), m)."""

    own: Complexes
    at: Callable[[Floats], Complexes]
    opens: Literal["between", "behind", "beside"] | None = None
    """Where what is in it opens, so that it need not grow: between neighbours that shut it in the other key, behind
    some that hide it there, or beside one, at the edge at which it folds up."""

    def carried(self, places: Complexes, times: Floats) -> Complexes:
        """Where places within it, which may be others at each time, are then; both of shape (len(times), n)."""
        weights = mean_values(self.own, places.ravel()).reshape(*places.shape, -1)
        return np.asarray(np.einsum("tnm,tm->tn", weights, self._kept.get(times, self.at)), dtype=complex)

    @cached_property
    def _kept(self) -> ByTimes[Complexes]:
        return ByTimes()  # all that lies in it asks for the same times
