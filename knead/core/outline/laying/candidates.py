"""The maps between two outlines that are tried: laid elastically, corner by corner, as they lie, by least work."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track
from knead.core.outline.correspondence import Correspondence, judged, run, tried
from knead.core.outline.directions import backwards_ties, directions
from knead.core.outline.laying.corners import corner_ties
from knead.core.outline.laying.field import Field, Look
from knead.core.outline.laying.starts import AS_IT_LIES, LOOKS, as_it_lies, in_order, starts, steadiest
from knead.core.outline.laying.work import least_work
from knead.core.outline.strain import Strain, strain

NDArrayBool = NDArray[np.bool_]

TIE = 1.04  # maps are alike up to this much more strain: then how nodes lie must not choose
HARD = 0.1  # a map with more strain than this is sought in more ways, and from both outlines
LYING = np.pi / 4  # a map that turns by more, and strains, is compared with one that does not turn
UNEVEN = (2.0, 0.4)  # what it costs stretches between corners to be unlike in length: the usual, and where it must be
PLAINLY = 0.85  # what is found in other ways must be better by this much: else chance would choose
AT_A_TIE = 0.005  # corners nearer to a tie than this share of the outline are left to it
GOOD = 0.04  # a map with no more strain than this needs no rival
ENDS = np.array([[0.0, 0.0], [1.0, 1.0]])
LEFT = 0.4  # of the strain that a line has if laid evenly, any map leaves at least this share


def likelier_first(first: Track, second: Track, ties: Floats) -> list[tuple[bool, float]]:
    """The directions to try, each with what it strains at least; that in which a line lies evenly is first."""
    ways = directions(first, second, ties)
    if first.closed or len(ways) == 1:
        return [(backwards, 0.0) for backwards in ways]
    least = {backwards: LEFT * strain(first, run(second, backwards), ENDS).whole for backwards in ways}
    return sorted(least.items(), key=lambda each: round(each[1], 6))


def maps_to_try(first: Track, second: Track, ties: Floats, backwards: bool) -> list[Correspondence]:
    """Maps through the ties, of outlines of which the second is run backwards if so asked."""
    second = run(second, backwards)
    if backwards:
        ties = backwards_ties(ties, second.closed)
    fields = [Field(first, second, start) for start in starts(first, second, ties)]
    laid: list[tuple[Strain, Look, Floats]] = []
    for look in LOOKS:
        for field in fields:
            knots = field.lay(look, 1)
            laid.append((strain(first, second, knots), look, knots))
        if min(laid, key=lambda each: each[0].whole)[0].distortion < GOOD:
            break
    limit = TIE * min(each[0].whole for each in laid)
    least, look, knots = next(each for each in laid if each[0].whole <= limit)  # of like ones, the first
    if first.closed and len(ties) == 0:
        fields = [Field(first, second, steadiest(first, second, knots))]
    found = tried(first, second, [knots, *(field.lay(look, 2) for field in fields)], backwards)
    if least.distortion > GOOD:
        found += by_corners(first, second, ties, min(found, key=lambda c: c.strain.whole), backwards)
    if least.distortion > HARD and least.turn > LYING and first.closed and len(ties) == 0:
        found += as_they_lie(first, second, backwards)
    if least.distortion > HARD:
        found += _by_work(first, second, ties, min(found, key=lambda c: c.strain.whole), backwards)
    return found


def _by_work(first: Track, second: Track, ties: Floats, best: Correspondence, backwards: bool) -> list[Correspondence]:
    """The map of least work through the ties, where it is plainly better than the best one so far."""
    if first.closed and not len(ties):
        ties = steadiest(first, second, best.knots)
    knots = least_work(first, second, in_order(ties, first.closed))
    found = [] if knots is None else tried(first, second, [knots], backwards)
    return [each for each in found if each.strain.whole < PLAINLY * best.strain.whole]


def by_corners(
    first: Track, second: Track, ties: Floats, best: Correspondence, backwards: bool
) -> list[Correspondence]:
    """Maps that lay corners on corners, as far as the ties allow, and what lies between evenly or elastically."""
    maps: list[Floats] = []
    laid: list[Floats] = []
    for uneven in UNEVEN:
        met = corner_ties(first, second, best.knots, uneven)
        met = np.concatenate([ties, met[_between_alike(met, ties, first.closed)]])
        if len(met) > 1 and not any(np.array_equal(met, other) for other in laid):
            laid.append(met)
            met = in_order(met, first.closed)
            maps += [np.concatenate([met, met[:1] + 1.0]) if first.closed else met]
            maps += [Field(first, second, met).lay(LOOKS[0], 2)]
    return tried(first, second, maps, backwards)


def _between_alike(met: Floats, ties: Floats, closed: bool) -> NDArrayBool:
    """Which pairs of places lie between the same two ties on both outlines, and not at one."""
    if not len(ties):
        return np.ones(len(met), dtype=bool)
    sides, near = [], np.zeros(len(met), dtype=bool)
    for k in (0, 1):
        start = ties[0, k] if closed else 0.0
        places, stops = (np.mod(x - start, 1.0) if closed else x for x in (met[:, k], ties[:, k]))
        sides.append(np.searchsorted(np.sort(stops), places))
        near |= (np.abs(np.mod(places[:, None] - stops + 0.5, 1.0) - 0.5) < AT_A_TIE).any(axis=1)
    return np.asarray((sides[0] == sides[1]) & ~near)


@lru_cache(maxsize=8)  # what is asked to turn may have been looked at so before
def as_they_lie(first: Track, second: Track, backwards: bool) -> tuple[Correspondence, ...]:
    """Maps of closed outlines that keep what is above above, and what is left left."""
    field = Field(first, second, as_it_lies(first, second))
    return tuple(tried(first, second, [field.lay(look, 1) for look in (LOOKS[0], LOOKS[2], AS_IT_LIES)], backwards))


def as_asked(first: Track, second: Track, candidates: list[Correspondence], backwards: bool) -> Correspondence | None:
    """The least strained map of closed outlines that turns about as was asked, where others do not turn so."""
    second = run(second, backwards)
    lie = as_they_lie(first, second, backwards)
    kept = by_corners(first, second, np.zeros((0, 2)), min(lie, key=judged), backwards)
    return min((each for each in [*candidates, *lie, *kept] if each.strain.turn < LYING), key=judged, default=None)
