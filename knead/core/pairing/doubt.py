"""Where prices leave in doubt how lines are better cut, the in-betweens that the lines would give decide."""

from collections.abc import Sequence

import numpy as np

from knead.core.geometry.track import track_of
from knead.core.outline.matching import match
from knead.core.pairing.chains import Chain, may_chain

MANY = 24  # so many lines take longer to lay along each other than the doubt is worth
LEFT_OVER = 0.25  # the strain of what has no partner
UNEVEN = 0.1  # the strain of what becomes another share of all lines than it was, by the difference
NO_TIES = np.zeros((0, 2))

Way = Sequence[tuple[Chain | None, Chain | None]]  # what becomes what; with None it is left over


def strains_less(one: Way, other: Way) -> bool | None:
    """Whether the first way to pair lines distorts them less than the other; None where that is too much to try.

    Each line counts by its share of the length of all.
    """
    both = set(map(_name, one)) & set(map(_name, other))
    ways = [[pair for pair in way if _name(pair) not in both and all(map(_is_line, pair))] for way in (one, other)]
    if max(map(len, ways)) > MANY:
        return None
    whole = tuple(max(sum(_length(pair[side]) for pair in ways[0]), 1e-12) for side in (0, 1))
    first, second = (sum(_strain(*pair, whole) for pair in way) for way in ways)
    return first < second


def _name(pair: tuple[Chain | None, Chain | None]) -> tuple[tuple[str, ...], ...]:
    return tuple(chain.ids if chain else () for chain in pair)


def _is_line(chain: Chain | None) -> bool:
    return chain is None or may_chain(chain.lead)


def _length(chain: Chain | None) -> float:
    return sum(track_of(shape.contours[0]).length for shape in chain.shapes) if chain else 0.0


def _strain(one: Chain | None, two: Chain | None, whole: tuple[float, ...]) -> float:
    a, b = _length(one) / whole[0], _length(two) / whole[1]
    if one is None or two is None:
        return LEFT_OVER * 0.5 * (a + b)
    tracks = [track_of(chain.whole()[0].contours[0]) for chain in (one, two)]
    return match(tracks[0], tracks[1], NO_TIES).strain.whole * 0.5 * (a + b) + UNEVEN * abs(a - b)
