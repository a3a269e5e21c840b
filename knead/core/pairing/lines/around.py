"""Lines on a fill keep their order round it: legs are as like each other as a leg is to the next, and may cross."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from knead.core.geometry.bezier import Floats, Ints
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.assign.tips import AROUND, NEAR
from knead.core.pairing.chains import Chain, Link, may_chain
from knead.core.pairing.lines.junctions import Assigned
from knead.core.pairing.pairs import ShapePair, chained_pair

FEWEST = 3  # so many lines have an order round a fill
DEARER = 0.15  # how much dearer each may be, to keep it
DEEPEST = 0.6  # how far within its edge, by half its mean width, one stands: in the middle of a bar neither is nearer
SURE, REASON = 0.8, "they stand on it in the same order in both keys"


def in_order_around(
    pairs: Sequence[ShapePair],
    settled: Sequence[ShapePair],
    first: Sequence[Shape],
    second: Sequence[Shape],
    ties: Sequence[tuple[str, str]],
    assigned: Assigned,
) -> list[ShapePair]:
    """The pairs, with lines that stand on a fill in one order round it in both keys, where that costs little more.

    The fill may be of a pair that is `settled`. `assigned` prices lines, with pairs that stand already, its first
    argument. Lines of which a hint `ties` one stay as they are.
    """
    found = list(pairs)
    one, two = ({shape.id: shape for shape in side} for side in (first, second))
    tied = {name for tie in ties for name in tie}
    ends = _ends(first), _ends(second)
    for a, b in [(p.first, p.second) for p in (*settled, *pairs) if p.kind == "pair" and p.first and p.second]:
        own, others = _on(one[a], ends[0]), _on(two[b], ends[1])
        free = [(p, p.first, p.second) for p in found if p.kind == "pair" and p.first and p.second]
        group = [each for each in free if each[1] in own and each[2] in others and not tied & {*each[1:]}]
        group = sorted(group, key=lambda each: own.index(each[1]))
        turns = _turns(np.array([others.index(name) for _, _, name in group]))
        if len(group) < FEWEST or any((turn == turns[0]).all() for turn in turns[1:]):
            continue
        mates = [p for p, _, _ in group]
        rest = [p for p in found if p not in mates]
        lines = [_alone(one[name]) for _, name, _ in group], [_alone(two[name]) for _, _, name in group]
        cost = assigned(rest, *lines).cost
        prices = [float(cost[turns[0], turn].sum()) for turn in turns]
        best = turns[1 + int(np.argmin(prices[1:]))].tolist()
        if min(prices[1:]) <= prices[0] + DEARER * len(group):
            goes = ((p, k, n) for (k, n), p in zip(enumerate(best), mates, strict=True))
            found = rest + [p if k == n else chained_pair(lines[0][k], lines[1][n], SURE, REASON) for p, k, n in goes]
    return found


def _turns(places: Ints) -> list[Ints]:
    """Which of the others each becomes: as it is, and then so that all keep their order round the fill, as it may turn.

    The partner of each is in these `places` round it.
    """
    ranks = np.argsort(places)
    return [np.arange(len(places)), *(np.roll(ranks, k) for k in range(len(places)))]


def _alone(stroke: Shape) -> Chain:
    return Chain((Link(stroke, False),))


def _ends(shapes: Sequence[Shape]) -> dict[str, Floats]:
    """Where the lines among some shapes begin and end, (2, 2), by their ids."""
    lines = {shape.id: track_of(shape.contours[0]) for shape in shapes if may_chain(shape)}
    return {name: as_points(track.sketch(np.array([0.0, 1.0]))) for name, track in lines.items()}


def _on(fill: Shape, lines: Mapping[str, Floats]) -> list[str]:
    """The lines of which one end lies on a fill, by its edge, and meets no other there, in their order round it."""
    track = track_of(fill.contours[0])
    if fill.fill is None or not track.closed or not lines:
        return []
    names, ends = [*lines], np.array([*lines.values()])
    ring = shapely.Polygon(as_points(track.sketch(AROUND)))
    on = shapely.dwithin(ring, shapely.points(ends), NEAR * track.length)
    way = 1.0 if ring.exterior.is_ccw else -1.0
    stand = np.flatnonzero(on.sum(axis=1) == 1)
    feet = ends[stand][on[stand]]
    apart = np.linalg.norm(feet[:, None] - feet, axis=2) + np.where(np.eye(len(feet)), np.inf, 0.0)
    alone = apart.min(axis=1, initial=np.inf) > NEAR * track.length  # what meets another there is told by that
    deepest = DEEPEST * ring.area / ring.length
    nearest = [(names[k], *track.nearest(foot)) for k, foot in zip(stand[alone], feet[alone], strict=True)]
    return [name for _, name in sorted((way * param, name) for name, param, off in nearest if off <= deepest)]
