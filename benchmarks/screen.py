"""How fast the strip follows a dragged hint in Chromium: `python -m benchmarks.screen`. Prints a table.

30 shapes, 12 cards. From the pointer's move to the frame in which the cards are repainted, measured in the page.
"""

import numpy as np
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from benchmarks.figure import figure_bundle
from tests.browser.running import desk
from tests.browser.screen import Screen

MOVES = 60

BY_SIZE = """
  const size = (path) => path.getBBox().width * path.getBBox().height;
  const paths = [...document.querySelectorAll("[data-testid=match-first] [data-shape]")];
  const closed = paths.filter((path) => path.getAttribute("d").endsWith("Z"));
  return closed.sort((a, b) => size(b) - size(a)).map((path) => path.dataset.shape);
"""

ALONG = """
  const ring = document.querySelector("[data-testid=match-second] path[stroke-dasharray]"), m = ring.getScreenCTM();
  return Array.from({length: arguments[0]}, (_, k) => {
    const q = ring.getPointAtLength((0.02 + 0.96 * k / arguments[0]) * ring.getTotalLength());
    return [m.a * q.x + m.c * q.y + m.e, m.b * q.x + m.d * q.y + m.f];
  });
"""

# notes moves, and repaints with the time at which what they show was asked for
WATCH = """
  window.moved = []; window.painted = [];
  window.waiting = () => {};
  let asked = 0, due = false;
  addEventListener('pointermove', () => { moved.push(performance.now()); }, true);
  const ask = window.fetch;
  window.fetch = async (request) => {
    const at = performance.now(), answer = await ask(request);
    if (request.url.endsWith('/preview')) asked = at;
    return answer;
  };
  const place = CanvasRenderingContext2D.prototype.setTransform;
  CanvasRenderingContext2D.prototype.setTransform = function (...matrix) {
    if (!due) {
      due = true;
      requestAnimationFrame(() => { due = false; painted.push([performance.now(), asked]); waiting(); });
    }
    return place.apply(this, matrix);
  };
"""
# answers once what is painted was asked for after the last move; asking again and again would take the time it measures
SHOWN = """
  const answer = arguments[0];
  window.waiting = () => {
    const move = moved.at(-1), [at, asked] = painted.at(-1) ?? [0, 0];
    if (asked >= move) { window.waiting = () => {}; answer(at - move); }
  };
  window.waiting();
"""


def latencies(screen: Screen, shape: str) -> list[float]:
    """Milliseconds from each move of a hint on a shape to the repaint that shows it."""
    body = f"[data-testid=match-first] [data-shape='{shape}']"
    screen.click_at(screen.on_outline(body, 0.1))
    screen.click_at(screen.on_outline(body, 0.1))
    screen.saved()
    start = screen.middle("[data-testid=match-second] [data-hint]")
    stops = screen.script(ALONG, MOVES)
    ActionChains(screen.chrome).key_down(Keys.ALT).perform()  # no snapping: every move changes something
    screen.drag(start, stops[0], release=False)
    found = []
    for stop in stops[1:]:
        screen.move_to(stop)
        found.append(screen.chrome.execute_async_script(SHOWN))
    ActionChains(screen.chrome).key_up(Keys.ALT).perform()
    screen.let_go()
    return found[5:]


def main() -> None:
    with desk("knead_bench", figure_bundle()) as (screen, scene):
        screen.chrome.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": WATCH})
        print(
            "| hint drag to repainted strip, 30 shapes, 12 cards | p50 | p95 | aim for p95 |\n| --- | --- | --- | --- |"
        )
        for name, rank in (("the largest, on which all others hang", 0), ("one of middle size", 12)):
            screen.open(scene)
            screen.keys("2")
            screen.one("[data-testid=match-first] [data-shape]")
            found = latencies(screen, screen.script(BY_SIZE)[rank])
            p50, p95 = np.percentile(found, [50, 95])
            print(f"| hint on {name} | {p50:.0f} ms | {p95:.0f} ms | 100 ms |")
            screen.with_ctrl("z")
            screen.with_ctrl("z")
            screen.saved()


if __name__ == "__main__":
    main()
