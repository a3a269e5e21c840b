"""Colours in OKLab, where straight ways between two colours look even (Ottosson 2020), and how alike they look."""

from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Floats

_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_FROM_LMS, _FROM_LAB = np.linalg.inv(_TO_LMS), np.linalg.inv(_TO_LAB)
_TOE, _DARK = (0.206, 0.03, 1.206 / 1.03), 0.3  # what makes lightness that is seen; from where on a colour is dark


@lru_cache(maxsize=4096)
def to_oklab(color: str) -> Floats:
    """OKLab of a colour like '#a1b2c3', shape (3,), not to be written to: lightness 0 to 1, then two opponent axes."""
    srgb = np.array([int(color[k : k + 2], 16) for k in (1, 3, 5)]) / 255.0
    linear = np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)
    found = np.asarray(_TO_LAB @ np.cbrt(_TO_LMS @ linear), dtype=float)
    found.flags.writeable = False
    return found


@lru_cache(maxsize=4096)
def as_seen(color: str) -> Floats:
    """The same in a space whose distances tell how alike colours look, shape (3,), not to be written to.

    OKLab tells nearly black colours apart as no eye does. Lightness gets the toe of Ottosson (2021), and below `_DARK`
    there is less and less of the other two.
    """
    lab = to_oklab(color)
    light, (start, bend, steep) = float(lab[0]), _TOE
    toe = steep * light - start
    seen = 0.5 * (toe + (toe**2 + 4.0 * bend * steep * light) ** 0.5)
    found = np.append(seen, lab[1:] * min(light / _DARK, 1.0))
    found.flags.writeable = False
    return found


def unlike(one: str, two: str) -> float:
    """How unlike two colours look: the distance of how they are seen."""
    return float(np.linalg.norm(as_seen(one) - as_seen(two)))


def to_hex(lab: Floats) -> list[str]:
    """Colours like '#a1b2c3' of OKLab rows, shape (k, 3); what no screen can show is clipped."""
    linear = ((lab @ _FROM_LAB.T) ** 3) @ _FROM_LMS.T
    linear = np.clip(linear, 0.0, 1.0)
    srgb = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)
    return ["#%02x%02x%02x" % tuple(row) for row in np.round(srgb * 255).astype(int).tolist()]
