"""What is tied is obeyed, exactly; what is tied as it would be anyway changes nothing."""

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.geometry.track import track_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Hint, HintEnd, Node, PairChoice, Take
from knead.core.outline.hints import consistent
from tests.core.test_cuts import CUTS, LINES, key
from tests.core.test_outlines import barred
from tests.examples import few
from tests.forms import apart, blob, by_hand, drawing, drawn, ellipse, filled, outline, polygon, star, turned

radii = st.lists(st.floats(40, 120), min_size=5, max_size=9)


def hint(first: Drawing, a: tuple[float, float], second: Drawing, b: tuple[float, float], name: str = "hint") -> Hint:
    ends = [HintEnd(shape=d.shapes[0].id, at=p) for d, p in ((first, a), (second, b))]
    return Hint(first=ends[0], second=ends[1], name=name)


def as_today(plan: SpanPlan, shape: str, node: Node) -> Hint:
    """A hint that ties a node of the first key to where it goes by the plan."""
    found = plan.partner(shape, np.array(node.at), True)
    assert found is not None
    return Hint(first=HintEnd(shape=shape, at=node.at), second=HintEnd(shape=found[0], at=found[1]))


@few
@given(st.integers(0, 9), st.integers(0, 4), st.sampled_from(["direct", "arc"]))
def test_a_hint_is_honoured_exactly_at_every_time(tip: int, corner: int, blend: str) -> None:
    first, second = drawing(filled(star(5))), drawing(filled(blob([90, 60, 100, 70, 80])))
    a, b = first.shapes[0].contours[0].nodes[tip].at, second.shapes[0].contours[0].nodes[corner].at
    plan = plan_span(first, second, Take(hints=(hint(first, a, second, b),), blend=blend))
    index = next(
        k for k, n in enumerate(plan.at(0.0).shapes[0].contours[0].nodes) if n.at == pytest.approx(a, abs=1e-6)
    )
    for t in (0.25, 0.5, 1.0):
        here = np.array(plan.at(t).shapes[0].contours[0].nodes[index].at)
        if blend == "direct":
            assert here == pytest.approx((1 - t) * np.array(a) + t * np.array(b), abs=1e-6)
    assert here == pytest.approx(b, abs=1e-6)
    assert plan.troubles == ()


@few
@given(st.lists(st.tuples(st.floats(0, 0.999), st.floats(0, 0.999)), min_size=1, max_size=5), st.booleans())
def test_whatever_is_tied_there_is_an_inbetween_that_keeps_the_keys(
    shares: list[tuple[float, float]], crowded: bool
) -> None:
    first, second = barred(30), turned(star(6, 0.45), 20, 1.4, (40, 10))
    a, b = filled(first), filled(second)
    one, two = (track_of(contour) for contour in (first, second))
    hints = []
    for k, (s, t) in enumerate(shares):
        places = ((s / 50, t / 50) if crowded else (s, t))[:: -1 if k % 2 else 1]
        ends = [track.points(np.array([share]))[0] for track, share in zip((one, two), places, strict=True)]
        hints.append(Hint(first=HintEnd(shape=a.id, at=tuple(ends[0])), second=HintEnd(shape=b.id, at=tuple(ends[1]))))
    plan = plan_span(drawing(a), drawing(b), Take(hints=tuple(hints)))
    for t, outer in ((0.0, first), (1.0, second)):
        assert apart(outer, plan.at(t).shapes[0].contours[0]) < 1e-6
    assert np.isfinite(outline(plan.at(0.5).shapes[0].contours[0])).all()


def test_hints_in_crossing_order_are_named_and_the_rest_is_used() -> None:
    first, second = drawing(filled(star(5))), drawing(filled(star(5, 0.7, at=(420, 220))))
    nodes = [d.shapes[0].contours[0].nodes for d in (first, second)]
    pairs = [(0, 0, "crown"), (2, 2, "right"), (4, 8, "left foot"), (6, 4, "jaw"), (8, 6, "chin")]
    hints = tuple(hint(first, nodes[0][a].at, second, nodes[1][b].at, name) for a, b, name in pairs)
    plan = plan_span(first, second, Take(hints=hints))
    assert [t.hint for t in plan.troubles] == [hints[2].id]
    assert "left foot" in plan.troubles[0].text


def test_a_hint_that_says_what_another_does_is_said_to_add_nothing() -> None:
    first, second = drawing(filled(star(5))), drawing(filled(star(5, 0.7, at=(420, 220))))
    a, b = (key.shapes[0].contours[0].nodes[2].at for key in (first, second))
    plan = plan_span(first, second, Take(hints=(hint(first, a, second, b, "tip"), hint(first, a, second, b, "again"))))
    (trouble,) = plan.troubles
    assert trouble.text == "Hint 'again' ties the same two points as hint 'tip', so it adds nothing. Remove it?"


@few
@given(st.permutations(range(6)), st.floats(0, 1))
def test_the_largest_consistent_set_of_ties_follows_one_order(order: list[int], turn: float) -> None:
    ties = np.array([[k / 6, (order[k] / 6 + turn) % 1.0] for k in range(6)])
    kept = consistent(ties, closed=True)
    steps = np.mod(np.diff(ties[[*kept, kept[0]], 1]), 1.0)
    assert min(steps.sum(), (1 - steps[steps > 0]).sum()) == pytest.approx(1.0)
    assert len(kept) >= 3


def test_a_hint_whose_shape_is_gone_is_reported() -> None:
    first, second = drawing(filled(star())), drawing(filled(ellipse(300, 200, 80, 60)))
    lost = Hint(
        first=HintEnd(shape="nowhere", at=(0, 0)), second=HintEnd(shape=second.shapes[0].id, at=(0, 0)), name="ear"
    )
    plan = plan_span(first, second, Take(hints=(lost,)))
    assert "ear" in plan.troubles[0].text
    assert len(plan.pairs) == 1


def test_three_hints_in_the_other_order_turn_a_form_over() -> None:
    one = polygon([(0, 0), (200, 0), (200, 100), (0, 140)])
    a, b = filled(one), filled(turned(one, 0, move=(300, 0)))
    corners = [n.at for n in one.nodes]
    ends = [(corners[k], (corners[j][0] + 300, corners[j][1])) for k, j in ((0, 1), (1, 0), (2, 3), (3, 2))]
    hints = tuple(Hint(first=HintEnd(shape=a.id, at=p), second=HintEnd(shape=b.id, at=q)) for p, q in ends)
    plan = plan_span(drawing(a), drawing(b), Take(hints=hints))
    assert plan.troubles == ()
    places = {k: plan.partner(a.id, np.array(corners[k]), True) for k in range(4)}
    assert all(found and found[1] == pytest.approx(ends[k][1], abs=0.01) for k, found in places.items())


@few
@given(radii, st.floats(0.0, 12.0), st.floats(-150, 150), st.integers(0, 4), st.integers(0, 99))
def test_a_hint_where_a_point_of_an_outline_goes_anyway_changes_nothing(
    form: list[float], most: float, degrees: float, missing: int, node: int
) -> None:
    noise = np.random.default_rng(node)
    other = [r for k, r in enumerate(form) if k != missing or len(form) < 6]
    a, b = filled(blob(form)), filled(turned(by_hand(blob(other), noise, most), degrees))
    free = plan_span(drawing(a), drawing(b), Take())
    tie = as_today(free, a.id, a.contours[0].nodes[node % len(form)])
    tied = plan_span(drawing(a), drawing(b), Take(hints=(tie,)))
    assert tied.troubles == ()
    assert apart(*(plan.at(0.5).shapes[0].contours[0] for plan in (free, tied))) < 0.01


@few
@given(radii, st.floats(0.02, 0.08), st.integers(0, 99), st.integers(1, 4))
@example([105.0, 70.0, 75.0, 82.0, 107.0, 41.0, 47.0, 54.0], 0.0234375, 67, 2)
def test_nor_does_one_where_a_point_goes_by_the_hints_before_it(
    form: list[float], along: float, node: int, farther: int
) -> None:
    noise = np.random.default_rng(node)
    a, b = filled(blob(form)), filled(by_hand(blob(form), noise, 25.0))
    nodes = a.contours[0].nodes
    tie = as_today(plan_span(drawing(a), drawing(b), Take()), a.id, nodes[node % len(nodes)])
    track = track_of(b.contours[0])
    share = track.shares(np.array([track.nearest(np.array(tie.second.at))[0]]))
    moved = tie.model_copy(update={"second": HintEnd(shape=b.id, at=tuple(track.points(share + along)[0]))})
    led = plan_span(drawing(a), drawing(b), Take(hints=(moved,)))
    more = as_today(led, a.id, nodes[(node + farther) % len(nodes)])
    plan = plan_span(drawing(a), drawing(b), Take(hints=(moved, more)))
    assert apart(*(each.at(0.5).shapes[0].contours[0] for each in (led, plan))) < 0.01


LINES_CUT = st.tuples(
    st.permutations(range(5)).map(lambda row: row[:3]),
    st.floats(0.15, 0.55),
    CUTS,
    CUTS,
    st.lists(st.tuples(st.integers(0, 9), st.integers(0, 6)), min_size=1, max_size=3),
)
Cut = tuple[list[int], float, list[set[int]], list[set[int]], list[tuple[int, int]]]


@few
@given(LINES_CUT)
def test_hints_where_lines_go_anyway_change_nothing_however_they_are_cut(lines: Cut) -> None:
    which, amount, first, second, picks = lines
    one, two = key(which, 1e-6, first), key(which, amount, second)
    free = plan_span(one, two, Take())
    shapes = [one.shapes[k % len(one.shapes)] for k, _ in picks]
    nodes = [shape.contours[0].nodes for shape in shapes]
    ties = [as_today(free, s.id, row[n % len(row)]) for s, row, (_, n) in zip(shapes, nodes, picks, strict=True)]
    tied = plan_span(one, two, Take(hints=tuple(ties)))
    middles = [plan.at(0.5) for plan in (free, tied)]
    assert drawn(middles[0]).hausdorff_distance(drawn(middles[1])) < 1
    assert len(middles[0].shapes) == len(middles[1].shapes)


@few
@given(LINES_CUT)
def test_true_hints_on_strokes_of_one_line_leave_it_one_line(lines: Cut) -> None:
    which, amount, first, second, picks = lines
    keys = key(which, 1e-6, first), key(which, amount, second)
    ties = []
    for line, corner in picks:
        inner = 1 + corner % (len(LINES[which[line % 3]]) - 2)
        ends = [_corner(own, which, line % 3, inner, a) for own, a in zip(keys, (1e-6, amount), strict=True)]
        ties.append(Hint(first=ends[0], second=ends[1], name=f"{line} {corner}"))
    uncut: list[set[int]] = [set()] * 3
    whole = plan_span(key(which, 1e-6, uncut), key(which, amount, uncut), Take()).at(0.5)
    found = plan_span(*keys, Take(hints=tuple(ties))).at(0.5)
    assert drawn(found).hausdorff_distance(drawn(whole)) < 25


def _corner(own: Drawing, which: list[int], line: int, corner: int, amount: float) -> HintEnd:
    """A corner of one of the lines, on a stroke of the key that has it."""
    at = key(which, amount, [set()] * 3).shapes[line].contours[0].nodes[corner].at
    shape = next(s for s in own.shapes if any(n.at == pytest.approx(at, abs=1e-6) for n in s.contours[0].nodes))
    return HintEnd(shape=shape.id, at=at)


def test_hints_on_a_shape_that_divides_leave_it_divided() -> None:
    drop, beside = filled(ellipse(300, 200, 90, 60)), [filled(ellipse(x, 600, 30, 30), color="#993311") for x in (0, 5)]
    halves = [filled(ellipse(x, 210, 58, 58)) for x in (220, 380)]
    first, second = drawing(drop, beside[0]), drawing(*halves, beside[1])
    free = plan_span(first, second, Take())
    assert [p.pair.kind for p in free.pairs] == ["pair", "divides", "divides"]
    ties = [as_today(free, drop.id, node) for node in drop.contours[0].nodes]
    assert {tie.second.shape for tie in ties} == {half.id for half in halves}
    for tie in ties:
        tied = plan_span(first, second, Take(hints=(tie,)))
        assert tied.troubles == ()
        assert [(p.first_id, p.second_id) for p in tied.pairs] == [(p.first_id, p.second_id) for p in free.pairs]
        reasons = {p.second_id: p.pair.reason for p in tied.pairs}
        assert "tied by a hint" in reasons[tie.second.shape]


@pytest.mark.parametrize("appears", [True, False])
def test_a_shape_without_a_partner_grows_where_a_hint_says_and_goes_with_that(appears: bool) -> None:
    body, far = filled(ellipse(200, 300, 100, 60)), filled(ellipse(520, 300, 100, 60))
    bubble, drop = filled(ellipse(700, 120, 30, 30), color="#88bbdd"), filled(ellipse(668, 110, 9, 9), color="#88bbdd")
    mouth, there = (290, 280), bubble.contours[0].nodes[0].at
    without, with_it = drawing(body), drawing(far, bubble, drop)
    keys = (without, with_it) if appears else (with_it, without)
    alone = PairChoice(first=None, second=bubble.id) if appears else PairChoice(first=bubble.id, second=None)
    ends = HintEnd(shape=body.id, at=mouth), HintEnd(shape=bubble.id, at=there)
    hints = [Hint(first=ends[0 if appears else 1], second=ends[1 if appears else 0], name=name) for name in ("a", "b")]
    plan = plan_span(*keys, Take(pairs=(alone,), hints=(hints[0],)))
    assert plan.troubles == ()
    early = plan.at(0.05 if appears else 0.95)
    centres = {s.id: outline(s.contours[0]).mean(axis=0) for s in early.shapes}
    carried = np.array(mouth) + 0.05 * np.array([320, 0])  # the body takes its mouth along
    own = [next(s.id for s in early.shapes if s.id.startswith(each.id)) for each in (bubble, drop)]
    assert np.linalg.norm(centres[own[0]] - carried) < 0.05 * 500
    assert np.linalg.norm(centres[own[1]] - carried) < 0.05 * 500, "what belongs to it grows from there as well"
    late = plan.at(1.0 if appears else 0.0)
    assert min(apart(bubble.contours[0], s.contours[0]) for s in late.shapes) < 1e-6
    twice = plan_span(*keys, Take(pairs=(alone,), hints=tuple(hints)))
    assert [t.hint for t in twice.troubles] == [hints[1].id]
    assert "say where one shape grows" in twice.troubles[0].text


def test_a_hint_on_a_shape_that_appears_changes_nothing_where_it_would_grow_anyway() -> None:
    body, spot = filled(ellipse(300, 300, 140, 90)), filled(ellipse(350, 280, 30, 20), color="#885522")
    first, second = drawing(body), drawing(body, spot)
    free = plan_span(first, second, Take())
    there = spot.contours[0].nodes[0].at
    found = free.partner(spot.id, np.array(there), False)
    assert found is not None
    tie = Hint(first=HintEnd(shape=found[0], at=found[1]), second=HintEnd(shape=spot.id, at=there))
    tied = plan_span(first, second, Take(pairs=(PairChoice(first=None, second=spot.id),), hints=(tie,)))
    assert tied.troubles == ()
    for t in (0.1, 0.5, 0.9):
        assert apart(*(plan.at(t).shapes[1].contours[0] for plan in (free, tied))) < 1e-6
