"""Which point of one outline becomes which point of another: several candidates, judged by the in-between they give."""

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track
from knead.core.outline.correspondence import Correspondence, judged, run, tried
from knead.core.outline.directions import backwards_ties, directions, turned_over, winding
from knead.core.outline.kinds.columns import in_columns
from knead.core.outline.kinds.mirror import WHOLLY, mirror_ties, mirrored, mirrored_by_hand
from knead.core.outline.kinds.ovals import squashed
from knead.core.outline.kinds.rigid import even_map
from knead.core.outline.kinds.sides import by_sides
from knead.core.outline.kinds.spine import Spine, along, as_laid, is_plainly_swapped, spine_of, unlike
from knead.core.outline.kinds.staying import kept_stretches
from knead.core.outline.kinds.stretch import stretched
from knead.core.outline.laying.candidates import (
    ENDS,
    GOOD,
    HARD,
    LYING,
    PLAINLY,
    as_asked,
    as_they_lie,
    likelier_first,
    maps_to_try,
)
from knead.core.outline.laying.corners import all_corners, corners_between, is_edge_on, kept_corners
from knead.core.outline.laying.field import Field
from knead.core.outline.laying.starts import LOOKS
from knead.core.outline.led import led
from knead.core.outline.riches import is_richer
from knead.core.outline.strain import MOVED, Strain, strain

AS_GOOD = 1.15  # what keeps its sides may strain by this much more than what does not, and turns as little
KEEPS = 1.5  # corners that could all be kept are, if that strains no more than this against any other map
STAYS = 1.6  # and stay there, if that strains no more than this against any other map; twice as much if all stays
NEARLY = 0.99  # how like their mirror images outlines are that are symmetric, and drawn by hand
FAIR, FAIRLY = 2.5, 1.25  # what is so in both keys stays so, if that strains no more than this against any other map
UPRIGHT, FAIR_UPRIGHT = 0.05, 6.0  # and this if it turns by less than that
EVEN = 1.02  # a map is symmetric if each half of it, and its mirror image, strain no more than this against all of it
UNTURNED = 0.2  # by how much more, in radians, what is nearly so in both keys may turn to stay so
EVENLY = 65  # knots of a map between outlines of which one is stretched
LEAST, MOST = 1.25, 8.0  # what is stretched by less, in length against width, need not be; by more, it is not meant
LONGER = 0.06  # the strain of a stretch, by the square of its logarithm
ONE_FORM = 0.01  # what strains less is one form, and may turn
ROLLED = 2 * np.pi / 3  # what is slender and would turn by more is compared with a map that does not
BENDS = 0.2  # it bends rather than roll over, if that strains less: a smile becomes a frown
FLIPPED = 0.86 * np.pi  # what is one form and turns by less than that has not turned over
TURNED = 0.05  # but not where its mirror image strains so much more than it does turned: a letter is turned
TOLD, TIMES = 0.01, 10.0  # or by this and so many times what it strains: what is exactly one form is told by less
BENDS_OVER = 0.26  # the same for what becomes its own mirror image
AS_ASKED = 0.45  # the same where the rest of it does not turn: the mouth of a face
ENDLESS = 0.1  # ends of a line that are nearer to each other, by its length, do not tell how it turns
ASKEW = 0.02  # by how much less unlike rungs must be, for a slender body to bend from tip to tip
CURLED = 0.6  # what is slender bends from tip to tip unless that strains more
SLENDER = 0.4  # the share of a circle's area that is within an outline as slender as a line


@lru_cache(maxsize=256)  # a hint that is dragged asks for it again and again
def match(first: Track, second: Track, turned: float | None = None) -> Correspondence:
    """Match two outlines, both open or both closed.

    `turned` is about how much the first is to turn, in radians; None leaves it open. Seen from the second, a better map
    may be found, where any is hard to find.
    """
    if is_richer(second, first):
        return match(second, first, None if turned is None else -turned).inverse
    second = second.turned(-turned) if turned else second
    found = _matched(first, second, np.zeros((0, 2)), turned)
    if found.strain.distortion <= HARD:
        return found
    if turned is None:
        back = _matched(second, first, np.zeros((0, 2)), None).inverse
        found = back if back.strain.whole < PLAINLY * found.strain.whole else found
    return _along_spines(first, second, found) or found


def _along_spines(first: Track, second: Track, found: Correspondence) -> Correspondence | None:
    """The map of slender outlines tip on tip, where what was found lays askew what is across, or rolls them over."""
    one, two = spine_of(first), spine_of(run(second, found.reversed))
    if one is None or two is None:
        return None
    two = as_laid(one, two, found.knots)
    if found.strain.turn > ROLLED and not is_plainly_swapped(one, two.swapped):
        over = _bent_body(one, two.swapped, found.reversed)
        if over is not None and over.strain.turn < np.pi - ROLLED:
            return over
    kept = _bent_body(one, two, found.reversed)
    return kept if kept is not None and unlike(one, two, kept.knots) < unlike(one, two, found.knots) - ASKEW else None


def _bent_body(first: Spine, second: Spine, backwards: bool) -> Correspondence | None:
    """The map of slender outlines, rungs on rungs; None if they would bend too far.

    However far it is bent else, it is the same body if it is as wide.
    """
    knots = along(first, second)
    bent = strain(first.outline, second.outline, knots)
    if bent.distortion > CURLED:
        return None
    bent = Strain(min(bent.distortion, unlike(first, second, knots)), bent.turn)
    return Correspondence(knots[:, 0], knots[:, 1], backwards, bent)


def match_tied(first: Track, second: Track, ties: Floats, turned: float | None = None) -> Correspondence:
    """Match two outlines of which `ties` (k, 2) are shares that must meet, in a consistent order.

    The map without them is tried as well, drawn to them.
    """
    if is_richer(second, first):
        return match_tied(second, first, ties[:, ::-1], None if turned is None else -turned).inverse
    free = match(first, second, turned)
    second = second.turned(-turned) if turned else second
    if turned_over(first, second, ties):
        return _matched(first, second.mirrored(), ties, turned)  # what the first resembles; shares are the same
    found: list[Correspondence] = []
    if free.reversed in directions(first, second, ties):
        own = backwards_ties(ties, second.closed) if free.reversed else ties
        partner = run(second, free.reversed)
        found = tried(first, partner, led(first, partner, free.knots, own), free.reversed)
    return min([*found, _matched(first, second, ties, turned)], key=judged)


def _matched(first: Track, second: Track, ties: Floats, turned: float | None) -> Correspondence:
    if len(ties):
        return _most_alike(first, second, ties, turned)
    plain = in_columns(first, second) or (squashed(first, second) if turned is not None else None)
    if plain is not None:
        return _as_told(first, second, *plain)
    found = _most_alike(first, second, ties, turned)
    if found.strain.distortion < MOVED and found.strain.turn <= LYING:
        return found
    longer = by_sides(first, second)
    if longer is None:
        turns = first.closed and turned is None and found.strain.turn > UNTURNED
        strained = turns and found.strain.distortion > HARD
        return (_kept_in_place(first, second, found.strain.whole, kept_stretches) if strained else None) or found
    kept = _as_told(first, second, *longer)
    return kept if found.strain.turn > LYING or kept.strain.whole < AS_GOOD * found.strain.whole else found


def _as_told(first: Track, second: Track, knots: Floats, backwards: bool) -> Correspondence:
    return tried(first, run(second, backwards), [knots], backwards)[0]


def _most_alike(first: Track, second: Track, ties: Floats, turned: float | None) -> Correspondence:
    found = _found(first, second, ties, turned is not None)
    if turned is None and not len(ties) and found.strain.turn > ROLLED and found.strain.distortion > HARD:
        found = min(found, _found_backwards(first, second), key=judged)
    asked = turned is not None
    rolls = not len(ties) and found.strain.turn > (LYING if asked and first.closed else ROLLED)
    if rolls and (asked or not is_turned(first, second, found.strain)):
        found = _bent(first, second, found, asked)
    least = ONE_FORM if found.strain.turn > LYING else GOOD
    if turned is None and found.strain.distortion > least:
        found = _stretched(first, second, ties, found.strain.whole) or found
    if found.strain.distortion > HARD and first.closed and not len(ties):
        kept = _kept_in_place(first, second, found.strain.whole, kept_corners)
        return found if kept is None else _kept_even(first, second, found, kept)
    return found


def _found(first: Track, second: Track, ties: Floats, turned: bool) -> Correspondence:
    even = None if len(ties) else _even_map(first, second, turned)
    if even is not None:  # a line that is nearly its own image half round, as an S, need not turn so
        over = not first.closed and even.strain.turn >= FLIPPED
        return min([even, *(maps_to_try(first, second, ties, not even.reversed) if over else [])], key=judged)
    candidates: list[Correspondence] = []
    for backwards, least in likelier_first(first, second, ties):
        if not candidates or min(map(judged, candidates)) > least:
            candidates += maps_to_try(first, second, ties, backwards)
    best = min(candidates, key=judged)
    if turned and first.closed and not len(ties) and best.strain.turn > LYING:
        best = as_asked(first, second, candidates, best.reversed) or best
    if best.strain.distortion > GOOD and not len(ties):
        kept = _corner_by_corner(first, second, KEEPS * best.strain.whole)
        best = kept or best
        # a polygon seen edge-on is its own mirror image as every needle is
        edge_on = kept is not None and is_edge_on(first, second)
        if best.strain.distortion > GOOD and first.closed and not edge_on:
            return _symmetric(first, second, best, kept is None) or best
    return best


def _found_backwards(first: Track, second: Track) -> Correspondence:
    """The map of the way back: seen from there, another one may be found."""
    back = _found(second, first, np.zeros((0, 2)), False).inverse
    return tried(first, run(second, back.reversed), [back.knots], back.reversed)[0]


def is_turned(first: Track, second: Track, turned: Strain) -> bool:
    """Whether outlines that strain so, turned, are one form that is so indeed: a letter, or a heart, but no mouth.

    A mouth that turns down is its own mirror image, and seems to turn by about half a round.
    """
    if turned.distortion > HARD or turned.turn < FLIPPED:
        return turned.distortion <= HARD
    over = _found(first, second.mirrored(), np.zeros((0, 2)), False)
    return over.strain.distortion - turned.distortion > min(TURNED, TOLD + TIMES * turned.distortion)


def _bent(first: Track, second: Track, rolled: Correspondence, asked: bool) -> Correspondence:
    """The map of outlines that does not roll over, if what is as slender as a line need be bent only so far.

    Any outline may be bent, and farther, if it was `asked` not to turn.
    """
    found: list[Correspondence] = []
    most = AS_ASKED if asked else BENDS
    if not first.closed:
        backwards = not rolled.reversed
        over = _found(first, second.mirrored(), np.zeros((0, 2)), True)
        if over.reversed == backwards and over.strain.distortion < GOOD:  # it is itself, bent over
            found, most = tried(first, run(second, backwards), [over.knots], backwards), max(most, BENDS_OVER)
        else:
            found = maps_to_try(first, second, np.zeros((0, 2)), backwards)
        found = [_turned_as_its_ends(first, second, each) for each in found]
    elif asked or (_is_slender(first) and _is_slender(second)):
        found = [*as_they_lie(first, run(second, rolled.reversed), rolled.reversed)]
    best = min((each for each in found if _is_upright(each, most)), key=judged, default=None)
    if best is None:
        return rolled
    alike = _symmetric(first, second, best, True) if first.closed else None
    return alike if alike is not None and _is_upright(alike, most) else best


def _turned_as_its_ends(first: Track, second: Track, found: Correspondence) -> Correspondence:
    """The map of lines, turned as the way from end to end is: a deep bow bent over has a similarity that rolls."""
    one, two = (np.diff(track.sketch(ENDS[:, 0]))[0] for track in (first, run(second, found.reversed)))
    if min(abs(one) / first.length, abs(two) / second.length) < ENDLESS:
        return found
    return replace(found, strain=Strain(found.strain.distortion, abs(float(np.angle(two / one)))))


def _is_upright(found: Correspondence, most: float) -> bool:
    """Whether a map does not roll over, and strains less than `most`."""
    return found.strain.turn < np.pi - ROLLED and found.strain.whole < most


def _is_slender(track: Track) -> bool:
    return abs(track.inside) < SLENDER * track.length**2 / (4 * np.pi)


def _stretched(first: Track, second: Track, ties: Floats, most: float) -> Correspondence | None:
    """The map of outlines of which one lies as the other once it is stretched, if that strains less than `most`."""
    if first.closed and not winding(first) * winding(second):
        return None
    alike, ratio = stretched(first, second)
    longer = LONGER * np.log(ratio) ** 2
    if not LEAST < ratio < MOST or longer >= most:
        return None
    met = np.stack([alike.shares(first.params_at(ties[:, 0])), ties[:, 1]], axis=1)
    found = _found(alike, second, met, True)
    if found.strain.whole + longer >= most:
        return None
    # lengths do not stretch evenly: knots in between are needed
    shares = np.union1d(found.first, np.linspace(found.first[0], found.first[-1], EVENLY))
    along = np.interp(shares, found.first, found.second)
    knots = np.stack([first.shares(alike.params_at(shares)), along], axis=1)
    return tried(first, run(second, found.reversed), [knots], found.reversed)[0]


def _symmetric(first: Track, second: Track, free: Correspondence, roughly: bool) -> Correspondence | None:
    """The best map of outlines that are their own mirror images which keeps them so, if that is FAIR by a free one.

    What is so about several axes keeps all of them if it can. What is drawn by hand is nearly so.
    """
    wholly = mirror_ties(first, second, WHOLLY)
    by_hand, fair = not wholly, FAIR if wholly else FAIRLY
    for ties in wholly or (mirror_ties(first, second, NEARLY) if roughly else []):
        found = _about_axes(first, second, ties, free, by_hand)
        if by_hand:  # nearly its own mirror image is much that is none, and should not turn for that
            found = [each for each in found if each.strain.turn < free.strain.turn + UNTURNED]
        best = min(found, key=judged, default=None)
        if best is not None and wholly and best.strain.turn < UPRIGHT:
            fair = FAIR_UPRIGHT
        if best is not None and best.strain.whole < fair * free.strain.whole:
            return best
    return None


def _kept_even(first: Track, second: Track, free: Correspondence, kept: Correspondence) -> Correspondence:
    """The map that keeps corners, made its own mirror image if both outlines are.

    If that strains it much, and the free map is its own mirror image, that one.
    """
    axes = mirror_ties(first, second, WHOLLY)
    if not axes:
        return kept
    evened, others = (_halves(first, second, axes[-1], each) for each in (kept, free))
    best = min(evened, key=judged)
    if best.strain.whole < FAIRLY * kept.strain.whole:
        return best
    return free if all(judged(each) <= EVEN * judged(free) for each in others) else kept


def _halves(first: Track, second: Track, ties: Floats, found: Correspondence) -> list[Correspondence]:
    """A map as it is on one side of the axis which ends in these ties, with that mirrored; and as on the other side."""
    ends = backwards_ties(ties, True) if found.reversed else ties
    maps = [mirrored(found.knots, ends, wedge) for wedge in (0, 1)]
    return tried(first, run(second, found.reversed), maps, found.reversed)


def _about_axes(first: Track, second: Track, ties: Floats, free: Correspondence, by_hand: bool) -> list[Correspondence]:
    """Maps that are their own mirror images about the axes which end in these ties: half a free one, and others."""
    found: list[Correspondence] = []
    for backwards in directions(first, second, ties):
        partner, ends = run(second, backwards), backwards_ties(ties, True) if backwards else ties
        if np.any(np.diff(np.mod(ends - ends[0], 1.0), axis=0) <= 0.0):
            continue  # they follow each other in another order, or fall together
        maps = [free.knots] if free.reversed == backwards else []
        maps += [candidate.knots for candidate in maps_to_try(first, second, ties, backwards)]
        halves = [mirrored(knots, ends, wedge) for knots in maps for wedge in (0, 1)]
        halves += mirrored_by_hand(first, partner, maps, ends) if by_hand and len(ends) == 2 else []
        others = tried(first, partner, halves, backwards)
        kept = tried(first, partner, corners_between(first, partner, ends), backwards)
        if kept and judged(kept[0]) < KEEPS * min(map(judged, others)):
            others = kept
        found += others
    return found


def _corner_by_corner(first: Track, second: Track, most: float) -> Correspondence | None:
    """The best map that keeps all corners of outlines which have as many, if it strains less than `most`."""
    found: list[Correspondence] = []
    for backwards in directions(first, second, np.zeros((0, 2))):
        partner = run(second, backwards)
        maps = all_corners(first, partner)
        even = tried(first, partner, maps, backwards)
        if even:
            ties = min(zip(even, maps, strict=True), key=lambda each: judged(each[0]))[1]
            met = np.mod(ties[:-1], 1.0) if first.closed else ties
            found += [*even, *tried(first, partner, [Field(first, partner, met).lay(LOOKS[0], 2)], backwards)]
    best = min(found, key=judged, default=None)
    return best if best is not None and best.strain.whole < most else None


def _kept_in_place(
    first: Track, second: Track, strained: float, told: Callable[[Track, Track], tuple[list[Floats], float]]
) -> Correspondence | None:
    """The best map that keeps what is `told` to be in one place in both outlines, unless that strains far more."""
    found: list[Correspondence] = []
    stays = 0.0
    for backwards in directions(first, second, np.zeros((0, 2))):
        maps, share = told(first, run(second, backwards))
        stays = max(stays, share)
        for ties in maps:
            found += maps_to_try(first, second, backwards_ties(ties, True) if backwards else ties, backwards)
    best = min(found, key=judged, default=None)
    return best if best is not None and best.strain.whole < STAYS * (1.0 + stays) * strained else None


def _even_map(first: Track, second: Track, turned: bool) -> Correspondence | None:
    """The map between two outlines that are one form; None if they are not."""
    found: list[Correspondence] = []
    for backwards in directions(first, second, np.zeros((0, 2))):
        partner = run(second, backwards)
        start = even_map(first, partner, turned)
        if start is not None:
            knots = np.array([[0.0, start], [1.0, start + 1.0]])
            found.append(Correspondence(knots[:, 0], knots[:, 1], backwards, strain(first, partner, knots)))
    return min(found, key=lambda c: round(c.strain.whole, 6), default=None)
