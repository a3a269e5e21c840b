"""The place about which shapes that move as one turn: their middle, or what stands still of them at their edge."""

from collections.abc import Sequence

import numpy as np
import shapely

from knead.core.blend.course.body import Body
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.hull import hull

FEW = 12  # so many points of each shape at most tell how they move
EDGE = (0.7, 0.85, 1.1, 1.2)  # where a pivot is, by the way from the middle to the edge: not, wholly, wholly, not
NEAR = (0.06, 0.12)  # how far from what is drawn, by the size, a place is a pivot: wholly, not
RIGID = (0.01, 0.02)  # the same for what a mere turn leaves unexplained, by the squares


def points_of(bodies: Sequence[Body]) -> tuple[Complexes, Complexes, Floats, list[int]]:
    """Points of all bodies at both keys and their weights, large bodies weighing most; and how many each has.

    How a round form is turned tells nothing, so all its points are its middle.
    """
    rows = []
    for body in bodies:
        few = slice(None, None, -(-len(body.first) // FEW))
        first, second = body.first[few], body.second[few]
        if body.round:
            first, second = np.full_like(first, body.start), np.full_like(second, body.end)
        rows.append((first, second, np.full(len(first), body.size**2 / len(first))))
    first, second, weights = (np.concatenate(row) for row in zip(*rows, strict=True))
    return first, second, weights + 1e-12, [len(row[0]) for row in rows]


def pivot_of(bodies: Sequence[Body], middle: complex, motion: tuple[complex, complex]) -> complex:
    """The place at the first key that goes straight while the bodies turn about it.

    It is their middle, unless the fixed point of their motion is a place of theirs at their edge, and they are as good
    as rigid: then it is that. A pendulum turns about its upper end, whatever it is made of. In between it is between.
    """
    a, b = motion
    still = b / (1.0 - a)
    drawn = np.concatenate([points for body in bodies for points in (body.nodes, body.first)])
    size = float(np.sqrt(np.mean(np.abs(drawn - middle) ** 2))) + 1e-12
    near = float(np.interp(np.abs(drawn - still).min() / size, NEAR, (1.0, 0.0)))
    if near == 0.0:
        return middle
    first, second, weights, _ = points_of(bodies)
    left, moved = np.abs(a * first + b - second) ** 2, np.abs(second - first) ** 2
    rest = float(np.average(left, weights=weights) / (np.average(moved, weights=weights) + 1e-12))
    away = still - middle
    ray = shapely.LineString([(p.real, p.imag) for p in (middle, middle + 2.0 * away)])
    edge = max(hull(drawn).intersection(ray).length, 1e-12)
    share = np.interp(rest, RIGID, (1.0, 0.0)) * np.interp(abs(away) / edge, EDGE, (0.0, 1.0, 1.0, 0.0))
    return complex(middle + near * share * away)
