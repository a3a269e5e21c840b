"""What lies on a line that stays goes along it: a planet on its orbit, the knob of a dial, a cart on its rails."""

from dataclasses import replace

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.route import Ride, chebyshev, followed
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import Track, even_track

ON_IT = 0.5  # how far off the line a middle may be in both keys, by the size of the shape
LARGER = 2.0  # so many times as large is what something lies on
TIMES = chebyshev(32)
LONGER = 1.02  # so many times as long as straight on is a way that is told from that


def on_tracks(plans: list[PairPlan], touching: dict[int, list[int]]) -> list[PairPlan]:
    """The plans with rides for what lies on a line that stays, at another place of it in each key.

    `touching` says which touch: what hangs on something larger besides, as a foot on its leg, does not ride.
    """
    lines = {k: _lines(plan) for k, plan in enumerate(plans) if _stays(plan)}
    if not lines:
        return plans
    found = []
    for k, plan in enumerate(plans):
        larger = {j for j in touching.get(k, ()) if plans[j].body.size > plan.body.size}
        rails = [j for j in lines if plans[j].body.size > LARGER * plan.body.size]
        may = _may_ride(plan) and larger <= lines.keys()
        ways = [_along(plan.body, track) for j in rails for track in lines[j]] if may else []
        ride = next((way for way in ways if way is not None), None)
        found.append(plan if ride is None else replace(plan, body=replace(plan.body, ride=ride)))
    return found


def _stays(plan: PairPlan) -> bool:
    return plan.body.still and plan.paint.first.fill is None and plan.paint.second.fill is None


def _lines(plan: PairPlan) -> list[Track]:
    return [even_track(contour) for contour in plan.paint.first.contours]


def _may_ride(plan: PairPlan) -> bool:
    bound = plan.body.still or plan.body.alone or plan.body.path is not None or plan.body.ride is not None
    return plan.goes.plain and not bound


def _along(body: Body, track: Track) -> Ride | None:
    """The ride along a line, the shorter way round a ring; None for what does not lie on it, or goes straight on it."""
    ends = np.array([body.start, body.end])
    (one, near), (two, there) = (track.nearest(place) for place in as_points(ends))
    if max(near, there) > ON_IT * body.size:
        return None
    begin, stop = track.shares(np.array([one, two])).tolist()
    stop -= round(stop - begin) if track.closed else 0.0
    if abs(stop - begin) * track.length < LONGER * abs(body.end - body.start):
        return None
    off = ends - as_complex(track.points(np.array([begin, stop])))
    places = as_complex(track.points(begin + TIMES * (stop - begin)))
    return followed(body.start, body.end, places + (1.0 - TIMES) * off[0] + TIMES * off[1])
