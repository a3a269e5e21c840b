"""Lines that meet in threes: a stroke that goes on there in one key may end there in the other.

Strokes are cut where others end on them. If the arms that meet so cost plainly less when they are paired by
themselves, and meet in like places in both keys, they are; what is drawn through such a place then stays one line.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import product

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import fit
from knead.core.model import Shape
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.rounds import Rows
from knead.core.pairing.chains import Chain, Link, chains, may_chain, runs
from knead.core.pairing.lines.as_drawn import drawn_alike, torn
from knead.core.pairing.lines.net import Net, meetings_of, net_of, nets_of, star_of
from knead.core.pairing.pairs import ShapePair, chained_pair, form_in, forms_of

GAIN = 0.3  # how much must be saved
ALONE = 0.85  # what a stroke costs that stays alone
PLAIN = 0.25  # what costs less is plainly as it should be
DEARER = 0.15  # how much dearer each may be as it was drawn, and once more where others are torn apart
TELLING = 1e-6  # what is no dearer by more may be as it was
ROUND = 0.15  # how much dearer each arm may be, for those around a place to keep their order
SURE = 0.8  # how sure such pairs are
LAST, LAST_REASON = 0.5, "the only lines that are left, and they meet the same ones"
REASON = "they meet others in like places in both keys"

Assigned = Callable[[Sequence[ShapePair], Sequence[Chain], Sequence[Chain]], Rows]
AssignedOf = Callable[[Sequence[Chain], Sequence[Chain]], Rows]
Sides = tuple[Sequence[Shape], Sequence[Shape]]
Partners = dict[int, int]  # which arm of the first key becomes which of the second


def by_junctions(
    pairs: list[ShapePair],
    first: Sequence[Shape],
    second: Sequence[Shape],
    ties: Sequence[tuple[str, str]],
    assigned: Assigned,
) -> list[ShapePair]:
    """The pairs, with those of strokes that meet in threes made anew where that is plainly better.

    `assigned` pairs arms, with pairs that stand already, its first argument. No pair is made by which a hint would lose
    what it `ties`.
    """
    one, two = ({s.id: s for s in side if may_chain(s)} for side in (first, second))
    own = [p for p in pairs if one.keys() >= set(p.firsts) and two.keys() >= set(p.seconds)]
    settled = set[str]()
    for group in _groups(own, one, two):
        rest = [p for p in pairs if p not in group]
        strokes = [one[a] for p in group for a in p.firsts], [two[b] for p in group for b in p.seconds]
        drawn = _as_drawn(group, strokes, partial(assigned, rest))
        settled |= {a for p in drawn or () for a in p.firsts}
        pairs = _instead(pairs, group, drawn or _anew(group, strokes, partial(assigned, rest)), ties)
    others = meetings_of(list(two.values()))
    for here, firsts in meetings_of(list(one.values())):
        group = [p for p in pairs if firsts & {*p.firsts}]
        names = {a for p in group for a in p.firsts}, {b for p in group for b in p.seconds}
        there = [
            place for place, seconds in others if seconds <= names[1] and all(seconds & {*p.seconds} for p in group)
        ]
        if len(there) == 1 and not firsts & settled and firsts <= names[0] <= one.keys() and names[1] <= two.keys():
            rest = [p for p in pairs if p not in group]
            strokes = [one[a] for a in one if a in names[0]], [two[b] for b in two if b in names[1]]
            stars = star_of(strokes[0], here), star_of(strokes[1], there[0])
            pairs = _instead(pairs, group, _in_order_there(group, strokes, stars, partial(assigned, rest)), ties)
    return _with_the_last(pairs, one, two)


def _with_the_last(pairs: list[ShapePair], one: dict[str, Shape], two: dict[str, Shape]) -> list[ShapePair]:
    """The pairs, with the only lines that have no partner as one, if they are of one paint and meet the same lines."""
    lone = [p for p in pairs if (p.first in one and not p.second) or (p.second in two and not p.first)]
    if len(lone) != 2 or bool(lone[0].first) == bool(lone[1].first):
        return pairs
    first, second = sorted(lone, key=lambda p: not p.first)
    a, b = one[first.firsts[0]], two[second.seconds[0]]
    if a.stroke != b.stroke:
        return pairs
    met = [
        set().union(*(names for _, names in meetings_of(list(side.values())) if own.id in names))
        for side, own in ((one, a), (two, b))
    ]
    rest = [p for p in pairs if p not in lone]
    shared = any(met[0] & {*p.firsts} and met[1] & {*p.seconds} for p in rest)
    (line,), (other,) = chains([a]), chains([b])
    return [*rest, chained_pair(line, other, LAST, LAST_REASON)] if shared else pairs


def _instead(
    pairs: list[ShapePair], group: list[ShapePair], found: list[ShapePair] | None, ties: Sequence[tuple[str, str]]
) -> list[ShapePair]:
    """The pairs with those that were found for a group of them, if there are any, and hints lose nothing by it."""
    own = [(a, b) for a, b in ties if any(a in p.firsts or b in p.seconds for p in group)]
    held = found and all(any(p.holds(*tie) for p in found) for tie in own)
    return [*(p for p in pairs if p not in group), *found] if found and held else pairs


def _groups(pairs: Sequence[ShapePair], one: dict[str, Shape], two: dict[str, Shape]) -> list[list[ShapePair]]:
    """Pairs whose strokes meet in either key, or are one arm there."""
    sides = [one[a] for p in pairs for a in p.firsts], [two[b] for p in pairs for b in p.seconds]
    if not all(sides):
        return []
    label = np.arange(len(pairs))
    owners = (
        {a: k for k, p in enumerate(pairs) for a in p.firsts},
        {b: k for k, p in enumerate(pairs) for b in p.seconds},
    )
    met: list[int] = []
    for net, owner in zip(map(net_of, sides), owners, strict=True):
        arms = [[owner[name] for name in arm.ids] for arm in net.arms]
        meetings = [[k for end in ends for k in arms[end // 2]] for ends in net.meetings]
        for own in meetings + arms:
            label[np.isin(label, label[own])] = label[own].min()
        met += [own[0] for own in meetings]
    return [[pairs[k] for k in np.flatnonzero(label == each).tolist()] for each in sorted(set(label[met].tolist()))]


@dataclass(frozen=True)
class _Laid:
    """A net laid on another: which end becomes which, at which costs of arms, and which arms did so, if they can."""

    one: Net
    two: Net
    mates: dict[int, int]
    cost: Floats
    now: Partners | None

    @property
    def price(self) -> float:
        """What its arms cost."""
        return sum(float(self.cost[a // 2, b // 2]) for a, b in self.mates.items()) / 2

    @property
    def before(self) -> float | None:
        """What they cost as the pairs were."""
        return None if self.now is None else sum(float(self.cost[pair]) for pair in self.now.items())

    @property
    def each(self) -> float:
        """What an arm costs in the mean."""
        return self.price / len(self.one.arms)

    @property
    def pairs(self) -> list[ShapePair] | None:
        """The pairs of the lines that are drawn through its arms, if their ids tell them apart."""
        lines = _lines(self.one, self.two, self.mates)
        chained = [(self.one.run(ends), self.two.run(self.mates[end] for end in ends)) for ends in lines]
        found = [chained_pair(*line, SURE, REASON) for line in chained]
        return found if len({(p.first, p.second) for p in found}) == len(found) else None


def _anew(group: Sequence[ShapePair], strokes: Sides, assigned: AssignedOf) -> list[ShapePair] | None:
    """Pairs by arms of all that a group of pairs is made of, if that is plainly better."""
    each = _each_as_it_was(group, strokes, assigned)
    for states in _alike(*strokes, each > PLAIN):
        laid = [found for one, two in states if (found := _laid(group, one, two, assigned))]
        better = [
            found
            for found in laid
            if (found.each <= each if found.before is None else found.price <= found.before - GAIN)
        ]
        if better:
            pairs = min(better, key=lambda found: found.each).pairs
            return None if pairs is None or _says_the_same(group, pairs) else pairs
        if any(found.before is not None for found in laid):
            return None  # they are as they should be
    return None


def _as_drawn(group: list[ShapePair], strokes: Sides, assigned: AssignedOf) -> list[ShapePair] | None:
    """Pairs of lines as they were drawn, if their ends meet in like places, and those of others do not, or cost more.

    Lines that are cut otherwise are compared by what each costs.
    """
    drawn = drawn_alike(*strokes, assigned)
    if drawn is None:
        return None
    now = _partners_in(group, drawn.one, drawn.two, drawn.cost)
    best = drawn.best()
    ways = [_in_order(drawn.one, drawn.two, best, drawn.cost), best]
    lines = [[(drawn.one.arms[a], drawn.two.arms[b]) for a, b in way.items()] for way in ways]
    found = [[replace(chained_pair(*each, SURE, REASON), by_ends=True) for each in way] for way in lines]
    before, least = torn(group, *strokes), torn(found[-1], *strokes)
    for way, pairs in zip(ways, found, strict=True):
        apart = torn(pairs, *strokes)
        if now is not None:
            most = drawn.price(now) - TELLING
        else:
            most = len(pairs) * (_each_as_it_was(group, strokes, assigned) + DEARER * (1.0 + np.sign(before - apart)))
        if drawn.price(way) <= most and apart <= least:
            return pairs
    return None


def _in_order_there(
    group: Sequence[ShapePair], strokes: Sides, stars: tuple[Net, Net], assigned: AssignedOf
) -> list[ShapePair] | None:
    """Pairs by arms of what meets in one place of each key, if these do not go round it in the same order as they are.

    Limbs are as like each other as a leg is to the other leg: what they are on tells more.
    """
    one, two = stars
    if len(one.meetings) != 1 or one.degrees != two.degrees or len(one.arms) != len(two.arms):
        return None
    laid = _laid(group, one, two, assigned)
    if laid is None or not _is_in_order(one, two, {a // 2: b // 2 for a, b in laid.mates.items()}):
        return None
    if laid.now is None:
        return laid.pairs if laid.each <= _each_as_it_was(group, strokes, assigned) else None
    return None if _is_in_order(one, two, laid.now) else laid.pairs


def _is_in_order(one: Net, two: Net, partners: Partners) -> bool:
    """Whether what meets in the one place of both nets goes round it in the same order."""
    (own,), (others,) = ([[end // 2 for end in ends] for ends in net.meetings] for net in (one, two))
    goes = [partners[a] for a in own]
    return any(goes == others[k:] + others[:k] for k in range(len(others)))


def _laid(group: Sequence[ShapePair], one: Net, two: Net, assigned: AssignedOf) -> _Laid | None:
    """A net laid on another by what its arms cost, if they then meet in like places."""
    rows = assigned(one.arms, two.arms)
    partners = dict(rows.mates)
    mates = _mates(one, two, _in_order(one, two, partners, rows.cost)) or _mates(one, two, partners)
    if not mates:
        return None
    return _Laid(one, two, mates, rows.cost, _partners_in(group, one, two, rows.cost))


def _says_the_same(pairs: Sequence[ShapePair], others: Sequence[ShapePair]) -> bool:
    """Whether other pairs are made of the same strokes, uncut, if with more of them in one line."""
    names = [("first", name) for p in others for name in p.firsts] + [
        ("second", name) for p in others for name in p.seconds
    ]
    return len(set(names)) == len(names) and all(
        p.first and p.second and any({*p.firsts} <= {*q.firsts} and {*p.seconds} <= {*q.seconds} for q in others)
        for p in pairs
    )


def _each_as_it_was(group: Sequence[ShapePair], strokes: Sides, assigned: AssignedOf) -> float:
    """What each pair of a group costs as it is, in the mean."""
    one, two = ({stroke.id: stroke for stroke in side} for side in strokes)
    both = [forms_of(p, one, two) for p in group if p.first and p.second]
    if not both:
        return ALONE
    first, second = ([Chain((Link(form, False),)) for form in side] for side in zip(*both, strict=True))
    own = assigned(first, second).cost.diagonal()
    return float(np.append(own, np.full(len(group) - len(both), ALONE)).mean())


def _alike(first: Sequence[Shape], second: Sequence[Shape], otherwise: bool) -> Iterator[list[tuple[Net, Net]]]:
    """The nets of strokes of both keys in which as many arms meet in as many places: the plain ones first.

    Then, if they are to be taken `otherwise` as well, those in which a spot of either key is, and of both.
    """
    nets = [nets_of(side) if otherwise else [net_of(side)] for side in (first, second)]
    for count in range(3):
        yield [
            (one, two)
            for (i, one), (j, two) in product(*map(enumerate, nets))
            if (i > 0) + (j > 0) == count and len(one.arms) == len(two.arms) and one.degrees == two.degrees != []
        ]


def _in_order(one: Net, two: Net, partners: Partners, cost: Floats) -> Partners:
    """The partners, with those around a place in the same order as before, if that costs little more."""
    there = {frozenset(end // 2 for end in ends): [end // 2 for end in ends] for ends in two.meetings}
    found = dict(partners)
    for own in [[end // 2 for end in ends] for ends in one.meetings]:
        others = there.get(frozenset(found.get(a, -1) for a in own), [])
        if len(set(own)) == len(set(others)) == len(own) == len(others):
            now = float(cost[own, [found[a] for a in own]].sum())
            turns = [others[k:] + others[:k] for k in range(len(others))]
            best = min(turns, key=lambda turn: float(cost[own, turn].sum()))
            if float(cost[own, best].sum()) <= now + ROUND * len(own):
                found |= dict(zip(own, best, strict=True))
    return found


def _mates(one: Net, two: Net, partners: Partners) -> dict[int, int]:
    """Which end becomes which, if all arms have partners that meet in like places; else nothing."""
    if len(partners) < len(one.arms):
        return {}
    goes = _like_places(one, two, partners)
    found: dict[int, int] = {}
    for a, b in partners.items():
        here = [goes.get(place, -1) for place in one.places[2 * a : 2 * a + 2].tolist()]
        own = two.places[2 * b : 2 * b + 2].tolist()
        if here not in (own, own[::-1]):
            return {}
        turned = int(here != own or one.winds(a) * two.winds(b) < 0.0)
        found |= {2 * a: 2 * b + turned, 2 * a + 1: 2 * b + 1 - turned}
    return found


def _like_places(one: Net, two: Net, partners: Partners) -> dict[int, int]:
    """Which place becomes which: the same arms meet there. Of several such, as in an 8, it is where it comes to lie."""
    here, there = defaultdict[tuple[int, ...], list[int]](list), defaultdict[tuple[int, ...], list[int]](list)
    for ends in one.meetings:
        here[tuple(sorted(partners[end // 2] for end in ends))].append(ends[0])
    for ends in two.meetings:
        there[tuple(sorted(end // 2 for end in ends))].append(ends[0])
    if {arms: len(ends) for arms, ends in here.items()} != {arms: len(ends) for arms, ends in there.items()}:
        return {}
    a, b = fit(one.middles[list(partners)], two.middles[list(partners.values())])
    found: dict[int, int] = {}
    for arms, ends in here.items():
        gaps = np.abs((a * one.ends[ends] + b)[:, None] - two.ends[there[arms]])
        rows, columns = cheapest(gaps, float(gaps.sum()) + 1.0)
        found |= zip(one.places[ends][rows].tolist(), two.places[there[arms]][columns].tolist(), strict=True)
    return found


def _partners_in(group: Sequence[ShapePair], one: Net, two: Net, cost: Floats) -> Partners | None:
    """Which arm becomes which as the pairs have it, from end to end; None if these have other arms, or not as many."""
    found: Partners = {}
    for pair in group:
        if not pair.first or not pair.second:
            return None
        a = one.along(form_in(one.wholes, pair.first, pair.first_stand), pair.firsts)
        b = two.along(form_in(two.wholes, pair.second, pair.second_stand), pair.seconds)
        if len(a) != len(b):
            return None
        either = min(b, b[::-1], key=lambda way: sum(float(cost[pair]) for pair in zip(a, way, strict=True)))
        found |= zip(a, either, strict=True)
    return found if len(found) == len(one.arms) else None


def _lines(one: Net, two: Net, mates: dict[int, int]) -> list[list[int]]:
    """The lines through arms of the first key, by the ends at which they enter them.

    They go on where a stroke of either key does, the straightest first.
    """
    back = {end: own for own, end in mates.items()}
    drawn = one.drawn | {(back[a], back[b]) for a, b in two.drawn}
    goes_on: dict[int, int] = {}
    for a, b in sorted(drawn, key=lambda ab: -min(one.straight(*ab), two.straight(mates[ab[0]], mates[ab[1]]))):
        if a not in goes_on and b not in goes_on:
            goes_on |= {a: b, b: a}
    return runs(len(one.arms), goes_on)
