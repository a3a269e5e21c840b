"""Contours as arrays of cubic Bézier segments, and cutting them without changing their form.

A *path* is an array of shape (segments, 4, 2): start, first handle, second handle, end, in scene units.
A *parameter* on a path is a float: whole part the segment's index, fraction the Bézier parameter in it.
"""

import math
from collections.abc import Sequence
from typing import Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from knead.core.model import Contour, Node, Point

Floats = NDArray[np.float64]
Complexes = NDArray[np.complex128]
T = TypeVar("T", bound=np.generic)
Number = TypeVar("Number", np.float64, np.complex128)
Ints = NDArray[np.int64]

STRAIGHT = 1e-9  # how far off a segment's chord, by its length, the handles of a straight line may be


def path_of(contour: Contour) -> Floats:
    """The segments of a contour, shape (segments, 4, 2). A lone open node gives one segment of no length."""
    raw = np.array([(*n.before, *n.at, *n.after) for n in contour.nodes], dtype=float).reshape(-1, 6)
    if len(raw) == 1 and not contour.closed:
        return np.tile(raw[:, 2:4], 4).reshape(1, 4, 2)
    return segments_of(raw.view(complex), contour.closed).view(float).reshape(-1, 4, 2)


def segments_of(triples: Complexes, closed: bool) -> Complexes:
    """The segments between nodes (handle before, node, handle after), both as complex numbers.

    Shapes (..., nodes, 3) and (..., segments, 4).
    """
    inner = triples.shape[-2] - 1
    found = np.empty((*triples.shape[:-2], inner + closed, 4), dtype=complex)
    found[..., :2] = triples[..., : inner + closed, 1:]
    found[..., :inner, 2:] = triples[..., 1:, :2]
    found[..., inner:, 2:] = triples[..., : int(closed), :2]
    return found


def lengths_along(points: Floats) -> Floats:
    """How far each of a row of points, shape (k, 2), is from the first along the row; shape (k,)."""
    return gone(np.linalg.norm(points[1:] - points[:-1], axis=1))


def triples_of(path: Floats, closed: bool) -> Floats:
    """The nodes of a path as (nodes, 3, 2): handle before, node, handle after. Inverse of `path_of`."""
    before, after = path[:, 2], path[:, 1]
    if closed:
        return np.stack([preceding(before), path[:, 0], after], axis=1)
    at = np.concatenate([path[:, 0], path[-1:, 3]])
    return np.stack([np.concatenate([at[:1], before]), at, np.concatenate([after, at[-1:]])], axis=1)


def contour_of(
    path: Floats, closed: bool, like: Sequence[Node | None] = (), weights: Sequence[float] | None = None
) -> Contour:
    """The contour of a path. Where `like` has a node, its id and kind are kept; others get new ids.

    A new node is smooth where its handles are in line, else a corner.
    """
    nodes = []
    for i, (before, at, after) in enumerate(triples_of(path, closed).tolist()):
        old = like[i] if i < len(like) else None
        identity = {"id": old.id} if old else {}
        kind = old.kind if old else kind_of(before, at, after)
        weight = weights[i] if weights is not None else (old.weight if old else 1.0)
        nodes.append(
            Node(at=Point(*at), before=Point(*before), after=Point(*after), kind=kind, weight=weight, **identity)
        )
    return Contour(nodes=tuple(nodes), closed=closed)


def kind_of(before: Sequence[float], at: Sequence[float], after: Sequence[float]) -> Literal["corner", "smooth"]:
    """Smooth where a node's handles are in line, else a corner."""
    x0, y0, x1, y1 = at[0] - before[0], at[1] - before[1], after[0] - at[0], after[1] - at[1]
    lengths = math.hypot(x0, y0) * math.hypot(x1, y1)
    return "smooth" if lengths > 1e-12 and (x0 * x1 + y0 * y1) / lengths > 0.9995 else "corner"


def following(rows: NDArray[T]) -> NDArray[T]:
    """The next row for each in the round. (np.roll, which does any shift, takes ten times as long.)"""
    return np.concatenate([rows[1:], rows[:1]])


def preceding(rows: NDArray[T]) -> NDArray[T]:
    """The row before each in the round."""
    return np.concatenate([rows[-1:], rows[:-1]])


def median(values: Floats) -> float:
    """The middle of values, shape (k,), as NumPy's, which loads its masked arrays for that."""
    ordered, half = np.sort(values), len(values) // 2
    return float(ordered[half] if len(values) % 2 else 0.5 * (ordered[half - 1] + ordered[half]))


def gone(steps: Floats | NDArray[np.bool_]) -> Floats:
    """How far one has gone before each of n steps and after the last, shape (n + 1,)."""
    found = np.zeros(len(steps) + 1)
    np.cumsum(steps, out=found[1:])
    return found


def within(values: NDArray[T], least: float, most: float) -> NDArray[T]:
    """Values kept between bounds. (np.clip takes three times as long for a few.)"""
    return np.asarray(np.minimum(np.maximum(values, least), most))


def bernstein(t: Floats) -> Floats:
    """How much each of a cubic's four control points counts at parameters t, shape (4, len(t))."""
    s = 1.0 - t
    return np.array([s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t])


def points_at(path: Floats, params: Floats) -> Floats:
    """Points at the parameters, shape (len(params), 2). The last segment's end has parameter len(path)."""
    index, t = locate(path, params)
    p, t = path[index], t[:, None]
    s = 1.0 - t
    return s * s * s * p[:, 0] + 3 * s * s * t * p[:, 1] + 3 * s * t * t * p[:, 2] + t * t * t * p[:, 3]


def locate(path: Floats, params: Floats) -> tuple[Ints, Floats]:
    """Split parameters into segment indices and fractions in 0..1."""
    index = within(np.floor(params).astype(np.int64), 0, len(path) - 1)
    return index, within(params - index, 0.0, 1.0)


def subsegments(segments: NDArray[Number], t0: Floats, t1: Floats) -> NDArray[Number]:
    """Stretches t0..t1 of segments, each exact (blossoming; Ramshaw 1989).

    Shapes (k, 4, 2), or (k, 4) of complex numbers; (k,), (k,).
    """
    ends = np.array([t0, t0, t0, t1]).reshape(4, *_as_rows(t0, segments))
    polar: NDArray[Number] = segments[None]
    for rows in ([0, 0], [0, 1, 1], [0, 1, 2, 2]):  # the forms at t0 go on at t0, and the last one at t1 as well
        t = ends[-len(rows) :]
        polar = (1.0 - t) * polar[rows, :, :-1] + t * polar[rows, :, 1:]
    return np.ascontiguousarray(polar[:, :, 0].swapaxes(0, 1))


def cut(path: NDArray[Number], params: Floats) -> NDArray[Number]:
    """Cut a path, real or complex, at rising parameters: piece i runs from params[i] to params[i + 1].

    Whole-segment pieces are copied, so that an uncut path comes back bit by bit. A last parameter may exceed
    len(path) by up to that length: a closed path then goes on at its start. A piece may be without length.
    """
    pieces = params[:-1]
    index = np.floor(pieces + 1e-12).astype(np.int64)
    index -= (params[1:] <= index) & (index > 0)  # a piece without length: the end of an open path is not its start
    t0, t1 = within(pieces - index, 0.0, 1.0), within(params[1:] - index, 0.0, 1.0)
    segments = path[index % len(path)]
    whole = (t0 <= 0.0) & (t1 >= 1.0)
    return np.where(whole.reshape(_as_rows(whole, path)), segments, subsegments(segments, t0, t1))


def _as_rows(values: NDArray[T], segments: NDArray[np.generic]) -> tuple[int, ...]:
    """The shape in which values, one a segment, go with all of its control points."""
    return len(values), *(1 for _ in segments.shape[1:])


def straight(path: Floats) -> NDArray[np.bool_]:
    """Which segments are straight lines, run through without turning back; shape (segments,)."""
    z = np.ascontiguousarray(path).view(complex)[..., 0]
    handles, step = z[:, 1:3] - z[:, :1], z[:, 3:] - z[:, :1]
    length = np.abs(step)
    along = (handles * step.conj()).real / np.maximum(length**2, 1e-300)
    off = np.abs(handles - along * step)
    return np.asarray(((np.abs(along - 0.5) <= 0.5 + STRAIGHT) & (off <= STRAIGHT * length)).all(axis=1))


def evened(path: Floats) -> Floats:
    """The same path with straight segments run through evenly; itself where there are none that are not."""
    which = straight(path)
    if not which.any():
        return path
    even = path[:, :1] + np.linspace(0.0, 1.0, 4)[1:3, None] * (path[:, 3:] - path[:, :1])
    which &= (even != path[:, 1:3]).any(axis=(1, 2))
    if not which.any():
        return path
    found = path.copy()
    found[which, 1:3] = even[which]
    return found


def reversed_path(path: Floats) -> Floats:
    """The same path run through backwards."""
    return path[::-1, ::-1].copy()


def backwards(contour: Contour) -> Contour:
    """The same contour run through the other way; its nodes stay the same ones."""
    nodes = tuple(n.model_copy(update={"before": n.after, "after": n.before}) for n in reversed(contour.nodes))
    return contour.model_copy(update={"nodes": nodes})


def diagonal(paths: Sequence[Floats]) -> float:
    """The diagonal of the box of all nodes and handles of paths, in scene units; 0 of none."""
    points = np.concatenate([np.zeros((0, 2)), *(path.reshape(-1, 2) for path in paths)])
    return float(np.linalg.norm(np.ptp(points, axis=0))) if len(points) else 0.0


def area(path: Floats) -> float:
    """Signed area inside a closed path (positive when it turns clockwise on screen, y down), exact for cubics."""
    p0, p1, p2, p3 = path[:, 0], path[:, 1], path[:, 2], path[:, 3]

    def cross(a: Floats, b: Floats) -> Floats:
        return a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]

    twenty = 6 * cross(p0, p1) + 3 * cross(p0, p2) + cross(p0, p3) + 3 * cross(p1, p2) + 3 * cross(p1, p3)
    return float((twenty + 6 * cross(p2, p3)).sum() / 20.0)


def transformed(contour: Contour, matrix: Floats) -> Contour:
    """The contour under an affine map, matrix of shape (2, 3); ids, kinds and weights stay."""
    raw = np.array([(*n.before, *n.at, *n.after) for n in contour.nodes], dtype=float).reshape(-1, 3, 2)
    moved = (raw @ matrix[:, :2].T + matrix[:, 2]).tolist()
    nodes = tuple(
        n.model_copy(update={"before": Point(*b), "at": Point(*p), "after": Point(*a)})
        for n, (b, p, a) in zip(contour.nodes, moved, strict=True)
    )
    return contour.model_copy(update={"nodes": nodes})
