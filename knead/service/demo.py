"""The demo scenes: SVG keys and a scene.json that says where they stand, made into scenes."""

import json
from pathlib import Path

from knead.core.model import Drawing, Ease, Key, Layer, Scene, SceneBundle, Span, Take
from knead.formats.svg_read import read_svg_file

DEMO = Path(__file__).parents[2] / "demo"


def demo_bundles(folder: Path = DEMO) -> list[SceneBundle]:
    """All scenes under `folder`, each in a folder of its own."""
    return [read_demo(path.parent) for path in sorted(folder.glob("*/scene.json"))]


def read_demo(folder: Path) -> SceneBundle:
    """One scene: layers from back to front, each key an SVG file at a frame."""
    plan = json.loads((folder / "scene.json").read_text(encoding="utf-8"))
    drawings: dict[str, Drawing] = {}
    layers = []
    for row in plan.pop("layers"):
        keys = []
        for entry in row["keys"]:
            if entry["file"] not in drawings:
                drawing = read_svg_file(folder / entry["file"]).drawing
                like = drawings.get(entry.get("like"))
                drawings[entry["file"]] = _made_from(like, drawing) if like else drawing
            take = Take(ease=Ease.model_validate(entry["ease"]), blend=entry.get("blend", "auto"))
            span = Span(inbetween=entry["inbetween"], take=take)
            drawing = drawings[entry["file"]]
            keys.append(Key(frame=entry["frame"], drawing=drawing.hash, span=span))
        layers.append(Layer(name=row["name"], keys=tuple(keys)))
    scene = Scene(**plan, layers=tuple(layers))
    return SceneBundle(scene=scene, drawings={d.hash: d for d in drawings.values()})


def _made_from(source: Drawing, drawing: Drawing) -> Drawing:
    """A key drawn by moving the points of another: shapes of one name share their identity and their nodes'."""
    by_name = {shape.name: shape for shape in source.shapes}
    shapes = []
    for shape in drawing.shapes:
        twin = by_name[shape.name]
        contours = []
        for old, new in zip(twin.contours, shape.contours, strict=True):
            nodes = [b.model_copy(update={"id": a.id}) for a, b in zip(old.nodes, new.nodes, strict=True)]
            contours.append(new.model_copy(update={"nodes": tuple(nodes)}))
        shapes.append(shape.model_copy(update={"id": twin.id, "contours": tuple(contours)}))
    return Drawing(shapes=tuple(shapes))
