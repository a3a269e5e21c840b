"""The whole way in the real interface: open, change a key, tie a hint, ease, play, export, reload."""

from pathlib import Path

import httpx
import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.running import Server
from tests.browser.screen import Screen


def test_the_desk_says_what_is_being_edited(screen: Screen) -> None:
    assert screen.text("[data-testid=status-line]") == "Key “tadpole” at 1 on tadpole"
    assert len(screen.all("[data-testid=card]")) == 13
    screen.keys("w", "w")
    assert "In-between at 3 on tadpole: a picture" in screen.text("[data-testid=status-line]")
    screen.keys("W")
    assert screen.text("[data-testid=status-line]") == "Key “legs” at 13 on tadpole"
    screen.one("[data-layer=moon]").click()
    screen.until(lambda: "held" not in screen.text("[data-testid=status-line]"))
    assert "on moon" in screen.text("[data-testid=status-line]")


def test_the_whole_span_is_in_sight_and_so_is_the_needle_however_long_the_scene(screen: Screen, pond: str) -> None:
    right = "return document.querySelector(arguments[0]).getBoundingClientRect().right"
    assert screen.script(right, "[data-testid=card]:last-child") <= screen.script(right, "[data-testid=strip]")
    address = f"{screen.address}/api/scenes/{pond}"
    base = httpx.get(address).json()["revision"]
    longer = {"base": base, "operation": {"type": "set_scene", "length": 300}}
    assert httpx.post(f"{address}/edits", json=longer).status_code == 200
    screen.reload()
    assert screen.cell() * 300 > 1280, "it does not fit"
    screen.keys("q")
    screen.until(lambda: screen.frame() == 300)
    screen.until(lambda: 250 < screen.middle("[data-testid=needle]")[0] < 1280)
    screen.keys("w")
    screen.until(lambda: 250 < screen.middle("[data-testid=needle]")[0] < 1280 and screen.frame() == 1)


def test_all_cards_of_a_long_span_can_be_seen_at_once(screen: Screen) -> None:
    screen.one("[data-layer=lily]").click()
    screen.until(lambda: len(screen.all("[data-testid=card]")) == 30)
    low_right = "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.right, b.bottom]"

    def last_is_in_sight() -> bool:
        last, strip = (screen.script(low_right, f"[data-testid={part}") for part in ("card]:last-child", "strip]"))
        return bool(last[0] <= strip[0] and last[1] <= strip[1])

    assert not last_is_in_sight()
    screen.press("See all cards at once")
    screen.until(last_is_in_sight)
    screen.press("See all cards at once")
    screen.until(lambda: not last_is_in_sight())


def test_dragging_a_shape_changes_the_cards_while_the_hand_moves_and_undo_gives_them_back(screen: Screen) -> None:
    before = screen.cards()
    eye = screen.middle(f"[data-testid=stage] [data-shape='{screen.shape_id('spot a')}']")
    screen.drag(eye, (eye[0] + 20, eye[1]), (eye[0] + 40, eye[1] + 25), release=False)
    screen.until(lambda: screen.cards()[6] != before[6])
    screen.let_go()
    screen.saved()
    screen.until(lambda: screen.button("Undo: Move").is_enabled())
    screen.with_ctrl("z")
    screen.until(lambda: screen.cards() == before)
    screen.press("Redo: Move")
    screen.until(lambda: screen.cards()[0] != before[0])
    assert screen.cards()[-1] == before[-1], "the second key is as it was"


def test_a_point_can_be_moved_added_and_removed(screen: Screen) -> None:
    body = screen.shape_id("body")
    screen.keys("s")
    screen.click_at(screen.middle(f"[data-testid=stage] [data-shape='{body}']"))
    nodes = len(screen.until(lambda: screen.all("[data-node]")))
    before = screen.cards()
    node = screen.middle("[data-node]", 2)
    screen.drag(node, (node[0], node[1] - 15), (node[0], node[1] - 30))
    screen.until(lambda: screen.cards()[0] != before[0])
    screen.press("Remove")
    screen.until(lambda: len(screen.all("[data-node]")) == nodes - 1)
    outline = screen.on_outline(f"[data-testid=stage] [data-shape='{body}']", 0.37)
    screen.click_twice_at(outline)
    screen.until(lambda: len(screen.all("[data-node]")) == nodes)
    screen.with_ctrl("z")
    screen.until(lambda: len(screen.all("[data-node]")) == nodes - 1)


def test_a_hint_is_tied_with_one_gesture_dragged_named_and_removed(screen: Screen) -> None:
    screen.keys("2")
    body = f"[data-testid=match-first] [data-shape='{screen.shape_id('tail')}']"
    screen.click_at(screen.on_outline(body, 0.3))
    assert screen.text("[role=option][aria-selected=true]").startswith("tail")
    before = screen.cards()
    screen.click_at(screen.on_outline(body, 0.3))
    row = screen.one("[data-testid=hint-row]")
    assert row.text.startswith("tail, ")
    end = screen.middle("[data-testid=match-second] [data-hint]")
    screen.drag(end, (end[0] + 15, end[1] + 4), (end[0] + 40, end[1] + 10), release=False)
    screen.until(lambda: screen.cards()[6] != before[6])
    screen.let_go()
    screen.saved()
    screen.until(lambda: screen.button("Undo: Move a hint"))
    label = screen.one("[data-testid=hint-row] [aria-label^='hint: ']")
    screen.script("arguments[0].dispatchEvent(new MouseEvent('dblclick', {bubbles: true}))", label)
    screen.until(lambda: screen.all("[data-testid=hint-row] input"))
    screen.with_ctrl("a")
    screen.keys("tail tip", "\ue007")
    screen.until(lambda: screen.text("[data-testid=hint-row]") == "tail tip")
    screen.press("Remove all")
    screen.until(lambda: not screen.all("[data-testid=hint-row]"))
    screen.until(lambda: screen.cards() == before)


def test_a_pair_is_made_and_parted_by_hand(screen: Screen) -> None:
    screen.keys("2")

    def cheeks() -> list[str]:
        return [r.text for r in screen.all("[data-testid=pair-row]") if r.text.startswith("cheek")]

    screen.until(cheeks)
    next(row for row in screen.all("[data-testid=pair-row]") if row.text.startswith("cheek")).click()
    screen.press("Part: let the first vanish and the second appear")
    screen.until(lambda: [text.split("\n")[1] for text in cheeks()] == ["vanishes"])
    screen.script("document.querySelector('aside').scrollTop = 9999")  # what appears stands at the end of the list
    screen.until(lambda: [text.split("\n")[1] for text in cheeks()][-1:] == ["appears"])
    screen.press("Undo: Pair by hand")
    screen.until(lambda: len(cheeks()) == 1 and "sure" in cheeks()[0])


def test_the_panel_goes_to_what_is_chosen_on_the_stage(screen: Screen) -> None:
    screen.keys("2")
    pupil = f"[data-testid=match-first] [data-shape='{screen.shape_id('pupil')}']"
    screen.click_at(screen.on_outline(pupil, 0.1))
    chosen = "[data-testid=pair-row][aria-selected=true]"
    screen.until(lambda: screen.in_sight(chosen, "aside"))
    assert screen.text(chosen).startswith("pupil")
    screen.script("arguments[0].focus()", screen.one(chosen))
    screen.keys(*[Keys.ARROW_DOWN] * 3, Keys.ENTER)
    screen.until(lambda: screen.text(chosen).startswith("foot") and screen.in_sight(chosen, "aside"))
    screen.click_at(screen.on_outline(pupil, 0.1))
    screen.click_at(screen.on_outline(pupil, 0.6))
    screen.until(lambda: screen.in_sight("[data-testid=hint-row]", "aside"))


def test_the_ease_curve_changes_the_places_of_the_cards(screen: Screen) -> None:
    screen.keys("3")
    places = [c.text for c in screen.all("[data-testid=card]")]
    knob = screen.middle("[data-testid=ease-curve] [data-knob=out]")
    screen.drag(knob, (knob[0], knob[1] + 30), (knob[0], knob[1] + 60), release=False)
    screen.until(lambda: [c.text for c in screen.all("[data-testid=card]")] != places)
    screen.let_go()
    screen.saved()
    screen.until(lambda: screen.button("Undo: Change ease"))
    assert float(screen.all("[data-testid=card]")[1].text.split(" · ")[1]) < float(places[1].split(" · ")[1])


def test_on_twos_every_drawing_is_shown_for_two_frames(screen: Screen) -> None:
    screen.keys("3", "w", "w")
    ones = screen.cards()
    screen.press("twos")
    screen.until(lambda: len(screen.all("[data-testid=card]")) == 7)
    screen.until(lambda: [c.text.split(" · ")[0] for c in screen.all("[data-testid=card]")][1:3] == ["3", "5"])
    chosen = "[data-testid=card] [aria-pressed=true]"
    assert screen.text(chosen).startswith("3 ")
    screen.keys("w")
    assert screen.frame() == 4
    assert screen.text(chosen).startswith("3 "), "held from the frame before"
    screen.press("Undo: Shoot on twos")
    screen.until(lambda: screen.cards() == ones)


def test_a_key_dragged_along_the_timeline_makes_the_span_longer(screen: Screen) -> None:
    key = screen.middle("[data-layer=tadpole] [data-testid=key]", 1)
    screen.drag(key, (key[0] + 2 * screen.cell(), key[1]), (key[0] + 4 * screen.cell(), key[1]))
    screen.until(lambda: screen.text("[data-testid=status-line]") == "Key “legs” at 17 on tadpole")
    screen.keys("Q")
    screen.until(lambda: len(screen.all("[data-testid=card]")) == 17)


def test_playback_runs_at_the_true_rate_and_loops_over_the_range(screen: Screen) -> None:
    ruler = screen.one("[data-testid=loop-bar]").rect
    left, y, cell = ruler["x"], ruler["y"] + ruler["height"] / 2, screen.cell()
    screen.drag((left + 3.5 * cell, y), (left + 6 * cell, y), (left + 8.5 * cell, y))
    screen.keys("4", " ")
    seen: set[int] = set()

    def all_seen() -> bool:
        seen.add(screen.frame())
        return {4, 5, 6, 7, 8, 9} <= seen

    screen.until(lambda: screen.text("[data-testid=keeps-up]"))
    seen.clear()
    screen.until(all_seen)
    assert seen == {4, 5, 6, 7, 8, 9}
    screen.keys(" ")
    screen.button("Play")


def test_the_exported_animated_svg_moves_by_itself(screen: Screen, knead: Server, tmp_path: Path) -> None:
    screen.press("Export")
    screen.chrome.find_element("xpath", "//div[@role='dialog']//button[normalize-space()='Export']").click()
    assert "pond-at-dusk.svg is ready" in screen.text("[data-testid=export-done]")
    link = screen.chrome.find_element("link text", "Save the file").get_attribute("href")
    assert link is not None
    (tmp_path / "pond.svg").write_bytes(httpx.get(link).content)
    screen.chrome.get((tmp_path / "pond.svg").as_uri())
    assert not screen.all("script")
    first = screen.chrome.get_screenshot_as_base64()
    screen.until(lambda: screen.chrome.get_screenshot_as_base64() != first)
    boxes = "return [...document.querySelectorAll('path')].map(p => p.getBBox().x + p.getBBox().width).join()"
    before = screen.script(boxes)
    screen.until(lambda: screen.script(boxes) != before)


def test_a_breakdown_is_kept_and_everything_is_there_after_a_reload(screen: Screen) -> None:
    screen.keys("w", "w", "w", "c")
    screen.until(lambda: screen.text("[data-testid=status-line]") == "Breakdown at 4 on tadpole")
    before = screen.until(lambda: len(screen.cards()) == 10 and screen.cards())
    screen.reload()
    screen.until(lambda: len(screen.all("[data-layer=tadpole] [data-testid=key]")) == 5)
    screen.keys("W")
    screen.until(lambda: screen.cards() == before)
    assert screen.button("Undo: New key at 4").is_enabled()


def test_from_nothing_to_a_morph_with_pointer_and_keys(screen: Screen) -> None:
    screen.chrome.get("about:blank")
    screen.chrome.get(screen.address)
    screen.press("New scene")
    screen.press("Make the scene")
    screen.until(lambda: "Key at 1 on drawing. Nothing is drawn yet" in screen.text("[data-testid=status-line]"))
    x, y = screen.middle("[data-testid=stage]")
    screen.keys("f")
    screen.drag((x - 100, y - 60), (x, y), (x + 40, y + 60))
    screen.until(lambda: len(screen.all("[data-testid=stage] [data-shape]")) == 1)
    screen.keys("d")
    screen.drag((x - 80, y + 80), (x - 40, y + 100), (x, y + 70), (x + 60, y + 110))
    screen.until(lambda: len(screen.all("[data-testid=stage] [data-shape]")) == 2)
    for _ in range(8):
        screen.keys("w")
    screen.keys("x")
    screen.until(lambda: screen.text("[data-testid=status-line]") == "Key at 9 on drawing")
    screen.keys("a")
    screen.drag((x - 30, y), (x + 20, y - 20), (x + 90, y - 40))
    screen.until(lambda: screen.button("Undo: Move"))
    screen.keys("q", "r")
    screen.until(lambda: len(screen.all("[data-testid=card]")) == 9)
    screen.until(lambda: len(set(screen.cards())) == 9)


@pytest.mark.parametrize("outage", [True, False])
def test_a_killed_server_costs_nothing_that_was_done(screen: Screen, knead: Server, outage: bool) -> None:
    screen.keys("3")
    screen.press("Hold")
    screen.saved()
    knead.kill()
    if outage:
        screen.keys("r")
        screen.until(lambda: "Not saved yet" in screen.text("header [role=alert]"))
    knead.start()
    if outage:
        screen.settled()
        assert len(screen.all("[data-testid=card]")) == 13
        screen.reload()
    else:
        screen.chrome.refresh()
        screen.until(lambda: "the first key is held" in screen.text("[data-testid=strip]"))


def test_an_edit_on_a_stale_screen_is_told_and_the_screen_shows_what_is_there(screen: Screen, pond: str) -> None:
    view = httpx.get(f"{screen.address}/api/scenes/{pond}").json()
    body = {"base": view["revision"], "operation": {"type": "set_scene", "name": "Pond at dawn"}}
    assert httpx.post(f"{screen.address}/api/scenes/{pond}/edits", json=body).status_code == 200
    screen.keys("r")
    screen.until(lambda: "changed elsewhere" in screen.text("[data-testid=notice]"))
    screen.until(lambda: screen.text("[data-testid=scene-name]") == "Pond at dawn")
    screen.keys("r")
    screen.until(lambda: "the first key is held" in screen.text("[data-testid=strip]"))
