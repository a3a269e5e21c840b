"""Where places come down on straight edges."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats


def feet(points: Complexes, edges: Complexes) -> tuple[Floats, Floats]:
    """How far along each edge (m, 2) the foot of each point (n,) lies, 0 to 1, and how far from it; (n, m)."""
    away, step = points[:, None] - edges[:, 0], edges[:, 1] - edges[:, 0]
    along = np.clip((away * step.conj()).real / np.maximum(np.abs(step) ** 2, 1e-18), 0.0, 1.0)
    return along, np.abs(away - along * step)
