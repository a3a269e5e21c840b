"""Records strokes for the practice pen, as a hand on a tablet would give them: `python -m tools.pen`."""

import json

import numpy as np
from numpy.typing import NDArray

from tests.conftest import ROOT

FILE = ROOT / "frontend" / "src" / "draw" / "pen" / "recordings.json"
EVERY = 8  # milliseconds between samples


def main() -> None:
    """All strokes."""
    u = np.linspace(0.0, 1.0, 110)
    strokes = {
        "Reed": (0.30 + 0.07 * np.sin(2.4 * u), 0.86 - 0.62 * u, np.sin(np.pi * u) ** 0.6 * 0.9 + 0.04),
        "Ripple": (0.36 + 0.3 * u, 0.62 + 0.035 * np.sin(9.5 * u), 0.25 + 0.5 * np.abs(np.sin(4.75 * u))),
        "Belly": (
            0.52 + 0.14 * np.cos(np.pi * (0.08 + 0.84 * u)),
            0.36 + 0.24 * np.sin(np.pi * (0.08 + 0.84 * u)),
            0.12 + 0.7 * np.sin(np.pi * u),
        ),
    }
    recorded = {name: _samples(*stroke, seed=k) for k, (name, stroke) in enumerate(strokes.items())}
    FILE.write_text(json.dumps(recorded, separators=(",", ":")) + "\n", encoding="utf-8")


Floats = NDArray[np.float64]


def _samples(x: Floats, y: Floats, pressure: Floats, seed: int) -> list[dict[str, float]]:
    """A hand trembles a little, and is slow where it begins and ends."""
    random = np.random.default_rng(seed)
    tremble = np.cumsum(random.normal(0, 0.00022, (len(x), 2)), axis=0)
    slow = np.interp(np.linspace(0, 1, len(x)), [0, 0.15, 0.85, 1], [2.2, 1, 1, 2.0])
    times = np.round(np.cumsum(slow) * EVERY - slow[0] * EVERY).astype(int)
    rows = zip(x + tremble[:, 0], y + tremble[:, 1], np.clip(pressure, 0.02, 1.0), times, strict=True)
    return [
        {
            "x": round(float(a), 5),
            "y": round(float(b), 5),
            "pressure": round(float(p), 3),
            "tiltX": int(28 + 6 * np.sin(k / 30)),
            "tiltY": int(-14 + 4 * np.cos(k / 25)),
            "time": int(t),
        }
        for k, (a, b, p, t) in enumerate(rows)
    ]


if __name__ == "__main__":
    main()
