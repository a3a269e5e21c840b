"""Guides pulled out of the paper's edges, points that snap to them and to each other, and copies to another tab."""

from typing import Any

import numpy as np
import pytest

from tests.browser.running import Server
from tests.browser.screen import Screen
from tests.browser.test_draw import ON_STAGE, choose, first_shapes, view

PAPER = "const b = document.querySelector('[data-paper]').getBoundingClientRect(); return [b.x, b.y, b.width, b.height]"


def guides(screen: Screen, scene: str) -> list[tuple[str, float]]:
    return [(guide["way"], guide["at"]) for guide in view(screen, scene)["scene"]["guides"]]


def on_page(screen: Screen, scene: str, x: float, y: float) -> tuple[float, float]:
    """Where a place in the scene is on the page."""
    left, top, width, height = screen.script(PAPER)
    whole = view(screen, scene)["scene"]
    return left + x * width / whole["width"], top + y * height / whole["height"]


def pull(screen: Screen, scene: str, way: str, at: float) -> None:
    """Pull a guide out of an edge to a place."""
    start = screen.middle(f"[data-testid=edge-{way}] rect")
    x, y = on_page(screen, scene, at, at)
    screen.drag(start, (x, start[1]) if way == "upright" else (start[0], y))
    screen.saved()


def nodes(shape: dict[str, Any]) -> np.ndarray:
    return np.array([node["at"] for contour in shape["contours"] for node in contour["nodes"]])


def shape_named(screen: Screen, scene: str, name: str) -> dict[str, Any]:
    return next(shape for shape in first_shapes(screen, scene) if shape["name"] == name)


def test_guides_are_pulled_out_of_the_edges_moved_and_pushed_off_the_paper(screen: Screen, pond: str) -> None:
    pull(screen, pond, "upright", 300)
    pull(screen, pond, "level", 120)
    (one, x), (two, y) = guides(screen, pond)
    assert (one, two) == ("upright", "level")
    assert x == pytest.approx(300, abs=2)
    assert y == pytest.approx(120, abs=2)
    place = on_page(screen, pond, x, 60)
    screen.drag(place, (place[0] + 80, place[1]))
    screen.until(lambda: guides(screen, pond)[0][1] > x + 50)
    moved = on_page(screen, pond, guides(screen, pond)[0][1], 60)
    left, *_ = screen.script(PAPER)
    screen.drag(moved, (left - 30, moved[1]))
    screen.until(lambda: [way for way, _ in guides(screen, pond)] == ["level"])
    screen.with_ctrl("z")
    screen.until(lambda: len(guides(screen, pond)) == 2)


def test_a_point_of_a_moved_shape_snaps_to_a_guide(screen: Screen, pond: str) -> None:
    body = shape_named(screen, pond, "body")
    inner = sorted(nodes(body)[:, 0])[1]  # a point that is at no edge or middle of the shape's box
    pull(screen, pond, "upright", round(inner + 30))
    guide = guides(screen, pond)[0][1]
    choose(screen, "body")
    start = screen.on_outline(f"{ON_STAGE} [data-shape='{body['id']}']", 0.1)
    width = screen.script(PAPER)[2]
    scale = width / view(screen, pond)["scene"]["width"]
    # near enough for this point to be drawn to the guide, no other being nearer
    screen.drag(start, (start[0] + 10, start[1]), (round(start[0] + (guide - inner) * scale), start[1]))
    screen.saved()
    moved = nodes(shape_named(screen, pond, "body"))
    assert np.abs(moved[:, 0] - guide).min() < 1e-6
    assert np.ptp(moved - nodes(body), axis=0) == pytest.approx([0, 0], abs=1e-9), "moved as it is"


def test_a_row_is_dragged_with_the_pointer(screen: Screen, pond: str) -> None:
    names = [shape["name"] for shape in first_shapes(screen, pond)]
    row, target = "belly", "cheek"
    screen.script("arguments[0].scrollIntoView({block: 'center'})", screen.one("[role=option][aria-label='spot a']"))
    middles = [screen.middle(f"[role=option][aria-label='{name}']") for name in (row, target)]
    steps = [(middles[0][0], middles[0][1] + way * 4) for way in (-1, -2)]
    screen.drag(middles[0], *steps, middles[1], middles[1])
    screen.until(lambda: [s["name"] for s in first_shapes(screen, pond)] != names)
    order = [shape["name"] for shape in first_shapes(screen, pond)]
    assert order.index(row) == order.index(target) + 1


def test_what_is_copied_in_one_tab_is_pasted_in_another(screen: Screen, pond: str, knead: Server) -> None:
    body = choose(screen, "body")
    screen.with_ctrl("c")
    first = screen.chrome.current_window_handle
    screen.chrome.switch_to.new_window("tab")
    try:
        screen.open(pond)
        count = len(first_shapes(screen, pond))
        screen.with_ctrl("v")
        screen.until(lambda: len(first_shapes(screen, pond)) == count + 1)
        pasted = first_shapes(screen, pond)[-1]
        assert pasted["name"] == "body"
        assert pasted["id"] != body
    finally:
        screen.chrome.close()
        screen.chrome.switch_to.window(first)
