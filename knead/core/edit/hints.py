"""Edits of hints."""

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.sound import EditError
from knead.core.edit.work import Work, checked
from knead.core.geometry.track import track_of
from knead.core.model import Hint, HintEnd, Model, Name, PairChoice, Point, Shape, new_id
from knead.core.outline.hints import nearest_contour
from knead.core.outline.naming import hint_name
from knead.core.outline.ties import hint_end

Snap = Annotated[float, Field(ge=0.0, le=1e6)]
ONE_PLACE = 1e-3  # scene units: what is nearer is at one place


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

    Of a line that is drawn in strokes the nearest is meant. Where a shape without a partner grows may be any place on
    another.
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
        shape = self._nearest_stroke(work, one.id if self.end == "first" else two.id)
        end = hint_end(shape, np.array(self.to.at), self.snap)
        take, bare = one.span.take, HintEnd(shape=shape.id, at=self.to.at)
        anywhere = end.node is None and not take.is_alone(shape.id, self.end == "first")
        return _each_hint(
            work,
            self.key,
            self.hint,
            lambda hint: checked(hint, **{self.end: bare if anywhere and take.says_where(hint) else end}),
        )

    def _nearest_stroke(self, work: Work, key: str) -> Shape:
        """Of the strokes that are one line with the shape, the one that the point is nearest to."""
        own, point = work.shape(key, self.to.shape), np.array(self.to.at)
        lines = (plan.pair for plan in work.plan(self.key).pairs if plan.pair.kind == "recut")
        strokes = (line.firsts if self.end == "first" else line.seconds for line in lines)
        names = next((names for names in strokes if own.id in names), (own.id,))
        shapes = [work.shape(key, name) for name in names]
        return min(shapes, key=lambda s: nearest_contour([track_of(c) for c in s.contours], point)[2])


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
