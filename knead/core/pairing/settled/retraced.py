"""A line that is drawn in parts in the other key, in its place: a round face of which a hand hides a stretch.

Each part belongs to the stretch of the line that it lies along. What is between two parts is shared out among both, so
that they draw back from there.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.color import unlike
from knead.core.geometry.bezier import Complexes, Floats, diagonal
from knead.core.geometry.islands import is_drawn
from knead.core.geometry.shut import as_ring
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.pairing.pairs import ShapePair
from knead.core.pairing.settled.stretches import Part, stretched

NEAR = 0.02  # how far off a line what lies along it may be, by the line's extent
HAND, AT_MOST = 0.03, 0.08  # if a hand drew it anew: by the drawing's extent, and at most by the line's
HIDDEN = 0.01  # so much of the line, at least, a gap between such parts is
POKES = 0.1  # how far the box of a part may poke out of the line's, by its extent
COVER = 0.5  # how much of a line its parts must cover together
PART = 0.98  # what is longer than this, by the line, is no part of it
OVERLAP = 0.02  # by how much of the line parts may overlap
GAPES = 0.1  # a gap that is longer than this, by the line, is more than a pen's
MOST, AT_END = 0.7, 0.01  # a part may go on past an end of an open line, but most of it must lie along it
SEEN, FEW = 257, 17  # places at which a line, and a part of it, are seen
SHADE = 0.1  # how far apart the colours of a line and its parts may be
WINDOW = 0.25  # how far from where it should be, by its length, a place of a part is looked for
SKEWED = 0.2  # by how much the length of a part and that of what it lies along may differ
SURE = 0.9  # how sure such pairs are
REASON = "a part of the line, in its place"


@dataclass(frozen=True)
class _Line:
    """A line of a key, and where it begins, has its middle and ends, (3,). It may be one of `several` of its path."""

    shape: Shape
    several: int
    track: Track
    places: Complexes
    box: Floats

    @cached_property
    def points(self) -> Complexes:
        """Places along it, as many as it is seen at."""
        return self.track.sketch(np.linspace(0.0, 1.0, SEEN))

    @property
    def extent(self) -> float:
        """The diagonal of its box."""
        return float(np.hypot(*(self.box[2:] - self.box[:2])))


def retraced(first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """Pairs of lines with the parts that they have in the other key: two or more, or one of a closed line.

    Parts may be a path each, or one path of several lines, if all of these are parts of it.
    """
    found: list[ShapePair] = []
    sides = _lines(first), _lines(second)
    hand = HAND * diagonal([line.track.path for side in sides for line in side])
    for divides in (True, False):
        wholes, others = sides if divides else sides[::-1]
        boxes = np.array([other.box for other in others]).reshape(-1, 4)
        for whole in [line for line in wholes if line.several == 1]:
            taken = {s for p in found for s in (p.first, p.second)}
            near = [others[k] for k in np.flatnonzero(_within(whole, boxes)) if not others[k].track.closed]
            near = [other for other in near if other.shape.id not in taken]
            parts = _parts(whole, near, others, hand) if near and whole.shape.id not in taken else []
            if parts and not _are_cut_elsewhere(whole, parts, [own for own in wholes if own is not whole]):
                found += [replace(p, alone=True) for p in stretched(whole.shape, parts, divides, SURE, REASON)]
    return found


def _lines(shapes: Sequence[Shape]) -> list[_Line]:
    found = []
    for shape in filter(is_drawn, shapes):
        for contour in shape.contours:
            line = as_ring(shape.model_copy(update={"contours": (contour,)}))
            track = track_of(line.contours[0])
            points = track.path.reshape(-1, 2)
            box = np.concatenate([points.min(axis=0), points.max(axis=0)])
            found.append(_Line(line, len(shape.contours), track, track.sketch(np.array([0.0, 0.5, 1.0])), box))
    return found


def _within(whole: _Line, boxes: Floats) -> NDArray[np.bool_]:
    """Which boxes are within that of a line, or hardly poke out of it, as those of handles may."""
    slack = POKES * whole.extent
    low, high = boxes[:, :2] - whole.box[:2], whole.box[2:] - boxes[:, 2:]
    return np.asarray((np.minimum(low, high) >= -slack).all(axis=1))


def _parts(whole: _Line, near: Sequence[_Line], others: Sequence[_Line], hand: float) -> list[Part]:
    """The parts of a line among those `near`, in its place; of what a hand drew anew, if a stretch of it is missing."""
    reach, by_hand = NEAR * whole.extent, min(hand, AT_MOST * whole.extent)
    parts, _ = _along(whole, near, reach)
    if not parts and by_hand > reach:
        reach = by_hand
        parts, gap = _along(whole, near, reach)
        parts = parts if gap > HIDDEN else []
    return [] if _goes_on_elsewhere(whole, parts, others, reach) else parts


def _along(whole: _Line, others: Sequence[_Line], reach: float) -> tuple[list[Part], float]:
    """The parts of a line among others, as they follow each other, and the widest gap between two of them.

    None if they are not plainly parts of it.
    """
    line = shapely.LineString(as_points(whole.points))
    shapely.prepare(line)
    places = np.array([other.places for other in others])
    near = (shapely.distance(line, shapely.points(places.real, places.imag)) <= reach).sum(axis=1) > 1
    found = [part for k in np.flatnonzero(near).tolist() if (part := _part(whole, others[k], reach))]
    counts = Counter(part.shape.id for part in found)
    if any(counts[other.shape.id] not in (0, other.several) for other in others):
        return [], 0.0
    found.sort(key=lambda part: part.start)
    closed = whole.track.closed
    if len(found) < (1 if closed else 2):
        return [], 0.0
    starts = np.array([*(part.start for part in found[1:]), found[0].start + 1.0])
    gaps = (starts - [part.end for part in found])[: None if closed else -1]
    covered = sum(part.end - part.start for part in found)
    return (found, float(gaps.max())) if gaps.min() > -OVERLAP and covered >= COVER else ([], 0.0)


def _goes_on_elsewhere(whole: _Line, parts: Sequence[Part], others: Sequence[_Line], reach: float) -> bool:
    """Whether another line goes on where a part ends before a gap: that is not hidden, but has moved."""
    if not parts:
        return False
    starts, ends = np.array([(part.start, part.end) for part in parts]).T
    ring = whole.track.closed
    before = starts - [ends[-1] - 1.0 if ring else 0.0, *ends[:-1]]
    after = np.array([*starts[1:], starts[0] + 1.0 if ring else 1.0]) - ends
    edges = whole.track.sketch(np.concatenate([starts[before > GAPES], ends[after > GAPES]]))
    known = {part.shape.id for part in parts}
    tips = np.array([tip for other in others if other.shape.id not in known for tip in other.places[[0, 2]].tolist()])
    return bool((np.abs(edges[:, None] - tips[None, :]) <= reach).any()) if len(tips) else False


def _are_cut_elsewhere(whole: _Line, parts: Sequence[Part], mates: Sequence[_Line]) -> bool:
    """Whether a part goes on past an end of a line as another line of that key does: nothing of it is hidden there."""
    if whole.track.closed or not mates:
        return False
    reach = NEAR * whole.extent
    line, rest = (shapely.MultiLineString([as_points(own.points) for own in row]) for row in ([whole], mates))
    for part in parts:
        places = shapely.points(as_points(track_of(part.shape.contours[0]).sketch(np.linspace(0.0, 1.0, FEW))))
        beyond = places[shapely.distance(line, places) > 2 * reach]
        if len(beyond) and np.all(shapely.distance(rest, beyond) <= 2 * reach):
            return True
    return False


def _part(whole: _Line, other: _Line, reach: float) -> Part | None:
    """Another line as a part of a line; None if it does not lie along it, from place to place, in its colour."""
    size = other.track.length / max(whole.track.length, 1e-12)
    if not 0.0 < size < PART or unlike(_color(other.shape), _color(whole.shape)) > SHADE:
        return None
    shares, gaps = _beside(whole, other.track.sketch(np.linspace(0.0, 1.0, FEW)), size)
    near = gaps <= reach
    beyond = not whole.track.closed and bool(np.all(np.minimum(shares, 1.0 - shares)[~near] < AT_END))
    if near.mean() < (MOST if beyond else 1.0):
        return None
    shares, size = shares[near], size * float(near.mean())
    steps = np.diff(shares if shares[-1] > shares[0] else shares[::-1])
    slack = max(SKEWED * size, 2 * reach / whole.track.length)
    if steps.min() < -OVERLAP or abs(steps.sum() - size) > slack:
        return None
    part = other.track if shares[-1] > shares[0] else other.track.backwards
    ends = _at_corners(whole.track, part, np.array([shares.min(), shares.min() + steps.sum()]), reach)
    start, end = (ends - np.floor(ends[0]) if whole.track.closed else ends).tolist()
    return Part(other.shape, start, end)


def _at_corners(line: Track, part: Track, ends: Floats, reach: float) -> Floats:
    """Where a part begins and ends on a line, in shares (2,): at a corner that is near, if the part has none there."""
    (corners, _), (own, _) = line.corners, part.corners
    if not len(corners):
        return ends
    off = corners - ends[:, None]
    off = np.mod(off + 0.5, 1.0) - 0.5 if line.closed else off
    off = np.take_along_axis(off, np.argmin(np.abs(off), axis=1)[:, None], axis=1)[:, 0]
    turns = [bool((away * part.length <= 2 * reach).any()) for away in (own, 1.0 - own)]
    there = np.where((np.abs(off) * line.length <= reach) & ~np.array(turns), ends + off, ends)
    return there if there[0] < there[1] else ends


def _beside(whole: _Line, places: Complexes, size: float) -> tuple[Floats, Floats]:
    """Where on a line, in shares, places lie that follow each other along a `size` of it, and how far off it; (k,).

    Where the line crosses itself, the nearest place is not always the next.
    """
    row = whole.points
    edges = np.diff(row)
    on = np.clip(((places[:, None] - row[:-1]) * edges.conj()).real / np.maximum(np.abs(edges) ** 2, 1e-18), 0.0, 1.0)
    gaps = np.abs(places[:, None] - row[:-1] - on * edges)
    count = len(edges)
    onward = np.linspace(0.0, size, len(places)) * count
    ways = np.arange(count)[:, None] + np.concatenate([[onward], [-onward]])[:, None]
    at = np.floor(ways).astype(int)
    at = np.mod(at, count) if whole.track.closed else np.clip(at, 0, count - 1)
    off = gaps[np.arange(len(places)), at].mean(axis=2)
    way = ways.reshape(-1, len(places))[int(np.argmin(off))]
    apart = np.arange(count) + 0.5 - way[:, None]
    if whole.track.closed:
        apart = np.mod(apart + 0.5 * count, count) - 0.5 * count
    seen = np.where(np.abs(apart) <= WINDOW * count * size + 1.0, gaps, np.inf)
    nearest = np.argmin(seen, axis=1)[:, None]
    shares = (nearest + np.take_along_axis(on, nearest, axis=1))[:, 0] / count
    if whole.track.closed:
        shares = np.unwrap(shares, period=1.0)
    return shares, np.take_along_axis(gaps, nearest, axis=1)[:, 0]


def _color(line: Shape) -> str:
    assert line.stroke is not None
    return line.stroke.paint.color
