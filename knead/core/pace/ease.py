"""The ease curve: from even time to the place between two keys."""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.model import Ease


def eased(ease: Ease, times: Floats) -> Floats:
    """Places between the keys, 0 to 1, at even times 0 to 1.

    A cubic Hermite curve whose speed at the first key is 1 - out and at the second 1 - into: 0 when wholly eased,
    2 when abrupt. It never runs backwards (Fritsch and Carlson 1980: both slopes lie within 0..3).
    """
    leave, arrive = 1.0 - ease.out, 1.0 - ease.into
    t = np.clip(times, 0.0, 1.0)
    return np.asarray(leave * t * (1 - t) ** 2 + t * t * (3 - 2 * t) - arrive * t * t * (1 - t), dtype=float)
