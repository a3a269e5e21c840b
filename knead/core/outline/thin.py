"""Nodes that are mere cuts, where two segments are one cubic.

They must not change how an outline is laid on another: else adding a node to a key would change its in-betweens.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, cut, preceding, straight, within
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import Track, measure
from knead.core.outline.structure import nearest

ONE = 1e-5  # how far, by its size, a curve may be off that is still one cubic
SHORT = 1e-4  # a piece of a cubic shorter than this share of the other is none
MET = 1e-5  # what lies nearer than this, in parameters, is at one place


@dataclass(frozen=True)
class Thinned:
    """An outline without its mere cuts: the same curve in fewer segments.

    It begins at node `start` of the original; `params` (n + 1,) are where the original's nodes from there on lie on it.
    """

    track: Track
    start: int
    params: Floats

    @property
    def cuts(self) -> Floats:
        """The parameters of the nodes that were left out."""
        inner = self.params[1:-1]
        return inner[np.abs(inner - np.round(inner)) > MET]

    def reversed(self) -> "Thinned":
        """The same for the outline run through backwards."""
        count = len(self.params) - 1
        return Thinned(self.track.backwards, (count - self.start) % count, len(self.track.path) - self.params[::-1])

    def own(self, params: Floats) -> Floats:
        """Parameters on the original of parameters on this one, which rise over at most one round."""
        count, turns = len(self.params) - 1, np.floor(params / len(self.track.path))
        inside = np.interp(params - turns * len(self.track.path), self.params, np.arange(count + 1.0))
        found = inside + turns * count + self.start
        whole = np.round(found)
        return np.asarray(np.where(np.abs(found - whole) < MET, whole, found))


@lru_cache(maxsize=512)
def thinned(track: Track) -> Thinned:
    """Leave out the nodes of an outline that only cut a cubic in two. The latest are kept, as measured."""
    n = len(track.path)
    z = as_complex(track.path)
    ratios, off = _continued(z, track.closed)
    alike = off <= ONE
    if not alike.any() or alike.all():
        return Thinned(track, 0, np.arange(n + 1.0))
    start = int(np.flatnonzero(~alike)[0]) if track.closed else 0
    order = (np.arange(n) + start) % n
    z, ratios, off = z[order], ratios[order], off[order]
    heads = np.flatnonzero(~alike[order])
    counts = np.diff(heads, append=n)
    kept, whole = np.ones(n, dtype=bool), z.copy()
    begins = np.zeros(n)  # where each segment begins in that of the thinned path
    first = heads[counts == 2]  # that these two are one was seen already
    share = 1.0 / (1.0 + ratios[first + 1])
    whole[first], begins[first + 1] = _extended(z[first], z[first + 1], share, 1.0 - share), share
    kept[first + 1] = False
    runs = list(zip(heads[counts > 2].tolist(), (heads + counts)[counts > 2].tolist(), strict=True))
    while runs:
        head, end = runs.pop()
        merged = _merged(z[head:end], ratios[head:end])
        if merged is not None:
            whole[head], begins[head + 1 : end] = merged
            kept[head + 1 : end] = False
        elif end - head > 2:  # two of them may only nearly be one, as the arcs of a circle are
            middle = head + 1 + int(np.argmax(off[head + 1 : end]))
            runs += [each for each in ((head, middle), (middle, end)) if each[1] - each[0] > 1]
    if kept.all():
        return Thinned(track, 0, np.arange(n + 1.0))
    fewer = measure(as_points(whole[kept]), track.closed)
    return Thinned(fewer, start, np.concatenate([np.cumsum(kept) - 1 + begins, [len(fewer.path)]]))


def _continued(z: Complexes, closed: bool) -> tuple[Floats, Floats]:
    """For each segment, how much longer it is than the one before if both are one cubic, and how far off they are that.

    That is by their size; infinite where they can't be.
    """
    before = preceding(z)
    out, into = before[:, 3] - before[:, 2], z[:, 1] - z[:, 0]
    moving = np.minimum(np.abs(out), np.abs(into)) > SHORT * np.maximum(np.abs(out), np.abs(into))
    ratios = np.where(moving, np.abs(into) / np.where(moving, np.abs(out), 1.0), 1.0)
    share = 1.0 / (1.0 + ratios)
    both = _extended(before, z, share, 1.0 - share)
    # the first halves of both outer legs are their own handles; de Casteljau's third and fourth point must be theirs
    middle = both[:, 1] + share * (both[:, 2] - both[:, 1])
    third, last = before[:, 1] + share * (middle - before[:, 1]), middle + share * (z[:, 2] - middle)
    joint = third + share * (last - third)
    gaps = np.abs([third - before[:, 2], joint - before[:, 3], ratios * out - into])  # the rest follows from these
    size = np.abs(both[:, 1:] - both[:, :-1]).sum(axis=1)
    off = np.where(moving, gaps.max(axis=0) / np.where(size > 0.0, size, 1.0), np.inf)
    if not closed:
        off[0] = np.inf
    return ratios, off


def _extended(first: Complexes, last: Complexes, begin: Floats, end: Floats) -> Complexes:
    """The cubics that begin, for a share of `begin`, as one segment, and end, for one of `end`, as another; (n, 4)."""
    second = first[:, 0] + (first[:, 1] - first[:, 0]) / begin
    third = last[:, 3] + (last[:, 2] - last[:, 3]) / end
    return np.array([first[:, 0], second, third, last[:, 3]]).T


def _merged(z: Complexes, ratios: Floats) -> tuple[Complexes, Floats] | None:
    """A run of segments as one cubic, and where on it those after the first begin; None if they are not one."""
    lengths = np.cumprod(np.concatenate([[1.0], ratios[1:]]))
    shares = lengths / lengths.sum()
    whole = _extended(z[:1], z[-1:], shares[:1], shares[-1:])
    begins = np.cumsum(shares)[:-1]
    off = np.abs(cut(whole, np.concatenate([[0.0], begins, [1.0]])) - z).max()
    return None if off > len(z) * ONE * np.abs(np.diff(whole)).sum() else (whole[0], begins)


def with_all_nodes(rows: Floats, thin: list[Thinned], ties: Floats, near: float) -> Floats:
    """Cuts of two thinned outlines as cuts of the whole ones, with a cut more wherever these have a mere cut.

    Rising parameters of both, shape (k, 2). What meets between two cuts meets evenly, so that a mere cut moves no
    in-between; but where one lies nearer than `near`, in scene units, to a cut that is no node there nor one of the
    `ties` (k, 2), in shares, it takes its place.
    """
    if not any(len(side.cuts) for side in thin):
        return rows
    for side in (0, 1):
        rows = _with_cuts(rows, side, [each.track for each in thin], thin[side].cuts, ties[:, side], near)
    rows = np.array([thin[side].own(rows[:, side]) for side in (0, 1)]).T
    return np.asarray(rows[np.concatenate([[True], (rows[1:] - rows[:-1] > MET).any(axis=1)])])


def _with_cuts(rows: Floats, side: int, tracks: list[Track], places: Floats, ties: Floats, near: float) -> Floats:
    """The rows, pairs of parameters, with those of the mere cuts of one side, at these places."""
    track = tracks[side]
    if not len(places):
        return rows
    own = rows[:, side]
    if track.closed:
        places = np.sort(own[0] + np.mod(places - own[0], len(track.path)))
    away = np.abs(np.mod(track.shares(own)[:, None] - ties + 0.5, 1.0) - 0.5).min(axis=1, initial=1.0)
    free = np.flatnonzero((np.abs(own - np.round(own)) > MET) & (away > MET))
    free = free[(free > 0) & (free < len(own) - 1)]
    rows, alone = rows.copy(), np.ones(len(places), dtype=bool)
    if len(free):
        here, there = track.shares(places), track.shares(own[free])
        partner = nearest(there, here)
        row = free[partner]
        inside = (places > own[row - 1]) & (places < own[row + 1])
        close = np.abs(here - there[partner]) * track.length < near
        alone = ~((nearest(here, there)[partner] == np.arange(len(places))) & close & inside)
        rows[row[~alone], side] = places[~alone]
    places = places[alone]
    more = np.empty((len(places), 2))
    more[:, side] = places
    order = slice(None, None, -1 if side else 1)
    more[:, 1 - side] = _evenly(places, rows[:, order], tracks[order])
    rows = np.concatenate([rows, more])
    return np.asarray(rows[np.lexsort((rows[:, 1], rows[:, 0]))])


def _evenly(places: Floats, rows: Floats, tracks: list[Track]) -> Floats:
    """Where places on the first of two tracks meet the other: evenly between cuts, which are the rows.

    That is by their parameters, but by length where a straight line meets a bow, as it is run through like that. A
    piece ends with its segment, though close nodes follow.
    """
    piece = within(np.searchsorted(rows[:, 0], places, side="right") - 1, 0, len(rows) - 2)
    begin, segment = rows[piece], np.floor(rows[piece] + MET)
    end = np.minimum(rows[piece + 1], segment + 1.0)
    found = _between(places, begin, end)
    lines = [straight(track.path)[segment[:, k].astype(int) % len(track.path)] for k, track in enumerate(tracks)]
    uneven = lines[0] != lines[1]
    if uneven.any():
        ends = [np.stack([t.shares(each[uneven, k]) for k, t in enumerate(tracks)], axis=1) for each in (begin, end)]
        found[uneven] = tracks[1].params_at(_between(tracks[0].shares(places[uneven]), *ends))
    return found


def _between(places: Floats, begin: Floats, end: Floats) -> Floats:
    """Where places between the first columns of beginnings and ends, shape (k, 2), are between the second ones."""
    share = within((places - begin[:, 0]) / np.maximum(end[:, 0] - begin[:, 0], MET), 0.0, 1.0)
    return np.asarray(begin[:, 1] + share * (end[:, 1] - begin[:, 1]))
