"""What one turn takes from key to key, all of it, goes as one piece: a sign that is turned takes its frame along.

A square looks alike at four turns, and a line at two: by itself, each of them goes the shorter way.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely

from knead.core.blend.figure.half_round import TURNS, is_loose_line, may_turn, outlines_of, with_rival
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes
from knead.core.geometry.similarity import as_points, between
from knead.core.outline.kinds.rigid import turns_onto

PLACES = np.linspace(0.0, 1.0, 65)  # of an outline at which it is seen
UPRIGHT = 0.05  # radians; what turns by less stays as it is, whatever turns before it
NEAR = 0.2  # radians; how far off the turn of the piece it may be, made to go with it
SLIGHTER = 0.3  # how much of a form more a piece must have that goes half round
ALIKE = 0.08  # how far off its outline may be, by its size, in the mean
LARGE = 3.0  # how large, by how far a hand is off, a form must be to tell how it turns

Motion = tuple[complex, complex]


def as_one_piece(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans, with forms that look alike at several turns turned as what goes with them does.

    What one similarity takes from key to key, by its outlines, goes together. What is small for a hand tells none, but
    goes along.
    """
    found, forms = list(plans), [_Form(k, plan) for k, plan in enumerate(plans) if _may_belong(plan)]
    large = [form for form in forms if form.plan.body.size > LARGE * form.plan.body.hand]
    while len(large) > 1:
        motion, members = _piece(large)
        if len(members) < 2:
            break
        motion = _slightest(motion, members)
        small = [form for form in forms if form not in large and form.fits(motion) > 0.0]
        if abs(np.angle(motion[0])) > TURNS:
            for form in members + small:
                found[form.place] = form.gone_by(motion)
        large = [form for form in large if form not in members]
        forms = [form for form in forms if form not in members + small]
    return found


@dataclass(frozen=True, eq=False)
class _Form:
    """A shape of the drawing, at its place in the row."""

    place: int
    plan: PairPlan

    @cached_property
    def points(self) -> tuple[Complexes, Complexes]:
        """Points along its outlines at both keys."""
        one, two = (np.concatenate(rows) for rows in self._rows)
        return one, two

    @cached_property
    def lines(self) -> tuple[shapely.Geometry, shapely.Geometry]:
        """Its outlines at both keys."""
        one, two = (shapely.multilinestrings([as_points(row) for row in rows]) for rows in self._rows)
        return one, two

    @cached_property
    def _rows(self) -> list[list[Complexes]]:
        sides = zip(*outlines_of(self.plan), strict=True)
        return [[track.sketch(PLACES) for track in side] for side in sides]

    @cached_property
    def motions(self) -> list[Motion]:
        """The similarities that take it from key to key point by point; it may be begun, or run, otherwise."""
        body = self.plan.body
        ways = [(body.first, body.second)]
        if _is_line(self.plan):
            first, second = self.points
            ways += [(first, second), (first, second[::-1])]
        found = [motion for way in ways if _off(motion := similarity.fit(*way), *way) < body.hand]
        one, two = max(outlines_of(self.plan), key=lambda pair: pair[0].length)
        if one.is_ring and two.is_ring:
            found += turns_onto(one, two if one.inside * two.inside > 0.0 else two.backwards)
        return [(a, b) for a, b in found if abs(np.angle(a)) > TURNS]

    def fits(self, motion: Motion) -> float:
        """How near its outlines lie to where a motion takes them, however they are run: 1 is exactly, 0 not at all."""
        a, b = motion
        if abs(a * self.points[0].mean() + b - self.points[1].mean()) > self.plan.body.hand:
            return 0.0
        there = shapely.distance(shapely.points(as_points(a * self.points[0] + b)), self.lines[1]).mean()
        back = shapely.distance(shapely.points(as_points((self.points[1] - b) / a)), self.lines[0]).mean() * abs(a)
        body = self.plan.body
        return max(0.0, 1.0 - float(max(there, back)) / min(body.hand, ALIKE * body.size))

    def gone_by(self, motion: Motion) -> PairPlan:
        """Its plan, turned as the motion does, if it is one form then."""
        turn = float(np.angle(motion[0]))
        if _goes_by(self.plan, turn) or not (may_turn(self.plan) or _is_line(self.plan)):
            return self.plan
        plan = with_rival(self.plan, turn, NEAR)
        rival = plan.half_round()
        return rival if _goes_by(rival, turn) else plan


def _piece(forms: list[_Form]) -> tuple[Motion, list[_Form]]:
    """The motion by which most forms may go, rather a slight one, and which these are."""
    best, most = ((1.0 + 0j, 0j), list[_Form]()), 0.0
    starts, ends = (np.array([form.points[side].mean() for form in forms]) for side in (0, 1))
    reach = np.array([form.plan.body.hand for form in forms])
    for a, b in dict.fromkeys(motion for form in forms for motion in form.motions):
        near = np.flatnonzero(np.abs(a * starts + b - ends) < reach).tolist()
        if len(near) <= max(most, 1.0):
            continue
        fits = np.array([forms[k].fits((a, b)) for k in near])
        found = float(fits.sum()) - SLIGHTER * abs(float(np.angle(a))) / np.pi
        if found > most:
            best, most = ((a, b), [forms[k] for k, fit in zip(near, fits.tolist(), strict=True) if fit > 0.0]), found
    return best


def _slightest(motion: Motion, forms: list[_Form]) -> Motion:
    """The motion by which all of them go as well that turns the least: they may look alike by quarters or halves."""
    first, second = (np.concatenate([form.points[side] for form in forms]).mean() for side in (0, 1))
    others = [(a := motion[0] * 1j**k, second - a * first) for k in (1, 2, 3)]
    fair = [each for each in others if all(form.fits(each) > 0.0 for form in forms)]
    return min([motion, *fair], key=lambda each: abs(np.angle(each[0])))


def _may_belong(plan: PairPlan) -> bool:
    """Whether it goes somewhere, by itself, and its outline tells how."""
    body = plan.body
    goes = body.path is None and not body.still and not body.round
    return goes and bool(abs(np.angle(body.motion[0])) > UPRIGHT)


def _off(motion: Motion, first: Complexes, second: Complexes) -> float:
    """How far points end from where a motion takes them, in the mean."""
    a, b = motion
    return float(np.abs(a * first + b - second).mean())


def _goes_by(plan: PairPlan, turn: float) -> bool:
    """Whether it is one form that turns by about so much."""
    body = plan.body
    return _off(body.motion, body.first, body.second) < body.hand and bool(
        between(np.angle(body.motion[0]), turn) < NEAR
    )


def _is_line(plan: PairPlan) -> bool:
    """Whether it is one line that may be run either way; what runs along itself might as well turn."""
    return is_loose_line(replace(plan, lanes=None))
