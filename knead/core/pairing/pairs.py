"""What pairing finds: shapes that become each other, strokes that do as parts of a line, pieces of a shape."""

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np

from knead.core.geometry.cutting import piece_of
from knead.core.geometry.shut import as_ring, closed
from knead.core.geometry.track import Track, track_of
from knead.core.model import Contour, Hint, Shape
from knead.core.outline.correspondence import Correspondence
from knead.core.outline.directions import backwards_ties
from knead.core.outline.led import agree
from knead.core.outline.matching import match, match_tied
from knead.core.outline.ties import from_other_key, honoured, located
from knead.core.pairing.chains import Chain, joined, may_chain

TIED = "tied by a hint"  # why shapes are a pair that a hint ties
TIE = 0.94  # how sure that is: they may still divide
AT_NODE = 0.01  # a node so near to where a ring is to begin, by its length, is there
Kind = Literal["pair", "recut", "joins", "divides"]


@dataclass(frozen=True)
class Stand:
    """What stands in for a key's shape: several strokes as one line, or a piece of a shape.

    `shapes` are the ids of what it is made of, `starts` the indices of the nodes of its (first) contour at which each
    begins, and of the last node; `gaps` says how far each truly begins from where the one before it truly ends: the
    node is half-way. A ring that begins within a stroke has that at its end, too.
    """

    form: Shape
    shapes: tuple[str, ...]
    starts: tuple[int, ...] = ()
    gaps: tuple[complex, ...] = ()

    @cached_property
    def is_ring(self) -> bool:
        """Whether its strokes end where they begin."""
        return may_chain(self.form) and track_of(self.form.contours[0]).is_ring


@dataclass(frozen=True)
class Turning:
    """What a shape lies on that turns, so that it is squashed, and does not turn itself in the picture.

    `corners` are shares of its outlines at both keys that meet, of a side of a box.
    """

    on: Literal["ball", "box"]
    corners: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class ShapePair:
    """A pair by shape ids; one side is None where a shape appears or vanishes.

    Where strokes were cut differently in the two keys, or one shape divides into several, a stand takes the place of
    a key's shape; `first` and `second` are then the ids of its first. What stays in its place goes `alone`; what lies
    on something that turns, as a face on a head, or is a side of it, is `turning`. Lines that meet others with ends in
    both keys may be told `by_ends`.
    """

    first: str | None
    second: str | None
    confidence: float
    reason: str
    kind: Kind = "pair"
    first_stand: Stand | None = field(default=None, compare=False)
    second_stand: Stand | None = field(default=None, compare=False)
    alone: bool = False
    turning: Turning | None = None
    by_ends: bool = False

    @property
    def on_box(self) -> bool:
        """Whether it is a side of a box that turns, or lies on one; of what is in one key, one that is hidden then."""
        return self.turning is not None and self.turning.on == "box"

    @property
    def firsts(self) -> tuple[str, ...]:
        """All shapes of the first key that it is made of."""
        return _ids(self.first, self.first_stand)

    @property
    def backwards(self) -> "ShapePair":
        """The same seen from the second key."""
        kinds: dict[Kind, Kind] = {"joins": "divides", "divides": "joins"}
        turning = self.turning and replace(self.turning, corners=tuple((b, a) for a, b in self.turning.corners))
        return replace(
            self,
            first=self.second,
            second=self.first,
            reason=from_other_key(self.reason),
            kind=kinds.get(self.kind, self.kind),
            first_stand=self.second_stand,
            second_stand=self.first_stand,
            turning=turning,
        )

    @property
    def has_piece(self) -> bool:
        """Whether it is of a piece of a shape, which ends where it was cut."""
        return self.kind != "recut" and (self.first_stand is not None or self.second_stand is not None)

    def goes_as(self, other: "ShapePair") -> bool:
        """Whether what its pairing says of how it travels is the same."""
        return (self.alone, self.turning) == (other.alone, other.turning)

    def holds(self, first: str, second: str) -> bool:
        """Whether these shapes of the two keys are in it."""
        return first in self.firsts and second in self.seconds

    def tied(self) -> "ShapePair":
        """The same pair, now that a hint says so as well."""
        if self.confidence >= TIE:
            return self
        return replace(self, confidence=TIE, reason=TIED) if self.kind == "pair" else self.also(TIED, TIE)

    def also(self, reason: str, confidence: float = 0.0) -> "ShapePair":
        """The same pair with a reason more, which makes it at least so sure."""
        confidence = max(confidence, self.confidence)
        reason = self.reason if reason in self.reason else f"{self.reason}; {reason}"
        return replace(self, confidence=confidence, reason=reason)

    @property
    def seconds(self) -> tuple[str, ...]:
        """All shapes of the second key that it is made of."""
        return _ids(self.second, self.second_stand)

    def ids(self, of_first: bool) -> tuple[str, ...]:
        """Those of the first key, or those of the second."""
        return self.firsts if of_first else self.seconds


def form_in(shapes: dict[str, Shape], own: str, stand: Stand | None) -> Shape:
    """What stands for a pair in a key of which these are the shapes: its stand, or the shape itself."""
    if stand is None:
        return shapes[own]
    part = shapes[own].part
    return stand.form if stand.form.part == part else stand.form.model_copy(update={"part": part})


def forms_of(pair: ShapePair, first: dict[str, Shape], second: dict[str, Shape]) -> tuple[Shape, Shape]:
    """What stands for a pair in both keys."""
    one, two = form_in(first, pair.first or "", pair.first_stand), form_in(second, pair.second or "", pair.second_stand)
    return one, two


def _ids(own: str | None, stand: Stand | None) -> tuple[str, ...]:
    if stand is not None:
        return tuple(dict.fromkeys(stand.shapes))
    return () if own is None else (own,)


def chained_pair(first: Chain, second: Chain, confidence: float, reason: str) -> ShapePair:
    """The pair of two chains: a plain one if both are single strokes, unless these are rings begun in other places."""
    one, two = _stand(first), _stand(second)
    if one.is_ring and two.is_ring:
        two = _begun_as(two, one)
    if len(one.shapes) == len(two.shapes) == 1 and not any(link.piece for link in (*first.links, *second.links)):
        return ShapePair(first.lead.id, second.lead.id, confidence, reason)
    return ShapePair(one.shapes[0], two.shapes[0], confidence, f"{_cut(one, two)}; {reason}", "recut", one, two)


def _stand(chain: Chain) -> Stand:
    """What stands for a chain; pieces of one stroke that follow each other are one in it."""
    whole, starts, gaps = chain.whole()
    kept = [k for k, name in enumerate(chain.ids) if k == 0 or name != chain.ids[k - 1]]
    shapes = tuple(chain.ids[k] for k in kept)
    return Stand(whole, shapes, (*(starts[k] for k in kept), starts[-1]), tuple(gaps[k] for k in kept))


def turned_ring(pair: ShapePair, turned: float) -> tuple[ShapePair, Shape] | None:
    """The pair of two rings of strokes, the second begun as if the first had turned by so many radians, and its form.

    None if they are no rings.
    """
    rings = _rings(pair)
    if rings is None:
        return None
    begun = _begun_as(rings[1], rings[0], turned)
    return replace(pair, second_stand=begun), begun.form


def is_ring(pair: ShapePair) -> bool:
    """Whether strokes of both keys are rings that become each other."""
    return _rings(pair) is not None


def _rings(pair: ShapePair) -> tuple[Stand, Stand] | None:
    """The strokes of both keys, if they are rings that become each other."""
    one, two = pair.first_stand, pair.second_stand
    if pair.kind != "recut" or one is None or two is None:
        return None
    return (one, two) if one.is_ring and two.is_ring else None


def tied_ring(pair: ShapePair, hints: tuple[Hint, ...]) -> ShapePair:
    """The pair, of two rings of strokes the second begun where hints say; what they say anyway changes nothing."""
    rings = _rings(pair) if hints else None
    if rings is None:
        return pair
    first, second = (as_ring(stand.form) for stand in rings)
    tracks = track_of(first.contours[0]), track_of(second.contours[0])
    ends, _ = located(hints, first, second, [tracks[0]], [tracks[1]], False)
    params, _ = honoured(ends, *tracks)
    ties = np.stack([track.shares(params[:, k]) for k, track in enumerate(tracks)], axis=1)
    way = match(*tracks)
    if not len(ties) or agree(way.knots, backwards_ties(ties, True) if way.reversed else ties, True, AT_NODE):
        return pair
    return replace(pair, second_stand=_begun_by(rings[1], match_tied(*tracks, ties), tracks[1]))


def _begun_as(ring: Stand, like: Stand, turned: float | None = None) -> Stand:
    """A ring of strokes begun where another ring begins that is laid on it, perhaps turned by so many radians."""
    outlines = [track_of(closed(stand.form.contours[0])) for stand in (like, ring)]
    return _begun_by(ring, match(outlines[0], outlines[1], turned), outlines[1])


def _begun_by(ring: Stand, way: Correspondence, outline: Track) -> Stand:
    """A ring of strokes, the closed outline, begun where the first node of another comes to lie by a map."""
    share = np.interp([1.0], way.first, way.second)
    return begun_at(ring, float(outline.params_at(np.mod(-share if way.reversed else share, 1.0))[0]))


def begun_at(ring: Stand, param: float) -> Stand:
    """A ring of strokes begun at a parameter; perhaps a stroke is cut in two there."""
    ring, k = _with_node(ring, param)
    nodes, last = ring.form.contours[0].nodes, ring.starts[-1]
    if k in (0, last):
        return ring
    joint = joined(nodes[-1], nodes[0])
    end = nodes[k].model_copy(update={"id": f"{nodes[k].id}+"})
    form = ring.form.model_copy(update={"contours": (Contour(nodes=(*nodes[k:-1], joint, *nodes[1:k], end)),)})
    gaps = (complex(*nodes[0].at) - complex(*nodes[-1].at), *ring.gaps[1:])
    own = list(zip(ring.starts[:-1], ring.shapes, gaps, strict=True))
    later = [(s - k, name, gap) for s, name, gap in own if s >= k]
    earlier = [(s + last - k, name, gap) for s, name, gap in own if s < k]
    if not later or later[0][0] > 0:  # it begins within a stroke
        later = [(0, earlier[-1][1], 0j), *later]
    starts, shapes, gaps = zip(*later, *earlier, strict=True)
    return Stand(form, shapes, (*starts, last), gaps)


def _with_node(ring: Stand, param: float) -> tuple[Stand, int]:
    """A ring of strokes with a node at a parameter, and the index of that; one that is very near to it does."""
    last = ring.starts[-1]
    param = min(param, float(last))
    near = int(np.round(param))
    track = track_of(ring.form.contours[0])
    if abs(np.diff(track.shares(np.array([param, near])))[0]) < AT_NODE:
        return ring, near
    before, after = piece_of(ring.form, 0.0, param), piece_of(ring.form, param, last)
    nodes = before.contours[0].nodes
    nodes = (*nodes[:-1], nodes[-1].model_copy(update={"after": after.contours[0].nodes[0].after}))
    form = ring.form.model_copy(update={"contours": (Contour(nodes=nodes + after.contours[0].nodes[1:]),)})
    starts = tuple(start + (start >= param) for start in ring.starts)
    return replace(ring, form=form, starts=starts), len(nodes) - 1


def _cut(first: Stand, second: Stand) -> str:
    """How a line is drawn in both keys, in words."""
    one, two = len(set(first.shapes)), len(set(second.shapes))
    if one == two == 1:
        return "one line that is cut differently in the two keys"
    return f"{one} stroke{'s' if one > 1 else ''} of the first key and {two} of the second key are one line"
