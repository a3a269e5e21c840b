"""What a head hides that turns goes to its rim, as the far eye does; what it shows comes from there."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.blend.pair.plan import PairPlan
from knead.core.geometry.ball import TURNED, box_of, by_box, on_ball, seen
from knead.core.geometry.bezier import Floats, Ints

FEW = 3  # of fewer on it, no turn of a ball is told
REACH = 1.25  # how far off its middle what is on a ball may lie, by its half width: ears, and a nose
TELLS = 0.5  # how much nearer to where they are they must come by it than by any turn in the plane
ROUND = np.exp(1j * np.linspace(-np.pi, np.pi, 36, endpoint=False))  # turns in the plane, which tell of none
NEAR = 0.35  # how deep what goes to the rim would lie at most: turns are told roughly
RIM = 0.95  # how far out the rim is, by its half width

Placed = tuple[PairPlan, shapely.Geometry]


def round_rims(
    hulls: NDArray[np.object_], roots: Ints, pairs: Sequence[Placed], from_first: bool
) -> dict[int, tuple[complex, complex, str]]:
    """Where lone shapes, and what belongs to them, go round a rim: their places at both keys, and the shape it is of.

    `hulls` are those of lone shapes of one key, `roots` which of them each belongs to, `pairs` with their places there.
    """
    if not any(_on_ball(plan) for plan, _ in pairs):
        return {}
    lone = {k: _spot(hulls[k]) for k in sorted(set(roots.tolist()))}
    found: dict[int, tuple[complex, complex, str]] = {}
    for plan, place in sorted(pairs, key=lambda pair: -pair[1].area):
        if not any(place.intersects(hulls[k]) for k in lone):
            continue
        boxes = [box_of(side) for side in plan.body.hulls]
        turn = _turn_of(plan, boxes, [mate for mate, _ in pairs])
        if turn is None:
            continue
        here, there = boxes if from_first else boxes[::-1]
        for k, own in lone.items():
            (at,) = by_box(np.array([own]), here)
            spot = (turn if from_first else turn.T) @ on_ball(np.array([at]))
            if abs(at) < REACH and place.intersects(hulls[k]) and spot[2, 0] < NEAR:
                rim = complex(seen(spot)[0])
                far = there[0] + RIM * complex(rim.real * there[1].real, rim.imag * there[1].imag) / max(abs(rim), 1e-9)
                shape = plan.pair.ids(not from_first)[0]
                found[k] = (own, far, shape) if from_first else (far, own, shape)
    return found


def _turn_of(holder: PairPlan, boxes: list[tuple[complex, complex]], mates: Sequence[PairPlan]) -> Floats | None:
    """How a ball turns, (3, 3), if what lies on it in both keys tells."""
    bodies = [plan.body for plan in mates if _on_ball(plan) and plan.body.area < holder.body.area]
    ends = np.array([[_spot(side) for side in body.hulls] for body in bodies], dtype=complex).reshape(-1, 2)
    places = np.stack([by_box(ends[:, k], box) for k, box in enumerate(boxes)], axis=1)
    places = places[(np.abs(places) < REACH).all(axis=1)]
    if len(places) < FEW:
        return None
    flat, ball = (
        np.abs(way - places[:, 1]).mean(axis=1)
        for way in (ROUND[:, None] * places[:, 0], seen(TURNED @ on_ball(places[:, 0])))
    )
    best = int(np.argmin(ball))
    return TURNED[best] if ball[best] < TELLS * flat.min() else None


def _on_ball(plan: PairPlan) -> bool:
    return plan.pair.turning is not None and plan.pair.turning.on == "ball"


def _spot(place: shapely.Geometry) -> complex:
    return complex(place.centroid.x, place.centroid.y)
