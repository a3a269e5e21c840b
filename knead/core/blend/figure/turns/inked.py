"""The ink of a fill is laid on its partner as the fill is, however it was drawn: they do not turn by themselves."""

from collections import Counter
from dataclasses import replace

import numpy as np

from knead.core.blend.figure.half_round import is_free
from knead.core.blend.figure.holds.folds import tracks_of
from knead.core.blend.figure.holds.meeting import DEARER, strays
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_held
from knead.core.geometry.bezier import Floats, points_at, reversed_path
from knead.core.geometry.track import Track, even_track
from knead.core.pairing.lines.ink import edges_of
from knead.core.pairing.pairs import begun_at

ASKED = np.linspace(0.0, 1.0, 7)
STRAYS = 0.1  # how far off, by the size of the fill, points of its ink may be from where it takes them
WHOLE, ALIKE = 0.95, 0.05  # ink of so much of an edge is all of it; shares of it that differ by less are alike
AT_CORNER, BLUNT = 0.01, 0.15  # how far from a corner, by the whole edge, ink ends at it; how blunt that is at most
ON_IT = 0.05  # how far off the ink the point that a tie needs may be


def inks_of(plans: list[PairPlan]) -> dict[int, int]:
    """Lines and rings that lie along the edge of one fill in both keys, each with that fill."""
    lines = {k for k, p in enumerate(plans) if p.paint.first.fill is None and len(p.contours) == 1 and not p.kin}
    if not lines:
        return {}
    fills = {k for k, plan in enumerate(plans) if plan.pair.kind == "pair" and plan.paint.first.fill is not None}
    fills = {k for k in fills if plans[k].goes.plain and len(plans[k].contours) == 1}
    first = edges_of({k: plans[k].paint.first for k in sorted(lines | fills)})
    second = first and edges_of({k: plans[k].paint.second for k in sorted(lines | fills)})
    both = {line: [fill for fill in on if fill in second.get(line, [])] for line, on in first.items()}
    return {line: on[0] for line, on in both.items() if on}


def tied_to_ink(plans: list[PairPlan], inks: dict[int, int]) -> list[PairPlan]:
    """The plans, with fills tied where their only ink ends at corners, or is of as much of their edge in both keys.

    Else it ends where something hides it.
    """
    found, counts = list(plans), Counter(inks.values())
    for line, fill in inks.items():
        if counts[fill] > 1 or not is_free(plans[fill]) or not _leads(plans[fill], plans[line]):
            continue
        ends = _ends_on(plans[line], plans[fill])
        meant = _is_open_alike(plans[line], plans[fill]) or _are_corners(plans[fill], ends)
        if meant and strays(plans[fill], ends):
            tied = replace(plan_held(plans[fill], ends), tied=True)
            found[fill] = tied if tied.strain <= plans[fill].strain + DEARER else plans[fill]
    return found


def _leads(fill: PairPlan, ink: PairPlan) -> bool:
    """Whether it tells how its ink, no ring, is laid on its partner: of a round form it is chance."""
    return _may_follow(ink) and not fill.body.round and not ink.contours[0].closed


def _is_open_alike(ink: PairPlan, fill: PairPlan) -> bool:
    """Whether ink leaves a stretch of the edge of its fill open, as long in both keys."""
    lengths = np.array([[track.length for track in tracks_of(plan)] for plan in (ink, fill)])
    shares = lengths[0] / np.maximum(lengths[1], 1e-12)
    return bool(shares.max() < WHOLE and np.ptp(shares) < ALIKE)


def _are_corners(fill: PairPlan, params: Floats) -> bool:
    """Whether parameters (k, 2) of the edge of a fill are at corners of it in both keys."""
    for track, own in zip(tracks_of(fill), params.T, strict=True):
        corners = track.breaks_over(BLUNT)[0]
        off = np.abs(np.mod(track.shares(own)[:, None] - corners + 0.5, 1.0) - 0.5)
        if not len(corners) or off.min(axis=1).max() > AT_CORNER:
            return False
    return True


def _ends_on(ink: PairPlan, fill: PairPlan) -> Floats:
    """Parameters (2, 2) of the places on the edge of a fill at which its ink ends."""
    cuts = ink.contours[0].cuts
    assert cuts is not None
    sides = []
    for key, back in ((0, False), (1, cuts.reversed)):
        line, edge = (even_track((plan.paint.first, plan.paint.second)[key].contours[0]) for plan in (ink, fill))
        params = np.array([edge.nearest(place)[0] for place in line.points(np.array([0.0, 1.0]))])
        sides.append(params[:: -1 if back else 1])
    return np.stack(sides, axis=1)


def inked(plans: list[PairPlan], inks: dict[int, int]) -> list[PairPlan]:
    """The plans, with lines that are ink laid on their partners as their fill is."""
    led = {line: fill for line, fill in inks.items() if _leads(plans[fill], plans[line])}
    followed = {line: _following(plans[line], plans[fill]) for line, fill in led.items()}
    return [followed.get(k, plan) for k, plan in enumerate(plans)]


def _may_follow(plan: PairPlan) -> bool:
    chosen = plan.blend != "auto" or plan.hints or plan.body.path or not plan.goes.plain
    return not (chosen or plan.kin or plan.lanes)


def _following(ink: PairPlan, fill: PairPlan) -> PairPlan:
    """The plan of ink as its fill is laid on its partner, if it strays from that."""
    first, edge = (even_track(plan.paint.first.contours[0]) for plan in (ink, fill))
    params = first.params_at(ASKED)
    points = first.points(ASKED)
    meant = _taken(fill, np.array([edge.nearest(point)[0] for point in points]))
    if np.linalg.norm(meant - _taken(ink, params), axis=1).max() <= STRAYS * fill.body.size:
        return ink
    begun, second = None, ink.paint.second
    if first.is_ring and ink.pair.second_stand is not None:
        param, _ = even_track(second.contours[0]).nearest(meant[0])
        stand = begun_at(ink.pair.second_stand, param)
        begun, second = replace(ink.pair, second_stand=stand), stand.form
    held = _ties(even_track(second.contours[0]), params, meant, ON_IT * fill.body.size)
    return ink if held is None else plan_held(ink, held, begun).on_course(fill.course)


def _taken(plan: PairPlan, params: Floats) -> Floats:
    """Where points of a plan's only contour come to lie, by their parameters; shape (k, 2)."""
    (contour,) = plan.contours
    assert contour.cuts is not None
    path = even_track(plan.paint.second.contours[0]).path
    path = reversed_path(path) if contour.cuts.reversed else path
    begun = (
        params + len(plan.paint.first.contours[0].nodes) * (params < contour.cuts.first_params[0])
        if contour.closed
        else params
    )
    there = np.interp(begun, *contour.cuts.meets.T)
    return points_at(path, np.mod(there, len(path)) if contour.closed else there)


def _ties(second: Track, params: Floats, meant: Floats, near: float) -> Floats | None:
    """Parameters (k, 2) of points within a line and of what they are meant to become; None if these have no order."""
    found = [second.nearest(place) for place in meant[1:-1]]
    ties = np.array([(param, at) for param, (at, away) in zip(params[1:-1], found, strict=True) if away <= near])
    onward = np.diff(ties[:, 1]) if len(ties) else np.zeros(0)
    return ties if len(ties) and (np.all(onward > 0.0) or np.all(onward < 0.0)) else None
