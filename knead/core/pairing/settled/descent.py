"""Lines that were cut, or joined, in a key that was made from the other: they bear its nodes."""

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from knead.core.geometry.islands import is_drawn
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Shape
from knead.core.outline.hints import shared_nodes
from knead.core.pairing.pairs import ShapePair
from knead.core.pairing.settled.stretches import Part, stretched

SURE = 0.99  # how sure such pairs are
REASON = "one line when its key was made from the other"
ALMOST = 1e-9


class _Heir(NamedTuple):
    """A line that bears nodes of another: from which share of that to which, and how far it goes on beyond these."""

    shape: Shape
    start: float
    end: float
    before: float
    after: float


def descended(first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """Pairs of lines with the two or more that bear their nodes in the other key, and those of no other line."""
    found: list[ShapePair] = []
    sides = [shape for shape in first if is_drawn(shape)], [shape for shape in second if is_drawn(shape)]
    homes = _homes(sides[0]), _homes(sides[1])
    for divides in (True, False):
        (wholes, others), (own, there) = (sides, homes) if divides else (sides[::-1], homes[::-1])
        lines = {shape.id: shape for shape in others}
        for whole in [shape for shape in wholes if len(shape.contours) == 1]:
            near = {name: lines[name] for node in whole.node_ids for name in there.get(node, ())}
            mixed = any(own.get(node, {whole.id}) != {whole.id} for shape in near.values() for node in shape.node_ids)
            parts = [] if mixed else _parts(whole, list(near.values()))
            if parts and not any(whole.id in (*pair.firsts, *pair.seconds) for pair in found):
                found += stretched(whole, parts, divides, SURE, REASON)
    return found


def _homes(shapes: Sequence[Shape]) -> dict[str, set[str]]:
    """The shapes in which nodes are, by their ids."""
    homes: dict[str, set[str]] = {}
    for shape in shapes:
        for node in shape.node_ids:
            homes.setdefault(node, set()).add(shape.id)
    return homes


def _parts(whole: Shape, others: Sequence[Shape]) -> list[Part]:
    """The stretches of a line that others go on with, as they follow each other; none if that is not two or more."""
    (contour,) = whole.contours
    track = track_of(contour)
    lines = [(shape, line) for shape in others for line in shape.contours if not line.closed]
    found = [heir for shape, line in lines if (heir := _heir(shape, line, contour, track))]
    heirs = sorted(found, key=lambda heir: heir.start)
    if len(heirs) < 2:
        return []
    around = [*heirs, heirs[0]._replace(start=heirs[0].start + 1.0)] if contour.closed else heirs
    gaps = [later.start - earlier.end for earlier, later in pairwise(around)]
    if min(gaps) < -ALMOST:
        return []
    # what lies between two of them is cut as far along as they go on beyond the nodes that they bear
    cuts = [
        earlier.end + gap * (earlier.after + ALMOST) / (earlier.after + later.before + 2 * ALMOST)
        for (earlier, later), gap in zip(pairwise(around), gaps, strict=True)
    ]
    starts = [cuts[-1] - 1.0 if contour.closed else 0.0, *cuts[: len(heirs) - 1]]
    ends = [*cuts[: len(heirs) - 1], cuts[-1] if contour.closed else 1.0]
    return [Part(heir.shape, start, end) for heir, start, end in zip(heirs, starts, ends, strict=True)]


def _heir(shape: Shape, line: Contour, whole: Contour, track: Track) -> _Heir | None:
    """What a line bears of another; None if it bears nothing, or not in the order of that."""
    shared = shared_nodes(line, whole)
    if not shared:
        return None
    own = track_of(line)
    shares = track.nodes[[there for _, there in shared]]
    shares = np.unwrap(shares, period=1.0) if whole.closed else shares
    beyond = [own.nodes[shared[0][0]] * own.length, (1.0 - own.nodes[shared[-1][0]]) * own.length]
    if shares[-1] < shares[0]:
        shares, beyond = shares[::-1], beyond[::-1]
    if np.any(np.diff(shares) <= 0.0):
        return None
    start = float(np.mod(shares[0], 1.0)) if whole.closed else float(shares[0])
    return _Heir(shape, start, start + float(shares[-1] - shares[0]), *map(float, beyond))
