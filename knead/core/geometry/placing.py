"""Whole shapes under affine maps: outlines and the gradients painted on them."""

import numpy as np

from knead.core.geometry.bezier import Floats, transformed
from knead.core.model import Gradient, Paint, Point, Shape
from knead.core.model.style import FARTHEST_DASH, LONGEST_DASH


def placed(shape: Shape, matrix: Floats) -> Shape:
    """The shape under an affine map, matrix of shape (2, 3). Widths stay; ids stay."""
    changes: dict[str, object] = {"contours": tuple(transformed(contour, matrix) for contour in shape.contours)}
    for name in ("fill", "stroke"):
        part = getattr(shape, name)
        if part is not None and part.paint.gradient is not None:
            changes[name] = part.model_copy(update={"paint": placed_paint(part.paint, matrix)})
    return shape.model_copy(update=changes)


def thickened(shape: Shape, scale: float) -> Shape:
    """The shape with its line, if it has one, so much thicker, dashes included."""
    stroke = shape.stroke
    if stroke is None:
        return shape
    dashes = tuple(min(dash * scale, LONGEST_DASH) for dash in stroke.dashes)
    offset = float(np.clip(stroke.dash_offset * scale, -FARTHEST_DASH, FARTHEST_DASH))
    changes = {"width": stroke.width * scale, "dashes": dashes, "dash_offset": offset}
    return shape.model_copy(update={"stroke": stroke.model_copy(update=changes)})


def posed(pivot: Floats, scale: tuple[float, float], angle: float, move: Floats) -> Floats:
    """The affine map, shape (2, 3), that scales about a pivot, turns about it by radians, then moves."""
    c, s = np.cos(angle), np.sin(angle)
    linear = np.array([[c, -s], [s, c]]) @ np.diag(scale)
    return np.column_stack([linear, pivot + move - linear @ pivot])


def placed_paint(paint: Paint, matrix: Floats) -> Paint:
    """A paint whose gradient, if it has one, is under the map."""
    if paint.gradient is None:
        return paint
    return paint.model_copy(update={"gradient": placed_gradient(paint.gradient, matrix)})


def placed_gradient(gradient: Gradient, matrix: Floats) -> Gradient:
    """The gradient under an affine map: a skewed linear one keeps its bands, a circle becomes an ellipse."""
    linear, move = matrix[:, :2], matrix[:, 2]
    start, end = np.array(gradient.start), np.array(gradient.end)
    new_start = linear @ start + move
    if gradient.kind == "linear":
        # the bands run along the image of what was across the gradient; its way is what is across the bands now
        along = linear @ np.array([-(end - start)[1], (end - start)[0]])
        across = np.array([along[1], -along[0]])
        length = float(across @ across)
        new_end = new_start + (across * (across @ (linear @ (end - start))) / length if length > 0 else 0.0)
        return gradient.model_copy(update={"start": Point(*new_start.tolist()), "end": Point(*new_end.tolist())})
    way = end - start
    axes = linear @ np.stack([way, gradient.squash * np.array([-way[1], way[0]])], axis=1)
    turn, sizes, _ = np.linalg.svd(axes)
    changes: dict[str, object] = {
        "start": Point(*new_start.tolist()),
        "end": Point(*(new_start + turn[:, 0] * sizes[0]).tolist()),
        "squash": float(np.clip(sizes[1] / max(float(sizes[0]), 1e-12), 1e-6, 1.0)),
    }
    if gradient.focus is not None:
        changes["focus"] = Point(*(linear @ np.array(gradient.focus) + move).tolist())
    return gradient.model_copy(update=changes)
