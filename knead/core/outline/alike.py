"""Lines and rings that become each other: both are made open, or both closed, without changing how they look."""

import numpy as np

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.shut import as_ring, shut
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Node, Shape

NEARLY = 0.2  # a line whose ends are nearer than this share of its length is nearly a ring


def alike(first: Shape, second: Shape) -> tuple[Shape, Shape]:
    """The shapes with contours that can be laid on each other; they look as they did.

    What is filled alone is closed. A line that is nearly a ring opens the ring; any other goes out and back along
    itself, as a mouth that is shut. A ring is one as well that was drawn as a line which ends where it began.
    """
    first, second = shut(first), shut(second)
    if _is_ring(first) != _is_ring(second):  # a ring may be drawn as a line that ends where it began
        first, second = as_ring(first), as_ring(second)
    kinds = [{contour.closed for contour in shape.contours} for shape in (first, second)]
    if kinds == [{False}, {True}]:
        return _met(first, second)
    if kinds == [{True}, {False}]:
        return _met(second, first)[::-1]
    return first, second


def _met(line: Shape, ring: Shape) -> tuple[Shape, Shape]:
    if len(line.contours) == len(ring.contours) == 1 and _nearly_closed(line.contours[0]):
        return line, _with(ring, (_opened(ring.contours[0], line.contours[0]),))
    shut = _with(line, tuple(map(_there_and_back, line.contours)))
    return shut.model_copy(update={"fill": line.fill or ring.fill}), ring  # nothing of it is seen while it is shut


def _is_ring(shape: Shape) -> bool:
    return len(shape.contours) == 1 and track_of(shape.contours[0]).is_ring


def _with(shape: Shape, contours: tuple[Contour, ...]) -> Shape:
    return shape.model_copy(update={"contours": contours})


def _nearly_closed(line: Contour) -> bool:
    ends = np.array([line.nodes[0].at, line.nodes[-1].at])
    return float(np.hypot(*np.diff(ends, axis=0)[0])) < NEARLY * track_of(line).length


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


def _opened(ring: Contour, line: Contour) -> Contour:
    """A ring as a line from a node back to it: from the one that lies where the line's ends nearly meet."""
    gap = _spread(np.array([line.nodes[0].at, line.nodes[-1].at]), line).mean()
    places = _spread(np.array([node.at for node in ring.nodes]), ring)
    k = int(np.argmin(np.abs(places - gap)))
    first = ring.nodes[k]
    nodes = (*ring.nodes[k:], *ring.nodes[:k], first.model_copy(update={"id": _second(first)}))
    return ring.model_copy(update={"nodes": nodes, "closed": False, "bounds": ()})


def _spread(points: np.ndarray, contour: Contour) -> Complexes:
    """Points as seen from a contour's middle, by its size."""
    every = track_of(contour).sketch(np.linspace(0, 1, 65))
    return np.asarray((points[:, 0] + 1j * points[:, 1] - every.mean()) / max(float(every.std()), 1e-12))


def _second(node: Node) -> str:
    """The id of a node where its contour passes it again."""
    return f"{node.id}'"
