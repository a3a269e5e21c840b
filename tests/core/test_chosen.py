"""What was found and is then fixed, or kept as a breakdown, stays as it was."""

from collections.abc import Callable

import pytest
import shapely

from knead.core.edit import Work
from knead.core.edit.keys import NewKey
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Contour, Drawing, PairChoice, Take
from tests.core.test_hints import as_today
from tests.forms import arc, begun_at, blob, drawing, ellipse, filled, outline, polygon, stroked, turned, wave, work_of

Keys = tuple[Drawing, Drawing]


def hidden_face() -> Keys:
    """A face, and the same with a hand before it."""
    ring, hand = stroked(ellipse(200, 200, 100, 100)), filled(ellipse(280, 260, 50, 60), color="#dd8866")
    return drawing(ring), drawing(stroked(arc(80, 360)), hand)


def parted_face() -> Keys:
    """A face, and the same of which something hides two stretches."""
    parts = stroked(arc(30, 160)), stroked(arc(200, 330))
    return drawing(stroked(ellipse(200, 200, 100, 100))), drawing(*parts)


def cut_otherwise() -> Keys:
    """A wavy line of three strokes, and of two, that swings."""
    one, two = wave(7, 420), turned(wave(7, 420), 25, 1.0, (20, 40))
    cuts = ((0, 2), (2, 4), (4, 6)), ((0, 3), (3, 6))
    return tuple(
        drawing(*(stroked(begun_at(Contour(nodes=line.nodes[a : b + 1]), 0)) for a, b in own))
        for line, own in zip((one, two), cuts, strict=True)
    )


def bars() -> Keys:
    """A chart whose bars change places by height."""

    def chart(heights: list[float]) -> Drawing:
        rows = [(40.0 * k, h) for k, h in enumerate(heights)]
        return drawing(*(filled(polygon([(x, 0), (x + 30, 0), (x + 30, -h), (x, -h)])) for x, h in rows))

    return chart([80.0, 20.0, 50.0, 95.0]), chart([20.0, 80.0, 95.0, 50.0])


def drop() -> Keys:
    """A drop that falls in two."""
    return drawing(filled(ellipse(200, 200, 90, 60))), drawing(
        filled(ellipse(130, 210, 60, 55)), filled(blob([40, 44, 38, 42, 40], (300, 200)))
    )


def mouth() -> Keys:
    """A line that opens."""
    lips = polygon([(100, 200), (200, 190), (300, 200), (200, 260)])
    return drawing(stroked(polygon([(110, 210), (200, 225), (290, 210)], closed=False))), drawing(stroked(lips))


def sign() -> Keys:
    """An exclamation mark that falls over: the dot says how far its bar turns."""
    bar, dot = polygon([(190, 100), (210, 100), (210, 260), (190, 260)]), ellipse(200, 310, 14, 14)
    return drawing(filled(dot), filled(bar)), drawing(filled(turned(dot, 150)), filled(turned(bar, 150)))


def pictures(plan: SpanPlan, times: list[float]) -> list[shapely.Geometry]:
    return [shapely.MultiLineString([outline(c, 16) for s in d.shapes for c in s.contours]) for d in plan.over(times)]


@pytest.mark.parametrize("keys", [hidden_face, parted_face, bars, drop, mouth])
def test_to_fix_the_pairs_that_are_found_changes_nothing(keys: Callable[[], Keys]) -> None:
    first, second = keys()
    plan = plan_span(first, second, Take())
    links = [(a, b) for p in plan.pairs for a in p.pair.firsts or (None,) for b in p.pair.seconds or (None,)]
    take = Take(pairs=tuple(PairChoice(first=a, second=b) for a, b in dict.fromkeys(links)))
    fixed = plan_span(first, second, take)
    assert fixed.over([0.25, 0.5, 0.75]) == plan.over([0.25, 0.5, 0.75])
    assert {p.pair.reason.split(";")[0] for p in fixed.pairs} == {"fixed by hand"}


@pytest.mark.parametrize("keys", [hidden_face, parted_face, cut_otherwise, bars, drop, mouth, sign])
def test_hints_where_points_go_anyway_change_nothing(keys: Callable[[], Keys]) -> None:
    first, second = keys()
    plan = plan_span(first, second, Take())
    paired = {name for p in plan.pairs if p.is_whole for name in p.pair.firsts}
    for shape in (shape for shape in first.shapes if shape.id in paired):
        for contour in shape.contours:
            ties = [as_today(plan, shape.id, node) for node in contour.nodes]
            for hints in [*((tie,) for tie in ties), tuple(ties[:3])]:
                tied = plan_span(first, second, Take(hints=hints))
                assert tied.troubles == ()
                assert tied.over([0.25, 0.5, 0.75]) == plan.over([0.25, 0.5, 0.75])


def test_what_is_fixed_otherwise_moves_that_alone() -> None:
    """Two bars that are to change places; the others stay in their columns."""
    first, second = bars()
    one, two = ([shape.id for shape in side.shapes] for side in (first, second))
    swapped = tuple(PairChoice(first=one[a], second=two[b]) for a, b in ((0, 1), (1, 0)))
    plan = plan_span(first, second, Take(pairs=(*swapped, PairChoice(first=one[3], second=two[3]))))
    assert {(p.first_id, p.second_id) for p in plan.pairs} == {
        *((choice.first, choice.second) for choice in swapped),
        (one[2], two[2]),
        (one[3], two[3]),
    }


@pytest.mark.parametrize("keys", [hidden_face, parted_face, cut_otherwise, bars, drop, mouth])
@pytest.mark.parametrize("backwards", [False, True])
def test_a_breakdown_leaves_the_in_betweens_on_both_sides_as_they_were(
    keys: Callable[[], Keys], backwards: bool
) -> None:
    first, second = keys()[:: -1 if backwards else 1]
    work: Work = work_of(first, second)
    plan = work.plan("k1")
    kept = NewKey(layer="l", frame=7, source="shown").apply(work)
    one, middle, _ = kept.layer("l").keys
    before = pictures(plan, [0.125, 0.25, 0.375, 0.625, 0.75, 0.875])
    after = [shown for key in (one, middle) for shown in pictures(kept.plan(key.id), [0.25, 0.5, 0.75])]
    off = [shapely.hausdorff_distance(a, b, densify=0.2) for a, b in zip(before, after, strict=True)]
    assert max(off) < 8.0  # of some 300
