"""One pair of shapes on its way, or one shape that appears or vanishes."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import Course
from knead.core.blend.paint.gradient import Carry
from knead.core.blend.paint.paint import Looks
from knead.core.blend.pair.backwards import Backwards
from knead.core.blend.pair.beyond import between_keys, kept_shut, reached
from knead.core.blend.pair.glue import Glue, passed_on
from knead.core.blend.pair.going import Going, Run
from knead.core.blend.travel import ways
from knead.core.blend.travel.holder import Holder
from knead.core.blend.travel.load import Load
from knead.core.geometry.bezier import Complexes, Floats
from knead.core.geometry.track import even_track, track_of
from knead.core.model import Blend, Hint, PairTravel, Point, Shape, Take
from knead.core.outline.contour_plan import ContourPlan
from knead.core.outline.hints import nearest_contour
from knead.core.outline.kinds.fan import Fan
from knead.core.outline.kinds.lane import Lanes
from knead.core.pace.timing import PLAIN, Timing
from knead.core.pairing.pairs import ShapePair

OPENS = {  # why what has no partner need not grow or shrink
    "between": ("it opens between its neighbours", "it shuts between its neighbours"),
    "behind": ("it comes out from behind its neighbours", "it goes behind its neighbours"),
    "beside": ("it turns to the front at its neighbour's edge", "it turns away at its neighbour's edge"),
}


@dataclass(frozen=True, eq=False, kw_only=True)
class PairPlan(Going):
    """A pair's contours with a common node structure, its motion and paint."""

    load: Load
    body: Body
    course: Course
    hints: tuple[Hint, ...] = ()
    blend: Blend = "auto"
    tolerance: float = 1.0
    goes: Timing = PLAIN
    rival: "PairPlan | None" = None
    """The best plan that takes its form half round, or by another turn, once that was needed."""
    rival_about: float = 0.0
    """The turn, in radians, that its rival was asked for."""
    base: "PairPlan | None" = None
    """The plan that it is taken instead of, since it goes half round, or folds."""
    folds: bool = False
    """Whether it keeps an edge that stays, on a neighbour or where it is."""
    tied: bool = False
    """Whether corners of it are tied to where they meet those of others."""
    pins: tuple[int, ...] = ()
    """The nodes that go straight on, and take the rest along."""
    welded: bool = False
    """Whether it goes as one with what it shares an edge with, on their common course."""
    glue: Glue | None = None
    """The edge of a fill that it goes along."""
    edge: ShapePair | None = None
    """The fill of which it is the ink."""
    lanes: Lanes | None = None
    fan: Fan | None = None
    """The curve that it runs along at both keys, and in between."""
    holder: Holder | None = None
    """What a lone shape lies in."""

    @property
    def contours(self) -> tuple[ContourPlan, ...]:
        """The contours with their common node structure."""
        return self.load.contours

    @property
    def first_points(self) -> Complexes:
        """All node triples at the first key, shape (nodes * 3,)."""
        return self.load.first

    @property
    def second_points(self) -> Complexes:
        """All node triples at the second key, shape (nodes * 3,)."""
        return self.load.second

    @property
    def runs(self) -> tuple[Run, ...]:
        """Its contours."""
        return tuple(Run(c.closed, c.nodes, c.first_contour, c.second_contour, c.turned) for c in self.contours)

    @property
    def middles(self) -> tuple[complex, complex]:
        """Where its middle is at both keys."""
        return self.body.start, self.body.end

    @property
    def path(self) -> tuple[complex, complex] | None:
        """The handles of its drawn path of travel, each relative to its end, if it has one."""
        return self.course.path

    @property
    def angle(self) -> float:
        """How far it turns, in radians."""
        return self.course.angle

    @property
    def turns(self) -> int:
        """How many of its whole rounds are wanted by hand."""
        return self.body.turns

    @property
    def hangs(self) -> bool:
        """Whether it goes with a neighbour, on which it hangs or rides."""
        return self.course.hangs

    @property
    def is_ink(self) -> bool:
        """Whether it goes along the edge of a fill as the ink of that."""
        return self.edge is not None

    @property
    def laps(self) -> bool:
        """Whether it may cross itself: it folds over, as it is seen edge on, or goes along itself."""
        return self.folds or self.lanes is not None

    @cached_property
    def backwards(self) -> Going:
        """The same way gone from the second key to the first."""
        return Backwards.of(self)

    def set_as(self, take: Take) -> bool:
        """Whether it was planned with these hints, this blend and this tolerance."""
        return (self.blend, self.hints, self.tolerance) == (take.blend, take.hints, take.tolerance)

    def made_of(self, first: Shape, second: Shape) -> bool:
        """Whether these are its shapes."""
        return (self.paint.first, self.paint.second) == (first, second)

    def with_pair(self, pair: ShapePair) -> "PairPlan":
        """The same plan under a renewed confidence and reason."""
        return self if pair == self.pair else replace(self, pair=pair)

    def led(self, travel: PairTravel) -> "PairPlan":
        """The same plan with the turns, path and time that an animator wants. Its course must be found anew."""
        path = travel.path and (complex(*travel.path[0]), complex(*travel.path[1]))
        goes = Timing.of(travel)
        if (travel.turns, path, goes) == (self.body.turns, self.body.path, self.goes):
            return self
        return replace(self, body=replace(self.body, turns=travel.turns, path=path), goes=goes)

    def half_round(self) -> "PairPlan":
        """Its rival, for the same pair and led alike, to be taken instead. There must be one."""
        assert self.rival is not None
        return self.instead(self.rival)

    def instead(self, other: "PairPlan") -> "PairPlan":
        """Another plan of the same shapes, for the same pair and led alike, to be taken instead.

        A ring of strokes may begin elsewhere in the second key then.
        """
        body = replace(other.body, turns=self.body.turns, path=self.body.path, hand=self.body.hand)
        pair = replace(self.pair, second_stand=other.pair.second_stand)
        return replace(other, pair=pair, goes=self.goes, body=body, base=self.base or self)

    def places(self, times: Floats) -> Floats:
        """How far it has gone at each of the times, shape (len(times),)."""
        return reached(self.goes.places(times), self.course.scale)

    def renamed(self, names: list[str]) -> "PairPlan":
        """The same plan whose shapes in in-betweens bear these ids."""
        if self.pieces:
            named = tuple(replace(piece, identity=name) for piece, name in zip(self.pieces, names, strict=True))
            return self if named == self.pieces else replace(self, pieces=named)
        return self if names == [self.identity] else replace(self, identity=names[0])

    def on_course(self, course: Course, welded: bool = False) -> "PairPlan":
        """The same plan with its middle on another course, perhaps one that it shares with what it is welded to."""
        if (course, welded) == (self.course, self.welded):
            return self
        load = self.load if course.angle == self.load.angle else Load(self.contours, course.angle)
        return replace(self, course=course, load=load, welded=welded)

    @property
    def kin(self) -> bool:
        """Whether the keys share nodes, so that nothing was guessed."""
        return any(contour.kin for contour in self.contours)

    @property
    def strain(self) -> float:
        """How much its outlines are distorted on the way, apart from turning."""
        return self.load.strain

    @property
    def motion(self) -> tuple[complex, complex]:
        """The similarity (a, b) that takes the first shape nearest to the second: z -> a z + b."""
        return self.body.motion

    @property
    def way(self) -> ways.Way:
        """How its points travel: as chosen by hand, or mostly, by the evidence."""
        if not self.is_whole:
            return "direct"
        if self.blend == "auto":
            return "solid" if self.solid_share > 0.5 else "arc" if self._turning else "direct"
        return "arc" if self.blend == "solid" and self.load.stiff is None else self.blend

    def reason_for(self, vanishes: bool) -> str:
        """Why it travels so, in words; what is in one key alone `vanishes`, or else appears."""
        if self._opens and self.holder is not None and self.holder.opens is not None:
            return OPENS[self.holder.opens][vanishes]
        if not self.is_whole:
            return "it shrinks to a point" if vanishes else "it grows from a point"
        return self._auto_reason if self.blend == "auto" else "chosen by hand"

    @property
    def _auto_reason(self) -> str:
        told = (
            (self.glue is not None and not self.glue.meets, "it goes along the edge of a fill"),
            (self.welded, "it shares an edge with its neighbour"),
            (self.lanes, "it goes along itself"),
            (self.fan, "it opens like a fan"),
            (self.body.straight and self.pair.turning, "it goes as a side of a box that turns"),
            (self.body.straight, "its points stay in their columns, or in their rows"),
            (self.folds, "it folds over an edge that stays"),
            (self.loosened, "it would cross itself if it were solid"),
        )
        why = next((why for so, why in told if so), None)
        if why is not None:
            return why
        if self.way != "arc":
            return self.load.evidence[1]
        parent = self.course.parent
        if not self.course.hangs and parent is None:
            return "it turns as you said"
        whole = "what hangs on it" if parent is not None and parent.carries else "the whole drawing"
        return f"it goes along with {'its neighbour' if self.course.hangs else whole}"

    @property
    def _turning(self) -> bool:
        hangs = self.course.parent is not None or self.course.ride is not None
        return self.welded or hangs or self.body.turns != 0

    @property
    def _along(self) -> bool:
        """Whether what does not travel solidly turns along its course."""
        return self.way == "arc" or (self._turning and self.blend == "auto")

    def points(self, times: Floats) -> Complexes:
        """Node triples at the times, shape (len(times), nodes * 3)."""
        if not self.is_whole:
            return self._alone(self.first_points if self.second_id is None else self.second_points, times)
        places = self.places(times)
        own_way = self.lanes or self.fan
        if own_way is not None:
            found = own_way.at(self.first_points, self.second_points, places)
            return ways.carried(found, places, self.course, self.body.turns)
        own = kept_shut(self._loose_points(places), self.contours, places)
        keys = self.first_points, self.second_points
        if self.pins:
            nodes = np.array(self.pins)
            one, two, here = (rows[..., 3 * nodes + 1] for rows in (*keys, own))
            off = ways.direct(one, two, places) - here
            return passed_on(own, keys, nodes, off, self.contours[0].closed)
        return self.glue.moved(own, keys, times) if self.glue else own

    @property
    def _opens(self) -> bool:
        """Whether it is shut by its neighbours where it is not there, and need not grow."""
        opens = self.holder is not None and self.holder.opens is not None
        return opens and self.goes.plain and self.course.path is None

    @property
    def _own_key(self) -> float:
        """The place, 0 or 1, at which a lone shape is as it was drawn."""
        return 0.0 if self.second_id is None else 1.0

    def _alone(self, own: Complexes, times: Floats) -> Complexes:
        """Where points of a lone shape go, shape (len(times), len(own)).

        It goes and turns with the neighbour that takes it along, or bends with what it lies in, and grows or shrinks in
        its own part of the time.
        """
        places, course, key = self.places(times), self.course, self._own_key
        origin, sizes = (course.end, places) if key else (course.start, 1.0 - places)
        sizes = np.ones_like(places) if self._opens else np.maximum(sizes, 0.0)
        grown = (sizes * np.exp(1j * course.angle * (times - key)))[:, None] * (own - origin)
        if self.holder is not None and course.path is None:
            found = self.holder.carried(origin + grown, times)
        else:
            found = course.at(places if course.path else times)[1][:, None] + grown
        found[times == key] = own
        return np.asarray(found, dtype=complex)

    def _loose_points(self, times: Floats) -> Complexes:
        """Where its course and what it carries take it. Auto mixes the ways by their evidence."""
        first, second, course = self.first_points, self.second_points, self.course
        share = self.solid_share
        plain = first[None]
        if share < 1.0 or self.load.stiff is None:
            if self.way == "arc" and course.parent is None and not self.welded:
                course = course.swung(self.motion)
            plain = (ways.arc if self._along else ways.direct)(first, second, times, course)
        if share == 0.0 or self.load.stiff is None:
            return plain
        solid = self.load.stiff.at(first, second, times, course)
        return solid if share == 1.0 else ways.mixed(solid, plain, share, times)

    @property
    def solid_share(self) -> float:
        """How much of its way is solid, 0 to 1; the rest is the other."""
        if self.blend == "solid":
            return 1.0
        mixed = (
            self.blend == "auto"
            and self.is_whole
            and not (self.welded or self.loosened or self.lanes or self.fan or self.body.straight)
        )
        return self.load.evidence[0] if mixed else 0.0

    def looks(self, times: Floats) -> list[Looks]:
        """Fill, stroke and opacity at the times; a lone shape's stroke thins out with its size."""
        places = self.places(times)
        if self.is_whole:
            return self.paint.at(between_keys(places), self._carried(times), self.motion)
        # its paint is the same all the time, but its gradients go along
        looks = self.paint.at(np.where(times == self._own_key, times, 0.5), self._carried(times), self.motion)
        size = np.maximum(places if self.first_id is None else 1.0 - places, 0.0)
        return [
            (fill, stroke and stroke.model_copy(update={"width": stroke.width * float(s)}), opacity)
            for (fill, stroke, opacity), s in zip(looks, size, strict=True)
        ]

    def _carried(self, times: Floats) -> Carry:
        """How points of its paint, as a gradient's ends, go along."""
        if not self.is_whole:
            return lambda first, second: self._alone(first if self.second_id is None else second, times)
        way, places = ways.arc if self._along or self.way == "solid" else ways.direct, self.places(times)
        return lambda first, second: way(first, second, places, self.course)

    @cached_property
    def _weights(self) -> tuple[Floats, Floats]:
        """Width factors of all nodes at both keys, shape (nodes,)."""
        rows = [
            (_weights_at(self.paint.first, contour, True), _weights_at(self.paint.second, contour, False))
            for contour in self.contours
        ]
        return np.concatenate([r[0] for r in rows]), np.concatenate([r[1] for r in rows])

    def weights(self, times: Floats) -> Floats | None:
        """Width factors of the nodes at the times, shape (len(times), nodes); None where the width is even."""
        if self.paint.even:
            return None
        first, second = self._weights
        share = np.clip(self.places(times), 0.0, 1.0)[:, None]
        return np.asarray((1.0 - share) * first + share * second)

    def away(self, point: Floats, from_first: bool) -> float:
        """How far a point is from what of a key's shape goes this way."""
        source = self.paint.first if from_first else self.paint.second
        return nearest_contour([even_track(contour) for contour in source.contours], point)[2]

    def partner(self, point: Floats, from_first: bool) -> Point | None:
        """The point of the other key that a point on one key's outline becomes today."""
        source, target = (self.paint.first, self.paint.second)[:: 1 if from_first else -1]
        tracks = [even_track(c) for c in source.contours]
        index, param, _ = nearest_contour(tracks, point)
        for plan in self.contours:
            mine, other = plan.first_contour, plan.second_contour
            if not from_first:
                mine, other = other, mine
            if mine == index and other is not None and plan.cuts is not None:
                own, there = tracks[index], even_track(target.contours[other])
                if not from_first and plan.cuts.reversed:
                    param = len(own.path) - param
                found = plan.cuts.partner(param, len(own.path), from_first)
                if from_first and plan.cuts.reversed:
                    found = len(there.path) - np.mod(found, len(there.path)) if plan.closed else len(there.path) - found
                share = there.shares(np.array([found]))
                x, y = there.points(share)[0].tolist()
                return Point(x, y)
        return None


def _weights_at(shape: Shape, plan: ContourPlan, is_first: bool) -> Floats:
    """A key's width factors at the nodes of the common structure, even between its own nodes."""
    index = plan.first_contour if is_first else plan.second_contour
    if index is None or plan.cuts is None:  # opens or closes: as in the key that has it
        return np.array([node.weight for a, b in plan.nodes if (node := a or b)])
    contour = shape.contours[index]
    nodes = contour.nodes
    own = np.array([n.weight for n in nodes])
    params = (plan.cuts.first_params if is_first else plan.cuts.second_params)[: len(plan.nodes)]
    if not is_first and plan.cuts.reversed:
        params = (len(nodes) if contour.closed else len(nodes) - 1) - params
    params = track_of(contour).params_at(even_track(contour).shares(params))
    if not plan.closed:
        return np.asarray(np.interp(params, np.arange(len(own)), own))
    return np.asarray(np.interp(np.mod(params, len(own)), np.arange(len(own) + 1), np.append(own, own[0])))
