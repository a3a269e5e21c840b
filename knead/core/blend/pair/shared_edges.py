"""Edges that two outlines have in common in both keys, and going along with them."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.outline.contour_plan import ContourPlan

MEETS = 0.01  # how near edges lie that are one, by the size of the shape whose nodes are asked
EDGE = 0.4  # how far apart, by that size, such nodes must be
MOSTLY = 0.8  # the share of a line's nodes that must lie along the edge of what it is glued to
SLIDES = 0.1  # how far along that, as a share of its edges, a node may slide from key to key


@dataclass(frozen=True)
class Common:
    """Nodes of one outline that lie on edges of another in both keys: which, on which, and how far along; (k,)."""

    nodes: Ints
    edges: Ints
    along: Floats

    def places(self, contours: Sequence[ContourPlan], rows: Complexes) -> Complexes:
        """Where they lie on the other outline for its rows of node triples, shape (len(rows), k)."""
        starts, ends = _edges(contours, rows)[:, self.edges].transpose(2, 0, 1)
        return np.asarray(starts + self.along * (ends - starts))


@lru_cache(maxsize=256)
def common_edges(one: tuple[ContourPlan, ...], two: tuple[ContourPlan, ...], size: float) -> Common | None:
    """The nodes of an outline of a size that lie on another in both keys, if they are two or more, and apart.

    The latest are kept: while one pair changes, the others have the same edges in common.
    """
    nodes, edges = _nodes(one), np.concatenate([contour.edges for contour in two], axis=1)
    along, gaps = _feet(nodes[0], edges[0])
    there = edges[1, :, 0] + along * (edges[1, :, 1] - edges[1, :, 0])
    worst = np.maximum(gaps, np.abs(nodes[1][:, None] - there))
    nearest = np.argmin(worst, axis=1)
    met = np.flatnonzero(worst[np.arange(len(nearest)), nearest] <= MEETS * size)
    if len(met) < 2 or np.ptp(nodes[0][met].real) + np.ptp(nodes[0][met].imag) < EDGE * size:
        return None
    return Common(met, nearest[met], along[met, nearest[met]])


class Leader(Protocol):
    """What others go along with: a pair's plan."""

    @property
    def contours(self) -> tuple[ContourPlan, ...]: ...

    def points(self, times: Floats) -> Complexes: ...


@dataclass(frozen=True, eq=False)
class Glue:
    """A line that goes along the edge of a leader of one contour.

    `nodes` of it lie on the edge: at the first key at the places `first`, counted in edges, at the second `slide`
    edges farther on; shapes (k,).
    """

    leader: Leader
    nodes: Ints
    first: Floats
    slide: Floats

    def moved(self, own: Complexes, keys: tuple[Complexes, Complexes], times: Floats) -> Complexes:
        """The line's node triples, shape (len(times), nodes * 3), moved to where the leader's edge is at the times.

        `keys` are those at the keys. Between nodes on the edge, the move passes over evenly. Exact at 0 and 1.
        """
        places = self.places(np.array([0.0, *times, 1.0]))
        one, two = (key.reshape(-1, 3)[self.nodes, 1] for key in keys)
        t = times[:, None]
        meant = places[1:-1] + (1.0 - t) * (one - places[0]) + t * (two - places[-1])
        triples = own.reshape(len(times), -1, 3)
        off = np.where((t == 0.0) | (t == 1.0), 0.0, meant - triples[:, self.nodes, 1])
        each = np.arange(triples.shape[1])
        passed = np.array([np.interp(each, self.nodes, row) for row in np.eye(len(self.nodes))])
        return np.asarray((triples + (off @ passed)[:, :, None]).reshape(own.shape))

    def places(self, times: Floats) -> Complexes:
        """Where its nodes are on the leader's edge at the times, shape (len(times), k)."""
        edges = _edges(self.leader.contours, self.leader.points(times))
        at = np.mod(self.first + times[:, None] * self.slide, edges.shape[1])
        whole = np.minimum(at.astype(np.int64), edges.shape[1] - 1)
        starts, ends = edges[np.arange(len(times))[:, None], whole].transpose(2, 0, 1)
        return np.asarray(starts + (at - whole) * (ends - starts))


def glue_to(leader: Leader, line: ContourPlan, size: float) -> Glue | None:
    """A line of a size glued to a leader of one closed contour, if most of its nodes lie along that in both keys."""
    (contour,) = leader.contours
    count, params, near = contour.edges.shape[1], [], np.ones(len(line.first), dtype=bool)
    for nodes, edges in zip(_nodes([line]), contour.edges, strict=True):
        along, gaps = _feet(nodes, edges)
        nearest, each = np.argmin(gaps, axis=1), np.arange(len(nodes))
        near &= gaps[each, nearest] <= MEETS * size
        params.append(nearest + along[each, nearest])
    slide = np.mod(params[1] - params[0] + 0.5 * count, count) - 0.5 * count
    met = np.flatnonzero(near & (np.abs(slide) <= SLIDES * count))
    return Glue(leader, met, params[0][met], slide[met]) if len(met) >= MOSTLY * len(near) else None


def _nodes(contours: Sequence[ContourPlan]) -> Complexes:
    """The nodes at both keys, shape (2, k)."""
    return np.concatenate([[contour.first[:, 1], contour.second[:, 1]] for contour in contours], axis=1)


def _edges(contours: Sequence[ContourPlan], rows: Complexes) -> Complexes:
    """The edges for rows of node triples, shape (len(rows), edges, 2)."""
    cuts = np.cumsum([contour.first.size for contour in contours])[:-1]
    parts = [part.reshape(len(rows), -1, 3) for part in np.split(rows, cuts, axis=1)]
    return np.array(
        [
            np.concatenate([contour.edges_at(part[k]) for contour, part in zip(contours, parts, strict=True)])
            for k in range(len(rows))
        ]
    )


def _feet(points: Complexes, edges: Complexes) -> tuple[Floats, Floats]:
    """How far along each edge (m, 2) the foot of each point (n,) lies, 0 to 1, and how far from it; (n, m)."""
    away, step = points[:, None] - edges[:, 0], edges[:, 1] - edges[:, 0]
    along = np.clip((away * step.conj()).real / np.maximum(np.abs(step) ** 2, 1e-18), 0.0, 1.0)
    return along, np.abs(away - along * step)
