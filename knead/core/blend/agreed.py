"""Contours of one shape turn alike: a round one that could lie any way lies as the others say."""

from collections.abc import Callable

import numpy as np

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Floats
from knead.core.outline.contour_plan import ContourPlan
from knead.core.outline.strain import TURN

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

    def cost(of: list[ContourPlan], about: Floats) -> float:
        strains = [of[k].strain + TURN * abs(about[k]) / np.pi for k in free]
        return float(np.average(strains, weights=lengths[free]))

    def all_about(turn: float) -> tuple[float, list[ContourPlan]]:
        others = {k for k in free if _between(turns[k], turn) > ALIKE}
        tried = [planned(k, turn) if k in others else plan for k, plan in enumerate(plans)]
        return cost(tried, np.full(len(plans), turn)), tried

    least, best = min(map(all_about, dict.fromkeys(turns[asked].tolist())), key=lambda each: each[0])
    return best if least <= cost(plans, turns) + DEARER else plans


def _between(one: float, other: float) -> float:
    return abs(float(np.angle(np.exp(1j * (one - other)))))
