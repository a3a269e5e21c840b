"""Each kind of snag: on a morph that has it, and not on one like it that has not."""

import numpy as np
import pytest

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Drawing, Node, PairChoice, PairTravel, Shape, Take
from knead.core.snags.find import Snag, findings
from tests.forms import drawing, ellipse, filled, polygon, star, stroked, turned

PLACES = [k / 12 for k in range(13)]


def snags(first: Drawing, second: Drawing, take: Take | None = None) -> list[Snag]:
    take = take or Take()
    return list(findings(plan_span(first, second, take), take, PLACES).snags)


def kinds(first: Drawing, second: Drawing, take: Take | None = None) -> set[str]:
    return {snag.kind for snag in snags(first, second, take)}


def limb(x: float, y: float, degrees: float, length: float = 200.0) -> Contour:
    """A bar with one pointed end, from (x, y) on: no other turn of it looks alike."""
    corners = [(0, -9), (length - 30, -9), (length, 0), (length - 30, 9), (0, 9)]
    return turned(polygon(corners), degrees, move=(x, y))


def test_a_rod_that_goes_straight_through_a_half_turn_shrinks_and_one_that_turns_does_not() -> None:
    first, second = filled(limb(300, 300, 0)), filled(limb(300, 300, 150))
    choice = (PairChoice(first=first.id, second=second.id),)
    straight, solid = (Take(pairs=choice, blend=blend) for blend in ("direct", "solid"))
    assert "area" in kinds(drawing(first), drawing(second), straight)
    assert kinds(drawing(first), drawing(second), solid).isdisjoint({"area", "crossing", "fold"})


def test_what_is_left_over_on_both_sides_is_named_unless_it_was_meant() -> None:
    gone, come = filled(star(5, 0.4), color="#d02020"), stroked(polygon([(0, 0), (400, 10)], False), width=2)
    gone, come = gone.model_copy(update={"name": "leaf"}), come.model_copy(update={"name": "twig"})
    apart = Take(pairs=(PairChoice(first=gone.id, second=None), PairChoice(first=None, second=come.id)))
    pond = filled(ellipse(200, 300, 300, 90))
    first, second = drawing(pond, gone), drawing(pond, come)
    found = [s for s in snags(first, second) if s.kind == "stranger"]
    assert [snag.text for snag in found] == ["'leaf' vanishes while 'twig' appears."]
    assert found[0].numbers == tuple(range(1, 12))
    assert "stranger" not in kinds(first, second, apart)
    far = come.model_copy(update={"contours": tuple(turned(c, 0, move=(600, 500)) for c in come.contours)})
    assert "stranger" not in kinds(first, drawing(pond, far)), "they have nothing to do with each other"


def test_a_turn_of_more_than_half_a_round_that_a_neighbour_asks_for_is_mentioned_gently() -> None:
    def figure(upper: float, lower: float) -> tuple[Drawing, list[Shape]]:
        elbow = 300 + 120 * np.cos(np.radians(upper)), 300 + 120 * np.sin(np.radians(upper))
        shapes = [filled(ellipse(300, 300, 60, 60), color="#333399", name="hub")]
        shapes.append(filled(limb(300, 300, upper, 120), color="#993333", name="arm"))
        shapes.append(filled(limb(*elbow, lower, 100), color="#339933", name="hand"))
        return drawing(*shapes), shapes

    (first, ones), (second, twos) = figure(0, 0), figure(170, 250)
    pairs = tuple(PairChoice(first=a.id, second=b.id) for a, b in zip(ones, twos, strict=True))
    turns = [snag for snag in snags(first, second, Take(pairs=pairs)) if snag.kind == "turn"]
    assert [snag.shapes[0] for snag in turns] == [ones[2].id]
    assert "250 degrees" in turns[0].text
    assert turns[0].severity < 0.2
    meant = Take(pairs=pairs, travels=(PairTravel(first=ones[2].id, second=twos[2].id, turns=-1),))
    assert "turn" not in kinds(first, second, meant), "given a round less, it goes the short way"


def bow(waist: float) -> Contour:
    """An hourglass; with a negative waist its sides change places."""
    points = [(0, 0), (100, 0), (50 + waist, 60), (100, 120), (0, 120), (50 - waist, 60)]
    return polygon([(x + 200, y + 200) for x, y in points])


def test_sides_that_pass_through_each_other_cross_where_they_meet() -> None:
    shape = filled(bow(30))
    nodes = shape.contours[0].nodes
    mirrored = [nodes[k] for k in (1, 0, 5, 4, 3, 2)]
    # the same points, each gone to where its mirror image was: on the way the form passes through a line
    other = Contour(
        nodes=tuple(Node(id=n.id, at=m.at, before=m.at, after=m.at) for n, m in zip(nodes, mirrored, strict=True)),
        closed=True,
    )
    found = snags(drawing(shape), drawing(shape.model_copy(update={"contours": (other,)})), Take(blend="direct"))
    assert {snag.kind for snag in found} & {"area", "crossing"}
    worst = found[0]
    assert worst.severity > 0.5
    assert 200 <= worst.place.real <= 300
    assert 200 <= worst.place.imag <= 320


@pytest.mark.parametrize(("far", "seen"), [(0.0, False), (160.0, True)])
def test_what_touches_in_both_keys_and_parts_between_them_is_a_gap(far: float, seen: bool) -> None:
    stone, moss = filled(ellipse(200, 300, 60, 40)), filled(ellipse(200, 250, 30, 14), color="#55aa33")
    first = drawing(stone, moss)
    second = drawing(
        *(s.model_copy(update={"contours": (turned(s.contours[0], 0, move=(300, 0)),)}) for s in (stone, moss))
    )
    path = ((0.0, -far), (0.0, -far))
    take = Take(travels=(PairTravel(first=moss.id, second=moss.id, path=path),)) if far else Take()
    assert ("gap" in kinds(first, second, take)) == seen
