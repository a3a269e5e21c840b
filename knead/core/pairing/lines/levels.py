"""Lines of which a part lies behind a fill and the rest before it: a kite's spar, and its tail, which goes on from it.

A line has one level in an in-between, so such parts are lines of their own where both keys have both.
"""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes
from knead.core.geometry.cover import area_of
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Shape
from knead.core.pairing.chains import chains
from knead.core.pairing.pairs import ShapePair, Stand, chained_pair

ON_IT = 0.05  # the share of a stroke that a fill covers which lies before it, or behind it
REASON = "parts of a line, both before a fill, or both behind it"
SEEN = np.linspace(0.0, 1.0, 65)


def by_levels(pairs: Sequence[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """The pairs, with lines parted that lie at two levels in both keys, of which these are the shapes from the back."""
    return [part for pair in pairs for part in _parted(pair, first, second) or [pair]]


def _parted(pair: ShapePair, first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    if pair.kind != "recut" or pair.first_stand is None or pair.second_stand is None:
        return []
    sides = _levels(pair.first_stand, first), _levels(pair.second_stand, second)
    if any(len(levels) != 2 for levels in sides):
        return []
    lines = [[chains(level) for level in levels] for levels in sides]
    if any(len(found) != 1 for side in lines for found in side):
        return []
    return [chained_pair(one[0], two[0], pair.confidence, REASON) for one, two in zip(*lines, strict=True)]


def _levels(stand: Stand, shapes: Sequence[Shape]) -> list[list[Shape]]:
    """The strokes of a line in a key, from the back, parted where a fill between two lies over or under one."""
    places = [k for k, shape in enumerate(shapes) if shape.id in stand.shapes]
    own = shapely.linestrings([as_points(_seen(shapes[k].contours[0])) for k in places])
    levels = [[shapes[places[0]]]]
    for below, place in pairwise(places):
        fills = [area_of([_seen(c) for c in shape.contours]) for shape in shapes[below + 1 : place] if shape.fill]
        covered = shapely.length(shapely.intersection(np.array(fills, dtype=object)[:, None], own))
        levels += [[]] if np.any(covered > ON_IT * shapely.length(own)) else []
        levels[-1].append(shapes[place])
    return levels


def _seen(contour: Contour) -> Complexes:
    return track_of(contour).sketch(SEEN)
