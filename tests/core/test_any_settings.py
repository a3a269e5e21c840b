"""Any settings of a span: they are kept to, or what can't be is named; the keys stay what they are."""

from functools import cache

import numpy as np
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from knead.core.blend.pair.shapes import shapes_at
from knead.core.geometry.bezier import path_of
from knead.core.geometry.track import measure
from knead.core.inbetween import SpanPlan, hint_points, plan_span
from knead.core.model import Drawing, Hint, HintEnd, PairChoice, PairTravel, Point, Shape, Take
from tests.examples import few
from tests.forms import apart, backwards, begun_at, blob, drawing, ellipse, filled, star, stroked, turned, wave

KINDS = ("direct", "arc", "solid", "auto")


@cache
def keys() -> tuple[Drawing, Drawing]:
    """A figure of a body, a limb, a ring and two lines, and the same moved, bent and drawn by another hand."""
    body, limb = blob([90, 70, 100, 80, 60, 75]), ellipse(420, 300, 60, 20)
    ring = ellipse(150, 120, 40, 40), backwards(ellipse(150, 120, 20, 20))
    line, whisker = wave(4, 200, 30), wave(3, 80, 10)
    first = drawing(
        filled(body), filled(limb), filled(*ring, color="#aa4433"), stroked(line), stroked(whisker, width=2)
    )
    second = drawing(
        filled(turned(begun_at(backwards(blob([95, 60, 110, 80, 70, 70])), 2), 25, 1.1, (60, -90))),
        filled(turned(limb, 70, 0.9, (190, -260)), name="paddle"),
        filled(*(turned(c, 10, 1.2, (40, 30)) for c in ring), color="#bb5533"),
        stroked(turned(backwards(line), -20, 1.1, (30, 60))),
        filled(star(5, 0.5, 30, (600, 80)), color="#eeee44", name="spark"),
    )
    return first, second


def on(shape: Shape, share: float) -> Point:
    """A point at a share of the length of a shape's first contour."""
    track = measure(path_of(shape.contours[0]), shape.contours[0].closed)
    return Point(*track.points(np.array([share]))[0].tolist())


@st.composite
def takes(draw: st.DrawFn) -> Take:
    """Settings; hints tie each shape to one other only."""
    first, second = keys()
    ones, twos = st.sampled_from(first.shapes), st.sampled_from(second.shapes)
    shares = st.floats(0, 0.999)
    hints = []
    partners = dict(zip(first.shapes, draw(st.permutations(second.shapes)), strict=True))
    for _ in range(draw(st.integers(0, 4))):
        a = draw(ones)
        b = partners[a]
        ends = [HintEnd(shape=s.id, at=on(s, draw(shares))) for s in (a, b)]
        hints.append(Hint(first=ends[0], second=ends[1], name=f"hint {len(hints)}"))
    pairs = []
    for _ in range(draw(st.integers(0, 2))):
        a, b = draw(st.one_of(st.none(), ones)), draw(st.one_of(st.none(), twos))
        if a or b:
            pairs.append(PairChoice(first=a and a.id, second=b and b.id))
    travels = [
        PairTravel(
            first=p.first,
            second=p.second,
            blend=draw(st.sampled_from([None, *KINDS])),
            turns=draw(st.integers(-2, 2)),
            path=draw(st.one_of(st.none(), st.just((Point(80, -90), Point(-40, -200))))),
            start=draw(st.sampled_from([0.0, 0.3])),
            end=draw(st.sampled_from([1.0, 0.6])),
        )
        for p in pairs
    ]
    return Take(
        hints=tuple(hints),
        pairs=tuple(pairs),
        travels=tuple(travels),
        blend=draw(st.sampled_from(KINDS)),
        tolerance=draw(st.sampled_from([0.1, 1.0])),
    )


def structure(plan: SpanPlan, t: float) -> dict[str, list[int]]:
    return {shape.id: [len(c.nodes) for c in shape.contours] for shape in plan.at(t).shapes}


@given(takes())
@settings(few, phases=[Phase.generate])
def test_any_settings_keep_the_keys_and_one_structure(take: Take) -> None:
    first, second = keys()
    plan = plan_span(first, second, take)
    known = {shape.id for shape in first.shapes}
    assert {name for pair in plan.pairs for name in pair.pair.firsts} == known
    assert {name for pair in plan.pairs for name in pair.pair.seconds} == {shape.id for shape in second.shapes}
    for pair in plan.pairs:
        if pair.first_id and pair.second_id and not (pair.pair.first_stand or pair.pair.second_stand):
            for key, t in ((first, 0.0), (second, 1.0)):
                own, (made,) = key.shape(pair.first_id if t == 0 else pair.second_id), shapes_at(pair, np.array([t]))[0]
                assert own is not None
                assert max(apart(a, b) for a, b in matched(own, made)) < 1e-4
    half = structure(plan, 0.5)
    for t in (0.31, 0.45, 0.59):
        assert {k: v for k, v in structure(plan, t).items() if k in half} == {
            k: v for k, v in half.items() if k in structure(plan, t)
        }
        assert sorted(plan.order(t)) == list(range(len(plan.pairs)))
    assert Drawing.model_validate_json(plan.at(0.5).model_dump_json()) == plan.at(0.5)


def matched(own: Shape, made: Shape) -> list[tuple]:
    """Contours of a key's shape with those that the plan makes of them; holes that close at the key have none."""
    return [(c, min(made.contours, key=lambda m: apart(c, m))) for c in own.contours]


@given(takes())
@settings(few, phases=[Phase.generate])
def test_a_hint_is_on_the_way_or_named_as_trouble(take: Take) -> None:
    first, second = keys()
    plan = plan_span(first, second, take)
    named = {trouble.hint: trouble.text for trouble in plan.troubles}
    for hint in take.hints:
        if hint.id in named:
            assert hint.name in named[hint.id]
            assert named[hint.id].endswith((".", "?"))
            continue
        ends = hint_points(plan, hint)
        assert ends is not None
        if take.says_where(hint):
            vanishes = take.is_alone(hint.first.shape, True)
            alone = (hint.first.shape, None) if vanishes else (None, hint.second.shape)
            (lone,) = [p for p in plan.pairs if (p.first_id, p.second_id) == alone]
            gone = 1 if lone.first_id else 0
            assert np.abs(lone.points(np.array([float(gone)])) - complex(*ends[gone])).max() < 0.1, (
                "it is a point there"
            )
            continue
        (pair,) = [p for p in plan.pairs if hint.first.shape in p.pair.firsts and hint.second.shape in p.pair.seconds]
        nodes = [np.stack([z.real, z.imag], axis=1)[1::3] for z in (pair.first_points, pair.second_points)]
        off = np.hypot(*(nodes[0] - ends[0]).T) + np.hypot(*(nodes[1] - ends[1]).T)
        assert off.min() < 0.1, "a point goes from one end of the hint to the other"


@given(takes())
@settings(few, phases=[Phase.generate])
def test_a_plan_that_takes_over_what_it_can_is_the_one_made_anew(take: Take) -> None:
    first, second = keys()
    before = plan_span(first, second, Take())
    anew, reused = plan_span(first, second, take), plan_span(first, second, take, before)
    assert [(p.first_id, p.second_id, p.way) for p in reused.pairs] == [
        (p.first_id, p.second_id, p.way) for p in anew.pairs
    ]
    for one, two in zip(anew.at(0.4).shapes, reused.at(0.4).shapes, strict=True):
        assert [[n.at for n in c.nodes] for c in one.contours] == [[n.at for n in c.nodes] for c in two.contours]
