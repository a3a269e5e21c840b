"""How tests use the screen: as a person does, and waiting for what is to be seen, never for time to pass."""

import base64
import io
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

T = TypeVar("T")
PATIENCE = 30
SHADE = 1  # a browser may paint a path that it painted before by so much, of 255, otherwise than at first


@dataclass(frozen=True, eq=False)
class Card:
    """The picture on a card, to be compared."""

    pixels: NDArray[np.int64]

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Card) or self.pixels.shape != other.pixels.shape:
            return False
        return bool(np.abs(self.pixels - other.pixels).max() <= SHADE)

    def __hash__(self) -> int:
        return hash(self.pixels.shape)


class Screen:
    """A page of Knead in Chromium."""

    def __init__(self, chrome: Chrome, address: str) -> None:
        self.chrome, self.address = chrome, address

    def until(self, condition: Callable[[], T]) -> T:
        """Wait until a condition is true, and return what it gave."""
        waiting = WebDriverWait(self.chrome, PATIENCE, 0.03, ignored_exceptions=[StaleElementReferenceException])
        return waiting.until(lambda _: condition())

    def all(self, css: str) -> list[WebElement]:
        return self.chrome.find_elements(By.CSS_SELECTOR, css)

    def one(self, css: str) -> WebElement:
        return self.until(lambda: self.all(css))[0]

    def button(self, name: str) -> WebElement:
        """The button with this text or name."""
        xpath = f"//button[normalize-space()='{name}' or @aria-label='{name}']"
        return self.until(lambda: self.chrome.find_elements(By.XPATH, xpath))[0]

    def press(self, name: str) -> None:
        """Press the button with this name once it can be pressed."""
        self.until(lambda: self.button(name).is_enabled())
        self.until(lambda: _clicked(self.button(name)))

    def of_layer(self, layer: str, item: str) -> None:
        """Choose an item of a layer's menu, and wait until that is gone: it takes all keys while it is there."""
        self.press(f"More for layer {layer}")
        xpath = f"//*[@role='menu']//*[self::li or self::button][normalize-space()='{item}' or @aria-label='{item}']"
        self.until(lambda: self.chrome.find_elements(By.XPATH, xpath))[0].click()
        self.until(lambda: not self.all("[role=menu]"))

    def open(self, scene: str) -> None:
        self.chrome.get("about:blank")
        self.chrome.get(f"{self.address}/#{scene}")
        self.settled()

    def reload(self) -> None:
        self.chrome.refresh()
        self.settled()

    def settled(self) -> None:
        """Wait until the cards of the span at hand are there and everything is saved."""
        self.until(lambda: self.all("[data-testid=card]"))
        self.saved()

    def saved(self) -> None:
        self.until(lambda: self.text("[data-testid=saved]") == "saved")

    def text(self, css: str) -> str:
        return self.one(css).text

    def keys(self, *keys: str) -> None:
        ActionChains(self.chrome).send_keys(*keys).perform()

    def with_ctrl(self, key: str) -> None:
        control = "\ue009"
        ActionChains(self.chrome).key_down(control).send_keys(key).key_up(control).perform()

    def drag(self, start: tuple[float, float], *stops: tuple[float, float], release: bool = True) -> None:
        """Press at a place of the page, move over the stops, and let go."""
        chain = ActionChains(self.chrome, duration=40)
        chain.w3c_actions.pointer_action.move_to_location(*map(round, start))
        chain.w3c_actions.pointer_action.pointer_down()
        for stop in stops:
            chain.w3c_actions.pointer_action.move_to_location(*map(round, stop))
        if release:
            chain.w3c_actions.pointer_action.pointer_up()
        chain.perform()

    def move_to(self, place: tuple[float, float]) -> None:
        chain = ActionChains(self.chrome, duration=0)
        chain.w3c_actions.pointer_action.move_to_location(*map(round, place))
        chain.perform()

    def let_go(self) -> None:
        chain = ActionChains(self.chrome)
        chain.w3c_actions.pointer_action.pointer_up()
        chain.perform()

    def click_at(self, place: tuple[float, float]) -> None:
        self.drag(place)

    def click_twice_at(self, place: tuple[float, float]) -> None:
        pointer = ActionChains(self.chrome, duration=10)
        pointer.w3c_actions.pointer_action.move_to_location(*map(round, place))
        pointer.double_click().perform()

    def in_sight(self, selector: str, pane: str) -> bool:
        """Whether the middle of an element lies within the height of a pane that scrolls."""
        code = "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.top, b.bottom]"
        top, bottom = self.script(code, pane)
        return bool(self.all(selector) and top < self.middle(selector)[1] < bottom)

    def middle(self, css: str, index: int = 0) -> tuple[float, float]:
        """The middle of an element on the page."""
        self.one(css)
        box = self.script(
            "const b = arguments[0].getBoundingClientRect(); return [b.x + b.width/2, b.y + b.height/2]",
            self.all(css)[index],
        )
        return box[0], box[1]

    def on_outline(self, css: str, after: float) -> tuple[float, float]:
        """A place of the page on a path's outline, `after` a share of its length, where nothing lies over it."""
        self.one(css)
        place = self.script(
            """
            const path = document.querySelector(arguments[0]), m = path.getScreenCTM(), whole = path.getTotalLength();
            for (let share = arguments[1]; share < 1; share += 0.01) {
              const q = path.getPointAtLength(share * whole);
              const [x, y] = [m.a * q.x + m.c * q.y + m.e, m.b * q.x + m.d * q.y + m.f].map(Math.round);
              if (document.elementFromPoint(x, y) === path) return [x, y];
            }
            """,
            css,
            after,
        )
        return place[0], place[1]

    def script(self, code: str, *arguments: Any) -> Any:
        return self.chrome.execute_script(code, *arguments)

    def cards(self) -> list[Card]:
        """The pictures on the strip's cards."""
        code = (
            "return [...document.querySelectorAll('[data-testid=card] canvas')].map(c => c.toDataURL().split(',')[1])"
        )
        pictures = [Image.open(io.BytesIO(base64.b64decode(data))) for data in self.script(code)]
        return [Card(np.array(picture.convert("RGBA"), dtype=np.int64)) for picture in pictures]

    def cell(self) -> float:
        """How many pixels a frame takes on the timeline."""
        bar = self.one("[data-testid=loop-bar]").rect["width"]
        return float(bar) / int(self.text("[data-testid=frame-counter]").split()[-1])

    def frame(self) -> int:
        return int(self.text("[data-testid=frame-counter]").split()[1])

    def shape_id(self, name: str, side: str = "first") -> str:
        """The id of a named shape in the key at hand, as the server knows it."""
        code = """
          const id = location.hash.slice(1), [layer, side, name, done] = arguments;
          fetch(`/api/scenes/${id}`).then(r => r.json()).then(view => {
            const keys = view.scene.layers.find(l => l.name === layer).keys;
            const key = keys[side === 'first' ? 0 : 1];
            done(view.drawings[key.drawing].shapes.find(s => s.name === name).id);
          });
        """
        found: str = self.chrome.execute_async_script(code, "tadpole", side, name)
        return found


def _clicked(element: WebElement) -> bool:
    try:
        element.click()
    except StaleElementReferenceException:
        return False
    return True
