"""How fast the Draw view is with 500 shapes and 10,000 points in the key: `python -m benchmarks.draw`. Prints a table.

Each move is measured in the page from when it gets the pointer's event until the frame it leads to has been painted;
a commit from the pointer's release until the answer is shown; opening from the address until the last shape is there.
"""

import numpy as np
from selenium.webdriver import ActionChains

from knead.core.model import Contour, Drawing, Fill, Key, Layer, Node, Paint, Point, Scene, SceneBundle, Shape, Stroke
from tests.browser.running import desk
from tests.browser.screen import Screen

SHAPES, NODES, MOVES, COMMITS = 500, 20, 50, 20

WATCH = """
  window.moves = [];
  addEventListener('pointermove', () => {
    const begun = performance.now();
    requestAnimationFrame(() => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => moves.push(performance.now() - begun);
      port2.postMessage(null);
    });
  }, true);
  window.commits = [];
  window.committed = () => {};
  let released = null;
  addEventListener('pointerup', (event) => { released = event.timeStamp; }, true);
  const word = document.querySelector('[data-testid=saved]');
  new MutationObserver(() => {
    if (word.textContent !== 'saved' || released === null) return;
    const begun = released;
    released = null;
    requestAnimationFrame(() => { commits.push(performance.now() - begun); committed(); });
  }).observe(word, { childList: true, characterData: true, subtree: true });
"""

# answers after one commit more than there were; asking again and again would take the time it measures
COMMITTED = """
  const [before, answer] = arguments;
  window.committed = () => { if (commits.length > before) answer(); };
  committed();
"""


def bundle() -> SceneBundle:
    """One key full of small blobs."""
    random = np.random.default_rng(4)
    angles = 2 * np.pi * np.arange(NODES) / NODES
    shapes = []
    for k in range(SHAPES):
        middle = np.array([25 + 37 * (k % 25), 25 + 25 * (k // 25)])
        ring = middle + (9 + random.uniform(-1.5, 1.5, NODES))[:, None] * np.stack([np.cos(angles), np.sin(angles)], 1)
        ways = (np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)) / 6
        nodes = tuple(
            Node(at=Point(*p), before=Point(*(p - w)), after=Point(*(p + w)), kind="smooth")
            for p, w in zip(ring, ways, strict=True)
        )
        paint = Fill(paint=Paint(color=f"#{int(random.integers(0x303030, 0xE0E0E0)):06x}"))
        shapes.append(Shape(contours=(Contour(nodes=nodes, closed=True),), fill=paint, stroke=Stroke(width=1)))
    drawing = Drawing(shapes=tuple(shapes))
    layer = Layer(name="full", keys=(Key(frame=1, drawing=drawing.hash),))
    return SceneBundle(scene=Scene(name="Full", layers=(layer,)), drawings={drawing.hash: drawing})


def opened(screen: Screen, scene: str) -> float:
    """Milliseconds from asking for the scene until all its shapes are there."""
    screen.chrome.get(f"{screen.address}/")
    screen.until(lambda: screen.all("[data-testid=scene-tile]"))
    return float(
        screen.chrome.execute_async_script(
            """
            const [scene, count, done] = arguments, begun = performance.now();
            const look = () => document.querySelectorAll('[data-at-hand] [data-shape]').length >= count
              ? requestAnimationFrame(() => done(performance.now() - begun)) : requestAnimationFrame(look);
            location.hash = scene;
            look();
            """,
            scene,
            SHAPES,
        )
    )


def dragged(screen: Screen, start: tuple[float, float], reach: float) -> list[float]:
    """Milliseconds of each move of a drag."""
    screen.script("moves.length = 0")
    chain = ActionChains(screen.chrome, duration=20)
    pointer = chain.w3c_actions.pointer_action
    pointer.move_to_location(*map(round, start))
    pointer.pointer_down()
    for k in range(1, MOVES + 1):
        pointer.move_to_location(round(start[0] + reach * k / MOVES), round(start[1] + 12 * np.sin(k / 4)))
    chain.perform()
    screen.until(lambda: screen.script("return moves.length") >= MOVES / 2)
    found: list[float] = screen.script("return moves")
    before = screen.script("return commits.length")
    screen.let_go()
    screen.chrome.execute_async_script(COMMITTED, before)
    screen.saved()
    return found[5:]


def measured(screen: Screen, scene: str) -> list[tuple[str, list[float], float]]:
    """What was measured, in milliseconds, and the aim for its 95th percentile."""
    opening = [opened(screen, scene) for _ in range(3)]
    screen.script(WATCH)
    middle = screen.middle("[data-at-hand] [data-shape]", 262)
    screen.click_at(middle)
    screen.until(lambda: screen.all("[data-testid=arrange-box]"))
    rows = [("open the scene", opening, 1500.0), ("drag a shape", dragged(screen, middle, 40), 16.0)]
    screen.keys("s")
    rows.append(("drag a point", dragged(screen, screen.middle("[data-node]", 3), 40), 16.0))
    screen.keys("a")
    screen.with_ctrl("a")
    screen.until(lambda: "500 shapes" in screen.text("aside"))
    rows.append(("drag all shapes", dragged(screen, screen.middle("[data-at-hand] [data-shape]", 300), 40), 16.0))
    screen.keys("\ue00c")
    screen.script("commits.length = 0")
    for k in range(COMMITS):
        dragged(screen, screen.middle("[data-at-hand] [data-shape]", 100 + k), 15)
    rows.append(("commit an edit of a shape", screen.script("return commits"), 150.0))
    return rows


def main() -> None:
    with desk("knead_bench", bundle()) as (screen, scene):
        rows = measured(screen, scene)
    print("| 500 shapes, 10,000 points | p50 | p95 | aim for p95 |\n| --- | --- | --- | --- |")
    for name, times, aim in rows:
        p50, p95 = np.percentile(times, [50, 95])
        print(f"| {name} | {p50:.0f} ms | {p95:.0f} ms | {aim:.0f} ms |")


if __name__ == "__main__":
    main()
