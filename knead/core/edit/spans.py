"""Edits of what happens between two keys."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.sound import EditError
from knead.core.edit.work import Work, checked
from knead.core.model import Blend, Ease, Model, PairChoice, PairTravel, Point, Take
from knead.core.model.span import Frames, Tick, Tolerance
from knead.core.model.style import Share
from knead.core.pace.stagger import Order, starts


class SetInbetween(Model):
    """In-between the span after a key, or let it hold."""

    type: Literal["set_inbetween"] = "set_inbetween"
    key: str
    inbetween: bool

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "In-between this span" if self.inbetween else "Hold this span"

    def apply(self, work: Work) -> Work:
        """Switch the span. Raises EditError where no second key follows."""
        key, _ = work.span(self.key)
        return work.with_key(checked(key, span=checked(key.span, inbetween=self.inbetween)))


class TakeSetting(Model):
    """An edit whose fields, but for its type and its key, are settings of the take in use."""

    key: str

    def apply(self, work: Work) -> Work:
        """Set what is given."""
        names = type(self).model_fields.keys() - {"type", "key"}
        return work.with_take(self.key, lambda take: checked(take, **{name: getattr(self, name) for name in names}))


class SetEase(TakeSetting):
    """Ease a span."""

    type: Literal["set_ease"] = "set_ease"
    ease: Ease

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change ease"

    def apply(self, work: Work) -> Work:
        """Set the ease, instead of a timing chart if there is one."""
        return work.with_take(self.key, lambda take: checked(take, ease=self.ease, chart=()))


class SetChart(TakeSetting):
    """Set the timing chart of a span: the place of each in-between, as on ones; without any it goes by its ease."""

    type: Literal["set_chart"] = "set_chart"
    chart: Annotated[tuple[Tick, ...], Field(max_length=10_000)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change the timing chart"


class SetExposure(TakeSetting):
    """Show each drawing of a span for so many frames."""

    type: Literal["set_exposure"] = "set_exposure"
    exposure: Frames

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Shoot on {('ones', 'twos', 'threes', 'fours')[self.exposure - 1]}"


class SetBlend(TakeSetting):
    """Choose how points travel in a span."""

    type: Literal["set_blend"] = "set_blend"
    blend: Blend

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change travel"


class SetTolerance(TakeSetting):
    """Say how closely a span's in-betweens are fitted: little for a close-up, much for a draft of few nodes."""

    type: Literal["set_tolerance"] = "set_tolerance"
    tolerance: Tolerance

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change the fit"


class SetTravel(Model):
    """Say how one pair goes where it differs from the span; only the fields that are given change."""

    type: Literal["set_travel"] = "set_travel"
    key: str
    first: str | None
    second: str | None
    blend: Blend | None = None
    turns: Annotated[int, Field(ge=-8, le=8)] = 0
    path: tuple[Point, Point] | None = None
    start: Share = 0.0
    end: Share = 1.0
    ease: Ease = Ease()

    @property
    def label(self) -> str:
        """What undo calls it."""
        given = self.model_fields_set
        if "ease" in given:
            return "Change ease"
        if "path" in given:
            return "Draw a path of travel" if self.path else "Remove a path of travel"
        return "Change when it goes" if given & {"start", "end"} else "Change travel"

    def apply(self, work: Work) -> Work:
        """Set what is given."""
        one, two = work.span(self.key)
        for key, shape in ((one, self.first), (two, self.second)):
            if shape is not None:
                work.shape(key.id, shape)
        given = {"blend", "turns", "path", "start", "end", "ease"} & self.model_fields_set
        old = one.span.take.travel(self.first, self.second)
        new = checked(old, **{name: getattr(self, name) for name in given})
        kept = tuple(t for t in one.span.take.travels if t != old)
        plain = new == PairTravel(first=self.first, second=self.second)
        return work.with_take(self.key, lambda take: checked(take, travels=kept if plain else (*kept, new)))


class Stagger(Model):
    """Let the pieces of a span start one after the other, in an order: the last starts `by`, a share of it, later.

    All take equally long. Pieces of one part go together.
    """

    type: Literal["stagger"] = "stagger"
    key: str
    order: Order
    by: Annotated[float, Field(ge=0.0, le=0.9)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Stagger" if self.by else "Let all start at once"

    def apply(self, work: Work) -> Work:
        """Set when each pair goes; how it goes stays."""
        take, plan = work.key(self.key).span.take, work.plan(self.key)
        travels = {(t.first, t.second): t for t in take.travels}
        middles = np.array([pair.first_centre if pair.first_id else pair.second_centre for pair in plan.pairs])
        parts = [pair.paint.first.part or pair.identity for pair in plan.pairs]
        shares = starts(self.order, middles, np.argsort(plan.order(0.0)), parts)
        for pair, start in zip(plan.pairs, shares.tolist(), strict=True):
            name = pair.first_id, pair.second_id
            own = take.travel(*name)
            travels[name] = checked(own, start=self.by * start, end=1.0 - self.by * (1.0 - start))
        plain = tuple(t for t in travels.values() if t != PairTravel(first=t.first, second=t.second))
        return work.with_take(self.key, lambda take: checked(take, travels=plain))


class PairShapes(Model):
    """Fix by hand what a shape becomes; one side None lets the other vanish or appear.

    With `also` the shapes keep the partners they have: one divides into several, or several join in one.
    """

    type: Literal["pair_shapes"] = "pair_shapes"
    key: str
    first: str | None
    second: str | None
    also: bool = False

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Join or divide by hand" if self.also else "Pair by hand"

    def apply(self, work: Work) -> Work:
        """Fix the pair; hints that tie either shape to another go. Raises EditError for several to several."""
        one, two = work.span(self.key)
        for key, shape in ((one, self.first), (two, self.second)):
            if shape is not None:
                work.shape(key.id, shape)
        if self.first is None and self.second is None:
            raise EditError("A pair needs a shape.")
        if self.also:
            return self._with_partners(work, one.span.take)
        kept = tuple(
            c
            for c in one.span.take.pairs
            if (c.first is None or c.first != self.first) and (c.second is None or c.second != self.second)
        )
        pairs = (*kept, PairChoice(first=self.first, second=self.second))
        before, after = one.span.take, checked(one.span.take, pairs=pairs)
        hints = tuple(
            h
            for h in before.hints
            if (h.first.shape == self.first) == (h.second.shape == self.second)
            or (before.says_where(h) and after.says_where(h))
        )
        return work.with_take(self.key, lambda take: checked(take, pairs=pairs, hints=hints))

    def _with_partners(self, work: Work, take: Take) -> Work:
        now = [(a, b) for pair in work.plan(self.key).pairs for _, a, b in pair.origins if a and b]
        partners = [(a, b) for a, b in now if a == self.first or b == self.second]
        wanted = dict.fromkeys([*partners, (self.first, self.second)])
        if len({a for a, _ in wanted}) > 1 and len({b for _, b in wanted}) > 1:
            raise EditError("One shape can divide, or several can join; several can't become several.")
        shapes = {a for a, _ in wanted}, {b for _, b in wanted}
        kept = tuple(c for c in take.pairs if c.first not in shapes[0] and c.second not in shapes[1])
        choices = tuple(PairChoice(first=a, second=b) for a, b in wanted)
        return work.with_take(self.key, lambda old: checked(old, pairs=(*kept, *choices)))


class FreePair(Model):
    """Let Knead decide again about a pair that was fixed by hand."""

    type: Literal["free_pair"] = "free_pair"
    key: str
    first: str | None
    second: str | None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Free a pair"

    def apply(self, work: Work) -> Work:
        """Remove the choice, and with it hints that say where a shape without a partner grows."""
        gone = PairChoice(first=self.first, second=self.second)
        before = work.span(self.key)[0].span.take
        after = checked(before, pairs=tuple(c for c in before.pairs if c != gone))
        hints = tuple(h for h in before.hints if before.says_where(h) == after.says_where(h))
        return work.with_take(self.key, lambda take: checked(take, pairs=after.pairs, hints=hints))
