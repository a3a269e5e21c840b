"""Snags: what an animator would see as wrong, where and when, how bad it is, and what to do about it."""

from collections.abc import Sequence
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.pair.going import Going
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.hull import hull
from knead.core.geometry.loops import SEEN, loops_of
from knead.core.geometry.similarity import as_points
from knead.core.inbetween import SpanPlan, hint_points
from knead.core.model import Take
from knead.core.snags.figures import Figures, Outline, measured, outlines

MOST = 9  # in-betweens looked at; what is found in one holds for those around it
LOSS, SWELL = 0.12, 0.35  # share of the promised area that may be lost, or gained
SQUASHED = ("area",)  # of what lies on something that turns, and of ink
MEANT = ("crossing", "fold", "area")  # of a shape that folds over, as it is seen edge on, or of a line along itself
FOLD, CALM = 2.2, 1.1  # radians of turning at a sample: a fold, and what is none in the keys
LINE = 0.02  # a line that crosses itself counts as a loop of this share
NEAR = 0.4  # what is left over on both sides may belong together if no farther apart, by the smaller's extent
TOUCH, GAP = 0.004, 0.02  # by the drawing's diagonal: as far apart as what touches, and what has come apart


@dataclass(frozen=True)
class Snag:
    """Something wrong. `numbers` are the frames of the span, counted from its first key; `place` is on the paper."""

    kind: str
    shapes: tuple[str | None, str | None]
    numbers: tuple[int, ...]
    place: complex
    severity: float
    text: str
    remedy: str


@dataclass(frozen=True)
class Findings:
    """The snags of a span, the worst first, and how good it is as a whole."""

    snags: tuple[Snag, ...]
    figures: Figures


@dataclass(frozen=True, eq=False)
class _Look:
    """What was seen of one pair at some times; kept as long as the pair's plan is."""

    times: tuple[float, ...]
    snags: list[Snag]
    figures: Figures
    length: float
    covers: tuple[shapely.Geometry, ...]  # at the first key, half way, at the second key


_looks: WeakKeyDictionary[Going, _Look] = WeakKeyDictionary()


def findings(plan: SpanPlan, take: Take, places: Sequence[float]) -> Findings:
    """Look at a span's in-betweens; `places` are those of all its frames, both keys' included."""
    count = len(places)
    numbers = _looked_at(count)
    pairs = [pair for pair in plan.pairs if pair.first_id and pair.second_id]
    looks = [_look(pair, tuple(places[k] for k in numbers), numbers, count) for pair in pairs]
    snags = [snag for look in looks for snag in look.snags]
    snags += _of_hints(plan, take, count) + _strangers(plan, take, count)
    if numbers:
        snags += _gaps(pairs, looks, numbers[len(numbers) // 2])
    figures = Figures(0.0, 0.0, 0.0, 0.0)
    if looks:
        rows = [[f.twist, f.area, f.crossings, f.sliding] for f in (look.figures for look in looks)]
        figures = Figures(*np.average(rows, axis=0, weights=[look.length for look in looks]).tolist())
    return Findings(tuple(sorted(snags, key=lambda s: -s.severity)), figures)


def _look(pair: Going, times: tuple[float, ...], numbers: list[int], count: int) -> _Look:
    known = _looks.get(pair)
    if known is None or known.times != times:
        found = outlines(pair, np.array(times))
        length = sum(float(np.abs(np.diff(o.points[0])).sum()) for o in found) + 1e-9
        covers = tuple(_covered(found, row) for row in (0, len(times) // 2 + 1, -1))
        known = _Look(times, _of_pair(pair, found, numbers, count), measured(found), length, covers)
        _looks[pair] = known
    return known


def _looked_at(count: int) -> list[int]:
    inner = np.arange(1, count - 1)
    return (
        inner.tolist()
        if len(inner) <= MOST
        else np.unique(np.linspace(1, count - 2, MOST).round().astype(int)).tolist()
    )


def _spread(hit: list[int], numbers: list[int], count: int) -> tuple[int, ...]:
    """The frames that the hit ones, of those looked at, stand for."""
    at = np.array(numbers)
    return tuple(k for k in range(1, count - 1) if numbers[int(np.argmin(np.abs(at - k)))] in hit)


def _of_pair(pair: Going, found: list[Outline], numbers: list[int], count: int) -> list[Snag]:
    name = f"'{pair.paint.first.name}'"
    shapes = pair.first_id, pair.second_id
    fuller = "Tie its far tips." if pair.loosened else "Let it travel solid, or tie its far tips."
    snags = []
    for outline in found:
        seen = [
            ("crossing", *_crossings(outline), f"{name} crosses itself on the way.", "Tie a point near the crossing."),
            ("fold", *_folds(outline), f"{name} folds over on the way.", "Tie the point where it folds, on both keys."),
            ("area", *_loss(outline), f"{name} shrinks on the way.", fuller),
            ("swell", *_gain(outline), f"{name} swells on the way.", "Tie its tips, or keep a breakdown."),
        ]
        for kind, severities, spots, text, remedy in seen:
            hit = np.flatnonzero(severities > 0)
            squashed = pair.pair.turning is not None or pair.is_ink  # what is seen of an edge may be less of it
            if len(hit) and not ((pair.laps and kind in MEANT) or (squashed and kind in SQUASHED)):
                worst = int(np.argmax(severities))
                frames = _spread([numbers[k] for k in hit], numbers, count)
                severity = float(np.clip(severities[worst], 0.05, 1.0))
                snags.append(Snag(kind, shapes, frames, complex(spots[worst]), round(severity, 2), text, remedy))
    crossing = any(s.kind == "crossing" for s in snags)
    snags = [s for s in snags if not (crossing and s.kind == "fold")]
    degrees = abs(np.degrees(pair.angle))
    if degrees > 190 and pair.turns == 0:
        text = f"{name} turns by {degrees:.0f} degrees, as its neighbour does."
        frames = tuple(range(1, count - 1))
        remedy = "If it should go the short way, give it one round less in Time."
        snags.append(Snag("turn", shapes, frames, pair.first_centre, 0.15, text, remedy))
    return snags


def _crossings(outline: Outline) -> tuple[Floats, Complexes]:
    """Severity and place for each time; the larger the loop that a crossing makes, the worse."""
    times = len(outline.points) - 2
    severities, spots = np.zeros(times), np.zeros(times, dtype=complex)
    if not (outline.simple[0] and outline.simple[-1]):
        return severities, spots
    for k in np.flatnonzero(outline.simple[1:-1] == 0).tolist():
        z = outline.points[k + 1]
        loop = loops_of(z) if outline.closed else LINE
        if loop > SEEN:
            severities[k] = 0.3 + 3.0 * loop
            spots[k] = _crossing_place(z, outline.closed)
    return severities, spots


def _crossing_place(z: Complexes, closed: bool) -> complex:
    line = shapely.LineString(as_points(np.append(z, z[:1]) if closed else z))
    nodes = shapely.get_coordinates(shapely.node(line))
    known = {(round(x, 6), round(y, 6)) for x, y in as_points(z).tolist()}
    new = [complex(x, y) for x, y in nodes.tolist() if (round(x, 6), round(y, 6)) not in known]
    return new[0] if new else complex(z.mean())


def _folds(outline: Outline) -> tuple[Floats, Complexes]:
    """Where the outline turns back on itself though neither key does there."""
    turns = np.abs(outline.turns)
    calm = np.maximum(turns[0], turns[-1]) < CALM
    sharp = np.where(calm, turns[1:-1], 0.0)
    if sharp.shape[1] == 0:
        return np.zeros(len(outline.points) - 2), np.zeros(len(outline.points) - 2, dtype=complex)
    worst = np.argmax(sharp, axis=1)
    rows = np.arange(len(sharp))
    severities = np.where(sharp[rows, worst] > FOLD, 0.35 + 0.4 * (sharp[rows, worst] - FOLD), 0.0)
    # a tiny kink is not seen: the stretches beside it must be some length
    steps = np.abs(np.diff(outline.points[1:-1], axis=1))
    length = np.minimum(steps[rows, np.minimum(worst, steps.shape[1] - 1)], steps[rows, np.maximum(worst - 1, 0)])
    seen = length > 0.004 * steps.sum(axis=1)
    return np.where(seen, severities, 0.0), outline.points[1:-1][rows, worst]


def _loss(outline: Outline) -> tuple[Floats, Complexes]:
    lost = outline.shrunk
    return np.where(lost > LOSS, 0.1 + 1.6 * (lost - LOSS), 0.0), outline.points[1:-1].mean(axis=1)


def _gain(outline: Outline) -> tuple[Floats, Complexes]:
    gained = outline.areas[1:-1] / np.maximum(outline.promised[1:-1], 1e-12) - 1
    severities = np.where((gained > SWELL) & outline.solid, 0.1 + 0.8 * (gained - SWELL), 0.0)
    return severities, outline.points[1:-1].mean(axis=1)


def _of_hints(plan: SpanPlan, take: Take, count: int) -> list[Snag]:
    found = []
    for hint in take.hints:
        trouble = next((t.text for t in plan.troubles if t.hint == hint.id), None)
        if trouble is None:
            continue
        ends = hint_points(plan, hint)
        place = complex(*(ends[0].tolist() if ends else hint.first.at))
        frames = tuple(range(1, count - 1))
        remedy = "Drag one of its ends, or remove it."
        found.append(Snag("hint", (hint.first.shape, hint.second.shape), frames, place, 0.6, trouble, remedy))
    return found


def _strangers(plan: SpanPlan, take: Take, count: int) -> list[Snag]:
    """Shapes left without partner on both sides that lie near each other, and so may belong together.

    Not those that a box hides as it turns.
    """
    by_hand = {(c.first, c.second) for c in take.pairs}
    lone = [p for p in plan.pairs if (p.first_id is None) != (p.second_id is None) and not p.pair.on_box]
    lone = [p for p in lone if (p.first_id, p.second_id) not in by_hand]
    gone, come = [p for p in lone if p.first_id], [p for p in lone if p.second_id]
    if not gone or not come:
        return []
    frames = tuple(range(1, count - 1))
    text = "'{}' vanishes while '{}' appears."
    remedy = "If one becomes the other, drag the thread's end onto it."
    found = []
    there = np.array([hull(p.second_points) for p in come])
    for pair in gone:
        here = hull(pair.first_points)
        away = shapely.distance(here, there)
        near = away <= NEAR * np.minimum(_extent(here), _extent(there))
        if not near.any():
            continue
        centres = np.array([abs(p.second_centre - pair.first_centre) for p in come])
        other = come[int(np.argmin(np.where(near, centres, np.inf)))]
        names = pair.paint.first.name, other.paint.first.name
        shapes = pair.first_id, other.second_id
        found.append(Snag("stranger", shapes, frames, pair.first_centre, 0.25, text.format(*names), remedy))
    return found


def _extent(places: shapely.Geometry | NDArray[np.object_]) -> Floats:
    """The diagonals of their boxes."""
    box = shapely.bounds(places)
    return np.asarray(np.hypot(box[..., 2] - box[..., 0], box[..., 3] - box[..., 1]))


def _gaps(pairs: list[Going], looks: list[_Look], number: int) -> list[Snag]:
    """Shapes that touch in both keys and have come apart half way; ink meets what hides the rest of its edge."""
    looks = [look for pair, look in zip(pairs, looks, strict=True) if not pair.is_ink]
    pairs = [pair for pair in pairs if not pair.is_ink]
    if len(pairs) < 2:
        return []
    keys = [np.array([look.covers[k] for look in looks], dtype=object) for k in range(3)]
    every = shapely.get_coordinates(keys[0])
    size = float(np.hypot(*np.ptp(every, axis=0)))
    one, two = shapely.STRtree(keys[0]).query(keys[0], predicate="dwithin", distance=TOUCH * size)
    touching = one < two
    one, two = one[touching], two[touching]
    both = shapely.distance(keys[2][one], keys[2][two]) <= TOUCH * size
    one, two = one[both], two[both]
    gaps = shapely.distance(keys[1][one], keys[1][two]) / size
    found = []
    for k in np.flatnonzero(gaps > GAP).tolist():
        a, b = pairs[int(one[k])], pairs[int(two[k])]
        spot = shapely.shortest_line(keys[1][one[k]], keys[1][two[k]]).interpolate(0.5, normalized=True)
        text = f"'{a.paint.first.name}' and '{b.paint.first.name}' touch in both keys and come apart between them."
        remedy = "Let both travel alike, or tie the points that touch."
        severity = round(float(min(1.0, 0.15 + 6 * gaps[k])), 2)
        place = complex(spot.x, spot.y)
        found.append(Snag("gap", (a.first_id, a.second_id), (number,), place, severity, text, remedy))
    return found


def _covered(found: list[Outline], row: int) -> shapely.Geometry:
    """What a pair's outlines cover: areas where they are closed, lines where not."""
    parts = []
    for outline in found:
        points = as_points(outline.points[row])
        if outline.closed and len(points) > 2:
            polygon = shapely.Polygon(points)
            parts.append(polygon if polygon.is_valid else polygon.buffer(0))
        elif len(points) > 1:
            parts.append(shapely.LineString(points))
    return shapely.GeometryCollection(parts)
