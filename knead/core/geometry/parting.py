"""A filled shape cut into pieces by straight lines; together the pieces cover it exactly, and some lie over others."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints, area, contour_of, cut, path_of, points_at, reversed_path
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.model import Contour, Shape

Paths = list[Floats]
DEPTHS = (0.4, 0.3, 0.2, 0.1)  # how far soft edges reach over a cut, by its length: the first for which there is room
COARSE, FINE = 12, 48  # places of each segment at which its area is seen, and its edge
INTO = 0.15  # how far their handles lean in, by the same: the shape may become narrower there
SPILT = 1e-4  # the share of what reaches over that may seem outside, since outlines are seen at some places
SQUARE = 0.05  # seeds whose spread favours a direction by less than this share of it favour none


def parted(shape: Shape, seeds: Complexes, shares: Floats, soft: NDArray[np.bool_] | None = None) -> list[Shape]:
    """Pieces of a fill, one for each seed, in their order: about as large as `shares` (k,) say, which sum to 1.

    The cuts are straight, across the line on which the seeds are spread most. A piece that is `soft` (k,) is rounded
    out beyond them, as far as the shape reaches: two drops that part have a neck, and no crack. A shape that can't be
    cut (its outline crosses itself) comes back whole for each seed.
    """
    paths = oriented([path_of(contour) for contour in shape.contours])
    soft = np.zeros(len(seeds), dtype=bool) if soft is None else soft
    whole = _filled(paths, FINE) if soft.any() else None
    pieces = _divided(paths, _Seeds(seeds, shares, soft, np.arange(len(seeds))), whole)
    if pieces is None:
        return [shape] * len(seeds)
    begin = shape.contours[0].nodes[0].id  # not the shape's: a piece of it may be parted again
    found = []
    for number in range(len(seeds)):
        contours = [contour_of(path, True) for path in pieces[number]]
        named = tuple(_named(contour, f"{begin}~{number}~{k}") for k, contour in enumerate(contours))
        found.append(shape.model_copy(update={"contours": named}))
    return found


def _named(contour: Contour, prefix: str) -> Contour:
    """With node ids that are the same whenever the same shape is parted."""
    nodes = tuple(n.model_copy(update={"id": f"{prefix}~{k}"}) for k, n in enumerate(contour.nodes))
    return contour.model_copy(update={"nodes": nodes})


@dataclass(frozen=True, eq=False)
class _Seeds:
    """Where pieces are wanted, how large, and which are soft: some of all, whose numbers are `who`; (k,) each."""

    at: Complexes
    shares: Floats
    soft: NDArray[np.bool_]
    who: Ints

    def of(self, some: Ints) -> "_Seeds":
        """Some of them."""
        return _Seeds(self.at[some], self.shares[some], self.soft[some], self.who[some])


def _divided(paths: Paths, seeds: _Seeds, whole: shapely.Geometry | None) -> dict[int, Paths] | None:
    """Cut in two, then each part again, until every seed has its own; soft edges stay within the whole, if any are."""
    if len(seeds.at) == 1:
        return {int(seeds.who[0]): paths}
    spread = seeds.at - seeds.at.mean()
    lean = complex(np.sum(spread**2))
    if abs(lean) < SQUARE * float(np.sum(np.abs(spread) ** 2)):
        lean = 1.0 + 0j  # spread as much in all directions, as the four panes of a window
    way = np.exp(0.5j * np.angle(lean))
    along = np.round(np.real(spread * np.conj(way)), 6)
    order = np.argsort(along, kind="stable")
    several = np.arange(1, len(spread))  # between rows that lie apart, and about in the middle
    below = 1 + int(np.argmax(np.diff(along[order]) * np.minimum(several, len(spread) - several)))
    sides = seeds.of(order[:below]), seeds.of(order[below:])
    share = float(sides[0].shares.sum() / seeds.shares.sum())
    rooms = [whole if bool(side.soft.all()) else None for side in sides]
    halves = _halved(paths, complex(way), _offset(paths, complex(way), share), rooms)
    if halves is None:
        return None
    found: dict[int, Paths] = {}
    for half, side in zip(halves, sides, strict=True):
        part = _divided(half, side, whole)
        if not half or part is None:
            return None
        found |= part
    return found


def oriented(paths: Paths) -> Paths:
    """Outlines turning one way, holes the other."""
    rings = [shapely.Polygon(points_at(path, np.linspace(0, len(path), 8 * len(path) + 1))) for path in paths]
    found = []
    for path, ring in zip(paths, rings, strict=True):
        point = shapely.Point(path[0, 0])
        depth = sum(other is not ring and other.area > ring.area and other.contains(point) for other in rings)
        found.append(path if (area(path) > 0) == (depth % 2 == 0) else reversed_path(path))
    return found


def _filled(paths: Paths, places: int) -> shapely.Geometry:
    """What the outlines fill, seen at so many places of each segment."""
    whole: shapely.Geometry = shapely.Polygon()
    for path in paths:
        ring = shapely.Polygon(points_at(path, np.linspace(0, len(path), places * len(path) + 1))).buffer(0)
        whole = whole.symmetric_difference(ring)
    return whole


def _offset(paths: Paths, way: complex, share: float) -> float:
    """How far along `way` a line across it has this share of the area before it."""
    whole = _filled(paths, COARSE)
    turned = np.concatenate([as_complex(path.reshape(-1, 2)) for path in paths]) * np.conj(way)
    low, high = float(turned.real.min()), float(turned.real.max())
    sides = complex(low - 1, turned.imag.min() - 1), complex(0, turned.imag.max() + 1)

    def before(offset: float) -> float:
        corners = np.array([sides[0], offset + 1j * sides[0].imag, offset + sides[1], sides[0].real + sides[1]]) * way
        return float(whole.intersection(shapely.Polygon(as_points(corners))).area)

    aim = share * whole.area
    for _ in range(24):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if before(middle) < aim else (low, middle)
    return 0.5 * (low + high)


def _halved(
    paths: Paths, way: complex, offset: float, rooms: Sequence[shapely.Geometry | None]
) -> tuple[Paths, Paths] | None:
    """The parts before and beyond a line. None where the outlines cross each other or themselves on it.

    The edges of each are rounded out over the line as far as its room reaches, and straight if it has none.
    """
    halves: tuple[Paths, Paths] = ([], [])
    runs: dict[int, tuple[Floats, int, int]] = {}  # by the crossing it begins at: path, crossing it ends at, side
    spots: list[complex] = []
    for path in paths:
        heights = np.real(as_complex(path) * np.conj(way)) - offset
        params = _crossings(heights)
        if len(params) < 2:
            halves[int(heights.mean() > 0)].append(path)
            continue
        first = len(spots)
        spots += as_complex(points_at(path, params)).tolist()
        bounds = np.append(params, params[0] + len(path))
        for k in range(len(params)):
            inner = np.arange(np.floor(bounds[k]) + 1, np.ceil(bounds[k + 1]))
            piece = cut(path, np.concatenate([[bounds[k]], inner, [bounds[k + 1]]]))
            middle = as_complex(points_at(path, np.mod(bounds[k : k + 2].mean(keepdims=True), len(path))))
            side = int((np.real(middle[0] * np.conj(way)) - offset) > 0)
            runs[first + k] = piece, first + (k + 1) % len(params), side
    along = np.argsort(np.imag(np.array(spots, dtype=complex) * np.conj(way)), kind="stable")
    if len(along) % 2:
        return None
    mates = {int(a): int(b) for a, b in zip(along, along[np.arange(len(along)) ^ 1], strict=True)}
    waiting = set(runs)
    while waiting:
        start = here = min(waiting)
        pieces, side = [], runs[start][2]
        while here in waiting:
            piece, end, own = runs[here]
            if own != side:
                return None
            waiting.remove(here)
            here = mates[end]
            edge = _line(piece[-1, 3], runs[here][0][0, 0])
            pieces += [piece, _rounded_out(edge, -way if side else way, rooms[side])]
        if here != start:
            return None
        halves[side].append(np.concatenate(pieces))
    return halves


def _crossings(heights: Floats) -> Floats:
    """Parameters at which Bézier heights (segments, 4) change their sign, rising."""
    found = []
    for k in np.flatnonzero((heights.min(axis=1) <= 0) & (heights.max(axis=1) >= 0)).tolist():
        a, b, c, d = heights[k]
        roots = np.roots([d - 3 * c + 3 * b - a, 3 * (c - 2 * b + a), 3 * (b - a), a])
        real = np.sort(roots.real[np.abs(roots.imag) < 1e-9])
        found += [k + t for t in real.tolist() if 0.0 <= t < 1.0]
    return np.array(sorted(found))


def _line(a: Floats, b: Floats) -> Floats:
    return np.array([a, a + (b - a) / 3, b - (b - a) / 3, b])[None]


def _rounded_out(edge: Floats, way: complex, room: shapely.Geometry | None) -> Floats:
    """A straight edge rounded out one way as far as the room reaches; as it is where it has none."""
    a, b = edge[0, 0], edge[0, 3]
    for depth in DEPTHS if room is not None else ():
        out = 4 / 3 * depth * np.linalg.norm(b - a) * np.array([way.real, way.imag])
        rounded = np.array([a, a + out + INTO * (b - a), b + out - INTO * (b - a), b])[None]
        beyond = shapely.Polygon(points_at(rounded, np.linspace(0.0, 1.0, 17)))
        if beyond.difference(room).area <= SPILT * beyond.area:
            return rounded
    return edge
