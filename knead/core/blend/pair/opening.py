"""Whether holes open into bays, or close where they are: both ways are planned, and judged by the in-betweens."""

from dataclasses import dataclass

import numpy as np
import shapely

from knead.core.blend.pair.plan import PairPlan
from knead.core.blend.pair.planning import plan_pair
from knead.core.geometry.similarity import as_points
from knead.core.geometry.track import track_of
from knead.core.model import Shape, Take
from knead.core.pairing.contours import are_holes
from knead.core.pairing.pairs import ShapePair

LIKE = 0.45  # an outline that strains less, cut open, is much the same form
HALF_WAY = np.array([0.5])
NECK = 0.02  # what is thinner than twice this, by the root of the area, does not hold a form together
WHOLE = 0.8  # the share of a form that must hold together


@dataclass(frozen=True)
class Holed:
    """Two shapes with holes in at least one, and the same cut open where the other has bays."""

    closed: tuple[Shape, Shape]
    opened: tuple[Shape, Shape]

    def made(self, plan: PairPlan) -> bool:
        """Whether a plan is of these shapes, either way."""
        return plan.made_of(*self.opened) or plan.made_of(*self.closed)

    def planned(self, take: Take, pair: ShapePair) -> PairPlan:
        """The better plan: holes open, unless another form comes of it than where they close, or it falls apart."""
        turn = 0.0 if pair.turning else None  # a ball turns aside, and not in the picture
        plan = plan_pair(*self.opened, take, pair, turn)
        if self.opened == self.closed:
            return plan
        whole = _whole(plan)
        if plan.strain < LIKE and whole > WHOLE:
            return plan
        other = plan_pair(*self.closed, take, pair, turn)
        better = plan.strain <= max(LIKE, other.strain) and whole >= min(WHOLE, _whole(other))
        return plan if better or _is_turned_out(other) else other


def _is_turned_out(plan: PairPlan) -> bool:
    """Whether a hole of one key is an edge of the other, since a hint ties them."""
    sides = [are_holes([track_of(c) for c in key.contours]) for key in (plan.paint.first, plan.paint.second)]
    met = [(c.first_contour, c.second_contour) for c in plan.contours]
    return any(sides[0][i] != sides[1][j] for i, j in met if i is not None and j is not None)


def _whole(plan: PairPlan) -> float:
    """The share of its area half way, without necks, that hangs together."""
    fill = shapely.Polygon()
    for (ring,) in plan.outlines(plan.points(HALF_WAY)):
        fill = fill.symmetric_difference(shapely.make_valid(shapely.Polygon(as_points(ring))))
    parts = shapely.area(shapely.get_parts(fill.buffer(-NECK * np.sqrt(fill.area))))
    return float(parts.max() / parts.sum()) if parts.size else 1.0
