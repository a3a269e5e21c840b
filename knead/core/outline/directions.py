"""In which direction two outlines are run along each other, and what ties come to if one is run the other way."""

import numpy as np

from knead.core.geometry.bezier import Floats
from knead.core.geometry.track import Track

LEAST_ROUND = 3  # so many ties say which way round they go
AT_END = 0.01  # a share nearer to an end of a line than this is at it


def winding(track: Track) -> int:
    """1 or -1 for a closed outline that plainly turns one way, 0 where both ways enclose about as much."""
    if not track.closed or track.length == 0:
        return 0
    return int(np.sign(track.inside)) if abs(track.inside) > 0.01 * track.length**2 / (4 * np.pi) else 0


def directions(first: Track, second: Track, ties: Floats) -> tuple[bool, ...]:
    """Whether to try the second outline as it is (False), backwards (True), or both."""
    if first.closed:
        if len(ties) >= LEAST_ROUND:  # what is tied in the other order is meant to be turned over
            return (_runs_back(ties),)
        turn = winding(first) * winding(second)
        if turn:
            return (turn < 0,)
    elif len(ties) >= 2:
        low, high = np.argmin(ties[:, 0]), np.argmax(ties[:, 0])
        return (bool(ties[high, 1] < ties[low, 1]),)
    elif np.all(np.minimum(ties, 1.0 - ties) < AT_END):  # an end tied to an end, if there is a tie at all
        return tuple(bool((a < 0.5) != (b < 0.5)) for a, b in ties) or (False, True)
    return (False, True)


def turned_over(first: Track, second: Track, ties: Floats) -> bool:
    """Whether ties say that what goes round one way comes to go round the other way."""
    if not first.closed or len(ties) < LEAST_ROUND:
        return False
    return winding(first) * winding(second) * (-1 if _runs_back(ties) else 1) < 0


def _runs_back(ties: Floats) -> bool:
    """Whether three ties or more on closed outlines follow each other in the other order on the second one."""
    there = ties[np.argsort(ties[:, 0]), 1]
    return int(np.count_nonzero(there < np.roll(there, 1))) > 1


def backwards_ties(ties: Floats, closed: bool) -> Floats:
    """The same ties with the second outline's shares counted from its other end."""
    turned = ties.copy()
    turned[:, 1] = np.mod(1.0 - ties[:, 1], 1.0) if closed else 1.0 - ties[:, 1]
    return turned
