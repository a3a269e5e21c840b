"""What looks the same in both keys, and is about in one place, stays: it does not become another of its like."""

from collections.abc import Sequence
from functools import cached_property

import numpy as np
import shapely

from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import even_track
from knead.core.model import Shape

ALIKE = 0.02  # how unlike outlines are that look the same, by the size of their box
NEAR = 0.5  # how far it may have moved, by that
PLACES = np.linspace(0.0, 1.0, 49)


def unchanged(first: Sequence[Shape], second: Sequence[Shape]) -> list[tuple[str, str]]:
    """Ids of shapes that look the same in both keys, and are about in one place, if no other in a key looks so.

    Of several alike, as the links of a belt, each may have gone on to the place of the next.
    """
    ones, twos = ([_Look(shape) for shape in side] for side in (first, second))
    found = []
    for one in ones:
        same = [two for two in twos if one.is_like(two)]
        if len(same) == 1 and sum(one.is_like(other) for other in ones) == 1 and one.is_near(same[0]):
            found.append((one.shape.id, same[0].shape.id))
    return found


class _Look:
    """A shape, and the box around it."""

    def __init__(self, shape: Shape) -> None:
        self.shape = shape
        points = np.concatenate([even_track(contour).points(PLACES) for contour in shape.contours])
        self.low, self.high = points.min(axis=0), points.max(axis=0)

    @property
    def size(self) -> float:
        return float(np.linalg.norm(self.high - self.low))

    def is_like(self, other: "_Look") -> bool:
        """Whether it is painted as another, and of one form and size."""
        one, two = self.shape, other.shape
        painted = (one.fill, one.stroke, len(one.contours)) == (two.fill, two.stroke, len(two.contours))
        if not painted or np.abs(self.high - self.low - other.high + other.low).max() > ALIKE * self.size:
            return False
        there = shapely.transform(other.lines, lambda points: points + self.low - other.low)
        return bool(shapely.hausdorff_distance(self.lines, there) <= ALIKE * self.size)

    def is_near(self, other: "_Look") -> bool:
        return float(np.linalg.norm(self.low - other.low)) <= NEAR * self.size

    @cached_property
    def lines(self) -> shapely.MultiLineString:
        tracks = [even_track(contour) for contour in self.shape.contours]
        rows = [track.sketch(np.union1d(PLACES, track.nodes)) for track in tracks]
        ends = [np.append(row, row[:1]) if track.closed else row for track, row in zip(tracks, rows, strict=True)]
        return shapely.MultiLineString([as_points(row) for row in ends])
