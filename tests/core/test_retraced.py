"""A line that is drawn in parts in the other key, in its place: they draw back along it, and it closes again."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.geometry.bezier import contour_of, cut, path_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Drawing, Hint, HintEnd, Point, Shape, Take
from tests.examples import few
from tests.forms import arc, backwards, begun_at, drawing, ellipse, filled, outline, recut, stroked, turned, wave

CENTRE, RADIUS = complex(200, 200), 100.0


def face(lines: list[Contour], start: int = 0, one_path: bool = False) -> tuple[Drawing, list[Shape]]:
    strokes = [stroked(*lines)] if one_path else [stroked(line) for line in lines]
    return drawing(filled(ellipse(200, 200, 100, 100), color="#ffcc44"), *strokes[start:], *strokes[:start]), strokes


def inked(plan: SpanPlan, t: float) -> shapely.Geometry:
    lines = [c for s in plan.at(t).shapes if s.fill is None and s.stroke for c in s.contours]
    return shapely.union_all([shapely.LineString(outline(line)) for line in lines])


@few
@given(
    st.lists(st.floats(20, 55), min_size=1, max_size=3) | st.lists(st.floats(60, 165), min_size=1, max_size=1),
    st.floats(0, 360),
    st.integers(0, 3),
    st.booleans(),
    st.booleans(),
)
@example([20.0, 20.0], 0.0, 0, False, False)
@example([120.0], 30.0, 0, True, False)  # much of it is hidden
@example([40.0, 40.0], 20.0, 0, True, False)  # the ring is cut at nodes of it
@example([36.0], 0.0, 0, True, False)  # and just beside the end of the part
@example([37.0], 0.0, 2, False, False)  # what grows waits at the end of the part, which is one node
def test_a_ring_opens_where_something_will_hide_it_and_closes_again(
    gaps: list[float], first_at: float, order: int, opens: bool, one_path: bool
) -> None:
    """However the ring is cut, begun and run through, and in whatever order its parts are drawn, or as one path."""
    share = (360 - sum(gaps)) / len(gaps)
    starts = [first_at + sum(gaps[:k]) + k * share for k in range(len(gaps))]
    parts = [arc(start, start + share) for start in starts]
    parts = [backwards(part) if k % 2 else part for k, part in enumerate(parts)]
    ring = begun_at(recut(ellipse(200, 200, 100, 100), [0.3, 0.61]), order)
    whole, (line,) = face([backwards(ring) if order % 2 else ring])
    parted, strokes = face(parts, order % len(parts), one_path)
    plan = plan_span(*((whole, parted) if opens else (parted, whole)), Take())
    pairs = {(p.pair.first, p.pair.second)[:: 1 if opens else -1] for p in plan.pairs}
    assert {(line.id, stroke.id) for stroke in strokes} <= pairs
    lengths = []
    for t in (0.0, 0.25, 0.5, 0.75, 1.0):
        seen = inked(plan, t if opens else 1.0 - t)
        away = np.abs(shapely.get_coordinates(seen) @ [1, 1j] - CENTRE)
        assert np.abs(away - RADIUS).max() < 1.0, "all of it stays on the ring"
        lengths.append(seen.length)
    assert lengths[0] == pytest.approx(2 * math.pi * RADIUS, rel=0.01)
    assert lengths[-1] == pytest.approx(math.radians(360 - sum(gaps)) * RADIUS, rel=0.01)
    assert np.all(np.diff(lengths) < 0), "it draws back bit by bit"
    names = [n.id for s in plan.at(0.5).shapes for c in s.contours for n in c.nodes]
    assert len(set(names)) == len(names), "it can be kept as a drawing"


def test_what_swings_beside_a_line_and_where_that_ends_do_not_matter() -> None:
    """A mask that becomes a spoon: the face behind both is drawn from 200 to 500 degrees, and in two parts."""
    whole, (line,) = face([arc(200, 500)])
    parted, strokes = face([arc(190, 340), arc(20, 160)])
    mask = filled(turned(ellipse(0, 0, 70, 40), 0, 1.0, (200, 240)), color="#ffffff")
    spoon = filled(turned(ellipse(0, 0, 60, 12), -50, 1.0, (260, 230)), color="#ffffff")
    plan = plan_span(drawing(*parted.shapes, mask), drawing(*whole.shapes, spoon), Take())
    assert {(stroke.id, line.id) for stroke in strokes} <= {(p.first_id, p.second_id) for p in plan.pairs}
    for t in (0.25, 0.5, 0.75):
        away = np.abs(shapely.get_coordinates(inked(plan, t)) @ [1, 1j] - CENTRE)
        assert np.abs(away - RADIUS).max() < 1.0


def test_a_line_that_a_tool_began_and_ended_with_a_hair_is_exact_at_its_keys() -> None:
    """Two nodes at either end, a millionth of the line apart."""
    other, ring = arc(20, 160), path_of(recut(ellipse(200, 200, 100, 100), [0.3, 0.61]))
    hair = contour_of(cut(ring, np.array([0.999999, 1, 2, 3, 4, 5, 5.000003])), False)
    for first, second in ((hair, other), (other, hair)):
        plan = plan_span(drawing(stroked(first)), drawing(stroked(second)), Take())
        for t, key in ((0.0, first), (1.0, second)):
            found = outline(plan.at(t).shapes[0].contours[0])
            assert shapely.hausdorff_distance(shapely.LineString(found), shapely.LineString(outline(key))) < 0.5


def test_an_open_line_keeps_its_ends_and_its_width() -> None:
    line = wave(6, 400)
    nodes = [n.model_copy(update={"weight": 1.0 + 0.5 * k}) for k, n in enumerate(line.nodes)]
    whole = stroked(line.model_copy(update={"nodes": tuple(nodes)}))
    parts = [stroked(line.model_copy(update={"nodes": line.nodes[a : b + 1]})) for a, b in ((0, 2), (3, 5))]
    fresh = [recut(part.contours[0], [0.4]) for part in parts]
    second = [
        stroked(c.model_copy(update={"nodes": tuple(n.model_copy(update={"id": f"{i}{n.id}"}) for n in c.nodes)}))
        for i, c in enumerate(fresh)
    ]
    plan = plan_span(drawing(whole), drawing(*second), Take())
    assert [p.pair.kind for p in plan.pairs] == ["divides", "divides"]
    shapes = plan.at(0.001).shapes
    ends = sorted(tuple(s.contours[0].nodes[k].at) for s in shapes for k in (0, -1))
    assert np.allclose(ends[0], line.nodes[0].at, atol=1)
    assert np.allclose(ends[-1], line.nodes[-1].at, atol=1)
    weights = [n.weight for s in shapes for n in s.contours[0].nodes]
    assert (min(weights), max(weights)) == pytest.approx((1.0, 3.5), abs=0.01)


def test_lines_elsewhere_and_hints_say_something_else() -> None:
    whole, (line,) = face([ellipse(200, 200, 100, 100)])
    arcs = [arc(10, 160), arc(190, 340)]
    moved, _ = face([turned(part, 0, move=(160, 90)) for part in arcs])
    assert "divides" not in {p.pair.kind for p in plan_span(whole, moved, Take()).pairs}
    parted, _ = face(arcs)
    mouth = stroked(ellipse(200, 240, 40, 20))
    parted = drawing(*parted.shapes, mouth)
    tie = Hint(first=HintEnd(shape=line.id, at=Point(300, 200)), second=HintEnd(shape=mouth.id, at=Point(240, 240)))
    plan = plan_span(whole, parted, Take(hints=(tie,)))
    assert (line.id, mouth.id) in {(p.first_id, p.second_id) for p in plan.pairs}
    assert not plan.troubles
