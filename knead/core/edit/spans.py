"""Edits of what happens between two keys."""

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.sound import EditError
from knead.core.edit.work import Work, checked
from knead.core.model import Blend, Ease, Hint, HintEnd, Model, Name, PairChoice, PairTravel, Point, Take, new_id
from knead.core.model.span import Frames, Tolerance
from knead.core.model.style import Share
from knead.core.outline.naming import hint_name
from knead.core.outline.ties import hint_end

Snap = Annotated[float, Field(ge=0.0, le=1e6)]
ONE_PLACE = 1e-3  # scene units: what is nearer is at one place


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


class SetEase(Model):
    """Ease a span."""

    type: Literal["set_ease"] = "set_ease"
    key: str
    ease: Ease

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change ease"

    def apply(self, work: Work) -> Work:
        """Set the ease."""
        return work.with_take(self.key, lambda take: checked(take, ease=self.ease))


class SetExposure(Model):
    """Show each drawing of a span for so many frames."""

    type: Literal["set_exposure"] = "set_exposure"
    key: str
    exposure: Frames

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Shoot on {('ones', 'twos', 'threes', 'fours')[self.exposure - 1]}"

    def apply(self, work: Work) -> Work:
        """Set the exposure."""
        return work.with_take(self.key, lambda take: checked(take, exposure=self.exposure))


class SetBlend(Model):
    """Choose how points travel in a span."""

    type: Literal["set_blend"] = "set_blend"
    key: str
    blend: Blend

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change travel"

    def apply(self, work: Work) -> Work:
        """Set the blend."""
        return work.with_take(self.key, lambda take: checked(take, blend=self.blend))


class SetTolerance(Model):
    """Say how closely a span's in-betweens are fitted: little for a close-up, much for a draft of few nodes."""

    type: Literal["set_tolerance"] = "set_tolerance"
    key: str
    tolerance: Tolerance

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change the fit"

    def apply(self, work: Work) -> Work:
        """Set the tolerance."""
        return work.with_take(self.key, lambda take: checked(take, tolerance=self.tolerance))


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

    @property
    def label(self) -> str:
        """What undo calls it."""
        given = self.model_fields_set
        if "path" in given:
            return "Draw a path of travel" if self.path else "Remove a path of travel"
        return "Change when it goes" if given & {"start", "end"} else "Change travel"

    def apply(self, work: Work) -> Work:
        """Set what is given."""
        one, two = work.span(self.key)
        for key, shape in ((one, self.first), (two, self.second)):
            if shape is not None:
                work.shape(key.id, shape)
        given = {"blend", "turns", "path", "start", "end"} & self.model_fields_set
        old = one.span.take.travel(self.first, self.second)
        new = checked(old, **{name: getattr(self, name) for name in given})
        kept = tuple(t for t in one.span.take.travels if t != old)
        plain = new == PairTravel(first=self.first, second=self.second)
        return work.with_take(self.key, lambda take: checked(take, travels=kept if plain else (*kept, new)))


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


class Spot(Model):
    """A point on a shape of one key."""

    shape: str
    at: Point


class AddHint(Model):
    """Tie a point of one key; where the other end is not given, it is tied to where it goes today.

    What has no partner is left so by hand, and the hint says where it grows from, or shrinks to.
    """

    type: Literal["add_hint"] = "add_hint"
    key: str
    id: str = Field(default_factory=new_id)
    first: Spot | None = None
    second: Spot | None = None
    snap: Snap = 0.0

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Add a hint"

    def apply(self, work: Work) -> Work:
        """Add the hint with a name from its form and side."""
        one, two = work.span(self.key)
        first = self._end(work, one.id, self.first)
        second = self._end(work, two.id, self.second)
        if first is None and second is None:
            raise EditError("A hint needs a point.")
        for hint in one.span.take.hints:
            if _at_one(first, hint.first) or _at_one(second, hint.second):
                raise EditError(f"This point is tied already, by hint '{hint.name}'. Drag that, or take another point.")
        if first is None:
            work, first = self._today(work, second, one.id)
        elif second is None:
            work, second = self._today(work, first, two.id)
        assert first is not None
        assert second is not None
        taken = {h.name for h in one.span.take.hints}
        lone = work.span(self.key)[0].span.take.is_alone(second.shape, False)
        own, end = (two, second) if lone else (one, first)
        name = hint_name(work.shape(own.id, end.shape), np.array(end.at), taken)
        hint = Hint(id=self.id, name=name, first=first, second=second)
        return work.with_take(self.key, lambda take: checked(take, hints=(*take.hints, hint)))

    def _today(self, work: Work, known: HintEnd | None, there: str) -> tuple[Work, HintEnd]:
        """Where the other end is today, on a shape of the key `there`; what has no partner is left so."""
        assert known is not None
        from_first, plan = self.first is not None, work.plan(self.key)
        found = plan.partner(known.shape, np.array(known.at), from_first)
        if found is None:
            raise EditError("There is nothing in the other key to tie this shape to.")
        lone = PairChoice(first=known.shape if from_first else None, second=None if from_first else known.shape)
        if all((p.first_id, p.second_id) != (lone.first, lone.second) for p in plan.pairs):
            return work, hint_end(work.shape(there, found[0]), np.array(found[1]), ONE_PLACE)
        own = work.with_take(self.key, lambda take: checked(take, pairs=(*(c for c in take.pairs if c != lone), lone)))
        return own, HintEnd(shape=found[0], at=found[1])

    def _end(self, work: Work, key: str, spot: Spot | None) -> HintEnd | None:
        return hint_end(work.shape(key, spot.shape), np.array(spot.at), self.snap) if spot else None


def _at_one(end: HintEnd | None, other: HintEnd) -> bool:
    """Whether two ends are at one place of one shape."""
    return end is not None and end.shape == other.shape and bool(np.allclose(end.at, other.at, atol=ONE_PLACE))


class MoveHint(Model):
    """Move one end of a hint along its outline, or onto another shape of the same key.

    Where a shape without a partner grows may be any place on another.
    """

    type: Literal["move_hint"] = "move_hint"
    key: str
    hint: str
    end: Literal["first", "second"]
    to: Spot
    snap: Snap = 0.0

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Move a hint"

    def apply(self, work: Work) -> Work:
        """Set the end."""
        one, two = work.span(self.key)
        shape = work.shape(one.id if self.end == "first" else two.id, self.to.shape)
        end = hint_end(shape, np.array(self.to.at), self.snap)
        take, bare = one.span.take, HintEnd(shape=shape.id, at=self.to.at)
        anywhere = end.node is None and not take.is_alone(shape.id, self.end == "first")
        return _each_hint(
            work,
            self.key,
            self.hint,
            lambda hint: checked(hint, **{self.end: bare if anywhere and take.says_where(hint) else end}),
        )


class RenameHint(Model):
    """Name a hint."""

    type: Literal["rename_hint"] = "rename_hint"
    key: str
    hint: str
    name: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Rename a hint"

    def apply(self, work: Work) -> Work:
        """Set the name."""
        return _each_hint(work, self.key, self.hint, lambda hint: checked(hint, name=self.name))


class RemoveHints(Model):
    """Take hints off a span; without a list, all of them."""

    type: Literal["remove_hints"] = "remove_hints"
    key: str
    hints: tuple[str, ...] | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Remove all hints" if self.hints is None else "Remove a hint"

    def apply(self, work: Work) -> Work:
        """Remove the hints."""
        gone = self.hints
        kept = tuple(h for h in work.key(self.key).span.take.hints if gone is not None and h.id not in gone)
        return work.with_take(self.key, lambda take: checked(take, hints=kept))


def _each_hint(work: Work, key: str, hint_id: str, change: Callable[[Hint], Hint]) -> Work:
    hints = work.key(key).span.take.hints
    if all(hint.id != hint_id for hint in hints):
        raise EditError("This hint is gone.")
    changed = tuple(change(hint) if hint.id == hint_id else hint for hint in hints)
    return work.with_take(key, lambda take: checked(take, hints=changed))
