"""Which shape becomes which: fixed pairs and lineage first, then the assignment with the least unlikeness."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats, Ints
from knead.core.geometry.similarity import Complexes, fit_robustly
from knead.core.model import Drawing, PairChoice, Shape
from knead.core.pairing.chains import Chain, chains
from knead.core.pairing.cheapest import cheapest
from knead.core.pairing.groups import absorbed, grouped, parted_pairs
from knead.core.pairing.likeness import Portrait, given_name, portrait, unlikeness
from knead.core.pairing.pairs import ShapePair, chained_pair

ALONE = 0.85  # the price of appearing or vanishing: a pair dearer than two of these is not made
PLACE, FAR = 1.1, 0.8  # weight of a displacement by the size of the drawing, and where it stops counting


def pair_shapes(
    first: Drawing, second: Drawing, choices: Sequence[PairChoice], ties: Sequence[tuple[str, str]] = ()
) -> list[ShapePair]:
    """Pair all shapes of two drawings. Choices that name a missing shape are passed over.

    Several choices of one shape join or divide it. `ties` are shapes that hints tie: they become each other, or parts
    of lines that do.
    """
    left, right = {s.id: s for s in first.shapes}, {s.id: s for s in second.shapes}
    one, two = dict(left), dict(right)
    found: list[ShapePair] = []

    def settle(a: str | None, b: str | None, confidence: float, reason: str) -> None:
        if (a is None or a in left) and (b is None or b in right):
            found.append(ShapePair(a, b, confidence, reason))
            left.pop(a or "", None)
            right.pop(b or "", None)

    for a, b in grouped([(c.first, c.second) for c in choices]):
        present = [s for s in a if s in left], [s for s in b if s in right]
        if len(present[0]) > 1 or len(present[1]) > 1:
            found += parted_pairs([one[s] for s in present[0]], [two[s] for s in present[1]], 1.0, "fixed by hand")
            for s in present[0]:
                del left[s]
            for s in present[1]:
                del right[s]
        else:
            settle(next(iter(a), None), next(iter(b), None), 1.0, "fixed by hand")
    for shape_id in [s for s in left if s in right]:
        settle(shape_id, shape_id, 0.99, "the same shape: its key was made from the other")
    for shape_id, twin in _same_names(left.values(), right.values()):
        settle(shape_id, twin, 0.95, "the same name in both keys")
    lines = chains(list(left.values())), chains(list(right.values()))
    lines, bound = _tied(lines, ties, left, right)
    for chain, twin_chain in bound:
        found.append(chained_pair(chain, twin_chain, 1.0, "tied by a hint"))
    settled = [(one[p.first], two[p.second]) for p in found if p.first and p.second]
    return absorbed(found + _by_likeness(*lines, settled, first, second), first.shapes, second.shapes)


def _tied(
    lines: tuple[list[Chain], list[Chain]],
    ties: Sequence[tuple[str, str]],
    left: dict[str, Shape],
    right: dict[str, Shape],
) -> tuple[tuple[list[Chain], list[Chain]], list[tuple[Chain, Chain]]]:
    """Chains that hints tie, taken out of those that likeness will pair."""
    one, two = list(lines[0]), list(lines[1])
    bound = []
    for a, b in ties:
        if a not in left or b not in right:
            continue
        here = next((c for c in one if a in c.ids), None)
        there = next((c for c in two if b in c.ids), None)
        if here is not None and there is not None:
            one.remove(here)
            two.remove(there)
            bound.append((here, there))
    return (one, two), bound


def _same_names(left: Iterable[Shape], right: Iterable[Shape]) -> list[tuple[str, str]]:
    """Ids of shapes whose given name is borne by one shape of each key only."""

    def lone(shapes: Iterable[Shape]) -> dict[str, str]:
        named = [(name, shape.id) for shape in shapes if (name := given_name(shape.name))]
        counts = Counter(name for name, _ in named)
        return {name: shape_id for name, shape_id in named if counts[name] == 1}

    one, two = lone(left), lone(right)
    return [(one[name], two[name]) for name in one if name in two]


@dataclass(frozen=True)
class _Sheet:
    """Lines and shapes of one key that are yet to be paired: one row each."""

    chains: tuple[Chain, ...]
    portraits: tuple[Portrait, ...]
    depths: Floats

    @property
    def centres(self) -> Complexes:
        return np.array([p.centre for p in self.portraits])


def _sheet(lines: Sequence[Chain], drawing: Drawing) -> _Sheet:
    depth = {s.id: k / max(len(drawing.shapes) - 1, 1) for k, s in enumerate(drawing.shapes)}
    wholes = [chain.whole()[0] for chain in lines]
    return _Sheet(tuple(lines), tuple(portrait(s) for s in wholes), np.array([depth[s.id] for s in wholes]))


@dataclass(frozen=True)
class _Assignment:
    """Which rows become which, at which costs; `price` counts loneliness too."""

    one: _Sheet
    two: _Sheet
    rows: Ints
    columns: Ints
    cost: Floats
    unlike: Floats

    @property
    def price(self) -> float:
        lonely = len(self.one.chains) + len(self.two.chains) - 2 * len(self.rows)
        return float(self.cost[self.rows, self.columns].sum()) + ALONE * lonely


def _by_likeness(
    left: list[Chain],
    right: list[Chain],
    settled: Sequence[tuple[Shape, Shape]],
    first: Drawing,
    second: Drawing,
) -> list[ShapePair]:
    if not left or not right:
        return [ShapePair(s.id, None, 0.9, "nothing is left to become") for c in left for s in c.shapes] + [
            ShapePair(None, s.id, 0.9, "nothing is left to come from") for c in right for s in c.shapes
        ]
    known = [(portrait(a), portrait(b)) for a, b in settled]

    def assigned(one: Sequence[Chain], two: Sequence[Chain]) -> _Assignment:
        return _assigned(_sheet(one, first), _sheet(two, second), known)

    best = assigned(left, right)
    # a line that was cut alike in both keys, or bends sharply at a cut in one of them, is better left cut
    for chain in [c for c in (*left, *right) if len(c.links) > 1]:
        loose = [
            [part for c in side.chains for part in (c.parts() if c is chain else [c])] for side in (best.one, best.two)
        ]
        other = assigned(loose[0], loose[1])
        if other.price < best.price:
            best = other
    return _named(best)


def _assigned(one: _Sheet, two: _Sheet, known: Sequence[tuple[Portrait, Portrait]]) -> _Assignment:
    """Assign in rounds: likeness with the place in the whole, then with the place the neighbours' motion says."""
    unlike = unlikeness(one.portraits, two.portraits)
    here, there = one.centres, two.centres
    wholes = [*one.portraits, *(k[0] for k in known)], [*two.portraits, *(k[1] for k in known)]
    size = max(_extent(wholes[1]), 1e-9)
    far = np.abs(_relative(wholes[0])[: len(here), None] - _relative(wholes[1])[None, : len(there)])
    cost = unlike + PLACE * np.minimum(far, FAR)
    rows, columns = cheapest(cost, ALONE)
    for _ in range(2):
        trust = np.array([_margin(cost, i, j) for i, j in zip(rows, columns, strict=True)])
        sources = np.concatenate([here[rows], [k[0].centre for k in known]])
        targets = np.concatenate([there[columns], [k[1].centre for k in known]])
        weights = np.concatenate([trust, np.ones(len(known))])
        if len(sources) < 2:
            break
        expected = _carried(here, sources, targets, weights + 0.05, size)
        cost = unlike + PLACE * np.minimum(np.abs(expected[:, None] - there[None]) / size, FAR)
        cost = cost + 0.1 * np.abs(one.depths[:, None] - two.depths[None])
        rows, columns = cheapest(cost, ALONE)
    return _Assignment(one, two, rows, columns, cost, unlike)


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


def _named(found: _Assignment) -> list[ShapePair]:
    """The pairs with their confidence and reason; leftovers that belong to a pair join it or divide it."""
    left, right, cost, unlike = found.one.chains, found.two.chains, found.cost, found.unlike
    pairs = []
    for i, j in zip(found.rows, found.columns, strict=True):
        margin = _margin(cost, i, j)
        confidence = float(np.clip(0.15 + 0.55 * margin + 0.3 * (1 - unlike[i, j] / (2 * ALONE)), 0.05, 0.98))
        pairs.append(chained_pair(left[i], right[j], round(confidence, 3), _reason(margin, unlike[i, j])))
    rows, columns = set(found.rows.tolist()), set(found.columns.tolist())
    for i, chain in enumerate(left):
        if i not in rows:
            reason = "no shape of the second key is like it"
            pairs += [ShapePair(shape.id, None, _lonely(cost[i]), reason) for shape in chain.shapes]
    for j, chain in enumerate(right):
        if j not in columns:
            reason = "no shape of the first key is like it"
            pairs += [ShapePair(None, shape.id, _lonely(cost[:, j]), reason) for shape in chain.shapes]
    return pairs


def _lonely(costs: Floats) -> float:
    return round(float(np.clip(0.4 + 0.5 * (costs.min() - ALONE), 0.1, 0.95)), 3)


def _reason(margin: float, unlike: float) -> str:
    likeness = "much alike in kind, paint and form" if unlike < 0.35 else "somewhat alike in kind, paint and form"
    return f"{likeness}; " + ("nothing else comes near" if margin > 0.6 else "another shape is nearly as like")
