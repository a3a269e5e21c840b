"""A line and its parts in the other key, each of which belongs to a stretch of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from knead.core.geometry.cutting import at_nodes, piece_of
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.pairs import Kind, ShapePair, Stand


@dataclass(frozen=True)
class Part:
    """A line that belongs to another, from one share of the length of that to another, past 1 on a closed one."""

    shape: Shape
    start: float
    end: float


def stretched(whole: Shape, parts: Sequence[Part], divides: bool, confidence: float, reason: str) -> list[ShapePair]:
    """The pairs of a line with its parts in the other key, as they follow each other; or backwards, if it is of that.

    What is between two parts is shared out among both. Several parts may be of one shape.
    """
    pieces = _pieces(whole, parts)
    found = []
    for part, piece in pieces.items():
        stand = Stand(piece, (whole.id,))
        kind: Kind = ("divides" if divides else "joins") if len(pieces) > 1 else "pair"
        ids = (whole.id, part) if divides else (part, whole.id)
        one, two = (stand, None) if divides else (None, stand)
        found.append(ShapePair(*ids, confidence, reason, kind, one, two))
    return found


def _pieces(whole: Shape, parts: Sequence[Part]) -> dict[str, Shape]:
    """A line cut into a stretch for each of its parts, in the middle of what is between them, by the parts' paths."""
    (contour,) = whole.contours
    ends, starts = np.array([part.end for part in parts]), np.array([part.start for part in parts])
    middles = 0.5 * (ends[:-1] + starts[1:])
    if contour.closed:
        last = 0.5 * (ends[-1] + starts[0] + 1.0)
        shares = np.concatenate([[last - 1.0], middles, [last]])
        shares += 1.0 if shares[0] < 0.0 else 0.0
    else:
        shares = np.concatenate([[0.0], middles, [1.0]])
    params = track_of(contour).params_at(shares)
    found: dict[str, Shape] = {}
    for part, (start, end) in zip(parts, pairwise(at_nodes(params).tolist()), strict=True):
        piece = piece_of(whole, start, end)
        before = found.get(part.shape.id)
        found[part.shape.id] = (
            before.model_copy(update={"contours": before.contours + piece.contours}) if before else piece
        )
    return found
