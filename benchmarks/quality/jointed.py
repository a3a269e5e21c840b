"""Figures of lines between two poses, each key drawn by a hand in strokes of its own: what is one stroke is chance."""

import cmath
import math
from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from benchmarks.quality.cases import Case, smooth
from knead.core.geometry.bezier import Complexes, Floats, contour_of
from knead.core.geometry.similarity import as_points
from knead.core.model import Drawing, Paint, Shape, Stroke
from knead.core.pairing.chains import runs

HAND, PEN = 1.0, 4.0  # how far off a hand draws each node, and the width of its pen; figures are some 250 high
THROUGH, CUT = 0.75, 0.3  # how often a stroke goes on through a joint, and how often one is cut elsewhere
HEAD = 24.0


@dataclass(frozen=True)
class Bone:
    """A line from a joint to another, `length` long, at an angle in degrees to the bone before: 0 goes straight on."""

    start: str
    end: str
    length: float
    least: float
    most: float
    bow: float = 0.05


WALKER = (
    Bone("hip", "neck", 90, -15, 15),
    Bone("neck", "chin", 22, -20, 20),
    *(
        bone
        for side, way in (("left", 1), ("right", -1))
        for bone in (
            Bone("neck", f"{side} elbow", 45, 180 + way * 35 - 25, 180 + way * 35 + 25),
            Bone(f"{side} elbow", f"{side} hand", 40, -way * 20 - 30, -way * 20 + 30),
            Bone("hip", f"{side} knee", 52, 180 + way * 25 - 20, 180 + way * 25 + 20),
            Bone(f"{side} knee", f"{side} ankle", 50, -15, 20),
            Bone(f"{side} ankle", f"{side} toe", 16, -90, -90),
        )
    ),
)
PLANT = (
    Bone("root", "fork", 60, -15, 15),
    Bone("fork", "second fork", 50, -20, 20),
    Bone("second fork", "top", 50, -25, 25),
    Bone("fork", "branch", 70, 35, 75, -0.1),
    Bone("branch", "leaf", 35, 0, 50, 0.1),
    Bone("branch", "other leaf", 30, -60, -40, -0.1),
    Bone("second fork", "twig", 60, -75, -35, 0.1),
)
PAW = (
    Bone("wrist", "palm", 60, -30, 30),
    Bone("wrist", "thumb", 45, -75, -50, 0.1),
    Bone("thumb", "thumb tip", 30, 20, 30),
    *(
        bone
        for name, length, angle in (("first", 50, -28), ("second", 58, -6), ("third", 52, 12), ("last", 42, 32))
        for bone in (
            Bone("palm", name, 0.5 * length, angle - 5, angle + 5),
            Bone(name, f"{name} tip", 0.5 * length, -20, 20),
        )
    ),
)
FIGURES = {"walker": WALKER, "plant": PLANT, "paw": PAW}


def jointed(rng: np.random.Generator, k: int) -> Case:
    """A figure in two poses; the angles of its joints change evenly in between."""
    name, bones = list(FIGURES.items())[k % len(FIGURES)]
    poses = [np.array([rng.uniform(bone.least, bone.most) for bone in bones]) for _ in range(2)]
    drift = complex(*rng.uniform(-30, 30, 2))

    def lines(t: float, count: int = 15) -> list[Complexes]:
        return _lines(bones, (1 - t) * poses[0] + t * poses[1], t * drift, count)

    def truth(t: float) -> list[Floats]:
        return [as_points(line) for line in lines(t)]

    first, second = (_drawn(bones, lines(t, 5), rng) for t in (0.0, 1.0))
    return Case("jointed", f"{name} {k}", first, second, truth, frozenset(), frozenset(), [])


def _lines(bones: tuple[Bone, ...], angles: Floats, at: complex, count: int) -> list[Complexes]:
    """Points along each bone, and of a walker's head, as complex numbers."""
    joints, ways = {bones[0].start: at}, {bones[0].start: -1j}
    found = []
    for bone, angle in zip(bones, angles.tolist(), strict=True):
        way = ways[bone.start] * cmath.rect(1.0, math.radians(angle))
        start, end = joints[bone.start], joints[bone.start] + bone.length * way
        joints[bone.end], ways[bone.end] = end, way
        t = np.linspace(0.0, 1.0, count)
        bulge = 0.5 * (start + end) + 2j * bone.bow * (end - start)
        found.append((1 - t) ** 2 * start + 2 * t * (1 - t) * bulge + t**2 * end)
    if "chin" in joints:
        t = np.linspace(0.0, 2 * np.pi, 2 * count)
        middle = joints["chin"] + HEAD * ways["chin"]
        found.append(middle + HEAD * (1.1j * np.sin(t) - np.cos(t)) * ways["chin"])
    return found


def _drawn(bones: tuple[Bone, ...], lines: list[Complexes], rng: np.random.Generator) -> Drawing:
    """The lines in strokes, each from joint to joint, through some of them, and some cut where there is none."""
    shapes = []
    for stroke in _strokes(bones, lines, rng) + lines[len(bones) :]:
        ring = abs(stroke[0] - stroke[-1]) < 1e-9
        row = np.roll(stroke[:-1], int(rng.integers(len(stroke) - 1))) if ring else stroke
        row = row + HAND * (rng.uniform(-1, 1, len(row)) + 1j * rng.uniform(-1, 1, len(row)))
        row = np.append(row, row[0]) if ring else row
        path = smooth(as_points(row[:: rng.choice([-1, 1])]), False)
        shapes.append(
            Shape(contours=(contour_of(path, False),), stroke=Stroke(paint=Paint(color="#202020"), width=PEN))
        )
    return Drawing(shapes=tuple(shapes[k] for k in rng.permutation(len(shapes)).tolist()))


def _strokes(bones: tuple[Bone, ...], lines: list[Complexes], rng: np.random.Generator) -> list[Complexes]:
    """Strokes along bones: end 2 k is the start of bone k, end 2 k + 1 its end."""
    meet: dict[str, list[int]] = defaultdict(list)
    for k, bone in enumerate(bones):
        meet[bone.start].append(2 * k)
        meet[bone.end].append(2 * k + 1)
    ways = np.array([way for line in lines for way in (line[1] - line[0], line[-2] - line[-1])])
    goes_on: dict[int, int] = {}
    for ends in meet.values():
        for a in [ends[k] for k in rng.permutation(len(ends)).tolist()]:
            others = [b for b in ends if b != a and b not in goes_on and (ways[a] * np.conj(ways[b])).real < 0.0]
            if a not in goes_on and others and rng.random() < THROUGH:
                b = others[int(rng.integers(len(others)))]
                goes_on |= {a: b, b: a}
    found = []
    for run in runs(len(bones), goes_on):
        rows = [lines[end // 2][:: -1 if end % 2 else 1] for end in run]
        stroke = np.concatenate([rows[0], *(row[1:] for row in rows[1:])])
        k = int(rng.integers(2, len(stroke) - 2))
        found += [stroke[: k + 1], stroke[k:]] if rng.random() < CUT else [stroke]
    return found
