"""Limbs that are as like each other as not go by their joints: the shin of a leg stays at its thigh as legs cross.

And by what they are seen to lie over: the near arm stays before a body, and the far one behind it.
"""

from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, Ints
from knead.core.pairing.assign.assignment import Assignment, Sheet
from knead.core.pairing.assign.likeness import Portrait
from knead.core.pairing.refine.order import by_exchange, keep_partners
from knead.core.pairing.refine.roots import outline_of
from knead.core.pairing.refine.touching import is_fill, touching

DEARER = 0.3  # how much dearer a pair of limbs may be for each that gets another partner by which more stays joined
MOST = 0.6  # and how much the dearest of those that go together
UNLIKE = 0.1  # how much more unlike two may be with each other's partner
FORM = 3.0  # how much that counts against what stays joined
TELLING, FURTHER = 0.6, 0.3  # so much more must stay, and by so much more with each that goes along
KIN = 0.3  # what is as like as this is not joined, but side by side, as blades of a fan
SLIPS = 0.2  # a joint that goes on by so much of a limb's size is another
SWAPS = 0.5  # how much it counts that what was over comes under
LINKS = 4  # so many go together, as the shin and the shoe of a leg
WEIGHED = 100  # so many exchanges are tried, those that cost the least: more are a meadow, and no figure
OBLONG = 0.5  # what has ends, by how its outline spreads
COVERS, SEEN = 0.1, 0.05  # so much of the smaller lies over another that is plainly of another colour


@dataclass(frozen=True)
class Joints:
    """Where forms touch each other; all (n, n): of the form of a row where it touches that of a column."""

    touches: NDArray[np.bool_]
    far: Floats  # how far from its middle, by its size
    ends: NDArray[np.bool_]  # whether at an end of it
    over: Floats  # 1 where it is seen to lie over the other, -1 under it, else 0

    @property
    def turned(self) -> "Joints":
        """The same of the form of a column where it touches that of a row."""
        return Joints(self.touches.T, self.far.T, self.ends.T, self.over.T)

    @property
    def joined(self) -> NDArray[np.bool_]:
        """Whether they touch at an end of either."""
        return self.ends | self.ends.T

    def among(self, order: Ints) -> "Joints":
        """Those of some forms, in this order."""
        own = np.ix_(order, order)
        return Joints(self.touches[own], self.far[own], self.ends[own], self.over[own])


Link = tuple[int, int]  # two pairs that are to exchange their partners


def by_joints(found: Assignment) -> Assignment:
    """The same with partners exchanged where only so fills stay at what they are joined to, or over it.

    Several go together if it takes that: all that hangs on a limb below one joint.
    """
    pairs = found.pairs
    fills = [is_fill(found.one, i) and is_fill(found.two, j) for i, j in pairs.mates]
    dearer, unlike = by_exchange(pairs, pairs.cost), by_exchange(pairs, found.unlike)
    may = np.logical_and.outer(fills, fills) & ~keep_partners(found)
    may &= np.triu((dearer < MOST) & (unlike < UNLIKE), 1)
    if not may.any():
        return found
    here, there = (_joints(sheet).among(own) for sheet, own in ((found.one, pairs.rows), (found.two, pairs.columns)))
    here = replace(here, touches=here.touches & (unlike > KIN))
    order = np.arange(len(may))
    for links in _worth_most(here, there, may, dearer, unlike):
        # what others that were exchanged have mended needs nothing more
        if all(may[link] for link in links) and _gained(here, there.among(order), links) > TELLING:
            for link in links:
                _exchange(order, link)
                may = _without(may, link)
    return replace(found, pairs=replace(pairs, columns=pairs.columns[order]))


def _worth_most(
    here: Joints, there: Joints, may: NDArray[np.bool_], dearer: Floats, unlike: Floats
) -> list[list[Link]]:
    """Exchanges that go together, by which more stays joined at little cost, those first that are worth most."""
    weighed = sorted(((int(k), int(n)) for k, n in np.argwhere(may)), key=lambda link: float(dearer[link]))[:WEIGHED]
    found = []
    for gained, links in (_linked(here, there, may, link) for link in weighed):
        worth = gained - FORM * sum(float(unlike[link]) for link in links)
        if min(gained, worth) > TELLING and np.mean([dearer[link] for link in links]) < DEARER:
            found.append((worth, links))
    return [links for _, links in sorted(found, reverse=True)]


def _linked(here: Joints, there: Joints, may: NDArray[np.bool_], link: Link) -> tuple[float, list[Link]]:
    """By how much more stays joined with that exchange and those that go along best, and all of these."""
    order, links = np.arange(len(may)), [link]
    gained = float(_gains(here, there, np.array([link]))[0])
    best = gained, links
    while len(links) < LINKS:
        _exchange(order, links[-1])
        may = _without(may, links[-1])
        beside = np.asarray(here.touches[np.unique(links)].any(axis=0))
        others = np.argwhere(may & beside & beside[:, None])
        gains = _gains(here, there.among(order), others)
        if not len(others) or gains.max() < FURTHER:
            break
        k, n = others[gains.argmax()]
        gained, links = gained + float(gains.max()), [*links, (int(k), int(n))]
        best = max(best, (gained, links))
    return best


def _gained(here: Joints, there: Joints, links: list[Link]) -> float:
    """By how much more stays joined with all these exchanges."""
    order, gained = np.arange(len(here.far)), 0.0
    for link in links:
        gained += float(_gains(here, there.among(order), np.array([link]))[0])
        _exchange(order, link)
    return gained


def _exchange(order: Ints, link: Link) -> None:
    """Change the order so that the two have each other's place."""
    order[[*link]] = order[[*link[::-1]]]


def _without(may: NDArray[np.bool_], link: Link) -> NDArray[np.bool_]:
    """What may still be exchanged once these two are."""
    free = ~np.isin(np.arange(len(may)), link)
    return np.asarray(may & free & free[:, None])


def _gains(here: Joints, there: Joints, links: Ints) -> Floats:
    """By how much more stays joined with each exchange, shape (m,), of two forms that touch in each key, (m, 2).

    What two that are exchanged do to each other does not count.
    """

    def stays(own: Ints, partners: Ints) -> Floats:
        both = here.touches[own] & there.touches[partners]
        both[np.arange(len(links))[:, None], links] = False
        fits = (here.joined[own] & there.joined[partners]).astype(float)
        for one, two in ((here, there), (here.turned, there.turned)):
            off = np.abs(one.far[own] - two.far[partners]) / SLIPS
            fits *= np.where(one.ends[own] | two.ends[partners], np.clip(1 - off, 0, 1), 1)  # along all else it slides
        swapped = here.over[own] * there.over[partners] < 0
        return np.asarray((both * np.where(swapped, -SWAPS, fits)).sum(axis=1))

    one, two = links.T
    return stays(one, two) + stays(two, one) - stays(one, one) - stays(two, two)


def _joints(sheet: Sheet) -> Joints:
    """Where forms of a key touch."""
    looks = sheet.portraits
    forms = np.array([outline_of(line.form) for line in sheet.chains], dtype=object)
    centres = np.array([look.centre for look in looks])
    sizes = np.maximum([look.size for look in looks], 1e-12)
    axes = np.array([look.axis for look in looks])
    touches = touching(sheet)
    one, two = np.nonzero(touches)
    common = shapely.intersection(forms[one], forms[two])
    apart = shapely.is_empty(common)
    common[apart] = shapely.shortest_line(forms[one[apart]], forms[two[apart]])
    middles = shapely.centroid(common)
    out = (shapely.get_x(middles) + 1j * shapely.get_y(middles) - centres[one]) / sizes[one]
    along = (out**2 * axes[one].conj()).real > 0.5 * np.abs(out**2 * axes[one])
    far, over = np.zeros((2, *touches.shape))
    ends = np.zeros_like(touches)
    far[one, two] = np.abs(out)
    oblong = np.minimum(np.abs(axes[one]), 1.0)
    long, wide = np.sqrt(1.5 * (1 + oblong)), np.sqrt(0.5 * (1 - oblong))  # of a bar whose outline spreads so
    ends[one, two] = along & (oblong > OBLONG) & (np.abs(out) > long - 2 * wide)
    seen = shapely.area(common) > COVERS * np.minimum(shapely.area(forms[one]), shapely.area(forms[two]))
    seen &= np.array([_contrast(looks[i], looks[j]) for i, j in zip(one, two, strict=True)], dtype=bool)
    over[one, two] = np.where(seen, np.sign(sheet.depths[one] - sheet.depths[two]), 0.0)
    return Joints(touches, far, ends, over)


def _contrast(one: Portrait, two: Portrait) -> bool:
    """Whether it is seen which of two lies over the other."""
    if one.fill is None or two.fill is None or one.stroke is not None or two.stroke is not None:
        return True
    return float(np.linalg.norm(one.fill - two.fill)) > SEEN
