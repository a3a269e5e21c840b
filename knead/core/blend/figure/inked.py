"""The ink of a fill is laid on its partner as the fill is, however it was drawn: they do not turn by themselves."""

from dataclasses import replace

import numpy as np

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_pair
from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track, even_track
from knead.core.model import Take
from knead.core.pairing.ink import ink_of
from knead.core.pairing.pairs import begun_at

ASKED = np.linspace(0.0, 1.0, 7)
STRAYS = 0.1  # how far off, by the size of the fill, points of its ink may be from where it takes them
ON_IT = 0.05  # how far off the ink the point that a tie needs may be


def inked(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans, with lines that lie along the edge of one fill in both keys laid on their partners as the fill is."""
    free = {k: plan for k, plan in enumerate(plans) if plan.pair.kind in ("pair", "recut") and plan.goes.plain}
    if not any(map(_may_follow, free.values())):
        return plans
    first = ink_of({k: plan.paint.first for k, plan in free.items()})
    second = first and ink_of({k: plan.paint.second for k, plan in free.items()})
    found = list(plans)
    for line, fill in first.items():
        if second.get(line) == fill and _may_follow(plans[line]):
            found[line] = _following(plans[line], plans[fill])
    return found


def _may_follow(plan: PairPlan) -> bool:
    one_line = len(plan.contours) == 1 and not plan.contours[0].closed
    return one_line and plan.blend == "auto" and not (plan.hints or plan.kin or plan.body.path or plan.lane)


def _following(ink: PairPlan, fill: PairPlan) -> PairPlan:
    """The plan of ink as its fill is laid on its partner, if it strays from that."""
    first = even_track(ink.paint.first.contours[0])
    points = first.points(ASKED)
    meant = np.array([fill.partner(point, True) or (np.nan, np.nan) for point in points])
    today = np.array([ink.partner(point, True) or (np.nan, np.nan) for point in points])
    gaps = np.linalg.norm(meant - today, axis=1)
    if not np.nanmax(gaps) > STRAYS * fill.body.size:
        return ink
    pair, second = ink.pair, ink.paint.second
    if first.is_ring and pair.second_stand is not None:
        param, _ = even_track(second.contours[0]).nearest(meant[0])
        stand = begun_at(pair.second_stand, param)
        pair, second = replace(pair, second_stand=stand), stand.form
    held = _ties(first, even_track(second.contours[0]), points, meant, ON_IT * fill.body.size)
    if held is None:
        return ink
    take = Take(blend=ink.blend, tolerance=ink.tolerance)
    laid = plan_pair(ink.paint.first, second, take, pair, held=held)
    return replace(ink.instead(laid), pair=pair).on_course(fill.course)


def _ties(first: Track, second: Track, points: Floats, meant: Floats, near: float) -> Floats | None:
    """Parameters (k, 2) of points of a line and of what they are meant to become; None if these are in no order."""
    rows = []
    for point, place in zip(points[1:-1], meant[1:-1], strict=True):
        (param, _), (other, away) = first.nearest(point), second.nearest(place)
        if away <= near:
            rows.append((param, other))
    ties = np.array(rows).reshape(-1, 2)
    steps = np.diff(ties, axis=0)
    in_order = np.all(steps[:, 0] > 0.0) and (np.all(steps[:, 1] > 0.0) or np.all(steps[:, 1] < 0.0))
    return ties if len(ties) and in_order else None
