"""Whether hints tell a plan anything: what is tied as it goes anyway does not."""

import numpy as np

from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.track import even_track
from knead.core.model import Hint
from knead.core.outline.hints import end_point
from knead.core.outline.ties import located, repeated

ANYWAY = 1e-6  # what comes no farther from where it is tied than this, by the length of the outline, goes there


def tells(plan: PairPlan, hints: tuple[Hint, ...]) -> bool:
    """Whether a plan without hints does not what these say of its shapes. So do those that lie off these, or repeat."""
    if not hints:
        return False
    first, second = plan.paint.first, plan.paint.second
    one, two = ([even_track(contour) for contour in shape.contours] for shape in (first, second))
    ends, troubles = located(hints, first, second, one, two, plan.pair.kind in ("joins", "divides"))
    return (
        bool(troubles)
        or repeated(ends, one, two)
        or any(_is_off(plan, hint, ANYWAY * two[j].length) for hint, _, j, _, _ in ends)
    )


def _is_off(plan: PairPlan, hint: Hint, near: float) -> bool:
    """Whether a tied point comes not so near to where it is tied: what lies there and back is at one place twice."""
    meant = end_point(hint.second, plan.paint.second)
    goes = plan.partner(end_point(hint.first, plan.paint.first), True)
    return goes is None or float(np.hypot(*(np.array(goes) - meant))) > near
