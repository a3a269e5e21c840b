"""Which shapes stand where they stood: a bar of a row that grows, a curtain that is drawn up."""

from collections.abc import Sequence

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Fill, Shape, Stroke

ALONG = np.arange(64) / 64
FEW = slice(None, None, 8)
STANDS = 0.4  # the share of the shorter outline that lies on the other one
ON_IT = 1e-3  # how near to an outline, by its length, a place on it is


def standing(first: Sequence[Shape], second: Sequence[Shape]) -> set[tuple[str, str]]:
    """Ids of filled shapes of one paint that lie on each other with much of their outlines."""
    found = set[tuple[str, str]]()
    one, two = _by_paint(first), _by_paint(second)
    for paint in one.keys() & two.keys():
        ours, theirs = one[paint], two[paint]
        rings = [np.array([_ring(shape) for shape in side]) for side in (ours, theirs)]
        for i, j in _near(*rings):
            if _lies_on(*sorted((rings[0][i], rings[1][j]), key=_length)):
                found.add((ours[i].id, theirs[j].id))
    return found


def _by_paint(shapes: Sequence[Shape]) -> dict[tuple[Fill, Stroke | None], list[Shape]]:
    found: dict[tuple[Fill, Stroke | None], list[Shape]] = {}
    for shape in shapes:
        if shape.fill is not None:
            found.setdefault((shape.fill, shape.stroke), []).append(shape)
    return found


def _near(one: Complexes, two: Complexes) -> list[tuple[int, int]]:
    """Which outlines lie in boxes that meet; shapes (n, k), (m, k)."""
    meet = np.ones((len(one), len(two)), dtype=bool)
    for a, b in ((one.real, two.real), (one.imag, two.imag)):
        meet &= (a.min(axis=1)[:, None] <= b.max(axis=1)) & (a.max(axis=1)[:, None] >= b.min(axis=1))
    return [(int(i), int(j)) for i, j in np.argwhere(meet)]


def _ring(shape: Shape) -> Complexes:
    """Places along the longest outline of a shape."""
    return max((track_of(contour) for contour in shape.contours), key=lambda track: track.length).sketch(ALONG)


def _length(ring: Complexes) -> float:
    return float(np.abs(np.diff(ring, append=ring[:1])).sum())


def _lies_on(shorter: Complexes, longer: Complexes) -> bool:
    """Whether much of an outline lies on a longer one; a few of its places are asked first."""
    step = np.abs(np.diff(longer, append=longer[:1])).max()
    few = np.abs(shorter[FEW, None] - longer).min(axis=1) < step
    if few.mean() < STANDS - 1 / len(few):
        return False
    line = shapely.LinearRing(as_points(longer))
    on_it = shapely.dwithin(shapely.points(as_points(shorter)), line, ON_IT * _length(longer))
    return bool(on_it.mean() >= STANDS)
