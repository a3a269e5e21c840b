"""Forms that look alike when turned half round: the whole and their neighbours say which way round they go.

Where the drawing turns as a whole, such a form is tried turned half round if it turns against it. A bone of an arm
hangs on its joint in both keys. Laid on its partner the wrong way round, it comes off; so what touches
a neighbour in both keys, but comes off it on the way, is also tried turned half round.
"""

from dataclasses import replace

import numpy as np
import shapely

from knead.core.blend.course.body import Body
from knead.core.blend.course.course import Course
from knead.core.blend.course.ground import grounds
from knead.core.blend.course.tree import courses
from knead.core.blend.course.whole import whole_course
from knead.core.blend.figure.half_round import (
    DEARER,
    DEARER_END,
    SAME,
    TURNS,
    is_loose_line,
    is_sure,
    may_turn,
    with_rival,
)
from knead.core.blend.figure.holds.beside import tied_where_others_end
from knead.core.blend.figure.holds.ends import held_at_ends
from knead.core.blend.figure.holds.folds import folded, held
from knead.core.blend.figure.holds.in_place import kept_in_place
from knead.core.blend.figure.holds.meeting import meetings_of, pinned, tied_where_they_meet
from knead.core.blend.figure.holds.riding import on_foot, rides, turned_with_seats
from knead.core.blend.figure.holds.rooted import FREE, RESTS, STAYS, rooted
from knead.core.blend.figure.holds.seats import seats
from knead.core.blend.figure.holds.tracks import on_tracks
from knead.core.blend.figure.holds.welds import glued, welded
from knead.core.blend.figure.touching import touching_in_both
from knead.core.blend.figure.turns.company import in_company
from knead.core.blend.figure.turns.contents import with_their_contents
from knead.core.blend.figure.turns.crossings import uncrossed
from knead.core.blend.figure.turns.inked import inked, inks_of, tied_to_ink
from knead.core.blend.figure.turns.stiff import as_one_piece
from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.bezier import diagonal
from knead.core.geometry.hull import hull
from knead.core.geometry.similarity import between
from knead.core.geometry.track import track_of
from knead.core.outline.kinds.rigid import even_map

OFF = 0.25  # how far from a neighbour, by its size, a shape may come on the way
HALF_WAY = np.array([0.5])
ROUNDS = 3  # what hangs on a bone is judged once that bone is the right way round
MOSTLY = 0.8  # the share of its points that lie on what a form lies along
LIMBS = 1.5  # what is not larger than this, by the area of a limb, is another limb
BENT = 0.1  # one form that turns by less than this against its neighbours is the right way round
SWINGS = 0.5  # and so is one that is as it was, and of which the middle goes no farther than this, by its size
HAND = 0.015  # how far what a hand draws anew is off, by the size of the drawing: it is no surer on what is small


def hung(plans: list[PairPlan]) -> list[PairPlan]:
    """The plans on their courses, turned half round where only so they stay on a neighbour."""
    if not plans:
        return plans
    shapes = [shape for plan in plans for shape in (plan.paint.first, plan.paint.second)]  # whatever hints say
    hand = HAND * diagonal([track_of(contour).path for shape in shapes for contour in shape.contours])
    plans = [_anew(plan, hand) for plan in plans]
    touching = touching_in_both(plans)
    meetings, inks = meetings_of(plans), inks_of(plans)
    touching = _without_ink(touching, inks)
    tied = tied_to_ink(tied_where_they_meet(with_their_contents(plans), meetings), inks)
    plans, holders = folded(on_foot(tied), touching)
    plans, seated = turned_with_seats(plans, seats(plans, touching, inks))
    laid, resting = rooted(plans, touching)
    laid = tied_where_others_end(laid, touching)
    near = _joints(laid, touching)
    joined, hinged = _joined(in_company(laid, resting + seated, near), near)
    whole = _whole(joined)
    plans = _on_courses(joined, whole)
    if whole is not None:
        about = _with_the_whole(plans, whole, resting, hinged | set(seated))
        if about != plans:
            whole = _whole(about)
            plans = _on_courses(about, whole)
    plans, whole = _on_neighbours(plans, whole, touching)
    stiff = as_one_piece(plans)
    if stiff != plans:
        whole = _whole(stiff)
        plans = _on_courses(stiff, whole)
    ridden = inked(held(_seated(kept_in_place(plans), whole, touching, inks), holders), inks)
    return held_at_ends(pinned(uncrossed(glued(welded(ridden, touching), touching, inks)), meetings), touching)


def _without_ink(touching: dict[int, list[int]], inks: dict[int, int]) -> dict[int, list[int]]:
    """What touches what, but of ink only that it touches its fill: it carries nothing, and nothing else holds it."""
    others = {k: [j for j in mates if j not in inks] for k, mates in touching.items() if k not in inks}
    return {k: mates for k, mates in others.items() if mates} | {line: [fill] for line, fill in inks.items()}


def _anew(plan: PairPlan, hand: float) -> PairPlan:
    """The plan without what others held it by, in a drawing of which a hand is off by so much."""
    plan = replace(plan, pins=(), glue=None, edge=None) if plan.pins or plan.glue or plan.edge else plan
    return plan if plan.body.hand == hand else replace(plan, body=replace(plan.body, hand=hand))


def _seated(
    plans: list[PairPlan], whole: Course | None, touching: dict[int, list[int]], inks: dict[int, int]
) -> list[PairPlan]:
    """The plans, with rides along lines that stay, and on neighbours that bend; how the whole goes is the same."""
    along = on_tracks(plans, touching)
    plans = plans if along == plans else _on_courses(along, whole)
    sitting = seats(plans, touching, inks)
    for _ in range(ROUNDS if sitting else 0):  # what carries may itself ride
        riding = rides(plans, sitting)
        if riding == plans:
            break
        plans = _on_courses(riding, whole)
    return plans


def _on_neighbours(
    plans: list[PairPlan], whole: Course | None, touching: dict[int, list[int]]
) -> tuple[list[PairPlan], Course | None]:
    """The plans, with those turned half round that would else come off a neighbour on the way, and how the whole goes.

    `whole` is how it goes before.
    """
    # what a neighbour takes along, as a squashed ball its gleam, need not be turned to stay on it
    unsure = {
        k: mates
        for k, mates in touching.items()
        if _unsure(plans[k]) and not any(plans[j].body.takes(plans[k].body) for j in mates)
    }
    for _ in range(ROUNDS):
        changed = False
        for k in [k for k, mates in unsure.items() if _apart(plans, k, mates) > OFF]:
            plans[k] = with_rival(plans[k])
            rival = plans[k].half_round()
            if rival.strain > plans[k].strain + DEARER:
                continue
            tried = [*plans[:k], rival, *plans[k + 1 :]]
            turned = _whole(tried)
            tried = _on_courses(tried, turned)
            nearer = _apart(tried, k, touching[k]) < 0.5 * _apart(plans, k, touching[k])
            if nearer and _hanging(tried) >= _hanging(plans):
                plans, whole, changed = tried, turned, True
        if not changed:
            break
    return plans, whole


def _joined(plans: list[PairPlan], touching: dict[int, list[int]]) -> tuple[list[PairPlan], set[int]]:
    """The plans, with closed forms turned half round where else another end would be at their joint, and which are.

    What is plainly one form, and turns with its neighbour, is as it should be.
    """
    found, hinged = list(plans), set[int]()
    for k, touched in touching.items():
        plan = plans[k]
        larger = [j for j in touched if j not in touching or plans[j].body.size > plan.body.size]
        others = touched if len(touched) == 1 else larger  # a bob is at one end of its rod, however small
        mates = [plans[j].body for j in others if not plans[j].body.straight]
        goes = abs(plan.body.end - plan.body.start) > SWINGS * plan.body.size  # about an end, it would go twice that
        bent = goes and any(abs(np.angle(plan.motion[0] / mate.motion[0])) > BENT for mate in mates)
        unsure = may_turn(plan) and not any(plan.body.round_at) and (bent or not is_sure(plan))
        if not mates or not unsure or _kept(plan, mates) >= 0:
            continue
        found[k] = with_rival(plan)
        rival = found[k].half_round()
        if rival.strain <= plan.strain + DEARER_END and _kept(rival, mates) > 0:
            found[k] = rival
            hinged.add(k)
    return found, hinged


def _joints(plans: list[PairPlan], touching: dict[int, list[int]]) -> dict[int, list[int]]:
    """What each touches, but for what stays behind it, if it touches something besides that moves, and is not in it."""
    behind = grounds([plan.body for plan in plans])
    found = {}
    for k, mates in touching.items():
        before = [j for j in mates if not behind[j, k]]
        moving = [plans[j].body.hulls[0] for j in before if not plans[j].body.still]
        found[k] = before if moving and not shapely.covers(plans[k].body.hulls[0], moving).all() else mates
    return found


def _kept(plan: PairPlan, mates: list[Body]) -> float:
    """The share of its points that are on a neighbour in both keys, or off it, less that of all that change.

    A neighbour that it is on with all its points in both keys, as the face of a clock, tells nothing; nor does another
    limb that it lies along in one, as an arm along the other.
    """
    hulls = np.array([mate.hulls for mate in mates]).T
    gaps = shapely.distance(plan.body.spots[:, None], hulls[:, :, None]) / max(plan.body.size, 1e-9)
    on_all, on_most = (gaps < RESTS).all(axis=(0, 2)), ((gaps < RESTS).mean(axis=2) > MOSTLY).any(axis=0)
    limbs = np.array([mate.area for mate in mates]) < LIMBS * plan.body.area
    gaps = gaps[:, ~np.where(limbs, on_most, on_all)]
    on, off = gaps < RESTS, gaps > FREE
    kept = (on.all(axis=0) | off.all(axis=0)) * 1.0 - (on.any(axis=0) & off.any(axis=0))
    return float(kept.mean()) if kept.size else 0.0


def _with_the_whole(plans: list[PairPlan], whole: Course, resting: list[int], hinged: set[int]) -> list[PairPlan]:
    """The plans, with those turned half round that turn against the whole drawing and against what they hang on.

    What is hinged, and lines that rest on a neighbour with one end, are the right way round, and so is what is plainly
    one form in both keys and would no longer hang on its neighbours. What stands where it stood, as the foot of a
    lever, may have turned half round with the whole, but by no other angle.
    """
    rolls = between(whole.angle, np.pi) < SAME

    def astray(k: int, plan: PairPlan) -> bool:
        if k in hinged or plan.body.round or not (rolls or _moves(plan.body)):
            return False
        if not all(_against(plan, course.angle) for course in (whole, plan.course.parent or whole)):
            return False
        either_way = may_turn(plan) or (k not in resting and is_loose_line(plan))
        return _unsure(plan) or (either_way and _alike_half_round(plan))

    turned = {k: _about(plan, whole.angle) for k, plan in enumerate(plans) if astray(k, plan)}
    found = [turned[k] if k in turned and _unsure(plan) else plan for k, plan in enumerate(plans)]
    sure = {k: plan for k, plan in turned.items() if found[k] is not plan}
    singly = [{k: plan} for k, plan in sure.items()] if len(sure) > 1 else []
    for some in (sure, *singly):  # all at once if that may be
        tried = [some.get(k, plan) for k, plan in enumerate(found)]
        if tried != found and _hanging(_on_courses(tried, whole)) >= _hanging(_on_courses(found, whole)):
            found = tried
    return found


def _moves(body: Body) -> bool:
    """Whether it turns, or goes somewhere."""
    return bool(abs(np.angle(body.motion[0])) > TURNS or abs(body.end - body.start) > STAYS * body.size)


def _about(plan: PairPlan, angle: float) -> PairPlan:
    """The plan turned half round, if that is hardly more distorted and turns about by the angle."""
    plan = with_rival(plan)
    rival = plan.half_round()
    return plan if rival.strain > plan.strain + DEARER or _against(rival, angle) else rival


def _against(plan: PairPlan, angle: float) -> bool:
    return bool((plan.motion[0] * np.exp(-1j * angle)).real < 0)


def _whole(plans: list[PairPlan]) -> Course | None:
    return whole_course([plan.body for plan in plans])


def _on_courses(plans: list[PairPlan], whole: Course | None) -> list[PairPlan]:
    found = courses([plan.body for plan in plans], whole)
    return [plan.on_course(course) for plan, course in zip(plans, found, strict=True)]


def _hanging(plans: list[PairPlan]) -> int:
    return sum(plan.course.hangs for plan in plans)


def _apart(plans: list[PairPlan], k: int, mates: list[int]) -> float:
    """How much farther than at the keys a shape is off the neighbours that it touches there, half way, by its size."""
    half = [hull(plans[j].points(HALF_WAY)[0]) for j in (k, *mates)]
    at_keys = [
        shapely.distance(plans[k].body.hulls[side], [plans[j].body.hulls[side] for j in mates]) for side in (0, 1)
    ]
    off = shapely.distance(half[0], half[1:]) - np.max(at_keys, axis=0)
    return float(off.max()) / max(plans[k].body.size, 1e-9)


def _unsure(plan: PairPlan) -> bool:
    """Whether it may be the other way round: tied by nothing, and not plainly one form in both keys."""
    return may_turn(plan) and not is_sure(plan)


def _alike_half_round(plan: PairPlan) -> bool:
    contour = plan.paint.first.contours[plan.contours[0].first_contour or 0]
    track = track_of(contour)
    run = track if track.closed else track.backwards  # a line then begins at its other end
    return even_map(track, run.turned(np.pi), True) is not None
