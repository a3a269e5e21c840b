"""The map along which an outline is stretched and bent the least, reckoned from step to step.

Sederberg and Greenwood 1992, "A Physically Based Approach to 2-D Shape Blending", with steps that pass over places, and
the outlines' own corners and bulges among these.
"""

from dataclasses import dataclass

import numpy as np

from knead.core.geometry.bezier import Floats, gone
from knead.core.geometry.track import Track
from knead.core.outline.compiled import programmes
from knead.core.outline.laying.grid import bulges

STEPS = 90  # places along a whole outline
APART = 0.002  # features nearer to each other than this share of the outline are one
STRETCH, BEND = 0.2, 0.12  # what all of a length's stretch costs, and a whole turn's bend: as in a map's strain


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
        parts = np.ascontiguousarray(here[:, i0 : i1 + 1]), np.ascontiguousarray(there[:, j0 : j1 + 1])
        steps = programmes.least_work(*parts, STRETCH / whole, BEND / (2 * np.pi))
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
