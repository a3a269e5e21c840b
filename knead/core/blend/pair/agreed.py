"""Contours of one shape turn alike: a round one that could lie any way lies as the others say, and as they lie."""

from collections.abc import Callable

import numpy as np

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.outline.contour_plan import ContourPlan
from knead.core.outline.strain import TURN
from knead.core.pairing.contours import Matching

ALIKE = 0.2  # radians up to which contours turn alike
ABOUT = 0.6  # the same for how they lie about each other
LED = 0.6  # the same for a sure one that leads the whole
BESIDE = 0.1  # middles that are nearer to each other, by the size of the whole, say nothing
ASKED = 3  # so many contours, the longest, say how they could all turn
ONE_FORM, TURNS = 0.004, np.pi / 9  # what is distorted by no more, and turns by no more, is as it was,
BENT = 0.03  # and need not turn if that distorts it by more
FAR, UNLIKE, LOOSE = np.pi / 4, 0.1, 0.05  # what turns by more should be distorted, or come apart, by no more
ASTRAY = 0.5  # what it costs otherwise
SURE = 0.15  # the turn of a contour that is distorted by no more is sure
BETTER = 0.98  # how much less it must cost that contours are not laid each by itself
CLEARLY = 0.8  # how much less that must cost which is less likely by place and form
PARTED = 0.5  # what it costs that contours come apart by as much as the whole is large

Samples = tuple[Complexes, Complexes, Floats]


def agreed(plans: list[ContourPlan], planned: Callable[[int, float], ContourPlan]) -> list[ContourPlan]:
    """The plans, with those of contours that turn otherwise made anew where all can turn alike with little distortion.

    `planned` plans one of them, by its index, to turn by about so many radians. Contours that share nodes stay.
    """
    free = [k for k, plan in enumerate(plans) if plan.closed and not plan.kin]
    if len(free) < 2:
        return plans
    samples = [plans[k].samples() for k in free]
    turns, lengths = [_turn(*each) for each in samples], [float(weights.sum()) for _, _, weights in samples]
    asked = [turns[k] for k in sorted(range(len(free)), key=lambda k: -lengths[k])[:ASKED]]
    lie = _turn_of_middles(samples)
    alike = all(similarity.between(one, other) <= ALIKE for one in turns for other in asked)
    if alike and (lie is None or similarity.between(lie, asked[0]) <= ABOUT):
        return plans

    def all_about(turn: float) -> list[ContourPlan]:
        others = {k: own for k, own in zip(free, turns, strict=True) if similarity.between(own, turn) > ALIKE}
        return [
            _unless_bent(plan, others[k], planned(k, turn)) if k in others else plan for k, plan in enumerate(plans)
        ]

    tried = [all_about(turn) for turn in dict.fromkeys([*asked, *([] if lie is None else [lie])])]
    told = [turn for turn in turns if lie is not None and similarity.between(turn, lie) <= ALIKE]
    # the longest leads by itself, and so does what turns as it lies about the others
    sure = [asked[0], *told, *(turn for k, turn in zip(free, turns, strict=True) if plans[k].strain <= SURE)]
    costs = [_cost([found[k] for k in free], sure) for found in (plans, *tried)]
    best = int(np.argmin(costs))
    return tried[best - 1] if costs[best] < BETTER * costs[0] else plans


def _unless_bent(plan: ContourPlan, turn: float, turned: ContourPlan) -> ContourPlan:
    """The plan that is turned as the others are, unless with its own slight turn alone it is one form in both keys."""
    as_it_was = plan.strain <= ONE_FORM and abs(turn) <= TURNS
    return plan if as_it_was and turned.strain > BENT else turned


def most_alike(ways: list[tuple[Matching, list[ContourPlan]]]) -> tuple[Matching, list[ContourPlan]]:
    """Of ways in which contours become each other, the one by which they go most as one; the first, if in doubt."""
    if len(ways) == 1:
        return ways[0]
    costs = [_cost(plans, [turn_of(plan) for plan in plans if plan.strain <= SURE]) for _, plans in ways]
    best = int(np.argmin(costs))
    return ways[best] if costs[best] < CLEARLY * costs[0] else ways[0]


def _cost(plans: list[ContourPlan], sure: list[float]) -> float:
    """How much contours are distorted, turn, and come apart when all are taken to go as one.

    What is neither about the same in both keys nor lies alike does not turn far, unless one of the contours does of
    which the turn is `sure`. A contour that turns otherwise than the whole shrinks on the way.
    """
    samples = [plan.samples() for plan in plans]
    first, second, weights = (np.concatenate(side) for side in zip(*samples, strict=True))
    a, b = similarity.fit(first, second, weights)
    turn = float(np.angle(a))
    own = np.array([_turn(*each) for each in samples]) - turn
    shrunk = float(np.average(1.0 - np.abs(np.cos(own / 2)), weights=[plan.length for plan in plans]))
    size = float(np.sqrt(np.average(np.abs(second - np.average(second, weights=weights)) ** 2, weights=weights)))
    apart = float(np.average(np.abs(a * first + b - second), weights=weights)) / max(size, 1e-9)
    strain = float(np.average([plan.strain for plan in plans], weights=[plan.length for plan in plans]))
    led = any(similarity.between(one, turn) <= LED for one in sure)
    astray = abs(turn) > FAR and strain > UNLIKE and apart > LOOSE and not led
    return strain + shrunk + TURN * abs(turn) / np.pi + PARTED * apart + (ASTRAY if astray else 0.0)


def turn_of(plan: ContourPlan) -> float:
    """By how much a contour turns, in radians."""
    return _turn(*plan.samples())


def _turn(first: Complexes, second: Complexes, weights: Floats) -> float:
    return float(np.angle(similarity.fit(first, second, weights)[0]))


def _turn_of_middles(samples: list[Samples]) -> float | None:
    """By how much the middles of contours turn about each other; None where they are about at one place."""
    first, second = (np.array([np.average(each[k], weights=each[2]) for each in samples]) for k in (0, 1))
    sizes = [float(np.std(np.concatenate([each[k] for each in samples]))) for k in (0, 1)]
    if any(np.std(side) < BESIDE * size for side, size in zip((first, second), sizes, strict=True)):
        return None
    return _turn(first, second, np.array([float(each[2].sum()) for each in samples]))
