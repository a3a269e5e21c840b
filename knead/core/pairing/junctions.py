"""Lines that meet in threes: a stroke that goes on there in one key may end there in the other.

Strokes are cut where others end on them. If the arms that meet so cost plainly less when they are paired by
themselves, and meet in like places in both keys, they are; what is drawn through such a place then stays one line.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import partial
from itertools import product

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.model import Shape
from knead.core.pairing.chains import Chain, may_chain
from knead.core.pairing.net import Net, net_of, nets_of
from knead.core.pairing.pairs import TIE, TIED, ShapePair, chained_pair
from knead.core.pairing.rounds import Rows

GAIN = 0.3  # how much must be saved
FEW = 40  # of more strokes only the net is looked at that is plainly drawn
DOUBT = 0.45  # a pair that is less sure is doubtful, as is what was drawn otherwise, or is a pair by a hint only
ROUND = 0.15  # how much dearer each arm may be, for those around a place to keep their order
SURE = 0.8  # how sure such pairs are
REASON = "they meet others in like places in both keys"

Assigned = Callable[[Sequence[ShapePair], Sequence[Chain], Sequence[Chain]], Rows]
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
    for group in _groups(own, one, two):
        rest = [p for p in pairs if p not in group]
        strokes = [one[a] for p in group for a in p.firsts], [two[b] for p in group for b in p.seconds]
        found = _anew(group, strokes, partial(assigned, rest))
        own_ties = [(a, b) for a, b in ties if any(a in p.firsts or b in p.seconds for p in group)]
        if found and all(any(a in p.firsts and b in p.seconds for p in found) for a, b in own_ties):
            pairs = rest + (found if not own_ties else [replace(p, confidence=TIE) for p in found])
    return pairs


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
    return [[pairs[k] for k in np.flatnonzero(label == each).tolist()] for each in np.unique(label[met]).tolist()]


def _anew(
    group: Sequence[ShapePair],
    strokes: tuple[Sequence[Shape], Sequence[Shape]],
    assigned: Callable[[Sequence[Chain], Sequence[Chain]], Rows],
) -> list[ShapePair] | None:
    """Pairs by arms of all that a group of pairs is made of, if that is plainly better."""
    doubtful = any(map(_is_doubtful, group))
    for one, two in _alike(*strokes, doubtful):
        rows = assigned(one.arms, two.arms)
        partners = dict(zip(rows.rows.tolist(), rows.columns.tolist(), strict=True))
        mates = _mates(one, two, _in_order(one, two, partners, rows.cost)) or _mates(one, two, partners)
        price = sum(rows.cost[a // 2, b // 2] for a, b in mates.items()) / 2
        if mates and price + GAIN <= (_as_they_were(group, one, two, rows.cost) or (np.inf if doubtful else 0.0)):
            lines = [(one.run(ends), two.run(mates[end] for end in ends)) for ends in _lines(one, two, mates)]
            return [chained_pair(*line, SURE, REASON) for line in lines]
    return None


def _is_doubtful(pair: ShapePair) -> bool:
    plain = pair.kind == "pair" and pair.first and pair.second
    return not plain or pair.confidence < DOUBT or TIED in pair.reason


def _alike(first: Sequence[Shape], second: Sequence[Shape], doubtful: bool) -> Iterator[tuple[Net, Net]]:
    """The nets of strokes of both keys in which as many arms meet in as many places: the plain ones first.

    Only if it is doubtful how they were paired are they taken otherwise, too.
    """
    few = doubtful and max(len(first), len(second)) <= FEW
    nets = [nets_of(side) if few else [net_of(side)] for side in (first, second)]
    order = sorted(product(*map(range, map(len, nets))), key=lambda ij: (ij[0] > 0) + (ij[1] > 0))
    for i, j in order:
        one, two = nets[0][i], nets[1][j]
        met = [sorted(map(len, net.meetings)) for net in (one, two)]
        if met[0] == met[1] != [] and len(one.arms) == len(two.arms):
            yield one, two


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
    if len(partners) < len(one.arms) or len(one.meetings) != len(two.meetings):
        return {}
    there = {tuple(sorted(end // 2 for end in ends)): two.places[ends[0]] for ends in two.meetings}
    goes = {one.places[ends[0]]: there.get(tuple(sorted(partners[e // 2] for e in ends))) for ends in one.meetings}
    found: dict[int, int] = {}
    for a, b in partners.items():
        here = [goes.get(place, -1) for place in one.places[2 * a : 2 * a + 2].tolist()]
        own = two.places[2 * b : 2 * b + 2].tolist()
        if here not in (own, own[::-1]):
            return {}
        turned = int(here != own)
        found |= {2 * a: 2 * b + turned, 2 * a + 1: 2 * b + 1 - turned}
    return found


def _as_they_were(group: Sequence[ShapePair], one: Net, two: Net, cost: Floats) -> float | None:
    """What the arms cost as the pairs have it, from end to end; None if these have other arms, or not as many."""
    price, count = 0.0, 0
    for pair in group:
        if not pair.first or not pair.second:
            return None
        a = one.along(pair.first_stand.form if pair.first_stand else one.wholes[pair.first], pair.firsts)
        b = two.along(pair.second_stand.form if pair.second_stand else two.wholes[pair.second], pair.seconds)
        if len(a) != len(b):
            return None
        price += min(float(cost[a, b].sum()), float(cost[a, b[::-1]].sum()))
        count += len(a)
    return price if count == len(one.arms) else None


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
    found, taken = [], set[int]()
    for start in sorted(mates, key=lambda end: end in goes_on):
        line, here = list[int](), start
        while here // 2 not in taken:
            taken.add(here // 2)
            line.append(here)
            here = goes_on.get(here ^ 1, here)
        found += [line] if line else []
    return found
