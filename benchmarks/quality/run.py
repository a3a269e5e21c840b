"""How close first results come to known in-betweens.

Run it with `python -m benchmarks.quality.run [--count N] [--seed S] [--hints] [--wall]`.

Distances are means of point-to-curve distances, both ways, at t = 0.25, 0.5, 0.75, in thousandths of the diagonal of
both keys. The yardstick: 256 even samples, best cyclic shift and direction, straight travel, shapes paired by the
optimal assignment on centre, area and colour.
"""

import argparse
import json
from collections import defaultdict
from collections.abc import Iterator
from itertools import chain
from pathlib import Path

import numpy as np
import shapely
from scipy.optimize import linear_sum_assignment

from benchmarks.quality.cases import Case, all_cases, before_a_wall, by_hand
from benchmarks.quality.jointed import jointed
from knead.core.color import to_oklab
from knead.core.geometry.bezier import Floats, path_of, points_at
from knead.core.geometry.similarity import as_complex, as_points
from knead.core.geometry.track import track_of
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Hint, HintEnd, Take
from tests.forms import distances

TIMES = (0.25, 0.5, 0.75)
RECORDED = Path(__file__).parent / "recorded.json"


def outlines(drawing: Drawing, lone: frozenset[str] = frozenset()) -> list[Floats]:
    """Its outlines as points; shapes that have no partner in truth have no truth either."""
    paths = [path_of(c) for s in drawing.shapes if s.id not in lone for c in s.contours]
    return [points_at(p, np.linspace(0, len(p), 12 * len(p) + 1)) for p in paths]


def distance(one: list[Floats], two: list[Floats], size: float) -> float:
    """Mean distance of evenly spread points to the other's curves, both ways, in thousandths of `size`."""

    def one_way(a: list[Floats], b: list[Floats]) -> float:
        reached = [np.append(0, np.cumsum(np.hypot(*np.diff(line, axis=0).T))) for line in a]
        step = max(sum(along[-1] for along in reached) / 1500, 1e-9)
        places = [np.arange(0, along[-1], step) for along in reached]
        spots = [
            np.stack([np.interp(at, along, line[:, k]) for k in (0, 1)], axis=1)
            for line, along, at in zip(a, reached, places, strict=True)
        ]
        return float(np.mean(distances(np.concatenate(spots), b)))

    return 1000 * 0.5 * (one_way(one, two) + one_way(two, one)) / size


def extent(case: Case) -> float:
    points = np.concatenate(case.truth(0.0) + case.truth(1.0))
    return float(np.hypot(*np.ptp(points, axis=0)))


def yardstick(case: Case) -> dict[float, list[Floats]]:
    """The plain way, at each time."""
    first, second = ([_samples(s) for s in d.shapes] for d in (case.first, case.second))
    size = extent(case)

    def look(shape: object, contours: list[Floats]) -> Floats:
        paint = (shape.fill or shape.stroke).paint.color  # type: ignore[attr-defined]
        z = np.concatenate(contours)
        area = sum(abs(shapely.Polygon(c).area) for c in contours)
        return np.concatenate([z.mean(axis=0) / size * 4, [np.sqrt(area) / size * 4], to_oklab(paint) * 4])

    one = np.array([look(s, c) for s, c in zip(case.first.shapes, first, strict=True)])
    two = np.array([look(s, c) for s, c in zip(case.second.shapes, second, strict=True)])
    rows, columns = linear_sum_assignment(np.linalg.norm(one[:, None] - two[None], axis=2))
    found: dict[float, list[Floats]] = {t: [] for t in TIMES}
    for i, j in zip(rows, columns, strict=True):
        closed = case.first.shapes[i].fill is not None
        for a, b in zip(first[i], second[j], strict=False):
            partner = _best_shift(a, b, closed)
            for t in TIMES:
                line = (1 - t) * a + t * partner
                found[t].append(np.concatenate([line, line[:1]]) if closed else line)
    return found


def _samples(shape: object) -> list[Floats]:
    tracks = [track_of(c) for c in shape.contours]  # type: ignore[attr-defined]
    tracks.sort(key=lambda t: -t.length)
    return [t.points(np.linspace(0, 1, 257 if t.closed else 256)[:256]) for t in tracks]


def _best_shift(a: Floats, b: Floats, closed: bool) -> Floats:
    options = []
    for way in (b, b[::-1]):
        if not closed:
            options.append((float(((a - way) ** 2).sum()), way))
            continue
        z, w = as_complex(a) - as_complex(a).mean(), as_complex(way) - as_complex(way).mean()
        likeness = np.fft.ifft(np.conj(np.fft.fft(z)) * np.fft.fft(w)).real
        shift = int(np.argmax(likeness))
        options.append((-float(likeness[shift]), as_points(np.roll(as_complex(way), -shift))))
    return min(options, key=lambda o: o[0])[1]


def _ugly(case: Case, plan: SpanPlan) -> tuple[int, int]:
    """How many outlines were looked at, and how many of these cross or fold though none does in truth then."""
    looked = ugly = 0
    for t in TIMES:
        if all(shapely.is_simple(shapely.LineString(line)) for line in case.truth(t)):
            lines = [shapely.LineString(line) for line in outlines(plan.at(t), case.lone) if len(line) > 1]
            looked += len(lines)
            ugly += sum(not line.is_simple for line in lines)
    return looked, ugly


def true_hints(case: Case) -> tuple[Hint, ...]:
    return tuple(
        Hint(first=HintEnd(shape=a, at=tuple(p)), second=HintEnd(shape=b, at=tuple(q))) for a, b, p, q in case.ties
    )


def measure_all(
    seed: int, count: int, hints: bool = False, wall: bool = False, hand: bool = False
) -> dict[str, dict[str, float]]:
    """Figures by kind, with true hints if asked for, before a wall that stays, or drawn by a hand."""
    rows: dict[str, list[dict[str, float]]] = defaultdict(list)
    for alone in drawn_cases(seed, count, hand):
        case = before_a_wall(alone) if wall else alone
        size = extent(case)
        plan = plan_span(case.first, case.second, Take(hints=true_hints(case) if hints else ()))
        keys = max(
            distance(outlines(plan.at(t)), outlines(key), size) for t, key in ((0.0, case.first), (1.0, case.second))
        )
        looked, ugly = _ugly(case, plan)
        found = {(p.first_id, p.second_id) for p in plan.pairs if p.first_id and p.second_id}
        right = len(found & case.pairs)
        rows[case.kind].append(
            {
                "own": off_truth(case, {t: outlines(plan.at(t), case.lone) for t in TIMES}),
                "keys": keys,
                "looked": looked,
                "ugly": ugly,
                "precision": right / max(len(found), 1) if case.pairs else 1.0,
                "recall": right / len(case.pairs) if case.pairs else 1.0,
            }
        )
    return {
        kind: {
            "median": float(np.median([r["own"] for r in found])),
            "p90": float(np.percentile([r["own"] for r in found], 90)),
            "keys": max(r["keys"] for r in found),
            "looked": sum(r["looked"] for r in found),
            "ugly": sum(r["ugly"] for r in found),
            "precision": float(np.mean([r["precision"] for r in found])),
            "recall": float(np.mean([r["recall"] for r in found])),
        }
        for kind, found in rows.items()
    }


def measure_yardstick(seed: int, count: int, hand: bool = False) -> dict[str, dict[str, float]]:
    """The yardstick's figures by kind on the same cases: it has no hints and no wall."""
    rows: dict[str, list[float]] = defaultdict(list)
    for case in drawn_cases(seed, count, hand):
        rows[case.kind].append(off_truth(case, yardstick(case)))
    return {
        kind: {"yardstick median": float(np.median(found)), "yardstick p90": float(np.percentile(found, 90))}
        for kind, found in rows.items()
    }


def drawn_cases(seed: int, count: int, hand: bool) -> Iterator[Case]:
    """Every case, drawn anew by a hand if asked for."""
    jointed_cases = (jointed(np.random.default_rng([seed, k]), k) for k in range(count))
    for drawn in chain(all_cases(seed, count), jointed_cases):
        yield by_hand(drawn, np.random.default_rng(seed)) if hand else drawn


def off_truth(case: Case, shown: dict[float, list[Floats]]) -> float:
    """Mean distance of what is shown at `TIMES` from the truth, in thousandths of the size of both keys."""
    size = extent(case)
    return float(np.mean([distance(shown[t], case.truth(t), size) for t in TIMES]))


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--count", type=int, default=20)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--hints", action="store_true")
    parser.add_argument("--wall", action="store_true", help="before a wall that stays in its place")
    parser.add_argument("--hand", action="store_true", help="drawn anew by a hand that is off a little")
    parser.add_argument("--record", action="store_true", help="keep the figures as those CI compares with")
    options = parser.parse_args()
    plain = measure_yardstick(options.seed, options.count, options.hand)
    own = measure_all(options.seed, options.count, options.hints, options.wall, options.hand)
    figures = {kind: plain[kind] | found for kind, found in own.items()}
    print(
        "| kind | yardstick median / p90 | Knead median / p90 | keys | pairs: precision / recall | crossings, folds |"
    )
    print("| --- | --- | --- | --- | --- | --- |")
    for kind, f in figures.items():
        print(
            f"| {kind} | {f['yardstick median']:.2f} / {f['yardstick p90']:.2f} | {f['median']:.2f} / {f['p90']:.2f} | "
            f"{f['keys']:.3f} | {f['precision']:.3f} / {f['recall']:.3f} | {f['ugly']:.0f} of {f['looked']:.0f} |"
        )
    if options.record:
        RECORDED.write_text(
            json.dumps({"seed": options.seed, "count": options.count, "figures": figures}, indent=1) + "\n"
        )


if __name__ == "__main__":
    main()
