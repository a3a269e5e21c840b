"""Fills whose outlines are open: what is filled alone ends where it begins, whether its outline says so or not."""

from knead.core.geometry.track import track_of
from knead.core.model import Contour, Shape


def shut(shape: Shape) -> Shape:
    """A shape without a stroke with all its contours closed; it looks as it did. Any other is the same."""
    if shape.fill is None or shape.stroke is not None or all(contour.closed for contour in shape.contours):
        return shape
    return shape.model_copy(update={"contours": tuple(map(closed, shape.contours))})


def as_ring(shape: Shape) -> Shape:
    """A shape whose only outline is a line that ends where it began, as a ring; any other is the same."""
    if len(shape.contours) == 1 and not shape.contours[0].closed and track_of(shape.contours[0]).is_ring:
        return shape.model_copy(update={"contours": (closed(shape.contours[0]),)})
    return shape


def closed(contour: Contour) -> Contour:
    """The contour with a straight stretch from its end to its start."""
    if contour.closed:
        return contour
    first, *others = contour.nodes
    nodes = [first.model_copy(update={"before": first.at}), *others]
    nodes[-1] = nodes[-1].model_copy(update={"after": nodes[-1].at})
    return contour.model_copy(update={"nodes": tuple(nodes), "closed": True})
