"""Edits that let the ways of two spans go through the key between them without a corner."""

from typing import Literal

from knead.core.blend.pair.going import Going
from knead.core.edit.sound import EditError
from knead.core.edit.spans import SetTravel
from knead.core.edit.work import Work
from knead.core.geometry.route import eased_in, through
from knead.core.model import Key, Layer, Model, Point

STILL = 0.5  # what goes less far than this, in scene units, has no way


class FlowThrough(Model):
    """Let what comes to a key and goes on from it do so on a smooth way: one shape of the key, or all that lead.

    A shape leads that hangs on no other: what hangs on it is taken along.
    """

    type: Literal["flow_through"] = "flow_through"
    key: str
    shape: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Flow through a key"

    def apply(self, work: Work) -> Work:
        """Draw paths of travel on both sides. Raises EditError where none comes and goes on."""
        before, after = _spans_beside(work.layer_of(self.key), work.key(self.key))
        times = (work.span(before.id)[1].frame - before.frame, work.span(after.id)[1].frame - after.frame)
        coming = {pair.second_id: pair for pair in work.plan(before.id).pairs if pair.first_id}
        ways = [
            (coming[pair.first_id], pair)
            for pair in work.plan(after.id).pairs
            if pair.second_id and pair.first_id in coming and self._is_meant(coming[pair.first_id], pair)
        ]
        if not ways:
            raise EditError("Nothing comes to this key and goes on from it: there is no way to smooth.")
        for one, two in ways:
            into, out = through(*one.middles, two.middles[1], times)
            work = _led(work, before.id, one, into, 1)
            work = _led(work, after.id, two, out, 0)
        return work

    def _is_meant(self, one: Going, two: Going) -> bool:
        far = max(abs(pair.middles[1] - pair.middles[0]) for pair in (one, two))
        chosen = self.shape == one.second_id if self.shape else not (one.hangs or two.hangs)
        return chosen and far > STILL


def _spans_beside(layer: Layer, key: Key) -> tuple[Key, Key]:
    """The keys that begin the spans before and after a key; where a layer is played again, also round its ends."""
    index, last = layer.keys.index(key), len(layer.keys) - 1
    again = layer.repeat == "round and round" and last > 1 and layer.keys[0].drawing == layer.keys[-1].drawing
    if again and index in (0, last):
        sides = layer.keys[last - 1], layer.keys[0]
    elif 0 < index < last:
        sides = layer.keys[index - 1], key
    else:
        raise EditError("A way goes through a key between two others: there is none on one side of this.")
    if not all(side.span.inbetween for side in sides):
        raise EditError("One side of this key is held: in-between both to let the way go through.")
    return sides


def _led(work: Work, key: str, pair: Going, handle: complex, end: Literal[0, 1]) -> Work:
    """With a path of a pair that has this handle at its first or second end; the other one is kept."""
    path = work.key(key).span.take.travel(pair.first_id, pair.second_id).path
    way = (pair.middles[1] - pair.middles[0]) * (1 if end else -1)
    far = complex(*path[1 - end]) if path else eased_in(way, handle)
    first, second = (Point(z.real, z.imag) for z in ((far, handle) if end else (handle, far)))
    return SetTravel(key=key, first=pair.first_id, second=pair.second_id, path=(first, second)).apply(work)
