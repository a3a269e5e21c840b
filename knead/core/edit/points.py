"""Edits of an outline's structure: points merged, straightened, lined up; lines split, joined, opened, turned."""

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.nodes import check_there, each_contour
from knead.core.edit.shapes import Ids, changed, with_shapes
from knead.core.edit.sound import EditError
from knead.core.edit.work import Work
from knead.core.geometry.bezier import backwards
from knead.core.geometry.simplify import simplified
from knead.core.model import Contour, Model, Node, Point, Shape, new_id


class MergePoints(Model):
    """Make one point of neighbouring ones that lie within a distance: of those given, or of whole shapes."""

    type: Literal["merge_points"] = "merge_points"
    key: str
    shapes: Ids
    nodes: tuple[str, ...] = ()
    within: Annotated[float, Field(ge=0.0, le=1e6)] = 0.5

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Merge points"

    def apply(self, work: Work) -> Work:
        """Merge them. Raises EditError where none are near enough."""
        old = work.drawing(self.key)
        work = changed(work, self.key, self.shapes, lambda s: each(s, self._merged))
        if work.drawing(self.key) == old:
            raise EditError("No two neighbouring points lie that close to each other.")
        return work

    def _merged(self, contour: Contour) -> Contour:
        nodes = list(contour.nodes)
        k = 0
        while k < len(nodes) and len(nodes) > 2:
            after = (k + 1) % len(nodes)
            wraps = after == 0
            if (wraps and not contour.closed) or not self._near(nodes[k], nodes[after]):
                k += 1
                continue
            nodes[k] = _middle(nodes[k], nodes[after])
            del nodes[after]
            k -= wraps
        return contour.model_copy(update={"nodes": tuple(nodes)})

    def _near(self, one: Node, two: Node) -> bool:
        chosen = not self.nodes or (one.id in self.nodes and two.id in self.nodes)
        return chosen and float(np.hypot(one.at.x - two.at.x, one.at.y - two.at.y)) <= self.within


class StraightenPoints(Model):
    """Make the lines between neighbouring points straight; a single point loses its handles."""

    type: Literal["straighten_points"] = "straighten_points"
    key: str
    nodes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Straighten"

    def apply(self, work: Work) -> Work:
        """Draw the handles in."""
        chosen = set(self.nodes)

        def straight(contour: Contour) -> Contour:
            count, nodes = len(contour.nodes), list(contour.nodes)
            for k, node in enumerate(contour.nodes):
                if node.id not in chosen:
                    continue
                alone = len(chosen) == 1
                before, after = contour.nodes[k - 1].id in chosen, contour.nodes[(k + 1) % count].id in chosen
                ends = {"after": node.at} if (after and (contour.closed or k + 1 < count)) or alone else {}
                ends |= {"before": node.at} if (before and (contour.closed or k > 0)) or alone else {}
                nodes[k] = node.model_copy(update={**ends, "kind": "corner"} if ends else {})
            return contour.model_copy(update={"nodes": tuple(nodes)})

        return each_contour(work, self.key, chosen, straight)


class AlignPoints(Model):
    """Bring points to one upright or level line through their middle."""

    type: Literal["align_points"] = "align_points"
    key: str
    nodes: Annotated[tuple[str, ...], Field(min_length=2)]
    to: Literal["upright", "level"]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Line up points"

    def apply(self, work: Work) -> Work:
        """Move the points with their handles along one axis."""
        chosen, axis = set(self.nodes), 0 if self.to == "upright" else 1
        check_there(work.drawing(self.key), chosen)
        nodes = [n for s in work.drawing(self.key).shapes for c in s.contours for n in c.nodes if n.id in chosen]
        line = float(np.mean([node.at[axis] for node in nodes]))

        def moved(node: Node) -> Node:
            step = np.zeros(2)
            step[axis] = line - node.at[axis]
            ends = {name: Point(*(np.array(getattr(node, name)) + step).tolist()) for name in ("at", "before", "after")}
            return node.model_copy(update=ends)

        def lined(contour: Contour) -> Contour:
            return contour.model_copy(update={"nodes": tuple(moved(n) if n.id in chosen else n for n in contour.nodes)})

        return each_contour(work, self.key, chosen, lined)


class SplitLine(Model):
    """Cut lines at points: a closed one opens, an open one becomes two shapes."""

    type: Literal["split_line"] = "split_line"
    key: str
    nodes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Split a line"

    def apply(self, work: Work) -> Work:
        """Cut there. The first piece stays the shape it was."""
        chosen = set(self.nodes)
        check_there(work.drawing(self.key), chosen)
        shapes: list[Shape] = []
        for shape in work.drawing(self.key).shapes:
            contours, pieces = [], []
            for contour in shape.contours:
                first, *others = _split(contour, chosen)
                contours.append(first)
                pieces += others
            same = not pieces and tuple(contours) == shape.contours
            shapes.append(shape if same else shape.model_copy(update={"contours": tuple(contours)}))
            shapes += [shape.model_copy(update={"id": new_id(), "contours": (piece,)}) for piece in pieces]
        if len(shapes) == len(work.drawing(self.key).shapes) and tuple(shapes) == work.drawing(self.key).shapes:
            raise EditError("A line can't be split at its very end.")
        return with_shapes(work, self.key, tuple(shapes))


class JoinEnds(Model):
    """Join two ends of open lines: into one line, or, of one line, into a closed form."""

    type: Literal["join_ends"] = "join_ends"
    key: str
    nodes: Annotated[tuple[str, str], Field(min_length=2)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Join ends"

    def apply(self, work: Work) -> Work:
        """Join them; ends at one place become one point, others are joined by a straight line. Raises EditError."""
        drawn = work.drawing(self.key).shapes
        ends = [_end(drawn, node) for node in self.nodes]
        (one, i, first), (two, j, second) = ends
        if one.id == two.id and i == j:
            closed = _closed(one.contours[i])
            return changed(work, self.key, (one.id,), lambda s: with_contour(s, i, closed))
        # the first line is to end at the joint, the second to begin there
        lead = one.contours[i] if first else backwards(one.contours[i])
        rest = backwards(two.contours[j]) if second else two.contours[j]
        joined = Contour(nodes=_chained(lead.nodes, rest.nodes))
        shapes = []
        for shape in drawn:
            contours = [c for k, c in enumerate(shape.contours) if not (shape.id == two.id and k == j)]
            if shape.id == one.id:
                contours[contours.index(one.contours[i])] = joined
            if contours:
                shapes.append(
                    shape.model_copy(update={"contours": tuple(contours)}) if shape.id in (one.id, two.id) else shape
                )
        return with_shapes(work, self.key, tuple(shapes))


class CloseLines(Model):
    """Close all open contours of shapes, or open the closed ones at their seam."""

    type: Literal["close_lines"] = "close_lines"
    key: str
    shapes: Ids
    closed: bool

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Close a line" if self.closed else "Open a line"

    def apply(self, work: Work) -> Work:
        """Close or open them."""
        change = _closed if self.closed else _opened
        return changed(work, self.key, self.shapes, lambda s: each(s, change))


class TurnDirection(Model):
    """Turn round the direction in which outlines are drawn; their form stays."""

    type: Literal["turn_direction"] = "turn_direction"
    key: str
    shapes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Turn the direction"

    def apply(self, work: Work) -> Work:
        """Turn all their contours round."""
        return changed(work, self.key, self.shapes, lambda s: each(s, backwards))


class MoveSeam(Model):
    """Begin a closed outline at another of its points."""

    type: Literal["move_seam"] = "move_seam"
    key: str
    node: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Move the seam"

    def apply(self, work: Work) -> Work:
        """Begin there. Raises EditError for an open line."""

        def begun(contour: Contour) -> Contour:
            if not contour.closed:
                raise EditError("An open line begins at its end; turn its direction instead.")
            k = next(k for k, node in enumerate(contour.nodes) if node.id == self.node)
            return contour.model_copy(update={"nodes": (*contour.nodes[k:], *contour.nodes[:k])})

        return each_contour(work, self.key, {self.node}, begun)


class Simplify(Model):
    """Take off the points that an outline can do without, within a tolerance in scene units."""

    type: Literal["simplify"] = "simplify"
    key: str
    shapes: Ids
    tolerance: Annotated[float, Field(ge=0.01, le=200.0)] = 1.0

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Simplify"

    def apply(self, work: Work) -> Work:
        """Simplify all their contours."""
        return changed(work, self.key, self.shapes, lambda s: simpler(s, self.tolerance)[0])


def simpler(shape: Shape, tolerance: float) -> tuple[Shape, float]:
    """The shape with fewer nodes, and the largest distance of its outline from the one before."""
    found = [simplified(contour, tolerance) for contour in shape.contours]
    contours = tuple(s.contour for s in found)
    return shape.model_copy(update={"contours": contours}), max(s.deviation for s in found)


def each(shape: Shape, change: Callable[[Contour], Contour]) -> Shape:
    """The shape with all its contours changed."""
    return shape.model_copy(update={"contours": tuple(change(c) for c in shape.contours)})


def with_contour(shape: Shape, index: int, contour: Contour) -> Shape:
    """The shape with one of its contours replaced."""
    contours = (*shape.contours[:index], contour, *shape.contours[index + 1 :])
    return shape.model_copy(update={"contours": contours})


def _middle(one: Node, two: Node) -> Node:
    """One node half way between two, its handles as far from it as theirs were."""
    at = (np.array(one.at) + np.array(two.at)) / 2
    before = at + np.array(one.before) - np.array(one.at)
    after = at + np.array(two.after) - np.array(two.at)
    ends = {name: Point(*place.tolist()) for name, place in (("at", at), ("before", before), ("after", after))}
    return one.model_copy(update={**ends, "kind": "corner", "weight": (one.weight + two.weight) / 2})


def _split(contour: Contour, chosen: set[str]) -> list[Contour]:
    nodes = list(contour.nodes)
    cuts = [k for k, node in enumerate(nodes) if node.id in chosen]
    if contour.closed and cuts:
        nodes = [*nodes[cuts[0] :], *nodes[: cuts[0]], _again(nodes[cuts[0]])]
        cuts = [k - cuts[0] for k in cuts[1:]]
    cuts = [k for k in cuts if 0 < k < len(nodes) - 1]
    if not cuts:
        return [contour if len(nodes) == len(contour.nodes) else Contour(nodes=tuple(nodes))]
    pieces, start = [], 0
    for k in [*cuts, len(nodes) - 1]:
        piece = nodes[start : k + 1]
        pieces.append(Contour(nodes=tuple([_again(piece[0]), *piece[1:]] if start else piece)))
        start = k
    return pieces


def _again(node: Node) -> Node:
    return node.model_copy(update={"id": new_id()})


def _closed(contour: Contour) -> Contour:
    nodes = contour.nodes
    if contour.closed or len(nodes) < 2:
        return contour
    if _together(nodes[-1], nodes[0]) and len(nodes) > 2:
        first = nodes[0].model_copy(update={"before": nodes[-1].before})
        return contour.model_copy(update={"nodes": (first, *nodes[1:-1]), "closed": True})
    first, last = _bare(nodes[0], "before"), _bare(nodes[-1], "after")
    return contour.model_copy(update={"nodes": (first, *nodes[1:-1], last), "closed": True})


def _opened(contour: Contour) -> Contour:
    if not contour.closed:
        return contour
    return Contour(nodes=(*contour.nodes, _again(contour.nodes[0])))


def _together(one: Node, two: Node) -> bool:
    return float(np.hypot(one.at.x - two.at.x, one.at.y - two.at.y)) < 1e-3


def _bare(node: Node, side: Literal["before", "after"]) -> Node:
    return node.model_copy(update={side: node.at, "kind": "corner"})


def _chained(lead: tuple[Node, ...], rest: tuple[Node, ...]) -> tuple[Node, ...]:
    if _together(lead[-1], rest[0]):
        joint = lead[-1].model_copy(update={"after": rest[0].after, "kind": "corner"})
        return (*lead[:-1], joint, *rest[1:])
    return (*lead[:-1], _bare(lead[-1], "after"), _bare(rest[0], "before"), *rest[1:])


def _end(shapes: tuple[Shape, ...], node: str) -> tuple[Shape, int, bool]:
    """The shape, contour index, and whether it is the contour's last node. Raises EditError for any other node."""
    for shape in shapes:
        for k, contour in enumerate(shape.contours):
            if not contour.closed and node in (contour.nodes[0].id, contour.nodes[-1].id):
                return shape, k, contour.nodes[-1].id == node
    raise EditError("Only the ends of open lines can be joined: choose two of them.")
