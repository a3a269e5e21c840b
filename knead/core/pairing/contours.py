"""Which contour of a shape becomes which contour of its partner: outlines to outlines, holes to holes."""

import numpy as np
import shapely

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track
from knead.core.pairing.cheapest import cheapest

NEVER = 1e6


def depths(tracks: list[Track]) -> list[int]:
    """How many other closed contours each lies in: odd ones are holes."""
    rings = [_ring(track) if track.closed else None for track in tracks]
    found = []
    for k, track in enumerate(tracks):
        point = shapely.Point(track.points(np.zeros(1))[0])
        inside = [
            ring is not None
            and j != k
            and ring.area > (own.area if (own := rings[k]) else 0.0)
            and ring.contains(point)
            for j, ring in enumerate(rings)
        ]
        found.append(sum(inside))
    return found


def _ring(track: Track) -> shapely.Polygon:
    return shapely.Polygon(as_points(track.sketch(np.linspace(0, 1, 65)[:-1]))).buffer(0)


def pair_contours(
    first: list[Track], second: list[Track], fixed: list[tuple[int, int]]
) -> list[tuple[int | None, int | None]]:
    """Index pairs in the first's order; a side is None where a contour opens or closes. `fixed` pairs come first."""
    if len(first) == len(second) == 1:
        return [(0, 0)]
    pairs = [(i, j) for i, j in dict.fromkeys(fixed) if first[i].closed == second[j].closed]
    pairs = [p for k, p in enumerate(pairs) if all(p[0] != q[0] and p[1] != q[1] for q in pairs[:k])]
    depth_one, depth_two = depths(first), depths(second)
    place_one, place_two = _places(first), _places(second)
    kinds_one = [(t.closed, d % 2) for t, d in zip(first, depth_one, strict=True)]
    kinds_two = [(t.closed, d % 2) for t, d in zip(second, depth_two, strict=True)]
    left = [i for i in range(len(first)) if all(i != p for p, _ in pairs)]
    right = [j for j in range(len(second)) if all(j != q for _, q in pairs)]
    if left and right:
        cost = np.abs(place_one[left][:, None] - place_two[right][None]).sum(axis=2)
        unlike = np.array([[kinds_one[i] != kinds_two[j] for j in right] for i in left])
        rows, columns = cheapest(np.where(unlike, NEVER, cost), NEVER / 4)
        pairs += [(left[i], right[j]) for i, j in zip(rows.tolist(), columns.tolist(), strict=True)]
    found: list[tuple[int | None, int | None]] = sorted(pairs)
    found += [(i, None) for i in range(len(first)) if all(i != p for p, _ in pairs)]
    found += [(None, j) for j in range(len(second)) if all(j != q for _, q in pairs)]
    return found


def _places(tracks: list[Track]) -> Floats:
    """Centre in the frame of the whole shape, and log size, shape (k, 3)."""
    samples = [track.sketch(np.linspace(0, 1, 33)) for track in tracks]
    everything = np.concatenate(samples)
    size = max(float(np.abs(everything - everything.mean()).max()), 1e-12)
    rows = []
    for z in samples:
        centre = (z.mean() - everything.mean()) / size
        rows.append([centre.real, centre.imag, 0.3 * np.log(np.abs(z - z.mean()).mean() / size + 1e-3)])
    return np.array(rows)
