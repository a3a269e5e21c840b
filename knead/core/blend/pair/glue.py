"""Lines and fills that go along with an outline on which they lie, or end, in both keys."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.by_times import ByTimes
from knead.core.blend.pair.shared_edges import EDGE, MEETS, edges_of, nodes_of
from knead.core.geometry.bezier import Complexes, Floats, Ints, gone
from knead.core.geometry.feet import feet
from knead.core.geometry.inside import mean_values
from knead.core.geometry.similarity import as_points
from knead.core.outline.contour_plan import ContourPlan

MOSTLY = 0.8  # the share of a line's nodes that must lie along the edge of what it is glued to
SLIDES = 0.1  # how far along that, as a share of its edges, a node may slide from key to key
SHIFTS = 0.25  # the same of nodes of a fill: light that falls otherwise shifts a shade
STEP = 1.5  # edges before and behind a place by which is told how an outline runs there
TOGETHER = 0.4, 0.2  # the same of both ends of a line, and of one against the other: a beak on a head that turns less


class Leader(Protocol):
    """What others go along with: a pair's plan."""

    @property
    def contours(self) -> tuple[ContourPlan, ...]: ...

    def points(self, times: Floats) -> Complexes: ...


@dataclass(frozen=True, eq=False)
class Along:
    """Nodes of a line that go along the outline of a leader of one contour.

    `nodes` of it lie on that outline: at the first key at the places `first`, counted in edges, at the second `slide`
    edges farther on; shapes (k,).
    """

    leader: Leader
    nodes: Ints
    first: Floats
    slide: Floats

    def only(self, which: NDArray[np.bool_]) -> "Along":
        """The same of some of the nodes."""
        return replace(self, nodes=self.nodes[which], first=self.first[which], slide=self.slide[which])

    def places(self, times: Floats) -> tuple[Complexes, Complexes]:
        """Where its nodes are on the leader's outline at the times, and which way that runs there; (len(times), k)."""
        return self._kept.get(times, lambda t: self._on(edges_of(self.leader.contours, self.leader.points(t)), t))

    @cached_property
    def at_keys(self) -> tuple[Complexes, Complexes]:
        """The same at both keys, shape (2, k)."""
        return self._on(self.leader.contours[0].edges, np.array([0.0, 1.0]))

    @cached_property
    def _kept(self) -> ByTimes[tuple[Complexes, Complexes]]:
        return ByTimes()  # the leader may itself be held by others, and those by others

    def _on(self, edges: Complexes, times: Floats) -> tuple[Complexes, Complexes]:
        at = self._reached(times)
        way = self._at(edges, at + STEP) - self._at(edges, at - STEP)  # past a corner, too, it turns smoothly
        return self._at(edges, at), way / np.maximum(np.abs(way), 1e-12)

    def _at(self, edges: Complexes, at: Floats) -> Complexes:
        """Points of the leader at places counted in edges, a row for each of the rows of edges."""
        count = edges.shape[1]
        at = np.mod(at, count) if self.leader.contours[0].closed else np.clip(at, 0.0, count)
        whole = np.minimum(at.astype(np.int64), count - 1)
        starts, ends = edges[np.arange(len(edges))[:, None], whole].transpose(2, 0, 1)
        return np.asarray(starts + (at - whole) * (ends - starts))

    def _reached(self, times: Floats) -> Floats:
        """The places of its nodes at the times, shape (len(times), k): from key to key they go evenly by length."""
        contour = self.leader.contours[0]
        lengths = gone(np.abs(contour.edges[:, :, 1] - contour.edges[:, :, 0]).sum(axis=0))
        places, counts = np.array([self.first, self.first + self.slide]), np.arange(len(lengths))
        rounds = np.floor(places / counts[-1]) if contour.closed else np.zeros(1)
        one, two = np.interp(places - rounds * counts[-1], counts, lengths) + rounds * lengths[-1]
        along = one + times[:, None] * (two - one)
        along = np.mod(along, max(lengths[-1], 1e-12)) if contour.closed else np.clip(along, 0.0, lengths[-1])
        return np.asarray(np.interp(along, lengths, counts))


@dataclass(frozen=True, eq=False)
class Within:
    """Nodes of a line that keep their places in a leader of one closed contour.

    `weights` are how much of each point of its outline they have at either key, shape (2, k, points).
    """

    leader: Leader
    nodes: Ints
    weights: Floats

    def only(self, which: NDArray[np.bool_]) -> "Within":
        """The same of some of the nodes."""
        return replace(self, nodes=self.nodes[which], weights=self.weights[:, which])

    def places(self, times: Floats) -> tuple[Complexes, Complexes]:
        """Where its nodes are at the times, and no way in which anything runs there; (len(times), k)."""
        return self._in(edges_of(self.leader.contours, self.leader.points(times)), times)

    @cached_property
    def at_keys(self) -> tuple[Complexes, Complexes]:
        """The same at both keys, shape (2, k)."""
        return self._in(self.leader.contours[0].edges, np.array([0.0, 1.0]))

    def _in(self, edges: Complexes, times: Floats) -> tuple[Complexes, Complexes]:
        here, there = (edges[:, :, 0] @ weights.T for weights in self.weights)
        places = here + times[:, None] * (there - here)
        return places, np.ones_like(places)


@dataclass(frozen=True, eq=False)
class Glue:
    """What holds nodes of a line to others, each to one: where it `meets` their outlines, or in them, or all along.

    If it is `closed`, it holds those of a fill.
    """

    parts: tuple[Along | Within, ...]
    meets: bool = False
    closed: bool = False

    @property
    def nodes(self) -> Ints:
        """Which nodes are held."""
        return np.concatenate([part.nodes for part in self.parts])

    def moved(self, own: Complexes, keys: tuple[Complexes, Complexes], times: Floats) -> Complexes:
        """The line's node triples, shape (len(times), nodes * 3), moved to where its leaders are at the times.

        `keys` are those at the keys. Between nodes that are held, the move passes over evenly by length; held by one
        end alone, the line keeps the other where that goes by itself. Exact at 0 and 1.
        """
        t = times[:, None]
        triples = own.reshape(len(times), -1, 3)
        off = np.where((t == 0.0) | (t == 1.0), 0.0, self._meant(keys, times) - triples[:, self.nodes, 1])
        nodes, last = self.nodes, triples.shape[1] - 1
        if len(nodes) == 1 and nodes[0] in (0, last) and not self.closed:
            nodes, off = np.append(nodes, last - nodes), np.pad(off, ((0, 0), (0, 1)))
        return passed_on(own, keys, nodes, off, self.closed)

    def gap(self, own: Complexes, keys: tuple[Complexes, Complexes], times: Floats) -> float:
        """How far nodes that are held come at most from where they should be, of its own triples; see `moved`."""
        return float(np.abs(self._meant(keys, times) - own.reshape(len(times), -1, 3)[:, self.nodes, 1]).max())

    def _meant(self, keys: tuple[Complexes, Complexes], times: Floats) -> Complexes:
        """Where nodes that are held should be, (len(times), k): as far beside their leaders as they are at the keys."""
        (here, there), ways = (
            np.concatenate(each, axis=1) for each in zip(*(p.at_keys for p in self.parts), strict=True)
        )
        places, way = (
            np.concatenate(each, axis=1) for each in zip(*(p.places(times) for p in self.parts), strict=True)
        )
        one, two = (key.reshape(-1, 3)[self.nodes, 1] for key in keys)
        t = times[:, None]
        return np.asarray(
            places + way * ((1.0 - t) * (one - here) * ways[0].conj() + t * (two - there) * ways[1].conj())
        )


def passed_on(
    own: Complexes, keys: tuple[Complexes, Complexes], nodes: Ints, off: Complexes, closed: bool
) -> Complexes:
    """A line's node triples at times, shape (times, nodes * 3), of which `nodes` are moved by `off`, (times, k).

    Between these, the move passes over evenly by the lengths at both `keys`.
    """
    along, order = _lengths(keys[0]) + _lengths(keys[1]), np.argsort(nodes)
    stops = along[nodes[order], 1]
    around = along[-1, 1] + sum(float(np.abs(key[1] - key[-2])) for key in keys) if closed else None
    rows = np.eye(len(nodes))[:, order]
    passed = np.array([np.interp(along.ravel(), stops, row, period=around) for row in rows])
    return np.asarray(own + off @ passed)


def _lengths(key: Complexes) -> Floats:
    """How far along a line its nodes and their handles are, about, from its node triples; shape (nodes, 3)."""
    before, nodes, after = key.reshape(-1, 3).T
    along = np.append(0.0, np.cumsum(np.abs(np.diff(nodes))))
    return np.stack([along - np.abs(before - nodes), along, along + np.abs(after - nodes)], axis=1)


def along_edge(leader: Leader, line: ContourPlan, size: float) -> Along | None:
    """A line of a size along a leader of one contour, if most of its nodes lie along that in both keys."""
    found = nodes_along(leader, line, MEETS * size)
    return found if found is not None and len(found.nodes) >= MOSTLY * len(line.first) else None


def along_own_edge(leader: Leader, ink: ContourPlan, near: float) -> Along | None:
    """The ink of a leader of one contour along its edge, if most of it lies so near to that in both keys.

    However far it slides: what else hides of the edge is another stretch of it in either key.
    """
    (contour,) = leader.contours
    (first, second), met = _on_edges(contour, ink, near)
    if met.mean() < MOSTLY:
        return None
    if contour.closed:
        count = contour.edges.shape[1]
        first, second = np.unwrap(first, period=count), np.unwrap(second, period=count)
        second = second - count * np.round(np.mean((second - first)[met]) / count)
    return Along(leader, np.arange(len(met)), first, second - first).only(met)


def along_border(leader: Leader, form: ContourPlan, size: float, near: float) -> Along | None:
    """Where the outline of a fill of a size lies on a leader of one contour in both keys, if places are apart there."""
    found = nodes_along(leader, form, near, SHIFTS)
    if found is None:
        return None
    places = nodes_of([form])[:, found.nodes]
    apart = np.ptp(places.real, axis=1) + np.ptp(places.imag, axis=1)
    return found if apart.min() >= EDGE * size else None


def nodes_along(leader: Leader, line: ContourPlan, near: float, slides: float = SLIDES) -> Along | None:
    """The nodes that lie along a leader of one contour, so near to it, in both keys, and slide no farther than so."""
    (contour,) = leader.contours
    nodes, count = np.arange(len(line.first)), contour.edges.shape[1]
    params, met = _on_edges(contour, line, near)
    slide = params[1] - params[0]
    if contour.closed:
        slide = np.mod(slide + 0.5 * count, count) - 0.5 * count
    ends = met & (not line.closed) & np.isin(nodes, (0, len(line.first) - 1)) & (np.abs(slide) <= TOGETHER[0] * count)
    together = ends.sum() == 2 and np.ptp(slide[ends]) <= TOGETHER[1] * count
    met &= (ends & together) | (np.abs(slide) <= slides * count)
    return Along(leader, nodes, params[0], slide).only(met) if met.any() else None


def _on_edges(contour: ContourPlan, line: ContourPlan, near: float) -> tuple[list[Floats], NDArray[np.bool_]]:
    """The places on a contour, counted in edges, nearest to the nodes of a line at each key; and which are so near."""
    nodes, params, met = np.arange(len(line.first)), [], np.ones(len(line.first), dtype=bool)
    for places, edges in zip(nodes_of([line]), contour.edges, strict=True):
        along, gaps = feet(places, edges)
        nearest = np.argmin(gaps, axis=1)
        met &= gaps[nodes, nearest] <= near
        params.append(nearest + along[nodes, nearest])
    return params, met


def ends_within(leader: Leader, line: ContourPlan) -> Within | None:
    """The end of a line that lies in a leader of one closed contour in both keys, if the other does not."""
    (contour,) = leader.contours
    rings, nodes = contour.edges[:, :, 0], np.array([0, len(line.first) - 1])
    places = nodes_of([line])[:, nodes]
    polygons = shapely.polygons([as_points(ring) for ring in rings])
    inside = shapely.contains_xy(polygons[:, None], places.real, places.imag).all(axis=0)
    if inside.sum() != 1:
        return None  # it lies in it
    weights = np.array([mean_values(ring, ends) for ring, ends in zip(rings, places, strict=True)])
    return Within(leader, nodes, weights).only(inside)
