"""Several shapes that become one, and one that becomes several: each of the several gets a piece of the one."""

from collections.abc import Collection, Iterable, Sequence

import numpy as np
import shapely

from knead.core.geometry.bezier import path_of, straight
from knead.core.geometry.hull import hull_of
from knead.core.geometry.islands import is_flat
from knead.core.geometry.parting import parted
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape
from knead.core.pairing.assign.likeness import form_gap, portrait, unlikeness_of_paint
from knead.core.pairing.chains import may_chain
from knead.core.pairing.pairs import ShapePair, Stand

NEAR = 0.6  # how far a piece may lie from the shape it belongs to, by the size of the larger
BESIDE = 1.5  # how far the middle of a piece may lie off the place of the whole, by its size
PAINTS = 0.1  # how unlike what belongs together may be by kind and paint
MEETS = 0.05  # how far, by the shorter line, the ends of two lips may be apart
LEVEL = 0.25  # the share of an outline's sides that may be straight where it is soft
ABOUT = 2.0  # how far the areas of several may be from that of what they are together
AS_MUCH = 1.5  # the same of what is all of a paint in either key
WITHIN = 0.9  # the share of what lies within something that is there
ONE_FORM = 0.3  # how unlike in form and size what is alike may be
SMALL, ONE_SIZE = 0.25, 0.4  # drops into which a shape bursts: by its area, and how unlike in size, as a logarithm
FLIES = 3.0  # how far they may be from its middle, by its size
GAIN = 0.15  # how much better, as a log ratio, the areas must agree with a leftover than without


def grouped(links: Iterable[tuple[str | None, str | None]]) -> list[tuple[list[str], list[str]]]:
    """Links gathered to groups of one to one, one to several, or several to one; a side may be empty.

    A link that would make a group of several to several is passed over.
    """
    groups: list[tuple[list[str], list[str]]] = []
    for a, b in links:
        home = next((g for g in groups if (a is not None and a in g[0]) or (b is not None and b in g[1])), None)
        if home is None:
            groups.append(([a] if a is not None else [], [b] if b is not None else []))
        elif a in home[0] and b is not None and len(home[0]) == 1 and home[1]:
            home[1].extend([b] if b not in home[1] else [])
        elif b in home[1] and a is not None and len(home[1]) == 1 and home[0]:
            home[0].extend([a] if a not in home[0] else [])
    return groups


def absorbed(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """Leftovers that belong to a pair join it or divide it: near, painted alike, and their area is what it lacks.

    So do several leftovers that are together what a leftover of the other key was: a window's four panes. What lies in
    a shape that divides does so as well, if each part has the like of it: a cell with its nucleus.
    """
    one, two = {s.id: s for s in first}, {s.id: s for s in second}
    for divides in (True, False):
        wholes, parts = (one, two) if divides else (two, one)
        # what was fixed by hand stays as it is, and nothing of a side of a box divides as it is seen more broadly
        free = [p for p in pairs if p.confidence < 1.0 and not p.on_box]
        lonely = [p for p in free if _ids(p, divides)[0] is None]
        for pair in [p for p in free if _ids(p, divides)[0] and p.kind == "pair"]:
            if not lonely:
                break
            whole, offered = wholes[_ids(pair, divides)[0] or ""], {_ids(p, divides)[1] or "": p for p in lonely}
            known, others = _ids(pair, divides)[1], [parts[s] for s in offered]
            part = parts[known] if known else None
            several, reason = _several(whole, part, others)
            if part is not None and len(several) < 2 and _is_all(whole, wholes.values(), part, others, parts.values()):
                several, reason = [part, *_painted_like(part, others)], "they are all of that paint"
            if len(several) > 1:
                gone = [pair, *(offered[s.id] for s in several if s.id in offered)]
                pairs = [p for p in pairs if p not in gone]
                lonely = [p for p in lonely if p not in gone]
                sides = ([whole], several) if divides else (several, [whole])
                pairs = pairs + parted_pairs(*sides, round(0.8 * pair.confidence, 3), reason)
        pairs = _with_contents(pairs, wholes, parts, divides)
    return pairs


def _is_all(
    whole: Shape, wholes: Collection[Shape], part: Shape, offered: list[Shape], parts: Collection[Shape]
) -> bool:
    """Whether a shape is all of its paint in its key, and about as much as a part and what is offered, all in theirs.

    Wherever those lie: drops fall, and are a puddle. They must be alike, and most of what is drawn in either key.
    """
    there = _surface(whole)
    if 2 * there <= sum(map(_surface, wholes)):
        return False
    own = _painted_like(whole, list(parts))
    if len(own) < 2 or len(_painted_like(whole, list(wholes))) > 1 or not all(s is part or s in offered for s in own):
        return False
    if not all(_is_like(shape, part) for shape in own) or not all(c.closed for s in (whole, *own) for c in s.contours):
        return False
    held = sum(map(_surface, own))
    return 2 * held > sum(map(_surface, parts)) and 1 / AS_MUCH < held / there < AS_MUCH


def _with_contents(
    pairs: list[ShapePair], wholes: dict[str, Shape], parts: dict[str, Shape], divides: bool
) -> list[ShapePair]:
    """The pairs, with what lies in a shape that divides (or of which that is so backwards) divided as that is."""
    kind = "divides" if divides else "joins"
    holders = [p for p in pairs if p.kind == kind and p.confidence < 1.0]
    for holder, part in dict.fromkeys(_ids(p, divides) for p in holders):
        place, room = (hull_of(side[name or ""].contours) for side, name in ((wholes, holder), (parts, part)))
        lonely = {_ids(p, divides)[1] or "": p for p in pairs if _ids(p, divides)[0] is None and p.confidence < 1.0}
        own = [parts[name] for name in lonely if _is_in(room, parts[name])]
        if not own:
            continue
        for pair in [p for p in pairs if p.kind in ("pair", kind) and None not in _ids(p, divides)]:
            inner, known = (side[name or ""] for side, name in zip((wholes, parts), _ids(pair, divides), strict=True))
            if inner.id == holder or pair.confidence == 1.0 or _is_in(room, known) or not _is_in(place, inner):
                continue
            like = [s for s in _painted_like(known, own) if _is_like(s, known)]
            if like:
                gone = [p for p in pairs if p.kind in ("pair", kind) and _ids(p, divides)[0] == inner.id]
                several = [*(parts[_ids(p, divides)[1] or ""] for p in gone), like[0]]
                reason = (
                    "it lies in what divides, and so do they" if divides else "they lie in what joins, and so does it"
                )
                pairs = [p for p in pairs if p not in gone and p is not lonely[like[0].id]]
                sides = ([inner], several) if divides else (several, [inner])
                pairs += parted_pairs(*sides, round(0.8 * pair.confidence, 3), reason)
                break
    return pairs


def _is_in(place: shapely.Geometry, shape: Shape) -> bool:
    """Whether a shape lies within a place, and is smaller."""
    own = hull_of(shape.contours)
    return bool(own.area < place.area and own.intersection(place).area >= WITHIN * own.area)


def _is_like(one: Shape, two: Shape) -> bool:
    return float(form_gap([portrait(one)], [portrait(two)])[0, 0]) < ONE_FORM


def _ids(pair: ShapePair, divides: bool) -> tuple[str | None, str | None]:
    """The whole of a pair, and the part: a shape of the first key divides, or one of the second joins."""
    return (pair.first, pair.second) if divides else (pair.second, pair.first)


def _several(whole: Shape, part: Shape | None, offered: list[Shape]) -> tuple[list[Shape], str]:
    """What a shape divides into, if it does, and why: its partner, if it has one, and some that are offered."""
    if burst := _burst(whole, part, offered):
        return burst, "it bursts or opens into ones of its paint and of one size, all around it"
    found = _made_up_of(whole, offered) if part is None else [part, *_belonging(whole, part, offered)]
    return found, "together they have its place, paint and area"


def _burst(whole: Shape, part: Shape | None, offered: list[Shape]) -> list[Shape]:
    """Shapes of its paint and of one size, all around it: small drops of a fill, or of one form, as petals of a bud.

    Its partner must be one of them.
    """
    painted = _painted_like(whole, [*offered, *([part] if part else [])])
    look, most = portrait(whole), _surface(whole)
    near = [shape for shape in painted if abs(portrait(shape).centre - look.centre) < FLIES * look.size]
    like = [shape for shape in near if is_flat(shape) == is_flat(whole) and 0.0 < _surface(shape) < most]
    if len(like) < 3:
        return []
    sizes = np.log([portrait(shape).size for shape in like])
    found = [s for s, off in zip(like, np.abs(sizes - np.median(sizes)).tolist(), strict=True) if off < ONE_SIZE]
    if len(found) < 3 or (part is not None and part not in found):
        return []
    are_small = is_flat(whole) and all(_surface(shape) < SMALL * most for shape in found)
    if not are_small and not all(_is_like(shape, part or found[0]) for shape in found):
        return []
    centres = as_points(np.array([portrait(shape).centre for shape in found]))
    middle = shapely.Point(look.centre.real, look.centre.imag)
    return found if shapely.MultiPoint(centres).convex_hull.contains(middle) else []


def _made_up_of(whole: Shape, offered: list[Shape]) -> list[Shape]:
    """Those of the offered shapes that are together what a shape is; none where they are painted or lie otherwise."""
    place = hull_of(whole.contours)
    like = _painted_like(whole, [shape for shape in offered if _lies_on(place, shape)])
    if len(like) < 2:
        return []
    part = max(like, key=_surface)
    found = [part, *_belonging(whole, part, [shape for shape in like if shape is not part])]
    held = sum(map(_surface, found)) / max(_surface(whole), 1e-12)
    return found if 1 / ABOUT < held < ABOUT else []


def _lies_on(place: shapely.Geometry, shape: Shape) -> bool:
    look = portrait(shape)
    return bool(shapely.dwithin(place, shapely.Point(look.centre.real, look.centre.imag), BESIDE * look.size))


def with_lips(pairs: list[ShapePair], first: Sequence[Shape], second: Sequence[Shape]) -> list[ShapePair]:
    """Lines that meet a paired one with both ends, as two lips do where a mouth opens: both come of its partner."""
    one, two = {s.id: s for s in first}, {s.id: s for s in second}
    for divides in (True, False):
        wholes, parts = (one, two) if divides else (two, one)
        for lone in [p for p in pairs if _ids(p, divides)[0] is None and p.confidence < 1.0]:
            lip = parts[_ids(lone, divides)[1] or ""]
            for pair in [p for p in pairs if None not in _ids(p, divides) and p.kind == "pair" and p.confidence < 1.0]:
                whole, part = wholes[_ids(pair, divides)[0] or ""], parts[_ids(pair, divides)[1] or ""]
                if may_chain(whole) and _are_lips(lip, part):
                    sides = ([whole], [part, lip]) if divides else ([part, lip], [whole])
                    reason = "both are one line, which opens between its ends"
                    pairs = [p for p in pairs if p not in (pair, lone)]
                    pairs += parted_pairs(*sides, round(0.8 * pair.confidence, 3), reason)
                    break
    return pairs


def _are_lips(lip: Shape, other: Shape) -> bool:
    """Whether two lines of a kind meet at both ends."""
    if not may_chain(lip) or not may_chain(other) or lip.stroke is None or other.stroke is None:
        return False
    tracks = [track_of(shape.contours[0]) for shape in (lip, other)]
    (a, b), (c, d) = ((complex(*track.path[0, 0]), complex(*track.path[-1, 3])) for track in tracks)
    slack = max(0.5 * max(lip.stroke.width, other.stroke.width), MEETS * min(track.length for track in tracks))
    meet = min(max(abs(a - c), abs(b - d)), max(abs(a - d), abs(b - c))) <= slack < 0.5 * abs(a - b)
    return meet and float(unlikeness_of_paint([portrait(lip)], [portrait(other)])[0, 0]) < PAINTS


def _belonging(whole: Shape, part: Shape, offered: list[Shape]) -> list[Shape]:
    """Those of the offered shapes that, with `part`, make up `whole`; none where the areas do not speak for it."""
    if not all(c.closed for c in (*whole.contours, *part.contours)):
        return []
    own, known = _surface(whole), portrait(part)
    if own <= 0 or _surface(part) <= 0:
        return []
    place = hull_of(whole.contours)
    found, held, reach = [], _surface(part), known.size
    like = [shape for shape in _painted_like(part, offered) if all(c.closed for c in shape.contours)]
    for shape in sorted(like, key=lambda s: abs(portrait(s).centre - known.centre)):
        look, more = portrait(shape), _surface(shape)
        gap = abs(look.centre - known.centre) - look.size - reach
        better = abs(np.log(held / own)) - abs(np.log((held + more) / own)) > GAIN * more / held
        if better and (gap <= NEAR * max(look.size, known.size) or _lies_on(place, shape)):
            found.append(shape)
            held += more
            reach = max(reach, abs(look.centre - known.centre) + look.size)
    return found if abs(np.log(_surface(part) / own)) - abs(np.log(held / own)) > GAIN else []


def _painted_like(shape: Shape, others: list[Shape]) -> list[Shape]:
    """Those of the others that are of its kind and paint."""
    if not others:
        return []
    unlike = unlikeness_of_paint([portrait(other) for other in others], [portrait(shape)])[:, 0]
    return [other for other, apart in zip(others, unlike.tolist(), strict=True) if apart < PAINTS]


def _surface(shape: Shape) -> float:
    return abs(sum(track_of(contour).inside for contour in shape.contours))


def parted_pairs(first: Sequence[Shape], second: Sequence[Shape], confidence: float, reason: str) -> list[ShapePair]:
    """One shape (on either side) that becomes several: each of those is paired with its piece of the one."""
    divides = len(first) == 1
    one, several = (first[0], second) if divides else (second[0], first)
    looks = [portrait(shape) for shape in several]
    areas = np.array([max(look.size**2 * (1.05 - look.elongation), 1e-9) for look in looks])
    centres = np.array([look.centre for look in looks])
    whole = portrait(one)
    middle = complex(np.sum(areas * centres) / areas.sum())
    spread = float(np.sqrt(np.sum(areas * np.abs(centres - middle) ** 2) / areas.sum()))
    seeds = whole.centre + (centres - middle) * whole.size / max(spread, 1e-9)
    soft = np.array([_is_opaque(one) and _is_opaque(other) and _is_soft(other) for other in several])
    pieces = parted(one, seeds, areas / areas.sum(), soft) if is_flat(one) else [one] * len(several)
    found = []
    for piece, other in zip(pieces, several, strict=True):
        stand = Stand(piece, (one.id,))
        if divides:
            found.append(ShapePair(one.id, other.id, confidence, reason, "divides", first_stand=stand))
        else:
            found.append(ShapePair(other.id, one.id, confidence, reason, "joins", second_stand=stand))
    return found


def _is_opaque(shape: Shape) -> bool:
    """Whether nothing is seen through its fill: what lies over itself is then not darker."""
    if shape.fill is None or shape.opacity < 1.0:
        return False
    paint = shape.fill.paint
    return all(stop.opacity == 1.0 for stop in paint.gradient.stops) if paint.gradient else paint.opacity == 1.0


def _is_soft(shape: Shape) -> bool:
    """Whether hardly any of its outline is straight, as of a drop or a puff of smoke."""
    paths = [path_of(contour) for contour in shape.contours]
    sides = [np.linalg.norm(path[:, 3] - path[:, 0], axis=1) for path in paths]
    level = sum(float(lengths[straight(path)].sum()) for path, lengths in zip(paths, sides, strict=True))
    return level < LEVEL * sum(float(lengths.sum()) for lengths in sides)
