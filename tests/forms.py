"""Forms to morph, and ways to cut them anew without changing what they look like."""

import math
from collections.abc import Sequence

import numpy as np
import shapely
from scipy.ndimage import gaussian_filter1d

from knead.core.edit import Work
from knead.core.edit.nodes import with_node
from knead.core.geometry.bezier import contour_of, lengths_along, path_of, points_at, transformed
from knead.core.geometry.fit import fit_path
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import (
    Contour,
    Drawing,
    Fill,
    Key,
    Layer,
    Node,
    Paint,
    Point,
    Scene,
    Shape,
    Span,
    Stroke,
    Take,
    new_id,
)

QUARTER = 0.5522847498


def polygon(points: Sequence[tuple[float, float]], closed: bool = True) -> Contour:
    return Contour(nodes=tuple(Node(at=p, before=p, after=p) for p in points), closed=closed)


def rounded(points: Sequence[tuple[float, float]], radius: float) -> Contour:
    """A polygon with a quarter of a circle for each of its (right-angled) corners."""
    nodes = []
    for k, point in enumerate(points):
        at, ends = np.array(point), [np.array(points[k - 1]), np.array(points[(k + 1) % len(points)])]
        (start, left), (end, right) = (
            (at + radius * way, at + (1 - QUARTER) * radius * way)
            for way in ((other - at) / np.linalg.norm(other - at) for other in ends)
        )
        nodes.append(Node(at=tuple(start), before=tuple(start), after=tuple(left), kind="smooth"))
        nodes.append(Node(at=tuple(end), before=tuple(right), after=tuple(end), kind="smooth"))
    return Contour(nodes=tuple(nodes), closed=True)


def star(tips: int = 5, inner: float = 0.5, size: float = 100.0, at: tuple[float, float] = (200.0, 200.0)) -> Contour:
    radii = [size, inner * size]
    angles = [math.pi * k / tips - math.pi / 2 for k in range(2 * tips)]
    return polygon(
        [(at[0] + radii[k % 2] * math.cos(a), at[1] + radii[k % 2] * math.sin(a)) for k, a in enumerate(angles)]
    )


def ellipse(x: float, y: float, rx: float, ry: float) -> Contour:
    nodes = []
    for ux, uy in ((0, -1), (1, 0), (0, 1), (-1, 0)):
        px, py, hx, hy = x + ux * rx, y + uy * ry, -uy * QUARTER * rx, ux * QUARTER * ry
        nodes.append(Node(at=(px, py), before=(px - hx, py - hy), after=(px + hx, py + hy), kind="smooth"))
    return Contour(nodes=tuple(nodes), closed=True)


def arc(start: float, end: float, at: complex = 200 + 200j, radius: float = 100.0) -> Contour:
    """A stretch of a circle, from one angle in degrees to another."""
    steps = np.radians(np.linspace(start, end, 7))
    handle = 4 / 3 * math.tan((steps[1] - steps[0]) / 4)
    rows = ([at + radius * z * way for way in (1, 1 - 1j * handle, 1 + 1j * handle)] for z in np.exp(1j * steps))
    places = ([(z.real, z.imag) for z in row] for row in rows)
    return Contour(nodes=tuple(Node(at=a, before=b, after=c, kind="smooth") for a, b, c in places))


def smooth(points: Sequence[tuple[float, float]], closed: bool = True) -> Contour:
    """A smooth form, or an open line, through these points."""
    places = np.array(points, dtype=float)
    around = np.pad(places, ((1, 1), (0, 0)), mode="wrap" if closed else "edge")
    ways = (around[2:] - around[:-2]) / 6
    rows = zip(places, places - ways, places + ways, strict=True)
    nodes = (Node(at=tuple(at), before=tuple(left), after=tuple(right), kind="smooth") for at, left, right in rows)
    return Contour(nodes=tuple(nodes), closed=closed)


def blob(radii: Sequence[float], at: tuple[float, float] = (300.0, 300.0)) -> Contour:
    """A smooth closed form through points at these distances from its middle."""
    angles = [2 * math.pi * k / len(radii) for k in range(len(radii))]
    return smooth([(at[0] + r * math.cos(a), at[1] + r * math.sin(a)) for r, a in zip(radii, angles, strict=True)])


def wave(points: int = 5, width: float = 300.0, height: float = 60.0, tilt: float = 0.0) -> Contour:
    """An open, wavy line."""
    at = [(width * k / (points - 1), height * math.sin(2.2 * k) + tilt * k) for k in range(points)]
    return smooth(at, closed=False)


def by_hand(contour: Contour, noise: np.random.Generator, most: float) -> Contour:
    """The contour as a hand draws it: every node a little off."""
    nodes = []
    for node in contour.nodes:
        x, y = noise.uniform(-most, most, 2)
        at, before, after = ((p.x + x, p.y + y) for p in (node.at, node.before, node.after))
        nodes.append(node.model_copy(update={"at": Point(*at), "before": Point(*before), "after": Point(*after)}))
    return contour.model_copy(update={"nodes": tuple(nodes)})


def drawn_anew(contour: Contour, noise: np.random.Generator, off: float) -> Contour:
    """The contour as a hand traces it: all along it off by about so much, with nodes of its own."""
    dense = points_at(path_of(contour), np.linspace(0, len(path_of(contour)), 16 * len(path_of(contour)) + 1))
    lengths = lengths_along(dense)
    places = np.linspace(0, lengths[-1], max(int(lengths[-1] / off), 12) + 1)
    row = np.stack([np.interp(places, lengths, dense[:, k]) for k in (0, 1)], axis=1)
    row = row[:-1] if contour.closed else row
    waver = gaussian_filter1d(
        noise.normal(size=row.shape), min(16, len(row) / 4), axis=0, mode="wrap" if contour.closed else "nearest"
    )
    row = row + off * waver / waver.std()
    segments, _ = fit_path(np.concatenate([row, row[:1]]) if contour.closed else row, 0.4 * off)
    return contour_of(segments, contour.closed)


def traced(key: Drawing, noise: np.random.Generator, off: float) -> Drawing:
    """The key as a hand traces it, every line by itself."""
    return drawing(
        *(
            shape.model_copy(update={"contours": tuple(drawn_anew(c, noise, off) for c in shape.contours)})
            for shape in key.shapes
        )
    )


def filled(*contours: Contour, color: str = "#4477aa", name: str = "shape", rule: str = "nonzero") -> Shape:
    return Shape(contours=contours, fill=Fill(paint=Paint(color=color), rule=rule), name=name)


def stroked(*contours: Contour, width: float = 4.0, color: str = "#222222") -> Shape:
    return Shape(contours=contours, stroke=Stroke(width=width, paint=Paint(color=color)))


def drawing(*shapes: Shape) -> Drawing:
    return Drawing(shapes=shapes)


def turned(contour: Contour, degrees: float, scale: float = 1.0, move: tuple[float, float] = (0.0, 0.0)) -> Contour:
    c, s = scale * math.cos(math.radians(degrees)), scale * math.sin(math.radians(degrees))
    return transformed(contour, np.array([[c, -s, move[0]], [s, c, move[1]]]))


def backwards(contour: Contour) -> Contour:
    """The same form drawn in the other direction."""
    nodes = [
        n.model_copy(update={"before": n.after, "after": n.before, "id": new_id()}) for n in reversed(contour.nodes)
    ]
    return contour.model_copy(update={"nodes": tuple(nodes)})


def begun_at(contour: Contour, start: int) -> Contour:
    """The same closed form with another first node."""
    start %= len(contour.nodes)
    nodes = (*contour.nodes[start:], *contour.nodes[:start])
    return contour.model_copy(update={"nodes": tuple(n.model_copy(update={"id": new_id()}) for n in nodes)})


def recut(contour: Contour, shares: Sequence[float]) -> Contour:
    """The same form with more nodes."""
    for share in shares:
        contour = with_node(contour, share * len(path_of(contour)))
    return contour


def outline(contour: Contour, count: int = 64) -> np.ndarray:
    """Points along a contour, `count` a segment."""
    path = path_of(contour)
    return points_at(path, np.linspace(0, len(path), count * len(path) + 1))


def drawn(key: Drawing) -> shapely.Geometry:
    """The lines of a drawing."""
    return shapely.MultiLineString([outline(shape.contours[0], 16) for shape in key.shapes])


def apart(first: Contour, second: Contour) -> float:
    """The largest distance between two outlines, both ways, by the size of the first."""
    a, b = outline(first), outline(second)
    return max(distances(a, [b]).max(), distances(b, [a]).max()) / math.hypot(*np.ptp(a, axis=0))


def distances(points: np.ndarray, lines: Sequence[np.ndarray]) -> np.ndarray:
    """How far each point is from the nearest of some lines of points, found by a tree of their stretches."""
    ends = [np.stack([line[:-1], line[1:]], axis=1) for line in lines]
    stretches = shapely.STRtree(shapely.linestrings(np.concatenate(ends)))
    _, far = stretches.query_nearest(shapely.points(points), return_distance=True, all_matches=False)
    return far


def work_of(first: Drawing, second: Drawing) -> Work:
    """A scene of one layer 'l' with an in-betweened span from key 'k1' at 1 to key 'k2' at 13."""
    one = Key(id="k1", frame=1, drawing=first.hash, span=Span(inbetween=True))
    layer = Layer(id="l", keys=(one, Key(id="k2", frame=13, drawing=second.hash)))
    return Work(Scene(layers=(layer,)), {key.hash: key for key in (first, second)})


def box(left: float, top: float, right: float, bottom: float, color: str) -> Shape:
    """A rectangle."""
    return filled(polygon([(left, top), (right, top), (right, bottom), (left, bottom)]), color=color)


def planned(first: list[Shape], second: list[Shape]) -> SpanPlan:
    """The plan of shapes, of which those of the second key are shuffled; each becomes the one in its place."""
    order = np.random.default_rng(len(first)).permutation(len(second))
    plan = plan_span(drawing(*first), drawing(*(second[k] for k in order)), Take())
    meant = {(a.id, b.id) for a, b in zip(first, second, strict=True)}
    assert {(pair.first_id, pair.second_id) for pair in plan.pairs} == meant
    return plan
