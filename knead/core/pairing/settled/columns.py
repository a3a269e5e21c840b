"""What stays in its column, or its row, is the same: the bars of a level meter, the dots of a graph."""

from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Floats, Ints
from knead.core.geometry.hull import hull
from knead.core.geometry.track import Track, even_track
from knead.core.model import Shape

FEWEST = 3  # so many must be side by side
NEAR, APART = 0.015, 0.04  # how near to its column each must stay, and how far apart columns are, by all of them
STRAIGHT = 0.98  # the share of a straight line's length that is between its ends
LEANS = np.pi / 4  # radians by which a bar leans at most
FILLS, HOLLOW = 0.75, 0.93  # the shares of its box, and of its hull, that a bar or a dot fills at least
PLACES = np.linspace(0.0, 1.0, 33)


@lru_cache(maxsize=1024)
def kind_of(track: Track) -> str | None:
    """Whether an outline is a straight line, or a block: a bar or a dot. None of others."""
    points = track.sketch(PLACES)
    if not track.closed:
        return "line" if abs(points[-1] - points[0]) > STRAIGHT * track.length > 0.0 else None
    fills = abs(track.inside) > FILLS * float(np.ptp(points.real) * np.ptp(points.imag)) > 0.0
    return "block" if fills and abs(track.inside) > HOLLOW * float(hull(points).area) else None


def staying_side_by_side(left: Iterable[Shape], right: Iterable[Shape]) -> list[tuple[str, str]]:
    """Ids of bars or dots of one paint that stay side by side."""
    sides: list[dict[object, list[tuple[str, Track]]]] = [{}, {}]
    for shapes, side in zip((left, right), sides, strict=True):
        for shape in shapes:
            track = even_track(shape.contours[0])
            kind = kind_of(track) if len(shape.contours) == 1 else None
            if kind is not None:
                side.setdefault((kind, shape.fill, shape.stroke), []).append((shape.id, track))
    found = []
    for look in sides[0].keys() & sides[1].keys():
        ones, twos = sides[0][look], sides[1][look]
        mates = in_columns([track for _, track in ones], [track for _, track in twos])
        if mates is not None:
            found += [(name, twos[k][0]) for (name, _), k in zip(ones, mates.tolist(), strict=True)]
    return found


def in_columns(first: Sequence[Track], second: Sequence[Track]) -> Ints | None:
    """Which of the second outlines each of the first is, if all are of one kind, and stay in columns or in rows.

    None if some do not, or if columns tell otherwise than rows and neither are evenly spaced.
    """
    if not FEWEST <= len(first) == len(second):
        return None
    kinds = {kind_of(track) for track in (*first, *second)}
    if len(kinds) > 1 or None in kinds:
        return None
    one, two = (np.array([_middle(track) for track in side]) for side in (first, second))
    extent = float(np.linalg.norm(np.ptp(np.concatenate([one, two]), axis=0)))
    found = {k: mates for k in (0, 1) if (mates := _mates(one[:, k], two[:, k], extent)) is not None}
    if len(found) == 2 and not np.array_equal(found[0], found[1]):  # the same heights, permuted
        found = {k: mates for k, mates in found.items() if np.ptp(np.diff(np.sort(one[:, k]))) <= NEAR * extent}
    told = {mates.tobytes(): mates for mates in found.values()}
    if len(told) != 1:
        return None
    (mates,) = told.values()
    return None if _turn_over(first, [second[k] for k in mates.tolist()]) else mates


def _turn_over(first: Sequence[Track], second: Sequence[Track]) -> bool:
    """Whether any are lines that turn as no bar does: the stripes of a snake."""
    ways = [[track.sketch(PLACES[[0, -1]]) for track in side] for side in (first, second)]
    one, two = (np.array([points[1] - points[0] for points in side]) for side in ways)
    lines = np.array([not track.closed for track in first])
    turns = np.abs(np.angle((two * one.conj())[lines] ** 2 + 1e-300)) / 2.0  # a line may be drawn either way
    return bool(np.any(turns > LEANS))


def _middle(track: Track) -> Floats:
    points = track.points(PLACES)
    return np.asarray(0.5 * (points.min(axis=0) + points.max(axis=0)))


def _mates(one: Floats, two: Floats, extent: float) -> Ints | None:
    order, others = np.argsort(one), np.argsort(two)
    stay = np.abs(one[order] - two[others]).max() <= NEAR * extent
    if not stay or np.diff(one[order]).min() <= APART * extent:  # nor is what is in one place side by side
        return None
    found = np.empty(len(one), dtype=np.int64)
    found[order] = others
    return found
