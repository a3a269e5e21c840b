"""How points travel from one key to the other. Points are complex arrays of shape (k,); results (len(times), k)."""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from knead.core.blend.course.course import Course
from knead.core.blend.travel.region import Region, regions_of
from knead.core.blend.travel.solid import SolidContour, prepare
from knead.core.geometry.bezier import Complexes, Floats, within
from knead.core.geometry.inside import around, mean_values

Way = Literal["direct", "arc", "solid"]
MOST_STRETCH = 2.0  # log of a ratio of lengths; what stretches more is drawn anew
UPRIGHT = 0.3  # radians; what turns by more while it is stretched as a whole would shear on a straight way
RIGID, LITTLE = (
    1e-4,
    0.1,
)  # what is stretched so little is one form, which turns even if it does so by as little as this
AS_A_WHOLE = 0.1  # the share of what a mere turn leaves that an even stretch may leave, where that is what it is
REST = 0.02  # how little, by the squared size, counts as not moving at all


def direct(first: Complexes, second: Complexes, times: Floats, course: Course | None = None) -> Complexes:
    """Straight on, carried along where the course has a drawn path. Exact at 0 and 1."""
    t = times[:, None]
    found = (1.0 - t) * first + t * second
    if course is not None and course.path is not None:
        found = _exact(carried(found, times, course), first, second, times)
    return found


def carried(found: Complexes, times: Floats, course: Course, turns: int = 0) -> Complexes:
    """Points on their way, (len(times), k), carried along a drawn path, and turned by whole rounds as they go."""
    straight = course.start + times * (course.end - course.start)
    middle = straight if course.path is None else course.at(times)[1]
    rounds = np.exp(2j * np.pi * turns * times)[:, None]
    return np.asarray((found - straight[:, None]) * rounds + middle[:, None])


def arc(first: Complexes, second: Complexes, times: Floats, course: Course) -> Complexes:
    """Turn evenly about a middle that follows its course, the rest straight in the turning frame.

    The course is a straight line, or an arc about a hinge (Whited et al. 2010). Exact at 0 and 1.
    """
    t, middle = times[:, None], course.at(times)[1][:, None]
    own, there = first - course.start, (second - course.end) * np.exp(-1j * course.angle)
    found = np.exp(1j * course.angle * t) * ((1.0 - t) * own + t * there) + middle
    return _exact(found, first, second, times)


@dataclass(frozen=True, eq=False)
class _Guest:
    """What opens or closes in a contour, the `holder`, whose points take its middle along by their `weights`.

    At the keys that is `missed` by so much.
    """

    holder: int
    weights: Floats
    missed: tuple[complex, complex]

    def middle(self, points: Complexes, times: Floats) -> Complexes:
        """Where it is, from the holder's points (len(times), k)."""
        return np.asarray(points @ self.weights + (1.0 - times) * self.missed[0] + times * self.missed[1])


@dataclass(frozen=True, eq=False)
class Stiff:
    """The contours of a pair, prepared to travel solidly, and the regions that they make.

    What was `coarse`, before the stretches that are marked `where` were halved, makes the same regions.
    """

    contours: tuple[SolidContour, ...]
    coarse: "Stiff | None" = None
    where: tuple[NDArray[np.bool_], ...] = ()

    @cached_property
    def regions(self) -> list[Region]:
        """What travels as one, each about its own middle."""
        if self.coarse is None:
            return regions_of(self.contours)
        return [region.halved(self.contours, self.where) for region in self.coarse.regions]

    @property
    def would_be_pinched(self) -> bool:
        """Whether some of it would be pinched on a straight way, and is not so."""
        return any(region.mesh is not None and region.mesh.would_be_pinched for region in self.regions)

    def at(self, first: Complexes, second: Complexes, times: Floats, course: Course) -> Complexes:
        """Node triples of all contours at the times. Exact at 0 and 1."""
        return _exact(
            np.concatenate([triples for triples, _ in self.drawn(times, course)], axis=1), first, second, times
        )

    def drawn(self, times: Floats, course: Course) -> list[tuple[Complexes, Complexes]]:
        """For each contour, about a middle that turns with the whole: node triples, and points along the outline."""
        by_index = {}
        for region in self.regions:
            one, two = (np.array([middle]) for middle in region.middles)
            middle = arc(one, two, times, course)
            for k, (triples, points) in zip(region.indices, region.at(times), strict=True):
                by_index[k] = triples + middle, points + middle
        for k, guest in self._guests.items():
            triples, points = self.contours[k].at(times)
            middle = guest.middle(by_index[guest.holder][1], times)[:, None]
            by_index[k] = triples + middle, points + middle
        found = [by_index[k] for k in range(len(self.contours))]
        # a lone form is held where it moves least
        if course.free and not course.carries:
            holds, first, second = self._holds
            here = np.sum([points @ hold for (_, points), hold in zip(found, holds, strict=True)], axis=0)
            shift = ((1.0 - times) * first + times * second - here)[:, None]
            found = [(triples + shift, points + shift) for triples, points in found]
        return found

    @cached_property
    def _guests(self) -> dict[int, "_Guest"]:
        """Contours that open or close within others, by their indices: these take them along."""
        if len(self.contours) < 2:
            return {}
        opens = [contour.opens_at for contour in self.contours]
        lasting = [k for k, contour in enumerate(self.contours) if contour.closed and opens[k] is None]
        rings = [self.contours[k].places for k in lasting]
        found = {}
        for k, (contour, at) in enumerate(zip(self.contours, opens, strict=True)):
            within = None if at is None else around([ring[1 - at] for ring in rings], contour.places[1 - at])
            if at is not None and within is not None:
                weights = mean_values(rings[within][1 - at], np.array([contour.middles[1 - at]]))[0]
                missed = [complex(m - row @ weights) for m, row in zip(contour.middles, rings[within], strict=True)]
                found[k] = _Guest(lasting[within], weights, (missed[0], missed[1]))
        return found

    @cached_property
    def _holds(self) -> tuple[list[Floats], complex, complex]:
        """How much each point of each contour holds a lone form where it is, and where all of them do at both keys."""
        first, second = (np.concatenate([c.places[k] for c in self.contours]) for k in (0, 1))
        weights = np.concatenate([c.shares * np.abs(c.first).sum() for c in self.contours])
        middle = np.average(first, weights=weights)
        size = float(np.average(np.abs(first - middle) ** 2, weights=weights))
        hold = weights / (np.abs(second - first) ** 2 + REST * size + 1e-12)
        hold /= hold.sum()
        cuts = np.cumsum([len(c.shares) for c in self.contours])[:-1]
        return np.split(hold, cuts), complex(hold @ first), complex(hold @ second)


def stiff(first: Complexes, second: Complexes, parts: list[tuple[slice, bool]], angle: float) -> Stiff | None:
    """Prepare solid travel; None where one of the contours can't be kept stiff. `parts` are (points, closed)."""
    prepared = [prepare(first[part], second[part], closed, angle) for part, closed in parts]
    kept = tuple(contour for contour in prepared if contour is not None)
    return Stiff(kept) if len(kept) == len(parts) else None


def evidence(pieces: list[tuple[Complexes, Complexes]], angle: float) -> tuple[float, str]:
    """How much a pair that turns by `angle` asks for solid travel, 0 to 1, and why, in words.

    `pieces` are points of the outlines that meet, shape (stretches, points) each. Straight travel shortens what turns;
    so the more a form turns, as a whole and in itself, and the less it is stretched besides, the more it is solid. What
    is stretched as a whole, and upright, is not: straight ways stretch it evenly.
    """
    dz, dw = (np.concatenate([np.diff(side[k], axis=1).ravel() for side in pieces]) for k in (0, 1))
    if abs(angle) < UPRIGHT and _is_squashed(dz, dw):
        return 0.0, "it is squashed or stretched as a whole"
    turn, stretch = _stiffness(dz, dw, angle)
    whole = turn + angle**2
    share = whole / (whole + 0.8 * stretch + 0.03)
    least = UPRIGHT if stretch > RIGID else LITTLE
    weight = min(max((share - 0.6) / 0.1, 0.0), 1.0) * min(max((np.sqrt(whole) - least) / 0.1, 0.0), 1.0)
    degrees = abs(np.degrees(angle))
    if weight > 0.5:
        bent = np.degrees(np.sqrt(turn))
        return weight, f"it turns by {degrees:.0f} degrees and bends by {bent:.0f}, and is stretched little"
    return weight, "it is stretched and drawn anew more than it turns" if stretch > 0.01 else "it hardly turns"


def _is_squashed(dz: Complexes, dw: Complexes) -> bool:
    """Whether an even stretch without a turn takes all steps to their partners, or a mirror image.

    So a circle becomes flat, and a zigzag line is bent over.
    """
    columns = np.stack([dz, dz.conj()], axis=1)
    least = np.linalg.lstsq(columns, dw, rcond=1e-9)[0]
    turned = np.vdot(dz, dw) / max(float(np.vdot(dz, dz).real), 1e-300)
    rest, unlike = (float(np.sum(np.abs(gap) ** 2)) for gap in (dw - columns @ least, dw - turned * dz))
    upright = abs(np.angle(least[0])) < UPRIGHT or abs(least[0]) < abs(least[1])
    return bool(upright and rest < AS_A_WHOLE * unlike)


def _stiffness(dz: Complexes, dw: Complexes, angle: float) -> tuple[float, float]:
    """How much steps along the outlines turn against each other, and how much they stretch: mean squares.

    A bend turns every step a little more than the one before it, from end to end; what is drawn anew turns sharply in a
    few places. So sharp turns count less: the mean square is reckoned from the mean, as of evenly spread turns (4/3 of
    its square), and lessened by the square of its share in the true mean square.
    """
    a, b = np.abs(dz), np.abs(dw)
    whole = float((a + b).sum())
    weights = (a + b) / max(whole, 1e-12)
    turns = np.abs(np.angle(dw * np.conj(dz) * np.exp(-1j * angle) + 1e-300))
    even, square = 4 / 3 * float(weights @ turns) ** 2, float(weights @ turns**2)
    least = 1e-3 * whole / len(a) + 1e-12
    ratio = within(np.log((a + least) / (b + least)), -MOST_STRETCH, MOST_STRETCH)
    ratio = ratio - float(weights @ ratio)
    return even * min(even / max(square, 1e-12), 1.0) ** 2, float(weights @ ratio**2)


def mixed(one: Complexes, other: Complexes, share: float, times: Floats) -> Complexes:
    """Two ways mixed, the first with a share of 0 to 1. Both are exact at 0 and 1, and so is this."""
    at_key = ((times == 0.0) | (times == 1.0))[:, None]
    return np.asarray(np.where(at_key, one, other + share * (one - other)), dtype=complex)


def _exact(found: Complexes, first: Complexes, second: Complexes, times: Floats) -> Complexes:
    found[times == 0.0] = first
    found[times == 1.0] = second
    return found
