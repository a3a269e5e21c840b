"""Which contour of a shape becomes which contour of its partner: outlines to outlines, holes to holes."""

from functools import lru_cache

import numpy as np
import shapely

from knead.core.geometry.bezier import backwards
from knead.core.geometry.islands import ring_of
from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.outline.directions import winding
from knead.core.pairing.assign.likeness import form_gap, form_of
from knead.core.pairing.assign.rounds import Rows, contenders, staying
from knead.core.pairing.assign.symmetry import FAIR, symmetric
from knead.core.pairing.settled.columns import in_columns

NEVER = 1e6
PLACES = 64  # at which an outline is seen
WITHIN, OUT = 0.9, 0.5  # a contour lies in another if so much of it does, not if less does; between, that is unsure

Matching = list[tuple[int | None, int | None]]


def are_holes(tracks: list[Track]) -> list[bool | None]:
    """Whether each is a hole: closed, and within an odd number of other closed ones. None where that is unsure."""
    return [
        None if any(OUT < share <= WITHIN for share in shares) else sum(share > WITHIN for share in shares) % 2 == 1
        for shares in _shares(tracks)
    ]


@lru_cache(maxsize=256)
def wound(shape: Shape) -> Shape:
    """A fill whose outlines all go round as its first one does, and its holes the other way; it looks the same.

    Each of its islands may have been drawn in a direction of its own. Where directions alone say what is a hole, it
    stays as it is.
    """
    if shape.fill is None or shape.fill.rule == "evenodd" or len(shape.contours) < 2 or not _has_no_direction(shape):
        return shape
    tracks = [track_of(contour) for contour in shape.contours]
    own, shares = np.array([winding(track) for track in tracks]), np.array(_shares(tracks))
    holes = np.sum(shares > WITHIN, axis=1) % 2 == 1
    astray = own * np.where(holes, -1, 1) != own[0] * (-1 if holes[0] else 1)
    outside = (shares > WITHIN) @ own
    plainly = np.all(own) and not np.any((shares > OUT) & (shares <= WITHIN))
    if not astray.any() or not plainly or np.any((outside != 0) != holes) or np.any((outside + own != 0) == holes):
        return shape
    contours = (backwards(c) if turn else c for c, turn in zip(shape.contours, astray.tolist(), strict=True))
    return shape.model_copy(update={"contours": tuple(contours)})


def _has_no_direction(shape: Shape) -> bool:
    """Whether it does not show which way round it is drawn."""
    plain = shape.stroke is None or (not shape.stroke.dashes and shape.stroke.reveal == (0.0, 1.0))
    return plain and all(contour.closed for contour in shape.contours)


def _shares(tracks: list[Track]) -> list[list[float]]:
    """How much of each lies in each other one that is closed, and larger."""
    rings = [ring_of(track, PLACES) if track.closed else shapely.Polygon() for track in tracks]
    return [[_share(other, ring) if j != k else 0.0 for j, other in enumerate(rings)] for k, ring in enumerate(rings)]


def _share(outer: shapely.Geometry, inner: shapely.Geometry) -> float:
    """How much of one ring lies in another, larger one."""
    return float(outer.intersection(inner).area / inner.area) if outer.area > inner.area > 0.0 else 0.0


def _alike(one: Track, two: Track, *holes: bool | None) -> bool:
    """Whether two contours may become each other."""
    return one.closed == two.closed and (None in holes or holes[0] == holes[1])


def pair_contours(first: list[Track], second: list[Track], fixed: list[tuple[int, int]]) -> list[Matching]:
    """The best index pairs in the first's order, then others that are hardly dearer; `fixed` pairs stand.

    A side is None where a contour opens or closes.
    """
    if len(first) == len(second) == 1:
        return [[(0, 0)]]
    mates = None if fixed else in_columns(first, second)
    if mates is not None:
        return [_with_lone(list(enumerate(mates.tolist())), len(first), len(second))]
    pairs = [(i, j) for i, j in dict.fromkeys(fixed) if first[i].closed == second[j].closed]
    pairs = [p for k, p in enumerate(pairs) if all(p[0] != q[0] and p[1] != q[1] for q in pairs[:k])]
    left = [i for i in range(len(first)) if all(i != p for p, _ in pairs)]
    right = [j for j in range(len(second)) if all(j != q for _, q in pairs)]
    if not left or not right:
        return [_with_lone(pairs, len(first), len(second))]
    found = []
    for rows in _assigned(first, second, left, right, pairs):
        matched = [*pairs, *((left[i], right[j]) for i, j in rows.mates)]
        found.append(_with_lone(matched, len(first), len(second)))
    return found


def matched_in(matching: Matching) -> list[tuple[int, int]]:
    """Those of the pairs that have both sides."""
    return [(i, j) for i, j in matching if i is not None and j is not None]


def _assigned(
    first: list[Track], second: list[Track], left: list[int], right: list[int], pairs: list[tuple[int, int]]
) -> list[Rows]:
    """Which of the contours that are left become which, the best first; `pairs` stand already."""
    holes = [are_holes(side) for side in (first, second)]
    forms = [[form_of(track) for track in side] for side in (first, second)]
    one, two = [forms[0][i] for i in left], [forms[1][j] for j in right]
    unlike = np.array([[not _alike(first[i], second[j], holes[0][i], holes[1][j]) for j in right] for i in left])
    known = [(forms[0][i], forms[1][j]) for i, j in pairs]
    gaps = form_gap(one, two) + NEVER * unlike
    chosen, *others = contenders(one, two, gaps, known, NEVER / 4)
    if len(left) != len(right):  # where some have no partner, how they lie among each other tells little
        stay = staying(one, two, gaps, NEVER / 4)
        chosen, others = (stay if stay.price(NEVER / 4) < chosen.price(NEVER / 4) else chosen), []
    mirrored = symmetric(one, two, chosen, NEVER / 4)
    if mirrored and len(mirrored.rows) == len(chosen.rows) and mirrored.price(0.0) < FAIR * chosen.price(0.0):
        return [mirrored]
    return [chosen, *others]


def _with_lone(pairs: list[tuple[int, int]], firsts: int, seconds: int) -> Matching:
    """The pairs in order, and the contours that have no partner."""
    found: Matching = sorted(pairs)
    found += [(i, None) for i in range(firsts) if all(i != p for p, _ in pairs)]
    found += [(None, j) for j in range(seconds) if all(j != q for _, q in pairs)]
    return found
