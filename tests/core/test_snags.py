"""Snags say what looks wrong, where and when; proposed hints gain what they promise; the fit keeps its tolerance."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from knead.core.edit import Operation
from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Hint, HintEnd, PairChoice, PairTravel, Point, Take
from knead.core.pairing.assign.cheapest import cheapest
from knead.core.snags.figures import measured, outlines
from knead.core.snags.find import Findings, findings
from knead.core.snags.jumps import jumps
from knead.core.snags.propose import proposed
from tests.examples import few
from tests.forms import apart, blob, drawing, ellipse, filled, outline, polygon, star, turned, work_of

PLACES = [k / 12 for k in range(13)]
operation: TypeAdapter[Operation] = TypeAdapter(Operation)
QUARTERS = np.array([0.25, 0.5, 0.75])


def seen(first: Drawing, second: Drawing, take: Take | None = None) -> Findings:
    take = take or Take()
    return findings(plan_span(first, second, take), take, PLACES)


def tied(one: Contour, two: Contour, *pairs: tuple[int, int]) -> tuple[Drawing, Drawing, Take]:
    a, b = filled(one, name="leaf"), filled(two, name="leaf")
    hints = tuple(
        Hint(first=HintEnd(shape=a.id, at=one.nodes[i].at), second=HintEnd(shape=b.id, at=two.nodes[j].at))
        for i, j in pairs
    )
    return drawing(a), drawing(b), Take(hints=hints)


def test_what_is_only_moved_and_turned_has_no_snag_and_no_distortion() -> None:
    form = star(5, 0.6)
    found = seen(drawing(filled(form)), drawing(filled(turned(form, 25, move=(60, 10)))))
    assert found.snags == ()
    assert found.figures.whole < 0.5
    assert found.figures.crossings == 0.0


def test_a_hint_that_crowds_an_outline_is_a_snag_with_its_place_and_frames() -> None:
    one, two = star(5, 0.6), star(5, 0.6, at=(260, 220))
    good, bad = (seen(*tied(one, two, *ties)) for ties in (((0, 0), (4, 4)), ((0, 0), (1, 8))))
    assert good.snags == ()
    worst = bad.snags[0]
    assert worst.kind in ("crossing", "fold", "area")
    assert worst.severity > 0.2
    assert "leaf" in worst.text
    assert worst.remedy.endswith(".")
    assert 0 < min(worst.numbers) <= max(worst.numbers) < 12
    assert abs(worst.place - (230 + 210j)) < 150, "the place lies on the drawing"
    assert bad.figures.whole > good.figures.whole


def test_hints_that_change_places_are_named_and_the_rest_is_kept() -> None:
    one, two = star(6), star(6, at=(300, 200))
    found = seen(*tied(one, two, (0, 0), (2, 6), (6, 2), (10, 10)))
    named = [snag for snag in found.snags if snag.kind == "hint"]
    assert named
    assert all("hint" in snag.text.lower() for snag in named)
    assert len(named) < 4, "the largest consistent set is still used"


def test_parting_what_touches_is_seen() -> None:
    first = drawing(filled(ellipse(100, 100, 50, 50), name="head"), filled(ellipse(190, 100, 42, 42), name="ear"))
    second = drawing(filled(ellipse(100, 300, 50, 50), name="head"), filled(ellipse(100, 210, 42, 42), name="ear"))
    aside = Point(-160, 0), Point(160, 0)
    travels = tuple(
        PairTravel(first=a.id, second=b.id, path=(way, way))
        for a, b, way in zip(first.shapes, second.shapes, aside, strict=True)
    )
    take = Take(travels=travels)
    assert not seen(first, second).snags
    kinds = {snag.kind for snag in seen(first, second, take).snags}
    assert "gap" in kinds


def test_a_stop_at_a_key_is_seen_and_an_even_way_is_not() -> None:
    at = [drawing(filled(ellipse(x, 100, 30, 20), name="fly")) for x in (100, 400, 700, 410)]
    before, even, stopping = (plan_span(a, b, Take()) for a, b in ((at[0], at[1]), (at[1], at[2]), (at[1], at[3])))
    assert jumps(before, PLACES, even, PLACES) == []
    (snag,) = jumps(before, PLACES, stopping, PLACES)
    assert (snag.kind, snag.numbers) == ("speed", (12,))


@pytest.mark.parametrize("points", [9, 12])
def test_a_proposed_hint_gains_what_it_says(points: int) -> None:
    rng = np.random.default_rng(points)
    one, two = blob(60 + 60 * rng.random(points)), blob(60 + 60 * rng.random(points), at=(420, 300))
    first, second = drawing(filled(one)), drawing(filled(two))
    plan = plan_span(first, second, Take())
    offers = proposed(plan, Take())
    assert len(offers) <= 4
    before = measured(outlines(plan.pairs[0], QUARTERS)).whole
    after = plan_span(first, second, Take(hints=tuple(offer.hint for offer in offers)))
    gained = (before - measured(outlines(after.pairs[0], QUARTERS)).whole) / before
    assert gained == pytest.approx(sum(offer.gain for offer in offers), abs=0.02)


@few
@given(st.floats(0.5, 2.4), st.sampled_from([8.0, 2.0, 0.5, 0.1]))
def test_a_closer_fit_has_more_nodes_and_less_error(bend: float, tolerance: float) -> None:
    angles = np.linspace(0, bend, 3)
    straight = polygon([(0, 0), (200, 0), (400, 0), (400, 40), (200, 40), (0, 40)])
    radius = 400 / bend
    rows = [
        [(radius + side) * complex(math.sin(a), -math.cos(a)) + complex(0, radius) for a in angles] for side in (0, -40)
    ]
    bent = polygon([(z.real, z.imag) for z in [*rows[0], *rows[1][::-1]]])
    first, second = drawing(filled(straight)), drawing(filled(bent))

    def half(fit: float) -> Contour:
        return plan_span(first, second, Take(blend="solid", tolerance=fit)).at(0.5).shapes[0].contours[0]

    finest, fitted, draft = half(0.05), half(tolerance), half(20.0)
    assert len(draft.nodes) <= len(fitted.nodes) <= len(finest.nodes)
    assert apart(fitted, finest) * math.hypot(*np.ptp(outline(fitted), axis=0)) < 4 * tolerance + 1.0
    for t, key in ((0.0, straight), (1.0, bent)):
        shown = plan_span(first, second, Take(blend="solid", tolerance=tolerance)).at(t).shapes[0].contours[0]
        assert apart(shown, key) < 1e-9, "keys are exact at any fit"


@given(st.integers(1, 6), st.integers(1, 6), st.integers(0, 10_000))
def test_the_cheapest_assignment_is_the_cheapest(rows: int, columns: int, seed: int) -> None:
    from scipy.optimize import linear_sum_assignment

    cost, alone = np.random.default_rng(seed).random((rows, columns)), 0.3
    i, j = cheapest(cost, alone)
    own = cost[i, j].sum() + alone * (rows + columns - 2 * len(i))
    whole = np.full((rows + columns, rows + columns), alone)
    whole[:rows, :columns] = cost
    whole[rows:, columns:] = 0.0
    assert own == pytest.approx(whole[linear_sum_assignment(whole)].sum())


def test_shapes_join_by_hand() -> None:
    first = drawing(filled(ellipse(100, 100, 40, 40), name="drop a"), filled(ellipse(240, 100, 40, 40), name="drop b"))
    second = drawing(filled(ellipse(170, 100, 90, 45), name="pool"))
    drops, pool = [s.id for s in first.shapes], second.shapes[0].id

    def pair(shape: str, also: bool) -> Operation:
        return operation.validate_python(
            {"type": "pair_shapes", "key": "k1", "first": shape, "second": pool, "also": also}
        )

    work = pair(drops[0], False).apply(work_of(first, second))
    take = pair(drops[1], True).apply(work).key("k1").span.take
    assert set(take.pairs) == {PairChoice(first=d, second=pool) for d in drops}
    shown = plan_span(first, second, take)
    assert {pair.pair.kind for pair in shown.pairs} == {"joins"}
    assert len(shown.at(0.5).shapes) == 2
    assert not [snag for snag in seen(first, second, take).snags if snag.kind == "stranger"]
