"""Lines as they were drawn, paired by where their ends meet: an arm stays at its shoulder, and a leg at its hip.

Where lines only cross, or an end touches another line by chance, as a hand does a knee, none is cut.
"""

from collections.abc import Callable, Iterator, Sequence
from itertools import combinations, permutations, product
from math import comb, factorial, prod

import numpy as np

from knead.core.geometry.bezier import Floats, Ints
from knead.core.model import Shape
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.rounds import Rows
from knead.core.pairing.chains import Chain
from knead.core.pairing.lines.net import Net, ends_that_meet, nets_as_drawn
from knead.core.pairing.pairs import ShapePair

MANY = 200_000  # so many prices are looked at at most, of all pairs by all ways to lay places on each other
CHANCE = 0.1  # what it costs that an end meets others in one key alone
TORN = 0.6  # what it costs that it meets others elsewhere
FREE, LEFT = -1, -2  # an end that meets none, and one that meets others in a place without a partner

Partners = dict[int, int]  # which line of the first key becomes which of the second


class Drawn:
    """Two nets of uncut lines, as many in both, of which places lie on places; and what it costs that ends do not."""

    def __init__(self, one: Net, two: Net, cost: Floats) -> None:
        self.one, self.two, self.cost = one, two, cost
        self.prices = np.array([cost + more for more in _prices(one, two)])

    def best(self) -> Partners:
        """The cheapest pairs."""
        found = [(price, cheapest(price, float(price.sum()) + 1.0)) for price in self.prices]
        _, (rows, columns) = min(found, key=lambda each: float(each[0][each[1]].sum()))
        return dict(zip(rows.tolist(), columns.tolist(), strict=True))

    def price(self, partners: Partners) -> float:
        """What these pairs cost, however places lie on each other."""
        return float(self.prices[:, list(partners), list(partners.values())].sum(axis=1).min())


def drawn_alike(
    first: Sequence[Shape], second: Sequence[Shape], assigned: Callable[[Sequence[Chain], Sequence[Chain]], Rows]
) -> Drawn | None:
    """Both keys' strokes, as many, as lines, of which three or more meet in both; `assigned` prices them."""
    if len(first) != len(second):
        return None  # they are cut otherwise
    for one, two in zip(nets_as_drawn(first), nets_as_drawn(second), strict=True):
        joined = min(max(net.degrees, default=0) for net in (one, two)) > 2
        if joined and len(one.arms) == len(two.arms) and _ways(one, two) * len(one.arms) ** 2 <= MANY:
            return Drawn(one, two, assigned(one.arms, two.arms).cost)
    return None


def torn(pairs: Sequence[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> int:
    """How many twos of pairs meet with ends in one key alone."""
    owners = (
        {a: k for k, p in enumerate(pairs) for a in p.firsts},
        {b: k for k, p in enumerate(pairs) for b in p.seconds},
    )
    met = [_twos(side, owner) for side, owner in zip((first, second), owners, strict=True)]
    return len(met[0] ^ met[1])


def _twos(strokes: Sequence[Shape], owners: dict[str, int]) -> set[frozenset[int]]:
    """Which of their owners meet with ends of theirs."""
    places = ends_that_meet(strokes)
    of = np.repeat([owners[stroke.id] for stroke in strokes], 2)
    one, two = np.nonzero((places[:, None] == places) & (of[:, None] < of))
    return {frozenset(each) for each in zip(of[one].tolist(), of[two].tolist(), strict=True)}


def _kinds(net: Net) -> tuple[list[int], list[int]]:
    """The places of a net where just two ends meet, as at an elbow, and those where more do."""
    counts = {place: int(np.count_nonzero(net.places == place)) for place in sorted({*net.places.tolist()} - {FREE})}
    return [p for p, count in counts.items() if count == 2], [p for p, count in counts.items() if count > 2]


def _ways(one: Net, two: Net) -> int:
    """How many ways there are to lay the places of one net on those of another, each on one of its kind."""
    counts = [sorted((len(own), len(others))) for own, others in zip(_kinds(one), _kinds(two), strict=True)]
    return prod(comb(more, fewer) * factorial(fewer) for fewer, more in counts)


def _laid(own: Sequence[int], others: Sequence[int]) -> Iterator[list[tuple[int, int]]]:
    """All ways to lay places on others, as many as may be."""
    count = min(len(own), len(others))
    for some, there in product(combinations(own, count), permutations(others, count)):
        yield list(zip(some, there, strict=True))


def _prices(one: Net, two: Net) -> Iterator[Floats]:
    """What it costs each pair of lines that their ends do not meet in like places, (n, n), by each way to lay these."""
    elbows, joints = ([*_laid(*both)] for both in zip(_kinds(one), _kinds(two), strict=True))
    for some, others in product(elbows, joints):
        mates = [*some, *others]
        rows = _placed(one.places, {a: k for k, (a, _) in enumerate(mates)}).reshape(-1, 1, 2)
        columns = _placed(two.places, {b: k for k, (_, b) in enumerate(mates)}).reshape(1, -1, 2)
        yield np.minimum(_apart(rows, columns), _apart(rows, columns[:, :, ::-1]))


def _placed(places: Ints, names: dict[int, int]) -> Ints:
    return np.array([place if place == FREE else names.get(place, LEFT) for place in places.tolist()])


def _apart(one: Ints, two: Ints) -> Floats:
    """What both ends of lines cost that meet others elsewhere, or in one key alone."""
    costs = np.where((one >= 0) & (two >= 0), TORN, CHANCE)
    return np.asarray(np.where(one == two, 0.0, costs).sum(axis=2))
