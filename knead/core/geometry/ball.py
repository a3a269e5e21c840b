"""A ball of size 1 that turns: where its places are seen. Lengths are by half its width and height."""

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, Floats

# degrees: it leans first, turns aside, and then nods
LEANS, ASIDE, NODS = ([0, -25, 25], range(-100, 101, 20), [0, -30, 30])


def _turns() -> tuple[Floats, Floats, Floats]:
    found = np.radians([(lean, aside, nod) for lean in LEANS for aside in ASIDE for nod in NODS])
    found = found[np.argsort(np.abs(found).sum(axis=1), kind="stable")]
    none, one = np.zeros(len(found)), np.ones(len(found))
    (lean, aside, nod), (c, a, b) = np.sin(found.T), np.cos(found.T)
    leans = [[c, -lean, none], [lean, c, none], [none, none, one]]
    asides = [[a, none, aside], [none, one, none], [-aside, none, a]]
    nods = [[one, none, none], [none, b, -nod], [none, nod, b]]
    first, second, third = (np.moveaxis(np.array(each), 2, 0) for each in (leans, asides, nods))
    return third @ second @ first, np.abs(found).sum(axis=1) / np.pi, found[:, 0]


# turns of a ball that are tried, the first of which is none: matrices (n, 3, 3); how far they go, by half rounds; and
# by how many radians it leans
TURNED, ROUNDS, LEANT = _turns()


def box_of(place: shapely.Geometry) -> tuple[complex, complex]:
    """The middle of its box, and half its width and height, neither of which is 0."""
    left, top, right, bottom = place.bounds
    return complex(left + right, top + bottom) / 2, complex(max(right - left, 1e-9), max(bottom - top, 1e-9)) / 2


def by_box(places: Complexes, box: tuple[complex, complex]) -> Complexes:
    """Places by the middle of a box, and by half its width and height."""
    off = places - box[0]
    return np.asarray(off.real / box[1].real + 1j * off.imag / box[1].imag)


def on_ball(places: Complexes) -> Floats:
    """Places as points in space, shape (3, n); those beyond its rim are level with it."""
    return np.stack([places.real, places.imag, np.sqrt(np.maximum(1.0 - np.abs(places) ** 2, 0.0))])


def seen(spots: Floats) -> Complexes:
    """Where points in space, shape (…, 3, n), are seen."""
    return np.asarray(spots[..., 0, :] + 1j * spots[..., 1, :])
