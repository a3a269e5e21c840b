"""What holds for every drawing that an edit makes: its shapes and nodes have their own ids, and none is too far off."""

import numpy as np
from pydantic import ValidationError

from knead.core.model import Drawing, Shape, new_id

FAR = 1e5  # scene units; the model allows ten times that, for what happens between keys
TOO_FAR = "This would be too large, or too far off the paper."


class EditError(ValueError):
    """An edit that can't be done; the message is a sentence for the user."""


def in_words(error: ValidationError) -> str:
    """What the model refuses, as a sentence."""
    first = error.errors()[0]
    if first["type"] in ("less_than_equal", "greater_than_equal", "finite_number"):
        return TOO_FAR
    return f"That can't be: {first['msg'].removeprefix('Value error, ')}."


def sound(drawing: Drawing, before: Drawing) -> Drawing:
    """The drawing; shapes and nodes whose id is taken have a new one.

    Shapes that are the very ones of `before` were looked at then. Raises EditError where others lie too far away.
    """
    had = {id(shape) for shape in before.shapes}
    new = [shape for shape in drawing.shapes if id(shape) not in had]
    places = np.array(
        [(*n.at, *n.before, *n.after, n.weight) for shape in new for contour in shape.contours for n in contour.nodes]
    )
    if not np.all(np.abs(places) <= FAR):
        raise EditError(TOO_FAR)
    return drawing if _ids_differ(drawing) else _with_own_ids(drawing)


def _ids_differ(drawing: Drawing) -> bool:
    shapes = [shape.id for shape in drawing.shapes]
    nodes = [node for shape in drawing.shapes for node in shape.node_ids]
    return len(shapes) == len(set(shapes)) and len(nodes) == len(set(nodes))


def _with_own_ids(drawing: Drawing) -> Drawing:
    taken: set[str] = set()
    shapes = []
    for shape in drawing.shapes:
        nodes = shape.node_ids
        again = shape.id in taken
        if again or len(set(nodes)) < len(nodes) or not taken.isdisjoint(nodes):
            shapes.append(renewed(shape, None if again else shape.id))
        else:
            shapes.append(shape)
        taken.update([shapes[-1].id, *nodes])
    return Drawing(shapes=tuple(shapes))


def renewed(shape: Shape, name: str | None = None) -> Shape:
    """The same form as another thing: new ids for the shape (or this one) and its nodes."""
    contours = tuple(
        c.model_copy(update={"nodes": tuple(n.model_copy(update={"id": new_id()}) for n in c.nodes)})
        for c in shape.contours
    )
    return shape.model_copy(update={"id": name or new_id(), "contours": contours})
