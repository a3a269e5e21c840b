"""How fast the core is, as ratios in one run: `python -m benchmarks.speed`. Prints a table."""

import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from itertools import count
from pathlib import Path

import numpy as np

from benchmarks.figure import figure
from benchmarks.quality.cases import smooth
from knead.core.geometry.bezier import contour_of
from knead.core.geometry.track import even_track, track_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Fill, Hint, HintEnd, Shape, Take
from knead.core.outline.thin import thinned
from knead.formats.svg_write import drawing_paths, root_element

POND = Path(__file__).parents[1] / "demo" / "pond-at-dusk"


def best(action: Callable[[], object], rounds: int = 7) -> float:
    """The shortest of several times, in milliseconds."""
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        action()
        times.append(time.perf_counter() - start)
    return 1000 * min(times)


def afresh(first: Drawing, second: Drawing) -> SpanPlan:
    """Plan a span of which nothing is known yet."""
    for known in (track_of, even_track, thinned):
        known.cache_clear()
    return plan_span(first, second, Take())


def rounds_of_times() -> Iterator[np.ndarray]:
    """13 times, others in each round: what is kept for a set of times is not to be measured."""
    for k in count():
        yield np.linspace(0, 1, 13) ** (1 + 1e-3 * k)


def evaluate(plan: SpanPlan, rounds: Iterator[np.ndarray]) -> None:
    times = next(rounds)
    for pair in plan.pairs:
        pair.points(times)


def lerp_of(plan: SpanPlan) -> Callable[[Iterator[np.ndarray]], object]:
    """NumPy's straight interpolation of the same coordinates, a call a shape as well."""
    keys = [(pair.first_points.copy(), pair.second_points.copy()) for pair in plan.pairs]

    def lerp(rounds: Iterator[np.ndarray]) -> object:
        times = next(rounds)
        return [(1 - times[:, None]) * a + times[:, None] * b for a, b in keys]

    return lerp


def dense(nodes: int, shift: float) -> Drawing:
    """A wavy round outline of this many nodes."""
    angle = np.linspace(0, 2 * np.pi, nodes, endpoint=False)
    radius = 200 + 30 * np.sin(7 * angle + shift) + 12 * np.cos(3 * angle - shift)
    points = np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=1)
    return Drawing(shapes=(Shape(contours=(contour_of(smooth(points, True), True),), fill=Fill()),))


def growing(nodes: int) -> float:
    """Planning one outline of this many nodes, in milliseconds."""
    first, second = dense(nodes, 0.0), dense(nodes + 7, 0.6)
    return best(lambda: afresh(first, second), 2)


def main() -> None:
    first, second = figure()
    rows: list[tuple[str, str, str]] = []
    plan_span(first, second, Take())
    planning = best(lambda: afresh(first, second), 3)
    rows.append(("plan_span, 30 shapes, warm", f"{planning:.0f} ms", "250 ms"))
    for blend, limit in (("direct", 10), ("arc", 20), ("solid", 40)):
        plan = plan_span(first, second, Take(blend=blend))
        lerp = lerp_of(plan)
        times = rounds_of_times()
        own = best(lambda plan=plan, times=times: evaluate(plan, times), 40)
        plain = best(lambda lerp=lerp, times=times: lerp(times), 40)
        rows.append((f"plan.at, 13 times, {blend}", f"{own / plain:.1f} x lerp", f"{limit} x"))
    plan = plan_span(first, second, Take())
    pair = next(p for p in plan.pairs if p.runs[0].closed and p.runs[0].lasts)
    one, two = (side.contours[0].nodes for side in (pair.paint.first, pair.paint.second))

    def tied(k: int) -> Take:
        first_end = HintEnd(shape=pair.first_id or "", at=one[0].at)
        return Take(hints=(Hint(id="h", first=first_end, second=HintEnd(shape=pair.second_id or "", at=two[k].at)),))

    before = plan_span(first, second, tied(1), plan)
    hinted = best(lambda: plan_span(first, second, tied(2), before))
    rows.append(("one hint moved", f"{hinted:.0f} ms", "40 ms"))
    sizes = np.array([1000, 2000, 4000, 8000, 16000, 32000])
    spent = [growing(n) for n in sizes.tolist()]
    growth = float(np.polyfit(np.log(sizes), np.log(spent), 1)[0])
    rows.append(("growth from 1,000 to 32,000 nodes", f"exponent {growth:.2f}", "1.2"))
    rows.append(("32,000 nodes", f"{spent[-1]:.0f} ms", ""))
    rows += command_line(first, second)
    print("| what | measured | aim |\n| --- | --- | --- |")
    for row in rows:
        print("| " + " | ".join(row) + " |")


def command_line(first: Drawing, second: Drawing) -> list[tuple[str, str, str]]:
    with tempfile.TemporaryDirectory() as folder:
        for name, drawing in (("a.svg", first), ("b.svg", second)):
            (Path(folder) / name).write_text(root_element(drawing_paths(drawing), 960, 540))
        command = [sys.executable, "-m", "knead.cli", "inbetween", "a.svg", "b.svg", "--count", "11", "--out", "out"]
        whole = best(lambda: subprocess.run(command, cwd=folder, check=True), 4)
        pond = [*command[:4], *(str(POND / f"tadpole-{k}.svg") for k in (2, 3)), *command[6:]]
        story = best(lambda: subprocess.run(pond, cwd=folder, check=True), 4)
        plain = best(lambda: subprocess.run([sys.executable, "-c", "import numpy, scipy"], check=True), 4)
        full = best(lambda: subprocess.run([sys.executable, "-c", "import numpy, scipy.optimize"], check=True), 4)
    return [
        ("knead inbetween, 30 shapes, whole process", f"{whole:.0f} ms", ""),
        ("the same, by Python importing numpy and scipy", f"{whole / plain:.1f} x", "3 x"),
        ("the same, by Python importing numpy and scipy.optimize", f"{whole / full:.1f} x", "3 x"),
        ("knead inbetween, two keys of the pond", f"{story:.0f} ms", ""),
    ]


if __name__ == "__main__":
    main()
