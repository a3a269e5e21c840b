"""Edits of keys along a layer."""

from collections import Counter
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from knead.core.blend.pair.going import Going
from knead.core.edit.sound import EditError, sound
from knead.core.edit.work import Work, checked
from knead.core.geometry.bezier import Floats
from knead.core.geometry.route import parted
from knead.core.inbetween import SpanPlan
from knead.core.model import (
    Drawing,
    Ease,
    Hint,
    HintEnd,
    Key,
    Layer,
    Model,
    Name,
    PairChoice,
    PairTravel,
    Point,
    Shape,
    Span,
    Take,
)
from knead.core.model.scene import Frame
from knead.core.model.span import HIGHEST, LOWEST
from knead.core.playback import Exposure, exposures, pace

NEAR_KEY = 0.01  # a breakdown this near to a key leaves no way on that side to be charted


class NewKey(Model):
    """A new key at a frame: from what the layer shows there, or empty."""

    type: Literal["new_key"] = "new_key"
    layer: str
    frame: Frame
    source: Literal["shown", "empty"]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"New {'' if self.source == 'shown' else 'empty '}key at {self.frame}"

    def apply(self, work: Work) -> Work:
        """Add the key; inside an in-betweened span it parts the span in two, as a breakdown.

        After the last key it goes on from what is held or played again there.
        """
        layer = work.open_layer(self.layer)
        _check_free(layer, self.frame)
        _check_drawn_on(layer)
        work = _longer(work, self.frame)
        shown = exposures(work.scene, layer, max(self.frame, work.scene.length))[self.frame - 1]
        if shown is None or self.source == "empty":
            before = work.key(shown.key) if shown else None
            span = Span(inbetween=bool(before and before.span.inbetween))
            return _with_new(work, layer, Key(frame=self.frame, drawing=Drawing().hash, span=span), Drawing())
        key = work.key(shown.key)
        if self.frame > layer.keys[-1].frame:  # held, or played again
            drawing = work.plan(key.id).at(shown.place) if shown.number else work.of(key.drawing)
            drawing = sound(drawing, work.of(key.drawing))
            return _with_new(work, layer, Key(frame=self.frame, drawing=drawing.hash), drawing)
        if shown.number == 0:
            span = Span()
            if key.span.inbetween:  # held for some frames: what came of the first drawing comes of this now
                span, held = key.span, Take(exposure=key.span.take.exposure)
                work = work.with_key(checked(key, span=Span(inbetween=True, take=held)))
            again = Key(frame=self.frame, drawing=key.drawing, span=span)
            return _with_new(work, work.layer(layer.id), again, work.of(key.drawing))
        plan = work.plan(key.id)
        drawing = sound(plan.at(shown.place), Drawing())  # what divides has its nodes twice
        here = shown.model_copy(update={"number": self.frame - key.frame})  # on twos another frame than its drawing's
        first, second = _parted(plan, key, work.span(key.id)[1], here, drawing)
        work = work.with_key(checked(key, span=Span(inbetween=True, take=first)))
        span = Span(inbetween=True, take=second)
        return _with_new(
            work, work.layer(layer.id), Key(frame=self.frame, drawing=drawing.hash, breakdown=True, span=span), drawing
        )


class BringKey(Model):
    """A key from shapes that were read from a file; what is drawn at that frame is replaced."""

    type: Literal["bring_key"] = "bring_key"
    layer: str
    frame: Frame
    shapes: Annotated[tuple[Shape, ...], Field(min_length=1)]

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Bring in a key at {self.frame}"

    def apply(self, work: Work) -> Work:
        """Add the key, or draw the one that is there anew."""
        layer = work.open_layer(self.layer)
        there = next((key for key in layer.keys if key.frame == self.frame), None)
        if there is not None:
            return work.with_drawing(there.id, Drawing(shapes=self.shapes))
        _check_drawn_on(layer)
        drawing = sound(Drawing(shapes=self.shapes), Drawing())
        return _with_new(_longer(work, self.frame), layer, Key(frame=self.frame, drawing=drawing.hash), drawing)


class MoveKeyOver(Model):
    """Move a key to another layer."""

    type: Literal["move_key_over"] = "move_key_over"
    key: str
    layer: str
    frame: Frame

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Move a key to another layer"

    def apply(self, work: Work) -> Work:
        """Take it off its layer and put it on the other, where the frame must be free."""
        key, target = work.key(self.key), work.open_layer(self.layer)
        if target.id == work.layer_of(self.key).id:
            return MoveKey(key=self.key, frame=self.frame).apply(work)
        _check_free(target, self.frame)
        _check_drawn_on(target)
        moved = checked(key, frame=self.frame, breakdown=False, span=Span())
        work = RemoveKey(key=self.key).apply(_longer(work, self.frame))
        return _with_new(work, work.layer(target.id), moved, work.of(key.drawing))


class DuplicateKey(Model):
    """The same drawing as a key of its own at another frame of the layer."""

    type: Literal["duplicate_key"] = "duplicate_key"
    key: str
    frame: Frame

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Duplicate key to {self.frame}"

    def apply(self, work: Work) -> Work:
        """Add the copy. Its shapes keep their identity, so that they pair by themselves."""
        key, layer = work.key(self.key), work.open_layer(work.layer_of(self.key).id)
        _check_free(layer, self.frame)
        return _with_new(
            _longer(work, self.frame), layer, Key(frame=self.frame, drawing=key.drawing), work.of(key.drawing)
        )


class MoveKey(Model):
    """Move a key to another frame between its neighbours."""

    type: Literal["move_key"] = "move_key"
    key: str
    frame: Frame

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Move key to {self.frame}"

    def apply(self, work: Work) -> Work:
        """Set the frame. Raises EditError where it would pass another key."""
        layer = work.layer_of(self.key)
        index = next(k for k, key in enumerate(layer.keys) if key.id == self.key)
        before, after = layer.keys[:index], layer.keys[index + 1 :]
        if (before and self.frame <= before[-1].frame) or (after and self.frame >= after[0].frame):
            raise EditError("A key stays between its neighbours; move those first.")
        return _longer(work, self.frame).with_key(checked(layer.keys[index], frame=self.frame))


class NameKey(Model):
    """Name a drawing for those who go on with it; None takes its name away."""

    type: Literal["name_key"] = "name_key"
    key: str
    name: Name | None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return f"Name a key {self.name}" if self.name else "Take a key's name away"

    def apply(self, work: Work) -> Work:
        """Set the name. Several drawings may have one."""
        return work.with_key(checked(work.key(self.key), name=self.name))


class RemoveKey(Model):
    """Take a key off its layer; the span before it then reaches to the next key."""

    type: Literal["remove_key"] = "remove_key"
    key: str

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Delete a key"

    def apply(self, work: Work) -> Work:
        """Remove the key; pairs and hints of the span before it that point at its shapes go with it."""
        layer = work.open_layer(work.layer_of(self.key).id)
        index = next(k for k, key in enumerate(layer.keys) if key.id == self.key)
        keys = list(layer.keys)
        del keys[index]
        if index:
            span = keys[index - 1].span
            take = checked(span.take, pairs=(), hints=(), chart=())
            keys[index - 1] = checked(keys[index - 1], span=checked(span, take=take, others=()))
        return work.with_layer(checked(layer, keys=tuple(keys)))


def _check_drawn_on(layer: Layer) -> None:
    if layer.picture is not None:
        raise EditError(f"Layer '{layer.name}' holds a picture. Take or add another layer to draw on.")
    if layer.cycle is not None:
        raise EditError(f"Layer '{layer.name}' plays another layer's keys. Draw on that, or cut this one loose.")


def _check_free(layer: Layer, frame: int) -> None:
    if any(key.frame == frame for key in layer.keys):
        raise EditError(f"Layer '{layer.name}' already has a key at {frame}.")


def _longer(work: Work, frame: int) -> Work:
    """The scene made long enough for a frame."""
    return work.with_scene(length=frame) if frame > work.scene.length else work


def _with_new(work: Work, layer: Layer, key: Key, drawing: Drawing) -> Work:
    keys = tuple(sorted((*layer.keys, key), key=lambda k: k.frame))
    fresh = Work(work.scene, work.drawings, {**work.fresh, drawing.hash: drawing})
    return fresh.with_layer(checked(layer, keys=keys))


def _parted(plan: SpanPlan, one: Key, two: Key, shown: Exposure, drawing: Drawing) -> tuple[Take, Take]:
    """The settings of the two spans on either side of a breakdown between two keys.

    Its shapes bear the first key's ids; their pairs with the second key's shapes are fixed, and hints run through it.
    """
    take, place = one.span.take, shown.place
    before, after = [], []
    for hint in take.hints:
        middle = _on_the_way(plan, hint, drawing)
        if middle is not None:
            before.append(checked(hint, second=middle))
            after.append(checked(hint, first=middle))
    travels = [
        halves for pair in plan.pairs if not pair.pieces for halves in [_travel_halves(pair, take, place)] if halves
    ]
    own, rest = tuple(half for half, _ in travels), tuple(half for _, half in travels)
    paces = _pace_halves(one, two, shown)
    first = checked(take, pairs=_choices(plan, True), hints=tuple(before), travels=own, **paces[0])
    return first, checked(take, pairs=_choices(plan, False), hints=tuple(after), travels=rest, **paces[1])


def _choices(plan: SpanPlan, before: bool) -> tuple[PairChoice, ...]:
    """What a breakdown's shapes are of the key before it, or become of that after it, where ids don't say so.

    Pieces of a line that was cut differently find each other by their ends, as the strokes did.
    """
    links = [
        (pair.pair.kind, own, first if before else second) for pair in plan.pairs for own, first, second in pair.origins
    ]
    pieces = Counter(other for kind, _, other in links if kind == "recut")
    chosen = [(own, other) for _, own, other in links if own != other and (other is None or pieces[other] < 2)]
    return tuple(PairChoice(first=b, second=a) if before else PairChoice(first=a, second=b) for a, b in chosen)


def _pace_halves(one: Key, two: Key, shown: Exposure) -> tuple[dict[str, Any], dict[str, Any]]:
    """Ease and timing chart on either side of a breakdown between two keys."""
    take, place = one.span.take, shown.place
    charts: tuple[Floats, Floats] = (np.zeros(0), np.zeros(0))
    if take.chart and NEAR_KEY < place < 1.0 - NEAR_KEY:
        ticks = np.array(pace(one, two)[1:-1])
        charts = ticks[: shown.number - 1] / place, (ticks[shown.number :] - place) / (1.0 - place)
    before, after = (
        {"ease": ease, "chart": tuple(np.clip(chart, LOWEST, HIGHEST).tolist())}
        for ease, chart in zip(_ease_halves(take.ease), charts, strict=True)
    )
    return before, after


def _ease_halves(ease: Ease) -> tuple[Ease, Ease]:
    """The ease on either side of a breakdown: what is anticipated or overshot is so once."""
    return checked(ease, overshoot=0.0), checked(ease, anticipation=0.0)


def _travel_halves(pair: Going, take: Take, place: float) -> tuple[PairTravel, PairTravel] | None:
    """How a pair goes before and after a breakdown at this place, where that was set by hand."""
    whole = take.travel(pair.first_id, pair.second_id)
    if whole == PairTravel(first=pair.first_id, second=pair.second_id):
        return None
    share, place = (min(max(where, 0.0), 1.0) for where in (pair.place(place), place))
    eases = _ease_halves(whole.ease)
    before: dict[str, Any] = {"first": pair.first_id, "second": pair.identity, "blend": whole.blend, "ease": eases[0]}
    after: dict[str, Any] = {"first": pair.identity, "second": pair.second_id, "blend": whole.blend, "ease": eases[1]}
    if whole.start < place:
        before |= {"start": whole.start / place, "end": min(1.0, whole.end / place)}
    if whole.end > place:
        after |= {"start": max(0.0, (whole.start - place) / (1 - place)), "end": (whole.end - place) / (1 - place)}
    if pair.path is not None:
        start, end = pair.middles
        for half, handles in zip((before, after), parted(start, pair.path, end, share), strict=True):
            half["path"] = tuple(Point(z.real, z.imag) for z in handles)
    rounds = pair.angle / (2 * np.pi)
    if whole.turns:
        before["turns"], after["turns"] = round(rounds * share), round(rounds * (1 - share))
    return PairTravel(**before), PairTravel(**after)


def _on_the_way(plan: SpanPlan, hint: Hint, drawing: Drawing) -> HintEnd | None:
    """Where a hint's point is in the breakdown: the node that stands on the hint at the first key."""
    shape = drawing.shape(hint.first.shape)
    start = plan.at(0.0).shape(hint.first.shape)
    if shape is None or start is None:
        return None
    nodes = zip((n for c in start.contours for n in c.nodes), (n for c in shape.contours for n in c.nodes), strict=True)
    _, node = min(nodes, key=lambda ab: (ab[0].at.x - hint.first.at.x) ** 2 + (ab[0].at.y - hint.first.at.y) ** 2)
    return HintEnd(shape=shape.id, at=node.at, node=node.id)
