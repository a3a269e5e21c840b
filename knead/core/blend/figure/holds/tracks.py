"""What lies on a line that stays goes along it: a planet on its orbit, the knob of a dial, a cart on its rails."""

from dataclasses import dataclass, replace

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.bezier import Floats
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
    lines = {k for k, plan in enumerate(plans) if plan.body.still and plan.body.line}
    rails = [_Rail(plans[k].body.size, even_track(c)) for k in sorted(lines) for c in plans[k].paint.first.contours]
    if not rails:
        return plans
    sizes, boxes = np.array([rail.size for rail in rails]), np.array([rail.box for rail in rails])
    found = []
    for k, plan in enumerate(plans):
        larger = {j for j in touching.get(k, ()) if plans[j].body.size > plan.body.size}
        ride = None
        if _may_ride(plan) and larger <= lines:
            ends = as_points(np.array([plan.body.start, plan.body.end]))
            off = np.maximum(boxes[:, :1] - ends, ends - boxes[:, 1:]).max(axis=(1, 2))  # the boxes first
            near = (sizes > LARGER * plan.body.size) & (off <= ON_IT * plan.body.size)
            ways = (_along(plan.body, rails[n].track) for n in np.flatnonzero(near).tolist())
            ride = next((way for way in ways if way is not None), None)
        found.append(plan if ride is None else replace(plan, body=replace(plan.body, ride=ride)))
    return found


@dataclass(frozen=True)
class _Rail:
    """A line that stays, and the size of the shape that it is of."""

    size: float
    track: Track

    @property
    def box(self) -> Floats:
        """The least and the largest x and y, shape (2, 2)."""
        places = self.track.path.reshape(-1, 2)
        return np.array([places.min(axis=0), places.max(axis=0)])


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
