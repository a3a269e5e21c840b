"""Hints laid on outlines: which can be honoured together, and complaints about the others."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track, track_of
from knead.core.model import Hint, HintEnd, Point, Shape
from knead.core.outline.hints import consistent, end_point, nearest_contour, share_of

OFF = 0.08  # a hint farther from its outline than this share of the outline's length is said to lie off it
ELSEWHERE = 0.02  # the same of a piece of an outline: the hint lies on another piece
CROWDED = 0.01  # ties nearer to each other on one outline can't be far apart on the other


@dataclass(frozen=True)
class HintTrouble:
    """A hint that can't be honoured as it stands, and what to do, in a sentence."""

    hint: str
    text: str

    @property
    def backwards(self) -> "HintTrouble":
        """The same seen from the second key."""
        return HintTrouble(self.hint, from_other_key(self.text))


def from_other_key(text: str) -> str:
    """What is said of the first key said of the second one, and the reverse."""
    return "first key".join(part.replace("first key", "second key") for part in text.split("second key"))


Located = tuple[Hint, int, int, float, float]


def located(
    hints: tuple[Hint, ...], first: Shape, second: Shape, one: list[Track], two: list[Track], pieces: bool
) -> tuple[list[Located], list[HintTrouble]]:
    """Hints with the contours and parameters they stand on, and those that lie far off their outline.

    With `pieces`, one of the shapes is a piece of one that others share.
    """
    most = ELSEWHERE if pieces else OFF
    found: list[Located] = []
    troubles = []
    for hint in hints:
        i, a, gap_one = nearest_contour(one, end_point(hint.first, first))
        j, b, gap_two = nearest_contour(two, end_point(hint.second, second))
        found.append((hint, i, j, a, b))
        if gap_one > most * one[i].length or gap_two > most * two[j].length:
            troubles.append(_elsewhere(hint) if pieces else _off(hint))
    return found, troubles


def honoured(ends: list[Located], one: Track, two: Track) -> tuple[Floats, list[HintTrouble]]:
    """Parameter ties of the largest consistent set of hints on one pair of contours, and complaints of the rest."""
    closed = one.closed and two.closed
    shares = _shares(ends, one, two)
    torn = [] if closed else [k for k, pair in enumerate(shares) if _tears(pair)]
    troubles = [_torn(ends[k][0]) for k in torn]
    whole = [k for k in range(len(ends)) if k not in torn]
    kept = _uncrowded([whole[k] for k in consistent(shares[whole], closed)], shares, closed)
    for k in whole:
        if k not in kept:
            rival = min(kept, key=lambda j: float(_gaps(shares, j, k, closed).min()))
            troubles.append(_complaint(shares, rival, k, closed)(ends[k][0], ends[rival][0]))
    return np.array([ends[k][3:] for k in kept], dtype=float).reshape(-1, 2), troubles


def repeated(ends: list[Located], one: list[Track], two: list[Track]) -> bool:
    """Whether some of the hints on contours of two shapes tie the same two points."""

    def same(end: Located, other: Located) -> bool:
        own, its = one[end[1]], two[end[2]]
        gaps = _gaps(_shares([end, other], own, its), 0, 1, own.closed and its.closed)
        return end[1:3] == other[1:3] and bool(gaps.max() < CROWDED)

    return any(same(*pair) for pair in combinations(ends, 2))


def beside(ties: Floats, more: Floats, one: Track, two: Track) -> Floats:
    """Parameter ties (k, 2), with those of `more` that go with all of them: in one order, and not at one of them."""
    rows = np.concatenate([ties, more])
    shares = np.stack([one.shares(rows[:, 0]), two.shares(rows[:, 1])], axis=1)
    closed, own = one.closed and two.closed, list(range(len(ties)))
    added = [
        k
        for k in range(len(ties), len(rows))
        if len(consistent(shares[[*own, k]], closed)) > len(own)
        and all(_gaps(shares, j, k, closed).min() >= CROWDED for j in own)
    ]
    return np.asarray(rows[[*own, *added]])


def strayed(hint: Hint) -> HintTrouble:
    """The complaint about a hint between two contours of a pair that become others."""
    text = f"Hint '{hint.name}' ties two outlines of which one is tied to another, so it is left out. Remove it?"
    return HintTrouble(hint.id, text)


def _off(hint: Hint) -> HintTrouble:
    text = f"Hint '{hint.name}' lies off its outline; the nearest point of it is used. Drag it onto the outline."
    return HintTrouble(hint.id, text)


def _elsewhere(hint: Hint) -> HintTrouble:
    text = (
        f"Hint '{hint.name}' stands on a part that goes with another shape; the nearest point of its own part is used. "
        "Drag it there."
    )
    return HintTrouble(hint.id, text)


def _torn(hint: Hint) -> HintTrouble:
    text = f"Hint '{hint.name}' ties the end of a line to the middle of one, but ends go to ends, so it is left out."
    return HintTrouble(hint.id, text)


def _complaint(shares: Floats, kept: int, dropped: int, closed: bool) -> Callable[[Hint, Hint], HintTrouble]:
    if _gaps(shares, kept, dropped, closed).max() < CROWDED:
        return _twice
    return _crowding if _crowd(shares, kept, dropped, closed) else _out_of_order


def _twice(dropped: Hint, kept: Hint) -> HintTrouble:
    text = f"Hint '{dropped.name}' ties the same two points as hint '{kept.name}', so it adds nothing. Remove it?"
    return HintTrouble(dropped.id, text)


def _out_of_order(dropped: Hint, kept: Hint) -> HintTrouble:
    text = (
        f"Hint '{dropped.name}' and hint '{kept.name}' change places around the outline, "
        f"so '{dropped.name}' is left out. Swap their ends on the second key?"
    )
    return HintTrouble(dropped.id, text)


def _crowding(dropped: Hint, kept: Hint) -> HintTrouble:
    text = (
        f"Hint '{dropped.name}' and hint '{kept.name}' stand on one point of one key and far apart on the other, "
        f"so '{dropped.name}' is left out. Drag them apart?"
    )
    return HintTrouble(dropped.id, text)


def _shares(ends: list[Located], one: Track, two: Track) -> Floats:
    return np.array([[share_of(one, a), share_of(two, b)] for _, _, _, a, b in ends])


def _tears(pair: Floats) -> bool:
    """Whether a tie of two lines ties an end to a place within: ends go to ends."""
    from_end = np.minimum(pair, 1.0 - pair)
    return bool(from_end.min() < CROWDED and from_end.max() > 5 * CROWDED)


def _uncrowded(kept: list[int], shares: Floats, closed: bool) -> list[int]:
    """Without those that would draw a long stretch together to next to nothing beside one that is kept."""
    found: list[int] = []
    for k in kept:
        if not any(_crowd(shares, j, k, closed) for j in found):
            found.append(k)
    return found


def _crowd(shares: Floats, j: int, k: int, closed: bool) -> bool:
    gaps = _gaps(shares, j, k, closed)
    return bool(gaps.min() < CROWDED and gaps.max() > 5 * CROWDED)


def _gaps(shares: Floats, j: int, k: int, closed: bool) -> Floats:
    """How far apart two ties are on both outlines, by their lengths, shape (2,)."""
    gaps = np.abs(shares[j] - shares[k])
    return np.asarray(np.minimum(gaps, 1.0 - gaps) if closed else gaps)


def hint_end(shape: Shape, point: Floats, snap: float) -> HintEnd:
    """A hint's end on a shape near a point: at a node within `snap` scene units, else at the bare nearest point."""
    nodes = [n for c in shape.contours for n in c.nodes]
    gaps = [float(np.hypot(n.at.x - point[0], n.at.y - point[1])) for n in nodes]
    best = int(np.argmin(gaps))
    if gaps[best] <= snap:
        return HintEnd(shape=shape.id, at=nodes[best].at, node=nodes[best].id)
    tracks = [track_of(c) for c in shape.contours]
    index, param, _ = nearest_contour(tracks, point)
    x, y = tracks[index].points(tracks[index].shares(np.array([param])))[0].tolist()
    return HintEnd(shape=shape.id, at=Point(x, y))
