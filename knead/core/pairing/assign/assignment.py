"""The assignment of the lines and shapes of two keys that is the least unlike in kind, paint, form and place."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats
from knead.core.model import Drawing, Shape
from knead.core.outline.strain import TURN
from knead.core.pairing.assign.belonging import Belonging
from knead.core.pairing.assign.bodies import in_bodies
from knead.core.pairing.assign.doubt import strains
from knead.core.pairing.assign.likeness import Portrait, form_gap, portrait, unlikeness
from knead.core.pairing.assign.parts import are_elsewhere
from knead.core.pairing.assign.rounds import Rows, contenders
from knead.core.pairing.assign.symmetry import symmetric
from knead.core.pairing.assign.tips import Tips
from knead.core.pairing.chains import Chain
from knead.core.pairing.pairs import Turning

ALONE = 0.85  # the price of appearing or vanishing: a pair dearer than two of these is not made
DEPTH = 0.1  # what it costs to go from the very front to the very back
TAKEN = 0.6  # what it costs to become another colour where the very same is there
KIN = 0.6  # how unlike what becomes each other may be, if distortion is to say so
CLEARLY = 0.95  # how much less what is dearer must be distorted, so that it is meant
HARDLY = 0.002  # what is distorted by less than that is not told by it
BROKEN = 2.0  # the price of a tie that does not hold: more than that of a pair that is not made
STOOD = 0.3  # how much unlikeness counts of what stands where it stood
LET_GO = 0.6  # what it costs to end on one fill, and become what ends on another
ELSEWHERE = 1.0  # the same of parts that both keys have
FAINT = 0.3  # how much paint counts where all may have been painted anew
LARGE = 0.8  # what is smaller than this, by the largest of its kind, is plainly smaller
SAME_FORM, SAME_PLACE = 0.2, 0.05  # how unlike, and how far off by its size, what is the same in another colour is
SAME, SHADE = 1e-6, 0.04  # distances of colours that are the same, and of those that plainly differ
DARK, LIGHT = 0.1, 0.98  # black and white are everybody's: that they are the same says nothing


@dataclass(frozen=True)
class Sheet:
    """Lines and shapes of one key that are yet to be paired: one row each."""

    chains: tuple[Chain, ...]
    portraits: tuple[Portrait, ...]
    depths: Floats


def sheet_of(lines: Sequence[Chain], drawing: Drawing, known: dict[tuple[str, ...], Portrait]) -> Sheet:
    """The sheet of lines of a drawing; portraits are taken from those `known`, and put there."""
    depth = {s.id: k / max(len(drawing.shapes) - 1, 1) for k, s in enumerate(drawing.shapes)}
    keys = [(*chain.ids, chain.lead.contours[0].nodes[0].id) for chain in lines]  # pieces have the id of the whole
    for key, chain in zip(keys, lines, strict=True):
        if key not in known:
            known[key] = portrait(chain.form)
    portraits = tuple(known[key] for key in keys)
    return Sheet(tuple(lines), portraits, np.array([depth[chain.lead.id] for chain in lines]))


@dataclass(frozen=True)
class Assignment:
    """Which lines and shapes of the two keys become which, and how unlike they are."""

    one: Sheet
    two: Sheet
    pairs: Rows
    unlike: Floats
    stood: Floats  # what is taken off that where they stand where they stood, as one may by chance
    ties: tuple[tuple[str, str], ...] = ()  # ids that are to become each other, or parts of lines that do
    turning: Mapping[int, Turning] = field(default_factory=dict)  # rows that go as on something that turns
    hidden: frozenset[str] = frozenset()  # ids of what a box hides as it turns

    @property
    def paired(self) -> list[tuple[Chain, Chain]]:
        """The lines and shapes that become each other."""
        return [(self.one.chains[i], self.two.chains[j]) for i, j in self.pairs.mates]

    def alone(self, side: int) -> list[int]:
        """Which rows of a key have no partner."""
        taken = set((self.pairs.columns if side else self.pairs.rows).tolist())
        return [k for k in range(len(self.sheet(side).chains)) if k not in taken]

    @property
    def way(self) -> list[tuple[Chain | None, Chain | None]]:
        """What becomes what, and with None, what is left over."""
        left, right = ([self.sheet(side).chains[k] for k in self.alone(side)] for side in (0, 1))
        return [*self.paired, *((chain, None) for chain in left), *((None, chain) for chain in right)]

    def price_of_whole(self, one: Chain, two: Chain) -> float:
        """What all strokes of two lines that become each other cost."""
        cost = self.pairs.cost[self.one.chains.index(one), self.two.chains.index(two)]
        return max(len(one.links), len(two.links)) * float(cost)

    def sheet(self, side: int) -> Sheet:
        """The sheet of the first key, 0, or the second, 1."""
        return self.two if side else self.one

    def prices(self, side: int) -> dict[str, float]:
        """What each stroke and shape of a key costs that has a partner, by its id: as much as its whole line."""
        lines, found = self.sheet(side).chains, dict[str, float]()
        for pair in self.pairs.mates:
            found |= dict.fromkeys(lines[pair[side]].ids, float(self.pairs.cost[pair]))
        return found

    @property
    def price(self) -> float:
        """What all lines cost, those that stay alone, and ties that do not hold."""
        return self.pairs.price(ALONE) + BROKEN * self.broken

    def are_tied(self, one: Chain, two: Chain) -> bool:
        """Whether a tie is between strokes of these lines."""
        return any(a in one.ids and b in two.ids for a, b in self.ties)

    @property
    def broken(self) -> int:
        """How many ties do not hold."""
        held = {(a, b) for one, two in self.paired for a, b in self.ties if a in one.ids and b in two.ids}
        return len(self.ties) - len(held)

    @property
    def price_of_strokes(self) -> float:
        """What all strokes cost, each as much as the line that it is part of, and ties that do not hold."""
        counts = [np.array([len(chain.links) for chain in sheet.chains]) for sheet in (self.one, self.two)]
        rows, columns = self.pairs.rows, self.pairs.columns
        paired = np.maximum(counts[0][rows], counts[1][columns])
        lonely = counts[0].sum() + counts[1].sum() - counts[0][rows].sum() - counts[1][columns].sum()
        return float(paired @ self.pairs.cost[rows, columns] + ALONE * lonely) + BROKEN * self.broken


def assigned(
    one: Sheet,
    two: Sheet,
    known: Sequence[tuple[Portrait, Portrait]],
    paints: float = 1.0,
    ties: Sequence[tuple[str, str]] = (),
    stands: Collection[tuple[str, str]] = (),
    belonging: Belonging | None = None,
    tips: Tips | None = None,
) -> Assignment:
    """Which become which.

    `known` are pairs that stand already; `paints` is how much paint counts. `ties` are ids of what is to become each
    other, or parts of lines that do; `stands` are ids of what stands where it stood. By its `belonging`, what is on a
    fill becomes what is on that which the fill becomes; so does, by their `tips`, what ends on one.
    """
    unlike = unlikeness(one.portraits, two.portraits, paints)
    unlike = unlike + paints * TAKEN * _another_has_it(one.portraits, two.portraits)
    stays = _largest_stays(one.portraits, two.portraits)
    if stays is not None:
        i, j = stays
        unlike[i, j] = unlikeness(one.portraits[i : i + 1], two.portraits[j : j + 1], FAINT)[0, 0]
    stood = np.array([[(a.lead.id, b.lead.id) in stands for b in two.chains] for a in one.chains])
    taken_off = np.where(stood, (1.0 - STOOD) * unlike, 0.0)
    unlike = unlike - taken_off + DEPTH * np.abs(one.depths[:, None] - two.depths[None])
    unlike = unlike + ELSEWHERE * are_elsewhere([c.lead for c in one.chains], [c.lead for c in two.chains])
    if belonging is not None:
        unlike = unlike + belonging.price(one.chains, two.chains)
    if tips is not None:
        unlike = unlike + LET_GO * tips.stray(one.chains, two.chains)
    tied = np.zeros(unlike.shape, dtype=bool)
    for a, b in ties:
        tied |= np.logical_and.outer([a in c.ids for c in one.chains], [b in c.ids for c in two.chains])
    rivals = []
    for found in contenders(one.portraits, two.portraits, unlike, known, ALONE, tied):
        even = symmetric(one.portraits, two.portraits, found, ALONE)
        keeps = even is not None and tied[even.rows, even.columns].sum() == tied[found.rows, found.columns].sum()
        rivals.append(Assignment(one, two, even if even and keeps else found, unlike, taken_off, tuple(ties)))
    best = rivals[0]
    for rival in rivals[1:]:
        best = rival if _strains_less(rival, best) else best
    bodies = [_may_be_body(c) for c in one.chains], [_may_be_body(c) for c in two.chains]
    return replace(best, pairs=in_bodies(bodies, (one.portraits, two.portraits), unlike, best.pairs, ALONE, tied))


def _may_be_body(line: Chain) -> Shape | None:
    """The shape, if it is filled and of one closed outline, so that others may be in it."""
    shape = line.lead
    return shape if shape.fill is not None and len(shape.contours) == 1 and shape.contours[0].closed else None


def _strains_less(one: Assignment, other: Assignment) -> bool:
    """Whether as many become each other, all of them kin and most of the drawing, and are plainly distorted less."""
    rows, columns = one.pairs.rows, one.pairs.columns
    lonely = sum(one.unlike.shape) - 2 * len(rows)
    kin = len(rows) == len(other.pairs.rows) > lonely and float(one.unlike[rows, columns].max()) <= KIN
    if not kin:
        return False
    judged = strains(one.way, other.way)
    # a line that is laid the other way round hides how far the whole turns
    rounds = [abs(each.pairs.turn) / np.pi for each in (one, other)]
    return judged is not None and HARDLY + judged[0] + TURN * rounds[0] < CLEARLY * (judged[1] + TURN * rounds[1])


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
