"""What the screen gets: scenes with their drawings, and the in-betweens of a span as compact tracks."""

from collections.abc import Mapping
from typing import Literal
from weakref import WeakKeyDictionary

import numpy as np

from knead.core.blend.paint.paint import PaintPlan
from knead.core.blend.pair.going import Going
from knead.core.geometry.bezier import Floats
from knead.core.geometry.similarity import as_points
from knead.core.inbetween import SpanPlan, hint_points
from knead.core.model import Drawing, Fill, Hint, Model, PairTravel, Point, Scene, Shape, Stroke, Take
from knead.core.pace.ease import paced
from knead.core.playback import Exposure, exposures
from knead.core.snags.figures import Figures
from knead.core.snags.find import Snag, findings
from knead.core.snags.jumps import jumps
from knead.core.snags.propose import Proposal
from knead.store.scenes import Revision

EVENLY = np.linspace(0.0, 1.0, 65)


class DrawingPart(Model):
    """A drawing as what is new in it: `order` lists all its shapes, of which those not in `shapes` are as in `base`."""

    base: str | None
    order: list[str]
    shapes: list[Shape]


class SceneView(Model):
    """A scene as of a revision.

    `drawings` are those that are new since what the asker has; `sheet` says what each layer shows at each frame.
    """

    scene: Scene
    revision: int
    undo: str | None
    redo: str | None
    drawings: dict[str, DrawingPart]
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
    firsts: tuple[str, ...]
    seconds: tuple[str, ...]
    kind: Literal["pair", "recut", "joins", "divides"]
    by_hand: bool
    confidence: float
    reason: str
    way: Literal["direct", "arc", "solid"]
    way_reason: str
    first_centre: Point
    second_centre: Point
    travel: PairTravel
    middles: tuple[Point, Point]
    """Where its middle is: at the first key, at the second. A drawn path goes from one to the other."""


class HintView(Model):
    """A hint where it stands now, and what is wrong with it, if anything."""

    id: str
    name: str
    first: Point
    second: Point
    first_shape: str
    second_shape: str
    trouble: str | None


class SnagView(Model):
    """Something that looks wrong: in which frames, where, how bad (0 to 1), and what to do."""

    kind: str
    first: str | None
    second: str | None
    frames: list[int]
    place: Point
    severity: float
    text: str
    remedy: str


class ProposalView(Model):
    """A hint that would help, and the share of its pair's distortion it takes away, 0 to 1."""

    hint: Hint
    gain: float


class Balance(Model):
    """How distorted the in-betweens of a span are; less is better. `whole` puts the others in one figure."""

    twist: float
    area: float
    crossings: float
    sliding: float
    whole: float


class Found(Model):
    """What was found by looking at a span's in-betweens."""

    snags: list[SnagView]
    balance: Balance


class SpanView(Model):
    """All in-betweens of a span, its first and second key included. Every frame lists its tracks from back to front.

    `found` is None where nobody looked.
    """

    key: str
    frames: list[int]
    places: list[float]
    curve: list[float]
    """The place at even times from key to key, as the ease or the timing chart has it."""
    tracks: list[Track]
    order: list[list[int]]
    pairs: list[PairView]
    hints: list[HintView]
    found: Found | None
    nodes: int
    """How many nodes an in-between has: the fewer, the easier it is to draw on."""
    take: Take


def scene_view(
    revision: Revision, drawings: Mapping[str, Drawing], before: tuple[Scene, Mapping[str, Drawing]] | None = None
) -> SceneView:
    """A revision with what is new in it since the scene `before`, which the asker has; with all if there is none.

    `drawings` are at least those that are new.
    """
    scene = revision.scene
    bases: dict[str, str] = {}
    if before is not None:
        had = {key.id: key.drawing for layer in before[0].layers for key in layer.keys}
        bases = {k.drawing: had[k.id] for layer in scene.layers for k in layer.keys if k.id in had}
    new = scene.drawing_hashes() - (before[0].drawing_hashes() if before else set())
    parts = {
        name: _part(drawings[name], bases.get(name), before[1].get(bases[name]) if before and name in bases else None)
        for name in new
    }
    sheet = {layer.id: exposures(scene, layer, scene.length) for layer in scene.layers}
    return SceneView(
        scene=scene,
        revision=revision.number,
        undo=revision.undo,
        redo=revision.redo,
        drawings=parts,
        sheet=sheet,
    )


def found_view(
    plan: SpanPlan,
    take: Take,
    start: int,
    places: list[float],
    onward: tuple[list[float], SpanPlan, list[float]] | None,
) -> Found:
    """Look at a plan at the places of its frames.

    `onward` is its pace, and the in-betweened span that follows, if any, with its pace.
    """
    found = findings(plan, take, places)
    snags = [*found.snags, *(jumps(plan, *onward) if onward else [])]
    return Found(snags=[_snag_view(snag, start) for snag in snags], balance=_balance(found.figures))


def span_view(key: str, plan: SpanPlan, take: Take, start: int, places: list[float], found: Found | None) -> SpanView:
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
        curve=np.round(paced(take, EVENLY), 4).tolist(),
        tracks=[_track(pair, places) for pair in plan.pairs],
        order=[plan.order(p) for p in places],
        pairs=[
            _pair_view(pair, (pair.first_id, pair.second_id) in choices, take.travel(pair.first_id, pair.second_id))
            for pair in plan.pairs
        ],
        hints=hints,
        found=found,
        nodes=sum(len(run.nodes) for pair in plan.pairs for run in pair.runs),
        take=take,
    )


def _part(drawing: Drawing, name: str | None, base: Drawing | None) -> DrawingPart:
    order = [shape.id for shape in drawing.shapes]
    if base is None:
        return DrawingPart(base=None, order=order, shapes=list(drawing.shapes))
    return DrawingPart(base=name, order=order, shapes=changed_shapes(base, drawing))


def changed_shapes(before: Drawing, after: Drawing) -> list[Shape]:
    """The shapes that are new or other than before."""
    had = {shape.id: shape for shape in before.shapes}
    return [s for s in after.shapes if s.id not in had or (had[s.id] is not s and had[s.id].hash != s.hash)]


def _snag_view(snag: Snag, start: int) -> SnagView:
    return SnagView(
        kind=snag.kind,
        first=snag.shapes[0],
        second=snag.shapes[1],
        frames=[start + k for k in snag.numbers],
        place=Point(round(snag.place.real, 2), round(snag.place.imag, 2)),
        severity=snag.severity,
        text=snag.text,
        remedy=snag.remedy,
    )


def proposal_view(proposal: Proposal) -> ProposalView:
    """A proposed hint for the screen."""
    return ProposalView(hint=proposal.hint, gain=proposal.gain)


def _balance(figures: Figures) -> Balance:
    names = ("twist", "area", "crossings", "sliding", "whole")
    return Balance(**{name: round(getattr(figures, name), 4) for name in names})


_tracks: WeakKeyDictionary[Going, tuple[list[float], Track]] = WeakKeyDictionary()


def _track(pair: Going, places: list[float]) -> Track:
    """A pair's track; that of a pair that was taken over from the last plan is taken over, too."""
    known_places, known = _tracks.get(pair, (None, None))
    if known is None or known_places != places:
        known = _evaluated(pair, places)
        _tracks[pair] = places, known
    return known


def _evaluated(pair: Going, places: list[float]) -> Track:
    times = np.array(places)
    points = np.round(as_points(pair.points(times)).reshape(len(times), -1), 2).tolist()
    for k, t in enumerate(places):
        if not pair.is_there(t):
            points[k] = []
    looks = _looks_of(pair, times)
    contours = [TrackContour(nodes=len(c.nodes), closed=c.closed) for c in pair.runs]
    weights = pair.weights(times)
    return Track.model_construct(  # looking through all its numbers once more would take longer than working them out
        first=pair.first_id,
        second=pair.second_id,
        contours=contours,
        points=points,
        looks=looks,
        weights=None if weights is None else np.round(weights, 3).tolist(),
    )


_looks: WeakKeyDictionary[PaintPlan, tuple[list[float], list[Look]]] = WeakKeyDictionary()


def _looks_of(pair: Going, times: Floats) -> list[Look]:
    """A pair's looks, one where nothing changes; those that don't hang on its way are taken over from the last plan."""
    plain, places = pair.plain, pair.places(times).tolist()
    known_places, known = _looks.get(pair.paint, (None, None)) if plain else (None, None)
    if known is None or known_places != places:
        raw = pair.looks(times[:1]) if plain and pair.paint.constant else pair.looks(times)
        same = all(look == raw[0] for look in raw[1:])
        known = [Look(fill=fill, stroke=stroke, opacity=o) for fill, stroke, o in (raw[:1] if same else raw)]
        if plain:
            _looks[pair.paint] = places, known
    return known


def _pair_view(pair: Going, by_hand: bool, travel: PairTravel) -> PairView:
    first, second = pair.first_centre, pair.second_centre
    return PairView(
        first=pair.first_id,
        second=pair.second_id,
        firsts=pair.pair.firsts,
        seconds=pair.pair.seconds,
        kind=pair.pair.kind,
        by_hand=by_hand,
        confidence=pair.pair.confidence,
        reason=pair.pair.reason,
        way=pair.way,
        way_reason=pair.way_reason,
        first_centre=_point(first),
        second_centre=_point(second),
        travel=travel,
        middles=(_point(pair.middles[0]), _point(pair.middles[1])),
    )


def _point(z: complex) -> Point:
    return Point(z.real, z.imag)
