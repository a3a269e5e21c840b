"""Renews docs/screenshots/ from the demo scenes, on a database of its own: `python -m tools.screenshots`."""

from knead.service.demo import demo_bundles
from tests.browser.running import brought_in, desk
from tests.browser.screen import Screen
from tests.conftest import ROOT


def take_all(screen: Screen, scene: str) -> None:
    """The shelf and the four views."""

    def keep(name: str) -> None:
        screen.script("document.activeElement.blur()")
        screen.until(lambda: screen.script("return document.fonts.status === 'loaded'"))
        screen.chrome.save_screenshot(str(ROOT / "docs" / "screenshots" / f"{name}.png"))

    screen.open(scene)
    body = screen.shape_id("body")
    tail = screen.shape_id("tail")
    screen.chrome.get(f"{screen.address}/")
    screen.until(
        lambda: screen.script("return [...document.images].length && [...document.images].every(i => i.complete)")
    )
    keep("shelf")
    screen.open(scene)
    screen.keys("s", "b")
    screen.click_at(screen.on_outline(f"[data-testid=stage] [data-shape='{body}']", 0.2))
    screen.one("[data-node]")
    keep("draw")
    screen.keys("b", "a", "2")
    outline = f"[data-testid=match-first] [data-shape='{tail}']"
    for share in (0.3, 0.3, 0.05):
        screen.click_at(screen.on_outline(outline, share))
        screen.saved()
    screen.until(lambda: len(screen.all("[data-testid=hint-row]")) == 2)
    screen.one("[data-testid=balance]")
    keep("match")
    screen.keys("3", *"wwwwww")
    screen.settled()
    keep("time")
    screen.keys("4", *"w" * 16)
    keep("review")
    screen.keys("1")
    screen.press("Lamp: dim the room")
    lamp = "return getComputedStyle(document.querySelector('[data-testid=scene-name]')).color === 'rgb(239, 232, 220)'"
    screen.until(lambda: screen.script(lamp))
    keep("draw-lamp")


def main() -> None:
    first, *others = reversed(demo_bundles())  # the latest is the first on the shelf
    with desk("knead_pictures", first) as (screen, _):
        scenes = [brought_in(screen.address, bundle) for bundle in others]
        take_all(screen, scenes[-1])


if __name__ == "__main__":
    main()
