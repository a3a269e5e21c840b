"""Holes that open from the edge or melt into each other: nothing crosses, and the keys look as they are."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.geometry.bezier import area, path_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.letters import letter_outlines
from knead.core.model import Contour, Hint, HintEnd, Shape, Take
from tests.examples import few
from tests.forms import backwards, begun_at, drawing, ellipse, filled, outline, polygon, recut, star

TIMES = (0.1, 0.3, 0.5, 0.7, 0.9)


def letter(text: str) -> Shape:
    ((_, contours),) = letter_outlines(text, 200, 0, 0)
    return filled(*contours)


def planned(first: Shape, second: Shape) -> SpanPlan:
    return plan_span(drawing(first), drawing(second), Take())


def contours(plan: SpanPlan, t: float) -> tuple[Contour, ...]:
    (shape,) = plan.at(t).shapes
    return shape.contours


def painted(shape: Shape) -> shapely.Geometry:
    """What is filled, holes left out."""
    found: shapely.Geometry = shapely.Polygon()
    for contour in shape.contours:
        found = found.symmetric_difference(shapely.make_valid(shapely.Polygon(outline(contour, 200))))
    return found


@pytest.mark.parametrize(
    ("pair", "count"),
    [("CO", 1), ("OU", 1), ("PF", 1), ("BE", 1), ("83", 1), ("65", 1), ("80", 2), ("BD", 2), ("86", 2), ("ae", 1)],
)
def test_a_hole_opens_where_the_other_letter_has_a_bay_or_a_larger_hole(pair: str, count: int) -> None:
    first, second = map(letter, pair)
    plan = planned(first, second)
    for t in TIMES:
        rings = [shapely.Polygon(outline(contour, 200)) for contour in contours(plan, t)]
        assert len(rings) == count
        assert all(ring.is_valid for ring in rings), "nothing crosses"
        assert all(rings[0].contains(hole) for hole in rings[1:])
    for key, t in ((first, 0.0), (second, 1.0)):
        (made,) = plan.at(t).shapes
        wanted = painted(key)
        assert painted(made).symmetric_difference(wanted).area < 1e-3 * wanted.area, "a cut without width is not seen"


@pytest.mark.parametrize("pair", ["67", "26", "63", "78", "Ld"])
def test_a_hole_closes_where_opened_the_form_would_fall_apart_or_become_another(pair: str) -> None:
    plan = planned(*map(letter, pair))
    assert len(contours(plan, 0.5)) > 1
    for t in TIMES:
        (shape,) = plan.at(t).shapes
        parts = shapely.area(shapely.get_parts(painted(shape).buffer(-2)))  # of a letter 140 high, without necks
        assert parts.max() > 0.9 * parts.sum()


def ring(*, inner: Contour | None = None, edge: Contour | None = None) -> Shape:
    return filled(edge or ellipse(200, 200, 100, 100), inner or backwards(ellipse(200, 200, 60, 60)))


@pytest.mark.parametrize(
    "other",
    [
        ring(inner=ellipse(200, 200, 60, 60)),
        ring(inner=begun_at(backwards(ellipse(200, 200, 60, 60)), 2)),
        ring(edge=begun_at(backwards(ellipse(200, 200, 100, 100)), 1)),
        ring(edge=recut(ellipse(200, 200, 100, 100), (0.13, 0.31, 0.77))),
    ],
)
def test_starts_directions_and_cuts_of_a_ring_do_not_matter_to_how_it_opens(other: Shape) -> None:
    sizes = [
        [abs(area(path_of(*contours(planned(letter("C"), shape), t)))) for t in TIMES] for shape in (ring(), other)
    ]
    assert np.allclose(*sizes, rtol=2e-2)


def test_a_hole_in_the_midst_of_a_fill_opens_from_a_point() -> None:
    plan = planned(filled(ellipse(200, 200, 100, 100)), ring())
    holes = [abs(area(path_of(contours(plan, t)[1]))) for t in TIMES]
    assert all(a < b for a, b in zip(holes, holes[1:], strict=False))


def bar(bend: float, *holes: Contour) -> Shape:
    """A bar, 300 long and 60 broad, bent to an arc of so many radians."""
    at = np.linspace(-0.5, 0.5, 25)
    middle = 300 * (np.exp(1j * bend * at) - 1) / (1j * bend) if bend else 300 * at + 0j
    across = 30j * np.exp(1j * bend * at)
    ring = 300 + 300j + np.concatenate([middle - across, (middle + across)[::-1]])
    return filled(polygon([(z.real, z.imag) for z in ring.tolist()]), *holes)


@few
@given(st.floats(1.0, 3.0), st.floats(-0.42, 0.42), st.booleans())
def test_a_hole_opens_and_closes_within_what_bends(bend: float, place: float, opens: bool) -> None:
    keys = [bar(bend), bar(0.0, ellipse(300 + 300 * place, 300, 10, 10))]
    plan = planned(*(keys if opens else keys[::-1]))
    for t in (0.02, *TIMES, 0.98):
        whole, hole = (shapely.Polygon(outline(contour, 200)) for contour in contours(plan, t))
        assert whole.contains(hole)
        share = abs(t - (not opens)) ** 2
        assert hole.area == pytest.approx(np.pi * 100 * share, rel=0.05), "and grows as it was drawn"


def test_a_hint_may_tie_a_point_of_a_hole_to_the_bay_it_becomes() -> None:
    first, second = letter("B"), letter("E")
    at, wanted = first.contours[1].nodes[1].at, second.contours[0].nodes[4].at
    hint = Hint(first=HintEnd(shape=first.id, at=at), second=HintEnd(shape=second.id, at=wanted))
    plan = plan_span(drawing(first), drawing(second), Take(hints=(hint,)))
    assert not plan.troubles
    assert len(contours(plan, 0.5)) == 1, "the holes still open"
    found = plan.partner(first.id, np.array(at), True)
    assert found is not None
    assert found[1] == pytest.approx(wanted, abs=0.01)


PARTS = (
    ellipse(200, 200, 100, 100),
    backwards(ellipse(200, 200, 60, 60)),
    ellipse(230, 200, 20, 20),
    letter("C").contours[0],
    star(5, 0.4, 90),
    polygon([(150, 150), (250, 150)]),
    polygon([(200, 200), (200, 200), (200, 200)]),
    ellipse(900, 200, 50, 80),
)
some = st.lists(st.sampled_from(PARTS), min_size=1, max_size=4, unique=True)


@few
@given(some, some)
def test_whatever_a_shape_is_made_of_it_has_inbetweens(one: list[Contour], two: list[Contour]) -> None:
    plan = planned(filled(*one), filled(*two))
    for t in (0.0, 0.4, 1.0):
        assert all(np.isfinite(outline(contour)).all() for shape in plan.at(t).shapes for contour in shape.contours)
