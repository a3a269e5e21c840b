"""What is tall in one key and wide in the other: it may have turned by a quarter, or be a ball that is squashed."""

from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import Track
from knead.core.outline.directions import winding
from knead.core.outline.kinds.mirror import WHOLLY, mirror_ties
from knead.core.outline.kinds.stretch import root_of, stretch_between

PLACES = 128
FLAT = 1e-4  # what holds less area, by the square of its length, holds none
ACROSS = 5 * np.pi / 12  # long axes that are farther apart lie across each other
ROUND = 1.08  # what is longer than wide by no more has no long axis
OVAL, EGG = 0.06, 0.04  # how far the outline of an oval, made round, is from a circle's; and from its other side
ALIKE = 0.05  # panels are one form if their proportions differ, as a logarithm, by less
SLIGHT = 0.8  # radians; by how much the outline of an oval may break where a hand has closed it
LONG, LONG_PANEL = 8.0, 5.0  # ovals, and panels, are not stretched by more, one way against the other


def squashed(first: Track, second: Track) -> tuple[Floats, bool] | None:
    """The map between ovals that lie across each other, and whether the second one is run backwards; None for others.

    The map is knots (k, 2) of shares: the first oval is stretched to be the second one, places keep their directions
    from its middle.
    """
    one, two = _oval(first), _oval(second)
    if one is None or two is None or not _lie_across(one[1], two[1], LONG):
        return None
    backwards, sense = winding(first) != winding(second), winding(first)
    ball, other = as_complex(one[0] @ stretch_between(one[1], two[1])), as_complex(two[0])
    if backwards:
        other = np.roll(other[::-1], 1)
    ways, others = (sense * np.unwrap(np.angle(np.append(side, side[:1]))) for side in (ball, other))
    ways -= 2 * np.pi * np.floor((ways[0] - others[0]) / (2 * np.pi))
    shares = np.arange(2 * PLACES + 1) / PLACES
    rounds = np.append(others, others[1:] + 2 * np.pi)
    return np.stack([shares[: PLACES + 1], np.interp(ways, rounds, shares)], axis=1), backwards


def may_be_squashed(outlines: list[tuple[Track, Track]]) -> bool:
    """Whether outlines, and what they become, are ovals or panels that lie across each other: a ring, a card, a ball.

    The longest must not be stretched too far; the others may also be round.
    """
    longest = max(outlines, key=lambda pair: pair[0].length)
    return all(_may_be_squashed(*pair, pair is not longest) for pair in outlines)


def _may_be_squashed(first: Track, second: Track, as_others_are: bool) -> bool:
    one, two = _oval(first), _oval(second)
    if one is not None and two is not None:
        any_round = as_others_are and (_is_round(one[1]) or _is_round(two[1]))
        return any_round or _lie_across(one[1], two[1], np.inf if as_others_are else LONG)
    one, two = _area_moments(first), _area_moments(second)
    if one is None or two is None or not _lie_across(one[1], two[1], np.inf if as_others_are else LONG_PANEL):
        return False
    if abs(np.log(_length(one[1]) / _length(two[1]))) < ALIKE:
        return False  # it is one form
    return len(mirror_ties(first, second, WHOLLY)) > 1  # about several axes, as what has its corners rounded


def _lie_across(one: Floats, two: Floats, longest: float) -> bool:
    """Whether second moments have long axes across each other, and need be stretched by less than so much."""
    if _is_round(one) or _is_round(two):
        return False
    axes = np.linalg.eigh(np.array([one, two]))[1][:, :, 1]
    least, most = np.linalg.eigvalsh(stretch_between(one, two))
    return bool(abs(float(axes[0] @ axes[1])) < np.cos(ACROSS) and most < longest * least)


def _is_round(moments: Floats) -> bool:
    return _length(moments) < ROUND


def _length(moments: Floats) -> float:
    """How much longer it is one way than the other, at least 1."""
    least, most = np.linalg.eigvalsh(moments)
    return float(np.sqrt(most / least))


@lru_cache(maxsize=256)
def _oval(track: Track) -> tuple[Floats, Floats] | None:
    """Points of an oval about the middle of its area, and the second moments of that; None of what is no oval."""
    found = None if np.any(track.corners[1] > SLIGHT) else _area_moments(track)
    if found is None:
        return None
    as_round = found[0] @ np.linalg.inv(root_of(found[1]))
    away = np.linalg.norm(as_round, axis=1)
    lopsided = np.linalg.norm(as_round + np.roll(as_round, PLACES // 2, axis=0), axis=1)
    is_oval = float(away.std()) < OVAL * float(away.mean()) and float(lopsided.mean()) < EGG * float(away.mean())
    return found if is_oval else None


def _area_moments(track: Track) -> tuple[Floats, Floats] | None:
    """Points of a closed outline about the middle of its area, shape (PLACES, 2), and the second moments of that.

    None of what is open, has no area, or takes that away again by crossing itself, as an 8. The moments are summed up
    over triangles about the middle.
    """
    if not track.closed:
        return None
    points = as_points(track.sketch(np.arange(PLACES) / PLACES))
    points = points - points.mean(axis=0)
    after = np.roll(points, -1, axis=0)
    area = _crossed(points, after)
    if abs(float(area.sum())) <= FLAT * track.length**2:
        return None
    middle = (area[:, None] * (points + after)).sum(axis=0) / (3.0 * area.sum())
    p, q = points - middle, after - middle
    weight = _crossed(p, q)
    spread = sum((weight[:, None] * side).T @ side for side in (p, q, p + q)) / (12.0 * weight.sum())
    least, most = np.linalg.eigvalsh(spread)
    return (p, np.asarray(spread)) if least > FLAT * most else None


def _crossed(one: Floats, two: Floats) -> Floats:
    return np.asarray(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0], dtype=float)
