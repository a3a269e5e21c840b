"""How closely in-betweens follow the way of every point of an outline: more nodes where too few would cut corners.

Nodes travel; what lies between two nodes is drawn anew from their handles. Where a stretch bends on its way, halving it
lets its middle travel, too.
"""

import numpy as np
from numpy.typing import NDArray

from knead.core.blend.course import Course
from knead.core.blend.load import Load
from knead.core.geometry.similarity import Complexes
from knead.core.outline.contour_plan import ContourPlan, halved

ROUNDS = 3  # a stretch is cut into 8 at most
HALF_WAY = np.array([0.5])


def fitted(load: Load, tolerance: float, course: Course) -> Load:
    """The load with nodes added, in at most ROUNDS, until more would move no half-way outline by over `tolerance`.

    `tolerance` is in scene units. A load that does not travel solidly is already exact.
    """
    for _ in range(ROUNDS):
        finer = Load(tuple(halved(c, np.full(_stretches(c), True)) for c in load.contours), load.angle)
        if load.stiff is None or finer.stiff is None:
            return load
        drawn, travelled = (_half_way(known, course) for known in (load, finer))
        gaps = _gaps(load.contours, drawn, travelled)
        if all(not np.any(gap > tolerance) for gap in gaps):
            return load
        load = Load(tuple(halved(c, gap > tolerance) for c, gap in zip(load.contours, gaps, strict=True)), load.angle)
    return load


def _stretches(contour: ContourPlan) -> int:
    return 0 if contour.cuts is None else len(contour.first) - (0 if contour.closed else 1)


def _half_way(load: Load, course: Course) -> Complexes:
    assert load.stiff is not None
    return np.asarray(load.stiff.at(load.first, load.second, HALF_WAY, course)[0].reshape(-1, 3))


def _gaps(contours: tuple[ContourPlan, ...], drawn: Complexes, travelled: Complexes) -> list[NDArray[np.float64]]:
    """How far the middle of each stretch, as drawn, lies from where it would have travelled."""
    found, start, finer = [], 0, 0
    for contour in contours:
        count, stretches = len(contour.first), _stretches(contour)
        nodes = drawn[start : start + count]
        ends = np.roll(nodes, -1, axis=0)[:stretches]
        middles = (nodes[:stretches, 1] + 3 * nodes[:stretches, 2] + 3 * ends[:, 0] + ends[:, 1]) / 8
        # against the nodes on both sides: halving may also shift the whole, which no eye would see as coarse
        there = travelled[finer : finer + count + stretches, 1]
        after = np.roll(there, -2)[: 2 * stretches : 2] if contour.closed else there[2::2]
        shift = 0.5 * (nodes[:stretches, 1] - there[: 2 * stretches : 2] + ends[:, 1] - after)
        found.append(np.abs(middles - there[1 : 2 * stretches : 2] - shift))
        start, finer = start + count, finer + count + stretches
    return found
