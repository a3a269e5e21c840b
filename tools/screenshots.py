"""Renews docs/screenshots/ from the demo scene, on a database of its own: `python -m tools.screenshots`."""

import tempfile

import httpx
from selenium.webdriver import Chrome, ChromeOptions
from selenium.webdriver.chrome.service import Service

from knead.formats.bundle import write_bundle
from knead.service.demo import demo_bundles
from knead.store.cluster import cluster_in
from knead.store.database import engine_for, ensure_database, migrate
from tests.browser.conftest import FLAGS, Server
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
    cluster = cluster_in(ROOT / ".knead")
    address = ensure_database(cluster.start(), "knead_pictures", fresh=True)
    engine = engine_for(address)
    migrate(engine)
    server = Server(address)
    server.start()
    options = ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in [*FLAGS.split(), f"--user-data-dir={tempfile.mkdtemp()}"]:
        options.add_argument(flag)
    chrome = Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    chrome.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    try:
        (bundle,) = demo_bundles()
        files = [("files", ("pond.knead.json", write_bundle(bundle)))]
        made = httpx.post(f"{server.address}/api/scenes/files", files=files, timeout=30).json()
        take_all(Screen(chrome, server.address), made["scene"]["id"])
    finally:
        chrome.quit()
        server.kill()
        engine.dispose()
        cluster.stop_if_idle()


if __name__ == "__main__":
    main()
