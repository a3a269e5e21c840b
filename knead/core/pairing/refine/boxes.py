"""A box that turns: each of its sides goes on as itself, though it comes to stand where another stood, or is hidden.

Which is which is told by what lies on them, by their paint, and by which they border on: dice, houses, crates.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Complexes, Floats, Ints, following
from knead.core.geometry.sides import Edge, borders, by_corners, corners_of
from knead.core.geometry.similarity import as_points, fit
from knead.core.pairing.assign.assignment import ALONE, Assignment, Sheet
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.likeness import centres, form_gap
from knead.core.pairing.assign.rounds import price_of_place
from knead.core.pairing.pairs import Turning

LOOSE = 0.5  # how near edges are, by the longer one, of what hangs together
OVER, ALL_OF_IT = 0.7, 0.95  # how much of the smaller of two sides lies over the other at most, or if it is on that
WIDE = 0.4  # how long an edge is by the longest one, of one side at least: limbs are narrow where they meet
MOST = 7  # so many sides of one thing are seen at most: more are tiles
TURNS = 1.4  # radians by which the edges of a side turn at most
FORM = 0.2  # how much it counts that forms are unlike: they are seen slantwise
HIDDEN, WITH_IT = 0.4, 0.7  # how much less it costs to vanish for a side that the box may hide, and for what is on it
BEYOND = 1.15  # how far beyond its edges, by its size, lies what is on a side: wheels
TORN = 0.3  # what each costs of two sides that come apart where they had an edge in common
STAYS, MOVED = 0.02, 0.05  # how far what stays goes at most, by its size, and how far what keeps its form is off it
PLAINLY = 0.95  # how much less the pairs must cost

Laid = Mapping[int, tuple[int, int]]  # which side becomes which, and which of its corners the first one does


@dataclass(frozen=True)
class _Side:
    """A side of a box: its row, its corners with their shares, (k,), and what lies on it, and where by its corners."""

    row: int
    shares: Floats
    corners: Complexes
    members: Ints
    places: Complexes


@dataclass(frozen=True)
class _Box:
    """The sides of a box in one key, and which edge of which other each edge borders on."""

    sides: tuple[_Side, ...]
    borders: Mapping[Edge, Edge]

    @property
    def rows(self) -> set[int]:
        """All its sides, and what lies on them."""
        return {row for side in self.sides for row in (side.row, *side.members.tolist())}


@dataclass(frozen=True)
class _Way:
    """Which rows become which columns if sides are laid on others, which corners meet then, and what it costs."""

    laid: Laid
    pairs: Mapping[int, int]
    corners: Mapping[int, tuple[tuple[float, float], ...]]
    price: float


def on_boxes(found: Assignment) -> Assignment:
    """The assignment with sides of boxes, and what lies on them, paired as if these turn, where that is less dear."""
    ones, twos = _boxes(found.one), _boxes(found.two)
    pairs = found.pairs.mates
    common = np.array([[sum(i in one.rows and j in two.rows for i, j in pairs) for two in twos] for one in ones])
    for k, n in np.argwhere(common).tolist():
        if common[k, n] == max(common[k].max(), common[:, n].max()):  # they are one box
            found = _turned(found, ones[k], twos[n])
    return found


def _turned(found: Assignment, one: _Box, two: _Box) -> Assignment:
    """The same with the sides of one box laid on those of another as costs the least."""
    paired = _as_paired(found, one, two)
    if _any_stays(one, two, paired) or (paired and all(_moves(one, two, paired))):
        return found
    unlike = found.unlike - (1.0 - FORM) * form_gap(found.one.portraits, found.two.portraits)
    as_is = _way(unlike, one, two, paired)
    ways = [_way(unlike, one, two, laid) for laid in _ways(one, two)]
    if not ways:
        return found
    best = min(ways, key=lambda way: way.price)
    rest = [(i, j) for i, j in found.pairs.mates if i not in one.rows and j not in two.rows]
    mates = sorted((*rest, *best.pairs.items()))
    tied = [pair for pair, lines in zip(found.pairs.mates, found.paired, strict=True) if found.are_tied(*lines)]
    if not {*tied} <= {*mates}:
        return found
    told = found if any(_moves(one, two, best.laid)) else _told(found, one, two, best)
    if best.price >= PLAINLY * as_is.price:
        unseen = len(one.sides) + len(two.sides) > 2 * len(best.laid)
        return told if unseen and {*best.pairs.items()} <= {*found.pairs.mates} else found
    cost, inner = found.pairs.cost.copy(), tuple(np.array([*best.pairs.items()]).T)
    cost[inner] = unlike[inner]
    rows, columns = np.array(mates).T
    pairs = replace(found.pairs, rows=rows, columns=columns, cost=cost)
    return replace(told, pairs=pairs)


def _told(found: Assignment, one: _Box, two: _Box, way: _Way) -> Assignment:
    """The same pairs, of which those of the way go as a box that turns, and of which what it hides is known."""
    turning = {row: Turning("box", way.corners.get(row, ())) for row in way.pairs}
    hidden = {found.one.chains[row].lead.id for row in one.rows - {*way.pairs}}
    hidden |= {found.two.chains[row].lead.id for row in two.rows - {*way.pairs.values()}}
    return replace(found, turning={**found.turning, **turning}, hidden=found.hidden | hidden)


def _any_stays(one: _Box, two: _Box, laid: Laid) -> bool:
    """Whether any side stays where it is, so that the box does not turn: a chest does not, however its lid goes."""
    return any(np.abs(here - there).mean() < STAYS * np.std(there) for here, there in _both(one, two, laid))


def _moves(one: _Box, two: _Box, laid: Laid) -> list[bool]:
    """Which sides keep their form: where one does the box does not turn in space; where all do they are no box."""

    def moves(here: Complexes, there: Complexes) -> bool:
        a, b = fit(here, there)
        return bool(np.abs(a * here + b - there).mean() < MOVED * np.std(there))

    return [moves(*side) for side in _both(one, two, laid)]


def _both(one: _Box, two: _Box, laid: Laid) -> list[tuple[Complexes, Complexes]]:
    """The corners of sides at both keys."""
    return [(one.sides[k].corners, np.roll(two.sides[n].corners, -shift)) for k, (n, shift) in laid.items()]


def _as_paired(found: Assignment, one: _Box, two: _Box) -> Laid:
    """How sides lie that are pairs already."""
    columns = {side.row: k for k, side in enumerate(two.sides)}
    partner = dict(found.pairs.mates)
    laid = {}
    for k, side in enumerate(one.sides):
        mate = columns.get(partner.get(side.row, -1))
        if mate is not None and len(side.corners) == len(two.sides[mate].corners):
            turns = [abs(_turn(side, two.sides[mate], shift)) for shift in range(len(side.corners))]
            laid[k] = (mate, int(np.argmin(turns)))
    return laid


def _way(unlike: Floats, one: _Box, two: _Box, laid: Laid) -> _Way:
    """What it costs that sides become others, and what lies on them as well, and that others are hidden with theirs."""
    price, pairs, corners = 0.0, dict[int, int](), {}
    for k, (mate, shift) in laid.items():
        side, other = one.sides[k], two.sides[mate]
        places = side.places * np.exp(2j * np.pi * shift / len(side.corners))
        cost = unlike[np.ix_(side.members, other.members)]
        cost = cost + price_of_place(np.abs(places[:, None] - other.places) / 2)
        rows, columns = cheapest(cost, ALONE)
        price += float(unlike[side.row, other.row] + cost[rows, columns].sum())
        pairs |= zip(side.members[rows].tolist(), other.members[columns].tolist(), strict=True)
        pairs[side.row] = other.row
        shares = np.roll(other.shares, -shift)
        corners[side.row] = tuple(zip(side.shares.tolist(), shares.tolist(), strict=True))
    price += TORN * sum(_is_torn(one, two, laid, *border) for border in one.borders.items())
    for box, seen in ((one, {*pairs}), (two, {*pairs.values()})):
        gone = [side for side in box.sides if side.row not in seen]
        price += ALONE * len(box.rows - seen) - sum(HIDDEN + WITH_IT * len(side.members) for side in gone)
    return _Way(laid, pairs, corners, price)


def _is_torn(one: _Box, two: _Box, laid: Laid, edge: Edge, other: Edge) -> bool:
    """Whether two sides that have an edge in common go apart there, or come to be on the other side of it."""
    if edge[0] not in laid or other[0] not in laid:
        return False
    here, there = ((laid[k][0], (corner + laid[k][1]) % len(one.sides[k].corners)) for k, corner in (edge, other))
    return two.borders.get(here) != there


def _ways(one: _Box, two: _Box) -> Iterator[Laid]:
    """All ways to lay sides on others so that those that border on each other do so along the same edges."""
    known: list[Laid] = []
    for k, side in enumerate(one.sides):
        for mate, other in enumerate(two.sides):
            for shift in range(len(side.corners)):
                laid = _spread(one, two, k, (mate, shift)) if _may_be(side, other, shift) else None
                if laid is not None and laid not in known:
                    known.append(laid)
                    yield laid


def _spread(one: _Box, two: _Box, k: int, to: tuple[int, int]) -> Laid | None:
    """What all sides become if one becomes another; None if that does not go."""
    laid, todo = {k: to}, [k]
    while todo:
        k = todo.pop()
        mate, shift = laid[k]
        count = len(one.sides[k].corners)
        for corner in range(count):
            here, there = one.borders.get((k, corner)), two.borders.get((mate, (corner + shift) % count))
            if here is None or there is None:
                continue
            side, other = one.sides[here[0]], two.sides[there[0]]
            goes = there[0], (there[1] - here[1]) % len(side.corners)
            if laid.get(here[0], goes) != goes or len(side.corners) != len(other.corners):
                return None
            if here[0] not in laid:
                laid[here[0]] = goes
                todo.append(here[0])
    return laid if len({mate for mate, _ in laid.values()}) == len(laid) else None


def _may_be(side: _Side, other: _Side, shift: int) -> bool:
    return len(side.corners) == len(other.corners) and abs(_turn(side, other, shift)) < TURNS


def _turn(side: _Side, other: _Side, shift: int) -> float:
    """By how many radians the edges of a side turn in the mean."""
    ways = [following(corners) - corners for corners in (side.corners, np.roll(other.corners, -shift))]
    return float(np.angle(np.vdot(*ways)))


def _boxes(sheet: Sheet) -> list[_Box]:
    """The boxes of a key of which two sides are seen at least."""
    known = [(row, *corners) for row, line in enumerate(sheet.chains) if (corners := corners_of(line.lead)) is not None]
    forms = np.array([shapely.Polygon(as_points(corners)) for _, _, corners in known], dtype=object)
    held = {*shapely.STRtree(forms).query(forms, predicate="contains_properly")[1].tolist()}  # what is on a side
    free = [k for k in range(len(known)) if k not in held]
    known, forms = [known[k] for k in free], forms[free]
    places = [corners for _, _, corners in known]
    over = _lie_over(forms)
    near = {edge: other for edge, other in borders(places).items() if (edge[0], other[0]) not in over}
    edges = {edge: other for edge, other in near.items() if max(_share(places, edge), _share(places, other)) > WIDE}
    rows = [known[k][0] for k, _ in edges]
    loose = {*_twos(borders(places, LOOSE)), *over}
    tiles = {k for names in _together(loose) if len(names) > MOST for k in names}
    found = []
    for names in _together(_twos(edges)):
        own = {name: k for k, name in enumerate(names) if name not in tiles}
        inner = {(own[k], a): (own[n], b) for (k, a), (n, b) in edges.items() if k in own and n in own}
        if inner:
            found.append(_Box(_sides(sheet, [known[name] for name in own], rows), inner))
    return found


def _share(sides: Sequence[Complexes], edge: Edge) -> float:
    """How long an edge is by the longest one of its side."""
    lengths = np.abs(following(sides[edge[0]]) - sides[edge[0]])
    return float(lengths[edge[1]] / lengths.max())


def _lie_over(forms: NDArray[np.object_]) -> set[tuple[int, int]]:
    """Which two lie over each other in part, as the blades of a fan do that is nearly shut."""
    one, two = shapely.STRtree(forms).query(forms, predicate="intersects")
    areas = shapely.area(forms)
    share = shapely.area(shapely.intersection(forms[one], forms[two])) / np.minimum(areas[one], areas[two])
    in_part = (share > OVER) & (share < ALL_OF_IT)
    return {*zip(one[in_part].tolist(), two[in_part].tolist(), strict=True)}


def _twos(edges: Mapping[Edge, Edge]) -> list[tuple[int, int]]:
    """The sides whose edges these are."""
    return [(k, n) for (k, _), (n, _) in edges.items()]


def _together(twos: Iterable[tuple[int, int]]) -> list[list[int]]:
    """Sides that hang together, of which two and two do."""
    beside: dict[int, set[int]] = {}
    for k, n in twos:
        beside.setdefault(k, set()).add(n)
    found = []
    while beside:
        names, todo = set[int](), [next(iter(beside))]
        while todo:
            names.add(k := todo.pop())
            todo += beside.pop(k, set()) - names
        found.append(sorted(names))
    return found


def _within(corners: Complexes, places: Complexes) -> NDArray[np.bool_]:
    """Which places are within the corners, shape (n,)."""
    ways, apart = following(corners) - corners, places[:, None] - corners
    return np.asarray(((ways.conj() * apart).imag > 0).all(axis=1))


def _sides(sheet: Sheet, known: list[tuple[int, Floats, Complexes]], others: list[int]) -> tuple[_Side, ...]:
    """Sides of which rows, shares and corners are given, with what lies on them that is no side of another box."""
    places, sizes = centres(sheet.portraits), np.array([look.size for look in sheet.portraits])
    free = ~np.isin(np.arange(len(places)), others)
    found = []
    on = np.full(len(places), -1)
    for reach in (1.0, BEYOND):
        for row, _, corners in known:
            wide = corners.mean() + reach * (corners - corners.mean())
            on[free & (on < 0) & (sizes < sizes[row]) & _within(wide, places)] = row
    for row, shares, corners in known:
        members = np.flatnonzero(on == row)
        found.append(_Side(row, shares, corners, members, by_corners(corners, places[members])))
    return tuple(found)
