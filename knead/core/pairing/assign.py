"""Which shape becomes which: fixed pairs and lineage first, then the assignment with the least unlikeness."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import linear_sum_assignment

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import Complexes, fit_robustly
from knead.core.model import Drawing, PairChoice, Shape
from knead.core.pairing.likeness import Portrait, given_name, portrait, unlikeness

ALONE = 0.75  # the price of appearing or vanishing: a pair dearer than two of these is not made
PLACE, FAR = 1.1, 0.8  # weight of a displacement by the size of the drawing, and where it stops counting


@dataclass(frozen=True)
class ShapePair:
    """A pair by shape ids; one side is None where a shape appears or vanishes."""

    first: str | None
    second: str | None
    confidence: float
    reason: str


def pair_shapes(first: Drawing, second: Drawing, choices: Sequence[PairChoice]) -> list[ShapePair]:
    """Pair all shapes of two drawings. Choices that name a missing shape are passed over."""
    left, right = {s.id: s for s in first.shapes}, {s.id: s for s in second.shapes}
    found: list[ShapePair] = []

    def settle(a: str | None, b: str | None, confidence: float, reason: str) -> None:
        if (a is None or a in left) and (b is None or b in right):
            found.append(ShapePair(a, b, confidence, reason))
            left.pop(a or "", None)
            right.pop(b or "", None)

    for choice in choices:
        settle(choice.first, choice.second, 1.0, "fixed by hand")
    for shape_id in [s for s in left if s in right]:
        settle(shape_id, shape_id, 0.99, "the same shape: its key was made from the other")
    for shape_id, twin in _same_names(left.values(), right.values()):
        settle(shape_id, twin, 0.95, "the same name in both keys")
    settled = [(first.shape(p.first), second.shape(p.second)) for p in found if p.first and p.second]
    return found + _by_likeness(list(left.values()), list(right.values()), settled, first, second)


def _same_names(left: Iterable[Shape], right: Iterable[Shape]) -> list[tuple[str, str]]:
    """Ids of shapes whose given name is borne by one shape of each key only."""

    def lone(shapes: Iterable[Shape]) -> dict[str, str]:
        named = [(name, shape.id) for shape in shapes if (name := given_name(shape.name))]
        counts = Counter(name for name, _ in named)
        return {name: shape_id for name, shape_id in named if counts[name] == 1}

    one, two = lone(left), lone(right)
    return [(one[name], two[name]) for name in one if name in two]


def _by_likeness(
    left: list[Shape],
    right: list[Shape],
    settled: Sequence[tuple[Shape | None, Shape | None]],
    first: Drawing,
    second: Drawing,
) -> list[ShapePair]:
    """Assign in two rounds: likeness with the place in the whole, then with the place the neighbours' motion says."""
    if not left or not right:
        return [ShapePair(s.id, None, 0.9, "nothing is left to become") for s in left] + [
            ShapePair(None, s.id, 0.9, "nothing is left to come from") for s in right
        ]
    one, two = [portrait(s) for s in left], [portrait(s) for s in right]
    known = [(portrait(a).centre, portrait(b).centre) for a, b in settled if a and b]
    unlike = unlikeness(one, two)
    here, there = np.array([p.centre for p in one]), np.array([p.centre for p in two])
    size = max(_extent(two), 1e-9)
    cost = unlike + PLACE * np.minimum(np.abs(_relative(one)[:, None] - _relative(two)[None]), FAR)
    rows, columns = _solve(cost)
    for _ in range(2):
        trust = np.array([_margin(cost, i, j) for i, j in zip(rows, columns, strict=True)])
        sources = np.concatenate([here[rows], [k[0] for k in known]])
        targets = np.concatenate([there[columns], [k[1] for k in known]])
        weights = np.concatenate([trust, np.ones(len(known))])
        if len(sources) < 2:
            break
        expected = _carried(here, sources, targets, weights + 0.05, size)
        cost = unlike + PLACE * np.minimum(np.abs(expected[:, None] - there[None]) / size, FAR)
        cost = cost + 0.1 * _order_gap(left, right, first, second)
        rows, columns = _solve(cost)
    return _named(left, right, rows, columns, cost, unlike)


def _solve(cost: Floats) -> tuple[Floats, Floats]:
    """Rows and columns that are paired in the cheapest assignment with priced loneliness."""
    n, m = cost.shape
    whole = np.full((n + m, n + m), ALONE)
    whole[:n, :m] = cost
    whole[n:, m:] = 0.0
    rows, columns = linear_sum_assignment(whole)
    real = (rows < n) & (columns < m)
    return rows[real], columns[real]


def _margin(cost: Floats, i: int, j: int) -> float:
    """How much better a pair is than what either side could do instead, 0 to 1."""
    others = np.concatenate([np.delete(cost[i], j), np.delete(cost[:, j], i), [2 * ALONE]])
    return float(np.clip((others.min() - cost[i, j]) / 0.6, 0.0, 1.0))


def _carried(here: Complexes, sources: Complexes, targets: Complexes, weights: Floats, size: float) -> Complexes:
    """Where centres are expected: the robust motion of the whole, corrected by what near pairs do besides."""
    a, b = fit_robustly(sources, targets, weights)
    rest = targets - (a * sources + b)
    near = np.exp(-((np.abs(here[:, None] - sources[None]) / (0.25 * size)) ** 2)) * weights
    own = np.abs(here[:, None] - sources[None]) < 1e-9  # a pair must not vouch for itself
    near = np.where(own, 0.0, near)
    pull = near.sum(axis=1)
    return np.asarray(a * here + b + (near @ rest) / (pull + 0.3), dtype=complex)


def _relative(portraits: Sequence[Portrait]) -> Complexes:
    centres = np.array([p.centre for p in portraits])
    return np.asarray((centres - centres.mean()) / max(_extent(portraits), 1e-9), dtype=complex)


def _extent(portraits: Sequence[Portrait]) -> float:
    """The size of a drawing: how far its shapes reach from their mean centre."""
    centres = np.array([p.centre for p in portraits])
    return float(np.max(np.abs(centres - centres.mean()) + [p.size for p in portraits]))


def _order_gap(left: list[Shape], right: list[Shape], first: Drawing, second: Drawing) -> Floats:
    """Difference of the places in the stack, 0 to 1."""
    depth_one = {s.id: k / max(len(first.shapes) - 1, 1) for k, s in enumerate(first.shapes)}
    depth_two = {s.id: k / max(len(second.shapes) - 1, 1) for k, s in enumerate(second.shapes)}
    return np.abs(np.subtract.outer([depth_one[s.id] for s in left], [depth_two[s.id] for s in right]))


def _named(
    left: list[Shape], right: list[Shape], rows: Floats, columns: Floats, cost: Floats, unlike: Floats
) -> list[ShapePair]:
    found = []
    for i, j in zip(rows, columns, strict=True):
        margin = _margin(cost, i, j)
        confidence = float(np.clip(0.15 + 0.55 * margin + 0.3 * (1 - unlike[i, j] / (2 * ALONE)), 0.05, 0.98))
        found.append(ShapePair(left[i].id, right[j].id, round(confidence, 3), _reason(margin, unlike[i, j])))
    paired_rows, paired_columns = set(rows.tolist()), set(columns.tolist())
    for i, shape in enumerate(left):
        if i not in paired_rows:
            found.append(ShapePair(shape.id, None, _lonely(cost[i]), "no shape of the second key is like it"))
    for j, shape in enumerate(right):
        if j not in paired_columns:
            found.append(ShapePair(None, shape.id, _lonely(cost[:, j]), "no shape of the first key is like it"))
    return found


def _lonely(costs: Floats) -> float:
    return round(float(np.clip(0.4 + 0.5 * (costs.min() - ALONE), 0.1, 0.95)), 3)


def _reason(margin: float, unlike: float) -> str:
    likeness = "much alike in kind, paint and form" if unlike < 0.35 else "somewhat alike in kind, paint and form"
    return f"{likeness}; " + ("nothing else comes near" if margin > 0.6 else "another shape is nearly as like")
