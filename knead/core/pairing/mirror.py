"""Drawings that are their own mirror images."""

from collections.abc import Sequence

import numpy as np

from knead.core.geometry.bezier import Ints
from knead.core.pairing.likeness import Form, centres, extent

ALIKE = 0.1  # how far from its mirror image, in place, size and lie, a form may be


def mirror_mates(forms: Sequence[Form], upright: bool) -> Ints | None:
    """For each form the one that is its mirror image, itself where it lies on the axis; None if one has none."""
    own, sizes = centres(forms), np.array([form.size for form in forms])
    lies = np.array([form.axis for form in forms])
    spread = own - np.average(own, weights=sizes**2 + 1e-18)
    mirrored = -spread.conj() if upright else spread.conj()
    gaps = np.abs(mirrored[:, None] - spread[None]) / max(extent(forms), 1e-9)
    gaps += np.abs(np.log((sizes[:, None] + 1e-9) / (sizes[None] + 1e-9)))
    gaps += 0.5 * np.abs(lies.conj()[:, None] - lies[None])
    nearest = np.argmin(gaps, axis=1)
    each = np.arange(len(forms))
    found = np.all(gaps[each, nearest] < ALIKE) and np.all(nearest[nearest] == each)
    return nearest if found else None
