"""Lines that were cut differently in the two keys: where their cuts meet, and the stretches between all cuts."""

from dataclasses import dataclass, field, replace

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.similarity import as_points
from knead.core.model import Node, Point
from knead.core.outline.contour_plan import ContourPlan
from knead.core.pairing.chains import BEND
from knead.core.pairing.pairs import ShapePair, Stand

SLACK = 1e-6  # of a parameter: what is nearer is there
NEAR = 0.04  # cuts of two lines that differ by less of their length may be meant to meet
MEET = 0.2  # the same where both are cut into as many strokes


@dataclass(frozen=True)
class Piece:
    """A stretch of a line that was cut differently in the two keys: of which strokes, and from which node to which.

    Where there is a gap between two strokes of a key, the line goes through its middle: `shifts` are how far the node
    triples of the stretch truly are from that at both keys, shape (nodes, 3) each.
    """

    first: str
    second: str
    start: int
    end: int
    shifts: tuple[Complexes, Complexes] = field(compare=False)
    identity: str = ""

    @property
    def backwards(self) -> "Piece":
        """The same seen from the second key."""
        return replace(self, first=self.second, second=self.first, shifts=self.shifts[::-1])

    def turned(self, count: int) -> "Piece":
        """The same where the line, of so many nodes, is run from its end."""
        shifts = self.shifts[0][::-1, ::-1], self.shifts[1][::-1, ::-1]
        return replace(self, start=count - 1 - self.end, end=count - 1 - self.start, shifts=shifts)

    def of(self, nodes: tuple[Node, ...], place: float) -> tuple[Node, ...]:
        """Its nodes, of those of the line, `place` of the way from key to key."""
        own = nodes[self.start : self.end + 1]
        if not any(side.any() for side in self.shifts):
            return own
        rows = as_points((1.0 - place) * self.shifts[0] + place * self.shifts[1]).tolist()
        return tuple(_moved(node, *row) for node, row in zip(own, rows, strict=True))


def _moved(node: Node, before: list[float], at: list[float], after: list[float]) -> Node:
    own = {"before": (node.before, before), "at": (node.at, at), "after": (node.after, after)}
    return node.model_copy(update={name: Point(x + dx, y + dy) for name, ((x, y), (dx, dy)) in own.items()})


def _cut_indices(plan: ContourPlan, pair: ShapePair) -> tuple[list[int], list[int]]:
    """Node indices, in the common structure, of the cuts of both keys' lines, the lines' ends included."""
    assert plan.cuts is not None
    assert pair.first_stand is not None
    assert pair.second_stand is not None
    last = pair.second_stand.starts[-1]
    theirs = [float(last - s if plan.cuts.reversed else s) for s in pair.second_stand.starts]
    return (
        [int(np.argmin(np.abs(plan.cuts.first_params - s))) for s in pair.first_stand.starts],
        [int(np.argmin(np.abs(plan.cuts.second_params - s))) for s in theirs],
    )


def meeting_cuts(plan: ContourPlan, pair: ShapePair) -> list[Floats]:
    """Parameters of cuts in both keys' lines that may be meant to meet, shape (k, 2): the likeliest first.

    Where both keys have as many strokes, cuts may meet across a wider gap, unless they are at corners: these are
    matched by their form.
    """
    if pair.kind != "recut":
        return []
    assert plan.cuts is not None
    assert pair.first_stand is not None
    assert pair.second_stand is not None
    lengths = np.array([0.0, *np.cumsum(np.abs(np.diff(plan.first[:, 1])) + np.abs(np.diff(plan.second[:, 1])))])
    places = lengths / max(float(lengths[-1]), 1e-12)
    one, two = _cut_indices(plan, pair)
    found: tuple[list[tuple[float, float]], ...] = ([], [])
    for a, start in list(zip(one, pair.first_stand.starts, strict=True))[1:-1]:
        far = len(one) == len(two) and not _is_corner(pair.first_stand, start)
        b = min(range(len(two)), key=lambda k: abs(places[two[k]] - places[a]))
        gap, row = abs(places[two[b]] - places[a]), (float(start), float(pair.second_stand.starts[b]))
        for rows, reach in zip(found, (MEET if far else NEAR, NEAR), strict=True):
            if 0 < b < len(two) - 1 and gap < reach and all(row[1] != other[1] for other in rows):
                rows.append(row)
    return [np.array(rows) for k, rows in enumerate(found) if rows and rows not in found[:k]]


def _is_corner(stand: Stand, index: int) -> bool:
    """Whether a line turns sharply at an inner node, where one stroke ends and the next begins."""
    before, node, after = (
        np.array(stand.form.contours[0].nodes[k].at) @ [1, 1j] for k in (index - 1, index, index + 1)
    )
    own = stand.form.contours[0].nodes[index]
    into, out = node - np.array(own.before) @ [1, 1j], np.array(own.after) @ [1, 1j] - node
    into, out = (into or node - before), (out or after - node)
    return bool((into.conjugate() * out).real < BEND * abs(into) * abs(out))


def pieces_of(plan: ContourPlan, pair: ShapePair) -> tuple[Piece, ...]:
    """The stretches between all cuts of both lines."""
    if pair.kind != "recut":
        return ()
    assert plan.cuts is not None
    assert pair.first_stand is not None
    assert pair.second_stand is not None
    one, two = _cut_indices(plan, pair)
    params = plan.cuts.first_params, plan.cuts.second_params
    gaps = [
        [(float(row[k]), gap) for k, gap in zip(at, (*stand.gaps, *stand.gaps[:1]), strict=False) if gap]
        for row, at, stand in zip(params, (one, two), (pair.first_stand, pair.second_stand), strict=True)
    ]
    firsts, seconds = pair.first_stand.shapes, pair.second_stand.shapes
    if two[0] > two[-1]:
        two, seconds = two[::-1], seconds[::-1]
    stops = sorted({*one, *two})
    raw = []
    for start, end in zip(stops, stops[1:], strict=False):
        a = firsts[min(int(np.searchsorted(one, start, "right")) - 1, len(firsts) - 1)]
        b = seconds[min(int(np.searchsorted(two, start, "right")) - 1, len(seconds) - 1)]
        rows = [side[start : end + 1] for side in params]
        shifts = _shifts(rows[0], gaps[0], False), _shifts(rows[1], gaps[1], plan.cuts.reversed)
        raw.append(Piece(a, b, start, end, shifts))
    return tuple(raw)


def _shifts(params: Floats, gaps: list[tuple[float, complex]], backwards: bool) -> Complexes:
    """How far node triples at parameters (k,) lie from where they would if no strokes had gaps before them; (k, 3).

    `gaps` are at which parameter, and how wide: half of one is on either side of it. That a segment begins elsewhere by
    so much moves it by gap / 2 (1 - u)^3 at u; the handles follow from the blossom of that. A line may run `backwards`.
    """
    found = np.zeros((len(params), 3), dtype=complex)
    for place, gap in gaps:
        along = params - place
        begins = along.min() >= -SLACK
        if not begins and along.max() > SLACK:
            continue
        near = np.maximum(1.0 - np.abs(along), 0.0)
        mates = np.append(near[:1], near[:-1]), near, np.append(near[1:], near[-1:])
        found += (0.5 if begins != backwards else -0.5) * gap * np.stack([near**2 * mate for mate in mates], axis=1)
    return found
