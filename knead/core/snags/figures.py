"""How much a pair's in-betweens are distorted: twist, area, crossings and sliding, measured on sampled outlines."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from knead.core.blend.pair.going import Going, Run
from knead.core.geometry.bezier import Complexes, Floats, Ints, bernstein, segments_of
from knead.core.geometry.similarity import as_points, fit
from knead.core.geometry.track import MEETS

SAMPLES = np.array([0.0, 0.25, 0.5, 0.75])
WEIGHTS = {"twist": 0.6, "area": 3.0, "crossings": 1.5, "sliding": 0.5}


@dataclass(frozen=True)
class Figures:
    """Distortion of in-betweens, 0 is none.

    `twist`: how much stretches of the outline turn against each other, in radians. `area`: the share of the area that
    both keys promise which is lost on the way. `crossings`: the share of in-betweens that cross themselves where
    neither key does. `sliding`: how unevenly the outline is stretched, as a log ratio. `whole` puts them in one.
    """

    twist: float
    area: float
    crossings: float
    sliding: float

    @property
    def whole(self) -> float:
        """All in one figure: less is better."""
        return float(sum(weight * getattr(self, name) for name, weight in WEIGHTS.items()))


@dataclass(frozen=True, eq=False)
class Outline:
    """One contour of a pair, sampled: points at the first key, at the times, at the second key, (times + 2, points)."""

    points: Complexes
    closed: bool

    @cached_property
    def simple(self) -> Ints:
        """Whether it does not cross itself, for each row."""
        rows = np.concatenate([self.points, self.points[:, :1]], axis=1) if self.closed else self.points
        lines = (shapely.linearrings if self.closed else shapely.linestrings)(as_points(rows))
        return np.asarray(shapely.is_simple(lines), dtype=np.int64)

    @cached_property
    def areas(self) -> Floats:
        """The area inside, for each row; 0 for open ones."""
        if not self.closed:
            return np.zeros(len(self.points))
        following = np.roll(self.points, -1, axis=1)
        return np.asarray(0.5 * np.abs(np.sum((np.conj(self.points) * following).imag, axis=1)))

    @cached_property
    def promised(self) -> Floats:
        """The area each row should have, going evenly from key to key in length, by the place between the keys."""
        return (
            np.asarray(np.sqrt(self.areas[0]) + self._shares * (np.sqrt(self.areas[-1]) - np.sqrt(self.areas[0]))) ** 2
        )

    @cached_property
    def shrunk(self) -> Floats:
        """How much of its size each row between the keys lacks on an even way: of its area, or a line's length."""
        if self.solid:
            return np.asarray(1 - self.areas[1:-1] / np.maximum(self.promised[1:-1], 1e-12))
        lengths = np.abs(np.diff(self.points, axis=1)).sum(axis=1)
        promised = lengths[0] + self._shares * (lengths[-1] - lengths[0])
        return np.asarray(1 - lengths[1:-1] / np.maximum(promised[1:-1], 1e-12))

    @cached_property
    def _shares(self) -> Floats:
        gone = np.abs(self.points - self.points[:1]).mean(axis=1)
        left = np.abs(self.points - self.points[-1:]).mean(axis=1)
        return np.asarray(gone / np.maximum(gone + left, 1e-12))

    @cached_property
    def solid(self) -> bool:
        """Whether it encloses enough in both keys for its area to be seen."""
        length = np.abs(np.diff(self.points[[0, -1]], axis=1)).sum(axis=1)
        return bool(self.closed and np.all(self.areas[[0, -1]] > 0.03 * length**2))

    @cached_property
    def turns(self) -> Floats:
        """How much the outline turns at each sample, signed, in radians, shape (rows, samples)."""
        steps = np.diff(self.points, axis=1, append=self.points[:, :1])
        if not self.closed:
            steps = steps[:, :-1]
        before = np.roll(steps, 1, axis=1) if self.closed else steps[:, :-1]
        after = steps if self.closed else steps[:, 1:]
        return np.asarray(np.angle(after * np.conj(before) + 1e-300))


def outlines(pair: Going, times: Floats) -> list[Outline]:
    """A pair's contours that are in both keys, sampled at both keys and the times."""
    rows = pair.points(np.concatenate([[0.0], times, [1.0]]))
    found, start = [], 0
    for contour in pair.runs:
        end = start + 3 * len(contour.nodes)
        if contour.lasts:
            found.append(_sampled(rows[:, start:end], contour))
        start = end
    return found


def _sampled(rows: Complexes, contour: Run) -> Outline:
    flat = (segments_of(rows.reshape(len(rows), -1, 3), contour.closed) @ bernstein(SAMPLES)).reshape(len(rows), -1)
    if contour.closed:
        return Outline(flat, True)
    lines = np.concatenate([flat, rows[:, -2:-1]], axis=1)
    ends, lengths = np.abs(lines[:, -1] - lines[:, 0]), np.abs(np.diff(lines, axis=1)).sum(axis=1)
    drawn_round = bool(np.all(ends[[0, -1]] <= MEETS * lengths[[0, -1]]))  # a ring that was drawn in strokes is one
    return Outline(flat, True) if drawn_round else Outline(lines, False)


def measured(found: list[Outline]) -> Figures:
    """The figures of a pair's outlines, weighted by their lengths."""
    rows, weights = [], []
    for outline in found:
        z, w = outline.points[0], outline.points[-1]
        a, _ = fit(z, w)
        dz, dw = np.diff(z) * a, np.diff(w)
        lengths = np.abs(dz) + np.abs(dw)
        length = max(float(lengths.sum()), 1e-12)
        real = np.minimum(np.abs(dz), np.abs(dw)) > 1e-4 * length
        share = np.where(real, lengths, 0.0) / length
        turn = np.angle(dw * np.conj(dz) + 1e-300)
        stretch = np.log(np.where(real, np.abs(dw), 1.0) / np.where(real, np.abs(dz), 1.0))
        stretch = stretch - float(np.sum(share * stretch))
        crossed = 1 - outline.simple[1:-1] if outline.simple[0] and outline.simple[-1] else np.zeros(1)
        rows.append(
            [
                float(np.sqrt(np.sum(share * turn**2))),
                float(np.clip(outline.shrunk, 0, 1).max(initial=0.0)) if outline.solid else 0.0,
                float(crossed.mean()) if len(crossed) else 0.0,
                float(np.sqrt(np.sum(share * stretch**2))),
            ]
        )
        weights.append(length)
    return Figures(*np.average(rows, axis=0, weights=weights).tolist()) if rows else Figures(0.0, 0.0, 0.0, 0.0)
