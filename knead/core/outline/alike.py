"""Lines and rings that become each other: both are made open, or both closed, without changing how they look."""

import numpy as np

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.cutting import piece_of
from knead.core.geometry.shut import as_ring, shut
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Node, Shape
from knead.core.outline.hints import shared_nodes

NEARLY = 0.2  # a line whose ends are nearer than this share of its length is nearly a ring
AT_NODE = 0.02  # a ring that opens nearer to a node than this share of its length opens there
ALMOST = 1e-9
SEEN = np.linspace(0.0, 1.0, 512, endpoint=False)  # places at which a ring may open


def alike(first: Shape, second: Shape, cut: bool = False) -> tuple[Shape, Shape]:
    """The shapes with contours that can be laid on each other; they look as they did.

    What is filled alone is closed. A line that is nearly a ring opens the ring; any other goes out and back along
    itself, as a mouth that is shut. A ring is one as well that was drawn as a line which ends where it began, unless it
    was `cut` there, to become the other.
    """
    first, second = shut(first), shut(second)
    if _is_ring(first) != _is_ring(second) and not cut:
        first, second = as_ring(first), as_ring(second)
    kinds = [{contour.closed for contour in shape.contours} for shape in (first, second)]
    if kinds == [{False}, {True}]:
        return _met(first, second)
    if kinds == [{True}, {False}]:
        return _met(second, first)[::-1]
    return first, second


def _met(line: Shape, ring: Shape) -> tuple[Shape, Shape]:
    gap = _gap(ring, line) if len(line.contours) == len(ring.contours) == 1 else None
    if gap is not None:
        return line, _opened(ring, gap)
    shut = _with(line, tuple(map(_there_and_back, line.contours)))
    return shut.model_copy(update={"fill": line.fill or ring.fill}), ring  # nothing of it is seen while it is shut


def _is_ring(shape: Shape) -> bool:
    return len(shape.contours) == 1 and track_of(shape.contours[0]).is_ring


def _with(shape: Shape, contours: tuple[Contour, ...]) -> Shape:
    return shape.model_copy(update={"contours": contours})


def _nearly_closed(line: Shape, empty: bool) -> bool:
    """Whether a line is nearly a ring; one that becomes an `empty` ring may be more open, as nothing runs out of it."""
    track = track_of(line.contours[0])
    apart = float(np.linalg.norm(track.path[-1, 3] - track.path[0, 0]))
    return apart < NEARLY * track.length or (empty and track.is_open_ring)


def _there_and_back(line: Contour) -> Contour:
    """A line as a ring without area."""
    nodes = line.nodes
    if len(nodes) == 1:
        return line.model_copy(update={"closed": True})
    start = nodes[0].model_copy(update={"before": nodes[0].after, "kind": "corner"})
    end = nodes[-1].model_copy(update={"after": nodes[-1].before, "kind": "corner"})
    back = (
        node.model_copy(update={"before": node.after, "after": node.before, "id": _second(node)})
        for node in nodes[-2:0:-1]
    )
    return line.model_copy(update={"nodes": (start, *nodes[1:-1], end, *back), "closed": True, "bounds": ()})


def _gap(ring: Shape, line: Shape) -> float | None:
    """At which share of a ring it opens to become a line; None if it goes there and back along that.

    A line that bears the ring's nodes is that ring, opened between the last of them and the first.
    """
    (own,), (other,) = line.contours, ring.contours
    if runs_back(other, own):
        return None
    whole, opened = track_of(other), track_of(own)
    shared = shared_nodes(own, other)
    if len(shared) > 2 and len(shared) >= len(other.nodes) - 1:
        (first, after), (last, before) = shared[0], shared[-1]
        loose = np.array([opened.nodes[first], 1.0 - opened.nodes[last]]) + ALMOST
        hidden = np.mod(whole.nodes[after] - whole.nodes[before], 1.0)
        return float(np.mod(whole.nodes[after] - hidden * loose[0] / loose.sum(), 1.0))
    if not _nearly_closed(line, line.fill is None and ring.fill is None):
        return None
    ends = _spread(np.array([own.nodes[0].at, own.nodes[-1].at]), own)
    return float(SEEN[np.argmin(np.abs(_spread(as_points(whole.sketch(SEEN)), other) - ends.mean()))])


def runs_back(ring: Contour, line: Contour) -> bool:
    """Whether a ring came of a line by going back along it: it bears nodes of that twice."""
    own = {node.id for node in ring.nodes}
    return any(node.id in own and _second(node) in own for node in line.nodes)


def _opened(ring: Shape, gap: float) -> Shape:
    """A ring as a line from a share of it round to there; a node that is near is where it opens."""
    (contour,) = ring.contours
    track = track_of(contour)
    off = np.mod(track.nodes - gap + 0.5, 1.0) - 0.5
    k = int(np.argmin(np.abs(off)))
    if abs(off[k]) > AT_NODE:
        start = float(track.params_at(np.array([gap]))[0])
        return piece_of(ring, start, start + len(contour.nodes))
    first = contour.nodes[k]
    nodes = (*contour.nodes[k:], *contour.nodes[:k], first.model_copy(update={"id": _second(first)}))
    return _with(ring, (contour.model_copy(update={"nodes": nodes, "closed": False, "bounds": ()}),))


def _spread(points: np.ndarray, contour: Contour) -> Complexes:
    """Points as seen from a contour's middle, by its size."""
    every = track_of(contour).sketch(np.linspace(0, 1, 65))
    return np.asarray((points[:, 0] + 1j * points[:, 1] - every.mean()) / max(float(every.std()), 1e-12))


def _second(node: Node) -> str:
    """The id of a node where its contour passes it again."""
    return f"{node.id}'"
