"""What a pair carries along on its way, whatever its course."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from knead.core.blend.course.body import is_flat
from knead.core.blend.travel import ways
from knead.core.geometry.bezier import Complexes, following
from knead.core.outline.contour_plan import ContourPlan, halved

ANEW = (0.4, 0.6)  # what strains more is more and more, and then wholly, another form, which nothing holds together

ASTRAY = (0.3, 0.5)  # the same of a line whose ends would come so much farther from where they are than they go

STRAINED = 0.1  # what strains less is neither pinched nor crosses itself

APART, UNMIXED = 0.1, 0.25  # solid and straight ways of a line that are so far apart are not mixed; what is then solid


@dataclass(frozen=True, eq=False)
class Load:
    """What a pair carries along, whatever its course: contours, points, and how stiff they are.

    `coarse` is the same before the stretches that are marked `where`, one array a contour, were halved.
    """

    contours: tuple[ContourPlan, ...]
    angle: float
    coarse: "Load | None" = None
    where: tuple[NDArray[np.bool_], ...] = ()

    @cached_property
    def first(self) -> Complexes:
        """All node triples at the first key, shape (nodes * 3,)."""
        return np.concatenate([c.first.ravel() for c in self.contours])

    @cached_property
    def second(self) -> Complexes:
        """All node triples at the second key, shape (nodes * 3,)."""
        return np.concatenate([c.second.ravel() for c in self.contours])

    @cached_property
    def flat(self) -> bool:
        """Whether its first contour goes there and back along itself in a key, as a line that is shut."""
        outline = self.contours[0]
        return is_flat(outline.first[:, 1]) or is_flat(outline.second[:, 1])

    @cached_property
    def stiff(self) -> ways.Stiff | None:
        """Ready for solid travel, or None where that can't be."""
        parts, start = [], 0
        for contour in self.contours:
            parts.append((slice(start, start + contour.first.size), contour.closed))
            start += contour.first.size
        found = ways.stiff(self.first, self.second, parts, self.angle)
        if found is None or self.coarse is None:
            return found
        return replace(found, coarse=self.coarse.stiff, where=self.where)

    def halved(self, where: tuple[NDArray[np.bool_], ...]) -> "Load":
        """The same with a node more half way along each stretch that is marked."""
        contours = tuple(halved(c, marks) for c, marks in zip(self.contours, where, strict=True))
        return Load(contours, self.angle, self, where)

    @cached_property
    def evidence(self) -> tuple[float, str]:
        """How much it asks for solid travel, 0 to 1, and why."""
        lasting = [contour for contour in self.contours if contour.cuts is not None] or self.contours
        asked, why = ways.evidence([contour.pieces() for contour in lasting], self.angle)
        if asked > 0.0 and all(contour.closed and _is_turned_over(contour) for contour in self.contours):
            return 0.0, "it is turned over"
        if asked > 0.0 and self.stiff is None:
            return 0.0, "its outline can't be kept stiff"
        like = _falling(self.strain, ANEW)
        asked, why = asked * like, why if like > 0.5 else "it is drawn anew"
        if asked > 0.0 and self.stiff is not None and not self.contours[0].closed:
            line = self.stiff.contours[0]
            near = _falling(line.astray, ASTRAY)
            asked, why = asked * near, why if near > 0.5 else "its ends stay near where they are"
            asked = float(asked > UNMIXED) if line.apart > APART else asked
        if asked < 1.0 and self.strain > STRAINED and self.stiff is not None and self.stiff.would_be_pinched:
            return 1.0, "it would pinch itself off on a straight way"
        return asked, why

    @cached_property
    def strain(self) -> float:
        """How much its outlines are distorted on the way, apart from turning."""
        return sum(c.strain * c.length for c in self.contours) / sum(c.length for c in self.contours)


def _falling(value: float, span: tuple[float, float]) -> float:
    """1 below a span of values, 0 above it, and evenly falling within."""
    return float(np.clip((span[1] - value) / (span[1] - span[0]), 0.0, 1.0))


def _is_turned_over(contour: ContourPlan) -> bool:
    """Whether its nodes go round the other way in the second key, as in a mirror image."""
    one, two = contour.first[:, 1], contour.second[:, 1]
    inside = [float(np.sum(np.imag(np.conj(points) * following(points)))) for points in (one, two)]
    return inside[0] * inside[1] < 0.0 and not (is_flat(one) or is_flat(two))
