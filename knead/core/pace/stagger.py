"""In which order pieces start."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, Ints

Order = Literal["from the left", "from the right", "from the top", "from below", "from the back", "from the front"]
ALIKE = 1e-3  # scene units: what is nearer in its place starts at once


def starts(order: Order, middles: Complexes, ranks: Ints, groups: Sequence[str]) -> Floats:
    """When each piece starts, 0 for the first and 1 for the last, shape (pieces,).

    The pieces have their middles and their ranks from back to front. Those of one group start together, where the
    middle of the group has them start.
    """
    places = {"left": middles.real, "right": -middles.real, "top": middles.imag, "below": -middles.imag, "back": ranks}
    own = places.get(order.split()[-1], -ranks)
    _, group = np.unique(np.array(groups, dtype=str), return_inverse=True)
    mean = np.bincount(group, own) / np.bincount(group)
    _, turn = np.unique(np.round(mean / ALIKE), return_inverse=True)
    return np.asarray(turn[group] / max(int(turn.max(initial=0)), 1))
