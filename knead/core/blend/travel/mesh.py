"""Solid travel of what has an inside: triangles between its outlines keep it as rigid as can be.

Places spread evenly over an outline and its holes are tied by the triangles of both keys, and each triangle turns and
stretches evenly (Alexa, Cohen-Or and Levin 2000, "As-Rigid-As-Possible Shape Interpolation"). One symmetric system,
inverted once, gives the places at all times. Its weights are those of cotangents, of both keys alike, so that there and
back are one way (Baxter, Barla and Anjyo 2008, "Rigid Shape Interpolation Using Normal Equations").
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from knead.core.blend.travel.solid import branch
from knead.core.geometry.bezier import Complexes, Floats, Ints, following
from knead.core.geometry.similarity import as_points

VIEWS = np.exp(1j * np.pi * (np.arange(4) + 0.5) / 4)  # along these a key is stretched before it is cut into triangles
STRETCH = 1.5  # by so much: of a round form all triangles are alike, and the choice among them would be chance
LEAST = 1e-6  # a triangle with a smaller share of the area is none
SLIVER = 20.0  # a triangle counts less, as far as a cotangent of its angles is greater than this
EDGE = 0.02  # how much an edge between two places counts beside the triangles, which may be missing there
THIN = 0.3  # a triangle is pinched that has less of its lesser area half way
PINCHED = 0.01  # the share of the area that may be
NEAR = 0.3  # how far from the straight way, by its size, what is kept from being pinched may go


@dataclass(frozen=True, eq=False)
class Mesh:
    """Places at both keys, `first` and `second`, shape (places,), with the triangles and edges between them.

    Triangles and edges are indices of places, shapes (triangles, 3) and (edges, 2). `counts` says how much each
    triangle counts. Edges turn by `turns`, in radians, and count by `weights`. `lost` is the share of the area that is
    in triangles of one key which are none in the other.
    """

    first: Complexes
    second: Complexes
    triangles: Ints
    counts: Floats
    edges: Ints
    turns: Floats
    weights: Floats
    lost: float

    def at(self, times: Floats) -> Complexes:
        """The places at the times about their middle, shape (len(times), places)."""
        t, (one, two) = times[:, None], self._steps
        return np.asarray((np.exp(1j * t * self.turns) * ((1.0 - t) * one + t * two)) @ self._spread)

    @cached_property
    def would_be_pinched(self) -> bool:
        """Whether more than a little of it would be pinched on straight ways, and is not on these, which lie near."""
        one, two = self.first - self.first.mean(), self.second - self.second.mean()
        straight, own = (one + two) / 2, self.at(np.array([0.5]))[0]
        size = float(np.sqrt(np.mean(np.abs(one) ** 2 + np.abs(two) ** 2) / 2))
        if float(np.abs(own - straight).mean()) > NEAR * size:
            return False
        keys = [_areas(key, self.triangles) for key in (one, two)]
        least, shares = np.min(np.abs(keys), axis=0), self.counts * np.abs(keys).sum(axis=0)
        pinched, left = (
            float(shares @ (_areas(half, self.triangles) * np.sign(keys[0]) < THIN * least)) / float(shares.sum())
            for half in (straight, own)
        )
        return pinched > PINCHED and left < pinched / 2

    @cached_property
    def _steps(self) -> tuple[Complexes, Complexes]:
        """The edges at both keys, those of the second turned back."""
        one, two = (places[self.edges[:, 1]] - places[self.edges[:, 0]] for places in (self.first, self.second))
        return one, two * np.exp(-1j * self.turns)

    @cached_property
    def _spread(self) -> Floats:
        """What each edge does to the places, shape (edges, places)."""
        count, (one, other), weights = len(self.first), self.edges.T, self.weights
        pairs = np.concatenate([one * count + one, other * count + other, one * count + other, other * count + one])
        ties = np.bincount(pairs, np.concatenate([weights, weights, -weights, -weights]), count**2)
        # what all places do alike is left open by the edges: their middle stays
        inverse = np.linalg.inv(ties.reshape(count, count) + 1.0 / count)
        return np.asarray(weights[:, None] * (inverse[other] - inverse[one]), dtype=float)


def meshed(rings: Sequence[tuple[Complexes, Complexes, Floats]]) -> Mesh | None:
    """The mesh of an outline and the holes in it; None where no triangle is one in both keys.

    Each ring has its places at both keys and about how much each of them turns, in radians.
    """
    first, second, turns = (np.concatenate(rows) for rows in zip(*rings, strict=True))
    cuts = np.cumsum([len(ring[0]) for ring in rings])[:-1]
    triangles, counts = _triangles(first, second, cuts)
    one, two = (_areas(key, triangles) for key in (first, second))
    kept = (one * two > 0.0) & np.all([np.abs(areas) > LEAST * np.abs(areas).sum() for areas in (one, two)], axis=0)
    if not kept.any():
        return None
    room = counts * (np.abs(one) + np.abs(two))
    triangles, counts = triangles[kept], counts[kept]
    turning = _turned(first[triangles], second[triangles])
    turning += branch(turns[triangles].mean(axis=1) - turning)
    cots = np.array([_cotangents(key, triangles) for key in (first, second)])
    weights = (counts * np.minimum(1.0, SLIVER / np.abs(cots).max(axis=(0, 2))))[:, None] * cots.sum(axis=0) / 4
    around = np.concatenate([np.stack([own, following(own)], axis=1) for own in np.split(np.arange(len(first)), cuts)])
    # an edge to each hole, lest it hang on nothing where all triangles about it are lost
    around = np.concatenate([around, np.stack([np.zeros_like(cuts), cuts], axis=1)])
    along = np.angle(np.diff(second[around])[:, 0] * np.diff(first[around])[:, 0].conj() + 1e-300)
    along += branch(turns[around].mean(axis=1) - along)
    return Mesh(
        first,
        second,
        triangles,
        counts,
        np.concatenate([np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=2).reshape(-1, 2), around]),
        np.concatenate([np.repeat(turning, 3), along]),
        np.concatenate([weights.ravel(), np.full(len(around), EDGE)]),
        float(room[~kept].sum() / room.sum()),
    )


def _triangles(first: Complexes, second: Complexes, cuts: Ints) -> tuple[Ints, Floats]:
    """Triangles that fill one of the keys, by the indices of their corners (n, 3), and in how many of the views."""
    found = [np.zeros((0, 3), dtype=np.int64)]
    for key in (first, second):
        own = key - key.mean()
        along = np.exp(0.5j * np.angle((own**2).sum())) * VIEWS
        for turned in own * along[:, None].conj():
            found.append(_filled(np.split(STRETCH * turned.real + 1j * turned.imag, cuts)))
    rows, times = np.unique(np.sort(np.concatenate(found), axis=1), axis=0, return_counts=True)
    return rows, times / len(VIEWS)


def _filled(rings: list[Complexes]) -> Ints:
    """Triangles that fill an outline but for its holes, by the indices of their corners; none where lines cross."""
    region = shapely.Polygon(as_points(rings[0]), [as_points(ring) for ring in rings[1:]])
    if not shapely.is_valid(region):
        return np.zeros((0, 3), dtype=np.int64)
    corners = shapely.get_coordinates(shapely.constrained_delaunay_triangles(region)).reshape(-1, 4, 2)[:, :3]
    places = {place: k for k, place in enumerate(np.concatenate(rings).tolist())}
    flat = (corners[..., 0] + 1j * corners[..., 1]).ravel().tolist()
    return np.array([places[place] for place in flat], dtype=np.int64).reshape(-1, 3)


def _areas(places: Complexes, triangles: Ints) -> Floats:
    """Twice the areas of triangles, negative where they turn to the other side."""
    one, two, three = places[triangles].T
    return np.asarray(((two - one).conj() * (three - one)).imag, dtype=float)


def _cotangents(places: Complexes, triangles: Ints) -> Floats:
    """For each edge of triangles, from one corner to the next, the cotangent of the angle across, (triangles, 3)."""
    corners = places[triangles]
    one, two, across = (np.roll(corners, -k, axis=1) for k in range(3))
    return np.asarray(((one - across).conj() * (two - across)).real / np.abs(_areas(places, triangles))[:, None])


def _turned(one: Complexes, two: Complexes) -> Floats:
    """How much triangles turn, as the polar decomposition of the map between their corners (n, 3) has it."""
    a, b, c, d = (side[:, k] - side[:, 0] for side in (one, two) for k in (1, 2))
    return np.asarray(np.angle((c * b.conj() - d * a.conj()) / (a * b.conj() - b * a.conj())), dtype=float)
