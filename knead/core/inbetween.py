"""The front door of the morph: `plan = plan_span(first, second, take)`, then `plan.at(0.5)` is a drawing."""

from dataclasses import dataclass, replace
from functools import cached_property

from knead.core.blend.course import courses
from knead.core.blend.lone import sprout
from knead.core.blend.pair_plan import HintTrouble, PairPlan, plan_lone_shape, plan_pair
from knead.core.geometry.bezier import Floats
from knead.core.model import Drawing, Hint, PairChoice, Take
from knead.core.outline.hints import end_point
from knead.core.pairing.assign import ShapePair, pair_shapes


@dataclass(frozen=True)
class SpanPlan:
    """All that is worked out once for a span. Immutable; `at` is array arithmetic."""

    first: Drawing
    second: Drawing
    pairs: tuple[PairPlan, ...]
    choices: tuple[PairChoice, ...]
    troubles: tuple[HintTrouble, ...]

    def order(self, t: float) -> list[int]:
        """Indices of the pairs from back to front: the first key's order before the middle, then the second's."""
        return self._orders[0 if t < 0.5 else 1]

    @cached_property
    def _orders(self) -> tuple[list[int], list[int]]:
        ids = [(pair.first_id, pair.second_id) for pair in self.pairs]
        return _stack(self.first, self.second, ids), _stack(self.second, self.first, [(b, a) for a, b in ids])

    def at(self, t: float) -> Drawing:
        """The in-between at place t, 0 to 1; every one has the same node structure.

        At 0 and 1 it is the key itself to float precision, cut at common nodes, without what is yet to appear.
        """
        shapes = (self.pairs[k].at(t) for k in self.order(t))
        return Drawing(shapes=tuple(shape for shape in shapes if shape is not None))


def _stack(key: Drawing, other: Drawing, ids: list[tuple[str | None, str | None]]) -> list[int]:
    """Pairs in the order of a key; those of the other key only lie just over what was under them there."""
    places = {shape.id: k for k, shape in enumerate(key.shapes)}
    others = {shape.id: k for k, shape in enumerate(other.shapes)}
    stack = sorted((k for k, (own, _) in enumerate(ids) if own), key=lambda k: places[ids[k][0] or ""])
    guests = sorted((k for k, (own, _) in enumerate(ids) if not own), key=lambda k: others[ids[k][1] or ""])
    for guest in guests:
        level = others[ids[guest][1] or ""]
        below = [(others[mate], spot) for spot, k in enumerate(stack) if (mate := ids[k][1]) and others[mate] < level]
        stack.insert(max(below)[1] + 1 if below else 0, guest)
    return stack


def plan_span(first: Drawing, second: Drawing, take: Take, reuse: SpanPlan | None = None) -> SpanPlan:
    """Work out how the first drawing becomes the second.

    Pairs of `reuse` whose shapes, hints and blend are the same are taken over, so that a moved hint costs only its own
    pair. Hints that can't be honoured are listed in `troubles` and left out.
    """
    hints, choices, troubles = _usable(first, second, take)
    if reuse is not None and (reuse.first, reuse.second, reuse.choices) == (first, second, choices):
        pairs = [plan.pair for plan in reuse.pairs]
    else:
        pairs = pair_shapes(first, second, choices)
    by_hand = {(c.first, c.second) for c in take.pairs}
    tied = {(h.first.shape, h.second.shape) for h in hints} - by_hand
    pairs = [replace(p, reason="tied by a hint") if (p.first, p.second) in tied else p for p in pairs]
    one, two = {s.id: s for s in first.shapes}, {s.id: s for s in second.shapes}
    known = {(p.first_id, p.second_id): p for p in reuse.pairs} if reuse else {}
    plans: dict[ShapePair, PairPlan] = {}
    for pair in pairs:
        if pair.first is not None and pair.second is not None:
            a, b = one[pair.first], two[pair.second]
            own = tuple(h for h in hints if h.first.shape == a.id and h.second.shape == b.id)
            old = known.get((a.id, b.id))
            if old is not None and old.made_of(a, b, own, take.blend):
                plans[pair] = old.with_pair(pair)
            else:
                plans[pair] = plan_pair(a, b, own, take.blend, pair)
    for pair, course in zip(plans, courses([plan.body for plan in plans.values()]), strict=True):
        plans[pair] = plans[pair].on_course(course)
    paired = list(plans.values())
    for pair in pairs:
        if pair not in plans:
            shape = one[pair.first] if pair.first is not None else two[pair.second or ""]
            # a shape that was parted from itself appears beside the one that vanishes, under another id
            alias = f"{pair.second}+" if pair.first is None and pair.second in one else None
            plans[pair] = plan_lone_shape(shape, pair, alias, *sprout(shape, pair.first is not None, paired))
    found = tuple(plans[pair] for pair in pairs)
    return SpanPlan(first, second, found, choices, (*troubles, *(t for plan in found for t in plan.troubles)))


def _usable(
    first: Drawing, second: Drawing, take: Take
) -> tuple[list[Hint], tuple[PairChoice, ...], list[HintTrouble]]:
    """Hints whose shapes exist and may be paired, and the pairs fixed by hand or by hints."""
    hints: list[Hint] = []
    troubles: list[HintTrouble] = []
    choices = list(take.pairs)
    for hint in take.hints:
        a, b = hint.first.shape, hint.second.shape
        if first.shape(a) is None or second.shape(b) is None:
            troubles.append(HintTrouble(hint.id, f"Hint '{hint.name}' stands on a shape that is gone. Remove it?"))
            continue
        if any((c.first == a) != (c.second == b) for c in choices):
            troubles.append(
                HintTrouble(
                    hint.id, f"Hint '{hint.name}' ties two shapes that are not a pair. Pair them, or remove it."
                )
            )
            continue
        hints.append(hint)
        if not any(c.first == a for c in choices):
            choices.append(PairChoice(first=a, second=b))
    return hints, tuple(choices), troubles


def hint_points(plan: SpanPlan, hint: Hint) -> tuple[Floats, Floats] | None:
    """Where a hint's two ends stand now, or None when a shape is gone."""
    a, b = plan.first.shape(hint.first.shape), plan.second.shape(hint.second.shape)
    return (end_point(hint.first, a), end_point(hint.second, b)) if a and b else None
