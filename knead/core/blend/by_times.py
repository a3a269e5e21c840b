"""Answers for a set of times, kept: all frames of a span are asked for again and again while something else changes."""

from collections.abc import Callable
from typing import Generic, TypeVar

from knead.core.geometry.bezier import Floats

Answer = TypeVar("Answer")

MOST = 8  # sets of times that are kept


class ByTimes(Generic[Answer]):
    """The latest answers to one question, by the times it was asked for."""

    def __init__(self) -> None:
        self._kept: dict[bytes, Answer] = {}

    def get(self, times: Floats, answer: Callable[[Floats], Answer]) -> Answer:
        """The answer for these times, worked out if need be. Nobody may change it."""
        name = times.tobytes()
        found = self._kept.get(name)
        if found is None:
            found = answer(times)
            if len(self._kept) >= MOST:
                self._kept.clear()
            self._kept[name] = found
        return found
