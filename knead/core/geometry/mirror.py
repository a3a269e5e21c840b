"""Things that lie as their own mirror image."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, Ints

ALIKE = 0.1  # how far from its mirror image, in place, size and lie, a thing may be


def mates(places: Complexes, sizes: Floats, lies: Complexes | float = 0.0) -> Ints | None:
    """For each thing the one that is its mirror image, left to right, itself on the axis; None if one has none.

    Distances count by how far all reach. `lies` are how they lie, as twice an angle each, 0 for what is round.
    """
    spread = places - np.average(places, weights=sizes**2 + 1e-18)
    lies = np.broadcast_to(lies, places.shape)
    reach = max(float(np.max(np.abs(places - places.mean()) + sizes)), 1e-9)
    gaps = np.abs(-spread.conj()[:, None] - spread) / reach
    gaps += np.abs(np.log((sizes[:, None] + 1e-9) / (sizes + 1e-9)))
    gaps += 0.5 * np.abs(lies.conj()[:, None] - lies)
    nearest, each = np.argmin(gaps, axis=1), np.arange(len(places))
    found = np.all(gaps[each, nearest] < ALIKE) and np.all(nearest[nearest] == each)
    return nearest if found else None
