"""What is drawn on a fill, its ink, and what is threaded on a line, belong to it, and go where it goes.

Spots on two legs that pass each other are all alike; by their places, they would change legs, and beads their rods.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Fill, Shape, Stroke
from knead.core.pairing.chains import Chain, may_chain

ALONG, AROUND = np.linspace(0.0, 1.0, 17), np.linspace(0.0, 1.0, 65)
MOSTLY, NEAR = 0.9, 0.01  # the share of its points that lie within the fill, and how far off, by the length of its edge

THREADED, LONGER = 0.1, 2.0  # how far off a line the middle of a bead lies at most, by its size; how long the line is

ASTRAY = 1.0  # what it costs to belong to one fill and become what belongs to another,
LEAVES = 2.0  # and ink of one to become that of another: it would rather go with its fill

Paint = tuple[Fill | None, Stroke | None]
Look = tuple[frozenset[str], Paint, bool]  # the fills or lines that something belongs to, its paint, if it is ink
Owners = Mapping[str, frozenset[str]]  # of shapes, by their ids, the fills or lines that they belong to


def drawn_on(shapes: Sequence[Shape]) -> dict[str, frozenset[str]]:
    """Of each shape that lies on fills, those of them that hold no other of them; shapes are given from back to front.

    An eye with a strand of hair under it is on that, and on the face.
    """
    tracks = [max(map(track_of, shape.contours), key=lambda track: track.length) for shape in shapes]
    points = np.array([as_points(track.sketch(ALONG)) for track in tracks]).reshape(-1, len(ALONG), 2)
    low, high = points.min(axis=1, initial=np.inf), points.max(axis=1, initial=-np.inf)
    lengths = np.array([track.length for track in tracks])
    holds = np.zeros((len(shapes), len(shapes)), dtype=bool)
    for k, (shape, track) in enumerate(zip(shapes, tracks, strict=True)):
        if shape.fill is None or not track.closed:
            continue
        over = np.arange(k + 1, len(shapes))
        meets = (low[over] <= high[k]).all(axis=1) & (high[over] >= low[k]).all(axis=1)
        over = over[meets & (lengths[over] < lengths[k])]
        if len(over):
            ring = shapely.Polygon(as_points(track.sketch(AROUND)))
            shapely.prepare(ring)
            spots = shapely.points(points[over])
            inside = shapely.dwithin(ring, spots, NEAR * track.length)  # shading lies along the edge of what it is on
            holds[k, over] = inside.mean(axis=1) >= MOSTLY
    on = holds & ~(holds @ holds)
    return {
        shape.id: frozenset(shapes[k].id for k in np.flatnonzero(on[:, n]).tolist())
        for n, shape in enumerate(shapes)
        if on[:, n].any()
    }


def threaded_on(shapes: Sequence[Shape]) -> dict[str, frozenset[str]]:
    """Of each closed fill through the middle of which lines run, these."""
    rods = {shape.id: track_of(shape.contours[0]) for shape in shapes if may_chain(shape)}
    beads = {s.id: track_of(s.contours[0]) for s in shapes if s.fill is not None and s.contours[0].closed}
    if not rods or not beads:
        return {}
    points = np.array([bead.sketch(ALONG) for bead in beads.values()])
    middles = points.mean(axis=1, keepdims=True)
    sizes, spots = np.abs(points - middles).max(axis=1, keepdims=True), shapely.points(as_points(middles))
    lines = shapely.linestrings([as_points(rod.sketch(AROUND)) for rod in rods.values()])
    along, lengths = shapely.line_locate_point(lines, spots), shapely.length(lines)
    on = (shapely.distance(lines, spots) < THREADED * sizes) & (lengths > 2 * LONGER * sizes)
    on &= (along > sizes) & (along < lengths - sizes)
    names = np.array([*rods])
    return {bead: frozenset(names[row].tolist()) for bead, row in zip(beads, on, strict=True) if row.any()}


def are_in_doubt(shapes: Sequence[Shape], owners: Owners) -> bool:
    """Whether things of one paint belong to several fills."""
    known: dict[Paint, frozenset[str]] = {}
    owned = [shape for shape in shapes if shape.id in owners]
    return any(known.setdefault((s.fill, s.stroke), owners[s.id]) != owners[s.id] for s in owned)


@dataclass(frozen=True)
class Belonging:
    """Which fills and lines shapes of both keys belong to, which of them are ink, and what becomes each other."""

    owners: tuple[Owners, Owners]
    ink: tuple[Collection[str], Collection[str]]
    pairs: tuple[tuple[str, str], ...]

    def price(self, one: Sequence[Chain], two: Sequence[Chain]) -> Floats:
        """What it costs more to belong to fills that become something else, shape (n, m).

        That is so if there is another of their paint, and of ink in any case: it never leaves its fill.
        """
        rows, columns = (
            [(_owners_of(chain, owners), (chain.lead.fill, chain.lead.stroke), chain.lead.id in ink) for chain in side]
            for side, owners, ink in zip((one, two), self.owners, self.ink, strict=True)
        )
        there = _elsewhere(rows, columns, dict(self.pairs))
        here = _elsewhere(columns, rows, {b: a for a, b in self.pairs}).T
        return np.maximum(there, here)


def _elsewhere(own: Sequence[Look], others: Sequence[Look], becomes: Mapping[str, str]) -> Floats:
    """What it costs each, shape (n, m), to be one of the others that is not on what its fills become."""
    rows = []
    for fills, paint, is_ink in own:
        wanted = {becomes[fill] for fill in fills if fill in becomes}
        there = [bool(wanted & owners) for owners, _, _ in others]
        known = any(is_there and paint == other for is_there, (_, other, _) in zip(there, others, strict=True))
        astray = [bool(owners) and not is_there for is_there, (owners, _, _) in zip(there, others, strict=True)]
        leaves = [is_ink and bool(wanted) and other for _, _, other in others]
        prices = np.where(leaves, LEAVES, ASTRAY if known else 0.0)
        rows.append(np.where(astray, prices, 0.0))
    return np.array(rows).reshape(len(own), len(others))


def _owners_of(chain: Chain, owners: Owners) -> frozenset[str]:
    """The fills that all of a line or shape belongs to."""
    found = {owners.get(name, frozenset()) for name in chain.ids}
    return found.pop() if len(found) == 1 else frozenset()
