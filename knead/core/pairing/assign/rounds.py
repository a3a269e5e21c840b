"""The assignment with the least unlikeness, in rounds: by place in the whole first, then by what the sure ones do."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.similarity import fit_robustly
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.constellation import constellation, exchanged
from knead.core.pairing.assign.likeness import Form, centres, extent, middles, mirror_mates

PLACE, FAR = 1.1, 0.8  # weight of a displacement by the size of the whole, and where it stops counting
TURNS = tuple(np.pi * turn for turn in (0.0, 0.25, -0.25, 0.5, -0.5, 0.75, -0.75, 1.0))  # of the whole that are tried
STIR = 0.15  # what the place of pairs costs in the mean, from which on a turn of the whole is thought of
MANY = 40  # of so many forms a turn is thought of only if they stir
HALF_ROUND = 0.25  # what half a round of the whole costs each pair
DOUBT = 1.25  # what costs less than so many times as much leaves the turn in doubt
AS_IT_WAS = 0.1  # how unlike in the mean pairs are that are plainly the same, so that the whole may be upside down
SAME, HERE = 0.3, 0.015  # how unlike what is as it was is at most, and how far off, by its size: a hand draws it anew
BREAKS = 0.3  # what it costs the whole to go so that something does not stay that is in both keys as it was
LEAN = 0.15  # what it costs a line to lie across the way it is expected to
FEW, PLAINLY = 4, 0.85  # of so many forms it is asked how they go by themselves, and that counts if it costs less so
STIFF = 4.0  # so many pairs speak against any stretch of the whole
CLEAR = 0.6  # a pair that is better than others by this much in cost is sure
KEPT = 10.0  # more than any pair costs: what is tied becomes each other whatever else that costs
TELLING = 3  # two pairs agree with every motion: only more of them tell one


@dataclass(frozen=True)
class Rows:
    """Which rows become which columns, at which costs (n, m), if the whole turns by about so many radians."""

    rows: Ints
    columns: Ints
    cost: Floats
    turn: float = 0.0

    def price(self, alone: float) -> float:
        """What all pairs cost together, and those that stay alone."""
        lonely = sum(self.cost.shape) - 2 * len(self.rows)
        return float(self.cost[self.rows, self.columns].sum()) + alone * lonely

    def price_with_turn(self, alone: float) -> float:
        """The same, and what it costs that the whole turns."""
        return self.price(alone) + HALF_ROUND * abs(self.turn) / np.pi * len(self.rows)

    @property
    def mates(self) -> list[tuple[int, int]]:
        """The rows and columns that become each other."""
        return list(zip(self.rows.tolist(), self.columns.tolist(), strict=True))


def contenders(
    one: Sequence[Form],
    two: Sequence[Form],
    unlike: Floats,
    known: Sequence[tuple[Form, Form]],
    alone: float,
    tied: NDArray[np.bool_] | None = None,
) -> list[Rows]:
    """The best assignment of forms to forms by how `unlike` (n, m) they are and by place, then others hardly dearer.

    `known` are pairs that stand already; what stays `alone` costs so much. What is `tied` (n, m) becomes each other
    whatever it costs. What is as it was tells nothing of what moves before it, if that goes plainly better by itself.
    """
    tied = np.zeros(unlike.shape, dtype=bool) if tied is None else tied
    found = _contenders(one, two, unlike, known, alone, tied)
    rows, columns = as_they_were(
        one, two, np.where(np.logical_or.outer(tied.any(axis=1), tied.any(axis=0)), np.inf, unlike)
    )
    rest = [sorted({*range(len(side))} - {*kept.tolist()}) for side, kept in ((one, rows), (two, columns))]
    moving = [(a, b) for a, b in known if not len(as_they_were([a], [b], np.zeros((1, 1)))[0])]
    stays = len(rows) + len(known) > len(moving)
    if not stays or min(len(rest[0]), len(rest[1])) < FEW or not len(found[0].rows):
        return found
    ones, twos = [one[k] for k in rest[0]], [two[k] for k in rest[1]]
    part = np.ix_(*rest)
    others = []
    for each in _contenders(ones, twos, unlike[part], moving, alone, tied[part]):
        cost = found[0].cost.copy()
        cost[part] = each.cost
        firsts, seconds = np.take(rest[0], each.rows), np.take(rest[1], each.columns)
        others.append(Rows(np.append(rows, firsts), np.append(columns, seconds), cost, each.turn))
    plainly = others[0].price_with_turn(alone) < PLAINLY * found[0].price_with_turn(alone)
    return others + found if plainly else found + others


def as_they_were(one: Sequence[Form], two: Sequence[Form], unlike: Floats) -> tuple[Ints, Ints]:
    """Which rows and columns are one form in one place in both keys, and no other of either is."""
    sizes = np.array([form.size for form in one])[:, None]
    same = (np.abs(centres(one)[:, None] - centres(two)) < HERE * sizes) & (unlike < SAME)
    rows, columns = np.nonzero(same & (same.sum(axis=0) == 1) & (same.sum(axis=1) == 1)[:, None])
    return np.asarray(rows), np.asarray(columns)


def _contenders(
    one: Sequence[Form],
    two: Sequence[Form],
    unlike: Floats,
    known: Sequence[tuple[Form, Form]],
    alone: float,
    tied: NDArray[np.bool_],
) -> list[Rows]:
    """The same, of a drawing that goes as a whole.

    That it turns is told by trying: the turn counts under which all pairs cost the least.
    """
    pattern = constellation(one, two, unlike)
    if pattern is not None and not exchanged(one, two):  # else they may as well have gone from place to place
        unlike = pattern.held(unlike)
    whole_one, whole_two = [*one, *(k[0] for k in known)], [*two, *(k[1] for k in known)]
    (here, size), (there, larger) = _frame(whole_one), _frame(whole_two)
    stay = {*zip(*(side.tolist() for side in as_they_were(one, two, unlike)), strict=True)}

    def price(rows: Rows) -> float:
        return rows.price_with_turn(alone) + BREAKS * len(stay - {*rows.mates})

    def cost_of(turn: float) -> Floats:
        moved = [there + (own - here) * np.exp(1j * turn) * larger / size for own in _places(one)]
        return _cost(one, two, unlike, _far(moved, one, two) / larger, turn)

    def from_turn(turn: float) -> Rows:
        cost = cost_of(turn)
        return _by_motion(one, two, unlike, known, _solved(cost, alone, tied), alone, tied)

    def hoped(turn: float) -> float:
        """What the pairs cost at least: each row has the column it likes best."""
        return float(np.minimum(cost_of(turn).min(axis=1) + HALF_ROUND * abs(turn) / np.pi, 2 * alone).sum())

    found = from_turn(0.0)
    if _some_stay(one, two, unlike):  # where much else comes or goes, the whole tells little of what stays
        still = staying(one, two, unlike, alone, tied)
        moved = _by_motion(one, two, unlike, known, still, alone, tied)
        found = min(found, moved, still, key=price)
    if pattern is not None:
        far = _far([pattern(own) for own in _places(one)], one, two) / larger
        fits = replace(_solved(_cost(one, two, unlike, far, pattern.turn), alone, tied), turn=pattern.turn)
        found = min(found, fits, key=price)
    if len(whole_one) < 2 or not len(found.rows):
        return [found]
    calm = float((found.cost - unlike)[found.rows, found.columns].mean()) < STIR
    if calm and max(unlike.shape) > MANY:
        return [found]
    hopes = {turn: hoped(turn) for turn in TURNS}
    likeliest = min(TURNS, key=lambda turn: hopes[turn])
    tried = [(0.0, found), *((t, from_turn(t)) for t in TURNS if t and hopes[t] <= DOUBT * hopes[likeliest])]
    tried = [(t, rows) for t, rows in tried if abs(t) < np.pi or not _looks_so_upside_down(one, two, rows, unlike)]
    prices = {t: price(replace(rows, turn=t)) for t, rows in tried}
    best = likeliest if not calm and prices.get(likeliest, np.inf) < prices[0.0] else 0.0
    distinct: dict[tuple[tuple[int, int], ...], Rows] = {}
    for turn, rows in sorted(tried, key=lambda each: each[0] != best):
        if prices[turn] <= DOUBT * prices[best]:
            distinct.setdefault(tuple(rows.mates), replace(rows, turn=turn))
    return list(distinct.values())


def _looks_so_upside_down(one: Sequence[Form], two: Sequence[Form], turned: Rows, unlike: Floats) -> bool:
    """Whether both are symmetric, and what becomes what is not plainly the same: a bird that beats its wings."""
    changed = len(turned.rows) > 0 and float(unlike[turned.rows, turned.columns].mean()) > AS_IT_WAS
    return changed and mirror_mates(one, True) is not None and mirror_mates(two, True) is not None


def _by_motion(
    one: Sequence[Form],
    two: Sequence[Form],
    unlike: Floats,
    known: Sequence[tuple[Form, Form]],
    found: Rows,
    alone: float,
    tied: NDArray[np.bool_],
) -> Rows:
    """The pairs found anew with the place that the motion of the sure ones, and of the neighbours, makes one expect."""
    size = max(extent([*two, *(k[1] for k in known)]), 1e-9)
    for _ in range(2):
        pairs = [*((one[i], two[j]) for i, j in found.mates), *known]
        if len(pairs) < TELLING:
            break
        sources, targets = np.array([_ends(*pair) for pair in pairs]).T
        trust = [1.0 if tied[i, j] else margin(found.cost, i, j, alone) for i, j in found.mates]
        weights = np.append(trust, np.ones(len(known))) + 0.05
        here = centres(one)
        here[found.rows] = sources[: len(found.rows)]
        motion = _motion(sources, targets, weights)
        gaps = np.abs(here[:, None] - sources[None])
        near = np.where(gaps < 1e-9, 0.0, np.exp(-((gaps / (0.25 * size)) ** 2)) * weights)  # none vouches for itself
        # as the motion of the whole takes them, corrected by what near pairs do besides
        besides = near @ (targets - motion(sources)) / (near.sum(axis=1) + 0.3)
        far = _far([motion(own) + besides for own in _places(one)], one, two) / size
        turn = float(np.angle(motion.a))
        found = replace(_solved(_cost(one, two, unlike, far, turn), alone, tied), turn=turn)
    return found


def _solved(cost: Floats, alone: float, tied: NDArray[np.bool_]) -> Rows:
    return Rows(*cheapest(cost - KEPT * tied, alone), cost)


def staying(
    one: Sequence[Form], two: Sequence[Form], unlike: Floats, alone: float, tied: NDArray[np.bool_] | None = None
) -> Rows:
    """The assignment if the whole stays in its place."""
    size = max(extent(one), extent(two), 1e-9)
    cost = _cost(one, two, unlike, _far(_places(one), one, two) / size, 0.0)
    return _solved(cost, alone, np.zeros(cost.shape, dtype=bool) if tied is None else tied)


def _some_stay(one: Sequence[Form], two: Sequence[Form], unlike: Floats) -> bool:
    """Whether something is in both keys as it was, in its place."""
    near = HERE * max(extent(one), extent(two), 1e-9)
    return bool((np.abs(centres(one)[:, None] - centres(two)) + np.where(unlike < SAME, 0.0, np.inf) < near).any())


def _cost(one: Sequence[Form], two: Sequence[Form], unlike: Floats, far: Floats, turn: float) -> Floats:
    """What pairs cost that are so unlike, and lie so far from where they are expected if the whole turns; (n, m)."""
    return unlike + price_of_place(far) + lean(one, two, turn)


def price_of_place(far: Floats) -> Floats:
    """What it costs to lie so far from where it is expected, by the size of the whole."""
    return np.asarray(PLACE * np.minimum(far, FAR), dtype=float)


def margin(cost: Floats, i: int, j: int, alone: float) -> float:
    """How much better a pair is than what either side could do instead, 0 to 1."""
    row, column = cost[i].copy(), cost[:, j].copy()
    row[j] = column[i] = np.inf
    other = min(float(row.min()), float(column.min()), 2 * alone)
    return min(max((other - float(cost[i, j])) / CLEAR, 0.0), 1.0)


@dataclass(frozen=True)
class _Motion:
    """What the pairs tell of the whole: z -> a z + b, and what is stretched besides, about a middle."""

    a: complex
    b: complex
    skew: complex
    middle: complex

    def __call__(self, z: Complexes) -> Complexes:
        return np.asarray(self.a * z + self.b + self.skew * np.conj(z - self.middle), dtype=complex)


def _motion(sources: Complexes, targets: Complexes, weights: Floats) -> _Motion:
    """The robust similarity of pairs, with as much stretch as many of them agree on (a ridge regression)."""
    a, b = fit_robustly(sources, targets, weights)
    middle = complex(np.average(sources, weights=weights))
    spread = np.conj(sources - middle)
    power = float(np.sum(weights * np.abs(spread) ** 2)) * (1.0 + STIFF / len(sources))
    skew = complex(np.sum(weights * (targets - a * sources - b) * np.conj(spread))) / max(power, 1e-12)
    return _Motion(a, b, skew, middle)


def lean(one: Sequence[Form], two: Sequence[Form], turn: float | Floats) -> Floats:
    """What it costs long forms to lie otherwise than the turn of the whole says, or those about each; shape (n, m)."""
    first, second = (np.array([form.axis for form in side]) for side in (one, two))
    long = np.minimum.outer(np.abs(first), np.abs(second))
    meet = np.multiply.outer(first, np.conj(second)) * np.exp(2j * turn)
    return np.asarray(LEAN * long * 0.5 * (1.0 - np.cos(np.angle(meet + 1e-300))), dtype=float)


def _frame(forms: Sequence[Form]) -> tuple[complex, float]:
    """The middle of a drawing, and its size."""
    sizes = np.array([form.size for form in forms])
    return complex(np.average(centres(forms), weights=sizes**2 + 1e-18)), max(extent(forms), 1e-9)


def _places(forms: Sequence[Form]) -> list[Complexes]:
    """Where forms lie: their main outlines, and all that belongs to them."""
    return [centres(forms), middles(forms)]


def _ends(one: Form, two: Form) -> tuple[complex, complex]:
    """Where a form is in both keys: all of it, where it has as many contours."""
    return (one.middle, two.middle) if one.parts == two.parts else (one.centre, two.centre)


def _far(moved: list[Complexes], one: Sequence[Form], two: Sequence[Form]) -> Floats:
    """How far off others the places of forms come to lie, (n, m): all of them, where both have as many contours."""
    main, every = (np.abs(own[:, None] - other[None]) for own, other in zip(moved, _places(two), strict=True))
    as_many = np.equal.outer([form.parts for form in one], [form.parts for form in two])
    return np.asarray(np.where(as_many, np.minimum(main, every), main))
