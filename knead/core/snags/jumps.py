"""Speed that jumps at a key between two spans."""

from collections.abc import Sequence

import numpy as np

from knead.core.blend.pair.going import Going
from knead.core.inbetween import SpanPlan
from knead.core.snags.find import Snag

SEEN = 0.015  # a change of speed a frame below this share of the drawing, or of the way, is not seen
TURN = 0.03  # what goes slower than this share a frame may turn round: it flits
TIMES = 3.0  # how many times faster or slower it must go, or as much aside


def jumps(before: SpanPlan, pace_before: Sequence[float], after: SpanPlan, pace_after: Sequence[float]) -> list[Snag]:
    """Shapes whose middle goes much faster, slower or elsewhere right after a key than right before it.

    `pace` is the place of every frame as on ones. The snags are those of the span before the key, at its last frame.
    """
    if len(pace_before) < 2 or len(pace_after) < 2:
        return []
    arriving = {pair.second_id or "": pair for pair in before.pairs if pair.first_id and pair.second_id}
    drawn = _diagonal(after)
    found = []
    for pair in after.pairs:
        old = arriving.get(pair.first_id or "")
        if old is None or not pair.second_id:
            continue
        one, two = _step(old, pace_before[-2], 1.0), _step(pair, 0.0, pace_after[1])
        size = max(drawn, *(abs(p.second_centre - p.first_centre) for p in (old, pair)))
        change, slow, fast = abs(two - one), min(abs(one), abs(two)), max(abs(one), abs(two))
        if change < SEEN * size or (change < fast < TIMES * slow) or (TURN * size > slow > fast / TIMES):
            continue
        sudden = "stops short" if abs(two) < abs(one) else "starts with a jerk"
        how = "changes its direction" if fast < TIMES * slow else sudden
        text = f"'{pair.paint.first.name}' {how} at this key."
        severity = round(float(min(1.0, 0.2 + 4.0 * change / size)), 2)
        remedy = "Ease out of the key and into it, or move the key."
        number = len(pace_before) - 1
        shapes = old.first_id, old.second_id
        found.append(Snag("speed", shapes, (number,), pair.first_centre, severity, text, remedy))
    return found


def _step(pair: Going, start: float, end: float) -> complex:
    rows = pair.points(np.array([start, end])).mean(axis=1)
    return complex(rows[1] - rows[0])


def _diagonal(plan: SpanPlan) -> float:
    points = np.concatenate([pair.first_points for pair in plan.pairs])
    return max(float(np.hypot(np.ptp(points.real), np.ptp(points.imag))), 1e-9)
