"""Which shape becomes which: fixed pairs and lineage first, then the assignment with the least unlikeness."""

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, median
from knead.core.geometry.shut import shut
from knead.core.model import Drawing, PairChoice, Shape
from knead.core.outline.alike import runs_back
from knead.core.pairing.assign.assignment import ALONE, FAINT, Assignment, assigned, sheet_of
from knead.core.pairing.assign.belonging import Belonging, Owners, are_in_doubt, drawn_on, threaded_on
from knead.core.pairing.assign.likeness import Portrait, form_gap, given_name, portrait
from knead.core.pairing.assign.parts import in_common_parts
from knead.core.pairing.assign.rounds import Rows, margin
from knead.core.pairing.assign.tips import Grounds, Tips
from knead.core.pairing.chains import Chain, chains
from knead.core.pairing.lines.around import in_order_around
from knead.core.pairing.lines.cuts import best_cut
from knead.core.pairing.lines.ink import edges_of
from knead.core.pairing.lines.junctions import by_junctions
from knead.core.pairing.lines.levels import by_levels
from knead.core.pairing.lines.own_edge import along_own_edges
from knead.core.pairing.pairs import TIE, TIED, ShapePair, Turning, chained_pair, forms_of
from knead.core.pairing.refine.boxes import on_boxes
from knead.core.pairing.refine.facing import facing
from knead.core.pairing.refine.joints import by_joints
from knead.core.pairing.refine.order import in_order
from knead.core.pairing.refine.owned import with_their_owners
from knead.core.pairing.refine.roots import by_roots
from knead.core.pairing.refine.strings import in_line
from knead.core.pairing.refine.touching import with_what_they_touch
from knead.core.pairing.settled.columns import staying_side_by_side
from knead.core.pairing.settled.descent import descended
from knead.core.pairing.settled.retraced import retraced
from knead.core.pairing.settled.standing import standing
from knead.core.pairing.settled.unchanged import unchanged
from knead.core.pairing.unpaired.foremost import foremost
from knead.core.pairing.unpaired.groups import absorbed, grouped, parted_pairs, with_lips
from knead.core.pairing.unpaired.leftovers import as_their_like, with_leftovers
from knead.core.pairing.unpaired.regroup import regrouped

ODD, PLAIN, SEVERAL = 1.4, 0.6, 5  # the price of an odd pair where one in the middle of so many costs no more than that
LEAPS, CALM, OTHER = 0.5, 4.0, 0.3  # what the place of what leaps costs, alone and by that of most; how unlike it is
OFF = 1.5  # and how far it goes, by its size in both keys
ALIKE, IN_PLACE = 0.5, 0.25  # how unlike in form what was painted anew is, and how far off most of it, by its size
BY_HAND = "fixed by hand"
STAYS, STAYING = 0.95, "it stays where it is, much as it is"
HIDDEN, SEEN = "a box that turns hides it in the other key", 0.8  # how sure that is
REASONS = {
    "ball": "it goes as what lies on a ball that turns",
    "box": "it goes as a side of a box that turns, or as what is on one",
}
AS_IT_WAS = 1e-3  # what goes less far than this, or grows by less, by its size, is as it was
MOST_SAME = 0.5  # where more of a drawing's shapes look the same in both keys, these are settled before the others
MOST = 0.7  # most of a drawing, by the sizes of its shapes

Group = tuple[tuple[str, ...], tuple[str, ...]]  # ids of shapes of the two keys that become each other


def pair_shapes(
    first: Drawing, second: Drawing, choices: Sequence[PairChoice], ties: Sequence[tuple[str, str]] = ()
) -> list[ShapePair]:
    """Pair all shapes of two drawings. Choices that name a missing shape are passed over.

    Several choices of one shape join or divide it. `ties` are shapes that hints tie: they become each other, or parts
    of lines that do. So does what plainly stays. Choices and ties that hold of themselves change no pair.
    """
    groups = _present(choices, first, second)
    said: list[Group] = []
    while True:
        found = _with_ties(first, second, said, ties)
        astray = [group for group in groups if group not in said and not _holds(found, group)]
        if not astray:
            return [_as_said(pair, groups) for pair in found]
        said += astray


def _with_ties(
    first: Drawing, second: Drawing, said: Sequence[Group], ties: Sequence[tuple[str, str]]
) -> list[ShapePair]:
    """All pairs, with what is said of some shapes."""
    asked: list[tuple[str, str]] = []
    side_by_side, same = _staying(first, second, said, ties)
    wanted = [*ties, *side_by_side, *same]
    settled = same if len(same) > MOST_SAME * min(len(first.shapes), len(second.shapes)) else []
    while True:
        found = _paired(first, second, said, asked, settled)
        told = {name for pair in found if pair.turning or pair.by_ends for name in (*pair.firsts, *pair.seconds)}
        wanted = [tie for tie in wanted if tie not in same or not told & {*tie}]
        broken = [tie for tie in wanted if tie not in asked and not any(pair.holds(*tie) for pair in found)]
        if not broken:
            found = [pair.tied() if any(pair.holds(*tie) for tie in ties) else _as_it_stays(pair) for pair in found]
            return _in_their_columns(found, side_by_side) if _any_moves(side_by_side, first, second) else found
        asked += broken


def _present(choices: Sequence[PairChoice], first: Drawing, second: Drawing) -> list[Group]:
    """What was chosen, of shapes that are there."""
    one, two = ({None} | {shape.id for shape in side.shapes} for side in (first, second))
    links = [(choice.first, choice.second) for choice in choices]
    return [(tuple(a), tuple(b)) for a, b in grouped([(a, b) for a, b in links if a in one and b in two])]


def _holds(pairs: Sequence[ShapePair], group: Group) -> bool:
    """Whether the shapes of a group become each other, and nothing else."""
    found = [pair for pair in pairs if {*pair.firsts} & {*group[0]} or {*pair.seconds} & {*group[1]}]
    links = {(a, b) for pair in found for a in pair.firsts or (None,) for b in pair.seconds or (None,)}
    return links == {(a, b) for a in group[0] or (None,) for b in group[1] or (None,)}


def _as_said(pair: ShapePair, groups: Sequence[Group]) -> ShapePair:
    chosen = any({*pair.firsts} & {*a} or {*pair.seconds} & {*b} for a, b in groups)
    return replace(pair, confidence=1.0, reason=BY_HAND) if chosen else pair


def _in_their_columns(pairs: list[ShapePair], side_by_side: Collection[tuple[str, str]]) -> list[ShapePair]:
    return [replace(pair, alone=True) if (pair.first, pair.second) in side_by_side else pair for pair in pairs]


def _as_it_stays(pair: ShapePair) -> ShapePair:
    """The pair; one that was tied as by a hint, and by none, was so since it stays."""
    stays = replace(pair, confidence=STAYS, reason=pair.reason.replace(TIED, STAYING))
    return stays if TIED in pair.reason else pair


def _any_moves(pairs: Iterable[tuple[str, str]], first: Drawing, second: Drawing) -> bool:
    """Whether any of the pairs is not just as it was: a trunk and legs that stay are no chart."""
    one, two = ({shape.id: shape for shape in side.shapes} for side in (first, second))
    looks = [(portrait(one[a]), portrait(two[b])) for a, b in pairs]
    return any(abs(a.centre - b.centre) + abs(a.size - b.size) > AS_IT_WAS * a.size for a, b in looks)


def _paired(
    first: Drawing,
    second: Drawing,
    said: Sequence[Group],
    ties: Sequence[tuple[str, str]],
    same: Sequence[tuple[str, str]],
) -> list[ShapePair]:
    first, second = (side.model_copy(update={"shapes": tuple(map(shut, side.shapes))}) for side in (first, second))
    first, second = in_common_parts(first, second)
    left, right = {s.id: s for s in first.shapes}, {s.id: s for s in second.shapes}
    one, two = dict(left), dict(right)
    found: list[ShapePair] = []

    def add(pairs: Iterable[ShapePair]) -> None:
        for pair in pairs:
            found.append(pair)
            left.pop(pair.first or "", None)
            right.pop(pair.second or "", None)

    def settle(a: str | None, b: str | None, confidence: float, reason: str) -> None:
        if (a is None or a in left) and (b is None or b in right):
            add(_of(left[a], right[b], confidence, reason) if a and b else [ShapePair(a, b, confidence, reason)])

    for a, b in said:
        if len(a) > 1 or len(b) > 1:
            add(parted_pairs([one[s] for s in a], [two[s] for s in b], 1.0, BY_HAND))
        else:
            settle(next(iter(a), None), next(iter(b), None), 1.0, BY_HAND)
    add(descended(list(left.values()), list(right.values())))
    for shape_id in [s for s in left if s in right]:
        settle(shape_id, shape_id, 0.99, "the same shape: its key was made from the other")
    for shape_id, twin in _same_names(left.values(), right.values()):
        settle(shape_id, twin, 0.95, "the same name in both keys")
    for shape_id, twin in same:
        settle(shape_id, twin, 0.95, "it looks the same in both keys, and so does most of them")
    fixed = [*found]
    add(_retraced(left, right, ties))
    lines = chains(list(left.values())), chains(list(right.values()))
    settled = [forms_of(p, one, two) for p in found if p.first and p.second]
    open_ties = [(a, b) for a, b in ties if a in left and b in right]
    ink = edges_of({s.id: s for s in first.shapes}), edges_of({s.id: s for s in second.shapes})
    owners = _owners(first, ink[0]), _owners(second, ink[1])
    grounds = Grounds.of(first.shapes), Grounds.of(second.shapes)
    likely = _by_likeness(*lines, settled, first, second, open_ties, owners, ink, grounds)
    likely = by_levels(_by_arms(likely, found, first, second, ties, ink, grounds), first.shapes, second.shapes)
    fixed += [p for p in likely if any(p.holds(*tie) for tie in ties)]
    inked = along_own_edges(found + likely, fixed, (one, two), ink)
    pairs = foremost(inked, first.shapes, second.shapes)
    free = [p for p in pairs if p.kind == "pair" and p not in found]
    pairs = regrouped(pairs, free, first.shapes, second.shapes)
    pairs = with_lips(absorbed(pairs, first.shapes, second.shapes), first.shapes, second.shapes)
    pairs = with_leftovers(pairs, first.shapes, second.shapes)
    return as_their_like(pairs, first.shapes, second.shapes)


def _of(first: Shape, second: Shape, confidence: float, reason: str) -> list[ShapePair]:
    """The pair of two shapes, perhaps of a line with the stretches that it has in the other key.

    Of rings, unless the one was made from the other, each may have been begun elsewhere.
    """
    back = any(runs_back(a, b) or runs_back(b, a) for a in first.contours for b in second.contours)
    parts = [] if back else descended([first], [second]) or retraced([first], [second])
    if parts:
        return [replace(pair, confidence=confidence, reason=reason) for pair in parts]
    if {*first.node_ids} & {*second.node_ids}:
        return [ShapePair(first.id, second.id, confidence, reason)]
    (one,), (two,) = chains([first]), chains([second])
    return [chained_pair(one, two, confidence, reason)]


def _by_arms(
    likely: list[ShapePair],
    found: Sequence[ShapePair],
    first: Drawing,
    second: Drawing,
    ties: Sequence[tuple[str, str]],
    ink: tuple[Collection[str], Collection[str]],
    grounds: tuple[Grounds, Grounds],
) -> list[ShapePair]:
    """The likely pairs, with strokes that meet in threes paired by the arms that meet; those `found` before stand.

    The ink of fills stands, too.
    """
    one, two = ({s.id: s for s in side.shapes} for side in (first, second))

    def assign(rest: Sequence[ShapePair], arms: Sequence[Chain], others: Sequence[Chain]) -> Rows:
        stand = [forms_of(p, one, two) for p in (*found, *rest) if p.first and p.second and not p.alone]
        known = [(portrait(a), portrait(b)) for a, b in stand]
        tips = Tips(*grounds, {(a, b) for p in (*found, *rest) for a in p.firsts for b in p.seconds})
        return assigned(sheet_of(arms, first, {}), sheet_of(others, second, {}), known, tips=tips).pairs

    sides = [[s for s in side.shapes if s.id not in own] for side, own in zip((first, second), ink, strict=True)]
    pairs = by_junctions(likely, sides[0], sides[1], ties, assign)
    return in_order_around(pairs, found, first.shapes, second.shapes, ties, assign)


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


def _staying(
    first: Drawing, second: Drawing, said: Sequence[Group], ties: Sequence[tuple[str, str]]
) -> tuple[list[tuple[str, str]], list[tuple[str, str]]]:
    """Ids of shapes that stay in their columns, and of others that look the same, unless something else was said."""
    chosen = {name for group in said for side in group for name in side}
    chosen |= {shape.id for shape in first.shapes} & {shape.id for shape in second.shapes}
    one, two = ([shape for shape in side.shapes if shape.id not in chosen] for side in (first, second))
    side_by_side = staying_side_by_side(one, two)
    known = {name for pair in side_by_side for name in pair}
    same = unchanged(*([shape for shape in side if shape.id not in known] for side in (one, two)))
    tied = {name for tie in ties for name in tie}
    return [p for p in side_by_side if p in ties or not tied & {*p}], [p for p in same if p in ties or not tied & {*p}]


def _same_names(left: Collection[Shape], right: Collection[Shape]) -> list[tuple[str, str]]:
    """Ids of shapes whose given name is borne by one shape of each key only, or by one within a part of that name."""

    def lone(shapes: Collection[Shape], with_part: bool) -> dict[tuple[str | None, str], str]:
        named = [((s.part if with_part else None, name), s.id) for s in shapes if (name := given_name(s.name))]
        counts = Counter(name for name, _ in named)
        return {name: shape_id for name, shape_id in named if counts[name] == 1}

    sides = [(lone(left, with_part), lone(right, with_part)) for with_part in (True, False)]
    return [(one[name], two[name]) for one, two in sides for name in one if name in two]


def _owners(drawing: Drawing, ink: Mapping[str, Sequence[str]]) -> dict[str, frozenset[str]]:
    """What shapes belong to: the fills on which they are drawn, the lines on which beads are, or whose ink they are."""
    return drawn_on(drawing.shapes) | threaded_on(drawing.shapes) | {k: frozenset(fills) for k, fills in ink.items()}


def _by_likeness(
    left: list[Chain],
    right: list[Chain],
    settled: Sequence[tuple[Shape, Shape]],
    first: Drawing,
    second: Drawing,
    ties: Sequence[tuple[str, str]],
    owners: tuple[Owners, Owners],
    ink: tuple[Collection[str], Collection[str]],
    grounds: tuple[Grounds, Grounds],
) -> list[ShapePair]:
    if not left or not right:
        return [ShapePair(s.id, None, 0.9, "nothing is left to become") for c in left for s in c.shapes] + [
            ShapePair(None, s.id, 0.9, "nothing is left to come from") for c in right for s in c.shapes
        ]
    known = [(portrait(a), portrait(b)) for a, b in settled]
    looks: tuple[dict[tuple[str, ...], Portrait], ...] = ({}, {})  # what is cut otherwise is mostly the same

    stands = standing([c.lead for c in left], [c.lead for c in right])

    def assign(
        belonging: Belonging | None, tips: Tips | None, one: Sequence[Chain], two: Sequence[Chain]
    ) -> Assignment:
        sheets = sheet_of(one, first, looks[0]), sheet_of(two, second, looks[1])
        return on_boxes(facing(by_roots(assigned(*sheets, known, 1.0, ties, stands, belonging, tips))))

    def become(found: Assignment) -> list[tuple[str, str]]:
        paired = [(a.lead, b.lead) for a, b in found.paired]
        return [(a.id, b.id) for a, b in (*paired, *settled)]

    belonging = None
    if are_in_doubt(first.shapes, owners[0]) and are_in_doubt(second.shapes, owners[1]):
        belonging = Belonging(owners, ink, tuple(become(assign(None, None, left, right))))
    best = best_cut(left, right, partial(assign, belonging, None))
    tips = Tips(*grounds, {*become(best)})
    if tips.stray(best.one.chains, best.two.chains)[best.pairs.rows, best.pairs.columns].any():
        best = best_cut(left, right, partial(assign, belonging, tips))
    in_place = in_order(_without_odd(_recoloured(best, known) or best))
    last = in_line(by_joints(with_what_they_touch(in_place)))
    return _named(with_their_owners(last, belonging, [(a.id, b.id) for a, b in settled]) if belonging else last)


def _without_odd(found: Assignment) -> Assignment:
    """The same without what is much unlike its partner, in a drawing in which most are plainly what they were.

    So is what becomes something else far off, where most stay about where they were: the white of an eye that shuts
    is not the teeth of a mouth that opens.
    """
    rows, columns, cost = found.pairs.rows, found.pairs.columns, found.pairs.cost
    costs, unlike = cost[rows, columns], found.unlike[rows, columns]
    if len(costs) < SEVERAL or median(costs) > PLAIN:
        return found
    places = costs - unlike
    leaps = (places > max(LEAPS, CALM * float(np.quantile(places, MOST)))) & (unlike > OTHER) & _goes_off(found)
    odd = (costs >= ODD) | leaps & ~np.isin(rows, list(found.turning))
    keep = ~odd | np.array([found.are_tied(*pair) for pair in found.paired])
    return replace(found, pairs=Rows(rows[keep], columns[keep], cost))


def _goes_off(found: Assignment) -> NDArray[np.bool_]:
    """Which pairs of fills go far, by their size: lines may be limbs."""

    def goes_off(one: Portrait, two: Portrait) -> bool:
        fills = one.fill is not None and two.fill is not None
        return fills and abs(one.centre - two.centre) > OFF * (one.size + two.size)

    pairs = [(found.one.portraits[i], found.two.portraits[j]) for i, j in found.pairs.mates]
    return np.array([goes_off(*pair) for pair in pairs], dtype=bool)


def _recoloured(found: Assignment, known: Sequence[tuple[Portrait, Portrait]]) -> Assignment | None:
    """The same with hardly a look at paint, if more of a drawing then has a partner, and most of it is in its place.

    What a box hides as it turns wants none.
    """
    one, two = found.one, found.two
    if found.hidden or len(found.pairs.rows) == min(len(one.portraits), len(two.portraits)):
        return None
    other = assigned(one, two, known, FAINT, found.ties)
    pairs = [(one.portraits[i], two.portraits[j]) for i, j in other.pairs.mates]
    if len(pairs) <= len(found.pairs.rows) or any(form_gap([a], [b])[0, 0] > ALIKE for a, b in pairs):
        return None
    sizes = np.array([max(a.size, b.size) for a, b in pairs])
    in_place = np.abs([a.centre - b.centre for a, b in pairs]) <= IN_PLACE * sizes
    return other if sizes[in_place].sum() >= MOST * sizes.sum() else None


def _named(found: Assignment) -> list[ShapePair]:
    """The pairs with their confidence and reason; leftovers that belong to a pair join it or divide it."""
    left, right, cost, unlike = found.one.chains, found.two.chains, found.pairs.cost, found.unlike
    pairs = []
    for i, j in found.pairs.mates:
        turning = found.turning.get(i)
        clear = margin(cost, i, j, ALONE)
        confidence = float(np.clip(0.15 + 0.55 * clear + 0.3 * (1 - unlike[i, j] / (2 * ALONE)), 0.05, 0.98))
        reason = REASONS[turning.on] if turning else _reason(clear, unlike[i, j])
        why = (TIE, TIED) if found.are_tied(left[i], right[j]) else (round(confidence, 3), reason)
        pairs.append(replace(chained_pair(left[i], right[j], *why), turning=turning))
    return pairs + _alone(found, 0) + _alone(found, 1)


def _alone(found: Assignment, side: int) -> list[ShapePair]:
    """What is in one key alone, with how sure that is, and why."""
    lines, costs = found.sheet(side).chains, found.pairs.cost.T if side else found.pairs.cost
    unlike = f"no shape of the {'first' if side else 'second'} key is like it"
    pairs = []
    for k in found.alone(side):
        hidden = not found.hidden.isdisjoint(lines[k].ids)
        for name in lines[k].ids:
            one, two = (None, name) if side else (name, None)
            reason, turning = (HIDDEN, Turning("box")) if hidden else (unlike, None)
            sure = SEEN if hidden else _lonely(costs[k])
            pairs.append(ShapePair(one, two, sure, reason, turning=turning))
    return pairs


def _lonely(costs: Floats) -> float:
    return round(float(np.clip(0.4 + 0.5 * (costs.min() - ALONE), 0.1, 0.95)), 3)


def _reason(clear: float, unlike: float) -> str:
    likeness = "much alike in kind, paint and form" if unlike < 0.35 else "somewhat alike in kind, paint and form"
    return f"{likeness}; " + ("nothing else comes near" if clear > 0.6 else "another shape is nearly as like")
