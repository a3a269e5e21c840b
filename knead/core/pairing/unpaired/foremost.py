"""What each key is mostly made of becomes each other, though nothing but its place says so: a rocket becomes a star."""

from collections.abc import Sequence

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.model import Shape
from knead.core.pairing.assign.likeness import Portrait, portrait
from knead.core.pairing.pairs import ShapePair

SHARE = 0.35  # of the squared sizes of all shapes of its drawing: what is less is not what it is mostly made of
NEAR = 0.75  # how far apart their places in their drawings may be, by the size of the larger
CONFIDENCE = 0.4


def foremost(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """The pairs, with the largest shapes of both drawings paired if both are left over and stand in like places."""
    free = [p for p in pairs if p.confidence < 1.0 and None in (p.first, p.second)]  # what is fixed by hand stays
    if all(p.first is None for p in free) or all(p.second is None for p in free):
        return pairs
    sides = [portrait(shape) for shape in first], [portrait(shape) for shape in second]
    (i, here), (j, there) = (_main(side) for side in sides)
    a, b = first[i].id, second[j].id
    gone = [p for p in free if p.first == a or p.second == b]
    if len(gone) < 2 or not abs(here - there) <= NEAR * max(sides[0][i].size, sides[1][j].size):
        return pairs
    found = ShapePair(a, b, CONFIDENCE, "each is most of its key, and they stand in one place")
    return [p for p in pairs if p not in gone] + [found]


def _main(side: Sequence[Portrait]) -> tuple[int, complex]:
    """The largest shape of a drawing, and where it stands from its middle: nowhere if it is not most of the drawing."""
    weights: Floats = np.array([look.size**2 for look in side]) + 1e-18
    k = int(np.argmax(weights))
    middle = np.average(np.array([look.centre for look in side]), weights=weights)
    return k, complex(side[k].centre - middle) if weights[k] > SHARE * weights.sum() else complex(np.nan)
