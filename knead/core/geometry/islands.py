"""Islands of a filled shape, and pieces of them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from knead.core.geometry.parting import parted
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Shape

PLACES = 128  # at which an outline is seen
HAIR = 0.5  # half the width, in scene units, of the finest line
LIES = 0.4  # an island that lies with more of its area than this in the place of another is a part of it


@dataclass(frozen=True)
class Island:
    """An outline with the holes in it, by their indices, and what it fills."""

    contours: tuple[int, ...]
    place: shapely.Geometry


def is_flat(shape: Shape) -> bool:
    """Whether it is filled alone, so that cuts in it would not show, and all its contours are closed."""
    return shape.fill is not None and shape.stroke is None and all(contour.closed for contour in shape.contours)


def is_drawn(shape: Shape) -> bool:
    """Whether it is made of lines alone."""
    return shape.fill is None and shape.stroke is not None


def lines_of(shape: Shape) -> list[Island]:
    """Each line of what is made of lines alone, and what it covers."""
    width = shape.stroke.width if shape.stroke else 0.0
    tracks = [track_of(contour) for contour in shape.contours]
    ways = [shapely.LineString(track.points(np.linspace(0.0, 1.0, PLACES))) for track in tracks]
    return [Island((k,), way.buffer(max(width / 2, HAIR))) for k, way in enumerate(ways)]


def islands_of(contours: Sequence[Contour]) -> list[Island]:
    """The islands of a shape; none where its outlines cross each other, or enclose nothing."""
    rings = [ring_of(track_of(contour), PLACES) for contour in contours]
    return [
        Island(group, rings[group[0]].difference(shapely.union_all([rings[j] for j in group[1:]])))
        for group in nested(rings)
    ]


def nested(rings: Sequence[shapely.Geometry]) -> list[tuple[int, ...]]:
    """Which rings are outlines, each with the holes in it; none where rings cross each other, or enclose nothing."""
    tree = shapely.STRtree(rings)
    meet = tree.query(rings, predicate="intersects").T.tolist()
    if any(ring.area == 0.0 for ring in rings) or any(rings[k].overlaps(rings[j]) for k, j in meet):
        return []
    around: list[list[int]] = [[] for _ in rings]
    for k, j in tree.query(rings, predicate="within").T.tolist():
        around[k] += [j] if j != k else []
    found = []
    for k in range(len(rings)):
        if len(around[k]) % 2 == 0:
            found.append((k, *(j for j, outer in enumerate(around) if k in outer and len(outer) == len(around[k]) + 1)))
    return found


def ring_of(track: Track, places: int) -> shapely.Geometry:
    """What a closed outline encloses, seen at so many even places."""
    return shapely.Polygon(as_points(track.sketch(np.arange(places) / places))).buffer(0)


def pieces_of(island: Shape, parts: Sequence[shapely.Geometry]) -> list[tuple[Contour, ...]] | None:
    """The contours of an island's pieces, one for each part, placed and as large as these; None if it can't be cut."""
    seeds, areas = np.array([complex(*part.centroid.coords[0]) for part in parts]), [part.area for part in parts]
    pieces = [piece.contours for piece in parted(island, seeds, np.array(areas) / sum(areas))]
    return None if pieces[0] == island.contours else pieces
