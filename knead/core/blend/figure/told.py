"""What is in both keys of a span, planned in company; hints count only where they say what is not so anyway."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from knead.core.blend.figure.hang import hung
from knead.core.blend.pair.bays import with_bays
from knead.core.blend.pair.islands import with_islands
from knead.core.blend.pair.opening import Holed
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.telling import tells
from knead.core.model import PairTravel, Shape, Take
from knead.core.outline.alike import alike
from knead.core.pairing.contours import wound
from knead.core.pairing.pairs import ShapePair, forms_of, tied_ring


@dataclass(frozen=True)
class Asked:
    """A pair, the shapes of both keys by their ids, and what is wanted of it: `take` has its hints and blend."""

    pair: ShapePair
    keys: tuple[dict[str, Shape], dict[str, Shape]]
    take: Take
    travel: PairTravel

    @property
    def free(self) -> "Asked":
        """The same without hints."""
        bare = Take(blend=self.take.blend, tolerance=self.take.tolerance)
        return replace(self, take=bare) if self.take.hints else self

    def planned(self, known: PairPlan | None, same: bool) -> PairPlan:
        """Its plan; `known` is taken over if it was made with the same settings, and of the `same` shapes."""
        known = known if known is not None and known.set_as(self.take) else None
        found = known if known is not None and same else self._anew(known)
        return found.led(self.travel)

    def _anew(self, known: PairPlan | None) -> PairPlan:
        """Its plan; `known`, if that is of these shapes as well, and of a pair that goes alike."""
        pair = tied_ring(self.pair, self.take.hints)
        first, second = forms_of(pair, *self.keys)
        first, second = map(wound, alike(first, second, pair.has_piece))
        shapes = Holed((first, second), (first, second))
        if len(first.contours) > 1 or len(second.contours) > 1:
            cut = with_islands(first, second)
            pair = pair if cut == (first, second) else pair.also("islands of it join or divide")
            shapes = Holed(cut, with_bays(*cut, self.take.hints))
        if known is None or not shapes.made(known) or not known.pair.goes_as(pair):
            return shapes.planned(self.take, pair)
        return known.with_pair(pair)


@dataclass(frozen=True)
class Told:
    """The plans of pairs on their courses, as hints have it, and as they were without any."""

    found: tuple[PairPlan, ...] = ()
    free: tuple[PairPlan, ...] = ()


def told(asked: Sequence[Asked], known: Told, same: bool) -> Told:
    """Plan pairs in company. Those `known` are taken over where nothing changed; `same`, if that is so of all shapes.

    Without hints first. What does then what hints say is left as it is: to press on what goes right changes nothing.
    """
    before, latest = _begun(known.free), _begun(known.found)
    begun = [each.free.planned(before.get(_ids(each.pair)), same) for each in asked]
    kept = len(begun) == len(before) and all(plan is own for plan, own in zip(begun, before.values(), strict=True))
    free = found = known.free if kept else tuple(hung(begun))
    telling: set[int] = set()
    while more := {k for k, each in enumerate(asked) if k not in telling and tells(found[k], each.take.hints)}:
        telling |= more
        plans = [plan.base or plan for plan in free]
        for k in telling:
            plans[k] = asked[k].planned(latest.get(_ids(asked[k].pair)), same)
        found = tuple(hung(plans))
    return Told(found, free)


def _ids(pair: ShapePair) -> tuple[str | None, str | None]:
    return pair.first, pair.second


def _begun(plans: tuple[PairPlan, ...]) -> dict[tuple[str | None, str | None], PairPlan]:
    """The plans as they were before company was asked, by the shapes that they are of."""
    return {_ids(plan.pair): plan.base or plan for plan in plans}
