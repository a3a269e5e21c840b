"""What travels solidly keeps its inside: areas, holes and narrow parts, however it bends."""

from functools import reduce

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from knead.core.blend.travel.mesh import Mesh, meshed
from knead.core.blend.travel.solid import prepare
from knead.core.geometry.bezier import Complexes
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.letters import letter_outlines
from knead.core.model import Contour, Shape, Take
from tests.examples import few
from tests.forms import apart, backwards, drawing, ellipse, filled, outline, polygon, recut, stroked, turned

STIFF = Take(blend="solid")


def bent(places: Complexes, amount: float) -> Complexes:
    """Places about 0 on a bar of length 200 that is bent into an arc, by `amount` in radians from end to end."""
    radius = 200 / amount
    return radius * 1j - (radius * 1j - 1j * places.imag) * np.exp(1j * places.real / radius)


def bar(amount: float, cuts: int = 10) -> Contour:
    x, y = np.linspace(-100, 100, cuts + 1), np.linspace(-35, 35, 4)
    sides = [x[:-1] - 35j, 100 + 1j * y[:-1], x[:0:-1] + 35j, -100 + 1j * y[:0:-1]]
    return polygon([(z.real, z.imag) for z in bent(np.concatenate(sides), amount)])


def hole(amount: float) -> Contour:
    middle = bent(np.array([55 + 0j]), amount)[0]
    return backwards(turned(ellipse(0, 0, 20, 20), np.degrees(amount * 55 / 200), move=(middle.real, middle.imag)))


def kin(shape: Shape, other: Shape) -> Shape:
    """The shape with the ids of another's nodes, so that nothing needs to be guessed."""
    contours = []
    for own, of in zip(shape.contours, other.contours, strict=True):
        nodes = (node.model_copy(update={"id": old.id}) for node, old in zip(own.nodes, of.nodes, strict=True))
        contours.append(own.model_copy(update={"nodes": tuple(nodes)}))
    return shape.model_copy(update={"id": other.id, "contours": tuple(contours)})


def half_of(plan: SpanPlan) -> list[Contour]:
    return list(plan.at(0.5).shapes[0].contours)


@pytest.mark.parametrize("amount", [-2.4, 1.0, 2.0])
def test_a_wide_bar_bends_evenly_and_takes_its_hole_along(amount: float) -> None:
    first = filled(bar(1e-6), hole(1e-6))
    plan = plan_span(drawing(first), drawing(kin(filled(bar(amount), hole(amount)), first)), STIFF)
    found, inside = half_of(plan)
    move = outline(bar(amount / 2)).mean(axis=0) - outline(found).mean(axis=0)
    shift = (float(move[0]), float(move[1]))
    assert apart(bar(amount / 2), turned(found, 0, move=shift)) < 0.002
    assert apart(hole(amount / 2), turned(inside, 0, move=shift)) < 0.008


def jumper(arms: float, legs: float) -> Shape:
    """A figure of one outline, from the left hand round, its limbs spread by angles from straight down."""

    def limb(root: complex, angle: float, length: float) -> list[complex]:
        way = 1j * np.exp(-1j * angle)
        out = -1j * way
        return [root + 7 * out, root + length * way + 5 * out, root + length * way - 5 * out, root - 7 * out]

    right = [*limb(20 - 45j, arms, 70), *[z + 0j for z in limb(11 + 42j, legs, 70)]]
    left = [complex(-z.real, z.imag) for z in reversed(right)]
    return filled(polygon([(z.real, z.imag) for z in [*right, *left]]))


def test_the_chest_does_not_swell_while_arms_are_thrown_up() -> None:
    first = jumper(0.12, 0.1)
    plan = plan_span(drawing(first), drawing(kin(jumper(2.5, 0.6), first)), STIFF)
    area = [shapely.Polygon(outline(plan.at(t).shapes[0].contours[0])).area for t in np.linspace(0, 1, 9)]
    assert max(area) < 1.05 * max(area[0], area[-1])
    assert min(area) > 0.95 * min(area[0], area[-1])


@few
@given(st.floats(0.4, 2.4), st.sampled_from([0.2, 0.35, 0.5]))
def test_the_way_back_is_the_way_there(amount: float, t: float) -> None:
    first = filled(bar(1e-6), hole(1e-6))
    second = kin(filled(bar(amount), hole(amount)), first)
    there, back = (plan_span(drawing(a), drawing(b), STIFF) for a, b in ((first, second), (second, first)))
    for one, other in zip(there.at(t).shapes[0].contours, back.at(1 - t).shapes[0].contours, strict=True):
        assert np.abs(outline(one) - outline(other)).max() < 0.1


@given(st.floats(0.3, 2.0), st.integers(1, 47), st.floats(-3, 3), st.booleans())
def test_a_mesh_does_not_hang_on_where_it_begins_or_lies(amount: float, start: int, turn: float, flipped: bool) -> None:
    ring = 60 * np.exp(2j * np.pi * np.arange(48) / 48)

    def mesh(one: Complexes, two: Complexes) -> Mesh:
        found = meshed([(one, two, np.zeros(len(one)))])
        assert found is not None
        return found

    def moved(row: Complexes) -> Complexes:
        row = np.roll(row, start) * np.exp(1j * turn)
        return row[::-1].conj() if flipped else row

    times = np.array([0.0, 0.4, 1.0])
    plain, other = mesh(ring, bent(ring, amount)), mesh(moved(ring), moved(bent(ring, amount)))
    found = plain.at(times)
    for key, row in ((ring, found[0]), (bent(ring, amount), found[2])):
        assert np.abs(row - (key - key.mean())).max() < 1e-9, "exact at the keys"
    assert np.abs(moved(found[1]) - other.at(times)[1]).max() < 0.06


def test_nodes_that_are_added_move_no_solid_inbetween() -> None:
    first = filled(bar(1e-6, 5))
    second = kin(filled(bar(1.8, 5)), first)
    cut = [first.model_copy(update={"contours": (recut(s.contours[0], (0.3, 0.6)),)}) for s in (first, second)]
    (plain,), (more,) = (
        half_of(plan_span(drawing(first), drawing(second), STIFF)),
        half_of(plan_span(*map(drawing, cut), STIFF)),
    )
    assert apart(plain, more) < 0.004


@pytest.mark.parametrize("pair", ["MN", "SA", "ba"])
def test_what_would_be_pinched_off_on_a_straight_way_goes_solidly_and_says_so(pair: str) -> None:
    first, second = (drawing(filled(*letter_outlines(text, 200, 0, 0)[0][1])) for text in pair)

    def waist(take: Take) -> float:
        """How wide it is where it is narrowest half way: what is worn away when it falls apart."""
        rings = [shapely.Polygon(outline(contour)).buffer(0) for contour in half_of(plan_span(first, second, take))]
        form = reduce(shapely.symmetric_difference, rings)
        return next(width for width in range(60) if shapely.get_num_geometries(form.buffer(-width / 2)) != 1)

    plan = plan_span(first, second, Take())
    assert plan.pairs[0].way == "solid"
    assert "pinch" in plan.pairs[0].way_reason
    assert waist(Take()) > 2 * waist(Take(blend="direct"))


@pytest.mark.parametrize("rounds", [1.5, 3.0])
@pytest.mark.parametrize("closed", [True, False])
def test_a_ribbon_uncoils_by_all_its_rounds(rounds: float, closed: bool) -> None:
    def ribbon(turn: float) -> Complexes:
        way = np.cumsum(np.linspace(1.0, 2.0, 300) * np.exp(1j * np.linspace(0.0, turn, 300)))
        return np.repeat(np.append(way, way[::-1] + 1j) if closed else way, 3)

    found = prepare(ribbon(0.0), ribbon(2 * np.pi * rounds), closed, 0.0)
    assert found is not None
    assert np.ptp(found.turns) == pytest.approx(2 * np.pi * rounds, rel=0.05)


def angle(round_: float, degrees: float) -> Contour:
    """Two legs and a small corner between them that turns by so many degrees, the whole turned by some others."""
    ways = np.radians(np.concatenate([[90.0] * 4, 90.0 + np.linspace(0, round_, 20)[1:-1], [90.0 + round_] * 4]))
    steps = np.where(np.arange(26) % 22 < 4, 40.0, 0.8) * np.exp(1j * ways)
    places = np.append(0, np.cumsum(steps)) * np.exp(1j * np.radians(degrees))
    return polygon([(z.real, z.imag) for z in places], closed=False)


@pytest.mark.parametrize("blend", ["solid", "auto"])
def test_a_line_keeps_its_way_round_though_a_corner_of_it_turns_inside_out(blend: str) -> None:
    """A leg turns as the other leg does, not by a whole round more."""
    first, second = stroked(angle(90, 0)), stroked(angle(-270, 10))
    found = plan_span(drawing(first), drawing(kin(second, first)), Take(blend=blend)).at(0.5).shapes[0].contours[0]
    assert apart(found, angle(90, 5)) < 0.05


@pytest.mark.parametrize("curl", [220.0, 280.0, -280.0, 320.0])
def test_a_line_whose_tip_curls_up_goes_the_way_of_the_rest(curl: float) -> None:
    """Its first edge turns by more than half a round against the others, and must not take them round the other way."""

    def curled(turn: float, tip: float) -> Contour:
        ways = np.append(np.radians(np.linspace(tip, 0, 7)[:-1]), 0.2 * np.arange(9))
        places = 300 + 300j + np.append(0, np.cumsum(np.exp(1j * ways) * np.append([8.0] * 6, [30.0] * 9)))
        return polygon([(z.real, z.imag) for z in (places * np.exp(1j * np.radians(turn))).tolist()], closed=False)

    first, second = curled(0, 0), curled(40, curl)
    (half,) = half_of(plan_span(drawing(stroked(first)), drawing(stroked(second)), STIFF))
    end, meant = (np.array([node.at for node in half.nodes[-3:]]) @ [1, 1j])[[0, -1]], np.radians(20) + 0.2 * 7.5
    assert abs(np.angle((end[1] - end[0]) * np.exp(-1j * meant))) < 0.3
