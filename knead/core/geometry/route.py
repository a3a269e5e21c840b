"""A path of travel that an animator drew: one cubic Bézier, gone along at an even speed."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, bernstein

STEPS = 64


def _at(control: Complexes, params: Floats) -> Complexes:
    return np.asarray(control @ bernstein(params))


def _params(control: Complexes, shares: Floats) -> Floats:
    """Bézier parameters at shares of the length."""
    params = np.linspace(0, 1, STEPS + 1)
    lengths = np.append(0.0, np.cumsum(np.abs(np.diff(_at(control, params)))))
    return np.interp(shares * lengths[-1], lengths, params) if lengths[-1] > 0 else shares


def along(start: complex, handles: tuple[complex, complex], end: complex, times: Floats) -> Complexes:
    """Where one is at the times, 0 to 1, shape (len(times),); the handles are relative to start and end."""
    control = np.array([start, start + handles[0], end + handles[1], end])
    return _at(control, _params(control, times))


def parted(
    start: complex, handles: tuple[complex, complex], end: complex, place: float
) -> tuple[tuple[complex, complex], tuple[complex, complex]]:
    """The handles of the two parts, before and after a place (de Casteljau), each relative to its own ends."""
    control = np.array([start, start + handles[0], end + handles[1], end])
    t = float(_params(control, np.array([place]))[0])
    rows = [control]
    while len(rows[-1]) > 1:
        rows.append((1 - t) * rows[-1][:-1] + t * rows[-1][1:])
    middle = complex(rows[3][0])
    before = complex(rows[1][0]) - start, complex(rows[2][0]) - middle
    after = complex(rows[2][1]) - middle, complex(rows[1][2]) - end
    return before, after
