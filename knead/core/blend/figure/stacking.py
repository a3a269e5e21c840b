"""Which shape lies on which in in-betweens: as in the first key, and from some moment on as in the second."""

from collections.abc import Sequence

import numpy as np
import shapely

from knead.core.blend.pair.going import MOMENTS, Going
from knead.core.model import Drawing, Fill, Stroke
from knead.core.pairing.pairs import ShapePair

HARDLY = 0.0002  # an overlap by less than this share of the smaller shapes is none


def stack(key: Drawing, other: Drawing, ids: list[tuple[str | None, str | None]]) -> list[int]:
    """Pairs in the order of a key; those of the other key only lie just over what was under them there."""
    places = {shape.id: k for k, shape in enumerate(key.shapes)}
    others = {shape.id: k for k, shape in enumerate(other.shapes)}
    found = sorted((k for k, (own, _) in enumerate(ids) if own), key=lambda k: places[ids[k][0] or ""])
    guests = sorted((k for k, (own, _) in enumerate(ids) if not own), key=lambda k: others[ids[k][1] or ""])
    for guest in guests:
        level = others[ids[guest][1] or ""]
        below = [(others[mate], spot) for spot, k in enumerate(found) if (mate := ids[k][1]) and others[mate] < level]
        found.insert(max(below)[1] + 1 if below else 0, guest)
    return found


def lie_over(
    lone: Sequence[str], pairs: Sequence[ShapePair], stacks: tuple[Sequence[str], Sequence[str]], from_first: bool
) -> list[bool]:
    """Which pairs lie over lone shapes of a key all the way: in that key, and where these are put in the other.

    `stacks` are the ids of that key's shapes and of the other's, from back to front.
    """
    here, there = ({name: k for k, name in enumerate(each)} for each in stacks)
    own = [[here[name] for name in pair.ids(from_first) if name in here] for pair in pairs]
    others = [[there[name] for name in pair.ids(not from_first) if name in there] for pair in pairs]
    level = max(here[name] for name in lone)
    put = max((max(b) for a, b in zip(own, others, strict=True) if a and b and min(a) < level), default=-1)
    return [bool(a and b) and min(a) > level and min(b) > put for a, b in zip(own, others, strict=True)]


def switch(pairs: Sequence[Going], before: list[int], after: list[int]) -> float:
    """When one order gives way to the other: as little as may be of what changes places overlaps then.

    Where one thing lies on another of its paint, their order is not seen.
    """
    ranks = np.array([np.argsort(before), np.argsort(after)])
    changes = np.argwhere(np.triu(np.prod(ranks[:, :, None] - ranks[:, None], axis=0) < 0)).tolist()
    seen = [(pairs[i], pairs[j]) for i, j in changes if _paints(pairs[i]) != _paints(pairs[j])]
    if not seen:
        return 0.5
    one, two = (np.array([pair.cover for pair in side]) for side in zip(*seen, strict=True))
    meet = shapely.intersects(one, two)
    shared = np.zeros(one.shape)
    shared[meet] = shapely.area(shapely.intersection(one[meet], two[meet]))
    smaller = np.minimum(shapely.area(one), shapely.area(two)).sum(axis=0).mean()
    shown = shared.sum(axis=0) / max(float(smaller), 1e-12)
    return float(MOMENTS[int(np.argmin(np.round(shown / HARDLY) + 1e-3 * np.abs(MOMENTS - 0.5)))])


def _paints(pair: Going) -> list[tuple[Fill | None, Stroke | None]]:
    return [(key.fill, key.stroke) for key in (pair.paint.first, pair.paint.second)]
