"""Edits of the nodes of shapes."""

from collections.abc import Callable
from functools import partial
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.sound import EditError
from knead.core.edit.work import Work, checked
from knead.core.geometry.bezier import Floats, contour_of, cut, path_of, points_at
from knead.core.geometry.fit import fit_one
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Drawing, Hint, HintEnd, Model, Node, Point, Shape
from knead.core.outline.hints import nearest_contour

Ids = Annotated[tuple[str, ...], Field(min_length=1)]


class NodeMove(Model):
    """Where a node and its handles are to be."""

    node: str
    at: Point
    before: Point
    after: Point


class MoveNodes(Model):
    """Move nodes and handles to given places."""

    type: Literal["move_nodes"] = "move_nodes"
    key: str
    moves: Annotated[tuple[NodeMove, ...], Field(min_length=1)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Move points" if len(self.moves) > 1 else "Move a point"

    def apply(self, work: Work) -> Work:
        """Set the places."""
        moves = {move.node: move for move in self.moves}

        def change(node: Node) -> Node:
            move = moves.get(node.id)
            if move is None:
                return node
            return node.model_copy(update={"at": move.at, "before": move.before, "after": move.after})

        return _each_node(work, self.key, set(moves), change)


class SetNodeKind(Model):
    """Make nodes corners, smooth or symmetric.

    Smoothing lines the handles up, and gives handles to a node without any; symmetric ones are equally long, too.
    """

    type: Literal["set_node_kind"] = "set_node_kind"
    key: str
    nodes: Ids
    kind: Literal["corner", "smooth", "symmetric"]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Make corners" if self.kind == "corner" else f"Make {self.kind}"

    def apply(self, work: Work) -> Work:
        """Change the kind."""
        chosen = set(self.nodes)

        def contour(old: Contour) -> Contour:
            nodes = [_of_kind(old, k, self.kind) if node.id in chosen else node for k, node in enumerate(old.nodes)]
            return old.model_copy(update={"nodes": tuple(nodes)})

        return each_contour(work, self.key, chosen, contour)


class AddNode(Model):
    """Put a node on a shape's outline where it is nearest to a point; the outline does not change."""

    type: Literal["add_node"] = "add_node"
    key: str
    shape: str
    at: Point

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Add a point"

    def apply(self, work: Work) -> Work:
        """Cut the outline there."""
        shape = work.shape(self.key, self.shape)
        tracks = [track_of(c) for c in shape.contours]
        index, param, _ = nearest_contour(tracks, np.array(self.at))
        contours = list(shape.contours)
        contours[index] = with_node(contours[index], param)
        changed = shape.model_copy(update={"contours": tuple(contours)})
        return _put(work, self.key, lambda s: changed if s.id == shape.id else s)


class RemoveNodes(Model):
    """Take nodes off; what is left keeps its form as well as it can. A contour with no line left goes.

    A hint that stands on one of them stays where it is, on the outline.
    """

    type: Literal["remove_nodes"] = "remove_nodes"
    key: str
    nodes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Remove points" if len(self.nodes) > 1 else "Remove a point"

    def apply(self, work: Work) -> Work:
        """Remove the nodes."""
        chosen = set(self.nodes)
        check_there(work.drawing(self.key), chosen)
        shapes = []
        for shape in work.drawing(self.key).shapes:
            contours = [without_nodes(contour, chosen) for contour in shape.contours]
            kept = tuple(contour for contour in contours if contour is not None)
            if kept:
                shapes.append(shape.model_copy(update={"contours": kept}))
        places = {
            n.id: n.at for s in work.drawing(self.key).shapes for c in s.contours for n in c.nodes if n.id in chosen
        }
        return _hints_freed(work.with_drawing(self.key, Drawing(shapes=tuple(shapes))), self.key, places)


def _hints_freed(work: Work, key: str, places: dict[str, Point]) -> Work:
    """Hints at this key that stood on nodes which are gone now keep their places instead."""
    keys = work.layer_of(key).keys
    index = next(k for k, each in enumerate(keys) if each.id == key)
    for owner, side in ((keys[index], "first"), *(((keys[index - 1], "second"),) if index else ())):
        hints = tuple(_freed(hint, side, places) for hint in owner.span.take.hints)
        if hints != owner.span.take.hints:
            work = work.with_take(owner.id, partial(checked, hints=hints))
    return work


def _freed(hint: Hint, side: str, places: dict[str, Point]) -> Hint:
    end: HintEnd = getattr(hint, side)
    if end.node not in places:
        return hint
    return checked(hint, **{side: checked(end, node=None, at=places[end.node])})


def with_node(contour: Contour, param: float) -> Contour:
    """The contour with one more node at a parameter of its path; its form stays (de Casteljau)."""
    path = path_of(contour)
    index = min(int(param), len(path) - 1)
    if not 1e-6 < param - index < 1 - 1e-6:
        return contour
    params = np.sort(np.append(np.arange(len(path) + 1.0), param))
    like: list[Node | None] = list(contour.nodes)
    like.insert(index + 1, None)
    weights = [node.weight for node in contour.nodes]
    after = weights[(index + 1) % len(weights)]
    weights.insert(index + 1, weights[index] + (param - index) * (after - weights[index]))
    return contour_of(cut(path, params), contour.closed, like, weights)


def without_nodes(contour: Contour, chosen: set[str]) -> Contour | None:
    """The contour without the nodes, each removed stretch refitted by one segment; None if no line is left."""
    kept = [k for k, node in enumerate(contour.nodes) if node.id not in chosen]
    if len(kept) == len(contour.nodes):
        return contour
    if len(kept) < 2:
        return None
    path, n = path_of(contour), len(contour.nodes)
    ends = [*kept[1:], kept[0] + n] if contour.closed else kept[1:]
    pieces = [_joined(path, start, end) for start, end in zip(kept, ends, strict=False)]
    return contour_of(np.array(pieces), contour.closed, [contour.nodes[k] for k in kept])


def _joined(path: Floats, start: int, end: int) -> Floats:
    """One segment in the place of segments start .. end - 1 (counted on round a closed path)."""
    if end - start == 1:
        return np.asarray(path[start % len(path)], dtype=float)
    params = np.mod(np.linspace(start, end, 24 * (end - start) + 1), len(path))
    params[-1] = end % len(path) if end % len(path) else len(path)
    points = points_at(path, params)
    first, last = path[start % len(path)], path[(end - 1) % len(path)]
    leave = first[1] - first[0] if np.any(first[1] != first[0]) else points[1] - points[0]
    arrive = last[2] - last[3] if np.any(last[2] != last[3]) else points[-2] - points[-1]
    norms = [max(float(np.linalg.norm(v)), 1e-12) for v in (leave, arrive)]
    return fit_one(points, leave / norms[0], arrive / norms[1])


def _of_kind(contour: Contour, k: int, kind: Literal["corner", "smooth", "symmetric"]) -> Node:
    node, n = contour.nodes[k], len(contour.nodes)
    if kind == "corner":
        return node.model_copy(update={"kind": kind})
    at = np.array(node.at)
    before, after = np.array(node.before) - at, np.array(node.after) - at
    previous = np.array(contour.nodes[k - 1].at) if k or contour.closed else at
    following = np.array(contour.nodes[(k + 1) % n].at) if k + 1 < n or contour.closed else at
    sizes = [
        float(np.linalg.norm(before) or np.linalg.norm(previous - at) / 3),
        float(np.linalg.norm(after) or np.linalg.norm(following - at) / 3),
    ]
    if kind == "symmetric":
        sizes = [sum(sizes) / 2] * 2
    way = after / max(float(np.linalg.norm(after)), 1e-12) - before / max(float(np.linalg.norm(before)), 1e-12)
    if np.linalg.norm(way) < 1e-6:
        way = following - previous
    way = way / max(float(np.linalg.norm(way)), 1e-12)
    ends = (at - way * sizes[0]).tolist(), (at + way * sizes[1]).tolist()
    return node.model_copy(update={"kind": kind, "before": Point(*ends[0]), "after": Point(*ends[1])})


def check_there(drawing: Drawing, ids: set[str]) -> None:
    """Raises EditError when one of the nodes is gone."""
    there = {node.id for shape in drawing.shapes for contour in shape.contours for node in contour.nodes}
    if ids - there:
        raise EditError("A point that was to be changed is gone.")


def _each_node(work: Work, key: str, ids: set[str], change: Callable[[Node], Node]) -> Work:
    def contour(old: Contour) -> Contour:
        return old.model_copy(update={"nodes": tuple(change(node) for node in old.nodes)})

    return each_contour(work, key, ids, contour)


def each_contour(work: Work, key: str, ids: set[str], change: Callable[[Contour], Contour]) -> Work:
    """Change the contours that have one of the nodes; all others stay the very same objects."""
    check_there(work.drawing(key), ids)

    def shape(old: Shape) -> Shape:
        if not any(node.id in ids for c in old.contours for node in c.nodes):
            return old
        return old.model_copy(update={"contours": tuple(change(c) for c in old.contours)})

    return _put(work, key, shape)


def _put(work: Work, key: str, change: Callable[[Shape], Shape]) -> Work:
    return work.with_drawing(key, Drawing(shapes=tuple(change(s) for s in work.drawing(key).shapes)))
