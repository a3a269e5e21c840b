"""Lines that were cut, joined, closed or turned round in a key that was made from the other."""

import math
from collections.abc import Sequence

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from knead.core.edit import Operation, Work
from knead.core.geometry.bezier import area, path_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Drawing, Take
from tests.examples import few
from tests.forms import arc, drawing, drawn, ellipse, filled, outline, smooth, stroked, turned, wave, work_of

operation: TypeAdapter[Operation] = TypeAdapter(Operation)
TIMES = (0.0, 0.2, 0.4, 0.6, 0.8, 1.0)


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python({"key": "k2", **fields}).apply(work)


def copied(contour: Contour) -> Work:
    """A line, and a key that was made from it."""
    line = drawing(stroked(contour))
    return work_of(line, line)


def nodes(work: Work) -> list[str]:
    return [node for shape in work.drawing("k2").shapes for node in shape.node_ids]


def swung(work: Work, turns: Sequence[float]) -> Work:
    """Each piece of the second key turned about its middle, and moved down."""
    for shape, degrees in zip(work.drawing("k2").shapes, turns, strict=True):
        x, y = outline(shape.contours[0]).mean(axis=0)
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        matrix = (c, s, -s, c, x - c * x + s * y, y - s * x - c * y + 40.0)
        work = do(work, type="transform_shapes", shapes=[shape.id], matrix=matrix)
    return work


def lengths(plan: SpanPlan, t: float) -> list[float]:
    """Of all pieces, the shortest first."""
    return sorted(shapely.LineString(outline(shape.contours[0])).length for shape in plan.at(t).shapes)


def both_ways(first: Drawing, second: Drawing) -> list[SpanPlan]:
    return [plan_span(first, second, Take()), plan_span(second, first, Take())]


@few
@given(st.sets(st.integers(1, 5), min_size=1, max_size=3), st.booleans(), st.lists(st.floats(-80, 80), min_size=4))
@example({1, 3}, True, [0.0, 60.0, -60.0, 0.0])
def test_a_line_that_was_cut_comes_apart_there_and_no_piece_grows(cuts: set[int], ring: bool, by: list[float]) -> None:
    """A rope that snaps. A ring that is cut once is a line."""
    work = copied(smooth([(0, 0), (90, -30), (200, 10), (260, 90), (150, 160), (40, 120)]) if ring else wave(7, 500))
    here = nodes(work)
    for k in sorted(cuts):
        work = do(work, type="split_line", nodes=[here[k]])
    pieces = work.drawing("k2").shapes
    work = swung(work, by[: len(pieces)])
    whole, apart = work.drawing("k1"), work.drawing("k2")
    for plan in both_ways(whole, apart):
        cut = [1.0 - t if plan.first is apart else t for t in TIMES]
        found = [lengths(plan, t) for t in cut]
        assert len(found[0]) == len(pieces)
        assert np.array(found) == pytest.approx(np.tile(found[0], (len(cut), 1)), rel=0.02)
        line = shapely.LineString(outline(whole.shapes[0].contours[0], 16))
        assert shapely.hausdorff_distance(drawn(plan.at(cut[0])), line) < 0.1, "at its key it is in one piece"


def test_two_lines_that_were_joined_grow_towards_each_other() -> None:
    one, two = wave(4, 150), turned(wave(4, 150), 0, 1.0, (200, 80))
    work = work_of(drawing(stroked(one), stroked(two)), drawing(stroked(one), stroked(two)))
    joined = do(work, type="join_ends", nodes=[one.nodes[-1].id, two.nodes[0].id])
    for plan in both_ways(joined.drawing("k1"), joined.drawing("k2")):
        assert len(plan.at(0.5).shapes) == 2
        each = np.array([lengths(plan, t) for t in TIMES[:: -1 if plan.first is joined.drawing("k2") else 1]])
        assert np.all(np.diff(each, axis=0) > 0.0), "neither shrinks, and both go half of the way"
        assert np.ptp(each[-1] - each[0]) < 1.0


def test_a_line_that_was_closed_closes_from_both_ends() -> None:
    work = copied(wave(5, 200, 100))
    closed = do(work, type="close_lines", shapes=[work.drawing("k2").shapes[0].id], closed=True)
    line, ring = closed.drawing("k1"), closed.drawing("k2")
    for plan in both_ways(line, ring):
        for t in TIMES[1:-1]:
            seen = drawn(plan.at(t))
            assert shapely.hausdorff_distance(drawn(line), shapely.intersection(seen, drawn(line).buffer(0.5))) < 1.0
            assert drawn(ring).buffer(0.5).contains(seen), "nothing goes there and back along the line"


def test_a_leaf_whose_direction_was_turned_is_the_leaf() -> None:
    """It has two nodes, whose order is the same either way round."""
    top, bottom = arc_of(60.0), arc_of(-40.0)
    leaf = Contour(nodes=(top.nodes[0], top.nodes[1].model_copy(update={"after": bottom.nodes[1].before})), closed=True)
    leaf = leaf.model_copy(
        update={"nodes": (leaf.nodes[0].model_copy(update={"before": bottom.nodes[0].after}), leaf.nodes[1])}
    )
    key = drawing(filled(leaf))
    work = do(work_of(key, key), type="turn_direction", shapes=[key.shapes[0].id])
    work = swung(work, [40.0])
    plan = work.plan("k1")
    sizes = [abs(area(path_of(plan.at(t).shapes[0].contours[0]))) for t in TIMES]
    assert sizes == pytest.approx([sizes[0]] * len(sizes), rel=1e-3)


def arc_of(height: float) -> Contour:
    """A bow from (0, 0) to (200, 0)."""
    ends = ((0.0, 0.0), (60.0, height)), ((200.0, 0.0), (140.0, height))
    return Contour.model_validate({"nodes": [{"at": at, "before": way, "after": way} for at, way in ends]})


@pytest.mark.parametrize("sweep", [220, 260, 320])
@pytest.mark.parametrize("start", [0, 40, 130])
def test_a_c_closes_to_a_ring_at_its_gap(sweep: float, start: float) -> None:
    """Wherever the nodes of the ring are; a smile, which goes less far round, opens like a mouth."""
    line = arc(start, start + sweep, 100 + 100j, 80)
    plan = plan_span(drawing(stroked(line)), drawing(stroked(ellipse(260, 240, 100, 100))), Take())
    for t in TIMES[1:-1]:
        line = outline(plan.at(t).shapes[0].contours[0])
        gap = complex(*(line[[0, -1]].mean(axis=0) - (100 + 160 * t, 100 + 140 * t)))
        assert abs(np.angle(gap * np.exp(-1j * math.radians(start + sweep / 2 + 180)))) < 0.2
        assert shapely.Polygon(line).area > 0.6 * math.pi * (80 + 20 * t) ** 2


def test_a_ring_of_which_a_stretch_is_hidden_is_not_taken_for_another_ring() -> None:
    """A head that moves under a hat, and a balloon that comes."""
    head, face = stroked(ellipse(200, 200, 100, 100)), stroked(arc(-20, 230, 240 + 215j, 88))
    eyes = [filled(ellipse(x, 190, 8, 12)) for x in (170, 230)], [filled(ellipse(x, 206, 7, 11)) for x in (214, 266)]
    balloon = stroked(ellipse(380, 120, 55, 70))
    for plan in both_ways(drawing(head, *eyes[0]), drawing(face, *eyes[1], balloon)):
        pairs = {frozenset([pair.first_id, pair.second_id]) for pair in plan.pairs}
        assert {frozenset([head.id, face.id]), frozenset([None, balloon.id])} <= pairs
