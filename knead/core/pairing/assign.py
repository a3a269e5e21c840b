"""Which shape becomes which: fixed pairs and lineage first, then the assignment with the least unlikeness."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.geometry.shut import shut
from knead.core.model import Drawing, PairChoice, Shape
from knead.core.pairing.chains import Chain, chains
from knead.core.pairing.doubt import strains_less
from knead.core.pairing.foremost import foremost
from knead.core.pairing.groups import absorbed, grouped, parted_pairs, with_lips
from knead.core.pairing.junctions import by_junctions
from knead.core.pairing.leftovers import with_leftovers
from knead.core.pairing.likeness import Portrait, form_gap, given_name, portrait, unlikeness
from knead.core.pairing.pairs import TIE, TIED, ShapePair, chained_pair
from knead.core.pairing.regroup import regrouped
from knead.core.pairing.retraced import retraced
from knead.core.pairing.rounds import Rows, in_rounds, margin
from knead.core.pairing.symmetry import symmetric

ALONE = 0.85  # the price of appearing or vanishing: a pair dearer than two of these is not made
ODD, PLAIN, SEVERAL = 1.4, 0.6, 5  # the price of an odd pair where one in the middle of so many costs no more than that
SOONER_CUT = 0.1  # how much dearer strokes may be that are left as they were drawn, where a line has corners
MISSING = 0.5  # how much of what a line costs must be saved, so that its strokes are each looked at
DEPTH = 0.1  # what it costs to go from the very front to the very back
TAKEN = 0.6  # what it costs to become another colour where the very same is there
FAINT = 0.3  # how much paint counts where all may have been painted anew
ALIKE, IN_PLACE = 0.5, 0.25  # how unlike in form what was painted anew is, and how far off most of it, by its size
LARGE = 0.8  # what is smaller than this, by the largest of its kind, is plainly smaller
SAME_FORM, SAME_PLACE = 0.2, 0.05  # how unlike, and how far off by its size, what is the same in another colour is
MOST = 0.7  # most of a drawing, by the sizes of its shapes
SAME, SHADE = 1e-6, 0.04  # distances of colours that are the same, and of those that plainly differ
DARK, LIGHT = 0.1, 0.98  # black and white are everybody's: that they are the same says nothing


def pair_shapes(
    first: Drawing, second: Drawing, choices: Sequence[PairChoice], ties: Sequence[tuple[str, str]] = ()
) -> list[ShapePair]:
    """Pair all shapes of two drawings. Choices that name a missing shape are passed over.

    Several choices of one shape join or divide it. `ties` are shapes that hints tie: they become each other, or parts
    of lines that do.
    """
    first, second = (side.model_copy(update={"shapes": tuple(map(shut, side.shapes))}) for side in (first, second))
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
    for pair in _retraced(left, right, ties):
        found.append(pair)
        left.pop(pair.first or "", None)
        right.pop(pair.second or "", None)
    lines = chains(list(left.values())), chains(list(right.values()))
    lines, bound = _tied(lines, ties, left, right)
    by_ties = [chained_pair(chain, twin_chain, TIE, TIED) for chain, twin_chain in bound]
    settled = [(one[p.first], two[p.second]) for p in found + by_ties if p.first and p.second and not p.alone]
    likely = by_ties + _by_likeness(*lines, settled, first, second)
    likely = _by_arms(likely, found, first, second, ties)
    pairs = foremost(found + likely, first.shapes, second.shapes)
    free = [p for p in pairs if p.kind == "pair" and p not in found]
    pairs = regrouped(pairs, free, first.shapes, second.shapes)
    pairs = with_lips(absorbed(pairs, first.shapes, second.shapes), first.shapes, second.shapes)
    return with_leftovers(pairs, first.shapes, second.shapes)


def _by_arms(
    likely: list[ShapePair],
    found: Sequence[ShapePair],
    first: Drawing,
    second: Drawing,
    ties: Sequence[tuple[str, str]],
) -> list[ShapePair]:
    """The likely pairs, with strokes that meet in threes paired by the arms that meet; those `found` before stand."""
    one, two = ({s.id: s for s in side.shapes} for side in (first, second))
    looks: dict[tuple[str, str], tuple[Portrait, Portrait]] = {}

    def look(a: str, b: str) -> tuple[Portrait, Portrait]:
        return looks.get((a, b)) or looks.setdefault((a, b), (portrait(one[a]), portrait(two[b])))

    def assigned(rest: Sequence[ShapePair], arms: Sequence[Chain], others: Sequence[Chain]) -> Rows:
        known = [look(p.first, p.second) for p in (*found, *rest) if p.first and p.second and not p.alone]
        return _assigned(_sheet(arms, first, {}), _sheet(others, second, {}), known).pairs

    return by_junctions(likely, first.shapes, second.shapes, ties, assigned)


def _retraced(left: dict[str, Shape], right: dict[str, Shape], ties: Sequence[tuple[str, str]]) -> list[ShapePair]:
    """Lines and their parts in the other key, without those of which hints say something else."""
    found = retraced(list(left.values()), list(right.values()))
    astray = set(ties) - {(p.first, p.second) for p in found}
    if not found or not astray:
        return found
    gone = {a for a, _ in astray}, {b for _, b in astray}
    rest = [
        [shape for name, shape in side.items() if name not in of] for side, of in zip((left, right), gone, strict=True)
    ]
    return retraced(*rest)


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


def _sheet(lines: Sequence[Chain], drawing: Drawing, known: dict[tuple[str, ...], Portrait]) -> _Sheet:
    """The sheet of lines of a drawing; portraits are taken from those `known`, and put there."""
    depth = {s.id: k / max(len(drawing.shapes) - 1, 1) for k, s in enumerate(drawing.shapes)}
    keys = [(*chain.ids, chain.lead.contours[0].nodes[0].id) for chain in lines]  # pieces have the id of the whole
    for key, chain in zip(keys, lines, strict=True):
        if key not in known:
            known[key] = portrait(chain.whole()[0])
    portraits = tuple(known[key] for key in keys)
    return _Sheet(tuple(lines), portraits, np.array([depth[chain.lead.id] for chain in lines]))


@dataclass(frozen=True)
class _Assignment:
    """Which lines and shapes of the two keys become which, and how unlike they are."""

    one: _Sheet
    two: _Sheet
    pairs: Rows
    unlike: Floats

    @property
    def paired(self) -> list[tuple[Chain, Chain]]:
        """The lines and shapes that become each other."""
        pairs = zip(self.pairs.rows, self.pairs.columns, strict=True)
        return [(self.one.chains[i], self.two.chains[j]) for i, j in pairs]

    @property
    def way(self) -> list[tuple[Chain | None, Chain | None]]:
        """What becomes what, and with None, what is left over."""
        rows, columns = set(self.pairs.rows.tolist()), set(self.pairs.columns.tolist())
        left = [(chain, None) for k, chain in enumerate(self.one.chains) if k not in rows]
        right = [(None, chain) for k, chain in enumerate(self.two.chains) if k not in columns]
        return [*self.paired, *left, *right]

    def price_of_whole(self, one: Chain, two: Chain) -> float:
        """What all strokes of two lines that become each other cost."""
        cost = self.pairs.cost[self.one.chains.index(one), self.two.chains.index(two)]
        return max(len(one.links), len(two.links)) * float(cost)

    def sheet(self, side: int) -> _Sheet:
        """The sheet of the first key, 0, or the second, 1."""
        return self.two if side else self.one

    def prices(self, side: int) -> dict[str, float]:
        """What each stroke and shape of a key costs that has a partner, by its id: as much as its whole line."""
        lines, found = self.sheet(side).chains, dict[str, float]()
        for pair in zip(self.pairs.rows.tolist(), self.pairs.columns.tolist(), strict=True):
            found |= dict.fromkeys(lines[pair[side]].ids, float(self.pairs.cost[pair]))
        return found

    @property
    def price_of_strokes(self) -> float:
        """What all strokes cost: each as much as the line that it is part of."""
        counts = [np.array([len(chain.links) for chain in sheet.chains]) for sheet in (self.one, self.two)]
        rows, columns = self.pairs.rows, self.pairs.columns
        paired = np.maximum(counts[0][rows], counts[1][columns])
        lonely = counts[0].sum() + counts[1].sum() - counts[0][rows].sum() - counts[1][columns].sum()
        return float(paired @ self.pairs.cost[rows, columns] + ALONE * lonely)


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
    looks: tuple[dict[tuple[str, ...], Portrait], ...] = ({}, {})  # what is cut otherwise is mostly the same

    def assigned(one: Sequence[Chain], two: Sequence[Chain]) -> _Assignment:
        return _assigned(_sheet(one, first, looks[0]), _sheet(two, second, looks[1]), known)

    def loosened(found: _Assignment, cut: Sequence[Chain]) -> _Assignment:
        sides = found.one.chains, found.two.chains
        one, two = ([part for c in side for part in (c.parts() if c in cut else [c])] for side in sides)
        return assigned(one, two)

    best = assigned(left, right)
    # a line that was cut alike in both keys, or bends sharply at a cut in one of them, is better left cut
    for chain in [c for c in (*left, *right) if len(c.links) > 1]:
        other = loosened(best, [chain])
        if other.pairs.price(ALONE) < best.pairs.price(ALONE):
            best = other
    # strokes that meet at a corner may be one line that was cut elsewhere in the other key
    bent = [chains([shape for chain in side for shape in chain.shapes], True) for side in (left, right)]
    if (len(bent[0]), len(bent[1])) != (len(left), len(right)):
        every = assigned(bent[0], bent[1])
        some = assigned(*(_straightened(best, every, side) for side in (0, 1)))
        for other in sorted((every, some), key=lambda each: each.price_of_strokes):
            if _is_better(other, best):
                best = other
    # a line of which a stroke is missing in one key is better left cut in both: that saves most of what it costs
    for both in best.paired:
        if all(len(chain.links) > 1 for chain in both):
            other = loosened(best, both)
            if best.price_of_strokes - other.price_of_strokes > MISSING * best.price_of_whole(*both):
                best = other
    return _named(_without_odd(_recoloured(best, known) or best))


def _without_odd(found: _Assignment) -> _Assignment:
    """The same without what is much unlike its partner, in a drawing in which most are plainly what they were."""
    rows, columns, cost = found.pairs.rows, found.pairs.columns, found.pairs.cost
    costs = cost[rows, columns]
    if len(costs) < SEVERAL or np.median(costs) > PLAIN:
        return found
    keep = costs < ODD
    return replace(found, pairs=Rows(rows[keep], columns[keep], cost))


def _is_better(other: _Assignment, best: _Assignment) -> bool:
    """Whether lines are better cut the other way: by the price of all strokes, and by that of all lines.

    Where the two disagree, what would become of the lines decides.
    """
    by_strokes = other.price_of_strokes + SOONER_CUT < best.price_of_strokes
    if by_strokes == (other.pairs.price(ALONE) < best.pairs.price(ALONE)):
        return by_strokes
    judged = strains_less(other.way, best.way)
    return by_strokes if judged is None else judged


def _straightened(straight: _Assignment, bent: _Assignment, side: int) -> list[Chain]:
    """The lines of a key that go on round corners, without those that are dearer by that, or have no partner."""
    before, after = straight.prices(side), bent.prices(side)
    lines = straight.sheet(side).chains
    line_of = {name: k for k, line in enumerate(lines) for name in line.ids}
    found: list[Chain] = []
    for chain in bent.sheet(side).chains:
        parts = [lines[k] for k in sorted({line_of[name] for name in chain.ids})]
        cheaper = sum(after.get(name, np.inf) - before.get(name, ALONE) for name in chain.ids) <= 0.0
        whole = sum(len(line.links) for line in parts) == len(chain.links)
        found += parts if whole and not cheaper else [chain]
    return found


def _recoloured(found: _Assignment, known: Sequence[tuple[Portrait, Portrait]]) -> _Assignment | None:
    """The same with hardly a look at paint, if more of a drawing then has a partner, and most of it is in its place."""
    one, two = found.one, found.two
    if len(found.pairs.rows) == min(len(one.portraits), len(two.portraits)):
        return None
    other = _assigned(one, two, known, FAINT)
    pairs = [(one.portraits[i], two.portraits[j]) for i, j in zip(other.pairs.rows, other.pairs.columns, strict=True)]
    if len(pairs) <= len(found.pairs.rows) or any(form_gap([a], [b])[0, 0] > ALIKE for a, b in pairs):
        return None
    sizes = np.array([max(a.size, b.size) for a, b in pairs])
    in_place = np.abs([a.centre - b.centre for a, b in pairs]) <= IN_PLACE * sizes
    return other if sizes[in_place].sum() >= MOST * sizes.sum() else None


def _assigned(one: _Sheet, two: _Sheet, known: Sequence[tuple[Portrait, Portrait]], paints: float = 1.0) -> _Assignment:
    unlike = unlikeness(one.portraits, two.portraits, paints)
    unlike = unlike + paints * TAKEN * _another_has_it(one.portraits, two.portraits)
    stays = _largest_stays(one.portraits, two.portraits)
    if stays is not None:
        i, j = stays
        unlike[i, j] = unlikeness(one.portraits[i : i + 1], two.portraits[j : j + 1], FAINT)[0, 0]
    unlike = unlike + DEPTH * np.abs(one.depths[:, None] - two.depths[None])
    found = in_rounds(one.portraits, two.portraits, unlike, known, ALONE)
    return _Assignment(one, two, symmetric(one.portraits, two.portraits, found, ALONE) or found, unlike)


def _largest_stays(one: Sequence[Portrait], two: Sequence[Portrait]) -> tuple[int, int] | None:
    """The plainly largest fill of both keys, if it is the same form in the same place, as a face that blushes."""
    i, j = (int(np.argmax([look.size * look.kind[0] for look in side])) for side in (one, two))
    a, b = one[i], two[j]
    there = abs(a.centre - b.centre) < SAME_PLACE * a.size and np.array_equal(a.kind, b.kind)
    if not there or form_gap([a], [b])[0, 0] >= SAME_FORM:
        return None
    rivals = [
        look.size / side[k].size
        for side, k in ((one, i), (two, j))
        for n, look in enumerate(side)
        if n != k and np.array_equal(look.kind, side[k].kind)
    ]
    return (i, j) if max(rivals, default=0.0) < LARGE else None


def _another_has_it(one: Sequence[Portrait], two: Sequence[Portrait]) -> NDArray[np.bool_]:
    """Whether a pair's paints plainly differ, and another shape of the other key has the very one, shape (n, m)."""
    first, second = (np.array([_paint(portrait) for portrait in side]).reshape(-1, 4) for side in (one, two))
    gaps = np.linalg.norm(first[:, None] - second[None], axis=2)
    same = (gaps < SAME) & (first[:, :1] > DARK) & (first[:, :1] < LIGHT)
    return np.asarray((gaps > SHADE) & (same.any(axis=1)[:, None] | same.any(axis=0)[None]))


def _paint(portrait: Portrait) -> Floats:
    paint = portrait.stroke if portrait.fill is None else portrait.fill
    return np.full(4, -1.0) if paint is None else paint


def _named(found: _Assignment) -> list[ShapePair]:
    """The pairs with their confidence and reason; leftovers that belong to a pair join it or divide it."""
    left, right, cost, unlike = found.one.chains, found.two.chains, found.pairs.cost, found.unlike
    pairs = []
    for i, j in zip(found.pairs.rows, found.pairs.columns, strict=True):
        clear = margin(cost, i, j, ALONE)
        confidence = float(np.clip(0.15 + 0.55 * clear + 0.3 * (1 - unlike[i, j] / (2 * ALONE)), 0.05, 0.98))
        pairs.append(chained_pair(left[i], right[j], round(confidence, 3), _reason(clear, unlike[i, j])))
    rows, columns = set(found.pairs.rows.tolist()), set(found.pairs.columns.tolist())
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


def _reason(clear: float, unlike: float) -> str:
    likeness = "much alike in kind, paint and form" if unlike < 0.35 else "somewhat alike in kind, paint and form"
    return f"{likeness}; " + ("nothing else comes near" if clear > 0.6 else "another shape is nearly as like")
