"""Holes that open from the edge, or melt into another: where a hole's place in the partner is not in its fill.

If it is a bay there, the ring round the hole is cut through from the bay's mouth, so that its outline goes in, round
the hole and out again, and both keys have one outline: so lips part, and an arm comes off the hip. If it is a part of
another hole, the wall between the two is cut. Where a hole and its mate are bays in each other's places, one opens and
the other closes. A cut has no width.
"""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np
import shapely
from shapely.ops import nearest_points

from knead.core.geometry.bezier import Floats, area, contour_of, cut, path_of, points_at, reversed_path
from knead.core.geometry.islands import ring_of
from knead.core.geometry.track import Track, measure, track_of
from knead.core.model import Contour, Hint, Node, Point, Shape
from knead.core.outline.matching import match
from knead.core.outline.ties import located
from knead.core.pairing.contours import are_holes, matched_in, pair_contours

Sides = tuple[list[shapely.Polygon], list[shapely.Polygon]]  # the rings of both shapes, one a contour

PLACES = 256  # at which an outline is seen
AT_NODE = 1e-3  # a parameter so near to a node is at it
THIN = 0.02  # what fills less than this of its hull is a line that goes there and back, and has no bays
UNLIKE = 0.1  # outlines that are laid on each other with less distortion are one form, maybe turned
LARGER = 16.0  # a bay that is larger by so much, by its area, than a hole, is another thing
SLACK = 2e-4  # how far a cut may reach beyond the fill, by the length of its edge


@lru_cache(maxsize=256)
def with_bays(first: Shape, second: Shape, hints: tuple[Hint, ...]) -> tuple[Shape, Shape]:
    """The shapes with those holes cut open that the other has as a bay; filled, they look as they did.

    Holes that `hints` tie to each other stay holes.
    """
    if not (first.fill and second.fill):
        return first, second
    one, two = ([track_of(contour) for contour in shape.contours] for shape in (first, second))
    if not all(track.closed for track in (*one, *two)):
        return first, second
    ends, _ = located(hints, first, second, one, two, False)
    holes, others = are_holes(one), are_holes(two)
    tied = [(i, j) for _, i, j, _, _ in ends if holes[i] == others[j]]
    there = dict(matched_in(pair_contours(one, two, tied)[0]))
    rings = [ring_of(track, PLACES) for track in one], [ring_of(track, PLACES) for track in two]
    for i in [i for i, j in there.items() if holes[i] and others[j] and (i, j) not in tied]:
        if _changed_places(i, there, rings, (one, two)):
            del there[i]
    return _opened(first, rings, there), _opened(second, rings[::-1], {j: i for i, j in there.items()})


def _edge(k: int, rings: list[shapely.Polygon], among: Iterable[int]) -> int | None:
    """The smallest of some rings that a hole lies in."""
    around = [i for i in among if i != k and rings[i].contains(rings[k])]
    return min(around, key=lambda i: rings[i].area, default=None)


def _changed_places(k: int, there: dict[int, int], rings: Sides, tracks: tuple[list[Track], list[Track]]) -> bool:
    """Whether a hole and its mate are bays in each other's places, of forms that are not merely turned."""
    edge, mate = _edge(k, rings[0], there), there[k]
    if edge is None or not rings[1][there[edge]].contains(rings[1][mate]):
        return False
    sides = (rings[0][edge], rings[0][k]), (rings[1][there[edge]], rings[1][mate])
    for (ring, hole), (other, other_hole) in (sides, sides[::-1]):
        onto = _Onto(ring, other)
        place = onto(hole.centroid)
        if other_hole.contains(place) or _mouth(other, place, onto.size(hole)) is None:
            return False
    return match(tracks[0][edge], tracks[1][there[edge]]).strain.distortion > UNLIKE


def _opened(shape: Shape, rings: Sides, mates: dict[int, int]) -> Shape:
    """The shape with holes that have no mate cut open to where its partner has a bay, or another hole."""
    contours = dict(enumerate(shape.contours))
    own = rings[0]
    theirs = {i: rings[1][j] for i, j in mates.items()}
    for k in [k for k in range(len(own)) if k not in mates]:
        edge = _edge(k, own, mates)
        if edge is None or theirs[edge].is_empty:
            continue
        holes = [i for i in range(len(own)) if i != edge and own[edge].contains(own[i])]
        fill = own[edge].difference(shapely.union_all([own[i] for i in holes])).buffer(SLACK * own[edge].length)
        onto = _Onto(own[edge], theirs[edge])
        place = onto(own[k].centroid)
        melted = next((i for i in holes if i in mates and theirs[i].contains(place)), None)
        if melted is not None:
            line = shapely.shortest_line(own[melted], own[k])
        else:
            mouth = _mouth(theirs[edge], place, onto.size(own[k]))
            line = mouth and _towards(onto.back(mouth), own[edge], own[k])
        target = edge if melted is None else melted
        led = line and _led_in(contours[target], contours[k], line, fill, within=melted is None)
        if led:
            contours[target] = led
            del contours[k]
    return shape if len(contours) == len(own) else shape.model_copy(update={"contours": tuple(contours.values())})


class _Onto:
    """The scale and shift that lay a ring on its partner, by their hulls: a bay changes these the least."""

    def __init__(self, ring: shapely.Polygon, partner: shapely.Polygon) -> None:
        mine, theirs = ring.convex_hull, partner.convex_hull
        self.scale = float(np.sqrt(theirs.area / max(mine.area, 1e-12)))
        self.shift = np.subtract(_place(theirs.centroid), self.scale * _place(mine.centroid))

    def __call__(self, point: shapely.Point) -> shapely.Point:
        return shapely.Point(self.scale * _place(point) + self.shift)

    def size(self, hole: shapely.Polygon) -> float:
        """How large a hole in the ring is there, as an area."""
        return self.scale**2 * float(hole.area)

    def back(self, point: shapely.Point) -> shapely.Point:
        """Where a point of the partner lies on the ring."""
        return shapely.Point((_place(point) - self.shift) / self.scale)


def _place(point: shapely.Point) -> Floats:
    return np.array(point.coords[0])


def _mouth(ring: shapely.Polygon, place: shapely.Point, size: float) -> shapely.Point | None:
    """Where the bay of a ring is open that a place lies in, if it does.

    Holes of a size that is far smaller are none: an eye does not open because its fish bends.
    """
    hull = ring.convex_hull
    found = shapely.get_parts(hull.difference(ring))
    bays = [bay for bay in found if bay.contains(place) and bay.area < LARGER * size]
    if not bays or ring.area <= THIN * hull.area:
        return None
    return nearest_points(bays[0].boundary.intersection(hull.boundary), place)[0]


def _towards(mouth: shapely.Point, ring: shapely.Polygon, hole: shapely.Polygon) -> shapely.LineString | None:
    """The wall between a ring's edge and its hole, as seen from the middle of the hole towards the mouth, if any."""
    middle = _place(hole.centroid)
    way = _place(mouth) - middle
    far = middle + way / max(float(np.hypot(*way)), 1e-12) * ring.length
    wall = shapely.LineString([far, middle]).intersection(ring.difference(hole))
    return min(shapely.get_parts(wall).tolist(), key=hole.centroid.distance, default=None)


def _led_in(
    edge: Contour, hole: Contour, cut_line: shapely.LineString, fill: shapely.Geometry, within: bool
) -> Contour | None:
    """An outline along an edge, on a cut over to a hole, round that, and back; None if the cut leaves the fill.

    The hole lies `within` the edge, or beside it as another hole.
    """
    outer, inner = path_of(edge), path_of(hole)
    nodes = list(hole.nodes)
    if (area(outer) * area(inner) > 0) == within:
        inner, nodes = reversed_path(inner), [nodes[0], *nodes[:0:-1]]
    start = _at_node(track_of(edge).nearest(np.array(cut_line.coords[0]))[0])
    end = _at_node(measure(inner, True).nearest(np.array(cut_line.coords[-1]))[0])
    at, to = (points_at(path, np.array([p % len(path)]))[0] for path, p in ((outer, start), (inner, end)))
    if not fill.covers(shapely.LineString([at, to])):
        return None
    there, back = np.array([[at, at, to, to]]), np.array([[to, to, at, at]])
    along, along_nodes = _round(outer, list(edge.nodes), start)
    inside, inside_nodes = _round(inner, nodes, end)
    return contour_of(np.concatenate([along, there, inside, back]), True, [*along_nodes, *inside_nodes])


def _at_node(param: float) -> float:
    return float(np.round(param)) if abs(param - np.round(param)) < AT_NODE else param


def _round(path: Floats, nodes: list[Node], start: float) -> tuple[Floats, list[Node]]:
    """A closed path from a parameter once round to it, and its nodes, the last of which lies on the first."""
    count = len(path)
    start %= count
    between = np.arange(np.floor(start) + 1, np.ceil(start + count))
    begin = nodes[int(start)]
    if start % 1.0:
        begin = _between(begin, nodes[(int(start) + 1) % count], start, points_at(path, np.array([start]))[0])
    corner = begin.model_copy(update={"kind": "corner"})
    passed = [nodes[int(k) % count] for k in between]
    again = corner.model_copy(update={"id": f"{begin.id}'"})
    return cut(path, np.array([start, *between, start + count])), [corner, *passed, again]


def _between(one: Node, two: Node, param: float, at: Floats) -> Node:
    """A new node on the segment between two. Its id says where, since a segment may be cut for two holes."""
    share = param % 1.0
    place = Point(*at.tolist())
    weight = (1.0 - share) * one.weight + share * two.weight
    return Node(id=f"{one.id}~{share:.6g}", at=place, before=place, after=place, weight=weight)
