"""What is as slender as a snake, seen as two sides from tip to tip, with rungs across."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, gone
from knead.core.geometry.track import Track

TIPS = 64  # places of an outline at which its tips are looked for first
ABOUT = np.linspace(-0.08, 0.08, 129)  # shares of the outline about these at which they are looked for then
CAP = np.array([[1.0], [1.5], [2.0]])  # so many widths from a tip both ways the sides are near each other
ACROSS = (np.arange(16) + 0.5) / 16  # where from tip to tip its width is measured first
RUNGS = np.linspace(0.0, 1.0, 33)  # and then
ROUNDS, SHIFT = 8, 0.5  # how often rungs are set upright, and by how much of what they lean
LEAST = 0.1  # of the mean step between rungs, that each side goes on at least
FILLED = 0.5  # an outline that holds more than this share of what a circle as long does is not slender: not asked
PLAINLY_UNLIKE = 0.12  # by how much less alike widths are, by their mean, if the wrong tips are laid on each other
KINK = 0.8  # radians by which the line within turns from rung to rung at most
BULGES = 2.0  # how wide it is at most, by its mean
FITS = 0.12  # how much less, or more, than its area its rungs may fill, and how much longer its outline may be
SLENDER = 0.2  # how wide a slender body is at most, by its length


@dataclass(frozen=True, eq=False)
class Spine:
    """How a slender outline runs from tip to tip.

    `there` and `back` are the shares of the ends of its rungs, which stand evenly along the line within, both rising:
    on the way from one tip to the other, and on the way back. The last of `back` is a round after the first of `there`.
    """

    outline: Track
    there: Floats
    back: Floats

    @property
    def widths(self) -> Floats:
        """The lengths of the rungs, in scene units."""
        return np.abs(self.outline.sketch(np.mod(self.there, 1.0)) - self.outline.sketch(np.mod(self.back[::-1], 1.0)))

    @property
    def is_body(self) -> bool:
        """Whether it is nowhere much wider than elsewhere, without kinks or branches: its rungs fill it."""
        left, right = _at(self.outline, self.there), _at(self.outline, self.back[::-1])
        widths, steps = self.widths, np.diff((left + right) / 2.0)
        lengths = np.abs(steps)
        kinks = np.abs(np.angle(steps[1:] * steps[:-1].conj() + 1e-300))
        filled = float(((widths[1:] + widths[:-1]) / 2.0) @ lengths) / max(abs(self.outline.inside), 1e-12)
        along = (2.0 * float(lengths.sum()) + float(widths.mean())) / self.outline.length
        fits = abs(filled - 1.0) < FITS and along > 1.0 - FITS
        return bool(fits and widths.max() < BULGES * widths.mean() and kinks.max() < KINK)

    @property
    def ends(self) -> Floats:
        """The shares of both tips."""
        return self.there[[0, -1]]

    @property
    def swapped(self) -> "Spine":
        """The same, begun at the other tip."""
        return Spine(self.outline, self.back, self.there + 1.0)


@lru_cache(maxsize=256)
def spine_of(track: Track) -> Spine | None:
    """How a closed outline runs from tip to tip; None if it is not slender.

    Its tips are about where it has to be folded for its two sides to lie nearest to each other, and there where they
    are nearest just beside them.
    """
    full = track.length**2 / (4 * np.pi)
    if not track.closed or not 0.0 < abs(track.inside) <= FILLED * full:
        return None
    tip, side, width = _narrowest(track, np.arange(TIPS) / TIPS, np.arange(TIPS // 3, TIPS // 2 + 1) / TIPS)
    if width > SLENDER * track.length / 2:
        return None
    one, two = (_cap(track, place, width) for place in (tip, tip + side))
    found = _runged(track, one, two)
    return found if found.is_body else None


def _narrowest(track: Track, tips: Floats, sides: Floats) -> tuple[float, float, float]:
    """The tip, and the share from there to the other one, between which an outline is narrowest; and how wide it is."""
    tip, side = tips[:, None, None], sides[:, None]
    one, two = _at(track, tip + side * ACROSS), _at(track, tip - (1.0 - side) * ACROSS)
    widths = np.abs(one - two).mean(axis=2)
    i, k = np.unravel_index(int(np.argmin(widths)), widths.shape)
    return float(tips[i]), float(sides[k]), float(widths[i, k])


def _cap(track: Track, tip: float, width: float) -> float:
    """The share of a tip that is about there."""
    shares, off = tip + ABOUT, CAP * width / track.length
    apart = np.abs(_at(track, shares + off) - _at(track, shares - off)).sum(axis=0)
    return float(shares[np.argmin(apart)])


def _runged(track: Track, one: float, two: float) -> Spine:
    """Rungs from tip to tip, across the line within and evenly along it."""
    there, back = one + (two - one) * RUNGS, one + 1.0 - (one + 1.0 - two) * RUNGS
    for _ in range(ROUNDS):
        left, right = _at(track, there), _at(track, back)
        middle = (left + right) / 2.0
        ahead = np.gradient(middle)
        leans = ((left - right) * ahead.conj()).real / np.maximum(np.abs(ahead), 1e-12)
        shift = SHIFT * leans / (2.0 * track.length)
        there, back = _rising(there - shift), -_rising(-back + shift)
        along = gone(np.abs(np.diff(middle)))
        there, back = (np.interp(RUNGS * along[-1], along, side) for side in (there, back))
    return Spine(track, there, back[::-1])


def _rising(shares: Floats) -> Floats:
    """The same with steps that all rise, and the same ends."""
    steps = np.diff(shares)
    steps = np.maximum(steps, LEAST * float(steps.mean()))
    return np.asarray(shares[0] + gone(steps) * (shares[-1] - shares[0]) / steps.sum())


def _at(track: Track, shares: Floats) -> Complexes:
    return track.sketch(np.mod(shares, 1.0))


def unlike(first: Spine, second: Spine, knots: Floats) -> float:
    """How unlike rungs are to what a map makes of them, in the mean, by the widths of the bodies."""
    one, two = (_mapped(shares, knots) for shares in (first.there, first.back[::-1]))
    widths, laid = first.widths, np.abs(second.outline.sketch(one) - second.outline.sketch(two))
    own, there = (max(float(each.widths.mean()), 1e-12) for each in (first, second))
    return float(np.abs(widths / own - laid / there).mean())


def is_plainly_swapped(first: Spine, second: Spine) -> bool:
    """Whether it is plain from the widths that the other tip should be laid on the first."""
    same, swapped = (unlike(first, each, along(first, each)) for each in (second, second.swapped))
    return same > swapped + PLAINLY_UNLIKE


def as_laid(first: Spine, second: Spine, knots: Floats) -> Spine:
    """The second body, begun at the tip that a map lays the first one nearer to."""
    off = np.mod(_mapped(first.ends[:1], knots) - second.ends + 0.5, 1.0) - 0.5
    return second if abs(off[0]) <= abs(off[1]) else second.swapped


def along(first: Spine, second: Spine) -> Floats:
    """The map, knots (k, 2), of outlines that run round in the same direction: rungs on rungs."""
    knots = np.stack([np.concatenate([each.there, each.back[1:]]) for each in (first, second)], axis=1)
    return np.asarray(knots - np.floor(knots[0]))


def _mapped(shares: Floats, knots: Floats) -> Floats:
    """Where a map takes these shares."""
    in_round = np.mod(shares - knots[0, 0], 1.0) + knots[0, 0]
    return np.asarray(np.mod(np.interp(in_round, knots[:, 0], knots[:, 1]), 1.0))
