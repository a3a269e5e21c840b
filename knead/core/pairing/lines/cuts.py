"""How lines are best cut: strokes that go on in each other may be one line, or be paired each by itself."""

from collections.abc import Callable, Sequence

import numpy as np

from knead.core.geometry.track import track_of
from knead.core.pairing.assign.assignment import ALONE, Assignment
from knead.core.pairing.assign.doubt import strains
from knead.core.pairing.chains import Chain, chains

SOONER_CUT = 0.1  # how much dearer strokes may be that are left as they were drawn, where a line has corners
STILL = 0.01  # what moves by less than this, by its length, is as it was
ALONG = np.linspace(0.0, 1.0, 17)
MISSING = 0.5  # how much of what a line costs must be saved, so that its strokes are each looked at

Assigned = Callable[[Sequence[Chain], Sequence[Chain]], Assignment]


def best_cut(left: Sequence[Chain], right: Sequence[Chain], assigned: Assigned) -> Assignment:
    """The best assignment of lines and shapes, as `assigned` pairs them, however the lines are cut."""
    best = _cut_where_they_bend(left, right, assigned)
    best = _round_corners(left, right, best, assigned)
    return _cut_where_one_is_missing(best, assigned)


def _loosened(found: Assignment, cut: Sequence[Chain], assigned: Assigned) -> Assignment:
    sides = found.one.chains, found.two.chains
    one, two = ([part for c in side for part in (c.parts() if c in cut else [c])] for side in sides)
    return assigned(one, two)


def _cut_where_they_bend(left: Sequence[Chain], right: Sequence[Chain], assigned: Assigned) -> Assignment:
    """A line that was cut alike in both keys, or bends sharply at a cut in one of them, is better left cut."""
    best = assigned(left, right)
    for chain in [c for c in (*left, *right) if len(c.links) > 1]:
        other = _loosened(best, [chain], assigned)
        if other.price < best.price:
            best = other
    return best


def _round_corners(left: Sequence[Chain], right: Sequence[Chain], best: Assignment, assigned: Assigned) -> Assignment:
    """Strokes that meet at a corner may be one line that was cut elsewhere in the other key."""
    still = [pair for pair in best.paired if _stays(*pair)]
    bent = [_bent(lines, [pair[side] for pair in still]) for side, lines in enumerate((left, right))]
    if (len(bent[0]), len(bent[1])) == (len(left), len(right)):
        return best
    every = assigned(bent[0], bent[1])
    some = assigned(*(_straightened(best, every, side) for side in (0, 1)))
    for other in sorted((every, some), key=lambda each: each.price_of_strokes):
        if _is_better(other, best):
            best = other
    return best


def _stays(one: Chain, two: Chain) -> bool:
    """Whether a stroke is there in both keys, in its place."""
    if len(one.links) > 1 or len(two.links) > 1:
        return False
    (z, w) = (track_of(chain.lead.contours[0]).sketch(ALONG) for chain in (one, two))
    gap = min(float(np.abs(z - other).max()) for other in (w, w[::-1]))
    return gap < STILL * float(np.abs(np.diff(z)).sum())


def _bent(lines: Sequence[Chain], still: Sequence[Chain]) -> list[Chain]:
    """The lines of a key that go on round corners, without strokes that stay where they are."""
    return [*still, *chains([shape for line in lines if line not in still for shape in line.shapes], True)]


def _cut_where_one_is_missing(best: Assignment, assigned: Assigned) -> Assignment:
    """A line of which a stroke is missing in one key is better left cut in both: that saves most of what it costs."""
    for both in best.paired:
        counts = {len(chain.links) for chain in both}
        if len(counts) > 1 and min(counts) > 1:
            other = _loosened(best, both, assigned)
            if best.price_of_strokes - other.price_of_strokes > MISSING * best.price_of_whole(*both):
                best = other
    return best


def _is_better(other: Assignment, best: Assignment) -> bool:
    """Whether lines are better cut the other way: by the price of all strokes, and by that of all lines.

    Where the two disagree, what would become of the lines decides.
    """
    by_strokes = other.price_of_strokes + SOONER_CUT < best.price_of_strokes
    if by_strokes == (other.price < best.price):
        return by_strokes
    judged = strains(other.way, best.way)
    return by_strokes if judged is None else judged[0] < judged[1]


def _straightened(straight: Assignment, bent: Assignment, side: int) -> list[Chain]:
    """The lines of a key that go on round corners, without those that are dearer by that, or have no partner."""
    before, after = straight.prices(side), bent.prices(side)
    lines = straight.sheet(side).chains
    line_of = {name: k for k, line in enumerate(lines) for name in line.ids}
    found: list[Chain] = []
    for chain in bent.sheet(side).chains:
        parts = [lines[k] for k in sorted({line_of[name] for name in chain.ids})]
        cheaper = sum(after.get(name, np.inf) - before.get(name, ALONE) for name in chain.ids) <= 0.0
        whole = sum(len(line.links) for line in parts) == len(chain.links)
        found += parts if whole and not cheaper else [chain]
    return found
