"""A shape as a whole: how it goes from key to key, and how much room it takes."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from knead.core.geometry import similarity
from knead.core.geometry.bezier import Complexes, Floats, following
from knead.core.geometry.hull import hull
from knead.core.geometry.route import Ride
from knead.core.outline.contour_plan import ContourPlan

RIDES = 0.3  # how far, by its size, another shape may be taken from where it goes
ROUND = 0.03  # how unlike the radii of a round form may be, by their mean
STILL, SMALL = 0.06, 0.3  # what moves less than this by its size stands still; and what is so, drawn by a hand
FEW = 24  # so many points at most tell how a form rests on another
HAIR = 1e-6  # how broad a line counts, by its size
FLAT = 0.05  # what has less area than this share of a circle's of its length is taken as a line


@dataclass(frozen=True)
class Body:
    """A shape as far as its motion goes: its outline points at both keys, its similarity, and its middle's places.

    `nodes` are where its nodes are at the first key. `turns` and `path` are what an animator wants besides: whole
    rounds more, and handles of a drawn path of travel. `ride` is its way along a line that stays, or that of the
    stretch of a neighbour that it sits on, if that bends: then it turns `about` as far. What is `alone` hangs on
    nothing; what is `turning` lies on something that turns. A `line` has no fill. What goes `straight` does so with
    all its points: a graph, up and down in its columns, or a side of a box. What is off by no more than `hand`, in
    scene units, may be meant to be where it was. `tips` are the ends of its lines at both keys.
    """

    first: Complexes
    second: Complexes
    nodes: Complexes
    motion: tuple[complex, complex]
    start: complex
    end: complex
    turns: int = 0
    path: tuple[complex, complex] | None = None
    ride: Ride | None = None
    about: float | None = None
    alone: bool = False
    turning: bool = False
    line: bool = False
    straight: bool = False
    hand: float = 0.0
    tips: tuple[tuple[complex, ...], tuple[complex, ...]] = ((), ())

    @cached_property
    def hulls(self) -> tuple[shapely.Geometry, shapely.Geometry]:
        """Its convex hulls at the keys."""
        one, two = (np.append(*each) for each in zip((self.first, self.second), self.tips, strict=True))
        return hull(one), hull(two)

    @cached_property
    def hairs(self) -> tuple[shapely.Geometry, shapely.Geometry]:
        """Its hulls at the keys, made broader by a hair: its share on a ground is then one of area, be it a line."""
        first, second = shapely.buffer(self.hulls, HAIR * self.size)
        return first, second

    @cached_property
    def area(self) -> float:
        """That of the hull of its points at the first key: what is larger by it carries what is smaller."""
        return float(hull(self.first).area)

    @cached_property
    def spots(self) -> NDArray[np.object_]:
        """A few of its points at the keys, for Shapely; (2, points)."""
        every = -(-len(self.first) // FEW)
        places = np.array([self.first[::every], self.second[::every]])
        return np.asarray(shapely.points(places.real, places.imag))

    @cached_property
    def size(self) -> float:
        """Root of the mean squared distance from the middle at the first key."""
        return float(np.sqrt(np.mean(np.abs(self.first - self.first.mean()) ** 2)))

    @cached_property
    def still(self) -> bool:
        """Whether its points stay where they are."""
        least = max(STILL * self.size, min(self.hand, SMALL * self.size))
        return float(np.abs(self.second - self.first).mean()) < least

    @cached_property
    def round(self) -> bool:
        """Whether its points lie about as far from their middle, all of them, at both keys."""
        return all(self.round_at)

    @cached_property
    def round_at(self) -> tuple[bool, bool]:
        """The same at each key: there it has no end that could be at a joint."""
        radii = [np.abs(self.first - self.start), np.abs(self.second - self.end)]
        first, second = (float(np.ptp(row)) < ROUND * float(row.mean()) for row in radii)
        return first, second

    @cached_property
    def bend(self) -> float:
        """How far its points end from where its similarity takes them, by its size there: root of the mean square."""
        a, b = self.motion
        gaps = np.abs(a * self.first + b - self.second)
        return float(np.sqrt(np.mean(gaps**2))) / max(self.size * abs(a), 1e-9)

    @cached_property
    def affine(self) -> tuple[complex, complex, complex]:
        """Its best affine map z -> a z + b conj(z) + c: how it turns and is stretched, or turned over, as a whole."""
        middle = self.first.mean()
        spread = self.first - middle
        sides = np.stack([spread, spread.conj(), np.ones_like(spread)], axis=1)
        turn, stretch, there = np.linalg.lstsq(sides, self.second, rcond=None)[0].tolist()
        return turn, stretch, there - turn * middle - stretch * middle.conjugate()

    def takes(self, other: "Body") -> bool:
        """Whether its turn and stretch take another's middle about where that goes."""
        turn, stretch, move = self.affine
        return abs(turn * other.start + stretch * other.start.conjugate() + move - other.end) < RIDES * other.size


def body_of(plans: list[ContourPlan]) -> Body:
    """The shape of these contours, as far as they have partners; its middle is that of the longest of them."""
    paired = [(plan.samples(), plan.closed) for plan in plans if plan.cuts is not None]
    first, second, weights = (np.concatenate(parts) for parts in zip(*(found for found, _ in paired), strict=True))
    (one, two, lengths), closed = max(paired, key=lambda each: float(each[0][2].sum()))
    middles = _middle(one, lengths, closed), _middle(two, lengths, closed)
    nodes = np.concatenate([plan.first[:, 1] for plan in plans if plan.cuts is not None])
    ends = [(p.first[[0, -1], 1], p.second[[0, -1], 1]) for p in plans if p.cuts is not None and not p.closed]
    tips = [tuple(complex(z) for row in ends for z in row[k]) for k in (0, 1)]
    motion = similarity.fit(first, second, weights)
    return Body(first, second, nodes, motion, *middles, tips=(tips[0], tips[1]))


def is_flat(points: Complexes) -> bool:
    """Whether a ring through points encloses hardly anything, as a line that goes there and back."""
    after = following(points)
    inside, around = 0.5 * abs((points.conj() * after).imag.sum()), float(np.abs(after - points).sum())
    return bool(inside <= FLAT * around**2 / (4 * np.pi))


def _middle(points: Complexes, weights: Floats, closed: bool) -> complex:
    """The centre of the area that points go round; of what goes round hardly any, their mean by length."""
    after = following(points)
    slices = (points.conj() * after).imag
    if not closed or is_flat(points):
        return complex(np.average(points, weights=weights if weights.any() else None))
    return complex((points + after) @ slices / (3 * slices.sum()))
