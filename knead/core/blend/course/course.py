"""The way a shape's middle takes."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from knead.core.blend.by_times import ByTimes
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.route import Ride, along, ridden

SAME = 0.05  # radians below which two shapes count as turning as one
MERE_MOVE = 1e-6  # how far from 1 the turn and scale of what only moves may be


@dataclass(frozen=True)
class Course:
    """The path of a shape's middle from `start` to `end`, while it turns by `angle` radians and grows to `scale`.

    It hangs on `parent` at `hinge`, a point at the first key; without a parent it goes straight, or swings about the
    hinge if there is one. A drawn `path` overrides both, and so does a `ride` on a neighbour. It `carries` others that
    hang on it. One course may be that of the `whole` drawing, or of a whole piece of it.
    """

    start: complex
    end: complex
    angle: float
    scale: float
    hinge: complex | None = None
    parent: "Course | None" = None
    path: tuple[complex, complex] | None = None
    ride: Ride | None = None
    carries: bool = False
    whole: bool = False

    @property
    def hangs(self) -> bool:
        """Whether it hangs on a neighbour, or rides on one."""
        return self.ride is not None or (self.parent is not None and not self.parent.whole)

    @property
    def free(self) -> bool:
        """Whether nothing says which way it goes."""
        return self.parent is None and self.path is None and self.ride is None

    def is_on(self, other: "Course") -> bool:
        """Whether it hangs on another, if need be by way of others."""
        return self.parent is not None and (self.parent is other or self.parent.is_on(other))

    def swung(self, motion: tuple[complex, complex]) -> "Course":
        """The same on an arc about the fixed point of a motion, unless that is a mere move and has none."""
        a, b = motion
        return replace(self, hinge=b / (1.0 - a)) if abs(1.0 - a) > MERE_MOVE else self

    @property
    def whole_turn(self) -> complex:
        """Its turn and scale from key to key as a complex factor."""
        return self.scale * complex(np.exp(1j * self.angle))

    def at(self, times: Floats) -> tuple[Complexes, Complexes]:
        """Turn and scale at the times as complex factors, and where the middle is then; shapes (len(times),).

        Angle and size grow evenly; the middle is exact at 0 and 1.
        """
        return self._kept.get(times, self._at)

    @cached_property
    def _kept(self) -> ByTimes[tuple[Complexes, Complexes]]:
        return ByTimes()  # all that hangs on it asks for the same times

    def _at(self, times: Floats) -> tuple[Complexes, Complexes]:
        factor = (1.0 + times * (self.scale - 1.0)) * np.exp(1j * times * self.angle)
        return factor, np.asarray(self._middle(times, factor), dtype=complex)

    def _middle(self, times: Floats, factor: Complexes) -> Complexes:
        if self.path is not None:
            return along(self.start, self.path, self.end, times)
        if self.ride is not None:
            return ridden(self.start, self.ride, self.end, times)
        if self.hinge is None:
            return np.asarray(self.start + times * (self.end - self.start), dtype=complex)
        place: Complexes | complex = self.hinge
        there = self.hinge
        if self.parent is not None:
            place, there = self.parent.carried(self.hinge, times), self.parent.arrival(self.hinge)
        swung = place + factor * (self.start - self.hinge)
        missed = self.end - (there + self.whole_turn * (self.start - self.hinge))
        return np.asarray(swung + times * missed, dtype=complex)

    def carried(self, point: complex, times: Floats) -> Complexes:
        """Where a point of the first key goes that is fixed to this shape."""
        factor, middle = self.at(times)
        return np.asarray(middle + factor * (point - self.start), dtype=complex)

    def arrival(self, point: complex) -> complex:
        """Where such a point is at the second key."""
        return self.end + self.whole_turn * (point - self.start)
