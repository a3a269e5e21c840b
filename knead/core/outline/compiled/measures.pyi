from numpy import uint8
from numpy.typing import NDArray

from knead.core.geometry.bezier import Floats

def distorted(
    shares: Floats, points: Floats, its_shares: Floats, its_points: Floats, knots: Floats, closed: bool
) -> tuple[float, float, float, float, float]: ...
def evened(knots: Floats, pinned: NDArray[uint8]) -> Floats: ...
