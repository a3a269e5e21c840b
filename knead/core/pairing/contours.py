"""Which contour of a shape becomes which contour of its partner: outlines to outlines, holes to holes."""

import numpy as np
import shapely

from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track
from knead.core.pairing.likeness import form_gap, form_of
from knead.core.pairing.rounds import in_rounds

NEVER = 1e6
WITHIN = 0.9  # a contour lies in another if this much of it does: outlines that merely overlap are no holes


def is_hole(tracks: list[Track]) -> list[bool]:
    """Whether each is a hole: closed, and within an odd number of other closed ones."""
    rings = [_ring(track) for track in tracks]
    return [
        sum(_holds(other, ring) for j, other in enumerate(rings) if j != k) % 2 == 1 for k, ring in enumerate(rings)
    ]


def _holds(outer: shapely.Geometry, inner: shapely.Geometry) -> bool:
    return bool(outer.area > inner.area > 0.0 and outer.intersection(inner).area > WITHIN * inner.area)


def _ring(track: Track) -> shapely.Geometry:
    if not track.closed:
        return shapely.Polygon()
    return shapely.Polygon(as_points(track.sketch(np.linspace(0, 1, 65)[:-1]))).buffer(0)


def pair_contours(
    first: list[Track], second: list[Track], fixed: list[tuple[int, int]]
) -> list[tuple[int | None, int | None]]:
    """Index pairs in the first's order; a side is None where a contour opens or closes. `fixed` pairs come first."""
    if len(first) == len(second) == 1:
        return [(0, 0)]
    pairs = [(i, j) for i, j in dict.fromkeys(fixed) if first[i].closed == second[j].closed]
    pairs = [p for k, p in enumerate(pairs) if all(p[0] != q[0] and p[1] != q[1] for q in pairs[:k])]
    kinds = [[(t.closed, hole) for t, hole in zip(side, is_hole(side), strict=True)] for side in (first, second)]
    forms = [[form_of(track) for track in side] for side in (first, second)]
    left = [i for i in range(len(first)) if all(i != p for p, _ in pairs)]
    right = [j for j in range(len(second)) if all(j != q for _, q in pairs)]
    if left and right:
        one, two = [forms[0][i] for i in left], [forms[1][j] for j in right]
        unlike = np.array([[kinds[0][i] != kinds[1][j] for j in right] for i in left])
        known = [(forms[0][i], forms[1][j]) for i, j in pairs]
        chosen = in_rounds(one, two, form_gap(one, two) + NEVER * unlike, known, NEVER / 4)
        pairs += [(left[i], right[j]) for i, j in zip(chosen.rows.tolist(), chosen.columns.tolist(), strict=True)]
    found: list[tuple[int | None, int | None]] = sorted(pairs)
    found += [(i, None) for i in range(len(first)) if all(i != p for p, _ in pairs)]
    found += [(None, j) for j in range(len(second)) if all(j != q for _, q in pairs)]
    return found
