"""The shapes of in-betweens, as the plan of their pair has them."""

from typing import Literal

import numpy as np

from knead.core.blend.paint.paint import Looks
from knead.core.blend.pair.going import Going, Run
from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.model import Contour, Node, Point, Shape


def shapes_at(plan: Going, times: Floats) -> list[tuple[Shape, ...]]:
    """The shapes at each time: one, none where it does not exist, or the pieces of a line cut at all its cuts."""
    triples = as_points(plan.points(times)).reshape(len(times), -1, 3, 2).tolist()
    weights = plan.weights(times)
    widths = np.ones((len(times), len(triples[0]))) if weights is None else weights
    rows = zip(times.tolist(), plan.looks(times), triples, widths.tolist(), strict=True)
    return [_parted(plan, row[0], _shape(plan, *row)) if plan.is_there(row[0]) else () for row in rows]


def _shape(plan: Going, t: float, looks: Looks, triples: list[list[list[float]]], widths: list[float]) -> Shape:
    contours, start = [], 0
    for number, contour in enumerate(plan.runs):
        stop = start + len(contour.nodes)
        nodes = _nodes(contour, f"{plan.identity}.{number}", triples[start:stop], widths[start:stop])
        contours.append(Contour(nodes=nodes, closed=contour.closed))
        start = stop
    fill, stroke, opacity = looks
    new = {"id": plan.identity, "contours": tuple(contours), "fill": fill, "stroke": stroke, "opacity": opacity}
    return (plan.paint.first if t < 0.5 else plan.paint.second).model_copy(update=new)


def _nodes(contour: Run, name: str, triples: list[list[list[float]]], widths: list[float]) -> tuple[Node, ...]:
    """Nodes at their places: the first key's where there is one, else the second's, else new ones of this name."""
    rows = zip(contour.nodes, triples, widths, strict=True)
    return tuple(_placed(pair, f"{name}.{k}", row, width) for k, (pair, row, width) in enumerate(rows))


def _placed(pair: tuple[Node | None, Node | None], name: str, row: list[list[float]], width: float) -> Node:
    """A node at its place, a corner where either key has one."""
    first, second = pair
    node = first or second
    kind: Literal["corner", "smooth"] = (
        "corner" if "corner" in (first and first.kind, second and second.kind) else "smooth"
    )
    before, at, after = (Point(*p) for p in row)
    return Node(id=node.id if node else name, at=at, before=before, after=after, kind=kind, weight=width)


def _parted(plan: Going, t: float, whole: Shape) -> tuple[Shape, ...]:
    """The pieces of a line that is cut at all its cuts; or else the whole."""
    if not plan.pieces:
        return (whole,)
    place, (line, *others) = plan.place(t), whole.contours
    found = []
    for piece in plan.pieces:
        contours = (Contour(nodes=piece.of(line.nodes, place)), *others)
        found.append(whole.model_copy(update={"id": piece.identity, "contours": contours}))
        others = []  # what else there is of a shape goes with its first stretch
    return tuple(found)
