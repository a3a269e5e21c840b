"""The loops of the core, compiled and as the Python they are written in."""

import importlib.util
from pathlib import Path
from types import ModuleType

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from knead.core.outline.compiled import measures, programmes
from knead.core.outline.laying.field import MOVES


def _as_written(name: str) -> ModuleType:
    source = Path(programmes.__file__).parent / f"{name}.py"
    spec = importlib.util.spec_from_file_location(f"{name}_as_written", source)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


WRITTEN, MEASURED = _as_written("programmes"), _as_written("measures")


def _rising(noise: np.random.Generator, count: int) -> np.ndarray:
    steps = noise.uniform(0.8, 1.2, count)
    return np.concatenate([[0.0], np.cumsum(steps)]) / steps.sum()


def test_what_runs_is_compiled() -> None:
    for compiled, written in ((programmes, WRITTEN), (measures, MEASURED)):
        assert not compiled.__file__.endswith(".py")
        assert written.__file__ is not None
        assert written.__file__.endswith(".py")


@given(st.integers(0, 10_000), st.integers(4, 14), st.integers(4, 14))
def test_compiled_programmes_find_what_the_written_ones_find(seed: int, n: int, m: int) -> None:
    noise = np.random.default_rng(seed)
    first, second = _rising(noise, n), _rising(noise, m)
    cost, gain = noise.random((n + 1, m + 1)), 0.1 * noise.random((n + 1, m + 1))
    twice = [np.concatenate([table[:, :-1], table], axis=1) for table in (cost, gain)]
    round_twice = np.concatenate([second[:-1], second + 1.0])
    starts = [each.align_all_starts(*twice, first, round_twice, 0.6, MOVES) for each in (programmes, WRITTEN)]
    np.testing.assert_allclose(*starts, rtol=1e-9)
    one, two = (np.stack([row, 3 * row, noise.normal(size=len(row)), 2 * row]) for row in (first, second))
    np.testing.assert_array_equal(*(each.least_work(one, two, 0.1, 0.02) for each in (programmes, WRITTEN)))
    corners = [np.concatenate([row[None], noise.normal(size=(2, len(row)))]) for row in (first, second)]
    for name, given_tables in (
        ("align", (cost, gain, first, second, 0.6, MOVES)),
        ("chain", (gain, *corners, 6, 1.0, 0.8)),
    ):
        (total, steps), (other_total, other_steps) = (
            getattr(each, name)(*given_tables) for each in (programmes, WRITTEN)
        )
        assert total == pytest.approx(other_total, rel=1e-9)
        np.testing.assert_array_equal(steps, other_steps)


@given(st.integers(0, 10_000))
def test_a_start_in_a_round_costs_what_it_costs_alone(seed: int) -> None:
    noise = np.random.default_rng(seed)
    n, m, start = 9, 11, int(noise.integers(11))
    first, second = _rising(noise, n), _rising(noise, m)
    cost = noise.random((n + 1, m))
    twice, none = np.concatenate([cost, cost, cost[:, :1]], axis=1), np.zeros((n + 1, 2 * m + 1))
    round_twice = np.concatenate([second[:-1], second + 1.0])
    totals = programmes.align_all_starts(twice, none, first, round_twice, 0.6, MOVES)
    part = np.ascontiguousarray(twice[:, start : start + m + 1])
    alone, _ = programmes.align(part, none[:, : m + 1].copy(), first, round_twice[start : start + m + 1], 0.6, MOVES)
    assert totals[start] == pytest.approx(alone, rel=1e-9)


@given(st.integers(0, 10_000), st.integers(3, 14), st.booleans())
def test_compiled_measures_find_what_the_written_ones_find(seed: int, n: int, closed: bool) -> None:
    noise = np.random.default_rng(seed)
    sides = [(_rising(noise, 40), noise.normal(size=(41, 2))) for _ in range(2)]
    knots = np.stack([_rising(noise, n), _rising(noise, n)], axis=1) + 0.3 * closed
    found = [each.distorted(*sides[0], *sides[1], knots, closed) for each in (measures, MEASURED)]
    np.testing.assert_allclose(*found, rtol=1e-9)
    pinned = (noise.random(n + 1) < 0.3).astype(np.uint8)
    pinned[[0, -1]] = 1
    np.testing.assert_allclose(*(each.evened(knots, pinned) for each in (measures, MEASURED)), rtol=1e-9)


def test_what_is_only_moved_turned_and_sized_is_not_distorted() -> None:
    shares, points = np.linspace(0, 1, 41), np.random.default_rng(7).normal(size=41 * 2).view(complex)
    moved = (0.6 - 1.2j) * points + 30
    rows = [each.view(float).reshape(-1, 2) for each in (points, moved)]
    *distorted, turn = measures.distorted(shares, rows[0], shares, rows[1], np.array([[0.0, 0.0], [1.0, 1.0]]), False)
    assert distorted == pytest.approx([0, 0, 0, 0], abs=1e-9)
    assert turn == pytest.approx(abs(np.angle(0.6 - 1.2j)))
