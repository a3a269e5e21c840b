"""Lines that were cut differently in the two keys: where their cuts meet, and the stretches between all cuts."""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.outline.contour_plan import ContourPlan
from knead.core.pairing.chains import BEND
from knead.core.pairing.pairs import ShapePair, Stand

MEET = 0.2  # cuts of two lines that differ by less of their length meet, where both are cut into as many strokes


@dataclass(frozen=True)
class Piece:
    """A stretch of a line that was cut differently in the two keys: of which strokes, and from which node to which."""

    first: str
    second: str
    start: int
    end: int
    identity: str = ""


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


def meeting_cuts(plan: ContourPlan, pair: ShapePair, hinted: int) -> Floats:
    """Parameters of cuts in both keys' lines that lie so near each other that they are meant to meet, shape (k, 2).

    Where both keys have as many strokes, cuts meet across a wider gap, unless they are at corners: these are matched by
    their form. With hints, these alone say what meets.
    """
    if pair.kind != "recut" or hinted:
        return np.zeros((0, 2))
    assert plan.cuts is not None
    assert pair.first_stand is not None
    assert pair.second_stand is not None
    lengths = np.array([0.0, *np.cumsum(np.abs(np.diff(plan.first[:, 1])) + np.abs(np.diff(plan.second[:, 1])))])
    places = lengths / max(float(lengths[-1]), 1e-12)
    one, two = _cut_indices(plan, pair)
    found = []
    for a, start in list(zip(one, pair.first_stand.starts, strict=True))[1:-1]:
        far = len(one) == len(two) and not _is_corner(pair.first_stand, start)
        reach = MEET if far else MEET / 5
        b = min(range(len(two)), key=lambda k: abs(places[two[k]] - places[a]))
        if 0 < b < len(two) - 1 and abs(places[two[b]] - places[a]) < reach:
            found.append((float(start), float(pair.second_stand.starts[b])))
    apart = [k for k, row in enumerate(found) if all(row[1] != other[1] for other in found[:k])]
    return np.array([found[k] for k in apart]).reshape(-1, 2)


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
    assert pair.first_stand is not None
    assert pair.second_stand is not None
    one, two = _cut_indices(plan, pair)
    firsts, seconds = pair.first_stand.shapes, pair.second_stand.shapes
    if two[0] > two[-1]:
        two, seconds = two[::-1], seconds[::-1]
    stops = sorted({*one, *two})
    raw = []
    for start, end in zip(stops, stops[1:], strict=False):
        a = firsts[min(int(np.searchsorted(one, start, "right")) - 1, len(firsts) - 1)]
        b = seconds[min(int(np.searchsorted(two, start, "right")) - 1, len(seconds) - 1)]
        raw.append((a, b, start, end))
    return tuple(Piece(*row) for row in raw)
