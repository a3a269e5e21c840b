"""Poured fills follow the lines around them, whatever edit moves these."""

from knead.core.geometry.bezier import contour_of
from knead.core.geometry.pour import line_of, outline_along
from knead.core.model import Contour, Drawing, Node, Shape


def followed(before: Drawing, after: Drawing) -> Drawing:
    """The drawing with its poured fills along their lines as they are now.

    A fill that was moved away from lines that stayed, or whose line is gone, keeps its form and is free from now on.
    """
    if not any(contour.bounds for shape in after.shapes for contour in shape.contours):
        return after
    old = {shape.id: shape for shape in before.shapes}
    now = {shape.id: shape for shape in after.shapes}
    return Drawing(shapes=tuple(_along_lines(shape, old, now) for shape in after.shapes))


def _along_lines(shape: Shape, old: dict[str, Shape], now: dict[str, Shape]) -> Shape:
    if not any(contour.bounds for contour in shape.contours):
        return shape
    contours = tuple(_followed(contour, shape, old, now) for contour in shape.contours)
    return shape if contours == shape.contours else shape.model_copy(update={"contours": contours})


def _followed(contour: Contour, shape: Shape, old: dict[str, Shape], now: dict[str, Shape]) -> Contour:
    ids = {bound.shape for bound in contour.bounds}
    if not ids:
        return contour
    if not all(_there(bound.shape, bound.contour, now) for bound in contour.bounds):
        return contour.model_copy(update={"bounds": ()})
    moved = any(old.get(name) is not now[name] and old.get(name) != now[name] for name in ids & old.keys())
    if not moved:
        own = old.get(shape.id)
        free = own is not None and contour.nodes not in [c.nodes for c in own.contours]
        return contour.model_copy(update={"bounds": ()}) if free else contour
    lines = {(b.shape, b.contour): line_of(now[b.shape], b.contour) for b in contour.bounds}
    path, bounds = outline_along(contour.bounds, lines)
    same = len(path) == len(contour.nodes)
    like: tuple[Node, ...] = contour.nodes if same else ()
    return contour_of(path, True, like).model_copy(update={"bounds": bounds})


def _there(shape: str, index: int, now: dict[str, Shape]) -> bool:
    return shape in now and index < len(now[shape].contours) and len(now[shape].contours[index].nodes) > 1
