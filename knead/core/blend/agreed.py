"""Contours of one shape turn alike: a round one that could lie any way lies as the others say."""

from collections.abc import Callable

import numpy as np

from knead.core.geometry import similarity
from knead.core.outline.contour_plan import ContourPlan
from knead.core.outline.matching import TURN

ALIKE = 0.2  # radians up to which contours turn alike
ASKED = 3  # so many contours, the longest, say how they could all turn
DEARER = 0.1  # how much more distortion a shape may take on for its contours to turn alike


def agreed(plans: list[ContourPlan], planned: Callable[[int, float], ContourPlan]) -> list[ContourPlan]:
    """The plans, with those of contours that turn otherwise made anew where all can turn alike with little distortion.

    `planned` plans one of them, by its index, to turn by about so many radians. Contours that share nodes stay.
    """
    free = [k for k, plan in enumerate(plans) if plan.closed and not plan.kin]
    if len(free) < 2:
        return plans
    turns, lengths = np.zeros(len(plans)), np.zeros(len(plans))
    for k in free:
        first, second, weights = plans[k].samples()
        turns[k], lengths[k] = np.angle(similarity.fit(first, second, weights)[0]), weights.sum()
    asked = sorted(free, key=lambda k: -lengths[k])[:ASKED]
    if max(_between(turns[a], turns[b]) for a in free for b in asked) <= ALIKE:
        return plans
    best: tuple[float, list[ContourPlan]] | None = None
    for turn in dict.fromkeys(float(turns[k]) for k in asked):
        tried = list(plans)
        for k in free:
            if _between(turns[k], turn) > ALIKE:
                tried[k] = planned(k, turn)
        strain = float(np.average([tried[k].strain for k in free], weights=lengths[free]))
        if best is None or strain + TURN * abs(turn) / np.pi < best[0]:
            best = strain + TURN * abs(turn) / np.pi, tried
    alone = float(np.average([plans[k].strain + TURN * abs(turns[k]) / np.pi for k in free], weights=lengths[free]))
    return plans if best is None or best[0] > alone + DEARER else best[1]


def _between(one: float, other: float) -> float:
    return abs(float(np.angle(np.exp(1j * (one - other)))))
