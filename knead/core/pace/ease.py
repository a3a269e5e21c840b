"""From even time to the place between two keys: by an ease curve, or by a timing chart."""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.model import Ease, Take


def paced(take: Take, times: Floats) -> Floats:
    """Places between the keys at even times 0 to 1, by the timing chart of a take, if it has one, or by its ease."""
    if not take.chart:
        return eased(take.ease, times)
    ticks = np.array([0.0, *take.chart, 1.0])
    return np.asarray(np.interp(times, np.linspace(0.0, 1.0, len(ticks)), ticks), dtype=float)


def eased(ease: Ease, times: Floats) -> Floats:
    """Places between the keys at even times 0 to 1: below 0 where it anticipates, and above 1 where it overshoots.

    A cubic Hermite curve whose speed at the first key is 1 - out and at the second 1 - into: 0 when wholly eased,
    2 when abrupt. It turns round only where anticipation or overshoot end, which take the time of twice their way;
    between these it never runs backwards (Fritsch and Carlson 1980: all slopes lie within 0..3).
    """
    whole = 1.0 + 2.0 * (ease.anticipation + ease.overshoot)
    knots = np.array([0.0, 2.0 * ease.anticipation / whole, 1.0 - 2.0 * ease.overshoot / whole, 1.0])
    values = np.array([0.0, -ease.anticipation, 1.0 + ease.overshoot, 1.0])
    kept = np.append(True, np.diff(knots) > 0.0)
    knots, values = knots[kept], values[kept]
    widths, rises = np.diff(knots), np.diff(values)
    slopes = np.zeros(len(knots))
    slopes[0] = (1.0 - ease.out) * rises[0] / widths[0]
    slopes[-1] = (1.0 - ease.into) * rises[-1] / widths[-1]
    t = np.clip(times, 0.0, 1.0)
    k = np.clip(np.searchsorted(knots, t, "right") - 1, 0, len(widths) - 1)
    s = (t - knots[k]) / widths[k]
    leave, arrive = slopes[k] * widths[k], slopes[k + 1] * widths[k]
    on = s * s * (3 - 2 * s)
    found = values[k] * (1 - on) + values[k + 1] * on + leave * s * (1 - s) ** 2 - arrive * s * s * (1 - s)
    return np.asarray(found, dtype=float)
