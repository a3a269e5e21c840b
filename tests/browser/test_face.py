"""A froglet's face drawn over a rough from nothing, with a real pointer; and every tool without one."""

from typing import Any

import httpx
import pytest
from selenium.webdriver import ActionChains, Chrome, Keys

from knead.core.model import Drawing, Key, Layer, Scene, SceneBundle
from tests.browser.running import Server, brought_in
from tests.browser.screen import Screen

STAGE = "[data-testid=stage] [data-at-hand] [data-shape]"


class Face(Screen):
    """The stage of an empty scene of 960 x 540, in its own units."""

    scene = ""

    def at(self, x: float, y: float) -> tuple[float, float]:
        paper = "const b = document.querySelector('[data-paper]').getBoundingClientRect(); return [b.x, b.y, b.width]"
        left, top, width = self.script(paper)
        return left + x * width / 960, top + y * width / 960

    def stroke(self, *places: tuple[float, float]) -> None:
        """Drag from place to place on the paper."""
        self.drag(*(self.at(*place) for place in places))

    def tap(self, x: float, y: float) -> None:
        self.click_at(self.at(x, y))

    def held(self, key: str, x: float, y: float) -> None:
        """A click with a key held."""
        pointer = ActionChains(self.chrome, duration=10).key_down(key)
        pointer.w3c_actions.pointer_action.move_to_location(*map(round, self.at(x, y)))
        pointer.click().key_up(key).perform()

    def undo_is(self, step: str) -> None:
        self.until(lambda: self.button(f"Undo: {step}"))
        self.saved()

    def drawn(self) -> Any:
        """The scene as the server has it, its drawings whole."""
        view = httpx.get(f"{self.address}/api/scenes/{self.scene}").json()
        return view["scene"], {name: part["shapes"] for name, part in view["drawings"].items()}

    def shapes(self, frame: int = 1) -> dict[str, Any]:
        """The shapes of the key at a frame of the layer 'face', by their names."""
        scene, drawings = self.drawn()
        layer = next(layer for layer in scene["layers"] if layer["name"] == "face")
        key = next(key for key in layer["keys"] if key["frame"] == frame)
        return {shape["name"]: shape for shape in drawings[key["drawing"]]}

    def step_all(self, which: str) -> int:
        """Undo or redo until there is nothing left; how many steps that was."""
        steps = 0
        while not self.all(f"button[aria-label='Nothing to {which}']"):
            before = self.one(f"button[aria-label^='{which.title()}: ']").get_attribute("aria-label")
            head = httpx.get(f"{self.address}/api/scenes/{self.scene}").json()["revision"]
            self.press(str(before))
            self.until(
                lambda head=head: httpx.get(f"{self.address}/api/scenes/{self.scene}").json()["revision"] != head
            )
            self.saved()
            steps += 1
        return steps

    def choose_kind(self, name: str) -> None:
        self.one("[aria-label='Fill kind'] [role=combobox], [role=combobox][aria-label='Fill kind']").click()
        self.until(lambda: [e for e in self.all("[role=option]") if e.text == name])[0].click()


@pytest.fixture
def face(chrome: Chrome, knead: Server) -> Face:
    empty = Drawing()
    layer = Layer(name="face", keys=(Key(frame=1, drawing=empty.hash),))
    bundle = SceneBundle(scene=Scene(name="Froglet", layers=(layer,)), drawings={empty.hash: empty})
    screen = Face(chrome, knead.address)
    screen.scene = brought_in(knead.address, bundle)
    chrome.get("about:blank")
    chrome.get(f"{knead.address}/#{screen.scene}")
    screen.one("[data-paper]")
    screen.saved()
    return screen


def draw_head_and_mouth(face: Face) -> None:
    """An ellipse, a mouth of placed points across it, and the jaw poured between the two."""
    face.keys("f")
    face.stroke((250, 150), (400, 300), (710, 450))
    face.undo_is("Draw an ellipse")
    face.keys("z")
    face.tap(230, 330)
    face.stroke((480, 400), (560, 400))
    face.tap(730, 330)
    face.keys(Keys.ENTER)
    face.undo_is("Draw a line")
    face.keys("g")
    face.move_to(face.at(480, 430))
    face.until(lambda: face.all("[data-testid=trial] path"))
    face.tap(480, 430)
    face.undo_is("Pour a fill")
    assert list(face.shapes()) == ["poured fill", "ellipse", "line"]
    assert len(face.shapes()["poured fill"]["contours"][0]["bounds"]) == 2


def draw_eyes(face: Face) -> None:
    """One eye of two forms, grouped; its mirrored copy at the middle of the paper, where the pivot snaps to."""
    face.keys("f")
    face.stroke((330, 100), (360, 130), (430, 200))
    face.until(lambda: len(face.all(STAGE)) == 4)
    face.saved()
    face.stroke((360, 130), (380, 150), (410, 190))
    face.until(lambda: len(face.all(STAGE)) == 5)
    face.saved()
    face.keys("a")
    face.tap(340, 150)
    face.held(Keys.SHIFT, 385, 160)
    face.until(lambda: "Paint of 2 shapes" in face.text("aside"))
    face.with_ctrl("g")
    face.undo_is("Group")
    face.press("centres")
    face.drag(face.middle("[data-knob=pivot] circle"), face.at(440, 110), face.at(477, 80), release=False)
    face.until(lambda: "centre" in face.text("[data-testid=caught]"))
    face.let_go()
    face.press("Mirrored copy, at the pivot")
    face.undo_is("Mirrored copy")


def test_a_face_is_drawn_over_a_rough_posed_undone_redone_and_still_there(face: Face) -> None:
    face.press("Lay a picture under the drawing")
    face.press("Rough: froglet face")
    face.one("[data-testid=picture-box]")
    face.saved()
    face.one("[data-layer=face]").click()
    draw_head_and_mouth(face)
    draw_eyes(face)

    face.tap(480, 200)  # the head
    face.choose_kind("Radial")
    face.until(lambda: face.all("[data-gradient=end]"))
    face.drag(face.middle("[data-gradient=end]"), face.at(650, 250), face.at(620, 220))
    face.until(lambda: face.shapes()["ellipse"]["fill"] is not None)
    face.undo_is("Change paint")
    face.keys("s")
    face.tap(480, 250)
    low = face.middle("[data-node]", 2)
    jaw = face.shapes()["poured fill"]["contours"][0]["nodes"]
    face.drag(low, (low[0], low[1] + 10), (low[0], low[1] + 20))
    face.undo_is("Move a point")
    assert face.shapes()["poured fill"]["contours"][0]["nodes"] != jaw, "the jaw follows the head's outline"

    face.keys("a")
    face.press("Duplicate to the end")
    face.until(lambda: face.frame() == 13)
    face.with_ctrl("a")
    face.stroke((300, 300), (330, 310), (380, 330))
    face.undo_is("Move")
    face.keys("Q", "r")
    face.until(lambda: len(face.all("[data-testid=card]")) == 13)
    face.saved()

    done = face.drawn()
    steps = face.step_all("undo")
    assert steps > 12
    assert [len(layer["keys"]) for layer in face.drawn()[0]["layers"]] == [1]
    face.until(lambda: not face.all(STAGE))
    assert face.step_all("redo") == steps
    assert face.drawn() == done
    face.reload()
    face.until(lambda: len(face.all(STAGE)) == 7)


TOOLS = {
    "a": "Arrange",
    "s": "Points",
    "d": "Freehand",
    "z": "Placed points",
    "t": "Letters",
    "g": "Pour",
    "D": "Width along a line",
    "G": "Pick a colour",
}


def test_every_tool_and_panel_is_reached_without_a_pointer(screen: Screen) -> None:
    for key, name in TOOLS.items():
        screen.keys(key)
        screen.until(lambda name=name: screen.button(name).get_attribute("aria-pressed") == "true")
    for name in ("Ellipse", "Box", "Polygon", "Star"):
        screen.keys("f")
        screen.until(lambda name=name: screen.button(name).get_attribute("aria-pressed") == "true")
    screen.keys("a", Keys.PAGE_DOWN)
    screen.until(lambda: "Paint of “tail fin”" in screen.text("aside"))
    screen.keys("s", Keys.PAGE_DOWN)
    screen.until(lambda: "1 point chosen" in screen.text("aside"))
    screen.keys(Keys.ARROW_RIGHT)
    screen.until(lambda: screen.button("Undo: Move a point"))
    where = """
      const e = document.activeElement;
      return (e.closest('section, [role=toolbar], header') || {}).ariaLabel || e.ariaLabel || '';
    """
    reached = set()
    for _ in range(150):
        screen.keys(Keys.TAB)
        reached.add(screen.script(where))
    panels = {section.get_attribute("aria-label") for section in screen.all("aside section")}
    assert len(panels) >= 9
    assert panels - reached == set()
    assert "Tools" in reached
