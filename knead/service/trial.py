"""What an operation would make of a drawing, before it is done."""

import shapely

from knead.core.edit.forms import Pour
from knead.core.geometry.pour import gaps, lines_of
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Drawing, Model, Point, Shape
from knead.service.views import changed_shapes


class DrawingTrial(Model):
    """The shapes that an operation would change or add, and what that means.

    `nodes` counts their nodes before and after; `deviation` is how far their outlines would move, in scene units;
    `gaps` are those that a pour closes.
    """

    shapes: list[Shape]
    nodes: tuple[int, int]
    deviation: float
    gaps: list[tuple[Point, Point]]


def drawing_trial(before: Drawing, after: Drawing, closed: list[tuple[Point, Point]]) -> DrawingTrial:
    """Compare a drawing with what becomes of it."""
    shapes = changed_shapes(before, after)
    old = [before.shape(shape.id) for shape in shapes]
    far = [_apart(a, b) for a, b in zip(old, shapes, strict=True) if a is not None]
    counts = sum(_nodes(s) for s in old if s is not None), sum(map(_nodes, shapes))
    return DrawingTrial(shapes=shapes, nodes=counts, deviation=max(far, default=0.0), gaps=closed)


def pour_gaps(drawing: Drawing, pour: Pour) -> list[tuple[Point, Point]]:
    """The gaps between the lines of a drawing that a pour closes."""
    found = gaps(lines_of(drawing.shapes), pour.gap)
    return [(Point(*a.tolist()), Point(*b.tolist())) for a, b in found]


def _nodes(shape: Shape) -> int:
    return sum(len(contour.nodes) for contour in shape.contours)


def _apart(one: Shape, two: Shape) -> float:
    """The largest distance between the outlines of two states of a shape, as far as their contours match."""
    pairs = zip(one.contours, two.contours, strict=False)
    return max((float(_line(a).hausdorff_distance(_line(b))) for a, b in pairs), default=0.0)


def _line(contour: Contour) -> shapely.LineString:
    track = track_of(contour)
    return shapely.LineString(track.points(track.shares(track.params)))
