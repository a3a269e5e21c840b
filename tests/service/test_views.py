"""What the screen gets of a span: compact, exact at the keys, and new only where something changed."""

import numpy as np

from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Fill, Hint, HintEnd, Paint, PairTravel, Shape, Take
from knead.service.views import SpanView, Track, changed_shapes, found_view, span_view
from tests.forms import blob, drawing, ellipse, filled, polygon, stroked, turned

PLACES = [0.0, 0.25, 0.5, 0.75, 1.0]


def viewed(first: Drawing, second: Drawing, take: Take) -> SpanView:
    plan = plan_span(first, second, take)
    return span_view("k", plan, take, 1, PLACES, found_view(plan, take, 1, PLACES, None))


def of(view: SpanView, shape: Shape) -> Track:
    return next(track for track in view.tracks if shape.id in (track.first, track.second))


def nodes(row: list[float]) -> set[tuple[float, float]]:
    """The places of the nodes in a row of handles and nodes."""
    return {(x, y) for x, y in np.array(row).reshape(-1, 3, 2)[:, 1].tolist()}


def test_tracks_are_the_keys_at_both_ends_and_empty_where_a_shape_is_not() -> None:
    one, two = filled(blob([50, 80, 60, 70])), filled(turned(blob([50, 80, 60, 70]), 20, move=(90, 0)))
    new = stroked(polygon([(400, 400), (430, 420)], closed=False))
    view = viewed(drawing(one), drawing(two, new), Take())
    track, grown = of(view, one), of(view, new)
    for row, key in ((track.points[0], one), (track.points[-1], two)):
        known = {(round(n.at.x, 2), round(n.at.y, 2)) for n in key.contours[0].nodes}
        assert nodes(row) >= known
    assert [len(row) for row in track.points] == [6 * sum(c.nodes for c in track.contours)] * 5
    assert grown.points[0] == []
    assert all(grown.points[1:])
    assert [sorted(order) for order in view.order] == [[0, 1]] * 5


def test_what_does_not_change_is_said_once() -> None:
    calm = filled(ellipse(100, 100, 40, 30), color="#335577")
    moved = calm.model_copy(update={"contours": (turned(calm.contours[0], 0, move=(60, 0)),)})
    fading = filled(ellipse(300, 100, 40, 30), color="#aa2200")
    faded = fading.model_copy(update={"fill": Fill(paint=Paint(color="#00aa22"))})
    view = viewed(drawing(calm, fading), drawing(moved, faded), Take())
    assert [len(of(view, shape).looks) for shape in (calm, fading)] == [1, 5]
    assert of(view, calm).weights is None


def test_a_look_at_what_is_wrong_changes_nothing_else() -> None:
    bow = filled(polygon([(0, 0), (100, 0), (100, 100), (0, 100)]))
    take = Take(hints=(Hint(first=HintEnd(shape=bow.id, at=(0, 0)), second=HintEnd(shape="gone", at=(0, 0))),))
    plan = plan_span(drawing(bow), drawing(bow), take)
    found = found_view(plan, take, 7, PLACES, None)
    bare, whole = (span_view("k", plan, take, 7, PLACES, each) for each in (None, found))
    assert bare.model_copy(update={"found": found}) == whole
    assert [(snag.kind, snag.frames) for snag in found.snags] == [("hint", [8, 9, 10])]
    assert whole.hints[0].trouble == found.snags[0].text


def test_only_what_a_moved_hint_changes_is_made_anew() -> None:
    one = filled(blob([50, 80, 60, 70, 55]))
    two = filled(turned(blob([60, 70, 65, 80, 50]), 15, move=(40, 10)))
    still = filled(ellipse(700, 500, 30, 20))
    first, second = drawing(one, still), drawing(two, still)

    def tied(k: int) -> Take:
        ends = (
            HintEnd(shape=one.id, at=one.contours[0].nodes[0].at),
            HintEnd(shape=two.id, at=two.contours[0].nodes[k].at),
        )
        return Take(hints=(Hint(id="h", first=ends[0], second=ends[1]),))

    before = plan_span(first, second, tied(0))
    after = plan_span(first, second, tied(1), before)
    views = [span_view("k", plan, tied(k), 1, PLACES, None) for k, plan in enumerate((before, after))]
    assert of(views[0], still) is of(views[1], still)
    assert of(views[0], one).points != of(views[1], one).points


def test_a_pair_with_a_time_of_its_own_looks_as_it_does_then() -> None:
    one, two = filled(ellipse(0, 0, 9, 9), color="#000000"), filled(ellipse(50, 0, 9, 9), color="#ffffff")
    late = Take(travels=(PairTravel(first=one.id, second=two.id, start=0.5, end=1.0),))
    for take, half in ((late, "#000000"), (Take(), "#636363")):
        fill = of(viewed(drawing(one), drawing(two), take), one).looks[2].fill
        assert fill is not None
        assert fill.paint.color == half


def test_of_a_drawing_only_shapes_that_changed_are_sent() -> None:
    kept, old = filled(ellipse(0, 0, 9, 9)), filled(ellipse(50, 0, 9, 9))
    changed, new = old.model_copy(update={"opacity": 0.5}), filled(ellipse(90, 0, 9, 9))
    again = Shape.model_validate(kept.model_dump())
    assert changed_shapes(drawing(kept, old), drawing(new, again, changed)) == [new, changed]
