"""Cases whose in-betweens are known: the second key is the first under a known deformation, or a designer's own.

The engine sees only re-cut outlines: other nodes, starts, directions, order and ids.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont

from knead.core.edit.nodes import with_node
from knead.core.geometry.bezier import Floats, contour_of, path_of, points_at, reversed_path
from knead.core.model import Contour, Drawing, Fill, Paint, Shape, Stroke
from tests.forms import filled, polygon, traced

FONTS = Path(__file__).parents[2] / "frontend" / "node_modules" / "@fontsource" / "figtree" / "files"
Path_ = Floats  # (segments, 4, 2)
UNSTEADY = 0.003  # how far a hand is off, across and along, by the size of both keys


@dataclass(frozen=True)
class Part:
    """A shape with known in-betweens: paths at time t, one for each contour."""

    at: Callable[[float], list[Path_]]
    closed: bool
    color: str


@dataclass(frozen=True)
class Case:
    """Two keys, the truth between them, and which shapes are pairs."""

    kind: str
    name: str
    first: Drawing
    second: Drawing
    truth: Callable[[float], list[Floats]]
    pairs: frozenset[tuple[str, str]]
    lone: frozenset[str]
    ties: list[tuple[str, str, Floats, Floats]]


def all_cases(seed: int, count: int) -> Iterator[Case]:
    """`count` cases of each kind. Odd seeds are for tuning, even ones are kept out of sight."""
    for k in range(count):
        rng = np.random.default_rng([seed, k])
        yield from (_font(rng, k + seed), _bent(rng, k), _posed(rng, k), _designed(rng, k), _lines(rng, k))
        yield _warped(rng, k)


def before_a_wall(case: Case) -> Case:
    """The same before a wall that stays in its place, and of whose in-betweens nothing is asked."""
    points = np.concatenate(case.truth(0.0) + case.truth(1.0))
    low, high = points.min(axis=0), points.max(axis=0)
    (left, top), (right, bottom) = low - 0.3 * (high - low), high + 0.3 * (high - low)
    outline = polygon([(left, top), (right, top), (right, bottom), (left, bottom)])
    one, two = filled(outline, color="#ffeedd"), filled(outline, color="#ffeedd")
    first, second = (Drawing(shapes=(wall, *key.shapes)) for wall, key in ((one, case.first), (two, case.second)))
    pairs = case.pairs | {(one.id, two.id)} if case.pairs else case.pairs
    return replace(case, first=first, second=second, pairs=pairs, lone=case.lone | {one.id, two.id})


def by_hand(case: Case, rng: np.random.Generator) -> Case:
    """The same with each line of both keys drawn anew by a hand that is off by some thousandths of their size."""
    points = np.concatenate(case.truth(0.0) + case.truth(1.0))
    off = UNSTEADY * float(np.linalg.norm(np.ptp(points, axis=0)))
    first, second = (traced(key, rng, off) for key in (case.first, case.second))
    return replace(case, first=first, second=second)


def _case(kind: str, name: str, parts: list[Part], rng: np.random.Generator, split: bool = False) -> Case:
    first = [_drawn(part, 0.0, rng) for part in parts]
    second = [_drawn(part, 1.0, rng) for part in parts]
    pairs = frozenset((a.id, b.id) for a, b in zip(first, second, strict=True))
    ties = []
    for part, a, b in zip(parts, first, second, strict=True):
        one, two = part.at(0.0)[0], part.at(1.0)[0]
        spots = np.array([0.1, 0.6]) * len(one) if len(parts) > 1 else np.array([0.05, 0.3, 0.55, 0.8]) * len(one)
        ties += [(a.id, b.id, p, q) for p, q in zip(points_at(one, spots), points_at(two, spots), strict=True)]
    if split:
        first, second = _cut_up(first, rng), _cut_up(second, rng)
        pairs = frozenset()
        ties = [(_nearest(first, p), _nearest(second, q), p, q) for _, _, p, q in ties]
    lone = frozenset[str]()
    if len(parts) > 8:  # one or two small shapes are missing in one of the keys
        for k in sorted(
            rng.choice(np.arange(1, len(parts)), size=int(rng.integers(1, 3)), replace=False), reverse=True
        ):
            gone, kept = (first, second) if rng.random() < 0.5 else (second, first)
            pairs -= {(first[k].id, second[k].id)}
            ties = [t for t in ties if t[0] != first[k].id]
            lone |= {kept[k].id}
            del gone[k]
            parts = parts[:k] + parts[k + 1 :]
            kept.append(kept.pop(k))
    rng.shuffle(first)  # type: ignore[arg-type]
    rng.shuffle(second)  # type: ignore[arg-type]

    def truth(t: float) -> list[Floats]:
        return [_dense(path) for part in parts for path in part.at(t)]

    return Case(kind, name, Drawing(shapes=tuple(first)), Drawing(shapes=tuple(second)), truth, pairs, lone, ties)


def _dense(path: Path_) -> Floats:
    return points_at(path, np.linspace(0, len(path), 12 * len(path) + 1))


def _drawn(part: Part, t: float, rng: np.random.Generator) -> Shape:
    """A key as another hand would have drawn it: more nodes, another start, maybe the other direction."""
    flip = bool(rng.random() < 0.5)
    contours = tuple(_redrawn(path, part.closed, flip, rng) for path in part.at(t))
    shift = rng.normal(0, 4, 3)
    channels = [int(np.clip(int(part.color[k : k + 2], 16) + s, 0, 255)) for k, s in zip((1, 3, 5), shift, strict=True)]
    paint = Paint(color="#{:02x}{:02x}{:02x}".format(*channels))
    if part.closed:
        return Shape(contours=contours, fill=Fill(paint=paint, rule="evenodd"))
    return Shape(contours=contours, stroke=Stroke(paint=paint, width=4))


def _redrawn(path: Path_, closed: bool, flip: bool, rng: np.random.Generator) -> Contour:
    if flip:
        path = reversed_path(path)
    if closed:
        path = np.roll(path, int(rng.integers(len(path))), axis=0)
    contour = contour_of(path, closed)
    for _ in range(int(rng.integers(1, 2 + len(path) // 2))):
        contour = with_node(contour, float(rng.random()) * len(path_of(contour)))
    return contour


def _cut_up(shapes: list[Shape], rng: np.random.Generator) -> list[Shape]:
    """Open strokes cut into pieces of their own."""
    pieces = []
    for shape in shapes:
        nodes = shape.contours[0].nodes
        cuts = sorted(rng.choice(np.arange(1, len(nodes) - 1), size=int(rng.integers(0, 3)), replace=False).tolist())
        for start, end in zip([0, *cuts], [*cuts, len(nodes) - 1], strict=True):
            pieces.append(Shape(contours=(Contour(nodes=nodes[start : end + 1]),), stroke=shape.stroke))
    return pieces


def _nearest(pieces: list[Shape], point: Floats) -> str:
    """Id of the piece on which a point lies."""
    return min(pieces, key=lambda piece: float(np.abs(_dense(path_of(piece.contours[0])) - point).sum(axis=1).min())).id


def smooth(points: Floats, closed: bool) -> Path_:
    """A smooth path through points (Catmull-Rom)."""
    before = np.roll(points, 1, axis=0) if closed else np.concatenate([points[:1], points[:-1]])
    after = np.roll(points, -1, axis=0) if closed else np.concatenate([points[1:], points[-1:]])
    way = (after - before) / 6
    start = np.arange(len(points) if closed else len(points) - 1)
    end = (start + 1) % len(points)
    return np.stack([points[start], points[start] + way[start], points[end] - way[end], points[end]], axis=1)


def deformed(path: Path_, map_: Callable[[Floats], Floats]) -> Path_:
    """A path under a smooth map, each segment cut in four and its ends' tangents mapped, too."""
    t = np.arange(4 * len(path) + 1) / 4
    step = 1e-4
    index = np.repeat(np.arange(len(path)), 4)
    t0, t1 = t[:-1] - index, t[1:] - index

    def mapped(at: Floats) -> Floats:
        s = at[:, None]
        p = path[index]
        point = (1 - s) ** 3 * p[:, 0] + 3 * (1 - s) ** 2 * s * p[:, 1] + 3 * (1 - s) * s**2 * p[:, 2] + s**3 * p[:, 3]
        return map_(point)

    a, b = mapped(t0), mapped(t1)
    va, vb = (mapped(t0 + step) - a) / step, (b - mapped(t1 - step)) / step
    return np.stack([a, a + va / 12, b - vb / 12, b], axis=1)


def _color(rng: np.random.Generator) -> str:
    return "#{:02x}{:02x}{:02x}".format(*rng.integers(30, 226, 3).tolist())


def _silhouette(rng: np.random.Generator, long: float = 2.2) -> Path_:
    """A long, lobed form with some corners, about 400 units wide."""
    count = int(rng.integers(9, 15))
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False) + rng.normal(0, 0.08, count)
    radius = 100 * (1 + 0.45 * rng.random(count) * np.where(np.arange(count) % 2, 1, -0.6))
    path = smooth(np.stack([long * radius * np.cos(angle), radius * np.sin(angle)], axis=1), True)
    for k in rng.choice(count, size=3, replace=False).tolist():  # corners
        path[k, 1], path[k - 1, 2] = path[k, 0], path[k, 0]
    return path


def bend(amount: float, half: float) -> Callable[[Floats], Floats]:
    """Bend the x axis into an arc that turns by `amount` radians from end to end."""
    curve = amount / (2 * half)

    def map_(p: Floats) -> Floats:
        if abs(curve) < 1e-9:
            return p
        angle = p[:, 0] * curve
        radius = 1 / curve - p[:, 1]
        return np.stack([radius * np.sin(angle), 1 / curve - radius * np.cos(angle)], axis=1)

    return map_


def _rotation(angle: float) -> Floats:
    return np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])


def _bent(rng: np.random.Generator, k: int) -> Case:
    path, amount, turn = (
        _silhouette(rng, rng.uniform(2.0, 4.0)),
        rng.uniform(1.0, 3.6) * rng.choice([-1, 1]),
        rng.uniform(-1.4, 1.4),
    )
    half = float(np.abs(path[:, 0, 0]).max())

    def at(t: float) -> list[Path_]:
        return [deformed(path, bend(amount * t, half)) @ _rotation(turn * t).T]

    return _case("bent", f"bent {k}", [Part(at, True, _color(rng))], rng)


def _posed(rng: np.random.Generator, k: int) -> Case:
    """A figure: a body with marks, and limbs of two or three shapes that swing about their joints."""
    parts: list[Part] = []
    lean, drift = rng.uniform(-0.9, 0.9), rng.uniform(-120, 120, 2)

    def placed(path: Path_, chain: list[tuple[Floats, float]]) -> Callable[[float], list[Path_]]:
        def at(t: float) -> list[Path_]:
            found = path
            for joint, angle in chain:
                found = (found - joint) @ _rotation(angle * t).T + joint
            return [found @ _rotation(lean * t).T + drift * t]

        return at

    body = _silhouette(rng, 1.3)
    parts.append(Part(placed(body, []), True, _color(rng)))
    for _ in range(int(rng.integers(4, 8))):
        spot = smooth(_ring(rng, 12, 6) + rng.uniform(-60, 60, 2), True)
        parts.append(Part(placed(spot, []), True, _color(rng)))
    for limb in range(int(rng.integers(3, 6))):
        angle = 2 * np.pi * limb / 5 + rng.normal(0, 0.2)
        way = np.array([math.cos(angle), math.sin(angle)])
        joint, chain, color = 90 * way, [], _color(rng)
        for _ in range(int(rng.integers(2, 4))):
            chain = [(joint, float(rng.uniform(-1.5, 1.5))), *chain]
            length = rng.uniform(50, 90)
            bone = smooth(_ring(rng, length / 2, 14) @ _rotation(angle).T + joint + way * length / 2, True)
            parts.append(Part(placed(bone, list(chain)), True, color))
            joint = joint + way * length
    for _ in range(int(rng.integers(1, 4))):
        x = np.linspace(-50, 50, 5)
        line = smooth(np.stack([x, rng.normal(0, 12, 5)], axis=1) + rng.uniform(-40, 40, 2), False)
        parts.append(Part(placed(line, []), False, "#202020"))
    return _case("posed", f"posed {k}", parts, rng)


def _ring(rng: np.random.Generator, rx: float, ry: float) -> Floats:
    count = int(rng.integers(6, 9))
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False)
    wobble = 1 + rng.normal(0, 0.12, (count, 1))
    return np.stack([rx * np.cos(angle), ry * np.sin(angle)], axis=1) * wobble


def _designed(rng: np.random.Generator, k: int) -> Case:
    """A designer drew both outlines with the same points; the truth is straight."""
    one = _silhouette(rng, 1.4)
    count = len(one)
    moves = rng.normal(0, 1, (count, 2))
    moves = (moves + np.roll(moves, 1, axis=0) + np.roll(moves, -1, axis=0)) * rng.uniform(8, 18)
    scale = np.diag(rng.uniform(0.7, 1.4, 2))
    shift = moves[:, None, :]
    end = np.roll(moves, -1, axis=0)[:, None, :]
    two = one @ scale + np.concatenate([shift, shift, end, end], axis=1)

    def at(t: float) -> list[Path_]:
        return [(1 - t) * one + t * two]

    return _case("designed", f"designed {k}", [Part(at, True, _color(rng))], rng)


def _lines(rng: np.random.Generator, k: int) -> Case:
    """Line drawings: strokes under a bend, cut differently in the two keys."""
    parts = []
    amount = rng.uniform(0.6, 1.6) * rng.choice([-1, 1])
    for row in range(int(rng.integers(2, 5))):
        x = np.linspace(-200, 200, int(rng.integers(6, 9)))
        y = 90 * (row - 1) + rng.normal(0, 22, len(x))
        path = smooth(np.stack([x, y], axis=1), False)

        def at(t: float, path: Path_ = path) -> list[Path_]:
            return [deformed(path, bend(amount * t, 200.0))]

        parts.append(Part(at, False, "#202020"))
    return _case("lines", f"lines {k}", parts, rng, split=True)


def _warped(rng: np.random.Generator, k: int) -> Case:
    """Many shapes that do not touch, under one map of the whole: a twist, a wave or a turn. Some are round."""
    half, turn, drift = 220.0, rng.uniform(-0.6, 0.6), rng.uniform(-60, 60, 2)
    kind = ("twist", "wave", "turn")[k % 3]
    amount = rng.choice([-1, 1]) * {"twist": rng.uniform(0.4, 1.1), "wave": rng.uniform(15, 40)}.get(kind, 0.8)

    def map_(p: Floats, t: float) -> Floats:
        if kind == "wave":
            p = p + np.stack([0 * p[:, 0], amount * t * np.sin(p[:, 0] / half * 4)], axis=1)
        else:
            angle = amount * t * (np.hypot(*p.T) / half if kind == "twist" else np.ones(len(p)))
            p = np.stack(
                [p[:, 0] * np.cos(angle) - p[:, 1] * np.sin(angle), p[:, 0] * np.sin(angle) + p[:, 1] * np.cos(angle)],
                axis=1,
            )
        return p @ _rotation(turn * t).T + drift * t

    parts = []
    for spot in rng.permutation(16)[: int(rng.integers(9, 15))].tolist():
        place = 120.0 * (np.array(divmod(spot, 4)) - 1.5) + rng.uniform(-12, 12, 2)
        form = _ring(rng, 40, rng.uniform(12, 40)) if rng.random() < 0.7 else 0.35 * _silhouette(rng, 1.1)[:, 0]
        path = smooth(form @ _rotation(rng.uniform(0, 6.3)).T + place, True)

        def at(t: float, path: Path_ = path) -> list[Path_]:
            return [deformed(path, lambda p: map_(p, t))]

        parts.append(Part(at, True, _color(rng)))
    return _case("warped", f"{kind} {k}", parts, rng)


def _font(rng: np.random.Generator, k: int) -> Case:
    """A letter at two weights, drawn by its designer with the same points."""
    light, heavy = (TTFont(FONTS / f"figtree-latin-{w}-normal.woff") for w in (300, 900))
    names = [n for n in light.getGlyphOrder() if n in heavy.getGlyphOrder()]
    for step in range(len(names)):
        name = names[(37 * k + step + 5) % len(names)]
        one, two = _glyph(light, name), _glyph(heavy, name)
        if one and [len(c) for c in one] == [len(c) for c in two]:
            break

    def at(t: float) -> list[Path_]:
        return [(1 - t) * a + t * b for a, b in zip(one, two, strict=True)]

    return _case("font", f"letter {name}", [Part(at, True, _color(rng))], rng)


def _glyph(font: TTFont, name: str) -> list[Path_]:
    pen = DecomposingRecordingPen(font.getGlyphSet())
    font.getGlyphSet()[name].draw(pen)
    paths: list[Path_] = []
    rows: list[Floats] = []
    here = start = np.zeros(2)
    for command, points in pen.value:
        p = [np.array([x, -y], dtype=float) for x, y in (q for q in points if q is not None)] if points else []
        if command == "moveTo":
            here = start = p[0]
            rows = []
        elif command == "lineTo":
            rows.append(np.array([here, here + (p[0] - here) / 3, here + (p[0] - here) * 2 / 3, p[0]]))
            here = p[0]
        elif command == "qCurveTo":
            for i, control in enumerate(p[:-1]):
                end = p[-1] if i == len(p) - 2 else (control + p[i + 1]) / 2
                rows.append(np.array([here, here + (control - here) * 2 / 3, end + (control - end) * 2 / 3, end]))
                here = end
        elif command == "curveTo":
            rows.append(np.array([here, *p]))
            here = p[-1]
        elif command == "closePath":
            if np.hypot(*(here - start)) > 1e-6:
                rows.append(np.array([here, here + (start - here) / 3, here + (start - here) * 2 / 3, start]))
            paths.append(np.array(rows))
    return paths
