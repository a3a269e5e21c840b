"""Lines that meet in threes: a stroke that goes on there in one key may end there in the other.

Strokes are cut where others end on them. If the arms that meet so cost plainly less when they are paired by
themselves, and meet in like places in both keys, they are; what is drawn through such a place then stays one line.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import groupby, pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.pairing.chains import Chain, Link, chains, ends_of, may_chain, reach
from knead.core.pairing.cutting import at_nodes, piece_of
from knead.core.pairing.pairs import TIE, ShapePair, chained_pair
from knead.core.pairing.rounds import Rows

AT_END = 0.1  # what meets a stroke nearer to an end of it, by its length, meets that end
GAIN = 0.3  # how much must be saved
SEEN = np.linspace(0.0, 1.0, 65)  # places at which a line is seen
SURE = 0.8  # how sure such pairs are
REASON = "they meet others in like places in both keys"

Assigned = Callable[[Sequence[ShapePair], Sequence[Chain], Sequence[Chain]], Rows]


@dataclass(frozen=True)
class _Net:
    """The strokes of a key as arms. Arm k begins at its end 2 k, and ends at its end 2 k + 1.

    `wholes` are the strokes by their ids. `places` says in which place, where three or more ends meet, each end is: -1
    in none. `ways` are the directions from the ends into the open, and a stroke is drawn through each pair in `drawn`.
    """

    wholes: dict[str, Shape]
    arms: tuple[Chain, ...]
    places: Ints
    ways: Complexes
    drawn: frozenset[tuple[int, int]]

    def of(self, names: set[str]) -> "_Net":
        """The arms of some strokes."""
        kept = [k for k, arm in enumerate(self.arms) if names.issuperset(arm.ids)]
        ends = np.array([2 * k + side for k in kept for side in (0, 1)], dtype=np.int64)
        number = {end: k for k, end in enumerate(ends.tolist())}
        drawn = frozenset((number[a], number[b]) for a, b in self.drawn if a in number)
        return _Net(self.wholes, tuple(self.arms[k] for k in kept), self.places[ends], self.ways[ends], drawn)

    @property
    def meetings(self) -> list[list[int]]:
        """The ends that meet in each place."""
        return [np.flatnonzero(self.places == place).tolist() for place in np.unique(self.places[self.places >= 0])]

    @property
    def pieces(self) -> Counter[str]:
        """Into how many pieces each stroke is cut."""
        return Counter(name for arm in self.arms for name in arm.ids)

    def run(self, ends: Iterable[int]) -> Chain:
        """The line through arms, by the ends at which it enters them; pieces that make a whole stroke are that."""
        links: list[Link] = []
        for end in ends:
            own = self.arms[end // 2].links
            links += [link.turned for link in own[::-1]] if end % 2 else own
        found: list[Link] = []
        for name, group in groupby(links, key=lambda link: link.shape.id):
            row = list(group)
            found += [Link(self.wholes[name], row[0].backwards)] if len(row) == self.pieces[name] else row
        return Chain(tuple(found))

    def straight(self, end: int, other: int) -> float:
        """How straight on it goes from one end to another, -1 to 1."""
        return -float((self.ways[end] * np.conj(self.ways[other])).real)


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
    nets = _net([one[a] for p in own for a in p.firsts]), _net([two[b] for p in own for b in p.seconds])
    if any(net.places.max(initial=-1) < 0 for net in nets):
        return pairs
    for group in _groups(own, nets):
        rest = [p for p in pairs if p not in group]
        found = _anew(group, nets, partial(assigned, rest))
        own_ties = [(a, b) for a, b in ties if any(a in p.firsts or b in p.seconds for p in group)]
        if found and all(any(a in p.firsts and b in p.seconds for p in found) for a, b in own_ties):
            pairs = rest + (found if not own_ties else [replace(p, confidence=TIE) for p in found])
    return pairs


def _net(strokes: Sequence[Shape]) -> _Net:
    """The arms of strokes, cut where others end on them."""
    slack = reach(strokes)
    pieces = [_pieces(stroke, params) for stroke, params in zip(strokes, _cuts(strokes, slack), strict=True)]
    atoms = [piece for own in pieces for piece in own]
    of = np.repeat(np.arange(len(strokes)), [len(own) for own in pieces])
    ends, ways = ends_of(atoms)
    owner = of[np.arange(2 * len(atoms)) // 2]
    places = _places(np.abs(ends[:, None] - ends) <= slack[np.ix_(owner, owner)])
    arms = chains(atoms, last=np.flatnonzero(places >= 0).tolist())
    number = {id(atom): k for k, atom in enumerate(atoms)}
    at = np.array([end for arm in arms for end in _ends(arm, number)], dtype=np.int64)
    end_of = {end: k for k, end in enumerate(at.tolist())}
    drawn = [(e, e + 1) for e in range(1, len(owner) - 1, 2) if owner[e] == owner[e + 1] and places[e] >= 0]
    cut = {stroke.id for stroke, own in zip(strokes, pieces, strict=True) if len(own) > 1}
    marked = [Chain(tuple(link._replace(piece=link.shape.id in cut) for link in arm.links)) for arm in arms]
    wholes = {stroke.id: stroke for stroke in strokes}
    return _Net(wholes, tuple(marked), places[at], ways[at], frozenset((end_of[a], end_of[b]) for a, b in drawn))


def _ends(arm: Chain, number: dict[int, int]) -> tuple[int, int]:
    """At which ends of which pieces an arm begins and ends."""
    start, end = arm.links[0], arm.links[-1]
    return 2 * number[id(start.shape)] + start.backwards, 2 * number[id(end.shape)] + (not end.backwards)


def _cuts(strokes: Sequence[Shape], slack: Floats) -> list[list[float]]:
    """The parameters of each stroke at which others end on it."""
    tracks = [track_of(stroke.contours[0]) for stroke in strokes]
    lines = np.array([shapely.LineString(as_points(track.sketch(SEEN))) for track in tracks])
    ends = as_points(ends_of(strokes)[0])
    tree = shapely.STRtree(lines)
    far = 2.0 * np.repeat(slack.diagonal(), 2)  # lines are seen roughly
    found: list[list[float]] = [[] for _ in strokes]
    for end, k in zip(*tree.query(shapely.points(ends), predicate="dwithin", distance=far).tolist(), strict=True):
        if k != end // 2:
            param, gap = tracks[k].nearest(ends[end])
            share = float(tracks[k].shares(np.array([param]))[0])
            if gap <= slack[end // 2, k] and AT_END < share < 1.0 - AT_END:
                found[k].append(param)
    return [_merged(params, track) for params, track in zip(found, tracks, strict=True)]


def _merged(params: list[float], track: Track) -> list[float]:
    """Parameters of cuts in their order, those that are near each other as one."""
    if not params:
        return []
    shares = np.sort(track.shares(np.array(params)))
    rows = np.split(shares, np.flatnonzero(np.diff(shares) > AT_END) + 1)
    means = np.array([row.mean() for row in rows])
    return list(at_nodes(track.params_at(means)).tolist())


def _pieces(stroke: Shape, params: list[float]) -> list[Shape]:
    """A stroke, cut at parameters."""
    stops = [0.0, *params, len(stroke.contours[0].nodes) - 1.0]
    return [piece_of(stroke, *stop) for stop in pairwise(stops)] if params else [stroke]


def _places(meet: NDArray[np.bool_]) -> Ints:
    """In which place each end is where three or more meet; -1 in none."""
    label = np.arange(len(meet))
    while True:
        least = np.where(meet, label, len(meet)).min(axis=1, initial=len(meet))
        if np.array_equal(least, label):
            break
        label = least
    return np.where(np.bincount(label, minlength=len(label))[label] > 2, label, -1)


def _groups(pairs: Sequence[ShapePair], nets: tuple[_Net, _Net]) -> list[list[ShapePair]]:
    """Pairs whose strokes meet in either key, or are one arm there; some of them meet in both."""
    label = np.arange(len(pairs))
    owners = (
        {a: k for k, p in enumerate(pairs) for a in p.firsts},
        {b: k for k, p in enumerate(pairs) for b in p.seconds},
    )
    met: list[list[int]] = []
    for net, owner in zip(nets, owners, strict=True):
        arms = [[owner[name] for name in arm.ids] for arm in net.arms]
        meetings = [[k for end in ends for k in arms[end // 2]] for ends in net.meetings]
        for own in meetings + arms:
            label[np.isin(label, label[own])] = label[own].min()
        met.append([own[0] for own in meetings])
    both = np.intersect1d(label[met[0]], label[met[1]])
    return [[pairs[k] for k in np.flatnonzero(label == each).tolist()] for each in both.tolist()]


def _anew(
    group: Sequence[ShapePair],
    nets: tuple[_Net, _Net],
    assigned: Callable[[Sequence[Chain], Sequence[Chain]], Rows],
) -> list[ShapePair] | None:
    """Pairs by arms of all that a group of pairs is made of, if that is plainly better."""
    one, two = nets[0].of({a for p in group for a in p.firsts}), nets[1].of({b for p in group for b in p.seconds})
    if len(one.arms) != len(two.arms):
        return None
    rows = assigned(one.arms, two.arms)
    mates = _mates(one, two, dict(zip(rows.rows.tolist(), rows.columns.tolist(), strict=True)))
    if not mates or rows.cost[rows.rows, rows.columns].sum() + GAIN > _as_they_were(group, one, two, rows.cost):
        return None
    return [
        chained_pair(one.run(ends), two.run(mates[e] for e in ends), SURE, REASON) for ends in _lines(one, two, mates)
    ]


def _mates(one: _Net, two: _Net, partners: dict[int, int]) -> dict[int, int]:
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


def _as_they_were(group: Sequence[ShapePair], one: _Net, two: _Net, cost: Floats) -> float:
    """What the arms cost as the pairs have it, from end to end; without bound if these have others, or not as many."""
    price, count = 0.0, 0
    for pair in group:
        if not pair.first or not pair.second:
            return np.inf
        a = _along(one, pair.first_stand.form if pair.first_stand else one.wholes[pair.first], pair.firsts)
        b = _along(two, pair.second_stand.form if pair.second_stand else two.wholes[pair.second], pair.seconds)
        if len(a) != len(b):
            return np.inf
        price += min(float(cost[a, b].sum()), float(cost[a, b[::-1]].sum()))
        count += len(a)
    return price if count == len(one.arms) else np.inf


def _along(net: _Net, line: Shape, names: Sequence[str]) -> list[int]:
    """The arms of which a line of strokes is made, in their order along it."""
    own = [k for k, arm in enumerate(net.arms) if set(names).issuperset(arm.ids)]
    path = shapely.LineString(as_points(track_of(line.contours[0]).sketch(SEEN)))
    middles = [track_of(net.arms[k].whole()[0].contours[0]).sketch(np.array([0.5])) for k in own]
    return [own[k] for k in np.argsort([path.project(shapely.Point(z.real, z.imag)) for (z,) in middles]).tolist()]


def _lines(one: _Net, two: _Net, mates: dict[int, int]) -> list[list[int]]:
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
