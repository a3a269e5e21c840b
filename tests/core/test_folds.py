"""What has an edge that stays on a neighbour folds over it, and lines whose ends stay do not swing about."""

import math

import numpy as np
import pytest
import shapely

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Node, Shape, Take
from knead.core.snags.find import findings
from tests.forms import backwards, begun_at, drawing, filled, outline, polygon, recut, stroked, turned

TIMES = np.linspace(0.1, 0.9, 9)

BOX = polygon([(100, 100), (300, 100), (300, 240), (100, 240)])
FLAP = polygon([(100, 100), (300, 100), (200, 180)]), polygon([(100, 100), (200, 30), (300, 100)])
MAST = polygon([(200, 20), (200, 300)], closed=False)
SAIL = polygon([(200, 40), (290, 240), (200, 240)]), polygon([(200, 40), (200, 240), (90, 240)])


def reach(shape: Shape, point: tuple[float, float]) -> float:
    """How far an outline is from a point."""
    return float(np.min(np.linalg.norm(outline(shape.contours[0]) - np.array(point), axis=1)))


@pytest.mark.parametrize("degrees", [0, 35])
@pytest.mark.parametrize("redrawn", [False, True])
@pytest.mark.parametrize(
    ("holder", "forms", "edge"),
    [(filled(BOX), FLAP, ((100, 100), (300, 100))), (stroked(MAST), SAIL, ((200, 40), (200, 240)))],
)
def test_what_has_an_edge_that_stays_on_a_neighbour_folds_over_it(
    holder: Shape, forms: tuple[Contour, Contour], edge: tuple[tuple[float, float], ...], redrawn: bool, degrees: float
) -> None:
    one, two = forms
    if redrawn:
        one, two = recut(one, (0.4,)), backwards(begun_at(recut(two, (0.2, 0.8)), 2))
    there = holder.model_copy(update={"contours": (turned(holder.contours[0], degrees),)})
    first = drawing(holder, filled(one, color="#ddbb88"))
    plan = plan_span(first, drawing(there, filled(turned(two, degrees), color="#ddbb88")), Take())
    for t in TIMES:
        c, s = np.cos(np.radians(degrees * t)), np.sin(np.radians(degrees * t))
        body, flap = plan.at(float(t)).shapes
        corner = body.contours[0].nodes[0].at
        for end in edge:
            x, y = np.array(end) - holder.contours[0].nodes[0].at
            held = (corner[0] + c * x - s * y, corner[1] + s * x + c * y)
            assert reach(flap, held) < 0.01
    assert not findings(plan, Take(), TIMES.tolist()).snags, "that it is seen edge on is meant"


WING = polygon([(160, 214), (250, 214), (150, 60)]), polygon([(160, 214), (250, 214), (180, 340)])
PAGE = (
    polygon([(200, 100), (340, 104), (344, 300), (200, 310)]),
    polygon([(200, 100), (70, 108), (66, 298), (200, 310)]),
)


@pytest.mark.parametrize("redrawn", [False, True])
@pytest.mark.parametrize("forms", [WING, PAGE])
def test_what_goes_to_the_other_side_of_an_edge_that_stays_folds_over_it(
    forms: tuple[Contour, Contour], redrawn: bool
) -> None:
    one, two = forms
    edge = {tuple(node.at) for node in one.nodes} & {tuple(node.at) for node in two.nodes}
    if redrawn:
        one, two = recut(one, (0.4,)), backwards(begun_at(recut(two, (0.2, 0.8)), 2))
    plan = plan_span(drawing(filled(one)), drawing(filled(two)), Take())
    for t in TIMES:
        assert all(reach(plan.at(float(t)).shapes[0], end) < 0.01 for end in edge)
    assert not findings(plan, Take(), TIMES.tolist()).snags


def test_a_tile_that_moves_by_its_own_width_does_not_fold() -> None:
    frame = filled(polygon([(0, 0), (400, 0), (400, 200), (0, 200)]))
    tiles = [filled(polygon([(x, 50), (x + 100, 50), (x + 100, 150), (x, 150)]), color="#ddbb88") for x in (100, 200)]
    plan = plan_span(drawing(frame, tiles[0]), drawing(frame, tiles[1]), Take())
    half = outline(plan.at(0.5).shapes[1].contours[0])
    assert np.ptp(half, axis=0) == pytest.approx([100, 100])


def rope(looped: bool) -> Contour:
    """A level rope, or one with a loop laid in it, its ends at the same places."""
    if not looped:
        return polygon([(80, 600), (920, 600)], closed=False)
    rows = [
        ((80, 600), (80, 600), (400, 600)),
        ((700, 600), (660, 360), (620, 200)),
        ((380, 200), (360, 360), (340, 560)),
        ((600, 620), (920, 600), (920, 600)),
    ]
    return Contour(nodes=tuple(Node(before=a, at=b, after=c, kind="smooth") for a, b, c in rows))


@pytest.mark.parametrize("forward", [True, False])
def test_a_loop_in_a_line_whose_ends_stay_is_drawn_together(forward: bool) -> None:
    keys = [drawing(stroked(rope(looped))) for looped in (False, True)]
    plan = plan_span(*(keys if forward else keys[::-1]), Take())
    for t in TIMES:
        nodes = plan.at(float(t)).shapes[0].contours[0].nodes
        assert np.array([nodes[0].at, nodes[-1].at]) == pytest.approx(np.array([(80, 600), (920, 600)]), abs=1e-6)


def coiled(turn: float) -> Contour:
    """A line as long as any other whose direction changes evenly, by a turn in all, on from one that is wavy."""
    shares = np.linspace(0, 1, 41)
    headings = turn * shares + (1 - turn / 12) * 1.3 * np.sin(3 * np.pi * shares)
    steps = 10 * np.exp(1j * 0.5 * (headings[1:] + headings[:-1]))
    points = np.concatenate([[0], np.cumsum(steps)])
    return polygon([(p.real + 200, p.imag + 200) for p in points.tolist()], closed=False)


def test_a_snake_coils_up_without_a_kink_and_keeps_its_length() -> None:
    plan = plan_span(drawing(stroked(coiled(0.0))), drawing(stroked(coiled(12.0))), Take())
    for t in TIMES:
        z = outline(plan.at(float(t)).shapes[0].contours[0], 4) @ [1, 1j]
        steps = np.diff(z)
        assert np.abs(steps).sum() == pytest.approx(400, rel=0.04)
        bends = np.abs(np.angle(steps[8:] * np.conj(steps[:-8])))
        assert bends.max() < 1.2


def chest(opened: float, wide: float, deep: float) -> dict[str, list[tuple[float, float]]]:
    """The corners of the faces of a chest whose lid has turned by so many radians about the far edge of its rim."""

    def at(x: float, y: float, z: float) -> tuple[float, float]:
        return 200 + x + 0.5 * z, 300 - y - 0.3 * z

    # how high the edge of the lid is, and how far back
    front = 80 + math.sin(opened) * deep, deep - math.cos(opened) * deep
    straps = [(x - 8, x + 8) for x in (-0.6 * wide, 0.6 * wide)]
    rim = [at(-wide, 80, 0), at(wide, 80, 0), at(wide, 80, deep), at(-wide, 80, deep)]
    faces = {"inside": rim, "lid": [at(-wide, *front), at(wide, *front), *rim[2:]]}
    faces["front"] = [at(-wide, 0, 0), at(wide, 0, 0), at(wide, 80, 0), at(-wide, 80, 0)]
    for k, (a, b) in enumerate(straps):
        faces[f"strap {k}"] = [at(a, 0, 0), at(b, 0, 0), at(b, 80, 0), at(a, 80, 0)]
        faces[f"lid's strap {k}"] = [at(a, *front), at(b, *front), at(b, 80, deep), at(a, 80, deep)]
    return faces


@pytest.mark.parametrize(("opened", "wide", "deep"), [(0.35, 100, 50), (0.05, 110, 65), (0.2, 90, 75), (0.45, 120, 55)])
@pytest.mark.parametrize("to", [1.1, 1.8])
def test_the_lid_of_a_chest_opens_about_its_hinge_and_the_chest_stays(
    opened: float, wide: float, deep: float, to: float
) -> None:
    faces = chest(opened, wide, deep), chest(to, wide, deep)
    colors = {"inside": "#442211", "lid": "#cc9944", "front": "#bb8833"}
    first, second = (
        drawing(*(filled(polygon(corners), color=colors.get(name, "#776655")) for name, corners in each.items()))
        for each in faces
    )
    plan = plan_span(first, second, Take())
    order = {pair.identity: [shape.id for shape in first.shapes].index(pair.first_id or "") for pair in plan.pairs}
    for t in (0.3, 0.5, 0.7):
        between = sorted(plan.at(t).shapes, key=lambda shape: order[shape.id])
        for shape, (name, corners) in zip(between, faces[0].items(), strict=True):
            kept = corners[2:] if "lid" in name else corners
            assert max(reach(shape, corner) for corner in kept) < 0.5, name
            face = shapely.Polygon(outline(shape.contours[0]))
            assert face.convex_hull.area - face.area < 0.03 * shapely.Polygon(faces[1][name]).area, name
