"""Lines that become rings, and rings that become lines: a mouth opens, an arc closes."""

import math

import numpy as np
import pytest
import shapely

from knead.core.geometry.bezier import area, path_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Hint, HintEnd, Node, PairChoice, Shape, Take
from tests.forms import apart, backwards, begun_at, drawing, ellipse, filled, outline, polygon, stroked, turned


def arc(start: float, end: float, radius: float, nodes: int = 5) -> Contour:
    """A part of a circle about (100, 100), by angles in degrees."""
    angles = np.radians(np.linspace(start, end, nodes))
    points = 100 + radius * np.stack([np.cos(angles), np.sin(angles)], axis=1)
    ways = np.stack([-np.sin(angles), np.cos(angles)], axis=1) * radius * (angles[1] - angles[0]) / 3
    return Contour(
        nodes=tuple(
            Node(at=tuple(p), before=tuple(p - w), after=tuple(p + w), kind="smooth")
            for p, w in zip(points, ways, strict=True)
        )
    )


def mouth() -> Contour:
    lips = ((50, 110, 0), (100, 95, 20), (150, 110, 0), (100, 160, -30))
    return Contour(nodes=tuple(Node(at=(x, y), before=(x - d, y), after=(x + d, y)) for x, y, d in lips), closed=True)


def tied(first: Shape, second: Shape, *hints: Hint) -> SpanPlan:
    choice = PairChoice(first=first.id, second=second.id)
    return plan_span(drawing(first), drawing(second), Take(pairs=(choice,), hints=hints))


def only(plan: SpanPlan, t: float) -> Contour:
    (shape,) = plan.at(t).shapes
    (contour,) = shape.contours
    return contour


@pytest.mark.parametrize("other", [False, True])
def test_a_shut_mouth_opens_between_its_corners(other: bool) -> None:
    line = arc(160, 20, 54)
    ring = begun_at(backwards(mouth()), 1) if other else mouth()
    plan = tied(stroked(backwards(line) if other else line), filled(ring))
    assert apart(line, only(plan, 0.0)) < 1e-4
    assert apart(ring, only(plan, 1.0)) < 1e-4
    sizes = [abs(area(path_of(only(plan, t)))) for t in (0.0, 0.25, 0.5, 0.75, 1.0)]
    assert sizes[0] < 1e-6
    assert all(a < b for a, b in zip(sizes, sizes[1:], strict=False)), "it opens, and never shuts on the way"
    corners = outline(only(plan, 0.5))
    assert np.abs(corners[:, 0].min() - (50 + outline(line)[:, 0].min()) / 2) < 6
    assert np.abs(corners[:, 0].max() - (150 + outline(line)[:, 0].max()) / 2) < 6


def test_what_is_in_a_mouth_has_its_full_colour_as_soon_as_it_is_seen() -> None:
    plan = tied(stroked(arc(160, 20, 54)), filled(mouth(), color="#aa3344"))
    fill = plan.at(0.1).shapes[0].fill
    assert fill is not None
    assert (fill.paint.color, fill.paint.opacity) == ("#aa3344", 1.0)


def test_a_mouth_shuts_as_it_opened() -> None:
    line, ring = stroked(arc(160, 20, 54)), filled(mouth())
    there, back = tied(line, ring), tied(ring, line)
    for t in (0.25, 0.5, 0.75):
        assert apart(only(there, t), only(back, 1 - t)) < 0.03


def test_an_arc_that_is_nearly_a_ring_closes_where_its_ends_are() -> None:
    line, ring = arc(15, 345, 50, 9), ellipse(110, 100, 60, 50)
    plan = tied(stroked(line), stroked(ring))
    assert apart(line, only(plan, 0.0)) < 1e-4
    assert apart(ring, only(plan, 1.0)) < 1e-4
    ends = [np.array([only(plan, t).nodes[k].at for k in (0, -1)]) for t in (0.0, 0.5, 1.0)]
    gaps = [math.dist(*pair) for pair in ends]
    assert gaps[0] > gaps[1] > gaps[2] == pytest.approx(0.0, abs=1e-9)
    assert np.all(ends[2][:, 0] > 160), "where the gap was: at the right"


def test_a_hint_ties_a_point_of_a_lip_to_the_line() -> None:
    line, ring = stroked(arc(160, 20, 54)), filled(mouth())
    middle, chin = line.contours[0].nodes[2].at, ring.contours[0].nodes[3].at
    hint = Hint(first=HintEnd(shape=line.id, at=middle), second=HintEnd(shape=ring.id, at=chin))
    plan = tied(line, ring, hint)
    assert plan.troubles == ()
    found = plan.partner(ring.id, np.array(chin), False)
    assert found is not None
    assert found[1] == pytest.approx(middle, abs=1e-6)


def test_a_lone_point_and_an_eye_may_become_each_other() -> None:
    point = Contour(nodes=(Node(at=(40, 40), before=(40, 40), after=(40, 40)),))
    plan = tied(stroked(point), filled(ellipse(60, 60, 20, 12)))
    assert apart(ellipse(60, 60, 20, 12), only(plan, 1.0)) < 1e-4
    assert np.isfinite(outline(only(plan, 0.5))).all()


@pytest.mark.parametrize("degrees", [-20, 20])
def test_a_mouth_keeps_its_sides_in_a_face(degrees: float) -> None:
    head = filled(ellipse(100, 100, 120, 100), color="#77ab54")
    line, ring = stroked(arc(160, 20, 40)), filled(turned(ellipse(100, 130, 40, 22), degrees), color="#aa3344")
    choice = PairChoice(first=line.id, second=ring.id)
    plan = plan_span(drawing(head, line), drawing(head, ring), Take(pairs=(choice,)))
    (pair,) = [p for p in plan.pairs if p.first_id == line.id]
    turn = math.degrees(pair.angle)
    assert turn == pytest.approx(degrees, abs=5), "it does not turn upside down to hang on the head"


def eyes(y: float, *, shut: bool) -> list[Shape]:
    """Two eyes with pupils, or two lids."""
    if shut:
        return [stroked(turned(arc(140, 40, 20), 0, move=(x - 100, y - 118))) for x in (60, 140)]
    round_ones = [filled(ellipse(x, y, 16, 16), color="#ffffff") for x in (60, 140)]
    return round_ones + [filled(ellipse(x + 2, y + 1, 6, 6), color="#222222") for x in (60, 140)]


@pytest.mark.parametrize("sink", [0.0, 30.0])
def test_eyes_that_are_drawn_shut_in_the_other_key_shut_evenly(sink: float) -> None:
    head, nose = filled(ellipse(100, 100, 120, 100), color="#77ab54"), stroked(arc(100, 80, 40))
    lower = [
        filled(ellipse(100, 100 + sink, 120, 100), color="#77ab54"),
        stroked(turned(nose.contours[0], 0, move=(0, sink))),
    ]
    one, two = [head, nose, *eyes(80, shut=False)], [*lower, *eyes(80 + sink, shut=True)]
    plan = plan_span(drawing(*one), drawing(*two), Take())
    partners = {p.first_id: p.second_id for p in plan.pairs if p.first_id}
    assert [partners[shape.id] for shape in one] == [*(shape.id for shape in two), None, None], "the pupils vanish"
    for eye in one[2:4]:
        (half,) = next(shape for shape in plan.at(0.5).shapes if shape.id == eye.id).contours
        points = outline(half)
        low, high = points[np.argmin(points[:, 0])], points[np.argmax(points[:, 0])]
        assert low[1] == pytest.approx(high[1], abs=1), "its corners lie level"
        assert 12 < np.ptp(points[:, 1]) < 24, "it is half shut"


def test_the_lids_of_an_eye_shut_and_not_its_pupil() -> None:
    def eye(radius: float, color: str, width: float | None) -> Shape:
        shape = filled(ellipse(100, 100, radius, radius), color=color)
        return (
            shape if width is None else shape.model_copy(update={"stroke": stroked(arc(0, 9, 9), width=width).stroke})
        )

    white, pupil, line = eye(16, "#ffffff", 4.0), eye(7, "#222222", None), stroked(arc(215, 325, 19))
    line = stroked(turned(line.contours[0], 0, move=(0, 17)))
    pairs = plan_span(drawing(white, pupil), drawing(line), Take()).pairs
    assert {(p.first_id, p.second_id) for p in pairs} == {(white.id, line.id), (pupil.id, None)}
    # where the lids are drawn as a fill as well, their line is not what the iris becomes
    iris, lids = eye(9, "#55aadd", None), eye(16, "#dd99aa", 4.0)
    pairs = plan_span(drawing(white, iris), drawing(lids, line), Take()).pairs
    assert {(p.first_id, p.second_id) for p in pairs} == {(white.id, lids.id), (iris.id, None), (None, line.id)}


def one_stroke(x: float, y: float, rx: float, ry: float) -> Contour:
    """An eye drawn as a line that ends where it began."""
    first, *others = ellipse(x, y, rx, ry).nodes
    end = Node(at=(first.at[0] + 0.1, first.at[1]), before=first.before, after=(first.at[0] + 0.1, first.at[1]))
    return Contour(nodes=(first, *others, end))


@pytest.mark.parametrize("degrees", [0.0, -20.0, 25.0])
def test_eyes_of_one_stroke_each_shut_by_their_lids_in_a_head_that_turns(degrees: float) -> None:
    features = [
        ellipse(0, 0, 70, 60),
        polygon([(-5, 20), (5, 20), (0, 27)]),
        polygon([(0, 27), (-9, 38)], closed=False),
    ]
    features += [polygon([(side * 28, y), (side * 70, y + 2)], closed=False) for side in (-1, 1) for y in (20, 27)]
    rings = [one_stroke(side * 26, -6, 9, 11) for side in (-1, 1)]
    lids = [turned(arc(140, 40, 10), 0, move=(side * 26 - 100, -111)) for side in (-1, 1)]
    first = [stroked(contour, width=3) for contour in (*features, *rings)]
    second = [stroked(turned(contour, degrees), width=3) for contour in (*features, *lids)]
    plan = plan_span(drawing(*first), drawing(*second), Take())
    partners = {p.first_id: p.second_id for p in plan.pairs if p.first_id}
    assert [partners[eye.id] for eye in first[-2:]] == [lid.id for lid in second[-2:]]
    for k in (-2, -1):
        half = next(shape for shape in plan.at(0.5).shapes if shape.id == first[k].id).contours[0]
        level = outline(turned(half, -degrees / 2))
        left, right = level[np.argmin(level[:, 0])], level[np.argmax(level[:, 0])]
        assert abs(left[1] - right[1]) < 3, "its corners lie level in the head"
        assert 4 < np.ptp(level[:, 1]) < 16, "it is half shut"


@pytest.mark.parametrize("degrees", [0.0, 20.0])
@pytest.mark.parametrize("wakes", [False, True])
def test_eyes_shut_and_the_mouth_opens_and_no_smile_becomes_a_lid(degrees: float, wakes: bool) -> None:
    head, hair = filled(ellipse(0, 0, 60, 70), color="#ffddbb"), filled(ellipse(-4, -50, 58, 30), color="#aa6633")
    smile, laugh = stroked(turned(arc(150, 30, 14), 0, move=(-100, -64))), filled(lips(34, 34, 38, 70), color="#992233")
    eyes = [filled(ellipse(x, 5, 9, 12), color="#ffffff") for x in (-22, 22)]
    ringed = [eye.model_copy(update={"stroke": smile.stroke}) for eye in eyes]
    lids = [stroked(turned(arc(150, 30, 11), 0, move=(x - 100, -96))) for x in (-22, 22)]
    first, second = [head, hair, *ringed, smile], [head, hair, *lids, laugh]
    moved = [
        shape.model_copy(update={"id": f"{shape.id} again", "contours": (turned(shape.contours[0], degrees),)})
        for shape in second
    ]
    keys = (moved, first) if wakes else (first, moved)
    pairs = plan_span(drawing(*keys[0]), drawing(*keys[1]), Take()).pairs
    assert {(p.first_id, p.second_id) for p in pairs} == {(a.id, b.id) for a, b in zip(*keys, strict=True)}


@pytest.mark.parametrize("opens", [False, True])
@pytest.mark.parametrize("bow", [3.0, 6.0])
def test_what_is_in_a_mouth_stays_in_it_while_that_shuts(opens: bool, bow: float) -> None:
    wide, shut = (filled(lips(*form), color="#661122") for form in ((80, 0, -8, 82), (76, 10, 10 + bow, 10 + 3 * bow)))
    teeth = filled(polygon([(-22, 3), (22, 3), (20, 12), (-20, 12)]), color="#ffffff")
    tongue = filled(ellipse(0, 36, 18, 9), color="#ee6677")
    head = filled(ellipse(0, 20, 120, 150), color="#77ab54")
    keys = drawing(head, wide, teeth, tongue), drawing(head, shut)
    plan = plan_span(*(keys[::-1] if opens else keys), Take())
    for t in np.linspace(0.1, 0.9, 9):
        _, mouth, *inside = [shapely.Polygon(outline(shape.contours[0])) for shape in plan.at(float(t)).shapes]
        assert len(inside) == 2
        assert all(each.difference(mouth.buffer(0.5)).area < 0.02 * each.area for each in inside)


def lips(width: float, top: float, upper: float, lower: float) -> Contour:
    """A mouth between two corners at a height; handles at these heights bow its lips."""
    x, third = width / 2, width / 6
    left = Node(at=(-x, top), before=(-third, lower), after=(-third, upper))
    right = Node(at=(x, top), before=(third, upper), after=(third, lower))
    return Contour(nodes=(left, right), closed=True)


def test_a_line_far_from_a_ring_is_another_thing() -> None:
    head = filled(ellipse(100, 100, 120, 100), color="#77ab54")
    first, second = drawing(head, stroked(arc(140, 40, 20))), drawing(head, filled(ellipse(190, 180, 16, 16)))
    assert all(
        None in (p.first_id, p.second_id) or p.first_id == head.id for p in plan_span(first, second, Take()).pairs
    )


@pytest.mark.parametrize("rise", [0.0, 40.0])
def test_an_eye_that_shuts_stays_one_eye_though_the_brow_above_it_rises(rise: float) -> None:
    head, brow = filled(ellipse(100, 100, 120, 100), color="#ffdd55"), stroked(arc(240, 300, 60))
    raised = stroked(turned(brow.contours[0], 0, move=(0, -rise)))
    eye = filled(ellipse(100, 100, 14, 18), color="#222222")
    lid = stroked(turned(arc(215, 325, 20), 0, move=(0, 14)))
    plan = plan_span(drawing(head, brow, eye), drawing(head, raised, lid), Take())
    assert {(p.first_id, p.second_id) for p in plan.pairs} >= {(eye.id, lid.id), (brow.id, raised.id)}


@pytest.mark.parametrize("opens", [True, False])
@pytest.mark.parametrize("sag", [20.0, 30.0])
def test_teeth_stay_behind_the_lip_while_the_mouth_opens(opens: bool, sag: float) -> None:
    smile, laugh = lips(120, 0, sag, sag + 40), lips(112, -8, 8, 140)
    teeth = filled(lips(84, 2, 8, 44), color="#ffffff")
    keys = drawing(filled(smile, color="#992233")), drawing(filled(laugh, color="#992233"), teeth)
    plan = plan_span(*(keys if opens else keys[::-1]), Take())
    for t in (0.2, 0.4, 0.6, 0.8):
        mouth, within = (shapely.Polygon(outline(shape.contours[0])) for shape in plan.at(t).shapes)
        assert within.difference(mouth).area < 0.02 * within.area


@pytest.mark.parametrize(
    "around",
    [[(100, 200), (300, 200), (300, 200.0001), (100, 200.0001)], [(100, 100), (300, 300), (300, 100), (100, 300)]],
    ids=["encloses nothing", "crosses itself"],
)
def test_what_appears_on_a_form_that_is_no_plain_ring_has_a_way(around: list[tuple[float, float]]) -> None:
    ring, grown = filled(polygon(around)), filled(polygon([(x, 1.2 * y) for x, y in around]))
    line = stroked(polygon([(180, 240), (200, 240), (220, 240)], closed=False))
    plan = plan_span(drawing(ring), drawing(grown, line), Take())
    for t in (0.25, 0.75):
        points = np.concatenate([outline(shape.contours[0]) for shape in plan.at(t).shapes])
        assert np.all((points > 0) & (points < 500))


@pytest.mark.parametrize("back", [False, True])
def test_what_lies_on_nothing_becomes_no_band_on_a_body(back: bool) -> None:
    """A grub is a chrysalis, whose bands are not its head."""
    head, band = (
        filled(ellipse(200, 200, 38, 38), color="#aacc66"),
        stroked(polygon([(150, 200), (250, 206)], closed=False)),
    )
    bodies = [filled(ellipse(200, *form), color="#77aa55") for form in ((290, 120, 40), (230, 60, 110))]
    keys = [drawing(bodies[0], head), drawing(bodies[1], band)]
    pairs = {(p.first_id, p.second_id) for p in plan_span(*keys[:: -1 if back else 1], Take()).pairs}
    assert {(head.id, band.id), (band.id, head.id)}.isdisjoint(pairs)
    face = filled(ellipse(200, 200, 140, 140), color="#eecc99")
    keys = [drawing(face, head), drawing(face, band)]
    pairs = {(p.first_id, p.second_id) for p in plan_span(*keys[:: -1 if back else 1], Take()).pairs}
    assert not {(head.id, band.id), (band.id, head.id)}.isdisjoint(pairs), "but on a face it shuts"
