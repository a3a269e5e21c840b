"""Which shape lies on which in in-betweens: as in the first key, and from some moment on as in the second."""

from collections.abc import Sequence

import numpy as np

from knead.core.blend.pair.going import MOMENTS, Going
from knead.core.model import Drawing
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

    Shapes overlap as two normal distributions with their means and covariances do.
    """
    ranks = np.array([np.argsort(before), np.argsort(after)])
    one, two = np.nonzero(np.triu(np.prod(ranks[:, :, None] - ranks[:, None], axis=0) < 0))
    if not len(one):
        return 0.5
    x, y, xx, yy, xy = np.array([pair.spread for pair in pairs]).swapaxes(0, 1)
    areas = np.sqrt(np.maximum(xx * yy - xy**2, 0.0))
    dx, dy, sxx, syy, sxy = x[one] - x[two], y[one] - y[two], *(row[one] + row[two] for row in (xx, yy, xy))
    spread = np.maximum(sxx * syy - sxy**2, 1e-12)
    # of two straight lines on one, rounding makes it anything about nothing
    apart = np.maximum(syy * dx**2 - 2 * sxy * dx * dy + sxx * dy**2, 0.0) / spread
    shared = (areas[one] * areas[two] / np.sqrt(spread) * np.exp(-apart)).sum(axis=0)
    shown = shared / max(float(np.minimum(areas[one], areas[two]).sum(axis=0).mean()), 1e-12)
    return float(MOMENTS[int(np.argmin(np.round(shown / HARDLY) + 1e-3 * np.abs(MOMENTS - 0.5)))])
