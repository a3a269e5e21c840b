"""What a shape is like: kind, paint, form, place; and how unlike two shapes are."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from knead.core.color import as_seen
from knead.core.geometry.bezier import Complexes, Floats, Ints
from knead.core.geometry.mirror import mates
from knead.core.geometry.track import Track, track_of
from knead.core.model import Paint, Shape

TINT = 0.15  # a distance in OKLab from which two colours count as different rather than shifted
RIGID, CLOSELY = 0.25, 0.01  # what it costs two shapes not to be one form, and how unlike is half of that
SHUTS = 0.2  # how much less it counts that a line closes which is most of a ring
WOUND = 1.0  # how much it counts that a line winds the other way
ROUND = 0.35  # the size of a disc, by how wide it is
SEEN = np.arange(128) / 128
HARMONICS = np.array([-6, -5, -4, -3, -2, -1, 2, 3, 4, 5, 6])
BOWS = np.arange(1, 9)  # as many waves along a line tell which way it winds


@dataclass(frozen=True)
class Form:
    """What an outline is like wherever it stands: its size, its form, and how it lies. Lengths in scene units."""

    size: float  # root of the mean squared distance from the centre
    axis: complex  # how it lies, as twice an angle; its length is 0 for what is round, 1 for a line
    harmonics: Floats  # outline descriptor that turning, scaling and moving leave alone
    shut: Floats  # the same, of a line that is most of a ring as if it were that
    is_ring: bool
    gapes: bool  # whether it is a line that is most of a ring
    bows: Complexes  # of a line, its first waves, of length 1; nothing of what ends where it began
    centre: complex
    middle: complex  # the same of all contours: of two eyes in one path, none is the first
    parts: int  # how many contours these are

    @property
    def elongation(self) -> float:
        """0 round, 1 a line."""
        return abs(self.axis)


@dataclass(frozen=True)
class Portrait(Form):
    """The measurable look of a shape; its form is that of its longest contour."""

    kind: Floats  # (3,): filled, stroked, closed, each 0 or 1
    fill: Floats | None
    stroke: Floats | None
    holes: int


F = TypeVar("F", bound=Form)


def form_of(track: Track) -> Form:
    """Measure an outline."""
    z = track.sketch(SEEN)
    centre = complex(z.sum()) / len(z)
    spread = z - centre
    square = max(float(np.vdot(spread, spread).real) / len(z), 1e-12)
    axis = complex(spread @ spread) / len(z) / square
    is_ring, gapes = track.is_ring, track.is_open_ring
    waves = _waves(spread, is_ring)
    harmonics = _harmonics(waves)
    return Form(
        size=float(np.sqrt(square)),
        axis=axis,
        harmonics=harmonics,
        shut=_harmonics(_waves(_shut(track) - centre, True)) if gapes else harmonics,
        is_ring=is_ring,
        gapes=gapes,
        bows=np.zeros(len(BOWS), dtype=complex) if is_ring else _bows(waves),
        centre=centre,
        middle=centre,
        parts=1,
    )


def centres(forms: Sequence[Form]) -> Complexes:
    """Where the forms lie, shape (n,)."""
    return np.array([form.centre for form in forms], dtype=complex)


def middles(forms: Sequence[Form]) -> Complexes:
    """Where the forms lie with all that belongs to them, shape (n,)."""
    return np.array([form.middle for form in forms], dtype=complex)


def extent(forms: Sequence[Form]) -> float:
    """The size of a drawing: how far its forms reach from their mean centre."""
    own = centres(forms)
    return float(np.max(np.abs(own - own.mean()) + [form.size for form in forms]))


def mirror_mates(forms: Sequence[Form], upright: bool) -> Ints | None:
    """For each form its mirror image, over an upright axis or a level one; None if one has none."""
    places = centres(forms) * (1.0 if upright else 1j)
    return mates(places, np.array([form.size for form in forms]), np.array([form.axis for form in forms]))


@lru_cache(maxsize=1024)
def portrait(shape: Shape) -> Portrait:
    """Measure a shape. The latest are kept: each step of pairing asks for them."""
    tracks = [track_of(contour) for contour in shape.contours]
    main = max(tracks, key=lambda track: track.length)
    form = form_of(main)
    if shape.fill is None and shape.stroke is not None and main.length < shape.stroke.width:
        form = _dot(form, shape.stroke.width)
    return Portrait(
        size=form.size,
        axis=form.axis,
        harmonics=form.harmonics,
        shut=form.shut,
        is_ring=form.is_ring,
        gapes=form.gapes,
        bows=form.bows,
        centre=form.centre,
        middle=form.middle if len(tracks) == 1 else _middle(tracks),
        parts=len(tracks),
        kind=np.array([shape.fill is not None, shape.stroke is not None, form.is_ring], dtype=float),
        fill=_lab(shape.fill.paint if shape.fill else None),
        stroke=_lab(shape.stroke.paint if shape.stroke else None),
        holes=sum(1 for track in tracks if track.closed) - 1,
    )


def _dot(form: Form, pen: float) -> Form:
    """The form of a line shorter than the pen is wide, of which nothing is seen but that it is a dot."""
    none, straight = np.zeros_like(form.harmonics), np.zeros_like(form.bows)
    return replace(
        form, size=ROUND * pen, axis=0j, harmonics=none, shut=none, bows=straight, is_ring=False, gapes=False
    )


def _middle(tracks: Sequence[Track]) -> complex:
    lengths = np.array([track.length for track in tracks]) + 1e-12
    return complex(np.average([track.sketch(SEEN).mean() for track in tracks], weights=lengths))


def _lab(paint: Paint | None) -> Floats | None:
    return None if paint is None else np.array([*as_seen(paint.color), 0.5 * paint.opacity])


def sizeless(forms: Sequence[F]) -> list[F]:
    """The forms, all of one size."""
    return [replace(form, size=1.0) for form in forms]


def given_name(name: str) -> str | None:
    """The name if an animator gave it; what a tool names ('shape', 'path 12', 'g7') says nothing."""
    counted = name[-1:].isdigit() or name.lower() in {"shape", "path", "box", "ellipse", "line", "stroke", "fill"}
    return None if counted else name


def _shut(line: Track) -> Complexes:
    """Even places of a line as that of a ring, which goes straight from its end to where it begins."""
    start, end = line.sketch(np.array([0.0, 1.0])).tolist()
    shares = SEEN * (1.0 + abs(end - start) / line.length)
    along = line.sketch(np.minimum(shares, 1.0))
    return np.where(shares <= 1.0, along, end + (start - end) * (shares - 1.0) / max(shares[-1] - 1.0, 1e-12))


def _waves(spread: Complexes, is_ring: bool) -> Complexes:
    """The Fourier series of an outline; a line is run through there and back."""
    if not is_ring:
        spread = np.concatenate([spread, spread[::-1]])
    elif (spread.conj() * np.roll(spread, -1)).imag.sum() < 0:
        spread = spread[::-1]
    return np.asarray(np.fft.fft(spread)) / len(spread)


def _harmonics(waves: Complexes) -> Floats:
    """Magnitudes of the outline's Fourier series, by the strongest turn (Zahn and Roskies 1972; Granlund 1972)."""
    series = np.abs(waves)
    return np.asarray(series[HARMONICS] / max(float(series[1]), float(series[-1]), 1e-12), dtype=float)


def _bows(waves: Complexes) -> Complexes:
    """The first waves along a line, all together of length 1."""
    bows = waves[BOWS] * np.exp(-1j * np.pi * BOWS / len(waves))  # as seen from its very end, half a place off
    return np.asarray(bows / max(float(np.linalg.norm(bows)), 1e-12))


def unlikeness(first: Sequence[Portrait], second: Sequence[Portrait], paints: float = 1.0) -> Floats:
    """How unlike shapes are by kind, paint and form, place left aside, shape (len(first), len(second)).

    0 is the same; from about 1 on two shapes are better left unpaired. `paints` is how much paint counts.
    """
    holes = np.minimum(_gaps([p.holes for p in first], [p.holes for p in second]), 2.0)
    holes[_shuts(first, second)] = 0.0
    return unlikeness_of_paint(first, second, paints) + 0.15 * holes + form_gap(first, second)


def unlikeness_of_paint(first: Sequence[Portrait], second: Sequence[Portrait], paints: float = 1.0) -> Floats:
    """How unlike shapes are by kind and paint alone, shape (len(first), len(second))."""
    kind = _gaps([p.kind for p in first], [p.kind for p in second]) * np.array([0.9, 0.5, 1.2])
    kind[_shuts(first, second), 2] *= SHUTS
    paint = _paint_gaps(first, second)
    return np.asarray(kind.sum(axis=2) + paints * 1.5 * paint**2 / (paint**2 + TINT**2), dtype=float)


def form_gap(first: Sequence[Form], second: Sequence[Form]) -> Floats:
    """How unlike outlines are by form and size alone, shape (len(first), len(second)); 0 is the same."""
    sizes = np.log([p.size + 1e-9 for p in first])[:, None] - np.log([q.size + 1e-9 for q in second])[None]
    form = _gaps([p.harmonics for p in first], [p.harmonics for p in second]).mean(axis=2)
    shuts = _shuts(first, second)
    if shuts.any():
        form = np.where(shuts, _gaps([p.shut for p in first], [p.shut for p in second]).mean(axis=2), form)
    elongation = np.abs(_gaps([p.elongation for p in first], [p.elongation for p in second]))
    redrawn = form + 0.3 * np.abs(sizes) + 0.3 * elongation
    gap = 0.22 * np.abs(sizes) + 0.9 * form + 0.25 * elongation + RIGID * redrawn / (redrawn + CLOSELY)
    return np.asarray(gap + WOUND * _wound_back(first, second), dtype=float)


def _shuts(first: Sequence[Form], second: Sequence[Form]) -> NDArray[np.bool_]:
    """Which are a ring, and a line that is most of one: something may hide a stretch of it."""
    (rings, gaping), (others, open_) = (
        (np.array([form.is_ring for form in side]), np.array([form.gapes for form in side])) for side in (first, second)
    )
    return np.asarray((rings[:, None] & open_) | (gaping[:, None] & others))


def _wound_back(first: Sequence[Form], second: Sequence[Form]) -> Floats:
    """How much nearer lines come to the mirror images of others than to these, shape (len(first), len(second)).

    Lines laid on each other at the best angle, from either end; a distance is relative to their size.
    """
    one, two = np.array([p.bows for p in first]), np.array([q.bows for q in second])
    back = one * (-1.0) ** (BOWS + 1)  # the same from the other end, but for a half turn

    def apart(other: Complexes) -> Floats:
        alike = np.maximum(np.abs(one @ other.conj().T), np.abs(back @ other.conj().T))
        return np.asarray(np.sqrt(np.maximum(1.0 - alike**2, 0.0)))

    mirrored = two.conj()
    return np.maximum(apart(two) - apart(mirrored), 0.0)


def _gaps(first: Sequence[Floats | float], second: Sequence[Floats | float]) -> Floats:
    gaps = np.asarray(first, dtype=float)[:, None] - np.asarray(second, dtype=float)[None]
    return np.asarray(np.abs(gaps), dtype=float)


def _paint_gaps(first: Sequence[Portrait], second: Sequence[Portrait]) -> Floats:
    """Distances of the paints both have, shape (len(first), len(second)); strokes count half beside fills."""
    none = np.full(4, np.nan)

    def apart(one: Sequence[Floats | None], two: Sequence[Floats | None]) -> Floats:
        a, b = (np.array([none if paint is None else paint for paint in side]).reshape(-1, 4) for side in (one, two))
        return np.asarray(np.linalg.norm(a[:, None] - b[None], axis=2), dtype=float)

    fills = apart([p.fill for p in first], [q.fill for q in second])
    strokes = apart([p.stroke for p in first], [q.stroke for q in second])
    return np.asarray(np.nan_to_num(fills) + np.where(np.isnan(fills), 1.0, 0.5) * np.nan_to_num(strokes), dtype=float)
