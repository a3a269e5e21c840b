"""The ink of a fill is paired by where on its edge it lies: what is seen of that is another stretch in either key."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np
import shapely

from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import Track, track_of
from knead.core.model import Shape
from knead.core.outline.correspondence import Correspondence
from knead.core.outline.matching import match
from knead.core.pairing.pairs import ShapePair
from knead.core.pairing.settled.stretches import Part, stretched

AROUND, ALONG = np.linspace(0.0, 1.0, 129), np.linspace(0.0, 1.0, 33)
LEAST = 0.005  # stretches of an edge have something in common from this share of it on
REASON = "ink of the same fill, along its edge"
SURE = 0.95  # how sure such a pair is at most
LONELY = "no ink of its fill is seen in the other key", 0.6  # why it has no partner, and how sure that is

Edges = Mapping[str, Sequence[str]]  # of each line that is ink, the fills along whose edges it lies, its own first


@dataclass(frozen=True)
class _Stretch:
    """A line along an edge: the shares of that, as the first key counts them, at places ALONG it, unwrapped."""

    line: Shape
    places: Floats

    @property
    def ends(self) -> tuple[float, float]:
        """Where it begins and ends, rising."""
        low, high = sorted((float(self.places[0]), float(self.places[-1])))
        return low, high

    def common(self, other: "_Stretch") -> float:
        """How much of the edge both lie along."""
        (a, b), (c, d) = self.ends, other.ends
        turns = np.round((a + b - c - d) / 2) + np.arange(-1, 2)
        return float(np.max(np.minimum(b, d + turns) - np.maximum(a, c + turns)))

    def away(self, other: "_Stretch") -> float:
        """How far their middles are from each other."""
        off = (sum(self.ends) - sum(other.ends)) / 2
        return float(abs(off - np.round(off)))

    def part_of(self, whole: "_Stretch") -> Part:
        """The stretch of the whole line along which this one lies."""
        own, other = self.ends, whole.ends
        shift = np.round((sum(other) - sum(own)) / 2)
        if whole.line.contours[0].closed:
            at = whole.places, ALONG
            rounds = [np.concatenate([row + turn * (row[-1] - row[0]) for turn in (-1, 0, 1)]) for row in at]
        else:
            rounds = [whole.places, ALONG]
        order = np.argsort(rounds[0], kind="stable")
        start, end = sorted(np.interp(np.array(own) + shift, rounds[0][order], rounds[1][order]).tolist())
        turns = np.floor(start) if whole.line.contours[0].closed else 0.0
        return Part(self.line, float(start - turns), float(end - turns))


def along_own_edges(
    pairs: list[ShapePair],
    fixed: Collection[ShapePair],
    sides: tuple[Mapping[str, Shape], Mapping[str, Shape]],
    edges: tuple[Edges, Edges],
) -> list[ShapePair]:
    """The pairs, with ink that is left over, or would leave its fill, along the edge of what its fill becomes.

    `sides` are the shapes of both keys by their ids. What is `fixed` stays.
    """
    plain = [p for p in pairs if p.kind == "pair" and p.first and p.second and not p.has_piece]
    fills = [p for p in plain if all(_is_form(sides[k][fill]) for k in (0, 1) for fill in p.ids(k == 0))]
    becomes = {p.first or "": p.second or "" for p in fills}
    free = {k: p for k, p in enumerate(pairs) if p not in fixed}
    gone = {k for k, p in free.items() if _leaves(p, edges, becomes)}
    found: list[ShapePair] = []
    for pair in fills:
        both = pair.first or "", pair.second or ""
        own = [[line for line, on in edges[k].items() if on[0] == both[k]] for k in (0, 1)]
        touched = {k: p for k, p in free.items() if {*p.firsts} & {*own[0]} or {*p.seconds} & {*own[1]}}
        if not own[0] or not own[1] or not any(k in gone or None in (p.first, p.second) for k, p in touched.items()):
            continue
        names = [{line for p in touched.values() for line in p.ids(k == 0)} for k in (0, 1)]
        lines = [[sides[k][line] for line in own[k] if line in names[k]] for k in (0, 1)]
        if all(len(line.contours) == 1 for side in lines for line in side):
            outlines = [track_of(sides[k][both[k]].contours[0]) for k in (0, 1)]
            found += _laid(lines, outlines, min(pair.confidence, SURE))
            gone |= touched.keys()
    kept = [p for k, p in enumerate(pairs) if k not in gone] + found
    left = [pairs[k] for k in sorted(gone)]
    return kept + [_alone(line, k) for k in (0, 1) for line in _missing(left, kept, k == 0)]


def _is_form(shape: Shape) -> bool:
    return shape.fill is not None and len(shape.contours) == 1 and shape.contours[0].closed


def _leaves(pair: ShapePair, edges: tuple[Edges, Edges], becomes: Mapping[str, str]) -> bool:
    """Whether ink of a fill becomes ink of others than that becomes, or is one line with ink of others."""
    homes = [[{*edges[k].get(line, ())} for line in pair.ids(k == 0)] for k in (0, 1)]
    if not all(side and all(side) for side in homes):
        return False
    one, two = (set.intersection(*side) for side in homes)
    mixed = not one and all(any(fill in becomes for fill in home) for home in homes[0])
    wanted = {becomes[fill] for fill in one if fill in becomes}
    return mixed or bool(wanted and not wanted & two)


def _missing(gone: Sequence[ShapePair], kept: Sequence[ShapePair], of_first: bool) -> list[str]:
    """Lines of pairs that are gone of which no other pair is."""
    there = {line for p in kept for line in p.ids(of_first)}
    return list(dict.fromkeys(line for p in gone for line in p.ids(of_first) if line not in there))


def _alone(line: str, side: int) -> ShapePair:
    one, two = (None, line) if side else (line, None)
    return ShapePair(one, two, LONELY[1], LONELY[0])


def _laid(lines: Sequence[Sequence[Shape]], outlines: Sequence[Track], confidence: float) -> list[ShapePair]:
    """The pairs of the ink of a fill in both keys: what lies along one stretch of its edge, and then what is near."""
    way = match(outlines[0], outlines[1])
    own = _shares(lines[0], outlines[0]), _back(way, _shares(lines[1], outlines[1]))
    ones, twos = (
        [_Stretch(line, np.unwrap(row, period=1.0)) for line, row in zip(side, rows, strict=True)]
        for side, rows in zip(lines, own, strict=True)
    )
    links = _stars(np.array([[one.common(two) for two in twos] for one in ones]).reshape(len(ones), len(twos)))
    left = [({*range(len(side))} - {link[k] for link in links}) for k, side in enumerate((ones, twos))]
    while left[0] and left[1]:
        nearest = min(product(*left), key=lambda link: ones[link[0]].away(twos[link[1]]))
        links.append(nearest)
        left = [side - {end} for side, end in zip(left, nearest, strict=True)]
    counts = [Counter(link[k] for link in links) for k in (0, 1)]
    found = []
    for divides, wholes, parts in ((True, ones, twos), (False, twos, ones)):
        ways = [link if divides else link[::-1] for link in links]
        for k, whole in enumerate(wholes):
            several = [parts[n] for at, n in ways if at == k]
            if len(several) > 1 or _opens(whole, several):
                along = sorted((part.part_of(whole) for part in several), key=lambda part: part.start)
                found += stretched(whole.line, along, divides, confidence, REASON)
    plain = [(ones[a], twos[b]) for a, b in links if counts[0][a] == counts[1][b] == 1]
    alike = [(a, b) for a, b in plain if a.line.contours[0].closed == b.line.contours[0].closed]
    return found + [ShapePair(a.line.id, b.line.id, confidence, REASON) for a, b in alike]


def _opens(whole: _Stretch, others: Sequence[_Stretch]) -> bool:
    """Whether it is a ring, and the only other a line."""
    return len(others) == 1 and whole.line.contours[0].closed and not others[0].line.contours[0].closed


def _shares(lines: Sequence[Shape], outline: Track) -> Floats:
    """The shares of an outline at which places ALONG lines lie, shape (lines, places)."""
    edge = shapely.LineString(as_points(outline.sketch(AROUND)))
    points = shapely.points(as_points(np.array([track_of(line.contours[0]).sketch(ALONG) for line in lines])))
    return np.asarray(shapely.line_locate_point(edge, points, normalized=True), dtype=float)


def _back(way: Correspondence, shares: Floats) -> Floats:
    """The shares of the first outline that become those of the second."""
    there = 1.0 - shares if way.reversed else shares
    rounds = np.floor(there - way.second[0])
    return np.asarray(np.interp(there - rounds, way.second, way.first) + rounds)


def _stars(common: Floats) -> list[tuple[int, int]]:
    """Rows and columns that have the most in common: one with one, or one with several."""
    links: list[tuple[int, int]] = []
    for at in np.argsort(-common, axis=None, kind="stable").tolist():
        row, column = divmod(at, common.shape[1])
        if common[row, column] < LEAST:
            break
        beside = [(a, b) for a, b in links if a == row or b == column]
        of_row, of_column = ({a for a, _ in beside}, {b for _, b in beside})
        if (
            not beside
            or (of_row == {row} and _are_single(links, 1, of_column))
            or (of_column == {column} and _are_single(links, 0, of_row))
        ):
            links.append((row, column))
    return links


def _are_single(links: Sequence[tuple[int, int]], side: int, ends: Collection[int]) -> bool:
    """Whether each of these rows or columns is in one link only."""
    return all(sum(link[side] == end for link in links) == 1 for end in ends)
