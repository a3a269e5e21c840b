"""Areas that lines enclose: which stretches of which lines bound the one around a point, and the outline they make.

Lines are followed as dense chords to find the area (Shapely's noding and polygonizing); the outline itself is cut out
of the lines' own Béziers.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely import LineString, Point, STRtree

from knead.core.geometry.bezier import Floats, cut, lengths_along, points_at, reversed_path
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Shape, Stretch

CHORDS = 48  # a segment
TOUCH = 1e-6  # an end nearer than this to another line, in scene units, is on it
FAR = 0.3  # how far along a line, as a share of it, two lines that still meet may have moved their meeting
LineId = tuple[str, int]


class NotClosed(ValueError):
    """The area around the point is open; the message is a sentence for the user."""


@dataclass(frozen=True)
class Line:
    """A contour that can bound an area."""

    id: LineId
    contour: Contour
    track: Track

    @cached_property
    def chords(self) -> Floats:
        """Points along it, shape (CHORDS * segments + 1, 2); point k has parameter k / CHORDS."""
        count = len(self.track.path)
        return points_at(self.track.path, np.linspace(0, count, CHORDS * count + 1))


def lines_of(shapes: Sequence[Shape]) -> list[Line]:
    """The drawn lines of shapes: contours with a stroke that has a width."""
    return [
        line_of(shape, k)
        for shape in shapes
        if shape.stroke is not None and shape.stroke.width > 0
        for k, contour in enumerate(shape.contours)
        if len(contour.nodes) > 1
    ]


def line_of(shape: Shape, index: int) -> Line:
    """One contour of a shape as a line."""
    contour = shape.contours[index]
    return Line((shape.id, index), contour, track_of(contour))


def area_around(lines: Sequence[Line], point: tuple[float, float], gap: float) -> list[list[Stretch]]:
    """What bounds the area around a point: the stretches round it, then those round each hole in it.

    Ends of lines that are within `gap` scene units of another line count as joined to it. Raises NotClosed.
    """
    face = _face(lines, point, gap)
    if face is None:
        wider = next((g for g in gap + np.array([2, 5, 10, 20, 40, 80.0]) if _face(lines, point, g) is not None), None)
        hint = f" A gap of {wider:g} would close it." if wider else " Draw the line that is missing."
        raise NotClosed("No lines close an area round this place." + hint)
    return [_stretches(ring, lines) for ring in (face.exterior, *face.interiors)]


def gaps(lines: Sequence[Line], gap: float) -> list[tuple[Floats, Floats]]:
    """The gaps that would be closed: from each open end, the nearest place within reach on another line."""
    found = ((chords[0], place) for chords, place in _reached(lines, gap))
    return [(end, place) for end, place in found if np.linalg.norm(place - end) > TOUCH]


def _reached(lines: Sequence[Line], gap: float) -> list[tuple[Floats, Floats]]:
    """The nearest place within reach of each open end that reaches one, and the chords from that end on."""
    found = []
    whole = {line.id: LineString(line.chords) for line in lines}
    for line in [line for line in lines if not line.track.closed]:
        for chords in (line.chords, line.chords[::-1]):
            place = _nearest(line, chords, lines, whole, gap)
            if place is not None:
                found.append((chords, place))
    return found


def _nearest(
    line: Line, chords: Floats, lines: Sequence[Line], whole: Mapping[LineId, LineString], gap: float
) -> Floats | None:
    best, reach = None, gap
    end = Point(chords[0])
    for other in lines:
        # of its own line, only what is well away from this end counts
        along = whole[other.id] if other is not line else _away(chords, gap)
        if along is None:
            continue
        place = along.interpolate(along.project(end))
        distance = place.distance(end)
        if distance <= reach:
            best, reach = np.array([place.x, place.y]), distance
    return best


def _away(chords: Floats, gap: float) -> LineString | None:
    """What of chords is not near their begin."""
    run = lengths_along(chords)
    rest = chords[run > 2.0 * gap + 1e-9]
    return LineString(rest) if len(rest) > 1 else None


def _bridges(lines: Sequence[Line], gap: float) -> list[LineString]:
    """Short lines from open ends to what they reach: to another end exactly, and else a hair beyond.

    Rounded, they might end just before it; so does a line that was drawn to end on another.
    """
    ends = {tuple(line.chords[k]) for line in lines for k in (0, -1)}
    found = []
    for chords, place in _reached(lines, max(gap, TOUCH)):
        end, step = chords[0], place - chords[0]
        if tuple(place) in ends and np.any(step):
            found.append([end, place])
        elif np.linalg.norm(step) > TOUCH:
            found.append([end, place + 1e-4 * step])
        else:
            out = end - chords[1]
            found.append([end, end + TOUCH * out / max(float(np.linalg.norm(out)), 1e-12)])
    return [LineString(way) for way in found]


def _face(lines: Sequence[Line], point: tuple[float, float], gap: float) -> shapely.Polygon | None:
    noded = shapely.unary_union([*(LineString(line.chords) for line in lines), *_bridges(lines, gap)])
    faces = shapely.polygonize(list(getattr(noded, "geoms", [noded]))).geoms
    around = [face for face in faces if face.contains(Point(point))]
    return min(around, key=lambda face: float(face.area), default=None)


def _stretches(ring: shapely.LinearRing, lines: Sequence[Line]) -> list[Stretch]:
    """Which lines a ring runs along, by the chords its edges lie on; edges across gaps lie on none."""
    chords = [line.chords for line in lines]
    owner = np.repeat(np.arange(len(lines)), [len(c) - 1 for c in chords])
    number = np.concatenate([np.arange(len(c) - 1) for c in chords])
    starts, ends = np.concatenate([c[:-1] for c in chords]), np.concatenate([c[1:] for c in chords])
    tree = STRtree(shapely.linestrings(np.stack([starts, ends], axis=1)))
    points = np.array(ring.coords)
    middles = shapely.points((points[:-1] + points[1:]) / 2)
    (edges, found), away = tree.query_nearest(middles, return_distance=True, all_matches=False)
    size = float(np.ptp(points, axis=0).max())
    runs: list[tuple[int, list[float]]] = []
    for edge, chord, distance in zip(edges.tolist(), found.tolist(), away.tolist(), strict=True):
        if distance > 1e-7 * size:
            runs.append((-1, []))
            continue
        way = ends[chord] - starts[chord]
        params = [
            (number[chord] + float(np.clip((p - starts[chord]) @ way / max(way @ way, 1e-300), 0, 1))) / CHORDS
            for p in (points[edge], points[edge + 1])
        ]
        _extend(runs, int(owner[chord]), params, lines)
    if len(runs) > 1 and runs[0][0] == runs[-1][0] >= 0:
        _, last = runs.pop()
        joined = _continued(last, runs[0][1], lines[runs[0][0]])
        if joined is None:
            runs.append((runs[0][0], last))
        else:
            runs[0] = runs[0][0], joined
    return [_stretch(lines[k], params) for k, params in runs if k >= 0]


def _extend(runs: list[tuple[int, list[float]]], line: int, params: list[float], lines: Sequence[Line]) -> None:
    if runs and runs[-1][0] == line:
        joined = _continued(runs[-1][1], params, lines[line])
        if joined is not None:
            runs[-1] = line, joined
            return
    runs.append((line, params))


def _continued(run: list[float], more: list[float], line: Line) -> list[float] | None:
    """A run of parameters with another that goes on where it ends, in the same direction; None if it does not."""
    count = len(line.track.path)
    shift = count * round((run[1] - more[0]) / count) if line.track.closed else 0
    start, end = more[0] + shift, more[1] + shift
    forwards = (run[1] >= run[0]) == (end >= start) or run[0] == run[1] or start == end
    return [run[0], end] if abs(start - run[1]) < 0.5 / CHORDS and forwards else None


def _stretch(line: Line, params: list[float]) -> Stretch:
    start, end = line.track.shares(np.array(params)).tolist()
    turns = np.floor(min(start, end))
    return Stretch(shape=line.id[0], contour=line.id[1], start=start - turns, end=end - turns)


def outline_along(bounds: Sequence[Stretch], lines: Mapping[LineId, Line]) -> tuple[Floats, tuple[Stretch, ...]]:
    """The closed path along the stretches, shape (segments, 4, 2), and the stretches as they are now.

    Where two lines of neighbouring stretches still cross near to where they did, the outline turns from one to the
    other at their crossing. Straight lines close what gaps there are.
    """
    now = _met(bounds, lines)
    pieces: list[Floats] = []
    for bound in now:
        piece = _piece(lines[bound.shape, bound.contour].track, bound)
        if pieces:
            _link(pieces, piece)
        pieces.append(piece)
    _link(pieces, pieces[0])
    return np.concatenate(pieces), now


def _link(pieces: list[Floats], after: Floats) -> None:
    """Make the last piece end where the next begins: by moving both ends a hair, or with a straight segment."""
    end, start = pieces[-1][-1, 3].copy(), after[0, 0].copy()
    apart = float(np.linalg.norm(end - start))
    if apart < 0.05:
        middle = (end + start) / 2
        pieces[-1][-1, 3], after[0, 0] = middle, middle
    else:
        pieces.append(np.array([[end, end, start, start]]))


def _piece(track: Track, bound: Stretch) -> Floats:
    low, high = sorted((bound.start, bound.end))
    first, last = track.params_at(np.array([low, high])).tolist()
    inner = np.arange(np.floor(first) + 1, np.ceil(last))
    params = np.concatenate([[first], inner[(inner > first + 1e-6) & (inner < last - 1e-6)], [last]])
    piece = cut(track.path, params)
    return piece if bound.start <= bound.end else reversed_path(piece)


def _met(bounds: Sequence[Stretch], lines: Mapping[LineId, Line]) -> tuple[Stretch, ...]:
    now = list(bounds)
    for k in range(len(now) if len(now) > 1 else 0):
        after = (k + 1) % len(now)
        one, two = lines[now[k].shape, now[k].contour], lines[now[after].shape, now[after].contour]
        if one is two:
            continue
        meeting = _meeting(one, now[k].end, two, now[after].start)
        if meeting is not None:
            now[k] = now[k].model_copy(update={"end": meeting[0]})
            now[after] = now[after].model_copy(update={"start": meeting[1]})
    return tuple(now)


def _meeting(one: Line, end: float, two: Line, start: float) -> tuple[float, float] | None:
    """The shares at which two lines cross, nearest to given ones."""
    chords = LineString(one.chords), LineString(two.chords)
    places = shapely.get_coordinates(shapely.intersection(*chords))
    if not len(places):
        return None
    away = np.zeros(len(places))
    for line, chord, share in ((one, chords[0], end), (two, chords[1], start)):
        off = shapely.line_locate_point(chord, shapely.points(places), normalized=True) - share
        away += np.abs(off - np.round(off)) if line.track.closed else np.abs(off)
    best = places[int(np.argmin(away))]
    found = _near_share(one.track, best, end), _near_share(two.track, best, start)
    return found if abs(found[0] - end) + abs(found[1] - start) < FAR else None


def _near_share(track: Track, point: Floats, share: float) -> float:
    found = float(track.shares(np.array([track.nearest(point)[0]]))[0])
    return found + round(share - found) if track.closed else found
