"""What lies on a form tells which end of it is which: eyes stay at the head of a snake, however it bends."""

import numpy as np
import shapely

from knead.core.blend.figure.half_round import may_turn, with_rival
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.bezier import Complexes
from knead.core.geometry.inside import mean_values
from knead.core.geometry.similarity import as_points

SMALL = 0.5  # how large what lies on a form is at most, by the size of that
ASTRAY, ON_IT = 0.5, 0.25  # how far off its place it is, by that size, if ends are exchanged; by how much less if not
STRAINED, EASED = 0.1, 0.5  # how much such a form is distorted at least, and how much less if not


def with_their_contents(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans, with forms laid the other way round where all that lies on them says so, and they strain less then.

    A pupil that goes from one side of an eye to the other does not turn that, which is much the same either way.
    """
    ends = np.array([[plan.body.start, plan.body.end] for plan in plans])
    sizes = np.array([plan.body.size for plan in plans])
    found = list(plans)
    for k, plan in enumerate(plans):
        if plan.strain < STRAINED or len(plan.contours) > 1 or not may_turn(plan):
            continue
        forms = shapely.polygons([as_points(ring) for ring in plan.contours[0].edges[:, :, 0]])
        inside = shapely.contains_xy(forms, ends.real, ends.imag).all(axis=1)
        on_it = ends[inside & (sizes < SMALL * plan.body.size)]
        if not len(on_it) or _off(plan, on_it) < ASTRAY:
            continue
        found[k] = with_rival(plan)
        rival = found[k].half_round()
        if rival.strain < EASED * plan.strain and _off(rival, on_it) < ON_IT * _off(plan, on_it):
            found[k] = rival
    return found


def _off(plan: PairPlan, places: Complexes) -> float:
    """How far things on a form come off their places if it takes them along, in the mean, by its size; (things, 2)."""
    here, there = plan.contours[0].edges[:, :, 0]
    return float(np.abs(mean_values(here, places[:, 0]) @ there - places[:, 1]).mean() / plan.body.size)
