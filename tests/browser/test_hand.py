"""Draw by hand: files dropped on the stage, rows dragged in the list, gradients on lines, copies to another scene."""

import io
from pathlib import Path
from typing import Any

import httpx
import pytest
from PIL import Image
from selenium.webdriver.common.keys import Keys

from benchmarks.draw import SHAPES, bundle
from tests.browser.running import Server, brought_in
from tests.browser.screen import Screen
from tests.browser.test_draw import ON_STAGE, choose, first_shapes, move_slider, view


def png(width: int, height: int) -> bytes:
    found = io.BytesIO()
    Image.new("RGB", (width, height), "#d8cfc0").save(found, "PNG")
    return found.getvalue()


def drop(screen: Screen, file: Path, content: bytes) -> None:
    """Drag a file from outside over the stage and let go of it there, as the browser gets it from the system."""
    file.write_bytes(content)
    x, y = screen.middle("[data-testid=stage]")
    data = {"items": [], "files": [str(file)], "dragOperationsMask": 1}
    for kind in ("dragEnter", "dragOver", "drop"):
        screen.chrome.execute_cdp_cmd("Input.dispatchDragEvent", {"type": kind, "x": x, "y": y, "data": data})


def layers(screen: Screen, scene: str) -> list[Any]:
    found: list[Any] = view(screen, scene)["scene"]["layers"]
    return found


def test_a_rough_larger_than_the_paper_is_dropped_on_the_stage_and_fits_on_it(
    screen: Screen, pond: str, tmp_path: Path
) -> None:
    before = len(layers(screen, pond))
    drop(screen, tmp_path / "big rough.png", png(2400, 1200))
    screen.until(lambda: len(layers(screen, pond)) == before + 1)
    (laid,) = [layer for layer in layers(screen, pond) if layer["picture"]]
    assert (laid["name"], laid["opacity"] < 1) == ("big rough", True)
    order = [layer["name"] for layer in layers(screen, pond)]
    assert order.index("big rough") == order.index("tadpole") - 1, "right under the layer at hand"
    screen.until(lambda: "A picture has no in-betweens" in screen.text("[data-testid=strip]"))
    screen.until(lambda: screen.all("[data-testid=stage] image"))
    paper, shown = (
        screen.script("const b = document.querySelector(arguments[0]).getBoundingClientRect(); return b.toJSON()", css)
        for css in ("[data-paper]", "[data-testid=stage] image")
    )
    assert paper["left"] - 1 <= shown["left"] < shown["right"] <= paper["right"] + 1
    assert paper["top"] - 1 <= shown["top"] < shown["bottom"] <= paper["bottom"] + 1


def test_a_dropped_file_that_is_no_picture_is_refused_in_words_and_changes_nothing(
    screen: Screen, pond: str, tmp_path: Path
) -> None:
    before = view(screen, pond)["revision"]
    drop(screen, tmp_path / "broken.png", b"\\x89PNG\\r\\n and then nothing")
    screen.until(lambda: "broken.png" in screen.text("[data-testid=notice]"))
    assert view(screen, pond)["revision"] == before


def drag_row(screen: Screen, row: str, target: str) -> None:
    """Drag a row of the list by the browser's own drag and drop."""
    rows = {name: screen.one(f"[role=option][aria-label='{name}']") for name in (row, target)}
    screen.script("arguments[0].scrollIntoView({block: 'center'})", rows[target])
    code = """
      const [from, to] = arguments, transfer = new DataTransfer();
      const send = (to, kind) => to.dispatchEvent(
        new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: transfer }));
      send(from, 'dragstart'); send(to, 'dragover'); send(to, 'drop'); send(from, 'dragend');
    """
    screen.script(code, rows[row], rows[target])


def test_rows_are_dragged_to_another_place_in_the_stack(screen: Screen, pond: str) -> None:
    names = [shape["name"] for shape in first_shapes(screen, pond)]
    row, target = names[2], names[-1]
    drag_row(screen, row, target)
    screen.until(lambda: screen.button("Undo: Change the stacking order"))
    assert [shape["name"] for shape in first_shapes(screen, pond)] == [n for n in names if n != row] + [row]


def test_a_part_is_dragged_as_a_whole(screen: Screen, pond: str) -> None:
    before = first_shapes(screen, pond)
    eye = [shape["name"] for shape in before if shape["part"] == "eye"]
    drag_row(screen, "Part eye", before[0]["name"])
    screen.until(lambda: screen.button("Undo: Change the stacking order"))
    assert [shape["name"] for shape in first_shapes(screen, pond)][1 : 1 + len(eye)] == eye


def test_a_long_list_has_only_rows_in_sight_and_goes_to_what_is_chosen(screen: Screen, knead: Server) -> None:
    screen.chrome.get(f"{knead.address}/#{brought_in(knead.address, bundle())}")
    screen.until(lambda: f"Shapes · {SHAPES}" in screen.text("aside"))
    assert 0 < len(screen.all("[data-testid=shape-row]")) < 40
    screen.click_at(screen.middle("[data-at-hand] [data-shape]"))
    chosen = "[data-testid=shape-row][aria-selected=true]"
    screen.until(lambda: screen.in_sight(chosen, "[aria-label=Shapes]"))
    screen.script("arguments[0].focus()", screen.one(chosen))
    screen.keys(*[Keys.ARROW_UP] * 30, Keys.ENTER)
    box, shape = "[data-testid=arrange-box] rect", "[data-at-hand] [data-shape]"
    screen.until(lambda: screen.middle(box) == pytest.approx(screen.middle(shape, 30), abs=2))


def test_a_line_gets_a_gradient_and_is_drawn_in_part(screen: Screen, pond: str) -> None:
    mouth = choose(screen, "mouth")
    screen.one("[role=combobox][aria-label='Line kind'], [aria-label='Line kind'] [role=combobox]").click()
    screen.until(lambda: [e for e in screen.all("[role=option]") if e.text == "Linear"])[0].click()
    screen.until(lambda: screen.button("Undo: Change paint"))
    screen.saved()
    stroke = next(s for s in first_shapes(screen, pond) if s["id"] == mouth)["stroke"]
    assert stroke["paint"]["gradient"]["kind"] == "linear"
    assert screen.one(f"{ON_STAGE} [data-shape='{mouth}']").get_attribute("stroke").startswith("url(#")
    move_slider(screen, "Drawn from", 30)
    screen.until(
        lambda: next(s for s in first_shapes(screen, pond) if s["id"] == mouth)["stroke"]["reveal"] == [0.3, 1.0]
    )


def test_shapes_are_pasted_in_place_in_another_scene_and_are_other_things_there(
    screen: Screen, pond: str, knead: Server
) -> None:
    bundle = httpx.get(f"{knead.address}/api/scenes/{pond}/bundle").content
    body = choose(screen, "body")
    screen.with_ctrl("c")
    files = [("files", ("other.knead.json", bundle))]
    other = httpx.post(f"{knead.address}/api/scenes/files", files=files, timeout=30).json()["scene"]["id"]
    screen.script("location.hash = arguments[0]", other)
    screen.until(lambda: screen.script("return location.hash") == f"#{other}")
    screen.settled()
    count = len(first_shapes(screen, other))
    screen.with_ctrl("v")
    screen.until(lambda: len(first_shapes(screen, other)) == count + 1)
    pasted, source = first_shapes(screen, other)[-1], next(s for s in first_shapes(screen, pond) if s["id"] == body)
    assert pasted["contours"][0]["nodes"][0]["at"] == source["contours"][0]["nodes"][0]["at"]
