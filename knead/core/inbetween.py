"""The front door of the morph: `plan = plan_span(first, second, take)`, then `plan.at(0.5)` is a drawing."""

from collections import Counter
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from knead.core.blend.figure.alone.lone import Given, plan_lone_shape, sprouts
from knead.core.blend.figure.stacking import Levels, stack, switch, with_ink_behind
from knead.core.blend.figure.told import Asked, Told, told
from knead.core.blend.pair.going import Going
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.shapes import shapes_at
from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import track_of
from knead.core.model import Drawing, Hint, PairChoice, Point, Shape, Take
from knead.core.outline.hints import end_point, nearest_contour
from knead.core.outline.riches import has_more
from knead.core.outline.ties import HintTrouble
from knead.core.pairing.pairs import ShapePair
from knead.core.pairing.shapes import pair_shapes


@dataclass(frozen=True)
class Worked:
    """What was worked out of a span, from the key that has more to it to the other."""

    first: Drawing
    second: Drawing
    pairs: tuple[PairPlan, ...]
    figure: Told
    paired: tuple[ShapePair, ...]
    paired_by: tuple[Drawing, Drawing, tuple[PairChoice, ...], tuple[tuple[str, str], ...]]
    troubles: tuple[HintTrouble, ...]
    backwards: bool
    """Whether that is from the second key of the span to the first."""

    @cached_property
    def orders(self) -> tuple[list[int], list[int]]:
        """Indices of the pairs from back to front, as they lie in each key."""
        ids = [(pair.first_id, pair.second_id) for pair in self.pairs]
        return stack(self.first, self.second, ids), stack(self.second, self.first, [(b, a) for a, b in ids])

    @cached_property
    def orders_between(self) -> list[list[int]]:
        """The same in in-betweens, before the order changes and after that."""
        return with_ink_behind(self.pairs, self.orders)

    @cached_property
    def switch(self) -> float:
        """When the stacking order changes."""
        return switch(self.pairs, *self.orders_between)


@dataclass(frozen=True)
class SpanPlan:
    """All that is worked out once for a span. Immutable; `at` is array arithmetic.

    The way from one key to another is the way back, gone backwards: both are `worked` out from the same key.
    """

    first: Drawing
    second: Drawing
    pairs: tuple[Going, ...]
    troubles: tuple[HintTrouble, ...]
    worked: Worked

    @property
    def switch(self) -> float:
        """When the stacking order changes."""
        return 1.0 - self.worked.switch if self.worked.backwards else self.worked.switch

    def order(self, t: float) -> list[int]:
        """Indices of the pairs from back to front: the first key's order, and from some moment on the second's."""
        place = 1.0 - t if self.worked.backwards else t
        orders = self.worked.orders_between if 0.0 < t < 1.0 else self.worked.orders
        return orders[0 if place < self.worked.switch else 1]

    def at(self, t: float) -> Drawing:
        """The in-between at place t, 0 to 1; every one has the same node structure.

        At 0 and 1 it is the key itself to float precision, cut at common nodes, without what is yet to appear; where
        a hole comes of a bay, it is cut open along a line that has no width.
        """
        return self.over([t])[0]

    def over(self, times: list[float]) -> list[Drawing]:
        """The in-betweens at several places."""
        rows = [shapes_at(pair, np.array(times)) for pair in self.pairs]
        return [
            Drawing(shapes=tuple(shape for pair in self.order(t) for shape in rows[pair][k]))
            for k, t in enumerate(times)
        ]

    def partner(self, shape_id: str, point: Floats, from_first: bool) -> tuple[str, Point] | None:
        """The shape of the other key, and the point on it, that a point on a key's shape becomes today.

        What has no partner grows from a place, or shrinks to one, which need not be on the shape that is nearest.
        """
        drawing = self.second if from_first else self.first
        ways = [pair for pair in self.pairs if shape_id in pair.pair.ids(from_first)]
        # of a shape that divides, the piece on whose outline it is
        for pair in sorted(ways, key=lambda pair: pair.away(point, from_first)):
            others = pair.pair.ids(not from_first)
            found = pair.partner(point, from_first) if others else None
            if found is not None:
                shapes = [shape for shape in drawing.shapes if shape.id in others]
                return min(shapes, key=lambda shape: _gap(shape, found)).id, found
        lone = [pair.middles[1 if from_first else 0] for pair in ways if not pair.is_whole]
        if not lone or not drawing.shapes:
            return None
        place = Point(lone[0].real, lone[0].imag)
        return min(drawing.shapes, key=lambda shape: _gap(shape, place)).id, place


def _gap(shape: Shape, point: Point) -> float:
    tracks = [track_of(contour) for contour in shape.contours]
    return nearest_contour(tracks, np.array(point))[2]


def plan_span(first: Drawing, second: Drawing, take: Take, reuse: SpanPlan | None = None) -> SpanPlan:
    """Work out how the first drawing becomes the second.

    Pairs of `reuse` whose shapes, hints and blend are the same are taken over, so that a moved hint costs only its own
    pair. Hints that can't be honoured are listed in `troubles` and left out.
    """
    known = reuse.worked if reuse else None
    if not has_more(second, first):
        worked = _worked_out(first, second, take, known, False)
        return SpanPlan(first, second, worked.pairs, worked.troubles, worked)
    worked = _worked_out(second, first, take.backwards, known, True)
    troubles = tuple(trouble.backwards for trouble in worked.troubles)
    return SpanPlan(first, second, tuple(pair.backwards for pair in worked.pairs), troubles, worked)


def _worked_out(first: Drawing, second: Drawing, take: Take, reuse: Worked | None, backwards: bool) -> Worked:
    hints, places, troubles = _usable(first, second, take)
    ties = tuple(dict.fromkeys((h.first.shape, h.second.shape) for h in hints))
    by = (first, second, take.pairs, ties)
    same = reuse is not None and reuse.paired_by == by  # the same shapes, then, in the same pairs
    pairs = reuse.paired if reuse and same else tuple(pair_shapes(first, second, take.pairs, ties))
    troubles += [_unpaired(h) for h in hints if not any(pair.holds(h.first.shape, h.second.shape) for pair in pairs)]
    one, two = {s.id: s for s in first.shapes}, {s.id: s for s in second.shapes}
    whole = [pair for pair in pairs if pair.first is not None and pair.second is not None]
    asked = [_asked(pair, (one, two), take, hints) for pair in whole]
    figure = told(asked, reuse.figure if reuse else Told(), same)
    found, paired = list(figure.found), figure.found
    for of_first, drawing, other in ((True, one, two), (False, two, one)):
        lone = [p for p in pairs if (p.second if of_first else p.first) is None]
        shapes = [drawing[(p.first if of_first else p.second) or ""] for p in lone]
        given = {name: _given(hint, one, two, of_first) for (side, name), hint in places.items() if side == of_first}
        levels = Levels.of(drawing, other, [plan.pair for plan in paired], of_first)
        growing = sprouts(shapes, levels, of_first, paired, given)
        for pair, shape, sprout in zip(lone, shapes, growing, strict=True):
            named = pair.also("a hint says where it grows") if shape.id in given else pair
            found.append(plan_lone_shape(shape, named, sprout, take.travel(pair.first, pair.second)))
    troubles += [trouble for plan in found for trouble in plan.troubles]
    found = _by_second(found, second) if backwards else found
    return Worked(first, second, _named(found, backwards), figure, pairs, by, tuple(troubles), backwards)


def _asked(pair: ShapePair, keys: tuple[dict[str, Shape], dict[str, Shape]], take: Take, hints: list[Hint]) -> Asked:
    """What a take wants of a pair."""
    own = tuple(h for h in hints if pair.holds(h.first.shape, h.second.shape))
    travel = take.travel(pair.first, pair.second)
    return Asked(pair, keys, Take(hints=own, blend=travel.blend or take.blend, tolerance=take.tolerance), travel)


def _by_second(plans: list[PairPlan], second: Drawing) -> list[PairPlan]:
    """Pairs as they would be listed from the second key: in its order, then what joins or divides, then lone shapes."""
    places = {shape.id: k for k, shape in enumerate(second.shapes)}

    def rank(plan: PairPlan) -> tuple[bool, bool, int]:
        grouped = plan.pair.kind in ("joins", "divides")
        return not plan.is_whole, grouped, places.get(plan.second_id or "", len(places))

    return sorted(plans, key=rank)


def _named(plans: list[PairPlan], backwards: bool) -> tuple[PairPlan, ...]:
    """Each with an identity of its own: the first key's id where one shape bears it, else the second's, else both.

    Several stretches of a line may be of the same two strokes: they are numbered.
    """
    ids = [[(b, a) if backwards else (a, b) for _, a, b in plan.origins] for plan in plans]
    firsts, seconds = (Counter(pair[side] for pairs in ids for pair in pairs) for side in (0, 1))
    known: Counter[str] = Counter()

    def numbered(name: str) -> str:
        known[name] += 1
        return name if known[name] == 1 else f"{name}~{known[name]}"

    def name(own: str | None, other: str | None) -> str:
        if own is not None and firsts[own] == 1:
            return own
        if other is not None and seconds[other] == 1 and firsts[other] == 0:
            return other
        # a shape that was parted from itself appears beside the one that vanishes, under another id
        return f"{own}~{other}" if own is not None else f"{other}+"

    named = [[numbered(name(*pair)) for pair in pairs] for pairs in ids]
    return tuple(plan.renamed(names) for plan, names in zip(plans, named, strict=True))


def _usable(
    first: Drawing, second: Drawing, take: Take
) -> tuple[list[Hint], dict[tuple[bool, str], Hint], list[HintTrouble]]:
    """Hints whose shapes exist and may be paired, those that say where a lone shape grows, and complaints of the rest.

    Lone shapes go by whether they are in the first key, and their ids.
    """
    hints: list[Hint] = []
    places: dict[tuple[bool, str], Hint] = {}
    troubles: list[HintTrouble] = []
    for hint in take.hints:
        a, b = hint.first.shape, hint.second.shape
        if first.shape(a) is None or second.shape(b) is None:
            troubles.append(HintTrouble(hint.id, f"Hint '{hint.name}' stands on a shape that is gone. Remove it?"))
            continue
        if take.says_where(hint):
            rival = places.setdefault((True, a) if take.is_alone(a, True) else (False, b), hint)
            if rival is not hint:
                text = f"Hint '{hint.name}' and hint '{rival.name}' say where one shape grows. Remove one of them."
                troubles.append(HintTrouble(hint.id, text))
            continue
        fixed = [c for c in take.pairs if c.first == a or c.second == b]
        if fixed and all((c.first, c.second) != (a, b) for c in fixed):
            troubles.append(_unpaired(hint))
            continue
        hints.append(hint)
    return hints, places, troubles


def _given(hint: Hint, one: dict[str, Shape], two: dict[str, Shape], of_first: bool) -> Given:
    """Where a hint says that a lone shape grows from, or shrinks to."""
    a, b = end_point(hint.first, one[hint.first.shape]), end_point(hint.second, two[hint.second.shape])
    return Given(complex(*a), complex(*b), hint.second.shape if of_first else hint.first.shape)


def _unpaired(hint: Hint) -> HintTrouble:
    return HintTrouble(hint.id, f"Hint '{hint.name}' ties two shapes that are not a pair. Pair them, or remove it.")


def hint_points(plan: SpanPlan, hint: Hint) -> tuple[Floats, Floats] | None:
    """Where a hint's two ends stand now, or None when a shape is gone."""
    a, b = plan.first.shape(hint.first.shape), plan.second.shape(hint.second.shape)
    return (end_point(hint.first, a), end_point(hint.second, b)) if a and b else None
