"""The demo scenes: SVG keys and a scene.json that says where they stand, made into scenes."""

import json
from pathlib import Path

from knead.core.model import Ease, Key, Layer, Scene, SceneBundle, Span, Take
from knead.formats.svg_read import read_svg_file

DEMO = Path(__file__).parents[2] / "demo"


def demo_bundles(folder: Path = DEMO) -> list[SceneBundle]:
    """All scenes under `folder`, each in a folder of its own."""
    return [read_demo(path.parent) for path in sorted(folder.glob("*/scene.json"))]


def read_demo(folder: Path) -> SceneBundle:
    """One scene: layers from back to front, each key an SVG file at a frame."""
    plan = json.loads((folder / "scene.json").read_text(encoding="utf-8"))
    drawings = {}
    layers = []
    for row in plan.pop("layers"):
        keys = []
        for entry in row["keys"]:
            if entry["file"] not in drawings:
                drawings[entry["file"]] = read_svg_file(folder / entry["file"]).drawing
            take = Take(ease=Ease.model_validate(entry["ease"]))
            span = Span(inbetween=entry["inbetween"], take=take)
            keys.append(Key(frame=entry["frame"], drawing=drawings[entry["file"]].hash, span=span))
        layers.append(Layer(name=row["name"], keys=tuple(keys)))
    scene = Scene(**plan, layers=tuple(layers))
    return SceneBundle(scene=scene, drawings={d.hash: d for d in drawings.values()})
