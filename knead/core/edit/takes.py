"""Edits of takes: whole sets of settings that a span keeps beside the one in use."""

from typing import Annotated, Literal

from pydantic import Field

from knead.core.edit.sound import EditError
from knead.core.edit.spans import TakeSetting
from knead.core.edit.work import Work, checked
from knead.core.model import Model, Name, Span, Take


class NewTake(Model):
    """Go on with a copy of a span's take; the take itself is kept as it is."""

    type: Literal["new_take"] = "new_take"
    key: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "New take"

    def apply(self, work: Work) -> Work:
        """Put the take to the others, and use its copy under a name of its own."""
        span = work.span(self.key)[0].span
        taken = {take.name for take in (span.take, *span.others)}
        name = next(n for k in range(2, len(taken) + 3) if (n := f"take {k}") not in taken)
        copy = span.take.model_copy(update={"name": name})
        return _with_span(work, self.key, checked(span, take=copy, others=(*span.others, span.take)))


class UseTake(Model):
    """Let a span go by another of its takes."""

    type: Literal["use_take"] = "use_take"
    key: str
    name: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Use {self.name}"

    def apply(self, work: Work) -> Work:
        """Change places with the take in use. Raises EditError where it is gone."""
        span = work.span(self.key)[0].span
        wanted = _other(span, self.name)
        others = tuple(span.take if take is wanted else take for take in span.others)
        return _with_span(work, self.key, checked(span, take=wanted, others=others))


class RenameTake(Model):
    """Name a take of a span, in use or not."""

    type: Literal["rename_take"] = "rename_take"
    key: str
    name: Name
    to: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Rename a take"

    def apply(self, work: Work) -> Work:
        """Set the name. Raises EditError for one that another has."""
        span = work.span(self.key)[0].span
        if self.to != self.name and any(take.name == self.to for take in (span.take, *span.others)):
            raise EditError(f"There is a '{self.to}' already.")
        if span.take.name == self.name:
            return work.with_take(self.key, lambda take: checked(take, name=self.to))
        own = _other(span, self.name)
        others = tuple(checked(take, name=self.to) if take is own else take for take in span.others)
        return _with_span(work, self.key, checked(span, others=others))


class NoteTake(TakeSetting):
    """Say of the take in use why it moves so."""

    type: Literal["note_take"] = "note_take"
    note: Annotated[str, Field(max_length=2000)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Note on a take"


class RemoveTake(Model):
    """Take away a take that is not in use."""

    type: Literal["remove_take"] = "remove_take"
    key: str
    name: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Delete {self.name}"

    def apply(self, work: Work) -> Work:
        """Remove it. Raises EditError where it is gone, or in use."""
        span = work.span(self.key)[0].span
        gone = _other(span, self.name)
        return _with_span(work, self.key, checked(span, others=tuple(take for take in span.others if take is not gone)))


def _other(span: Span, name: str) -> Take:
    if span.take.name == name:
        raise EditError(f"'{name}' is in use.")
    found = next((take for take in span.others if take.name == name), None)
    if found is None:
        raise EditError(f"There is no '{name}' on this span.")
    return found


def _with_span(work: Work, key_id: str, span: Span) -> Work:
    return work.with_key(checked(work.key(key_id), span=span))
