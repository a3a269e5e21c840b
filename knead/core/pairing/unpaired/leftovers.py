"""What is left over in both keys in one place is one thing: an eye that shuts, a mouth, the charge of a battery."""

from collections.abc import Mapping, Sequence

import numpy as np
import shapely

from knead.core.geometry.bezier import Complexes, median
from knead.core.geometry.similarity import as_points, fit
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.assign.likeness import Portrait, portrait, unlikeness, unlikeness_of_paint
from knead.core.pairing.chains import may_chain
from knead.core.pairing.pairs import ShapePair, forms_of

NEAR = 1.0  # how far a ring may lie from where its line is expected, by the size of the larger
SIZES = np.log(2.5)  # how unlike in size they may be, as a log ratio
LARGER = np.log(2.0)  # lines that are more unlike than this are hardly one
NEIGHBOURS = 3  # so many pairs around it tell where a shape is expected
STAYED = 0.25  # the same, of what is a line or a ring in both keys, from where it was
UNLIKE = 1.7  # how unlike such may be by kind, paint and form
ALIKE = 0.1  # how unlike by kind, paint and form shapes of one key are that should become the same
CONFIDENCE, SURE = 0.5, 0.75  # how sure such pairs are, and those that stay whatever is left over
WITHIN = 0.8  # how much of what differs in colour must be within the other,
EDGES, MEETS = 0.4, 0.01  # and how much of an edge lies how near to that around it at least, by its length
AROUND = np.linspace(0.0, 1.0, 65)


def with_leftovers(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """The pairs, with lines and rings that are left over paired where they lie.

    What is a line in one key and a ring in the other may stay, or go along with its neighbours; what is either in both
    stays.
    """
    pairs = _without_strays(pairs, first, second)
    # what is fixed by hand stays, and what a box hides
    free = [p for p in pairs if p.confidence < 1.0 and None in (p.first, p.second) and not p.on_box]
    ones = _lone([s for s in first if s.id in {p.first for p in free}])
    twos = _lone([s for s in second if s.id in {p.second for p in free}])
    if not ones or not twos:
        return pairs
    known = _centres(pairs, first, second)
    looks = [{name: portrait(shape) for name, shape in side.items()} for side in (ones, twos)]
    settled = [[s for s in side if s.id not in own] for own, side in ((ones, first), (twos, second))]
    offers = []
    for a, one in looks[0].items():
        expected = _expected(one.centre, known)
        for b, two in looks[1].items():
            if (cost := _gap(one, two, expected)) is None:
                continue
            around = _around(ones[a], settled[0]), _around(twos[b], settled[1])
            if bool(around[0]) != bool(around[1]):
                continue  # what lies on nothing is no band on a body
            # the line of a shut eye is its lids, which have a partner: it is not the iris within them
            outer = [*((ring, two) for ring in around[0]), *((one, ring) for ring in around[1])]
            if not any(_shuts(x, y, _expected(x.centre, known)) for x, y in outer):
                offers.append((cost, a, b))
    offers += _edges_in_one_place(ones, twos)
    return _taking(pairs, free, offers, "both are left over, and in one place")


def _edges_in_one_place(ones: Mapping[str, Shape], twos: Mapping[str, Shape]) -> list[tuple[float, str, str]]:
    """Fills of which edges are in one place in both keys, one within the other, though they differ in colour."""
    sides = [[(name, _ring(s)) for name, s in side.items() if s.fill and s.contours[0].closed] for side in (ones, twos)]
    found = []
    for a, one in sides[0]:
        for b, two in sides[1]:
            smaller, larger = sorted((one, two), key=lambda ring: ring.area)
            near = MEETS * smaller.length
            if shapely.dwithin(smaller.exterior, larger.exterior, near):
                common = smaller.exterior.intersection(larger.exterior.buffer(near)).length / smaller.length
                within = smaller.buffer(0).intersection(larger.buffer(0)).area / max(smaller.area, 1e-12)
                found += [(UNLIKE + 1.0 - common, a, b)] if common >= EDGES and within >= WITHIN else []
    return found


def _ring(shape: Shape) -> shapely.Polygon:
    track = track_of(shape.contours[0])
    return shapely.Polygon(as_points(track.sketch(np.union1d(AROUND, track.nodes))))


def _taking(
    pairs: list[ShapePair], free: list[ShapePair], offers: list[tuple[float, str, str]], reason: str
) -> list[ShapePair]:
    """The pairs, with the cheapest of the offers in place of shapes that are free, each shape in one of them."""
    found: list[ShapePair] = []
    for _, a, b in sorted(offers):
        if all(a != p.first and b != p.second for p in found):
            found.append(ShapePair(a, b, CONFIDENCE, reason))
    gone = {p.first for p in found} | {p.second for p in found}
    return [p for p in pairs if p not in free or not {p.first, p.second} & gone] + found


def as_their_like(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """The pairs, with what is left over become what its very like does: of four drops two became flakes."""
    free = [p for p in pairs if p.confidence < 1.0 and None in (p.first, p.second) and not p.on_box]
    both = [p for p in pairs if p.kind == "pair" and p.first and p.second]
    ones, twos = [p.first for p in free if p.first], [p.second for p in free if p.second]
    if not ones or not twos or not both:
        return pairs
    one, two = ({s.id: portrait(s) for s in side} for side in (first, second))
    pairs_of = [(one[p.first or ""], two[p.second or ""]) for p in both]
    as_first = unlikeness([one[a] for a in ones], [a for a, _ in pairs_of]) <= ALIKE
    as_second = unlikeness([two[b] for b in twos], [b for _, b in pairs_of]) <= ALIKE
    ways = np.array([b.centre - a.centre for a, b in pairs_of])
    offers = []
    for a, firsts in zip(ones, as_first, strict=True):
        for b, seconds in zip(twos, as_second, strict=True):
            if (firsts & seconds).any():
                astray = np.abs(ways[firsts & seconds] - (two[b].centre - one[a].centre))
                offers.append((float(astray.min()), a, b))
    return _taking(pairs, free, offers, "its like becomes the like of that")


def _without_strays(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """The pairs, with lines that are not where they are expected left over, if rings are left over where they are.

    A smile does not become the line of an eye that shuts, where there are an eye and a mouth that opens. Of lines that
    are unlike in size, one such ring is enough: nor does it become a dimple, where there is a mouth that opens.
    """
    one, two = {s.id: s for s in first}, {s.id: s for s in second}
    ones = [portrait(one[p.first]) for p in pairs if p.first and p.second is None]
    twos = [portrait(two[p.second]) for p in pairs if p.second and p.first is None]
    if not ones and not twos:
        return pairs
    both = [p for p in pairs if p.first and p.second]
    centres, found = _centres(both, first, second), list(pairs)
    for k, pair in enumerate(both):
        lines = one[pair.first or ""], two[pair.second or ""]
        if pair.kind != "pair" or pair.confidence >= SURE or not all(map(may_chain, lines)):
            continue
        (a, b), known = map(portrait, lines), np.delete(centres, k, axis=0)
        expected = _expected(a.centre, known)
        strays = np.abs(b.centre - expected).min() > NEAR * max(a.size, b.size, 1e-9)
        if not strays:
            continue
        opens = any(_shuts(a, ring, expected) for ring in twos)
        shuts = any(_shuts(ring, b, _expected(ring.centre, known)) for ring in ones)
        if (opens and shuts) or ((opens or shuts) and _size_gap(a, b) > LARGER):
            reason = "it is not where it is expected"
            lone = ShapePair(pair.first, None, CONFIDENCE, reason), ShapePair(None, pair.second, CONFIDENCE, reason)
            found = [p for p in found if p is not pair] + list(lone)
    return found


def _lone(shapes: Sequence[Shape]) -> dict[str, Shape]:
    return {shape.id: shape for shape in shapes if len(shape.contours) == 1}


def _around(shape: Shape, others: Sequence[Shape]) -> list[Portrait]:
    """The rings among others within which a shape lies."""
    points = track_of(shape.contours[0]).sketch(AROUND)
    found = []
    for other in others:
        is_ring = len(other.contours) == 1 and other.contours[0].closed
        if is_ring and shapely.contains_xy(_ring(other), points.real, points.imag).all():
            found.append(portrait(other))
    return found


def _shuts(one: Portrait, two: Portrait, expected: Complexes) -> bool:
    """Whether a ring may be a line in the other key, or a line a ring."""
    return bool(one.kind[2] != two.kind[2]) and _gap(one, two, expected) is not None


def _centres(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> Complexes:
    """Where both shapes of each pair lie, complex (pairs, 2)."""
    one, two = {s.id: s for s in first}, {s.id: s for s in second}
    both = [forms_of(p, one, two) for p in pairs if p.first and p.second]
    return np.array([(portrait(a).centre, portrait(b).centre) for a, b in both], dtype=complex).reshape(-1, 2)


def _expected(place: complex, known: Complexes) -> Complexes:
    """Where a place of the first key may be in the second: where it was, or along with the pairs around it.

    These may move it, or turn it as well.
    """
    if not len(known):
        return np.array([place])
    away = np.abs(known[:, 0] - place)
    nearest = known[np.argsort(away)[:NEIGHBOURS]]
    found = [place, place + complex((nearest[:, 1] - nearest[:, 0]).mean())]
    a, b = fit(known[:, 0], known[:, 1], 1.0 / (away**2 + median(away) ** 2 + 1e-9))
    if len(known) > 1 and abs(np.log(abs(a))) <= SIZES:
        found.append(a * place + b)
    return np.array(found)


def _size_gap(one: Portrait, two: Portrait) -> float:
    """How unlike two are in size, as a log ratio."""
    return abs(float(np.log((one.size + 1e-9) / (two.size + 1e-9))))


def _gap(one: Portrait, two: Portrait, expected: Complexes) -> float | None:
    """How far two are from being one thing; None if they are none, or too far."""
    size = max(one.size, two.size, 1e-9)
    stayed, away = (float(np.abs(two.centre - places).min()) / size for places in (one.centre, expected))
    if one.kind[2] == two.kind[2]:
        unlike = float(unlikeness([one], [two])[0, 0]) if stayed <= STAYED else np.inf
        return stayed + unlike if unlike <= UNLIKE else None
    apart = _size_gap(one, two)
    # it is the lids of an eye that shut, not its pupil
    unlike = float(unlikeness_of_paint([one], [two])[0, 0])
    return float(away + apart + unlike) if away <= NEAR and apart <= SIZES else None
