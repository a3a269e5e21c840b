"""A head that turns: what lies on it goes as on a ball, and the eye that was near, and larger, is then the far one."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from knead.core.geometry.ball import LEANT, ROUNDS, TURNED, box_of, by_box, on_ball, seen
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.hull import hull_of
from knead.core.geometry.placing import placed
from knead.core.model import Shape
from knead.core.pairing.assign.assignment import ALONE, Assignment, Sheet
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.pairing.assign.likeness import Portrait, centres, form_gap, portrait
from knead.core.pairing.assign.rounds import Rows, lean, price_of_place
from knead.core.pairing.chains import Chain
from knead.core.pairing.pairs import Turning

FEW, MANY = 3, 60  # of fewer on it, no turn of a ball is told, and a face has no more
REACH = 1.5  # how far off its middle what is on a ball may reach, by its half width: ears, and a nose
CALM = 0.1  # what goes less far on it in the mean, by its half width, stays
DEEP = 0.35  # by how much what lies near the rim of a ball is squashed at most
TELLS = 0.4  # how much nearer pairs must come to where they are by it,
PLAIN = 0.2  # and how far off they are without it, in the mean: less may as well be a pose
PLAINLY = 0.95  # how much less the pairs must cost
TURN = 0.1  # what half a round costs each pair
GONE = 0.4  # how much less it costs to vanish for what goes behind
SIDES = 0.15  # what it costs that two change sides
BACK, APART = -0.5, 0.1  # the cosine by which the way from one to the other is turned then, and how long it is at least
LIKELIEST = 12  # of at most so many turns it is asked what they cost


@dataclass(frozen=True)
class _Ball:
    """A ring, and which others of its key lie on it, or at its rim.

    Their `places`, (n,), are by its middle and half its width and height, (2,).
    """

    members: Ints
    places: Complexes
    half: Floats


@dataclass(frozen=True)
class _Side:
    """What is on a ball of one key and may be paired anew: rows or columns, and their places on it."""

    of: list[int]
    lines: list[Chain]
    looks: list[Portrait]
    places: Complexes
    half: Floats

    def fronts(self) -> list[Portrait]:
        """How they look from the front."""
        width, height = self.half.tolist()
        each = zip(self.lines, self.places.tolist(), strict=True)
        return [_from_the_front(line.form, place, width, height) for line, place in each]


def facing(found: Assignment) -> Assignment:
    """The same with what lies on a ring paired as on a ball that turns, where that is plainly less dear."""
    balls = _balls(found.one), _balls(found.two)
    for one, two in [(balls[0][i], balls[1][j]) for i, j in found.pairs.mates if i in balls[0] and j in balls[1]]:
        sides = _sides(found, one, two)
        turned = _turned(found, *sides) if _stirs(found, *sides) else None
        if turned is not None:
            found = _with(found, sides[0].of, sides[1].of, turned)
    return found


def _sides(found: Assignment, one: _Ball, two: _Ball) -> tuple[_Side, _Side]:
    """What lies on the ball in both keys, or has no partner."""
    pairs = found.pairs.mates
    tied = [pair for pair, chains in zip(pairs, found.paired, strict=True) if found.are_tied(*chains)]
    astray = [pair for pair in pairs if (pair[0] in one.members) != (pair[1] in two.members)]
    out = [{pair[side] for pair in (*tied, *astray)} for side in (0, 1)]
    sides = []
    for sheet, ball, gone in zip((found.one, found.two), (one, two), out, strict=True):
        own = [k for k in ball.members.tolist() if k not in gone]
        places = ball.places[np.isin(ball.members, own)]
        lines, looks = [sheet.chains[k] for k in own], [sheet.portraits[k] for k in own]
        sides.append(_Side(own, lines, looks, places, ball.half))
    return sides[0], sides[1]


def _stirs(found: Assignment, one: _Side, two: _Side) -> bool:
    """Whether there is enough on a ball, and not too much, and pairs of it do not just stay where they were on it."""
    if min(len(one.of), len(two.of)) < FEW or max(len(one.of), len(two.of)) > MANY:
        return False
    here = dict(zip(one.of, (np.exp(1j * found.pairs.turn) * one.places).tolist(), strict=True))
    there = dict(zip(two.of, two.places.tolist(), strict=True))
    ways = [abs(there[j] - here[i]) for i, j in found.pairs.mates if i in here and j in there]
    return not ways or sum(ways) > CALM * len(ways)


def _turned(found: Assignment, one: _Side, two: _Side) -> Rows | None:
    """The pairs of what lies on a ball if it turns, where these cost plainly less than the best if it does not."""
    gaps = form_gap(one.looks, two.looks), form_gap(one.fronts(), two.fronts())
    unlike = found.unlike[np.ix_(one.of, two.of)] - gaps[0] + np.minimum(*gaps)
    here, there = np.exp(1j * found.pairs.turn) * one.places, two.places
    moved, back = TURNED @ on_ball(here), np.swapaxes(TURNED, 1, 2) @ on_ball(there)
    behind = GONE * (moved[:, 2, :, None] < 0), GONE * (back[:, 2, None, :] < 0)
    far = np.abs(seen(moved)[:, :, None] - there) / 2
    costs = unlike + price_of_place(far) + TURN * ROUNDS[:, None, None] + behind[0] + behind[1]
    gone = behind[0].sum(axis=(1, 2)) + behind[1].sum(axis=(1, 2))
    hopes = sum(np.minimum(costs.min(axis=axis), 2 * ALONE).sum(axis=1) for axis in (1, 2)) / 2 - gone

    def at(k: int) -> tuple[float, int, Rows]:
        cost = costs[k] + lean(one.looks, two.looks, found.pairs.turn + LEANT[k])
        way = Rows(*cheapest(cost, ALONE), cost)
        price = way.price(ALONE) - gone[k] + SIDES * _change_sides(here[way.rows], there[way.columns])
        return price, k, way

    most = PLAINLY * at(0)[0]
    asked = (at(k) for k in np.argsort(hopes)[:LIKELIEST].tolist() if hopes[k] < most)
    price, turn, way = min(asked, key=lambda each: each[0], default=(np.inf, 0, None))
    if way is None or price >= most:
        return None
    off = far[:, way.rows, way.columns].sum(axis=1)
    told = len(way.rows) >= FEW and off[0] > PLAIN * len(way.rows) and off[turn] < TELLS * off[0]
    return way if told else None


def _with(found: Assignment, rows: list[int], columns: list[int], turned: Rows) -> Assignment:
    """The assignment with other pairs of some rows and columns, and what these cost."""
    partner = {i: j for i, j in found.pairs.mates if i not in rows}
    partner |= {rows[i]: columns[j] for i, j in turned.mates}
    cost = found.pairs.cost.copy()
    cost[np.ix_(rows, columns)] = turned.cost
    mates = np.array(sorted(partner.items()))
    pairs = replace(found.pairs, rows=mates[:, 0], columns=mates[:, 1], cost=cost)
    return replace(found, pairs=pairs, turning={**found.turning, **dict.fromkeys(rows, Turning("ball"))})


def _change_sides(one: Complexes, two: Complexes) -> int:
    """How many twos come to lie on the other side of each other, which none that are seen of a ball do."""
    ways = one[:, None] - one, two[:, None] - two
    back = (ways[0].conj() * ways[1]).real < BACK * np.abs(ways[0]) * np.abs(ways[1])
    return int(np.count_nonzero(np.triu(back & (np.minimum(*np.abs(ways)) > APART), 1)))


def _balls(sheet: Sheet) -> dict[int, _Ball]:
    """The rings of a key on which enough others lie that are smaller."""
    places, sizes = centres(sheet.portraits), np.array([look.size for look in sheet.portraits])
    found = {}
    for k in np.flatnonzero([look.is_ring for look in sheet.portraits]).tolist():
        box = box_of(hull_of(sheet.chains[k].form.contours))
        half, by = np.array([box[1].real, box[1].imag]), by_box(places, box)
        members = np.flatnonzero((np.abs(by) + sizes / half.min() < REACH) & (sizes < sizes[k]))
        if len(members) >= FEW:
            found[k] = _Ball(members, by[members], half)
    return found


@lru_cache(maxsize=256)  # it is asked for each way in which lines may be cut
def _from_the_front(shape: Shape, place: complex, width: float, height: float) -> Portrait:
    """The look of what lies at a place of a ball, so wide and high by halves, as it is seen from the front."""
    look, half = portrait(shape), np.array([width, height])
    if abs(place) >= 1.0 or abs(place) < 1e-9:
        return look
    out = np.array([place.real, place.imag]) / abs(place)
    squashed = max(np.sqrt(1.0 - abs(place) ** 2), DEEP)
    linear = half[:, None] * (np.eye(2) + (1.0 / squashed - 1.0) * np.outer(out, out)) / half
    middle = np.array([look.centre.real, look.centre.imag])
    return portrait(placed(shape, np.column_stack([linear, middle - linear @ middle])))
