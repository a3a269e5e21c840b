"""What the screen gets: scenes with their drawings, and the in-betweens of a span as compact tracks."""

from collections.abc import Mapping
from typing import Literal
from weakref import WeakKeyDictionary

import numpy as np

from knead.core.blend.paint import PaintPlan
from knead.core.blend.pair_plan import PairPlan
from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.inbetween import SpanPlan, hint_points
from knead.core.model import Drawing, Fill, Model, Point, Scene, Stroke, Take
from knead.core.playback import Exposure, exposures
from knead.store.scenes import Revision


class SceneView(Model):
    """A scene as of a revision.

    `drawings` are those asked for or new; `sheet` says what each layer shows at each frame.
    """

    scene: Scene
    revision: int
    undo: str | None
    redo: str | None
    drawings: dict[str, Drawing]
    sheet: dict[str, list[Exposure | None]]


class Look(Model):
    """Paint of a shape in one frame; None paints nothing."""

    fill: Fill | None
    stroke: Stroke | None
    opacity: float


class TrackContour(Model):
    """One contour of a track: how many nodes, and whether it is closed."""

    nodes: int
    closed: bool


class Track(Model):
    """One pair over all frames of a span. `points` has a row a frame: x, y of handle before, node, handle after, ...

    `looks` has a row a frame, or a single one when nothing changes. Frames in which the shape does not exist are empty.
    """

    first: str | None
    second: str | None
    contours: list[TrackContour]
    points: list[list[float]]
    looks: list[Look]
    weights: list[list[float]] | None
    """Width factors of the nodes, a row a frame; None where the width is even."""


class PairView(Model):
    """A pair as the Match view lists it."""

    first: str | None
    second: str | None
    by_hand: bool
    confidence: float
    reason: str
    way: Literal["direct", "arc", "solid"]
    way_reason: str
    first_centre: Point
    second_centre: Point


class HintView(Model):
    """A hint where it stands now, and what is wrong with it, if anything."""

    id: str
    name: str
    first: Point
    second: Point
    first_shape: str
    second_shape: str
    trouble: str | None


class SpanView(Model):
    """All in-betweens of a span, its first and second key included. Every frame lists its tracks from back to front."""

    key: str
    frames: list[int]
    places: list[float]
    tracks: list[Track]
    order: list[list[int]]
    pairs: list[PairView]
    hints: list[HintView]
    take: Take


def scene_view(revision: Revision, drawings: Mapping[str, Drawing]) -> SceneView:
    """A revision with the given drawings."""
    scene = revision.scene
    sheet = {layer.id: exposures(layer, scene.length) for layer in scene.layers}
    return SceneView(
        scene=scene,
        revision=revision.number,
        undo=revision.undo,
        redo=revision.redo,
        drawings=dict(drawings),
        sheet=sheet,
    )


def span_view(key: str, plan: SpanPlan, take: Take, start: int, places: list[float]) -> SpanView:
    """Evaluate a plan at the eased places of its frames."""
    troubles = {trouble.hint: trouble.text for trouble in plan.troubles}
    choices = {(c.first, c.second) for c in take.pairs}
    hints = []
    for hint in take.hints:
        ends = hint_points(plan, hint)
        first, second = (ends[0], ends[1]) if ends else (np.array(hint.first.at), np.array(hint.second.at))
        hints.append(
            HintView(
                id=hint.id,
                name=hint.name,
                first=Point(*first.tolist()),
                second=Point(*second.tolist()),
                first_shape=hint.first.shape,
                second_shape=hint.second.shape,
                trouble=troubles.get(hint.id),
            )
        )
    return SpanView(
        key=key,
        frames=list(range(start, start + len(places))),
        places=[round(p, 4) for p in places],
        tracks=[_track(pair, places) for pair in plan.pairs],
        order=[plan.order(p) for p in places],
        pairs=[_pair_view(pair, (pair.first_id, pair.second_id) in choices) for pair in plan.pairs],
        hints=hints,
        take=take,
    )


_tracks: WeakKeyDictionary[PairPlan, tuple[list[float], Track]] = WeakKeyDictionary()


def _track(pair: PairPlan, places: list[float]) -> Track:
    """A pair's track; that of a pair that was taken over from the last plan is taken over, too."""
    known_places, known = _tracks.get(pair, (None, None))
    if known is None or known_places != places:
        known = _evaluated(pair, places)
        _tracks[pair] = places, known
    return known


def _evaluated(pair: PairPlan, places: list[float]) -> Track:
    times = np.array(places)
    points = np.round(as_points(pair.points(times)).reshape(len(times), -1), 2).tolist()
    for k, t in enumerate(places):
        if not pair.is_there(t):
            points[k] = []
    looks = _looks_of(pair, times)
    contours = [TrackContour(nodes=len(c.nodes), closed=c.closed) for c in pair.contours]
    weights = pair.weights(times)
    return Track(
        first=pair.first_id,
        second=pair.second_id,
        contours=contours,
        points=points,
        looks=looks,
        weights=None if weights is None else np.round(weights, 3).tolist(),
    )


_looks: WeakKeyDictionary[PaintPlan, tuple[list[float], list[Look]]] = WeakKeyDictionary()


def _looks_of(pair: PairPlan, times: Floats) -> list[Look]:
    """A pair's looks, one where nothing changes; those of unchanged paint are taken over."""
    known_times, known = _looks.get(pair.paint, (None, None)) if pair.steady else (None, None)
    if known is None or known_times != times.tolist():
        raw = pair.looks(times[:1]) if pair.steady else pair.looks(times)
        same = all(look == raw[0] for look in raw[1:])
        known = [Look(fill=fill, stroke=stroke, opacity=o) for fill, stroke, o in (raw[:1] if same else raw)]
        _looks[pair.paint] = times.tolist(), known
    return known


def _pair_view(pair: PairPlan, by_hand: bool) -> PairView:
    first, second = pair.first_centre, pair.second_centre
    return PairView(
        first=pair.first_id,
        second=pair.second_id,
        by_hand=by_hand,
        confidence=pair.pair.confidence,
        reason=pair.pair.reason,
        way=pair.way,
        way_reason=pair.way_reason,
        first_centre=Point(first.real, first.imag),
        second_centre=Point(second.real, second.imag),
    )
