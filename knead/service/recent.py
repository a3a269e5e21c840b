"""What was read or made lately, kept at hand."""

from collections import OrderedDict
from collections.abc import Hashable, Iterable, Mapping
from threading import Lock
from typing import Generic, TypeVar

Name = TypeVar("Name", bound=Hashable)
Thing = TypeVar("Thing")


class Recent(Generic[Name, Thing]):
    """At most so many things by name, the latest used. Safe to share between threads."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[Name, Thing] = OrderedDict()
        self._lock = Lock()

    def found(self, names: Iterable[Name]) -> dict[Name, Thing]:
        """Those of these names that are still kept."""
        with self._lock:
            return {name: self._kept[name] for name in names if name in self._kept}

    def keep(self, things: Mapping[Name, Thing]) -> None:
        """Keep these, and let go of those that were not used for longest."""
        with self._lock:
            for name, thing in things.items():
                self._kept[name] = thing
                self._kept.move_to_end(name)
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
