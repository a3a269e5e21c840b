"""What looks the same in both keys, and is about in one place, stays: it does not become another of its like."""

from collections.abc import Sequence
from functools import cache

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import even_track
from knead.core.model import Shape
from knead.core.pairing.assign.likeness import form_gap, portrait

ALIKE = 0.02  # how unlike outlines are that look the same, by the size of their box
PLAINLY = 5.0  # what another is unlike by less than so many times as much looks so by a hand's chance
NEAR, THERE = 0.5, 0.2  # how far it may have moved, by that; and a straight line, which others are by chance
STRAIGHT = 1.01  # how long a straight line is by how far apart its ends are, at most
CROWD = 7  # of so many others of its form in both keys, another may have taken its size
SEVERAL = 6  # so many of one form are several, in both keys
SAME_FORM = 0.05  # how unlike what is of one form is, however it lies
PLACES = np.linspace(0.0, 1.0, 49)


def unchanged(first: Sequence[Shape], second: Sequence[Shape]) -> list[tuple[str, str]]:
    """Ids of shapes that look the same in both keys, and are about in one place, if no other in a key looks so.

    Of several alike, as the links of a belt, or eyes, each may have gone on to the place of the next.
    """
    if not first or not second:
        return []
    every = [*first, *second]
    looks = {look: k for k, look in enumerate({(s.fill, s.stroke, len(s.contours)) for s in every})}
    own = np.array([looks[s.fill, s.stroke, len(s.contours)] for s in every])
    low, high = np.array([_box(shape) for shape in every]).transpose(1, 0, 2)
    sizes = np.linalg.norm(high - low, axis=1)
    apart = np.abs((high - low)[:, None] - (high - low)).max(axis=2)
    likes = (own[:, None] == own) & ~np.eye(len(every), dtype=bool)
    alike, rivals = (likes & (apart <= most * sizes[:, None]) for most in (ALIKE, PLAINLY * ALIKE))
    shapes = (high - low) / sizes.clip(1e-9)[:, None]
    in_form = likes & (np.abs(shapes[:, None] - shapes).max(axis=2) <= ALIKE)
    reach = sizes * np.where([_is_straight(shape) for shape in every], THERE, NEAR)
    away = np.linalg.norm((low + high)[:, None] - (low + high), axis=2) / 2
    near = np.linalg.norm(low[:, None] - low, axis=2) <= reach[:, None]
    near &= (in_form.sum(axis=1) < CROWD)[:, None]
    count = len(first)

    @cache
    def lines(k: int) -> shapely.MultiLineString:
        return _lines(every[k])

    def unlike(i: int, j: int) -> float:
        there = shapely.transform(lines(j), lambda points: points + low[i] - low[j])
        return float(shapely.hausdorff_distance(lines(i), there) / max(sizes[i], 1e-9))

    found = []
    for i in np.flatnonzero((alike & near)[:count, count:].any(axis=1)).tolist():
        least, same = min((unlike(i, j), j) for j in np.flatnonzero(alike[i]).tolist())
        if least > ALIKE or same < count or not near[i, same]:
            continue
        beside = (
            in_form[i, count:] & (away[i, count:] < away[i, same]),
            in_form[same, :count] & (away[same, :count] < away[i, same]),
        )
        if any(side.any() for side in beside):
            continue  # a drawer that is shut is not the other that is opened
        plain = max(PLAINLY * least, ALIKE)
        if not any(unlike(i, j) <= plain for j in np.flatnonzero(rivals[i]).tolist() if j != same):
            found.append((i, same))
    return [(every[i].id, every[j].id) for i, j in _but_by_chance(found, every, likes)]


def _but_by_chance(
    found: list[tuple[int, int]], shapes: Sequence[Shape], likes: NDArray[np.bool_]
) -> list[tuple[int, int]]:
    """What was found, but what is one of several of a form of which most go on: a blade of a fan that opens."""
    if not found:
        return found
    forms = [portrait(shape) for shape in shapes]
    alike = likes & (form_gap(forms, forms) <= SAME_FORM)
    stays = np.isin(np.arange(len(shapes)), found)
    of_it = {k: np.flatnonzero(alike[k]).tolist() + [k] for k, _ in found}
    by_chance = {k for k, own in of_it.items() if len(own) >= SEVERAL and 2 * stays[own].sum() < len(own)}
    return [pair for pair in found if pair[0] not in by_chance]


def _is_straight(shape: Shape) -> bool:
    track = even_track(shape.contours[0])
    begin, end = track.sketch(PLACES[[0, -1]])
    return len(shape.contours) == 1 and not track.closed and track.length <= STRAIGHT * abs(end - begin)


def _box(shape: Shape) -> tuple[Floats, Floats]:
    """The least and the largest x and y of its outlines."""
    points = as_points(np.concatenate([even_track(contour).sketch(PLACES) for contour in shape.contours]))
    return points.min(axis=0), points.max(axis=0)


def _lines(shape: Shape) -> shapely.MultiLineString:
    tracks = [even_track(contour) for contour in shape.contours]
    rows = [track.sketch(np.union1d(PLACES, track.nodes)) for track in tracks]
    ends = [np.append(row, row[:1]) if track.closed else row for track, row in zip(tracks, rows, strict=True)]
    return shapely.MultiLineString([as_points(row) for row in ends])
