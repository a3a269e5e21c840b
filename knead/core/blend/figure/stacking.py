"""Which shape lies on which in in-betweens: as in the first key, and from some moment on as in the second."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.pair.going import MOMENTS, Going
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.bezier import Complexes
from knead.core.geometry.hull import hull_of
from knead.core.model import Drawing, Fill, Stroke
from knead.core.pairing.pairs import ShapePair

Paints = tuple[Fill | Stroke | None, ...]

WITHIN = 0.03  # how deep within a fill a line is that is plainly within it, by the size of that
SEEN = np.concatenate([[0.0], MOMENTS, [1.0]])  # when it is asked what lies over what
HARDLY = 0.0002  # an overlap by less than this share of the smaller shapes is none


def stack(key: Drawing, other: Drawing, ids: list[tuple[str | None, str | None]]) -> list[int]:
    """Pairs in the order of a key; those of the other key only lie just over what was under them there.

    All on which they were is under them here, too: the far eye is on the face, though an ear between them went behind.
    """
    places = {shape.id: k for k, shape in enumerate(key.shapes)}
    others = {shape.id: k for k, shape in enumerate(other.shapes)}
    found = sorted((k for k, (own, _) in enumerate(ids) if own), key=lambda k: places[ids[k][0] or ""])
    guests = sorted((k for k, (own, _) in enumerate(ids) if not own), key=lambda k: others[ids[k][1] or ""])
    hulls = np.array([hull_of(shape.contours) for shape in other.shapes if guests], dtype=object)
    for guest in guests:
        level = others[ids[guest][1] or ""]
        below = {others[mate]: spot for spot, k in enumerate(found) if (mate := ids[k][1]) and others[mate] < level}
        levels = np.array(sorted(below), dtype=int)
        under = [*levels[-1:], *levels[shapely.intersects(hulls[levels], hulls[level])]] if below else []
        found.insert(max((below[k] for k in under), default=-1) + 1, guest)
    return found


def with_ink_behind(pairs: Sequence[PairPlan], orders: Sequence[list[int]]) -> list[list[int]]:
    """Orders for in-betweens: ink lies under what comes over the edge that it goes along.

    So it does if no such thing is under it in a key: of ink on top of all fills what is seen was drawn.
    """
    places = {pair.pair: k for k, pair in enumerate(pairs)}
    fills = {k: places[pair.edge] for k, pair in enumerate(pairs) if pair.edge in places}
    depths, hides = dict[int, NDArray[np.object_]](), dict[tuple[int, int], NDArray[np.bool_]]()
    found = [list(order) for order in orders]
    for order, moved in zip(orders, found, strict=True):
        ranks = np.argsort(order)
        for k in [k for k in order if k in fills]:
            between = [n for n in order[ranks[fills[k]] + 1 : ranks[k]] if pairs[n].paint.first.fill is not None]
            asked = [n for n in between if (n, k) not in hides]
            depths |= {n: _depths(pairs[n]) for n in asked if n not in depths}
            if asked:
                spots = np.concatenate(pairs[k].outlines(pairs[k].points(SEEN)), axis=1)
                hides |= {(n, k): _hold(depths[n], spots) for n in asked}
            there = [end for end, name in ((0, pairs[k].first_id), (-1, pairs[k].second_id)) if name is not None]
            over = [n for n in between if hides[n, k][1:-1].any()]
            if over and not any(hides[n, k][there].any() for n in between):
                moved.remove(k)
                moved.insert(moved.index(over[0]), k)
    return found


def _depths(fill: PairPlan) -> NDArray[np.object_]:
    """Where something would plainly lie within a fill, were it drawn over that, at the times SEEN."""
    areas = fill.covers(SEEN)
    return np.asarray(shapely.buffer(areas, -WITHIN * np.sqrt(shapely.area(areas)), quad_segs=2))


def _hold(areas: NDArray[np.object_], spots: Complexes) -> NDArray[np.bool_]:
    """Whether areas, one for each time, hold some of the places (times, n) then."""
    low, high = (np.stack([end(spots.real, axis=1), end(spots.imag, axis=1)], axis=1) for end in (np.min, np.max))
    bounds = shapely.bounds(areas)
    near = (bounds[:, :2] <= high).all(axis=1) & (bounds[:, 2:] >= low).all(axis=1)
    found = np.zeros(len(areas), dtype=bool)
    found[near] = shapely.contains_xy(areas[near, None], spots.real[near], spots.imag[near]).any(axis=1)
    return found


@dataclass(frozen=True)
class Levels:
    """Where the shapes of a key lie in it, from back to front, and those of pairs in both keys."""

    key: Mapping[str, int]
    here: Sequence[Sequence[int]]
    there: Sequence[Sequence[int]]

    @staticmethod
    def of(key: Iterable[str], other: Iterable[str], pairs: Sequence[ShapePair], from_first: bool) -> "Levels":
        """Those of a key, of which all shapes are given by their ids, and of the other, from back to front."""
        ranks = [{name: k for k, name in enumerate(each)} for each in (key, other)]
        here, there = (
            [[rank[name] for name in pair.ids(side) if name in rank] for pair in pairs]
            for rank, side in zip(ranks, (from_first, not from_first), strict=True)
        )
        return Levels(ranks[0], here, there)

    def over(self, lone: Sequence[str]) -> list[bool]:
        """Which pairs lie over lone shapes of the key all the way: in that, and where these are put in the other."""
        level, both = max(self.key[name] for name in lone), list(zip(self.here, self.there, strict=True))
        put = max((max(b) for a, b in both if a and b and min(a) < level), default=-1)
        return [bool(a and b) and min(a) > level and min(b) > put for a, b in both]

    def under(self, lone: Sequence[str]) -> list[bool]:
        """Which pairs lie under lone shapes in the key."""
        level = min(self.key[name] for name in lone)
        return [max(own, default=-1) < level for own in self.here]


def switch(pairs: Sequence[Going], before: list[int], after: list[int]) -> float:
    """When one order gives way to the other: as little as may be of what changes places overlaps then.

    Where one thing lies on another of its paint, their order is not seen.
    """
    ranks = np.array([np.argsort(before), np.argsort(after)])
    numbers: dict[Paints, int] = {}
    paints = np.array([numbers.setdefault(_paints(pair), len(numbers)) for pair in pairs])
    below = ranks[:, :, None] < ranks[:, None]
    changes = np.triu(below[0] != below[1]) & (paints[:, None] != paints)
    if not changes.any():
        return 0.5
    one, two = (np.array([pairs[k].cover for k in side]) for side in np.argwhere(changes).T.tolist())
    meet = shapely.intersects(one, two)
    shared = np.zeros(one.shape)
    shared[meet] = shapely.area(shapely.intersection(one[meet], two[meet]))
    smaller = np.minimum(shapely.area(one), shapely.area(two)).sum(axis=0).mean()
    shown = shared.sum(axis=0) / max(float(smaller), 1e-12)
    return float(MOMENTS[int(np.argmin(np.round(shown / HARDLY) + 1e-3 * np.abs(MOMENTS - 0.5)))])


def _paints(pair: Going) -> Paints:
    first, second = pair.paint.first, pair.paint.second
    return first.fill, first.stroke, second.fill, second.stroke
