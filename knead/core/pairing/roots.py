"""What grows out of one body does so where it did, however it is bent: arms of an octopus, or hair of a head."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.pairing.chains import Chain
from knead.core.pairing.cheapest import cheapest
from knead.core.pairing.constellation import to_next
from knead.core.pairing.likeness import Form, extent
from knead.core.pairing.rounds import KEPT, Rows, price_of_place

AROUND = np.linspace(0.0, 1.0, 65)
WITHIN = 0.7  # what lies in a body by more is in it, and does not grow out of it
TELLING, FITS = 3, 0.35  # so many grow out where others did at least, so near by how far off the next does
STAYS, LEAVES = 0.3, 0.3  # how much it counts then how unlike what does is, and what it costs to grow elsewhere
NEAR = 0.02  # how far off a body, by its size, what grows out of it begins


def by_roots(
    lines: tuple[Sequence[Chain], Sequence[Chain]],
    forms: tuple[Sequence[Form], Sequence[Form]],
    unlike: Floats,
    found: Rows,
    alone: float,
    tied: NDArray[np.bool_],
) -> Rows:
    """The assignment found anew with what grows out of a body held to do so where it did, if all of several may.

    `lines` are those of both keys, `forms` their looks; see `rounds.contenders` for the others.
    """
    cost = found.cost.copy()
    outlines = [[_outline(line) for line in side] for side in lines]
    for i, j in found.mates:
        (rows, here), (columns, there) = (_roots(side, own) for side, own in zip(outlines, (i, j), strict=True))
        if min(len(rows), len(columns)) < TELLING:
            continue
        one, two = forms[0][i], forms[1][j]
        grows = np.exp(1j * found.turn) * two.size / max(one.size, 1e-12)
        expected = two.centre + (here - one.centre) * grows
        part = np.ix_(rows, columns)
        far = np.abs(expected[:, None] - there)
        kept = (far < FITS * to_next(there)) & (unlike[part] < alone)
        if kept.sum() == min(kept.shape) and max(kept.sum(axis=0).max(), kept.sum(axis=1).max()) == 1:
            places = price_of_place(far / max(extent(forms[1]), 1e-9))
            cost[part] = places + np.where(kept, STAYS * unlike[part], unlike[part] + LEAVES)
    if np.array_equal(cost, found.cost):
        return found
    held = Rows(*cheapest(cost - KEPT * tied, alone), cost, found.turn)
    return found if {*held.mates} == {*found.mates} else held  # as sure as it was, and no dearer


def _outline(line: Chain) -> shapely.Geometry:
    """A closed fill as an area, and all else as a line."""
    shape = line.whole()[0]
    track = track_of(max(shape.contours, key=lambda contour: track_of(contour).length))
    points = as_points(track.sketch(AROUND))
    area = shape.fill is not None and track.closed and len(shape.contours) == 1
    return shapely.make_valid(shapely.Polygon(points)) if area else shapely.LineString(points)


def _roots(outlines: Sequence[shapely.Geometry], own: int) -> tuple[Ints, Complexes]:
    """Which others grow out of a body, and where they leave it."""
    body = outlines[own]
    none = np.zeros(0, dtype=np.int64), np.zeros(0, dtype=complex)
    if body.geom_type not in ("Polygon", "MultiPolygon"):
        return none
    others = np.array(outlines, dtype=object)
    near = body.buffer(NEAR * np.sqrt(body.area))
    meets = np.flatnonzero(shapely.intersects(others, near))
    meets = meets[meets != own]
    if len(meets) < TELLING:
        return none
    common = shapely.intersection(others[meets], near)
    share = [
        (a.area / b.area if b.area > 0 else a.length / max(b.length, 1e-12))
        for a, b in zip(common, others[meets], strict=True)
    ]
    out = np.array(share) < WITHIN
    places = shapely.get_coordinates(shapely.centroid(common[out]))
    return meets[out], places[:, 0] + 1j * places[:, 1]
