"""Islands that are shared out among shapes otherwise in the two keys: a tool writes one colour in paths as it comes.

They go to those in whose place they lie, or that they resemble most as if each were a shape. So do lines: the rays of a
sun may be a path, or a path each.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from knead.core.color import unlike
from knead.core.geometry.islands import LIES, Island, is_drawn, is_flat, islands_of, lines_of, pieces_of
from knead.core.model import Contour, Paint, Shape
from knead.core.pairing.assign.likeness import Portrait, form_gap, portrait, unlikeness
from knead.core.pairing.assign.rounds import Rows, contenders
from knead.core.pairing.pairs import TIED, Kind, ShapePair, Stand

SHADE = 0.04  # colours nearer than this are one
ALONE, CHEAPER = 0.5, 0.3  # what an island costs that stays alone, and how much must be saved
BETTER, MOST = 1.2, 0.5  # how much more area must lie in its place than in the pairs as they were, and how much of all
LIKE = 0.5  # how unlike in form shapes may be that became each other as they are
SURE = 0.8  # how sure such pairs are
BY_PLACE, BY_FORM = "of one colour, and in one place", "of one colour, and each island of it is like one there"

Places = dict[str, list[Island]]  # the islands of shapes by their ids
Links = dict[tuple[str, int], dict[str, shapely.Geometry]]  # to which shapes an island goes, and to which place of each


@dataclass(frozen=True)
class _Sides:
    """Shapes of one colour in both keys, by their ids."""

    first: dict[str, Shape]
    second: dict[str, Shape]

    @cached_property
    def looks(self) -> tuple[dict[str, Portrait], dict[str, Portrait]]:
        """What they are like."""
        first, second = ({name: portrait(s) for name, s in side.items()} for side in (self.first, self.second))
        return first, second


def regrouped(
    pairs: list[ShapePair], free: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]
) -> list[ShapePair]:
    """The pairs, with those `free` ones of a colour made anew by their islands where that is plainly better."""
    one, two = {s.id: s for s in first}, {s.id: s for s in second}
    for sides in _by_paint(free, first, second):
        own = [p for p in free if p.first in sides.first or p.second in sides.second]
        if all(p.first in {None, *sides.first} and p.second in {None, *sides.second} for p in own):
            known = [(one[p.first], two[p.second]) for p in pairs if p.first and p.second and p not in own]
            found = _anew(sides, own, known)
            pairs = pairs if found is None else [p for p in pairs if p not in own] + found
    return pairs


def _by_paint(free: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[_Sides]:
    """Filled shapes, or lines, that may be paired anew: three or more of a colour of which one has several contours."""
    ids = {p.first for p in free} | {p.second for p in free}
    found: list[_Sides] = []
    for fits in (is_flat, is_drawn):
        some = [[s for s in side if s.id in ids and fits(s)] for side in (first, second)]
        if any(len(s.contours) > 1 for side in some for s in side):
            found += _of_one_paint(*some)
    return [
        sides
        for sides in found
        if sides.first
        and sides.second
        and len(sides.first) + len(sides.second) > 2
        and any(len(s.contours) > 1 for s in (*sides.first.values(), *sides.second.values()))
    ]


def _of_one_paint(first: Sequence[Shape], second: Sequence[Shape]) -> list[_Sides]:
    """Shapes by the paint of their fill, or else of their line."""
    found: dict[Paint, _Sides] = {}
    for k, side in enumerate((first, second)):
        for shape in side:
            drawn = shape.fill or shape.stroke
            assert drawn is not None
            own = drawn.paint
            paint = own if own in found else next((other for other in found if _is_one(other, own)), own)
            sides = found.setdefault(paint, _Sides({}, {}))
            (sides.second if k else sides.first)[shape.id] = shape
    return list(found.values())


def _is_one(one: Paint, two: Paint) -> bool:
    """Whether two even paints look the same."""
    plain = one.gradient is None and two.gradient is None and one.opacity == two.opacity
    return plain and unlike(one.color, two.color) < SHADE


def _anew(sides: _Sides, pairs: list[ShapePair], known: Sequence[tuple[Shape, Shape]]) -> list[ShapePair] | None:
    """Pairs of these shapes by their islands, if that is plainly better than the pairs as they are."""
    drawn = any(map(is_drawn, sides.first.values()))
    one, two = (
        {name: lines_of(s) if drawn else islands_of(s.contours) for name, s in side.items()}
        for side in (sides.first, sides.second)
    )
    if not all(one.values()) or not all(two.values()):
        return None
    # lines that move are no longer in their place, however little that is
    links = None if drawn or _shared_alike(sides, one, two, pairs) else _in_place(one, two, pairs)
    found = links and _shared_out(sides, one, two, pairs, links, BY_PLACE)
    if found:
        return found
    links = _alike(sides, one, two, pairs, known)
    return links and _shared_out(sides, one, two, pairs, links, BY_FORM)


def _shared_alike(sides: _Sides, one: Places, two: Places, pairs: list[ShapePair]) -> bool:
    """Whether all shapes that have a partner are like it, and have as many islands: then none was shared out."""
    both, (looks, others) = [(p.first, p.second) for p in pairs if p.first and p.second], sides.looks
    return all(len(one[a]) == len(two[b]) and form_gap([looks[a]], [others[b]])[0, 0] < LIKE for a, b in both)


def _shared_out(
    sides: _Sides, one: Places, two: Places, pairs: list[ShapePair], links: tuple[Links, Links], reason: str
) -> list[ShapePair] | None:
    """The pairs for where islands go; None if a shape would lose its partner by that, or a hint what it ties."""
    forth, back = links
    linked = {(a, b) for (a, _), to in forth.items() for b in to}
    groups = [(a, b) for a in sides.first for b in sides.second if (a, b) in linked]
    reached = {a for a, _ in groups}, {b for _, b in groups}
    lost = any(p.first and p.second and (p.first not in reached[0] or p.second not in reached[1]) for p in pairs)
    untied = any(p.reason == TIED and (p.first, p.second) not in groups for p in pairs)
    if lost or untied:
        return None
    forms = _forms(sides.first, one, forth), _forms(sides.second, two, back)
    kept = {(p.first, p.second): p for p in pairs if p.kind == "pair"}
    found = []
    for a, b in groups:
        divides, joins = (sum(group[k] == name for group in groups) > 1 for k, name in ((0, a), (1, b)))
        stands = Stand(forms[0][a, b], (a,)) if divides else None, Stand(forms[1][b, a], (b,)) if joins else None
        kind: Kind = "divides" if divides else "joins" if joins else "pair"
        anew = ShapePair(a, b, SURE, reason, kind, *stands)
        found.append(kept.get((a, b), anew) if kind == "pair" else anew)
    return found + [p for p in pairs if p.first not in reached[0] and p.second not in reached[1]]


def _alike(
    sides: _Sides, one: Places, two: Places, pairs: list[ShapePair], known: Sequence[tuple[Shape, Shape]]
) -> tuple[Links, Links] | None:
    """Where islands go that are paired as if each were a shape, if that is plainly cheaper."""
    rows, columns = _pieces(sides.first, one), _pieces(sides.second, two)
    stood = [(portrait(a), portrait(b)) for a, b in known]

    def assigned(looks: Sequence[Portrait], others: Sequence[Portrait]) -> Rows:
        return contenders(looks, others, unlikeness(looks, others), stood, ALONE)[0]

    found = assigned([look for _, look in rows], [look for _, look in columns])
    whole = assigned(*(list(side.values()) for side in sides.looks))
    i, j = ({name: k for k, name in enumerate(side)} for side in (sides.first, sides.second))
    as_is = 0.0
    for p in pairs:
        if p.first and p.second:
            as_is += max(len(one[p.first]), len(two[p.second])) * min(whole.cost[i[p.first], j[p.second]], 2 * ALONE)
        else:
            as_is += ALONE * len(one[p.first] if p.first else two[p.second or ""])
    if found.price(ALONE) + CHEAPER > as_is:
        return None
    forth: Links = defaultdict(dict)
    back: Links = defaultdict(dict)
    for row, column in found.mates:
        (a, k), (b, n) = rows[row][0], columns[column][0]
        forth[a, k][b], back[b, n][a] = two[b][n].place, one[a][k].place
    return forth, back


def _pieces(shapes: dict[str, Shape], islands: Places) -> list[tuple[tuple[str, int], Portrait]]:
    """Each island by its shape's id and its number, and what it is like."""

    def look(name: str, island: Island) -> Portrait:
        kept = tuple(shapes[name].contours[c] for c in island.contours)
        return portrait(shapes[name].model_copy(update={"contours": kept}))

    return [((name, k), look(name, island)) for name, own in islands.items() for k, island in enumerate(own)]


def _in_place(one: Places, two: Places, pairs: list[ShapePair]) -> tuple[Links, Links] | None:
    """Where islands go that lie in the place of others, if plainly more stays in its place by that."""
    wholes = [{name: shapely.union_all([i.place for i in own]) for name, own in side.items()} for side in (one, two)]
    now = sum(wholes[0][p.first].intersection(wholes[1][p.second]).area for p in pairs if p.first and p.second)
    forth, back, kept = _links(one, two)
    least = MOST * min(sum(place.area for place in side.values()) for side in wholes)
    return None if kept <= max(BETTER * now, least) else (forth, back)


def _links(one: Places, two: Places) -> tuple[Links, Links, float]:
    """Where the islands of both sides go, and how much area stays in its place by that."""
    forth: Links = defaultdict(dict)
    back: Links = defaultdict(dict)
    kept = 0.0
    names = [[(name, k) for name, own in side.items() for k in range(len(own))] for side in (one, two)]
    places = [np.array([island.place for own in side.values() for island in own]) for side in (one, two)]
    shared, areas = np.zeros((len(places[0]), len(places[1]))), [shapely.area(side) for side in places]
    meet = np.nonzero(shapely.intersects(places[0][:, None], places[1][None]))
    shared[meet] = shapely.area(shapely.intersection(places[0][meet[0]], places[1][meet[1]]))
    most = [shared == shared.max(axis=1, keepdims=True), shared == shared.max(axis=0, keepdims=True)]
    goes = (most[0] & (shared > LIES * areas[0][:, None])) | (most[1] & (shared > LIES * areas[1][None]))
    for i, j in np.argwhere(goes).tolist():
        (a, k), (b, n) = names[0][i], names[1][j]
        forth[a, k][b] = forth[a, k].get(b, shapely.Polygon()).union(places[1][j])
        back[b, n][a] = back[b, n].get(a, shapely.Polygon()).union(places[0][i])
        kept += float(shared[i, j])
    return forth, back, kept


def _forms(shapes: dict[str, Shape], islands: Places, links: Links) -> dict[tuple[str, str], Shape]:
    """What of each shape goes to each other: islands, or pieces of them. What goes nowhere goes with the nearest."""
    found: dict[tuple[str, str], Shape] = {}
    for name, own in islands.items():
        contours: dict[str, list[Contour]] = defaultdict(list)
        targets = [links.get((name, k), {}) for k in range(len(own))]
        lasting = [k for k, to in enumerate(targets) if to]
        for k, island in enumerate(own):
            kept = tuple(shapes[name].contours[i] for i in island.contours)
            whole = shapes[name].model_copy(update={"contours": kept})
            pieces = pieces_of(whole, list(targets[k].values())) if len(targets[k]) > 1 else None
            for n, target in enumerate(targets[k]):
                contours[target] += pieces[n] if pieces else kept
            if not targets[k] and lasting:
                gaps = shapely.distance(island.place, [own[j].place for j in lasting])
                contours[next(iter(targets[lasting[int(np.argmin(gaps))]]))] += kept
        found |= {(name, b): shapes[name].model_copy(update={"contours": tuple(rows)}) for b, rows in contours.items()}
    return found
