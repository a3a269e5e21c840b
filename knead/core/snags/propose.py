"""Hints that would help most: of many ties that change the matching, the few that lower the distortion most."""

from dataclasses import dataclass, replace

import numpy as np

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_pair
from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track, track_of
from knead.core.inbetween import SpanPlan
from knead.core.model import Hint, HintEnd, Shape, Take
from knead.core.outline.laying.grid import turning
from knead.core.outline.naming import hint_name
from knead.core.outline.ties import hint_end
from knead.core.snags.figures import Figures, measured, outlines

MOST = 4
LOOKED_AT = 4  # the most distorted pairs
FEATURES = 6  # tips, dents and corners looked at on an outline
TIMES = np.array([0.25, 0.5, 0.75])
WORTH = 0.05  # a gain smaller than this share is not worth a hint


@dataclass(frozen=True)
class Proposal:
    """A hint, and the share of its pair's distortion that it takes away, 0 to 1."""

    hint: Hint
    gain: float


def proposed(plan: SpanPlan, take: Take) -> list[Proposal]:
    """At most four hints, the best first."""
    hints = take.backwards.hints if plan.worked.backwards else take.hints
    measuring = [(pair, _figures(pair)) for pair in plan.worked.pairs if _may_improve(pair)]
    measuring.sort(key=lambda each: -each[1].whole * abs(each[0].first_points - each[0].first_centre).mean())
    taken = {hint.name for hint in take.hints}
    found: list[tuple[float, Proposal]] = []
    for pair, before in measuring[:LOOKED_AT]:
        weight = float(abs(pair.first_points - pair.first_centre).mean())
        own = tuple(hint for hint in hints if pair.pair.holds(hint.first.shape, hint.second.shape))
        found += [(p.gain * before.whole * weight, p) for p in _of_pair(pair, own, before, taken)]
    found.sort(key=lambda each: -each[0])
    best = [proposal for _, proposal in found[:MOST]]
    return [replace(each, hint=each.hint.backwards) for each in best] if plan.worked.backwards else best


def _may_improve(pair: PairPlan) -> bool:
    return bool(pair.first_id and pair.second_id and pair.pair.kind == "pair" and pair.contours[0].strain > 0.02)


def _figures(pair: PairPlan) -> Figures:
    return measured(outlines(pair, TIMES))


def _of_pair(pair: PairPlan, hints: tuple[Hint, ...], before: Figures, taken: set[str]) -> list[Proposal]:
    """Hints for one pair that has some, each chosen with those before it tied; a pair that is fine gets none."""
    found: list[Proposal] = []
    now, best = pair, before
    for _ in range(2):
        trials = [(hint, _tried(now, (*hints, hint))) for hint in _candidates(now, taken)]
        scored = [(trial_figures.whole, hint, trial) for hint, (trial, trial_figures) in trials]
        if not scored:
            break
        whole, hint, trial = min(scored, key=lambda each: round(each[0], 9))
        gain = (best.whole - whole) / max(before.whole, 1e-9)
        if gain < WORTH:
            break
        found.append(Proposal(hint, round(gain, 3)))
        taken.add(hint.name)
        now, best, hints = trial, _figures(trial), (*hints, hint)
    return found


def _tried(pair: PairPlan, hints: tuple[Hint, ...]) -> tuple[PairPlan, Figures]:
    take = Take(hints=hints, blend=pair.blend, tolerance=pair.tolerance)
    trial = plan_pair(pair.paint.first, pair.paint.second, take, pair.pair)
    trial = trial.on_course(pair.course, pair.welded)
    return trial, _figures(trial)


def _candidates(pair: PairPlan, taken: set[str]) -> list[Hint]:
    """Features of the first outline, each tied to features of the second near where it goes today."""
    first, second = pair.paint.first, pair.paint.second
    one, two = _longest(first), _longest(second)
    there = _features(two)
    hints = []
    for share in _features(one):
        point = one.points(np.array([share]))[0]
        today = pair.partner(point, True)
        if today is None:
            continue
        param, _ = two.nearest(np.array(today))
        now = float(two.shares(np.array([param]))[0])
        gaps = np.abs(np.mod(there - now + 0.5, 1.0) - 0.5) if two.closed else np.abs(there - now)
        near = there[(gaps > 0.012) & (gaps < 0.2)]
        order = np.argsort(gaps[(gaps > 0.012) & (gaps < 0.2)])
        for other in near[order][:2].tolist():
            hints.append(_hint(first, second, point, two.points(np.array([other]))[0], taken))
    return hints


def _hint(first: Shape, second: Shape, point: Floats, other: Floats, taken: set[str]) -> Hint:
    ends: list[HintEnd] = [hint_end(first, point, 1e-3), hint_end(second, other, 1e-3)]
    return Hint(name=hint_name(first, point, taken), first=ends[0], second=ends[1])


def _longest(shape: Shape) -> Track:
    return max((track_of(c) for c in shape.contours), key=lambda track: track.length)


def _features(track: Track) -> Floats:
    """Shares of the plainest tips, dents and corners, the ends of open outlines left out."""
    shares = np.linspace(0, 1, 97)[:-1] if track.closed else np.linspace(0, 1, 97)[4:-4]
    bend = np.abs(turning(track, shares)[:, 1])
    peak = (bend >= np.roll(bend, 1)) & (bend > np.roll(bend, -1)) & (bend > 0.35)
    corners, breaks = track.corners
    near = np.array([np.abs(corners - s).min(initial=1.0) < 0.015 for s in shares])
    places = np.concatenate([shares[peak & ~near], corners])
    weights = np.concatenate([bend[peak & ~near], breaks + 0.5])
    return np.asarray(places[np.argsort(-weights, kind="stable")][:FEATURES])
