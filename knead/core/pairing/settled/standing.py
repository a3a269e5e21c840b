"""Which shapes stand where they stood: a bar of a row that grows, a line of a text that becomes longer."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Fill, Shape, Stroke

ALONG = np.linspace(0.0, 1.0, 65)
FEW = slice(None, None, 8)
STANDS, LIES = 0.4, 0.95  # the share of the shorter outline, or line, that lies on the other one
ON_IT = 6e-3  # how near to an outline, by its length, a place on it is


def standing(first: Sequence[Shape], second: Sequence[Shape]) -> set[tuple[str, str]]:
    """Ids of shapes of one paint that lie on each other: with much of their outlines, or as lines from one end on."""
    found = set[tuple[str, str]]()
    one, two = _by_look(first), _by_look(second)
    for look in one.keys() & two.keys():
        ours, theirs = one[look], two[look]
        rows = [np.array([_path(shape) for shape in side]) for side in (ours, theirs)]
        for i, j in _near(*rows) if look.closed else _with_one_end(*rows):
            shorter, longer = sorted((rows[0][i], rows[1][j]), key=_length)
            if _lies_on(shorter, longer, STANDS if look.closed else LIES):
                found.add((ours[i].id, theirs[j].id))
    return found


class _Look(NamedTuple):
    fill: Fill | None
    stroke: Stroke | None
    closed: bool


def _by_look(shapes: Sequence[Shape]) -> dict[_Look, list[Shape]]:
    found: dict[_Look, list[Shape]] = {}
    for shape in shapes:
        if shape.fill is not None or len(shape.contours) == 1:
            closed = shape.fill is not None or shape.contours[0].closed
            found.setdefault(_Look(shape.fill, shape.stroke, closed), []).append(shape)
    return found


def _near(one: Complexes, two: Complexes) -> list[tuple[int, int]]:
    """Which paths lie in boxes that meet; shapes (n, k), (m, k)."""
    meet = np.ones((len(one), len(two)), dtype=bool)
    for a, b in ((one.real, two.real), (one.imag, two.imag)):
        meet &= (a.min(axis=1)[:, None] <= b.max(axis=1)) & (a.max(axis=1)[:, None] >= b.min(axis=1))
    return [(int(i), int(j)) for i, j in np.argwhere(meet)]


def _with_one_end(one: Complexes, two: Complexes) -> list[tuple[int, int]]:
    """Which lines have an end in one place; shapes (n, k), (m, k)."""
    lengths = [np.abs(np.diff(side)).sum(axis=1) for side in (one, two)]
    apart = np.abs(one[:, None, [0, 0, -1, -1]] - two[:, [0, -1, 0, -1]]).min(axis=-1)
    return [(int(i), int(j)) for i, j in np.argwhere(apart < ON_IT * np.maximum(lengths[0][:, None], lengths[1]))]


def _path(shape: Shape) -> Complexes:
    """Places along the longest outline of a shape, from its start to its end."""
    return max((track_of(contour) for contour in shape.contours), key=lambda track: track.length).sketch(ALONG)


def _length(path: Complexes) -> float:
    return float(np.abs(np.diff(path)).sum())


def _lies_on(shorter: Complexes, longer: Complexes, share: float) -> bool:
    """Whether so much of an outline lies on a longer one; a few of its places are asked first."""
    step = np.abs(np.diff(longer)).max()
    few = np.abs(shorter[FEW, None] - longer).min(axis=1) < step
    if few.mean() < share - 1 / len(few):
        return False
    line = shapely.LineString(as_points(longer))
    on_it = shapely.dwithin(shapely.points(as_points(shorter)), line, ON_IT * _length(longer))
    return bool(on_it.mean() >= share)
