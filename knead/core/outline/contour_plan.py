"""One contour on its way to another: equally many nodes on both sides, exact at both keys."""

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import (
    Complexes,
    Floats,
    Ints,
    bernstein,
    cut,
    path_of,
    reversed_path,
    segments_of,
    triples_of,
)
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import Track, even_track
from knead.core.model import Contour, Node
from knead.core.outline.correspondence import Correspondence, run, tried
from knead.core.outline.directions import backwards_ties, winding
from knead.core.outline.hints import consistent, share_of, shared_nodes
from knead.core.outline.kinds.fan import corner_map
from knead.core.outline.kinds.lane import Lane, lane_of
from knead.core.outline.kinds.node_on_node import same_form
from knead.core.outline.led import THERE
from knead.core.outline.matching import match, match_tied
from knead.core.outline.rows import misses, with_ties
from knead.core.outline.strain import strain
from knead.core.outline.structure import Cuts, begun_at_node, common, drawn_alike
from knead.core.outline.thin import Thinned, thinned, with_all_nodes

WITHIN = np.array([0.125, 0.375, 0.625, 0.875])  # evenly about the middle: else what is symmetric would seem to turn
ENDS_TOO = np.linspace(0.0, 1.0, 5)
EDGES, MOST_EDGES = 64, 16  # so many edges an outline is seen in at least, unless that takes more of a segment
AT_TIE = 2e-4  # how far from where a line goes along itself, by its length, a tie may be that changes nothing
AT_END = 2e-3  # the same of what is new, which comes out of an end
FEW = 6  # more ties than this are asked all at once: each time the whole map is sought anew
NO_TIES = np.zeros((0, 2))


@dataclass(frozen=True, eq=False)
class ContourPlan:
    """Node triples (handle before, node, handle after) of both sides as complex arrays of shape (nodes, 3).

    `first_contour` and `second_contour` are indices into the two shapes; one is None where the contour opens from,
    or closes to, a point. `cuts` is None then. `strain` is how much it is distorted, apart from turning.
    """

    closed: bool
    first: Complexes
    second: Complexes
    first_contour: int | None
    second_contour: int | None
    cuts: Cuts | None
    nodes: tuple[tuple[Node | None, Node | None], ...]
    strain: float

    @cached_property
    def length(self) -> float:
        """About how long it is at the first key."""
        return float(np.abs(np.diff(self.first[:, 1])).sum()) + 1e-9

    @cached_property
    def kin(self) -> bool:
        """Whether the keys share nodes, so that nothing was guessed."""
        return any(a and b and a.id == b.id for a, b in self.nodes)

    @property
    def turned(self) -> bool:
        """Whether the contour of the second key is run from its end."""
        return self.cuts is not None and self.cuts.reversed

    def pieces(self) -> tuple[Complexes, Complexes]:
        """Points along each stretch of both sides that meet, its ends included, shape (stretches, 5)."""
        return _pieces(self.first, self.closed, ENDS_TOO), _pieces(self.second, self.closed, ENDS_TOO)

    @cached_property
    def edges(self) -> Complexes:
        """Short edges along it at both keys, shape (2, edges, 2)."""
        return np.array([self.edges_at(self.first), self.edges_at(self.second)])

    def edges_at(self, triples: Complexes) -> Complexes:
        """The beginnings and ends of short edges along it where its nodes are these, shape (edges, 2).

        Few segments are seen in more of them each: a circle of four that is seen in 16 edges is too far from itself.
        """
        steps = min(max(EDGES // len(triples), len(ENDS_TOO) - 1), MOST_EDGES)
        rows = _pieces(triples, self.closed, np.arange(steps + 1) / steps)
        return np.stack([rows[:, :-1].ravel(), rows[:, 1:].ravel()], axis=1)

    def samples(self) -> tuple[Complexes, Complexes, Floats]:
        """Points that meet and the lengths they stand for: what a motion is fitted to. Shapes (k,)."""
        one, two = _pieces(self.first, self.closed), _pieces(self.second, self.closed)
        weights = 0.5 * (_lengths(one) + _lengths(two))
        return one.ravel(), two.ravel(), weights.repeat(one.shape[1]) + 1e-9


def halved(plan: ContourPlan, where: NDArray[np.bool_]) -> ContourPlan:
    """The same plan with a node more half way along each stretch that is marked; `where` has one mark a stretch."""
    if plan.cuts is None or not np.any(where):
        return plan
    at = np.flatnonzero(where)
    first, second = (_split(side, at) for side in (plan.first, plan.second))
    paths = as_points(segments_of(first, plan.closed)), as_points(segments_of(second, plan.closed))
    nodes = list(plan.nodes)
    for k in at[::-1].tolist():
        nodes.insert(k + 1, (None, None))
    return replace(
        plan,
        first=first,
        second=second,
        cuts=plan.cuts.halved(paths, at),
        nodes=tuple(nodes),
    )


def _split(triples: Complexes, at: Ints) -> Complexes:
    """Node triples with stretches halved by de Casteljau."""
    after = (at + 1) % len(triples)
    a, b, c, d = triples[at, 1], triples[at, 2], triples[after, 0], triples[after, 1]
    ab, bc, cd = (a + b) / 2, (b + c) / 2, (c + d) / 2
    abc, bcd = (ab + bc) / 2, (bc + cd) / 2
    old = triples.copy()
    old[at, 2], old[after, 0] = ab, cd
    return np.insert(old, at + 1, np.stack([abc, (abc + bcd) / 2, bcd], axis=1), axis=0)


def _pieces(triples: Complexes, closed: bool, t: Floats = WITHIN) -> Complexes:
    """Points of each segment at parameters t, shape (segments, len(t))."""
    return np.asarray(segments_of(triples, closed or len(triples) == 1) @ bernstein(t), dtype=complex)


def _lengths(pieces: Complexes) -> Floats:
    return np.asarray(np.abs(np.diff(pieces, axis=1)).sum(axis=1), dtype=float)


def plan_contours(
    first: Contour,
    second: Contour,
    tracks: tuple[Track, Track],
    indices: tuple[int, int],
    hints: Floats,
    tolerance: float,
    turned: float | None = None,
) -> ContourPlan:
    """Lay a contour on its partner. `hints` (k, 2) are parameters that must meet, in a consistent order.

    Nodes of both that differ by no more than what moves a half-way outline by `tolerance`, in scene units, meet.
    Of like ways, the one is taken that turns the least against a turn by `turned` radians, if that is given.
    """
    shared = shared_nodes(first, second)
    ids_alike = len(shared) == len(first.nodes) == len(second.nodes)
    if len(shared) == 2 and first.closed and tracks[0].inside * tracks[1].inside < 0.0:
        ids_alike = False  # the order of two nodes does not tell that one outline runs the other way round
    if ids_alike and not len(hints) and first.closed == second.closed and _one_turn(shared, first.closed):
        return _same_structure(first, second, shared, indices)
    alike = None if len(shared) >= 2 or turned is not None else same_form(first, second, tracks)
    if alike is not None and not len(hints):
        return replace(_same_structure(first, second, alike, indices), strain=_strain_of(tracks, alike))
    shared = alike or shared
    one, two = tracks
    ties = _shares_of(tracks, hints)
    if len(shared) >= 2:
        kin = np.array([[share_of(one, a), share_of(two, b)] for a, b in shared])
        ties = _with_kin(ties, kin, one.closed)
    cuts, strain = _laid(one, two, ties, tolerance, turned)
    return _cut_plan(first, second, cuts, indices, strain)


def plan_in_lane(
    first: Contour, second: Contour, indices: tuple[int, int], ties: Floats
) -> tuple[ContourPlan, Lane] | None:
    """A line laid along the curve that both keys run along; None if there is none, or all nodes are the same.

    So it is if one of the `ties`, parameters (k, 2), is not where it goes anyway.
    """
    if first.closed or second.closed or len(shared_nodes(first, second)) == len(first.nodes) == len(second.nodes):
        return None
    one, two = even_track(first), even_track(second)
    found = lane_of(one, two)
    if found is None:
        return None
    lane, cuts = found
    there = len(two.path) - ties[:, 1] if cuts.reversed else ties[:, 1]
    run, own = two.backwards if cuts.reversed else two, one.shares(ties[:, 0])
    onward = run.shares(np.interp(ties[:, 0], cuts.first_params, cuts.second_params))
    back = one.shares(np.interp(there, cuts.second_params, cuts.first_params))
    goes_there = np.abs(onward - run.shares(there)) <= AT_TIE
    comes_out = np.minimum(own, 1.0 - own) + np.abs(back - own) <= AT_END  # what is new comes out of an end
    return (_cut_plan(first, second, cuts, indices, 0.0), lane) if np.all(goes_there | comes_out) else None


def plan_as_fan(
    contours: tuple[Contour, Contour],
    tracks: tuple[Track, Track],
    hints: Floats,
    tolerance: float,
) -> ContourPlan | None:
    """A closed contour laid on its partner corner by corner, if so it opens to be that like a fan.

    None also if one of the `hints`, parameters (k, 2), is not where it goes then.
    """
    if not winding(tracks[0]) * winding(tracks[1]):
        return None
    thin = [thinned(track) for track in tracks]
    backwards = winding(tracks[0]) != winding(tracks[1])
    one, two = thin[0].track, run(thin[1].track, backwards)
    knots = corner_map(one, two)
    if knots is None:
        return None
    way = tried(one, two, [knots], backwards)[0]
    rows = _rows(thin, way, NO_TIES, tolerance)
    ties, cuts = _shares_of(tracks, hints), _cuts(*tracks, rows, backwards)
    if len(ties):
        off = np.any(misses(*tracks, cuts.meets, ties, backwards) >= THERE)
        tied = None if off else with_ties(*tracks, rows, ties, backwards)
        if tied is None:
            return None
        cuts = _cuts(*tracks, tied, backwards)
    return _cut_plan(*contours, cuts, (0, 0), way.strain.distortion)


def _shares_of(tracks: tuple[Track, Track], params: Floats) -> Floats:
    one, two = tracks
    return np.array([[share_of(one, a), share_of(two, b)] for a, b in params]).reshape(-1, 2)


def _cut_plan(first: Contour, second: Contour, cuts: Cuts, indices: tuple[int, int], strain: float) -> ContourPlan:
    own = _once([_node_at(first, param, False) for param in cuts.first_params])
    its = _once([_node_at(second, param, cuts.reversed) for param in cuts.second_params])
    nodes = tuple(zip(own, its, strict=True))
    count = len(cuts.first) if first.closed else len(cuts.first) + 1
    return ContourPlan(
        first.closed,
        as_complex(triples_of(cuts.first, first.closed)),
        as_complex(triples_of(cuts.second, first.closed)),
        *indices,
        cuts,
        nodes[:count],
        strain,
    )


def _laid(one: Track, two: Track, ties: Floats, tolerance: float, turned: float | None) -> tuple[Cuts, float]:
    """The cuts of both outlines that meet, and how much the map distorts. Mere cuts play no part in it.

    What is tied as it would meet anyway changes no map, nor does what is tied as it meets because of those before it.
    """
    way, rows = _untied(one, two, tolerance, turned)
    telling: list[int] = []
    while True:
        cuts = _cuts(one, two, rows, way.reversed)
        if not len(ties):
            return cuts, way.strain.distortion
        missed = misses(one, two, cuts.meets, ties, way.reversed)
        astray = np.setdiff1d(np.flatnonzero(missed >= THERE), telling)
        met = with_ties(one, two, rows, ties, way.reversed) if not len(astray) else None
        if met is not None or len(telling) == len(ties):
            return _cuts(one, two, rows if met is None else met, way.reversed), way.strain.distortion
        telling = [*telling, int(astray[0])] if len(astray) and len(ties) <= FEW else [*range(len(ties))]
        way, rows = _led(one, two, ties[telling], tolerance, turned)


def _led(one: Track, two: Track, ties: Floats, tolerance: float, turned: float | None) -> tuple[Correspondence, Floats]:
    """The map with ties, and the parameters that meet by it."""
    thin = [thinned(track) for track in (one, two)]
    if one.closed:
        begins = [track.nodes[side.start] for track, side in zip((one, two), thin, strict=True)]
        ties = np.mod(ties - begins, 1.0)
    way = match_tied(thin[0].track, thin[1].track, ties, turned)
    return way, _rows(thin, way, ties, tolerance)


def _cuts(one: Track, two: Track, rows: Floats, backwards: bool) -> Cuts:
    """Both outlines cut at parameters that meet, shape (k, 2)."""
    path = reversed_path(two.path) if backwards else two.path
    a, b = (begun_at_node(rows, np.array([len(one.path), len(path)])) if one.closed else rows).T
    return Cuts(*drawn_alike(cut(one.path, a), cut(path, b)), a, b, backwards)


@lru_cache(maxsize=256)  # a hint that is dragged asks for it again and again
def _untied(one: Track, two: Track, tolerance: float, turned: float | None) -> tuple[Correspondence, Floats]:
    """The map without ties, and the parameters that meet by it."""
    thin = [thinned(track) for track in (one, two)]
    way = match(thin[0].track, thin[1].track, turned)
    return way, _rows(thin, way, NO_TIES, tolerance)


def _rows(thin: list[Thinned], way: Correspondence, ties: Floats, tolerance: float) -> Floats:
    """Parameters of both whole outlines that meet by a map of the thinned ones, shape (k, 2), with `ties` of these."""
    first, second = thin
    if way.reversed:
        second, ties = second.reversed(), backwards_ties(ties, second.track.closed)
    rows = common(first.track, second.track, way, ties, tolerance)
    return with_all_nodes(rows, [first, second], ties, 2.0 * tolerance)


def _with_kin(ties: Floats, kin: Floats, closed: bool) -> Floats:
    """Ties of hints, and those of nodes that both keys share as far as they agree with all hints."""
    gaps = np.abs(np.mod(kin[:, None] - ties[None] + 0.5, 1.0) - 0.5).min(axis=(1, 2), initial=1.0)
    every = np.concatenate([ties, kin[gaps > 1e-6]])
    kept = consistent(every, closed)
    return every[kept] if set(range(len(ties))) <= set(kept) else ties


def plan_lone(contour: Contour, index: int, from_first: bool, target: complex, backwards: bool) -> ContourPlan:
    """A contour that closes to the point `target` (of the second key), or opens from it (of the first)."""
    path = path_of(contour)
    nodes = contour.nodes
    if backwards:
        path = path[::-1, ::-1]
        nodes = (nodes[:1] + nodes[:0:-1]) if contour.closed else nodes[::-1]
    triples = as_complex(triples_of(path, contour.closed))
    if len(nodes) == 1 and not contour.closed:
        triples = triples[:1]
    point = np.full_like(triples, target)
    pairs = tuple((n, None) if from_first else (None, n) for n in nodes)
    if from_first:
        return ContourPlan(contour.closed, triples, point, index, None, None, pairs, 0.0)
    return ContourPlan(contour.closed, point, triples, None, index, None, pairs, 0.0)


def _one_turn(shared: list[tuple[int, int]], closed: bool) -> bool:
    """Whether the shared nodes follow each other alike on both sides (on a closed contour from any start)."""
    order = np.array([b for _, b in shared])
    return bool(np.all(np.diff(order) == 1)) or (closed and bool(np.all(np.mod(np.diff(order), len(order)) == 1)))


def _same_structure(
    first: Contour, second: Contour, shared: list[tuple[int, int]], indices: tuple[int, int]
) -> ContourPlan:
    order = [b for _, b in shared]
    rows = [np.array([(*n.before, *n.at, *n.after) for n in c.nodes]).reshape(-1, 3, 2) for c in (first, second)]
    one, two = as_complex(rows[0]), as_complex(rows[1][order])
    shift = float(order[0])
    params = np.arange(len(first.nodes) + (1.0 if first.closed else 0.0))
    cuts = Cuts(path_of(first), path_of(second), params, params + shift, False)
    nodes = tuple((a, second.nodes[k]) for a, k in zip(first.nodes, order, strict=True))
    return ContourPlan(first.closed, one, two, *indices, cuts, nodes, 0.0)


def _strain_of(tracks: tuple[Track, Track], met: list[tuple[int, int]]) -> float:
    """How much the map distorts that lays nodes on nodes, given in the first contour's order."""
    one, two = tracks
    knots = np.stack([one.nodes, two.nodes[[second for _, second in met]]], axis=1)
    if one.closed:
        second = np.append(knots[:, 1], knots[0, 1])
        second[1:] += np.cumsum(np.diff(second) < 0)
        knots = np.stack([np.append(one.nodes, 1.0), second], axis=1)
    return strain(one, two, knots).distortion


def _once(nodes: list[Node | None]) -> list[Node | None]:
    """The nodes of a line, each where it first comes: what is yet to grow out of its end waits there."""
    places = {node.id: k for k, node in reversed([*enumerate(nodes)]) if node is not None}
    return [node if node is not None and places[node.id] == k else None for k, node in enumerate(nodes)]


def _node_at(contour: Contour, param: float, backwards: bool) -> Node | None:
    """The contour's node at a parameter of its (reversed) path, if the cut is at a node."""
    whole = round(param)
    if abs(param - whole) > 1e-9:
        return None
    n = len(contour.nodes)
    last = n if contour.closed else n - 1
    index = last - whole if backwards else whole
    return contour.nodes[index % n]
