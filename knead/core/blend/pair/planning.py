"""How a shape becomes its partner: its plan is made here."""

from dataclasses import replace
from weakref import WeakKeyDictionary

import numpy as np

from knead.core.blend.course.body import Body, body_of
from knead.core.blend.course.course import Course
from knead.core.blend.paint.paint import PaintPlan
from knead.core.blend.pair.agreed import agreed, most_alike, turn_of
from knead.core.blend.pair.pieces import meeting_cuts, pieces_of
from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.travel.fitting import fitted
from knead.core.blend.travel.load import Load
from knead.core.geometry.bezier import Complexes, Floats, area, following, path_of, points_at
from knead.core.geometry.inside import around, taken_along
from knead.core.geometry.similarity import between
from knead.core.geometry.track import Track, even_track, track_of
from knead.core.model import Contour, Shape, Take
from knead.core.outline.contour_plan import ContourPlan, plan_as_fan, plan_contours, plan_in_lane, plan_lone
from knead.core.outline.hints import consistent, nearest_contour
from knead.core.outline.kinds.columns import go_straight, in_columns
from knead.core.outline.kinds.fan import Fan, fan_of
from knead.core.outline.kinds.lane import Lanes
from knead.core.outline.strain import MOVED
from knead.core.outline.ties import beside, honoured, located, strayed
from knead.core.pairing.contours import Matching, are_holes, matched_in, pair_contours
from knead.core.pairing.pairs import ShapePair
from knead.core.pairing.settled.columns import in_columns as contours_in_columns

NO_TIES: Floats = np.zeros((0, 2))
STRAIGHT = 0.999  # what is that much of its length goes straight
ALONG = np.arange(3) / 3  # places of an edge that a hand drew, from one corner to the next
ANEW = 0.1  # what strays by less from a mere turn, by its size, is not drawn anew
AS_IT_IS, ROLLS = 0.08, np.pi / 4  # what is distorted by less is no fan, if it would turn by so much more as one
LOOSER, HARDLY = 1.5, 0.01  # cuts of lines meet, if that strains no more, against the strain where they need not


def plan_pair(
    first: Shape, second: Shape, take: Take, pair: ShapePair, turned: float | None = None, held: Floats = NO_TIES
) -> PairPlan:
    """Plan how a shape becomes its partner. `take` holds the hints and the blend of this pair alone.

    `turned` is a turn in radians to be expected of it, if any; `held` are parameters (k, 2) of its first contours that
    must meet.
    """
    one = [even_track(c) for c in first.contours]
    two = [even_track(c) for c in second.contours]
    ends, troubles = located(take.hints, first, second, one, two, pair.kind in ("joins", "divides"))
    expected = [track.turned(turned) for track in one] if turned else one
    met = list(dict.fromkeys((i, j) for _, i, j, _, _ in ends))
    matchings = _that_hold(pair_contours(expected, two, []), met) or pair_contours(expected, two, met)
    free = turned is None and not len(held)
    side_by_side = contours_in_columns(one, two)
    ties = {(0, 0): held} if len(held) else _corners(pair, one[0], two[0])
    troubles += [strayed(hint) for hint, i, j, _, _ in ends if (i, j) not in matchings[0]]
    for i, j in met:
        ties[i, j], complaints = honoured([e for e in ends if e[1:3] == (i, j)], one[i], two[j])
        troubles += complaints

    def planned(match: tuple[int, int], about: float | None, cuts: Floats = NO_TIES) -> ContourPlan:
        i, j = match
        given = beside(ties.get(match, NO_TIES), cuts, one[i], two[j])
        return plan_contours(
            first.contours[i], second.contours[j], (one[i], two[j]), match, given, take.tolerance, about
        )

    def laid(matching: Matching) -> list[ContourPlan]:
        matched = matched_in(matching)
        plans = [planned(match, turned) for match in matched]
        return agreed(plans, lambda k, about: planned(matched[k], about)) if free and side_by_side is None else plans

    matches, plans = most_alike([(matching, laid(matching)) for matching in (matchings if free else matchings[:1])])
    for k, (plan, match) in enumerate(zip(plans, matched_in(matches), strict=True)):
        tried = (planned(match, turned, cuts) for cuts in meeting_cuts(plan, pair))
        most = LOOSER * plan.strain + HARDLY
        plans[k] = next((each for each in tried if each.strain < most), plan)
    mere_lines = first.fill is None and second.fill is None
    may_run = mere_lines and free and take.blend == "auto" and pair.kind != "recut"
    plans, lanes = (_in_lanes(first, second, matches, ties) if may_run else None) or (plans, None)
    fan = None
    if free and take.blend == "auto" and len(first.contours) == len(second.contours) == 1 and plans[0].closed:
        plans[0], fan = _fan((first, second), (one[0], two[0]), plans[0], ties.get((0, 0), NO_TIES), take.tolerance)
    graph = free and take.blend == "auto" and len(plans) == 1 and in_columns(one[0], two[0]) is not None
    body = body_of(plans)
    # hints may say otherwise, and what only moves may hang on something, or hold it
    graph = graph and body.bend > ANEW and go_straight(body.first, body.second)
    straight = graph or (pair.on_box and take.blend == "auto")
    turns = pair.turning is not None
    body = replace(body, alone=pair.alone or straight, turning=turns, line=mere_lines, straight=straight)
    turn = body.motion[0]
    plans += _leftovers(first, second, matches, plans, body)
    course = Course(body.start, body.end, float(np.angle(turn)), abs(turn))
    load = Load(tuple(plans), course.angle)
    if take.blend == "solid" or (take.blend == "auto" and not (lanes or fan or straight) and load.evidence[0] > 0.0):
        load = fitted(load, take.tolerance, course)
    line = load.contours[0]
    return PairPlan(
        pair=pair,
        load=load,
        paint=PaintPlan(first, second, line.turned and not line.closed),
        body=body,
        course=course,
        hints=take.hints,
        blend=take.blend,
        tolerance=take.tolerance,
        troubles=tuple(troubles),
        identity=first.id,
        pieces=pieces_of(line, pair),
        lanes=lanes,
        fan=fan,
    )


_held: WeakKeyDictionary[PaintPlan, tuple[tuple[str, bytes, float | None], PairPlan]] = WeakKeyDictionary()


def plan_held(plan: PairPlan, held: Floats, begun: ShapePair | None = None, turned: float | None = None) -> PairPlan:
    """The plan of the same shapes with parameters (k, 2) of their first contours that must meet, if in one order.

    Of those that are not, the most that are. `begun` is the same pair with the second line begun elsewhere, if it is a
    ring, and `turned` a turn in radians to be expected. The latest is kept, for while a hint elsewhere is dragged.
    """
    stand = begun.second_stand if begun is not None else None
    pair, second = begun or plan.pair, stand.form if stand is not None else plan.paint.second
    name = second.hash, held.tobytes(), turned
    known = _held.get(plan.paint)
    if known is None or known[0] != name:
        take = Take(blend=plan.blend, tolerance=plan.tolerance)
        one, two = even_track(plan.paint.first.contours[0]), even_track(second.contours[0])
        shares = np.stack([one.shares(held[:, 0]), two.shares(held[:, 1])], axis=1)
        held = held[consistent(shares, one.closed)]
        known = name, plan_pair(plan.paint.first, second, take, pair, turned, held)
        _held[plan.paint] = known
    return plan.instead(known[1])


def _in_lanes(
    first: Shape, second: Shape, matches: Matching, ties: dict[tuple[int, int], Floats]
) -> tuple[list[ContourPlan], Lanes] | None:
    """Lines laid along the curves that both keys run along, if all of them do so."""
    found = []
    for i, j in matches:
        if i is None or j is None:
            return None
        laid = plan_in_lane(first.contours[i], second.contours[j], (i, j), ties.get((i, j), NO_TIES))
        if laid is None:
            return None
        found.append(laid)
    return [plan for plan, _ in found], Lanes(tuple(lane for _, lane in found))


def _fan(
    shapes: tuple[Shape, Shape], tracks: tuple[Track, Track], plan: ContourPlan, ties: Floats, tolerance: float
) -> tuple[ContourPlan, Fan | None]:
    """The plan of a closed contour, and how it opens like a fan; if only laid otherwise, that plan."""
    if plan.strain < MOVED and not plan.kin:
        return plan, None
    found = fan_of(plan.first, plan.second)
    if found is not None or plan.kin:
        return plan, found
    contours = shapes[0].contours[0], shapes[1].contours[0]
    laid = plan_as_fan(contours, tracks, ties, tolerance)
    if laid is None or (plan.strain < AS_IT_IS and between(turn_of(laid), turn_of(plan)) > ROLLS):
        return plan, None  # a slat may as well be two slices about its middle
    opened = fan_of(laid.first, laid.second)
    return (laid, opened) if opened is not None else (plan, None)


def _corners(pair: ShapePair, first: Track, second: Track) -> dict[tuple[int, int], Floats]:
    """The parameters (k, 2) of first contours where the corners of a side of a box meet.

    So do its edges if a hand drew it: they bend a little everywhere, which tells nothing.
    """
    if pair.turning is None or not pair.turning.corners:
        return {}
    shares = np.array(pair.turning.corners)
    on = np.mod(following(shares) - shares, 1.0)
    on = np.where(on.sum(axis=0) > 1.5, on - 1.0, on)  # it may run round the other way
    by_hand = any(_bends(track, own) for track, own in zip((first, second), shares.T, strict=True))
    places = (shares + (ALONG if by_hand else ALONG[:1])[:, None, None] * on).reshape(-1, 2)
    return {(0, 0): np.column_stack([first.params_at(places[:, 0]), second.params_at(places[:, 1])])}


def _bends(track: Track, corners: Floats) -> bool:
    """Whether an outline is no polygon of its corners."""
    places = track.sketch(corners)
    return float(np.abs(following(places) - places).sum()) < STRAIGHT * track.length


def _that_hold(matchings: list[Matching], met: list[tuple[int, int]]) -> list[Matching]:
    """Those in which these contours become each other."""
    return [matching for matching in matchings if set(met) <= set(matched_in(matching))]


def _leftovers(
    first: Shape, second: Shape, matches: list[tuple[int | None, int | None]], plans: list[ContourPlan], body: Body
) -> list[ContourPlan]:
    """Contours without a partner close to, or open from, a point that moves with the outline around them.

    What is in none moves with the shape as a whole, and comes no farther from it for that: the rays of a sun that was a
    large moon stay where they are. It goes round as the shape does, so that it cuts no hole in what it passes over. A
    line goes under a line.
    """
    if all(None not in match for match in matches):
        return []
    flipped = any(plan.turned for plan in plans)
    onward = max((area(path_of(contour)) for contour in first.contours), key=abs) > 0  # as what lies in no other
    rings = [plan.samples()[:2] for plan in plans if plan.closed and plan.cuts is not None]
    found = []
    for side, (shape, other) in enumerate(((first, second), (second, first))):
        of_first = side == 0
        lone = [one if of_first else two for one, two in matches if (two if of_first else one) is None]
        holes = are_holes([track_of(contour) for contour in shape.contours]) if lone else []
        lasting = [two if of_first else one for one, two in matches if one is not None and two is not None]
        stay = [even_track(other.contours[k]) for k in lasting if k is not None] if lone else []
        (a, b), there = body.motion, body.end
        if not of_first:
            a, b, there = 1.0 / a, -b / a, body.start
        for k in [k for k in lone if k is not None]:
            contour = shape.contours[k]
            outline = _outline(contour)
            place = complex(outline.mean())
            target, backwards = a * place + b, flipped and not of_first
            if contour.closed and holes[k] is not None:
                backwards = ((area(path_of(contour)) > 0) == onward) == holes[k]
            if contour.closed and holes[k] is False:
                target = there + (target - there) / max(abs(a), 1.0)
            holder = around([ring[side] for ring in rings], outline)
            if holder is not None:
                target = taken_along(rings[holder][side], rings[holder][1 - side], place)
            if body.line:
                target = _under(stay, target)
            found.append(plan_lone(contour, k, of_first, target, backwards))
    return found


def _under(lines: list[Track], place: complex) -> complex:
    """The place on one of some lines that is nearest to a place: there the dot is not seen that a line shrinks to."""
    k, param, _ = nearest_contour(lines, np.array([place.real, place.imag]))
    return complex(*points_at(lines[k].path, np.array([param]))[0])


def _outline(contour: Contour) -> Complexes:
    return track_of(contour).sketch(np.linspace(0, 1, 65)[:-1])
