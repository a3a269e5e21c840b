"""The short form of benchmarks/quality: first results may not get worse than what was recorded."""

import json

from benchmarks.quality.run import RECORDED, measure_all


def test_first_results_are_as_close_to_the_truth_as_recorded() -> None:
    recorded = json.loads(RECORDED.read_text())
    figures = measure_all(recorded["seed"], recorded["count"])
    for kind, known in recorded["figures"].items():
        now = figures[kind]
        assert now["median"] <= 1.2 * known["median"] + 0.02, f"{kind}: {now['median']:.2f}, was {known['median']:.2f}"
        assert now["keys"] < 0.1, "keys are reproduced to a tenth of a thousandth of their size"
        assert now["ugly"] <= now["looked"] / 500, "an outline crosses or folds though none does in truth"
        assert now["precision"] >= known["precision"] - 0.01
        assert now["recall"] >= known["recall"] - 0.01
