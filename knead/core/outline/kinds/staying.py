"""Stretches of an outline that stay where they are, as a hand draws them anew: the wrist of a hand that opens."""

import numpy as np
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats, Ints
from knead.core.geometry.track import Track
from knead.core.outline.hints import consistent

PLACES, THERE = 128, 512  # places of the first outline that are asked for, and of the second that answer
IN_PLACE, LIES_ALIKE = 0.01, 0.35  # how far places that stay are apart, by the length, and how far turned, in radians
STAYING = 0.49  # about half of the shorter outline must stay for that to be meant
RUN = 0.05  # how long a stretch must be, by the shorter outline
FARTHEST = 4.0  # how far it goes on along the other outline from place to place at most, by the distance of these
EVERY = 8  # of the places of a stretch one in so many is tied, and both of its ends


def kept_stretches(first: Track, second: Track) -> tuple[list[Floats], float]:
    """Shares (k, 2) of places that stay, in order along the first of two closed outlines that run the same way.

    First all over the stretches, then the middle of each alone; none if too little stays. How much of the shorter
    outline stays, from 0 to 1, is the second of what is returned.
    """
    shares = np.arange(PLACES) / PLACES
    own, others = first.sketch(shares), second.sketch(np.arange(THERE) / THERE)
    gaps = np.abs(own[:, None] - others)
    nearest = gaps.argmin(axis=1)
    ways, there = (np.roll(side, -1) - np.roll(side, 1) for side in (own, others))
    stays = gaps[np.arange(PLACES), nearest] < IN_PLACE * max(first.length, second.length)
    stays &= np.abs(np.angle(ways.conj() * there[nearest])) < LIES_ALIKE
    step, shorter = first.length / PLACES, min(first.length, second.length)
    onward = np.mod(np.roll(nearest, -1) - nearest, THERE) / THERE * second.length < FARTHEST * step
    runs = [run for run in _runs(stays, onward) if len(run) * step >= RUN * shorter]
    kept = sum(map(len, runs)) * step / shorter
    if kept < STAYING:
        return [], 0.0
    every = np.concatenate([np.union1d(run[::EVERY], run[-1:]) for run in runs])
    middles = np.array([run[len(run) // 2] for run in runs])
    rows = [np.mod(row, PLACES) for row in (every, middles)]
    ties = [np.stack([shares[row], nearest[row] / THERE], axis=1) for row in rows]
    return [each[consistent(each, True)] for each in ties], min(kept, 1.0)


def _runs(stays: NDArray[np.bool_], onward: NDArray[np.bool_]) -> list[Ints]:
    """Indices of places that stay, run by run, counted on past the end of the outline."""
    starts = stays & ~(np.roll(stays, 1) & np.roll(onward, 1))
    if stays.all() and onward.all():
        return [np.arange(PLACES)]
    runs = []
    for start in np.flatnonzero(starts).tolist():
        stop = start + 1
        while stays[stop % PLACES] and onward[(stop - 1) % PLACES] and stop < start + PLACES:
            stop += 1
        runs.append(np.arange(start, stop))
    return runs
