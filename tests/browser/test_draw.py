"""The Draw view's help: the practice pen, simplifying, snapping, size match, layers that are not at hand."""

import re
from typing import Any

import httpx
from selenium.webdriver import ActionChains, Keys

from tests.browser.screen import Screen

ON_STAGE = "[data-testid=stage] [data-at-hand]"


def view(screen: Screen, scene: str) -> Any:
    return httpx.get(f"{screen.address}/api/scenes/{scene}").json()


def first_shapes(screen: Screen, scene: str) -> list[Any]:
    """The shapes of the tadpole's first key."""
    found = view(screen, scene)
    layer = next(layer for layer in found["scene"]["layers"] if layer["name"] == "tadpole")
    shapes: list[Any] = found["drawings"][layer["keys"][0]["drawing"]]["shapes"]
    return shapes


def choose(screen: Screen, name: str) -> str:
    shape = screen.shape_id(name)
    screen.click_at(screen.on_outline(f"{ON_STAGE} [data-shape='{shape}']", 0.1))
    screen.until(lambda: f"Paint of “{name}”" in screen.text("aside"))
    return shape


def move_slider(screen: Screen, name: str, steps: int) -> None:
    screen.script("arguments[0].focus()", screen.one(f"input[aria-label='{name}']"))
    screen.keys(*[Keys.ARROW_RIGHT] * steps)


def test_the_practice_pen_draws_a_line_whose_width_is_its_pressure(screen: Screen, pond: str) -> None:
    screen.keys("d")
    screen.press("Reed")
    screen.until(lambda: screen.all("[data-testid=line-nodes]"))
    screen.saved()
    line = first_shapes(screen, pond)[-1]
    weights = [node["weight"] for node in line["contours"][0]["nodes"]]
    assert screen.text("[data-testid=line-nodes]") == f"{len(weights)} points"
    assert (max(weights) > 1.5, min(weights) < 0.5) == (True, True), "the pen begins and ends light"
    move_slider(screen, "Tolerance", 30)
    screen.until(lambda: first_shapes(screen, pond)[-1] != line)
    assert first_shapes(screen, pond)[-1]["id"] == line["id"], "the same line, fitted anew"


def test_a_simplified_outline_is_seen_with_its_figures_before_it_is_taken(screen: Screen, pond: str) -> None:
    body = choose(screen, "body")
    before = first_shapes(screen, pond)
    path = f"{ON_STAGE} [data-shape='{body}']"
    drawn = screen.one(path).get_attribute("d")
    move_slider(screen, "Simplify within", 12)
    words = screen.until(lambda: re.search(r"10 → (\d+) points, off by", screen.text("[data-testid=simplify-words]")))
    screen.until(lambda: screen.one(path).get_attribute("d") != drawn)
    screen.press("Leave it")
    screen.until(lambda: screen.one(path).get_attribute("d") == drawn)
    assert first_shapes(screen, pond) == before
    move_slider(screen, "Simplify within", 1)
    screen.press("Simplify")
    screen.until(lambda: screen.button("Undo: Simplify"))
    left = next(s for s in first_shapes(screen, pond) if s["id"] == body)["contours"][0]["nodes"]
    assert len(left) <= int(words[1]) < 10


def test_a_drag_snaps_to_the_grid_and_says_so_unless_alt_is_held_and_shows_the_size_at_the_other_key(
    screen: Screen,
) -> None:
    choose(screen, "body")
    screen.press("grid")
    x, y = screen.middle(f"{ON_STAGE} [data-shape='{screen.shape_id('belly')}']")
    body = screen.on_outline(f"{ON_STAGE} [data-shape='{screen.shape_id('body')}']", 0.1)
    screen.drag(body, (body[0] + 20, body[1] + 9), (body[0] + 31, body[1] + 17), release=False)
    screen.until(lambda: screen.text("[data-testid=caught]") == "grid")
    assert re.match(r"\+\d+ \+\d+", screen.text("[data-testid=arrange-words]")), "how far it has gone"
    assert re.match(r"at 13: \d+ . \d+", screen.text("[data-testid=size-match]"))
    ActionChains(screen.chrome).key_down(Keys.ALT).perform()
    screen.move_to((body[0] + 32, body[1] + 18))
    screen.until(lambda: not screen.all("[data-testid=caught]"))
    ActionChains(screen.chrome).key_up(Keys.ALT).perform()
    screen.let_go()
    screen.until(lambda: screen.button("Undo: Move"))
    screen.press("grid")
    assert (x, y) == screen.middle(f"{ON_STAGE} [data-shape='{screen.shape_id('belly')}']")


def test_a_click_on_another_layer_says_so_and_offers_to_go_there(screen: Screen, pond: str) -> None:
    lily = next(x["id"] for x in view(screen, pond)["scene"]["layers"] if x["name"] == "lily")
    screen.click_at(screen.on_outline(f"[data-testid=stage] [data-layer-shown='{lily}'] [data-shape]", 0.02))
    notice = screen.until(lambda: screen.text("[data-testid=notice]"))
    other = re.search(r"on layer “(\w+)”. Layer “tadpole” is at hand", notice)
    assert other
    screen.press(f"Go to {other[1]}")
    screen.until(lambda: f"on {other[1]}" in screen.text("[data-testid=status-line]"))


def test_a_key_is_dragged_to_another_layer(screen: Screen, pond: str) -> None:
    index = len(screen.all("[data-layer=tadpole] [data-testid=key]")) - 1
    key = screen.middle("[data-layer=tadpole] [data-testid=key]", index)
    row = screen.middle("[data-layer=reeds]")
    screen.drag(key, (key[0] + 2 * screen.cell(), row[1]), (key[0] + 4 * screen.cell(), row[1]))
    screen.until(lambda: screen.button("Undo: Move a key to another layer"))
    frames = {layer["name"]: [k["frame"] for k in layer["keys"]] for layer in view(screen, pond)["scene"]["layers"]}
    assert frames["tadpole"] == [1, 13, 25]
    assert frames["reeds"] == [1, 24, 43, 48]


def test_a_point_that_a_hint_stands_on_is_removed_only_after_a_word(screen: Screen, pond: str) -> None:
    found = view(screen, pond)
    layer = next(layer for layer in found["scene"]["layers"] if layer["name"] == "tadpole")
    key = layer["keys"][0]
    shape = screen.shape_id("tail")
    tail = next(s for s in found["drawings"][key["drawing"]]["shapes"] if s["id"] == shape)
    node = tail["contours"][0]["nodes"][0]
    end = {"shape": shape, "at": node["at"]}
    operation = {"type": "add_hint", "key": key["id"], "first": end, "snap": 5}
    url = f"{screen.address}/api/scenes/{pond}/edits"
    answer = httpx.post(url, json={"base": found["revision"], "operation": operation})
    assert answer.status_code == 200, answer.text
    screen.reload()
    screen.keys("s")
    screen.click_at(screen.on_outline(f"{ON_STAGE} [data-shape='{shape}']", 0.3))
    screen.click_at(screen.middle(f"[data-node='{node['id']}']"))
    screen.keys(Keys.DELETE)
    screen.until(lambda: "stands here" in screen.text("[data-testid=notice]"))
    screen.press("Remove the point")
    screen.until(lambda: screen.button("Undo: Remove a point"))
    layers = view(screen, pond)["scene"]["layers"]
    (hint,) = next(layer for layer in layers if layer["name"] == "tadpole")["keys"][0]["span"]["take"]["hints"]
    assert hint["first"]["node"] is None
