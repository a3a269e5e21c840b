"""Lines that were cut differently in the two keys, shapes that divide, and shapes that join."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.geometry.parting import parted
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Drawing, Hint, HintEnd, PairChoice, Shape, Take
from tests.examples import few
from tests.forms import backwards, blob, drawing, ellipse, filled, outline, polygon, star, stroked, turned, wave


def area(shape: Shape) -> shapely.Geometry:
    """The painted area, holes left out."""
    whole = shapely.Polygon()
    for contour in shape.contours:
        whole = whole.symmetric_difference(shapely.Polygon(outline(contour)).buffer(0))
    return whole


def cut_at(contour: Contour, cuts: list[int], flips: list[bool]) -> list[Shape]:
    """A line as several strokes that meet at these nodes, some of them drawn in the other direction."""
    stops = [0, *cuts, len(contour.nodes) - 1]
    pieces = [Contour(nodes=contour.nodes[a : b + 1]) for a, b in zip(stops, stops[1:], strict=False)]
    return [stroked(backwards(p) if flip else p) for p, flip in zip(pieces, flips, strict=True)]


def lines(plan: SpanPlan, t: float) -> shapely.Geometry:
    return shapely.MultiLineString([outline(c) for s in plan.at(t).shapes for c in s.contours])


@few
@given(
    cuts=st.lists(st.integers(1, 7), max_size=2, unique=True).map(sorted),
    other=st.lists(st.integers(1, 7), max_size=3, unique=True).map(sorted),
    flips=st.lists(st.booleans(), min_size=4, max_size=4),
)
def test_a_line_moves_as_one_however_it_was_cut(cuts: list[int], other: list[int], flips: list[bool]) -> None:
    one, two = wave(9, 400, 40), turned(wave(9, 400, 55), 25, move=(60, 30))
    whole = plan_span(drawing(stroked(one)), drawing(stroked(two)), Take())
    first = cut_at(one, cuts, flips[: len(cuts) + 1])
    second = cut_at(two, other, flips[: len(other) + 1])
    plan = plan_span(drawing(*first[::-1]), drawing(*second), Take())
    for t in (0.0, 0.3, 0.7, 1.0):
        assert lines(plan, t).hausdorff_distance(lines(whole, t)) < 4.0  # of a line 400 long
    made_of = {(a, b) for pair in plan.pairs for _, a, b in pair.origins}
    assert {a for a, _ in made_of} == {s.id for s in first}
    assert {b for _, b in made_of} == {s.id for s in second}
    shown = [s.id for s in plan.at(0.5).shapes]
    assert len(set(shown)) == len(shown) == len(made_of)


def test_cuts_of_as_many_strokes_that_lie_elsewhere_do_not_drag_the_line() -> None:
    stem, bow = [0, 80, 160, 240, 320], [(0, 50), (50, 0), (100, 0), (150, 50)]
    arch = polygon([*((0, 400 - y) for y in stem), *bow, *((150, 80 + y) for y in stem)], closed=False)
    slanted = turned(arch, 6, move=(40, 10))
    whole = plan_span(drawing(stroked(arch)), drawing(stroked(slanted)), Take())
    first, second = cut_at(arch, [1, 10], [False] * 3), cut_at(slanted, [3, 12], [False] * 3)
    plan = plan_span(drawing(*first), drawing(*second), Take())
    assert {pair.pair.kind for pair in plan.pairs} == {"recut"}
    assert lines(plan, 0.5).hausdorff_distance(lines(whole, 0.5)) < 1.0


def test_a_hint_on_one_of_several_strokes_holds_for_the_line() -> None:
    one = wave(9, 400, 40)
    first, second = cut_at(one, [4], [False, False]), cut_at(one, [2, 6], [False, True, False])
    at, to = one.nodes[5].at, one.nodes[7].at
    hint = Hint(first=HintEnd(shape=first[1].id, at=at), second=HintEnd(shape=second[2].id, at=to))
    plan = plan_span(drawing(*first), drawing(*second), Take(hints=(hint,)))
    assert not plan.troubles
    halfway = (np.array(at) + np.array(to)) / 2
    assert lines(plan, 0.5).distance(shapely.Point(halfway)) < 1.0
    assert plan.partner(first[1].id, np.array(at), from_first=True) == (second[2].id, pytest.approx(to, abs=1e-6))


def test_a_corner_is_where_a_line_ends() -> None:
    leg = polygon([(0, 0), (0, 100)], closed=False), polygon([(0, 100), (60, 160)], closed=False)
    bent = polygon([(10, 0), (10, 100)], closed=False), polygon([(10, 100), (100, 110)], closed=False)
    first, second = [stroked(c) for c in leg], [stroked(c) for c in bent]
    plan = plan_span(drawing(*first), drawing(*second), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {(a.id, b.id) for a, b in zip(first, second, strict=True)}


@few
@given(
    radii=st.lists(st.floats(60, 120), min_size=5, max_size=9),
    seeds=st.lists(st.tuples(st.floats(-80, 80), st.floats(-80, 80)), min_size=2, max_size=5, unique=True),
    hole=st.booleans(),
)
def test_pieces_cover_a_shape_exactly(radii: list[float], seeds: list[tuple[float, float]], hole: bool) -> None:
    shape = filled(*([blob(radii), ellipse(300, 300, 20, 30)] if hole else [blob(radii)]), rule="evenodd")
    shares = np.full(len(seeds), 1 / len(seeds))
    pieces = [area(p) for p in parted(shape, np.array([complex(*s) for s in seeds]), shares)]
    whole = area(shape)
    assert sum(p.area for p in pieces) == pytest.approx(whole.area, rel=1e-3)
    assert shapely.union_all(pieces).symmetric_difference(whole).area < 2e-3 * whole.area
    assert max(p.area for p in pieces) < 1.2 * whole.area / len(seeds)


@pytest.mark.parametrize("height", [240, 175])
@pytest.mark.parametrize("opacity", [1.0, 0.5])
def test_a_drop_divides_and_joins_again_without_a_pop(height: float, opacity: float) -> None:
    def seen(contour: Contour) -> Shape:
        return filled(contour).model_copy(update={"opacity": opacity})

    drop = seen(ellipse(300, 300, 100, 80))
    droplets = [
        seen(ellipse(210, 250, 48, 42)),
        seen(ellipse(310, height, 50, 44)),
        seen(ellipse(405, 255, 46, 44)),
    ]
    far = filled(ellipse(800, 500, 40, 40))
    there, back = (drawing(drop), drawing(*droplets, far)), (drawing(*droplets, far), drawing(drop))
    for keys, t in ((there, 0.0), (back, 1.0)):
        plan = plan_span(*keys, Take())
        kinds = {p.pair.kind for p in plan.pairs if p.first_id and p.second_id}
        assert kinds == ({"divides"} if t == 0.0 else {"joins"})
        ids = {p.identity for p in plan.pairs if p.pair.kind != "pair"}
        pieces = [area(s) for s in plan.at(t).shapes if s.id in ids]
        assert len(pieces) == 3
        assert shapely.union_all(pieces).symmetric_difference(area(drop)).area < 1e-3 * area(drop).area
        if opacity < 1.0:
            assert sum(p.area for p in pieces) == pytest.approx(area(drop).area, rel=1e-3), "nowhere twice as dark"


@few
@given(st.floats(0, 360), st.floats(0.8, 1.1), st.booleans())
def test_where_drops_part_there_is_a_neck_and_no_crack(degrees: float, size: float, joins: bool) -> None:
    drop = turned(ellipse(200, 200, 90, 70), degrees, 1.0, (300, 300))
    apart = [turned(ellipse(200 + x, 200, 60, 50), degrees, size, (300, 300)) for x in (-90, 90)]
    one, two = drawing(filled(drop)), drawing(*map(filled, apart))
    plan = plan_span(two, one, Take()) if joins else plan_span(one, two, Take())
    for t in (0.02, 0.1, 0.2):
        left, right = (area(shape) for shape in plan.at(1.0 - t if joins else t).shapes)
        neck = left.intersection(right)
        assert left.union(right).buffer(-1).geom_type == "Polygon", "they hang together"
        assert not left.union(right).interiors
        assert neck.area > 0.01 * left.area


@pytest.mark.parametrize("joins", [False, True])
@pytest.mark.parametrize("round_", [False, True])
def test_a_pane_that_becomes_four_divides_in_its_place(joins: bool, round_: bool) -> None:
    def pane(x: float, y: float, half: float) -> Contour:
        corners = [(x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)]
        return polygon(corners)

    whole = filled(ellipse(200, 200, 120, 120) if round_ else pane(200, 200, 120))
    panes = [filled(pane(200 + x, 200 + y, 55)) for x in (-75, 75) for y in (-75, 75)]
    keys = [drawing(whole), drawing(*panes)]
    plan = plan_span(*(keys[::-1] if joins else keys), Take())
    assert [p.pair.kind for p in plan.pairs] == ["joins" if joins else "divides"] * 4
    for shape, own in zip(plan.at(0.5).shapes, plan.pairs, strict=True):
        home = next(p for p in panes if p.id in (own.first_id, own.second_id))
        assert area(shape).buffer(-8).within(area(home).buffer(10)), "each goes straight to its place"
    red = [filled(s.contours[0], color="#cc3333") for s in panes]
    assert {p.pair.kind for p in plan_span(drawing(whole), drawing(*red), Take()).pairs} == {"pair"}


def lined(contour: Contour, color: str) -> Shape:
    """A fill with a line around it."""
    return stroked(contour, width=5).model_copy(update={"fill": filled(contour, color=color).fill})


@few
@given(st.integers(3, 9), st.floats(0, 360), st.booleans())
def test_a_bubble_bursts_into_the_drops_around_it(count: int, degrees: float, joins: bool) -> None:
    bubble = filled(ellipse(200, 200, 100, 100))
    places = [200 + 200j + 130 * np.exp(1j * (np.radians(degrees) + 2 * np.pi * k / count)) for k in range(count)]
    drops = [filled(ellipse(z.real, z.imag, 12, 12)) for z in places]
    keys = [drawing(bubble), drawing(*drops)]
    plan = plan_span(*(keys[::-1] if joins else keys), Take())
    assert [p.pair.kind for p in plan.pairs] == ["joins" if joins else "divides"] * count
    half = shapely.union_all([area(shape) for shape in plan.at(0.5).shapes])
    assert half.centroid.distance(shapely.Point(200, 200)) < 12, "to all sides alike"
    whole = shapely.union_all([area(shape) for shape in plan.at(1.0 if joins else 0.0).shapes])
    assert whole.symmetric_difference(area(bubble)).area < 2e-3 * area(bubble).area
    stays = plan_span(keys[0], drawing(filled(ellipse(200, 200, 90, 90)), *drops), Take())
    assert {p.pair.kind for p in stays.pairs} == {"pair"}, "what is still there has not burst"
    stars = [filled(ellipse(*np.add([200, 200], 4 * np.array([z.real - 200, z.imag - 200])), 12, 12)) for z in places]
    assert {p.pair.kind for p in plan_span(keys[0], drawing(*stars), Take()).pairs} == {"pair"}, "nor flies it so far"


@pytest.mark.parametrize("joins", [False, True])
def test_what_lies_in_a_cell_divides_with_it(joins: bool) -> None:
    def cell(x: float, size: float) -> list[Shape]:
        inner = filled(ellipse(x, 200, 0.3 * size, 0.28 * size), color="#335522")
        return [lined(ellipse(x, 200, size, 0.9 * size), "#77aa55"), inner]

    keys = [drawing(*cell(200, 90)), drawing(*cell(120, 66), *cell(280, 66))]
    plan = plan_span(*(keys[::-1] if joins else keys), Take())
    assert [p.pair.kind for p in plan.pairs] == ["joins" if joins else "divides"] * 4
    one, other = (shape for shape in plan.at(0.5).shapes if shape.stroke is None)
    assert sorted(area(shape).centroid.x for shape in (one, other)) == pytest.approx([160, 240], abs=4)


@pytest.mark.parametrize("joins", [False, True])
def test_drops_that_are_all_there_is_become_the_puddle(joins: bool) -> None:
    places = ((120, 120, 1.0), (220, 80, 0.8), (290, 140, 1.1))
    drops = [lined(ellipse(x, y, 30 * s, 36 * s), "#5599cc") for x, y, s in places]
    puddle = lined(ellipse(205, 328, 125, 26), "#5599cc")
    keys = [drawing(*drops), drawing(puddle)][:: -1 if joins else 1]
    plan = plan_span(*keys, Take())
    assert [p.pair.kind for p in plan.pairs] == ["divides" if joins else "joins"] * 3
    ground = filled(ellipse(200, 200, 190, 190), color="#cc9966")
    keys = [drawing(ground, *drops), drawing(ground, puddle)][:: -1 if joins else 1]
    assert {p.pair.kind for p in plan_span(*keys, Take()).pairs} == {"pair"}, "not what is on something larger"


@pytest.mark.parametrize("closes", [False, True])
@pytest.mark.parametrize("count", [3, 5, 6])
def test_a_bud_opens_into_all_of_its_petals(closes: bool, count: int) -> None:
    bud = lined(ellipse(200, 200, 36, 58), "#dd6688")
    petals = [
        lined(turned(ellipse(62, 0, 44, 20), 360 * k / count - 90, move=(200, 190)), "#dd6688") for k in range(count)
    ]
    keys = [drawing(bud), drawing(*petals, filled(ellipse(200, 190, 26, 26), color="#eecc55"))]
    plan = plan_span(*(keys[::-1] if closes else keys), Take())
    assert [p.pair.kind for p in plan.pairs if p.first_id and p.second_id] == ["joins" if closes else "divides"] * count


def face(turn: float, *mouth: Contour, fringe: int) -> list[Shape]:
    """A face of lines that is turned aside a little; its fringe is one line, drawn in so many strokes."""
    rows = [[(-30, 0), (-20, -6), (-8, 0)], [(12, 0), (22, -6), (32, 0)], [(0, 4), (-4, 22), (3, 25)]]
    rows += [[(-30, -14), (-18, -20), (-8, -14)], [(12, -14), (22, -20), (32, -14)]]
    hair = [(-40, -30), (-15, -50), (10, -55), (22, -44), (36, -30)]
    rows += [hair[:3], hair[2:]] if fringe == 2 else [hair]
    moved = [[(x * (1 - 0.1 * turn) - 20 * turn, y + 8 * turn) for x, y in row] for row in rows]
    return [stroked(polygon(row, closed=False), width=3) for row in moved] + [stroked(line, width=3) for line in mouth]


def lip(drop: float, x: float = 0.0) -> Contour:
    return polygon([(x - 18, 44), (x - 6, 44 + drop), (x + 6, 44 + drop), (x + 18, 44)], closed=False)


@pytest.mark.parametrize("shuts", [False, True])
def test_a_mouth_of_one_line_opens_into_two_lips_while_a_fringe_is_drawn_in_fewer_strokes(shuts: bool) -> None:
    shut, open_ = face(0, lip(6), fringe=2), face(1, lip(-2, -20), lip(14, -20), fringe=1)
    keys = (open_, shut) if shuts else (shut, open_)
    plan = plan_span(drawing(*keys[0]), drawing(*keys[1]), Take())
    named = [(p.pair.firsts, p.pair.seconds) for p in plan.pairs]
    want = [((shut[-1].id,), (each.id,)) for each in open_[-2:]] + [((shut[5].id, shut[6].id), (open_[5].id,))]
    assert {pair[::-1] if shuts else pair for pair in want} <= set(named)
    assert all(one and two for one, two in named), "nothing appears or vanishes"
    nearly = {shape.id: shape for shape in plan.at(0.98 if shuts else 0.02).shapes}
    lips = [nearly[p.identity].contours[0] for p in plan.pairs if p.pair.kind in ("joins", "divides")]
    assert [np.abs(outline(each) - outline(lips[0])).max() < 1.0 for each in lips] == [True, True]


@pytest.mark.parametrize("joins", [False, True])
def test_an_outlined_egg_breaks_into_halves_that_stay_upright(joins: bool) -> None:
    def shell(*points: tuple[float, float]) -> Shape:
        return filled(polygon(points)).model_copy(update={"stroke": stroked(wave()).stroke})

    rim = [(0.0, 100.0), (-20, 112), (-40, 98), (-60, 112), (-80, 98), (-100, 112)]
    low, high = blob([50, 58, 60, 58, 50, 62, 80, 62], at=(-50, 120)), [(x, y - 70) for x, y in rim]
    bowl = shell(*rim[::-1], (-8, 140), (-30, 165), (-50, 170), (-70, 165), (-92, 140))
    cap = shell(*high[::-1], (-8, 5), (-30, -20), (-50, -30), (-70, -20), (-92, 5))
    whole, halves = drawing(shell(*[tuple(n.at) for n in low.nodes])), drawing(bowl, cap)
    plan = plan_span(halves, whole, Take()) if joins else plan_span(whole, halves, Take())
    assert {p.pair.kind for p in plan.pairs} == {"joins" if joins else "divides"}
    assert [abs(p.angle) < 0.3 for p in plan.pairs] == [True, True]


def test_what_divides_can_be_fixed_by_hand_and_outlined_shapes_are_not_cut() -> None:
    bud = stroked(star(7, size=60, at=(300, 300)))
    petals = [stroked(star(4, size=90, at=(150 * k, 200))) for k in range(1, 4)]
    choices = tuple(PairChoice(first=bud.id, second=petal.id) for petal in petals)
    plan = plan_span(drawing(bud), drawing(*petals), Take(pairs=choices))
    assert [(p.first_id, p.second_id, p.pair.kind) for p in plan.pairs] == [(bud.id, p.id, "divides") for p in petals]
    for shape in plan.at(0.0).shapes:
        assert shapely.LineString(outline(shape.contours[0])).hausdorff_distance(
            shapely.LineString(outline(bud.contours[0]))
        ) == pytest.approx(0.0, abs=1e-6)


def test_a_hint_on_a_part_that_goes_with_another_shape_is_named_and_one_on_its_own_part_is_exact() -> None:
    left, right = filled(ellipse(150, 200, 60, 60)), filled(ellipse(350, 200, 60, 60))
    whole = filled(ellipse(250, 200, 160, 70))
    choices = tuple(PairChoice(first=shape.id, second=whole.id) for shape in (left, right))
    places = (90.0, 200.0), (410.0, 200.0)
    for there in (places, places[::-1]):
        hints = tuple(
            Hint(first=HintEnd(shape=shape.id, at=here), second=HintEnd(shape=whole.id, at=at))
            for shape, here, at in zip((left, right), places, there, strict=True)
        )
        plan = plan_span(drawing(left, right), drawing(whole), Take(pairs=choices, hints=hints))
        named = ["goes with another shape" in trouble.text for trouble in plan.troubles]
        assert named == ([] if there == places else [True, True])
        if not named:
            for pair, here, at in zip(plan.pairs, places, there, strict=True):
                nodes = pair.points(np.array([0.5]))[0, 1::3]
                assert np.abs(nodes - complex(*(np.array(here) + at) / 2)).min() < 1e-6


def test_an_arm_that_turns_more_than_half_round_takes_its_hand_along() -> None:
    def limb(degrees: float, hand: float) -> Drawing:
        arm = turned(polygon([(0, -20), (180, -6), (180, 6), (0, 20)]), degrees, move=(400, 300))
        wrist = np.array([400 + 170 * np.cos(np.radians(degrees)), 300 + 170 * np.sin(np.radians(degrees))])
        palm = turned(polygon([(-9, -12), (80, -30), (90, 24), (-9, 12)]), hand, move=tuple(wrist))
        return drawing(filled(arm, color="#336699"), filled(palm, color="#cc8844"))

    plan = plan_span(limb(0, 0), limb(150, 230), Take())
    hand = next(p for p in plan.pairs if p.hangs)
    assert np.degrees(hand.angle) == pytest.approx(230, abs=2)
