"""The map along which an outline is stretched and bent the least, reckoned from step to step.

Sederberg and Greenwood 1992, "A Physically Based Approach to 2-D Shape Blending", with steps that pass over places, and
the outlines' own corners and bulges among these.
"""

from dataclasses import dataclass

import numba
import numpy as np

from knead.core.geometry.bezier import Floats, Ints, gone
from knead.core.geometry.track import Track
from knead.core.outline.elastic import SKEW
from knead.core.outline.grid import bulges

STEPS = 90  # places along a whole outline
APART = 0.002  # features nearer to each other than this share of the outline are one
REACH, BRISK = 6, 2  # places that a step may go on: so many on one outline if at most so many on the other
STRETCH, BEND = 0.2, 0.12  # what all of a length's stretch costs, and a whole turn's bend: as in a map's strain
EVEN = 0.5  # how much an uneven stretch costs besides: along a straight line all others are alike


@dataclass(frozen=True)
class _Row:
    """Places along an outline over one round, its corners and bulges among them; shapes (n + 1,).

    `lengths` rise from its start, `turns` are how it turns at each place, in radians, and `bends` sum up their sizes.
    """

    shares: Floats
    lengths: Floats
    turns: Floats
    bends: Floats

    def table(self, scale: float) -> Floats:
        """Shares, lengths in this scale, turns and bends, shape (4, n + 1)."""
        return np.stack([self.shares, scale * self.lengths, self.turns, self.bends])


def least_work(first: Track, second: Track, ties: Floats) -> Floats | None:
    """Knots (k, 2) of the map with the least work through the ties (k, 2), rising shares on both outlines.

    A closed outline's round begins at the first tie; an open one's ends are its first and last. None where no map is
    near enough to an even one.
    """
    one, two = _row(first, ties[:, 0]), _row(second, ties[:, 1])
    scale = two.lengths[-1] / max(one.lengths[-1], 1e-12)
    whole = max(2.0 * two.lengths[-1], 1e-12)
    stops = [np.searchsorted(row.shares, side - 1e-9) for row, side in zip((one, two), ties.T, strict=True)]
    if first.closed:
        stops = [np.append(stop, len(row.shares) - 1) for stop, row in zip(stops, (one, two), strict=True)]
    here, there = one.table(scale), two.table(1.0)
    found = [np.array([[0, 0]])]
    for i0, i1, j0, j1 in zip(stops[0], stops[0][1:], stops[1], stops[1][1:], strict=False):
        steps = _steps(here[:, i0 : i1 + 1], there[:, j0 : j1 + 1], STRETCH / whole)
        if not len(steps):
            return None
        found.append(steps[1:] + [i0, j0])
    rows, columns = np.concatenate(found).T
    return np.stack([one.shares[rows], two.shares[columns]], axis=1)


def _row(track: Track, ties: Floats) -> _Row:
    start = float(ties[0])
    own = np.concatenate([track.breaks[0], bulges(track)])
    own = start + np.mod(own - start, 1.0) if track.closed else own
    end = start + 1.0 if track.closed else float(ties[-1])
    fixed = np.append(ties, end) if track.closed else ties
    own = np.sort(own[(np.abs(own[:, None] - fixed) > APART).all(axis=1)])
    own = own[np.append(True, np.diff(own) > APART)[: len(own)]]
    stops = np.sort(np.concatenate([fixed, own]))
    counts = np.maximum(1, np.round(np.diff(stops) * STEPS)).astype(np.int64)
    inner = [np.linspace(a, b, n, endpoint=False) for a, b, n in zip(stops, stops[1:], counts, strict=False)]
    shares = np.concatenate([*inner, stops[-1:]])
    steps = np.diff(track.sketch(shares))
    around = np.concatenate([steps[-1:], steps, steps[:1]])
    turns = np.angle(around[1:] * np.conj(around[:-1]) + 1e-300)
    if not track.closed:
        turns[[0, -1]] = 0.0
    return _Row(shares, gone(np.abs(steps)), turns, np.cumsum(np.abs(turns)))


@numba.njit(cache=True, fastmath=True, error_model="numpy")
def _steps(one: Floats, two: Floats, stretch: float) -> Ints:
    """The way with the least work from the first to the last place of both tables: indices (k, 2), or none.

    A step costs by the difference of its lengths, of the turns at its end, and of what either outline bends within it.
    """
    n, m = one.shape[1] - 1, two.shape[1] - 1
    far = 1e300
    total = np.full((n + 1, m + 1), far)
    origin = np.zeros((n + 1, m + 1), dtype=np.int64)
    total[0, 0] = 0.0
    work = np.empty(m + 1)
    low, high = 1, 0
    for i in range(1, n + 1):
        along = (one[0, i] - one[0, 0]) / (one[0, n] - one[0, 0])
        while low <= m and along - (two[0, low] - two[0, 0]) / (two[0, m] - two[0, 0]) > SKEW:
            low += 1
        while high < m and (two[0, high + 1] - two[0, 0]) / (two[0, m] - two[0, 0]) - along <= SKEW:
            high += 1
        for a in range(1, min(i, REACH) + 1):
            x, bent = one[1, i] - one[1, i - a], one[3, i - 1] - one[3, i - a]
            for b in range(1, (REACH if a <= BRISK else BRISK) + 1):
                start, stop = max(low, b), high + 1
                if start >= stop:
                    continue
                # all places of a row are independent: several are done at once
                ahead, behind, turns = two[1, start:stop], two[1, start - b : stop - b], two[2, start:stop]
                bends, bends_behind = two[3, start - 1 : stop - 1], two[3, start - b : stop - b]
                for j in range(stop - start):
                    y = ahead[j] - behind[j]
                    within = abs(bent - bends[j] + bends_behind[j])
                    work[j] = stretch * (abs(x - y) + EVEN * (x - y) ** 2 / (x + y + 1e-12)) + BEND / (2 * np.pi) * (
                        abs(one[2, i] - turns[j]) + within
                    )
                before, here, by = total[i - a, start - b : stop - b], total[i, start:stop], origin[i, start:stop]
                for j in range(stop - start):
                    if before[j] + work[j] < here[j]:
                        here[j] = before[j] + work[j]
                        by[j] = a * (REACH + 1) + b
    steps = np.zeros((n + m + 1, 2), dtype=np.int64)
    if total[n, m] >= far:
        return steps[:0]
    i, j, count = n, m, 0
    while i > 0 or j > 0:
        steps[count, 0], steps[count, 1] = i, j
        came = origin[i, j]
        i, j, count = i - came // (REACH + 1), j - came % (REACH + 1), count + 1
    return steps[: count + 1][::-1].copy()
