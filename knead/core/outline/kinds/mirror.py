"""Outlines that are their own mirror images: what is symmetric in both keys stays so on the way."""

import numpy as np

from knead.core.geometry.bezier import Complexes, Floats, median
from knead.core.geometry.similarity import between
from knead.core.geometry.track import Track
from knead.core.outline.laying.field import Field, Look

PLACES = 256
BESIDE = 6  # an axis is more like than others nearer than so many places
CLEARLY = 0.2  # how unlike its mirror image about an axis an outline may be, by how unlike it is about most others
WHOLLY = 0.9997  # how like its mirror image an outline is that is symmetric
AT_NODE = 0.004  # a share so near to a node's is that node's
NEXT = 1e-9
LEAN = np.pi / 4  # axes that turn by more are not each other
AS_ONE = 0.02  # radians within which axes turn alike
MOST = 12  # what has more axes is round, and may lie any way
AXIS = np.array([[0.0, 0.0], [0.5, 0.5]])
LOOK = Look(0.25, 0.9, 0.5)  # what the two sides of an outline are laid along each other by


def mirror_ties(first: Track, second: Track, like: float) -> list[Floats]:
    """Where axes of two symmetric closed outlines leave them and meet, as rising shares; none if either has no axis.

    `like` is how like its mirror image an outline must be, 1 is wholly.
    The axes meet that turn the least against each other. First the ends of all that turn alike then, shape (2 axes, 2),
    if there are several; then those of one.
    """
    (shares, ways), (others, theirs) = _axis_ends(first, like), _axis_ends(second, like)
    if not len(shares) or not len(others):
        return []
    turns = np.angle(np.multiply.outer(ways.conj(), theirs))
    k, m = np.unravel_index(np.argmin(np.round(np.abs(turns), 3)), turns.shape)
    if abs(turns[k, m]) > LEAN:
        return []
    off = between(turns, turns[k, m])
    mates, back, each = np.argmin(off, axis=1), np.argmin(off, axis=0), np.arange(len(shares))
    alike = np.flatnonzero((back[mates] == each) & (off[each, mates] < AS_ONE))
    one = np.array([k, (k + len(shares) // 2) % len(shares)]), np.array([m, (m + len(others) // 2) % len(others)])
    every = (alike, mates[alike])
    chosen = [every, one] if 2 < len(alike) <= 2 * MOST else [one]
    ties = [np.stack([shares[i], others[j]], axis=1) for i, j in chosen]
    return [each[np.argsort(each[:, 0])] for each in ties]


def mirrored(knots: Floats, ties: Floats, wedge: int) -> Floats:
    """A map through the `ties`, ends of axes (k, 2), that is in all wedges between them as in one, or its mirror image.

    Knots (n, 2) of a closed map go once round from anywhere, those of the result from the first tie.
    """
    along, stops = np.mod(knots[:-1] - ties[0], 1.0), np.append(np.mod(ties - ties[0], 1.0), [[1.0, 1.0]], axis=0)
    along = along[np.argsort(along[:, 0])]
    start, steps = stops[:-1], np.diff(stops, axis=0)
    shares = (along - start[wedge]) / steps[wedge]
    inside = shares[np.all((shares > NEXT) & (shares < 1.0 - NEXT), axis=1)]
    own = np.concatenate([np.zeros((1, 2)), inside, np.ones((1, 2))])
    sides = own[:-1], (1.0 - own[::-1])[:-1]
    found = [start[k] + steps[k] * sides[(k - wedge) % 2] for k in range(len(steps))]
    return np.asarray(np.concatenate([*found, [[1.0, 1.0]]]) + ties[0])


def mirrored_by_hand(first: Track, second: Track, maps: list[Floats], ties: Floats) -> list[Floats]:
    """Maps through the `ties`, the ends of an axis (2, 2), that are on both sides of it as one of the maps on one.

    Places on the two sides are each other's mirror images as far as outlines are that were drawn by hand: as the one
    side is laid along the other.
    """
    sides = _sides(first, ties[:, 0]), _sides(second, ties[:, 1])
    found: list[Floats] = []
    for knots in maps:
        along = np.mod(knots[:-1] - ties[0], 1.0)
        along = along[np.argsort(along[:, 0])]
        even = np.stack([np.interp(along[:, k], shares, even) for k, (shares, even) in enumerate(sides)], axis=1)
        for wedge in (0, 1):
            half = mirrored(np.append(even, even[:1] + 1.0, axis=0), AXIS, wedge)
            own = [np.interp(half[:, k], even, shares) for k, (shares, even) in enumerate(sides)]
            found.append(ties[0] + np.stack(own, axis=1))
    return found


def _sides(track: Track, ends: Floats) -> tuple[Floats, Floats]:
    """Rising shares of a closed outline from an end of its axis on, and those of what would be wholly symmetric.

    There the axis ends at 0 and 0.5, and mirror images are at shares that add up to 1.
    """
    one, other = track.sketch(ends)
    partner = track.mirrored().turned(2 * float(np.angle(other - one))).backwards  # about the axis
    ties = np.mod(np.stack([ends, 1.0 - ends], axis=1), 1.0)
    knots = Field(track, partner, ties[np.argsort(ties[:, 0])]).lay(LOOK, 2)
    here, there = np.mod(knots[:-1, 0] - ends[0], 1.0), np.mod(1.0 - knots[:-1, 1] - ends[0], 1.0)
    far = float(np.mod(ends[1] - ends[0], 1.0))
    within = (here > NEXT) & (here < far - NEXT) & (there > far + NEXT) & (there < 1.0 - NEXT)
    order = np.argsort(here[within])
    here, there = here[within][order], there[within][order]
    even = 0.25 * (here / far + (1.0 - there) / (1.0 - far))
    shares = [[0.0], here, [far], there[::-1], [1.0]], [[0.0], even, [0.5], 1.0 - even[::-1], [1.0]]
    return np.concatenate(shares[0]), np.concatenate(shares[1])


def _axis_ends(track: Track, like: float) -> tuple[Floats, Complexes]:
    """The shares at which axes of symmetry cross a closed outline, and the directions of the axes out of it there."""
    z = track.sketch(np.arange(PLACES) / PLACES)
    z = z - z.mean()
    # all mirror images at once: sum of z[s + u] z[s - u] over u, for all 2 s; its angle is twice that of the axis
    sums = np.fft.ifft(np.fft.fft(z) ** 2) / max(float(np.sum(np.abs(z) ** 2)), 1e-300)
    likeness = np.abs(sums)
    around = np.max([np.roll(likeness, k) for k in range(-BESIDE, BESIDE + 1)], axis=0)
    clear = likeness > 1.0 - CLEARLY * (1.0 - median(likeness))  # about any axis, what is round is nearly so
    found = np.flatnonzero((likeness > like) & clear & (likeness >= around - 1e-6))
    # the top of a parabola through a place and those beside it: else where an outline begins would tell
    before, after = likeness[found - 1], likeness[(found + 1) % PLACES]
    curve = before - 2 * likeness[found] + after
    aside = np.clip(0.5 * (before - after) / np.where(curve < 0.0, curve, -np.inf), -0.5, 0.5)
    beside = sums[(found + np.sign(aside).astype(np.int64)) % PLACES]
    way = np.exp(0.5j * np.angle(sums[found] + np.abs(aside) * (beside - sums[found])))
    shares = np.mod(np.concatenate([found, found + PLACES]) + np.tile(aside, 2), 2 * PLACES) / (2 * PLACES)
    across = track.sketch(shares) - track.sketch(shares + 0.5)  # nothing on a line that goes there and back
    ways = np.concatenate([way, -way])
    ways = np.where((across * ways.conj()).real < -1e-9 * track.length, -ways, ways)
    return np.array([_at_node(track, share) for share in shares]), np.asarray(ways, dtype=complex)


def _at_node(track: Track, share: float) -> float:
    gaps = np.mod(track.nodes - share + 0.5, 1.0) - 0.5
    k = int(np.argmin(np.abs(gaps)))
    return float(np.mod(share + gaps[k] if abs(gaps[k]) < AT_NODE else share, 1.0))
