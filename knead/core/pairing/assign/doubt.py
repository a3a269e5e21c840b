"""Where prices leave in doubt what becomes what, how much that would be distorted decides."""

from collections.abc import Sequence

from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.outline.matching import match
from knead.core.pairing.chains import Chain

MANY = 24  # so many pairs take longer to lay along each other than the doubt is worth
LEFT_OVER = 0.25  # the strain of what has no partner, or becomes a ring
UNEVEN = 0.1  # the strain of what becomes another share of the whole than it was, by the difference

Way = Sequence[tuple[Chain | None, Chain | None]]  # what becomes what; with None it is left over


def strains(one: Way, other: Way) -> tuple[float, float] | None:
    """How much two ways to pair lines and shapes distort those that they pair otherwise.

    Each counts by its share of the length of all. None where that is too much to try.
    """
    both = set(map(_name, one)) & set(map(_name, other))
    ways = [[pair for pair in way if _name(pair) not in both] for way in (one, other)]
    if max(map(len, ways)) > MANY:
        return None
    whole = tuple(max(sum(_length(pair[side]) for pair in ways[0]), 1e-12) for side in (0, 1))
    first, second = (sum(_strain(*pair, whole) for pair in way) for way in ways)
    return first, second


def _name(pair: tuple[Chain | None, Chain | None]) -> tuple[tuple[str, ...], ...]:
    return tuple(chain.ids if chain else () for chain in pair)


def _length(chain: Chain | None) -> float:
    return sum(_outline(shape).length for shape in chain.shapes) if chain else 0.0


def _outline(shape: Shape) -> Track:
    """The longest contour."""
    return max((track_of(contour) for contour in shape.contours), key=lambda track: track.length)


def _strain(one: Chain | None, two: Chain | None, whole: tuple[float, ...]) -> float:
    a, b = _length(one) / whole[0], _length(two) / whole[1]
    if one is None or two is None:
        return LEFT_OVER * 0.5 * (a + b)
    first, second = (_outline(chain.form) for chain in (one, two))
    distorted = match(first, second).strain.whole if first.closed == second.closed else LEFT_OVER
    return distorted * 0.5 * (a + b) + UNEVEN * abs(a - b)
