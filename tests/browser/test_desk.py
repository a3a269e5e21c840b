"""The desk's parts: shelf, layers, paint, arranging, clipboard, onion skin, flip, themes, export."""

import re
from pathlib import Path

import httpx
import numpy as np
from selenium.webdriver import ActionChains, Keys
from selenium.webdriver.common.by import By

from knead.core.model import SceneBundle
from knead.core.playback import moved
from knead.formats.bundle import read_bundle, write_bundle
from knead.service.demo import DEMO
from tests.browser.screen import Screen

ESCAPE, DELETE, ENTER = "\ue00c", "\ue017", "\ue007"


def shapes(screen: Screen) -> int:
    return len(screen.all("[data-testid=stage] g[pointer-events=all] [data-shape]"))


def choose(screen: Screen, name: str) -> str:
    shape = screen.shape_id(name)
    screen.click_at(screen.on_outline(f"[data-testid=stage] [data-shape='{shape}']", 0.02))
    screen.until(lambda: f"Paint of “{name}”" in screen.text("aside"))
    return shape


def box_width(screen: Screen) -> float:
    """Width of the box around the chosen shapes, on the page."""
    box = screen.one("[data-testid=arrange-box] rect")
    width: float = screen.script("return arguments[0].getBoundingClientRect().width", box)
    return width


def test_the_shelf_brings_in_duplicates_and_deletes_with_a_way_back(
    screen: Screen, pond_bundle: SceneBundle, tmp_path: Path
) -> None:
    screen.chrome.get("about:blank")
    screen.chrome.get(screen.address)
    scene = pond_bundle.scene.model_copy(update={"name": "Pond for the shelf"})
    (tmp_path / "pond.knead.json").write_bytes(write_bundle(pond_bundle.model_copy(update={"scene": scene})))

    def tiles() -> int:
        return sum("Pond for the shelf" in tile.text for tile in screen.all("[data-testid=scene-tile]"))

    screen.until(lambda: screen.all("[data-testid=bring-in]"))
    screen.all("[data-testid=bring-in]")[0].send_keys(str(tmp_path / "pond.knead.json"))
    screen.settled()
    screen.chrome.get(f"{screen.address}/#")
    screen.until(lambda: tiles() == 1)
    screen.press("Duplicate Pond for the shelf")
    screen.until(lambda: tiles() == 2)
    screen.press("Delete Pond for the shelf (copy)")
    screen.until(lambda: tiles() == 1)
    screen.press("Undo")
    screen.until(lambda: tiles() == 2)


def test_two_svg_files_become_a_morph_and_a_broken_one_is_refused_with_a_sentence(
    screen: Screen, tmp_path: Path
) -> None:
    screen.chrome.get("about:blank")
    screen.chrome.get(screen.address)
    pond = DEMO / "pond-at-dusk"
    screen.until(lambda: screen.all("[data-testid=bring-in]"))
    field = screen.all("[data-testid=bring-in]")[0]
    (tmp_path / "broken.svg").write_text("<svg><path")
    field.send_keys(str(tmp_path / "broken.svg"))
    screen.until(lambda: "broken.svg is not well-formed" in screen.text("[role=alert]"))
    field.send_keys(f"{pond / 'lily-1.svg'}\n{pond / 'lily-2.svg'}")
    screen.settled()
    assert screen.text("[data-testid=scene-name]").startswith("lily-1")
    assert len(screen.all("[data-testid=card]")) == 13


def test_layers_are_added_renamed_hidden_locked_and_deleted(screen: Screen) -> None:
    rows = len(screen.until(lambda: screen.all("[data-testid=layer-row]")))
    screen.press("Add a layer")
    screen.until(lambda: len(screen.all("[data-testid=layer-row]")) == rows + 1)
    assert "Nothing at 1 on layer" in screen.text("[data-testid=status-line]")
    name = screen.one("[aria-current=true] [aria-label^='layer: ']")
    screen.script("arguments[0].dispatchEvent(new MouseEvent('dblclick', {bubbles: true}))", name)
    screen.until(lambda: screen.all("[aria-current=true] input"))
    screen.with_ctrl("a")
    screen.keys("mist", ENTER)
    screen.until(lambda: screen.all("[data-layer=mist]"))
    row = "[data-layer=tadpole]"
    screen.one(f"{row} [aria-label='Lock layer']").click()
    screen.until(lambda: "(locked)" in screen.text("[data-testid=status-line]"))
    screen.click_at(screen.middle("[data-testid=stage]"))
    screen.until(lambda: "'tadpole' is locked" in screen.text("[data-testid=notice]"))
    screen.one(f"{row} [aria-label='Unlock layer']").click()
    screen.one(f"{row} [aria-label='Hide layer']").click()
    screen.until(lambda: shapes(screen) == 0)
    screen.one(f"{row} [aria-label='Show layer']").click()
    screen.until(lambda: shapes(screen) == 17)
    screen.of_layer("mist", "Delete layer")
    screen.until(lambda: not screen.all("[data-layer=mist]"))


def test_a_layer_is_turned_into_drawings_that_are_drawn_on_one_by_one(screen: Screen) -> None:
    screen.of_layer("tadpole", "Turn into drawings")
    screen.keys("w", "w")
    screen.until(lambda: screen.text("[data-testid=status-line]") == "Breakdown “tadpole 2” at 3 on tadpole drawn")
    assert len(screen.all("[data-layer='tadpole drawn'] [data-testid=key]")) == 39
    screen.one("[data-layer=tadpole] [aria-label='Show layer']")
    assert screen.text("[data-testid=strip]").startswith("No frame lies between 3 and 4")


def first_points(screen: Screen, selector: str) -> list[list[float]]:
    """Where the outlines of a group on the stage begin, in scene units."""
    code = """
      const group = document.querySelector(arguments[0]), m = group.transform.baseVal.consolidate().matrix;
      return [...group.querySelectorAll('path[data-shape]')].map(path => {
        const p = path.getPointAtLength(0);
        return [m.a * p.x + m.c * p.y + m.e, m.b * p.x + m.d * p.y + m.f];
      });
    """
    found: list[list[float]] = screen.script(code, selector)
    return found


def test_a_layer_played_again_is_placed_by_hand_where_the_export_has_it_and_cut_loose(screen: Screen) -> None:
    screen.of_layer("tadpole", "Play again on a new layer")
    screen.until(lambda: screen.text("[data-testid=status-line]").startswith("A cycle on tadpole 2"))
    x, y = screen.middle("[data-testid=cycle-box] rect")
    screen.drag((x, y), (x - 40, y + 30), (x - 150, y + 60))
    screen.until(lambda: screen.button("Undo: Place a cycle"))
    for label, value in (("Size %", "50"), ("Turn °", "30"), ("Starts at", "5")):
        field = screen.chrome.find_elements(By.XPATH, f"//label[.='{label}']/following-sibling::div/input")[0]
        field.click()
        screen.with_ctrl("a")
        field.send_keys(value + ENTER)
        screen.saved()
    screen.script("document.activeElement.blur()")
    screen.keys(*"wwww")
    address = screen.script("return `${location.origin}/api/scenes/${location.hash.slice(1)}/bundle`")
    bundle = read_bundle(httpx.get(address).content)
    layer = next(each for each in bundle.scene.layers if each.name == "tadpole 2")
    assert layer.cycle is not None
    shown = moved(bundle.drawings[bundle.scene.source(layer).keys[0].drawing], layer.cycle)
    assert (layer.cycle.start, layer.cycle.scale, layer.cycle.turn) == (5, 0.5, 30)
    assert np.allclose(
        first_points(screen, f"[data-cycle='{layer.id}']"), [s.contours[0].nodes[0].at for s in shown.shapes], atol=0.1
    )
    screen.press("Cut loose")
    screen.until(lambda: len(screen.all("[data-layer='tadpole 2'] [data-testid=key]")) == 4)
    screen.until(lambda: screen.text("[data-testid=status-line]") == "Key at 5 on tadpole 2")


def test_a_layer_played_round_shows_what_is_played_again(screen: Screen) -> None:
    screen.of_layer("tadpole", "there and back")
    screen.until(lambda: screen.button("Undo: Play a layer there and back"))
    screen.one("[data-layer=tadpole] [data-testid=again] polyline")
    screen.keys(*"W" * 3, *"www")
    screen.until(lambda: screen.text("[data-testid=status-line]").startswith("Frame 36 on tadpole, played again at 42"))


def test_one_in_between_is_pulled_to_its_place_and_back(screen: Screen) -> None:
    screen.keys("3")
    before = screen.text("[data-testid=strip]")
    x, y = screen.middle("[data-tick='9']")
    screen.drag((x, y), (x, y - 10), (x, y - 30))
    screen.until(lambda: screen.button("Undo: Change the timing chart"))
    rows = before.split("\n")
    changed = screen.until(lambda: [row for row in rows if row not in screen.text("[data-testid=strip]").split("\n")])
    assert changed == ["10 · 0.77"]
    screen.press("Back to the ease")
    screen.until(lambda: screen.text("[data-testid=strip]") == before)


def test_two_takes_are_seen_beside_each_other_and_change_places(screen: Screen) -> None:
    screen.keys("2")
    screen.press("New take")
    screen.until(lambda: screen.button("Undo: New take"))
    screen.keys("3")
    screen.press("Solid")
    screen.until(lambda: screen.button("Undo: Change travel"))
    screen.keys("4", *"wwwwww")
    screen.press("See take 1 beside it")
    tail = screen.shape_id("tail fin")
    sides = [f"[data-testid={name}] [data-shape='{tail}']" for name in ("stage", "other-take")]
    screen.until(lambda: len({screen.one(side).get_attribute("d") for side in sides}) == 2)
    before = screen.one(sides[1]).get_attribute("d")
    screen.press("Use take 1")
    screen.until(lambda: not screen.all("[data-testid=other-take]"))
    screen.until(lambda: screen.one(sides[0]).get_attribute("d") == before)


def test_a_note_and_the_plan_as_a_picture_are_handed_on_with_the_span(screen: Screen) -> None:
    screen.keys("2")
    screen.press("Write a note")
    screen.keys("The fin lags & the legs come late")
    screen.keys(Keys.TAB)  # the note is kept when its field is left
    screen.until(lambda: screen.button("Undo: Note on a take"))
    screen.saved()
    sheet = httpx.get(screen.one("a[href$='/sheet']").get_attribute("href") or "").text
    assert all(words in sheet for words in ("tadpole · key 1 to key 13", "The fin lags &amp; the legs", "tail fin"))


def test_paint_is_taken_away_and_given_back_and_width_is_typed(screen: Screen) -> None:
    shape = choose(screen, "tail")
    path = f"[data-testid=stage] [data-shape='{shape}']"
    screen.all("[aria-label='Fill on']")[0].click()
    screen.until(lambda: screen.one(path).get_attribute("fill") == "none")
    screen.all("[aria-label='Fill on']")[0].click()
    screen.until(lambda: screen.one(path).get_attribute("fill") != "none")
    width = screen.chrome.find_elements(By.XPATH, "//label[normalize-space()='Width']/following-sibling::div/input")[0]
    width.click()
    screen.with_ctrl("a")
    screen.keys("9", ENTER)
    screen.until(lambda: screen.one(path).get_attribute("stroke-width") == "9")


def test_shapes_are_scaled_turned_nudged_and_stacked(screen: Screen) -> None:
    choose(screen, "spot c")
    before = box_width(screen)
    knob = screen.middle("[data-knob='1 1']")
    screen.drag(knob, (knob[0] + 10, knob[1] + 10), (knob[0] + 30, knob[1] + 20))
    screen.until(lambda: screen.button("Undo: Scale"))
    screen.until(lambda: box_width(screen) > before + 20)
    turn = screen.middle("[data-knob=turn]")
    screen.drag(turn, (turn[0] + 20, turn[1] + 5), (turn[0] + 40, turn[1] + 30))
    screen.until(lambda: screen.button("Undo: Turn"))
    screen.keys("\ue014")
    screen.until(lambda: screen.button("Undo: Move"))
    screen.press("Flip left and right")
    screen.until(lambda: screen.button("Undo: Flip"))
    screen.press("Send to back")
    screen.until(lambda: screen.button("Undo: Send to back"))
    for _ in range(5):
        screen.with_ctrl("z")
    screen.until(lambda: not screen.button("Nothing to undo").is_enabled())
    screen.until(lambda: abs(box_width(screen) - before) < 1)


def test_shapes_are_copied_to_another_key_and_deleted(screen: Screen) -> None:
    choose(screen, "nostril")
    screen.with_ctrl("c")
    screen.keys("W")
    screen.until(lambda: screen.text("[data-testid=status-line]").startswith("Key “legs” at 13 on tadpole"))
    there = shapes(screen)
    screen.with_ctrl("v")
    screen.until(lambda: shapes(screen) == there + 1)
    screen.with_ctrl("a")
    screen.keys(DELETE)
    screen.until(lambda: shapes(screen) == 0)
    screen.press("Undo: Delete shapes")
    screen.until(lambda: shapes(screen) == there + 1)


def test_a_box_drawn_around_shapes_selects_them(screen: Screen) -> None:
    x, y = screen.middle(f"[data-testid=stage] [data-shape='{screen.shape_id('eye')}']")
    screen.drag((x - 60, y - 70), (x, y), (x + 34, y + 34))
    screen.until(lambda: re.search(r"Paint of \d shapes", screen.text("aside")))
    screen.keys(ESCAPE)
    screen.until(lambda: "Paint for what you draw" in screen.text("aside"))


def test_onion_skin_flip_and_the_bare_look_are_seen_while_wanted(screen: Screen) -> None:
    screen.keys("W", "b")
    outlines = screen.until(lambda: screen.all("[data-testid=onion-skin] path"))
    colours = {path.get_attribute("stroke") for path in outlines}
    assert colours == {"var(--plum)", "var(--lagoon)"}
    screen.script("dispatchEvent(new KeyboardEvent('keydown', {key: 'v'}))")
    screen.until(lambda: not screen.all("[data-testid=onion-skin]"))
    screen.script("dispatchEvent(new KeyboardEvent('keyup', {key: 'v'}))")
    screen.until(lambda: screen.all("[data-testid=onion-skin]"))
    screen.script("dispatchEvent(new KeyboardEvent('keydown', {key: 'e'}))")
    screen.until(lambda: "Flipped" in screen.text("[data-testid=status-line]"))
    screen.script("dispatchEvent(new KeyboardEvent('keyup', {key: 'e'}))")
    screen.until(lambda: "Flipped" not in screen.text("[data-testid=status-line]"))


def test_drawing_on_an_inbetween_says_what_to_do(screen: Screen) -> None:
    screen.keys("w", "d")
    x, y = screen.middle("[data-testid=stage]")
    screen.drag((x, y), (x + 40, y + 10))
    screen.until(lambda: "Press C to keep it as a breakdown" in screen.text("[data-testid=notice]"))


def test_the_lamp_and_the_sheet_of_keys(screen: Screen) -> None:
    def table() -> str:
        found: str = screen.script(
            "return getComputedStyle(document.documentElement).getPropertyValue('--table').trim()"
        )
        return found

    screen.press("Lamp: dim the room")
    screen.until(lambda: table() == "#2A2724")
    screen.reload()
    assert table() == "#2A2724", "the room stays as it was left"
    screen.press("Day: light the room")
    screen.until(lambda: table() == "#E7DFD0")
    screen.keys("?")
    screen.until(lambda: "In-between the span at hand" in screen.text("[role=dialog]"))
    screen.keys(ESCAPE)
    screen.until(lambda: not screen.all("[role=dialog]"))


def test_the_timeline_is_made_higher_stays_so_and_goes_back(screen: Screen) -> None:
    def height() -> int:
        return int(screen.one("[data-testid=timeline]").rect["height"])

    before, edge = height(), screen.middle("[role=separator]")
    screen.drag(edge, (edge[0], edge[1] - 40), (edge[0], edge[1] - 100))
    screen.until(lambda: height() == before + 100)
    screen.reload()
    screen.until(lambda: height() == before + 100)
    edge = screen.middle("[role=separator]")
    screen.drag(edge, (edge[0], edge[1] + 100), (edge[0], edge[1] + 160))
    screen.until(lambda: height() == before - 60)
    screen.reload()  # the layer that is drawn on does not fit any more, from the top
    screen.until(lambda: screen.in_sight("[data-testid=layer-row][aria-current=true]", "[data-testid=timeline]"))
    screen.click_twice_at(screen.middle("[role=separator]"))
    screen.until(lambda: height() == before)


def test_a_long_export_shows_progress_and_is_cancelled(screen: Screen) -> None:
    screen.press("Export")
    screen.one("[role=dialog] [role=combobox]").click()
    screen.until(lambda: [e for e in screen.all("[role=option]") if e.text.startswith("PNG pictures")])[0].click()
    screen.until(lambda: not screen.all("ul[role=listbox]"))
    screen.chrome.find_element(By.XPATH, "//div[@role='dialog']//button[normalize-space()='Export']").click()
    screen.one("[aria-label='Export progress']")
    screen.press("Cancel the export")
    screen.until(lambda: "Nothing was written" in screen.text("[role=dialog]"))


def test_the_scene_is_renamed_and_saved_as_a_file(screen: Screen, pond: str) -> None:
    screen.one("[data-testid=scene-name]").click()
    screen.until(lambda: [e for e in screen.all("[role=menuitem]") if e.text.startswith("Name, size")])[0].click()
    screen.until(lambda: screen.all("[role=dialog] input"))
    screen.with_ctrl("a")
    screen.keys("Pond by night")
    screen.press("Change the scene")
    screen.until(lambda: screen.text("[data-testid=scene-name]") == "Pond by night")
    bundle = httpx.get(f"{screen.address}/api/scenes/{pond}/bundle").json()
    assert bundle["scene"]["name"] == "Pond by night"


def test_shapes_are_aligned_mirrored_and_a_layer_is_tagged_copied_and_shown_alone(screen: Screen) -> None:
    shown = "[data-testid=stage] [data-shape]"
    for name in ("spot a", "spot b"):
        place = screen.middle(f"[data-testid=stage] [data-shape='{screen.shape_id(name)}']")
        pointer = ActionChains(screen.chrome, duration=10).key_down(Keys.SHIFT)
        pointer.w3c_actions.pointer_action.move_to_location(*map(round, place))
        pointer.click().key_up(Keys.SHIFT).perform()
    screen.press("Align top")
    screen.until(lambda: screen.button("Undo: Align top"))
    tops = [screen.one(f"[data-testid=stage] [data-shape='{screen.shape_id(n)}']") for n in ("spot a", "spot b")]
    assert abs(tops[0].rect["y"] - tops[1].rect["y"]) < 1.5
    count = len(screen.all(shown))
    screen.press("Mirrored copy")
    screen.until(lambda: len(screen.all(shown)) == count + 2)
    screen.of_layer("tadpole", "Tag: sea")
    screen.until(lambda: screen.all("[data-layer=tadpole] [data-testid=tag]"))
    layers = len(screen.all("[data-layer]"))
    for item in ("Duplicate layer", "Show alone"):
        screen.of_layer("tadpole", item)
        screen.saved()
    screen.until(lambda: len(screen.all("[data-layer]")) == layers + 1)
    screen.until(lambda: len(screen.all("button[aria-label='Show layer']")) == layers)
