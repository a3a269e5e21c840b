"""Edges that two outlines have in common in both keys."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.feet import feet
from knead.core.outline.contour_plan import ContourPlan

MEETS = 0.01  # how near edges lie that are one, by the size of the shape whose nodes are asked
EDGE = 0.4  # how far apart, by that size, such nodes must be


@dataclass(frozen=True)
class Common:
    """Nodes of one outline that lie on edges of another in both keys: which, on which, and how far along; (k,)."""

    nodes: Ints
    edges: Ints
    along: Floats

    def places(self, contours: Sequence[ContourPlan], rows: Complexes) -> Complexes:
        """Where they lie on the other outline for its rows of node triples, shape (len(rows), k)."""
        starts, ends = edges_of(contours, rows)[:, self.edges].transpose(2, 0, 1)
        return np.asarray(starts + self.along * (ends - starts))


@lru_cache(maxsize=256)
def common_edges(one: tuple[ContourPlan, ...], two: tuple[ContourPlan, ...], size: float) -> Common | None:
    """The nodes of an outline of a size that lie on another in both keys, if they are two or more, and apart.

    The latest are kept: while one pair changes, the others have the same edges in common.
    """
    nodes, edges = nodes_of(one), np.concatenate([contour.edges for contour in two], axis=1)
    along, gaps = feet(nodes[0], edges[0])
    there = edges[1, :, 0] + along * (edges[1, :, 1] - edges[1, :, 0])
    worst = np.maximum(gaps, np.abs(nodes[1][:, None] - there))
    nearest = np.argmin(worst, axis=1)
    met = np.flatnonzero(worst[np.arange(len(nearest)), nearest] <= MEETS * size)
    if len(met) < 2 or np.ptp(nodes[0][met].real) + np.ptp(nodes[0][met].imag) < EDGE * size:
        return None
    return Common(met, nearest[met], along[met, nearest[met]])


def nodes_of(contours: Sequence[ContourPlan]) -> Complexes:
    """The nodes at both keys, shape (2, k)."""
    return np.concatenate([[contour.first[:, 1], contour.second[:, 1]] for contour in contours], axis=1)


def edges_of(contours: Sequence[ContourPlan], rows: Complexes) -> Complexes:
    """The edges for rows of node triples, shape (len(rows), edges, 2)."""
    cuts = np.cumsum([contour.first.size for contour in contours])[:-1]
    parts = [part.reshape(len(rows), -1, 3) for part in np.split(rows, cuts, axis=1)]
    return np.array(
        [
            np.concatenate([contour.edges_at(part[k]) for contour, part in zip(contours, parts, strict=True)])
            for k in range(len(rows))
        ]
    )
