"""Open strokes that continue each other, end to end: one line, however it was cut when it was drawn."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from knead.core.color import to_oklab
from knead.core.geometry.bezier import Complexes, Floats, diagonal, path_of
from knead.core.geometry.similarity import as_complex
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Node, Point, Shape

GAP = 0.04  # a gap up to this share of the shorter stroke's length, or up to the width of the thinner, is no gap
HAND, AT_MOST = 0.03, 0.25  # a hand leaves a gap up to this share of the drawing's extent, and of the shorter stroke
FAR, MOST = 0.09, 0.3  # by that extent, and by its length at most: over how much of a stroke it shows where it goes
BEND = np.cos(np.radians(50.0))  # how much a line may turn where one stroke ends and the next begins
TINT = 0.05  # distance in OKLab up to which two strokes are of one colour


class Link(NamedTuple):
    """A stroke in a chain, and whether the chain runs through it from its last node to its first.

    It may be a piece of a stroke, which has the id of the whole.
    """

    shape: Shape
    backwards: bool
    piece: bool = False

    @property
    def turned(self) -> "Link":
        """The same the other way."""
        return self._replace(backwards=not self.backwards)


@dataclass(frozen=True)
class Chain:
    """Strokes in the order in which they continue each other; most chains are a single one."""

    links: tuple[Link, ...]

    @property
    def shapes(self) -> tuple[Shape, ...]:
        """Its strokes in their order."""
        return tuple(link.shape for link in self.links)

    @property
    def ids(self) -> tuple[str, ...]:
        """The ids of its strokes in their order."""
        return tuple(link.shape.id for link in self.links)

    def parts(self) -> list["Chain"]:
        """Its strokes as chains of their own."""
        return [Chain((Link(shape, False),)) for shape in self.shapes]

    @property
    def lead(self) -> Shape:
        """The stroke that stands for the chain."""
        return self.links[0].shape

    @cached_property
    def form(self) -> Shape:
        """The chain as one stroke under the lead's id."""
        return self.whole()[0]

    def whole(self) -> tuple[Shape, list[int], list[complex]]:
        """The chain as one stroke under the lead's id, and the index of the node at which each link begins.

        A last entry is the index of the last node. And how far from where the one before it truly ends each link truly
        begins: there may be a gap.
        """
        if len(self.links) == 1:
            return self.lead, [0, len(self.lead.contours[0].nodes) - 1], [0j]
        nodes: list[Node] = []
        starts, gaps = [], []
        for link in self.links:
            own = list(link.shape.contours[0].nodes)
            own = [_turned(node) for node in own[::-1]] if link.backwards else own
            gaps.append(complex(*own[0].at) - complex(*nodes[-1].at) if nodes else 0j)
            if nodes:
                nodes[-1] = joined(nodes[-1], own[0])
            own = own[1:] if nodes else own
            starts.append(max(len(nodes) - 1, 0))
            nodes += own
        whole = self.lead.model_copy(update={"contours": (Contour(nodes=tuple(nodes)),)})
        return whole, [*starts, len(nodes) - 1], gaps


def joined(end: Node, begin: Node) -> Node:
    """The node at which a stroke ends and the next begins: half-way, whichever way the line is run."""
    middle = Point((end.at.x + begin.at.x) / 2, (end.at.y + begin.at.y) / 2)
    return end.model_copy(update={"at": middle, "after": begin.after, "kind": "corner"})


def _turned(node: Node) -> Node:
    return node.model_copy(update={"before": node.after, "after": node.before})


def may_chain(shape: Shape) -> bool:
    """Whether a shape is a single open stroke."""
    contour = shape.contours[0]
    return (
        len(shape.contours) == 1
        and not contour.closed
        and shape.fill is None
        and shape.stroke is not None
        and len(contour.nodes) > 1
    )


def chains(shapes: Sequence[Shape], round_corners: bool = False, last: Collection[int] = ()) -> list[Chain]:
    """Chain the strokes among shapes of one key; every shape is in one chain, in the order of its first.

    A line may go on `round_corners`, too, where two strokes end and no third does. It does not at its `last` ends,
    numbered 2 k (the first node of stroke k) and 2 k + 1 (its last).
    """
    strokes = [shape for shape in shapes if may_chain(shape)]
    lines = runs(len(strokes), _mates(strokes, round_corners, last))
    found = [Chain(tuple(Link(strokes[end // 2], end % 2 == 1) for end in line)) for line in lines]
    others = [Chain((Link(shape, False),)) for shape in shapes if not may_chain(shape)]
    places = {id(shape): k for k, shape in enumerate(shapes)}
    return sorted([*found, *others], key=lambda chain: places[id(chain.lead)])


def runs(count: int, goes_on: dict[int, int]) -> list[list[int]]:
    """Lines through `count` stretches, by the ends at which they enter each; `goes_on` says in which end one goes on.

    Ends are numbered 2 k and 2 k + 1. A ring has no end: it is opened at its first stretch.
    """
    found: list[list[int]] = []
    taken: set[int] = set()
    ends = [end for end in range(2 * count) if end not in goes_on]
    for start in [*ends, *range(0, 2 * count, 2)]:
        line, here = list[int](), start
        while here // 2 not in taken:
            taken.add(here // 2)
            line.append(here)
            here = goes_on.get(here ^ 1, here)
        found += [line] if line else []
    return found


def reach(strokes: Sequence[Shape], longest: float = np.inf) -> Floats:
    """How far apart strokes may be that meet, shape (n, n); none counts as longer than `longest`."""
    paths = [path_of(shape.contours[0]) for shape in strokes]
    lengths = np.array([float(np.linalg.norm(np.diff(path[:, [0, 3]], axis=1), axis=2).sum()) for path in paths])
    widths = _widths(strokes)
    lengths = np.minimum(lengths, longest)
    return np.asarray(np.maximum(GAP * np.minimum.outer(lengths, lengths), np.minimum.outer(widths, widths)) + 1e-9)


def ends_of(strokes: Sequence[Shape]) -> tuple[Complexes, Complexes]:
    """Where strokes begin and end, and the unit directions from there into the open, shapes (2 n,)."""
    paths = [path_of(shape.contours[0]) for shape in strokes]
    places = np.array([as_complex(end) for path in paths for end in (path[0, 0], path[-1, 3])])
    ways = np.array([way for path in paths for way in (_outward(path[0]), _outward(path[-1, ::-1]))])
    return places, ways


def _mates(strokes: Sequence[Shape], round_corners: bool, last: Collection[int]) -> dict[int, int]:
    """Which end continues in which."""
    if len(strokes) < 2:
        return {}
    places, ways = ends_of(strokes)
    paints, widths = np.array([_paint(shape) for shape in strokes]), _widths(strokes)
    owner = np.arange(len(places)) // 2
    tracks = [track_of(shape.contours[0]) for shape in strokes]
    extent = diagonal([track.path for track in tracks])
    gap, loose = _gaps(places, reach(strokes), by_hand(tracks, extent))
    meet = gap <= 1.0
    meet[list(last)] = meet[:, list(last)] = False
    one, two = np.nonzero(meet & (owner[:, None] < owner[None]))
    straight, about = (-np.real(side[one] * np.conj(side[two])) for side in (ways, _about(tracks, extent)))
    wavers = loose[one] & loose[two]
    straight = np.where(wavers, np.maximum(straight, about), straight)  # the very tip of what it drew tells little
    own, other = widths[owner[one]] + 1e-6, widths[owner[two]] + 1e-6
    alike = np.linalg.norm(paints[owner[one]] - paints[owner[two]], axis=1) < TINT
    alike &= np.abs(np.log(own / other)) < 0.5
    parts = np.array([shape.part or "" for shape in strokes])
    alike &= parts[owner[one]] == parts[owner[two]]
    goes_on = straight >= BEND
    if round_corners:
        alone = meet.sum(axis=1) == 2  # itself, and one other end
        goes_on |= alone[one] & alone[two] & ~wavers
    fits = goes_on & alike
    one, two = one[fits], two[fits]
    order = np.argsort(np.round(gap[one, two] * 0.3 + 1.0 - straight[fits], 9), kind="stable")
    mates: dict[int, int] = {}
    for k in order.tolist():
        a, b = int(one[k]), int(two[k])
        if a not in mates and b not in mates:
            mates[a], mates[b] = b, a
    return mates


def _gaps(places: Complexes, near: Floats, farther: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """How far apart ends are by what they may be if they meet, shape (2 n, 2 n), and which meet nothing but for a hand.

    Strokes that meet are as `near`, shape (n, n); of two ends that else meet nothing, a hand left a gap
    that may be `farther`.
    """
    owner = np.arange(len(places)) // 2
    apart, pairs = np.abs(places[:, None] - places[None]), np.ix_(owner, owner)
    loose = (apart <= near[pairs]).sum(axis=1) == 1  # itself alone
    most = np.where(np.logical_and.outer(loose, loose), np.maximum(near, farther)[pairs], near[pairs])
    return np.asarray(apart / most), loose


def by_hand(tracks: Sequence[Track], extent: float) -> Floats:
    """How far apart a hand may end strokes that it meant to meet, in a drawing of some extent; shape (n, n)."""
    lengths = np.array([track.length for track in tracks])
    return np.asarray(np.minimum(HAND * extent, AT_MOST * np.minimum.outer(lengths, lengths)))


def _about(tracks: Sequence[Track], extent: float) -> Complexes:
    """The directions in which strokes leave their ends, as far as a hand may waver there; shape (2 n,)."""
    ways = np.zeros((len(tracks), 2), dtype=np.complex128)
    for k, track in enumerate(tracks):
        share = min(FAR * extent / max(track.length, 1e-12), MOST)
        begin, own, other, end = track.sketch(np.array([0.0, share, 1.0 - share, 1.0]))
        ways[k] = begin - own, end - other
    return np.asarray(ways / np.maximum(np.abs(ways), 1e-12), dtype=complex).reshape(-1)


def _outward(segment: Floats) -> complex:
    """The unit direction in which a stroke leaves its end, looked at from inside."""
    z: Complexes = as_complex(segment)
    steps = z[0] - z[1:]
    far = steps[np.abs(steps) > 1e-9 * (np.abs(steps).max() + 1e-12)]
    return complex(far[0] / abs(far[0])) if len(far) else 0j


def _widths(strokes: Sequence[Shape]) -> Floats:
    return np.array([shape.stroke.width if shape.stroke else 0.0 for shape in strokes])


def _paint(shape: Shape) -> Floats:
    assert shape.stroke is not None
    return np.append(to_oklab(shape.stroke.paint.color), 0.5 * shape.stroke.paint.opacity)
