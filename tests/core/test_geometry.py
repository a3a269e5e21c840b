"""Béziers as arrays: cutting, measuring, fitting, and similarities."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from knead.core.geometry import similarity
from knead.core.geometry.bezier import area, contour_of, cut, path_of, points_at, reversed_path, transformed, triples_of
from knead.core.geometry.fit import fit_one, fit_path
from knead.core.geometry.inside import mean_values
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import measure, track_of
from knead.core.outline.directions import winding
from knead.core.outline.laying.grid import grid_of, turning
from knead.core.outline.naming import hint_name
from tests.forms import (
    apart,
    backwards,
    begun_at,
    blob,
    distances,
    ellipse,
    filled,
    polygon,
    recut,
    star,
    stroked,
    wave,
)

radii = st.lists(st.floats(40, 120), min_size=5, max_size=9)
shares = st.lists(st.floats(0.01, 0.99), min_size=1, max_size=5, unique=True)


@given(radii, shares)
def test_pieces_of_a_cut_path_join_exactly_and_lie_on_it(form: list[float], at: list[float]) -> None:
    path = path_of(blob(form))
    params = np.sort(np.append(np.arange(len(path) + 1.0), np.array(at) * len(path)))
    pieces = cut(path, params)
    assert np.array_equal(pieces[:-1, 3], pieces[1:, 0]), "no gap, not even of rounding"
    assert np.allclose(pieces[:, 0], points_at(path, params[:-1]), atol=1e-9)
    assert area(pieces) == pytest.approx(area(path), rel=1e-12)


def test_an_uncut_path_comes_back_bit_by_bit_and_may_begin_anywhere() -> None:
    path = path_of(star(5))
    assert np.array_equal(cut(path, np.arange(len(path) + 1.0)), path)
    assert np.array_equal(cut(path, np.arange(len(path) + 1.0) + 3), np.roll(path, -3, axis=0))


def test_contours_and_paths_are_two_forms_of_one_thing() -> None:
    for contour in (star(), wave(), ellipse(0, 0, 5, 9), polygon([(3, 4)], closed=False)):
        again = contour_of(path_of(contour), contour.closed, contour.nodes)
        assert np.array_equal(path_of(again), path_of(contour))
        assert [n.id for n in again.nodes][: len(contour.nodes)] == [n.id for n in contour.nodes]
    assert triples_of(path_of(wave(4)), False).shape == (4, 3, 2)


def test_new_nodes_are_smooth_where_the_line_runs_through_and_corners_where_it_breaks() -> None:
    assert {n.kind for n in contour_of(path_of(ellipse(0, 0, 5, 9)), True).nodes} == {"smooth"}
    assert {n.kind for n in contour_of(path_of(star()), True).nodes} == {"corner"}


@given(st.floats(1, 300), st.floats(1, 300))
def test_area_of_an_ellipse_has_its_sign_by_direction(rx: float, ry: float) -> None:
    path = path_of(ellipse(10, 20, rx, ry))
    assert abs(area(path)) == pytest.approx(math.pi * rx * ry, rel=2e-3)
    assert area(reversed_path(path)) == pytest.approx(-area(path), rel=1e-12)


@given(radii, st.floats(0, 0.999))
def test_the_nearest_point_of_a_point_on_the_outline_is_itself(form: list[float], share: float) -> None:
    track = measure(path_of(blob(form)), True)
    (point,) = track.points(np.array([share]))
    param, distance = track.nearest(point)
    assert distance < 1e-3
    assert np.allclose(points_at(track.path, np.array([param]))[0], point, atol=1e-2)


@given(radii, shares)
def test_shares_and_parameters_are_inverse_round_a_closed_outline(form: list[float], at: list[float]) -> None:
    track = measure(path_of(blob(form)), True)
    places = np.array(at) + np.array([0.0, 1.0])[np.arange(len(at)) % 2]
    assert np.allclose(track.shares(track.params_at(places)), places, atol=1e-6)


def test_length_of_a_circle() -> None:
    assert measure(path_of(ellipse(0, 0, 100, 100)), True).length == pytest.approx(2 * math.pi * 100, rel=1e-3)


@given(st.floats(-3, 3), st.floats(0.2, 5), st.floats(-50, 50), st.floats(-50, 50))
def test_a_similarity_is_found_again_and_runs_evenly_from_rest(angle: float, scale: float, x: float, y: float) -> None:
    a, b = scale * complex(math.cos(angle), math.sin(angle)), complex(x, y)
    z = as_complex(np.array([(0, 0), (3, 1), (-2, 5), (4, -4.0)]))
    found = similarity.fit(z, a * z + b)
    assert found[0] == pytest.approx(a, abs=1e-9)
    assert found[1] == pytest.approx(b, abs=1e-7)
    a_t, b_t = similarity.inbetween(a, b, np.array([0.0, 0.5, 1.0]))
    assert (a_t[0], b_t[0]) == (pytest.approx(1), pytest.approx(0, abs=1e-9))
    assert a_t[1] ** 2 == pytest.approx(a, abs=1e-9)
    assert b_t[2] == pytest.approx(b, abs=1e-6)


def test_one_wild_correspondence_does_not_turn_a_robust_fit() -> None:
    rng = np.random.default_rng(1)
    z = rng.normal(size=12) + 1j * rng.normal(size=12)
    w = 1j * z + 5
    w[3] += 200
    a, _ = similarity.fit_robustly(z, w, np.ones(12))
    assert a == pytest.approx(1j, abs=0.01)
    assert abs(similarity.fit(z, w)[0] - 1j) > 1


def test_points_without_extent_give_a_mere_move() -> None:
    assert similarity.fit(np.array([2 + 1j]), np.array([5 + 5j])) == (1, 3 + 4j)
    assert np.array_equal(as_points(np.array([1 + 2j])), [[1.0, 2.0]])


@pytest.mark.parametrize("hand", range(40))
def test_a_quick_line_of_few_points_does_not_loop_between_them(hand: int) -> None:
    noise = np.random.default_rng(hand)
    count = 4 + hand % 20
    row = np.stack([200 - 20 * np.linspace(0, 1, count), 250 + 80 * np.linspace(0, 1, count)], axis=1)
    row += noise.normal(0, 2.5, row.shape)
    path, _ = fit_path(row, 2.0)
    places = points_at(path, np.linspace(0, len(path), 60 * len(path) + 1))
    assert distances(places, [row]).max() < 5


def test_a_freehand_corner_stays_a_corner() -> None:
    down = np.stack([np.linspace(0, 100, 40), np.linspace(0, 200, 40)], axis=1)
    up = np.stack([np.linspace(100, 200, 40), np.linspace(200, 0, 40)], axis=1)[1:]
    path, nodes = fit_path(np.concatenate([down, up]), 1.0)
    assert len(path) == 2
    assert np.allclose(path[0, 3], (100, 200), atol=3)
    assert nodes[0] == 0
    assert nodes[-1] == 78


def test_a_segment_is_fitted_to_its_own_points() -> None:
    segment = np.array([(0, 0), (30, 80), (120, 90), (150, 10.0)])
    points = points_at(segment[None], np.linspace(0, 1, 60))
    leave, arrive = segment[1] - segment[0], segment[2] - segment[3]
    found = fit_one(points, leave / np.linalg.norm(leave), arrive / np.linalg.norm(arrive))
    assert apart(contour_of(found[None], False), contour_of(segment[None], False)) < 0.01


@given(radii, shares, st.integers(0, 8))
def test_what_is_seen_of_an_outline_does_not_hang_on_its_nodes(form: list[float], at: list[float], start: int) -> None:
    one, two = (track_of(c) for c in (blob(form), recut(begun_at(blob(form), start), at)))
    (share,) = [two.nearest(one.points(np.zeros(1))[0])[0]]
    offset = two.shares(np.array([share]))[0]
    places = np.linspace(0, 1, 13)[:-1]
    assert np.allclose(turning(one, places), turning(two, places + offset), atol=0.15)
    assert winding(one) == winding(two) == -winding(measure(path_of(backwards(blob(form))), True))


def test_corners_are_places_of_the_grid_and_weigh_more_than_curves() -> None:
    track = measure(path_of(star(5, 0.4)), True)
    grid = grid_of(track, 60)
    at = np.array([np.abs(np.mod(grid.shares - s + 0.5, 1) - 0.5).min() for s in track.corners[0]])
    assert len(track.corners[0]) == 10
    assert np.all(at < 1e-9)
    assert grid.weight.max() == pytest.approx(1.0, abs=0.3)
    assert len(measure(path_of(ellipse(0, 0, 9, 9)), True).corners[0]) == 0


@pytest.mark.parametrize(
    ("shape", "point", "name"),
    [
        (filled(star(5), name="lily"), (200, 100), "lily, upper corner"),
        (filled(ellipse(100, 100, 90, 20), name="ear"), (10, 100), "ear, left tip"),
        (filled(ellipse(100, 100, 90, 20), name="ear"), (190, 100), "ear, right tip"),
        (stroked(wave()), (0, 0), "shape, left end"),
        (filled(polygon([(0, 0), (300, 0), (300, 90), (0, 90)]), name="raft"), (300, 45), "raft, right side"),
    ],
)
def test_hints_are_named_by_form_and_side(shape: object, point: tuple[float, float], name: str) -> None:
    assert hint_name(shape, np.array(point, dtype=float), set()) == name  # type: ignore[arg-type]
    assert hint_name(shape, np.array(point, dtype=float), {name}) == f"{name} 2"  # type: ignore[arg-type]


def test_a_transform_keeps_identity_and_form() -> None:
    contour = wave()
    moved = transformed(contour, np.array([[1.0, 0.0, 7.0], [0.0, 1.0, -3.0]]))
    assert [n.id for n in moved.nodes] == [n.id for n in contour.nodes]
    assert apart(contour, transformed(moved, np.array([[1.0, 0.0, -7.0], [0.0, 1.0, 3.0]]))) < 1e-12


@pytest.mark.parametrize("cuts", [1, 20, 1500])
def test_corners_are_seen_however_finely_an_outline_is_cut(cuts: int) -> None:
    ends = np.array([node.at for node in star(5).nodes])
    sides = [np.linspace(a, b, cuts, endpoint=False) for a, b in zip(ends, np.roll(ends, -1, axis=0), strict=True)]
    ring = polygon([tuple(point) for point in np.concatenate(sides).tolist()])
    shares, breaks = track_of(ring).corners
    assert shares == pytest.approx(np.arange(10) / 10, abs=1e-6)
    assert breaks.min() > 0.9


@given(radii, st.floats(0, 1), st.floats(-180, 180), st.floats(-0.8, 0.8))
def test_places_go_along_with_the_ring_they_are_in(form: list[float], out: float, degrees: float, lean: float) -> None:
    ring = as_complex(path_of(blob(form))[:, 0])
    # from a corner of the ring, on its edge, to the middle, and a little beyond
    places = np.array([ring[0], (ring[0] + ring[1]) / 2, ring.mean() + out * (ring[2] - ring.mean()), ring[3] * 1.05])
    weights = mean_values(ring, places)
    turn = np.exp(1j * math.radians(degrees))
    assert np.allclose(weights @ ring, places, atol=1e-5)
    assert np.allclose(
        weights @ (turn * ring + lean * ring.conj() + 5j), turn * places + lean * places.conj() + 5j, atol=1e-5
    )


@given(st.floats(0.5, 30), st.floats(0.01, 0.99), st.floats(0.05, 0.45))
def test_what_is_nearest_on_a_thin_bar_is_on_the_side_that_is_near(thick: float, along: float, off: float) -> None:
    bar = track_of(polygon([(0, 0), (400, 0), (400, thick), (170, thick), (40, thick), (0, thick)]))
    param, distance = bar.nearest(np.array([400 * along, off * thick]))
    assert distance <= off * thick + 1e-3
    assert bar.points(bar.shares(np.array([param])))[0, 1] < 0.5 * thick
