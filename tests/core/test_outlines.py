"""In-betweens of outlines: exact at the keys, and the same however the keys are cut, begun, turned or ordered."""

from collections.abc import Callable
from functools import cache

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.geometry.bezier import area, contour_of, path_of, points_at
from knead.core.geometry.track import measure, track_of
from knead.core.inbetween import plan_span
from knead.core.model import Blend, Contour, Take
from knead.core.outline.kinds.rigid import even_map
from knead.core.outline.matching import Correspondence
from knead.core.outline.strain import Strain
from knead.core.outline.structure import common
from knead.core.outline.thin import thinned
from tests.examples import few
from tests.forms import (
    apart,
    backwards,
    begun_at,
    blob,
    drawing,
    ellipse,
    filled,
    outline,
    polygon,
    recut,
    rounded,
    star,
    stroked,
    turned,
    wave,
)

radii = st.lists(st.floats(40, 120), min_size=5, max_size=9)
cuts = st.lists(st.floats(0.03, 0.97), min_size=1, max_size=4)


def between(first: Contour, second: Contour, t: float = 0.5, take: Take | None = None) -> Contour:
    shape = plan_span(drawing(filled(first)), drawing(filled(second)), take or Take()).at(t).shapes[0]
    return shape.contours[0]


@few
@given(radii, radii, cuts)
def test_an_inbetween_at_the_keys_is_the_key(one: list[float], two: list[float], shares: list[float]) -> None:
    first, second = recut(blob(one), shares), blob(two, at=(420, 260))
    plan = plan_span(drawing(filled(first)), drawing(filled(second)), Take())
    for t, key in ((0.0, first), (1.0, second)):
        shown = plan.at(t).shapes[0].contours[0]
        places = {node.at for node in shown.nodes}
        assert all(node.at in places for node in key.nodes), "every node of the key stands where it stood, exactly"
        assert abs(area(path_of(shown))) == pytest.approx(abs(area(path_of(key))), rel=1e-9)


@few
@given(radii, st.floats(0.6, 1.6), st.integers(0, 8), cuts, st.booleans())
def test_the_same_result_however_the_second_key_is_drawn(
    one: list[float], flatness: float, start: int, shares: list[float], reverse: bool
) -> None:
    first = blob(one)
    second = turned(polygon([(-90, -60), (40, -110), (120, 10), (60, 90 * flatness), (-70, 70)]), 12, move=(330, 320))
    again = recut(begun_at(second, start), shares)
    plain, redrawn = between(first, second), between(first, backwards(again) if reverse else again)
    assert apart(plain, redrawn) < 0.02


@few
@given(blend=st.sampled_from(["direct", "arc", "solid"]), one=radii, two=radii, own=cuts, others=cuts)
@example(blend="solid", one=[40.0] * 5, two=[40.0, 40.0, 48.0, 108.0, 41.0], own=[0.5], others=[0.5])
@example(
    blend="arc",
    one=[44.3, 41.0, 61.7, 104.6, 68.4, 41.3, 89.9, 119.0, 111.1],
    two=[92.2, 40.0, 55.9, 110.6, 115.5, 78.7, 88.0, 50.0, 50.0],
    own=[0.13, 0.94, 0.41],
    others=[0.6859, 0.12, 0.7123, 0.66706],  # one cut hardly after a node
)
def test_nodes_that_only_cut_a_curve_in_two_move_no_inbetween(
    blend: Blend, one: list[float], two: list[float], own: list[float], others: list[float]
) -> None:
    first, second = blob(one), turned(blob(two), 25, 1.2, (180, 90))
    plain = between(first, second, take=Take(blend=blend))
    redrawn = between(recut(first, own), recut(second, others), take=Take(blend=blend))
    assert apart(plain, redrawn) < 0.012
    assert len(redrawn.nodes) <= len(plain.nodes) + len(own) + len(others)


@few
@given(radii, st.integers(0, 8), st.floats(-13, -2), st.booleans())
def test_the_keys_are_kept_however_short_a_segment_a_tool_left(
    form: list[float], at: int, exponent: float, first: bool
) -> None:
    contour, gap = blob(form), 10.0**exponent * np.array([1.0, 0.6])
    path = path_of(contour)
    node = path[at % len(path), 0].copy()
    path[at % len(path), 0] += gap
    path = np.insert(path, at % len(path), [node, node, node + gap, node + gap], axis=0)
    stuttered, other = begun_at(contour_of(path, True), at), star(6, 0.6)
    assert len(track_of(stuttered).breaks[0]) == len(track_of(contour).breaks[0]), "it is no corner"
    keys = (stuttered, other) if first else (other, stuttered)
    assert apart(between(*keys, 0.0), keys[0]) < 1e-3
    assert apart(between(*keys, 1.0), keys[1]) < 1e-3


@given(radii, cuts, st.integers(0, 8))
@example([40.0] * 5, [0.5, 0.666015625], 0)  # of a circle, two arcs are nearly one cubic
def test_a_path_without_its_mere_cuts_is_the_same_curve(form: list[float], shares: list[float], start: int) -> None:
    path = path_of(begun_at(recut(blob(form), shares), start))
    thin = thinned(measure(path, True))
    assert len(thin.track.path) == len(form)
    assert len(thin.cuts) == len(path) - len(form)
    whole = thin.own(thin.params)
    assert whole == pytest.approx(thin.start + np.arange(len(path) + 1.0))
    there = np.linspace(0, len(form), 101)
    assert points_at(thin.track.path, there) == pytest.approx(
        points_at(path, np.mod(thin.own(there), len(path))), abs=1e-2
    )


STARS = star(5, 0.45), turned(star(5, 0.7), 16, 1.2, (30, -60))


@cache
def of_stars() -> Contour:
    return between(*STARS)


@few
@given(cuts, st.integers(0, 9), st.booleans())
def test_the_same_result_however_the_first_key_is_drawn(shares: list[float], start: int, reverse: bool) -> None:
    again = recut(begun_at(STARS[0], start), shares)
    assert apart(of_stars(), between(backwards(again) if reverse else again, STARS[1])) < 0.01


def test_tips_go_to_tips_although_the_nodes_are_shifted_and_reversed() -> None:
    first, second = star(5, 0.4), begun_at(backwards(turned(star(5, 0.4), 10, 1.3, (40, 20))), 3)
    middle = between(first, second)
    spikes = np.linalg.norm(outline(middle, 1)[:-1] - outline(middle, 1)[:-1].mean(axis=0), axis=1)
    assert (spikes > 100).sum() == 5
    assert (spikes < 60).sum() == 5


def barred(weight: float) -> Contour:
    """A form like two posts and a beam between them, all of one thickness."""
    a, b, c, d = 0.0, weight, 300 - weight, 300.0
    e, f = 200 - weight / 2, 200 + weight / 2
    posts = [(a, 0), (b, 0), (b, e), (c, e), (c, 0), (d, 0), (d, 400), (c, 400), (c, f), (b, f), (b, 400), (a, 400)]
    return polygon(posts)


def bent_bar(weight: float) -> Contour:
    """A form like a lightning flash: two level strokes and a slanting one, all of one thickness."""
    w = weight
    return polygon(
        [(0, 0), (300, 0), (300, w), (1.4 * w, 400 - w), (300, 400 - w), (300, 400), (0, 400), (0, 400 - w)]
        + [(300 - 1.4 * w, w), (0, w)]
    )


@pytest.mark.parametrize("form", [barred, bent_bar])
@few
@given(thin=st.floats(14, 40), thick=st.floats(60, 100), start=st.integers(0, 11), shares=cuts, reverse=st.booleans())
def test_corners_go_to_corners_when_strokes_grow_thick(
    form: Callable[[float], Contour], thin: float, thick: float, start: int, shares: list[float], reverse: bool
) -> None:
    second = recut(begun_at(form(thick), start), shares)
    found = between(form(thin), backwards(second) if reverse else second)
    assert apart(form((thin + thick) / 2), found) < 0.004


@pytest.mark.parametrize("reverse", [False, True])
@pytest.mark.parametrize("start", range(4))
def test_the_corners_of_a_sliver_become_those_of_a_slanting_box(start: int, reverse: bool) -> None:
    """Though the sliver is nearly its own mirror image, which makes no corners."""
    sliver, box = [(418, -217), (75, -446), (73, -452), (420, -221)], [(233, -52), (44, -179), (44, -382), (385, -154)]
    second = begun_at(polygon(box), start)
    found = between(polygon(sliver), backwards(second) if reverse else second)
    middles = [(0.5 * (a + c), 0.5 * (b + d)) for (a, b), (c, d) in zip(sliver, box, strict=True)]
    assert apart(polygon(middles), found) < 0.004


def hammer(width: float, height: float, shaft: float, corner: float = 0.0) -> Contour:
    """A form like a hammer: a head across a shaft; its corners are sharp, or as round as said."""
    w, s, y = width / 2, shaft / 2, height - 100
    points = [(-w, -100), (w, -100), (w, y), (s, y), (s, 100), (-s, 100), (-s, y), (-w, y)]
    return rounded(points, corner) if corner else polygon(points)


@few
@given(st.floats(54, 70), st.floats(60, 80), st.floats(180, 260), st.floats(24, 50), st.integers(0, 7), cuts)
def test_a_head_that_hardly_stands_out_grows_out_by_its_corners(
    narrow: float, high: float, wide: float, low: float, start: int, shares: list[float]
) -> None:
    second = recut(begun_at(hammer(wide, low, 80), start), shares)
    found = between(hammer(narrow, high, 46), second)
    assert apart(hammer((narrow + wide) / 2, (high + low) / 2, 63), found) < 0.004


def test_round_corners_go_to_round_corners() -> None:
    second = recut(begun_at(hammer(260, 36, 30, corner=5), 5), [0.3, 0.7])
    found = between(hammer(160, 60, 60, corner=14), second)
    assert apart(hammer(210, 48, 45, corner=9.5), found) < 0.01


@pytest.mark.parametrize("tips", [3, 4, 5, 6, 7])
@few
@given(start=st.integers(0, 13), shares=cuts, reverse=st.booleans())
def test_a_form_that_looks_alike_at_several_turns_and_is_only_moved_does_not_turn(
    tips: int, start: int, shares: list[float], reverse: bool
) -> None:
    first = star(tips, 0.5)
    moved = recut(begun_at(turned(first, 0, move=(150, 60)), start), shares)
    second = backwards(moved) if reverse else moved
    assert apart(turned(first, 0, move=(75, 30)), between(first, second)) < 0.01


@given(
    noise=st.lists(st.floats(-1.5, 1.5), min_size=9, max_size=9), degrees=st.floats(-70, 70), start=st.integers(0, 8)
)
def test_a_form_that_is_drawn_once_more_and_expected_to_turn_lies_on_itself(
    noise: list[float], degrees: float, start: int
) -> None:
    form = [160.0, 120.0, 90.0, 100.0, 170.0, 110.0, 70.0, 90.0, 140.0]
    first = track_of(blob(form))
    redrawn = begun_at(blob([r + more for r, more in zip(form, noise, strict=True)]), start)
    found = even_map(first, track_of(turned(redrawn, degrees)), True)
    assert found is not None
    there = track_of(turned(redrawn, degrees)).points(np.array([found]))
    true = track_of(turned(blob(form), degrees)).points(np.array([0.0]))
    assert np.linalg.norm(there - true) < 20.0  # of some 900 around


@given(st.floats(-80, 80), cuts)
def test_a_straight_line_drawn_from_its_other_end_is_not_turned_over(degrees: float, shares: list[float]) -> None:
    line = polygon([(0, 0), (200, 0)], closed=False)
    one, two = stroked(line), stroked(backwards(recut(turned(line, degrees), shares)))
    plan = plan_span(drawing(one), drawing(two), Take())
    assert np.degrees(plan.pairs[0].angle) == pytest.approx(degrees, abs=0.5)


def test_a_shape_of_no_extent_only_moves() -> None:
    first, second = (polygon([at] * 4) for at in ((100.0, 100.0), (300.0, 200.0)))
    with np.errstate(divide="raise", invalid="raise"):
        found = between(first, second)
    assert outline(found, 1) == pytest.approx(np.full((len(found.nodes) + 1, 2), [200.0, 150.0]))


def test_every_inbetween_of_a_span_has_one_node_structure() -> None:
    plan = plan_span(drawing(filled(star(6))), drawing(filled(blob([80, 90, 60, 70, 100]))), Take())
    structures = {tuple(node.id for node in plan.at(t).shapes[0].contours[0].nodes) for t in (0.0, 0.2, 0.5, 0.9, 1.0)}
    assert len(structures) == 1
    assert len(structures.pop()) <= 12 + 5


@given(st.floats(-160, 160), st.floats(0.5, 2.0))
def test_arc_turns_a_form_without_shrinking_it(degrees: float, scale: float) -> None:
    first = blob([60, 110, 50, 90, 70])
    second = turned(first, degrees, scale, (50, 20))
    middle = between(first, second, 0.5, Take(blend="arc"))
    expected = abs(area(path_of(first))) * ((1 + scale) / 2) ** 2  # its size grows evenly
    assert abs(area(path_of(middle))) == pytest.approx(expected, rel=1e-6)


def test_auto_keeps_stiff_what_turns_and_goes_straight_otherwise() -> None:
    long = polygon([(0, 0), (200, 0), (200, 20), (0, 20)])
    for degrees, way in ((90, "solid"), (0, "direct")):
        plan = plan_span(drawing(filled(long)), drawing(filled(turned(long, degrees, move=(20, 5)))), Take())
        assert plan.pairs[0].way == way
        middle = outline(plan.at(0.5).shapes[0].contours[0])
        assert np.linalg.norm(middle[64] - middle[0]) == pytest.approx(200, rel=1e-6)


@few
@given(st.floats(-2.2, 2.2), st.integers(4, 8))
def test_solid_travel_bends_a_bar_without_shortening_it(amount: float, cuts: int) -> None:
    """A bar bent into an arc: half way it is bent half as much, and as long as ever."""

    def bar(bend: float) -> Contour:
        x = np.linspace(-100, 100, cuts + 1)

        def at(offset: float) -> list[tuple[float, float]]:
            if abs(bend) < 1e-9:
                return [(float(v), offset) for v in x]
            r = 200 / bend
            return [((r - offset) * np.sin(v / r), r - (r - offset) * np.cos(v / r)) for v in x]

        return polygon([*at(-10.0), *reversed(at(10.0))])

    straight = bar(0.0)
    nodes = [b.model_copy(update={"id": a.id}) for a, b in zip(straight.nodes, bar(amount).nodes, strict=True)]
    bent = straight.model_copy(update={"nodes": tuple(nodes)})
    plan = plan_span(drawing(filled(straight)), drawing(filled(bent)), Take(blend="solid"))
    middle = plan.at(0.5).shapes[0].contours[0]
    shift = outline(bar(amount / 2)).mean(axis=0) - outline(middle).mean(axis=0)
    assert apart(bar(amount / 2), turned(middle, 0, move=(float(shift[0]), float(shift[1])))) < 0.01


def test_a_limb_stays_on_its_joint_while_both_move() -> None:
    body, limb = polygon([(0, 0), (100, 0), (100, 60), (0, 60)]), polygon([(95, 20), (220, 25), (220, 35), (95, 40)])
    joint = np.array([97.0, 30.0])
    swung = turned(turned(turned(limb, 0, move=(-97, -30)), 70), 0, move=(97, 30))
    there = [turned(c, 30, move=(80, 40)) for c in (body, swung)]
    first = drawing(filled(body, color="#aa3333"), filled(limb, color="#3333aa"))
    second = drawing(filled(there[0], color="#aa3333"), filled(there[1], color="#3333aa"))
    plan = plan_span(first, second, Take())
    for t in (0.3, 0.5, 0.8):
        shapes = plan.at(t).shapes
        at = [np.array([n.at for n in s.contours[0].nodes]) for s in shapes]
        corners = [np.array([n.at for n in c.nodes]) for c in (body, limb)]
        places = []
        for now, was in zip(at, corners, strict=True):
            z, w = was[:, 0] + 1j * was[:, 1], now[:, 0] + 1j * now[:, 1]
            a = np.vdot(z - z.mean(), w - w.mean()) / np.vdot(z - z.mean(), z - z.mean())
            places.append(a * (joint[0] + 1j * joint[1] - z.mean()) + w.mean())
        assert abs(places[0] - places[1]) < 0.5, "the joint is one point on both"


def test_holes_stay_holes_and_a_lone_hole_opens_inside() -> None:
    ring = filled(ellipse(200, 200, 90, 90), backwards(ellipse(200, 200, 40, 40)))
    frame = filled(
        begun_at(polygon([(300, 100), (500, 100), (500, 300), (300, 300)]), 2),
        polygon([(360, 160), (360, 240), (440, 240), (440, 160)]),
    )
    disc = filled(ellipse(420, 200, 100, 80))
    for second, holes in ((frame, 1), (disc, 1)):
        plan = plan_span(drawing(ring), drawing(second), Take())
        for t in np.linspace(0.1, 0.9, 5):
            outer, *inner = plan.at(float(t)).shapes[0].contours
            assert len(inner) == holes
            box = outline(outer)
            assert np.all((outline(inner[0]) > box.min(axis=0)) & (outline(inner[0]) < box.max(axis=0)))
            assert area(path_of(outer)) * area(path_of(inner[0])) < 0, "opposite directions: empty by either rule"


def test_open_strokes_keep_their_ends_and_mend_their_direction() -> None:
    first, second = wave(5), turned(wave(7, height=40), 10, move=(20, 80))
    for other in (second, backwards(second)):
        plan = plan_span(drawing(stroked(first)), drawing(stroked(other)), Take())
        middle = plan.at(0.5).shapes[0].contours[0]
        ends = np.array([middle.nodes[0].at, middle.nodes[-1].at])
        wanted = (
            np.array([first.nodes[0].at, first.nodes[-1].at]) + np.array([second.nodes[0].at, second.nodes[-1].at])
        ) / 2
        assert not middle.closed
        assert np.linalg.norm(ends - wanted, axis=1).max() < 12


@given(
    st.lists(st.integers(0, 99), min_size=3, max_size=9, unique=True),
    st.lists(st.integers(0, 99), min_size=3, max_size=9, unique=True),
    st.lists(st.tuples(st.integers(1, 40), st.integers(1, 40)), min_size=2, max_size=8),
)
@example([0, 35, 47, 81, 1], [0, 2, 3], [(4, 1), (1, 6), (7, 9)])
@example([0, 11, 75], [0, 1, 2, 3], [(6, 1), (1, 6)])
def test_both_outlines_are_cut_at_all_their_nodes_wherever_a_map_takes_them(
    one: list[int], two: list[int], steps: list[tuple[int, int]]
) -> None:
    first, second = (
        track_of(polygon([(100 * np.cos(a), 100 * np.sin(a)) for a in 2 * np.pi * np.sort(places) / 100]))
        for places in (one, two)
    )
    knots = np.cumsum([(0, 0), *steps], axis=0)
    knots = knots / knots[-1]
    way = Correspondence(knots[:, 0], knots[:, 1] + 0.1, False, Strain(0.0, 0.0))
    rows = common(first, second, way, np.zeros((0, 2)), tolerance=30.0)
    assert np.all(np.diff(rows, axis=0) >= 0)
    for side, track in enumerate((first, second)):
        nodes = np.arange(len(track.path))
        cuts = np.mod(rows[:, side], len(nodes))
        assert np.abs(nodes[:, None] - cuts).min(axis=1).max() < 1e-6
