"""What meets a line from one side, away from its ends, does so in both keys: that tells which way round the line is.

Arms that are drawn as one line have the body below them, however they are raised: they do not roll over it.
"""

import numpy as np

from knead.core.blend.course.body import Body
from knead.core.geometry.bezier import Complexes

INSIDE = 0.15  # what is nearer to an end of the line, by the number of its points, tells nothing
NEAR = 0.05  # how near to the line, by its own size, what meets it is
AWAY = 0.3  # how far off its middle is at least, by its size
ASIDE = 0.1  # radians; what goes on nearer to the line's own direction is on neither side
STEP = 8  # the direction of a line is that over one of so many parts of it


def keeps_sides(line: Body, others: list[Body]) -> int:
    """How many others are on the same side of a line in both keys, less how many change sides."""
    return sum(
        _side(line.first, other.first, other, line.size) * _side(line.second, other.second, other, line.size)
        for other in others
        if other.line
    )


def _side(line: Complexes, points: Complexes, other: Body, size: float) -> int:
    """On which side of a line another is that meets it, 1 or -1; 0 if it does not, or is on neither."""
    count = len(line)
    inner = np.arange(int(INSIDE * count), count - int(INSIDE * count))
    gaps = np.abs(line[inner][:, None] - points[[0, -1]])
    k = int(inner[np.argmin(gaps.min(axis=1))])
    way = complex(points.mean()) - complex(line[k])
    if gaps.min() > NEAR * size or abs(way) < AWAY * other.size:
        return 0
    step = max(count // STEP, 1)
    back, on = (np.mod(np.angle(way / (line[j] - line[k] + 1e-12)), 2 * np.pi) for j in (k - step, k + step))
    if min(back, on, 2 * np.pi - back, 2 * np.pi - on) < ASIDE:
        return 0
    return 1 if on < back else -1
