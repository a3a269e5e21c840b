"""The demo scenes: SVG keys and a scene.json that says where they stand, made into scenes."""

import json
from pathlib import Path
from typing import Any

from knead.core.model import (
    Drawing,
    Ease,
    Hint,
    HintEnd,
    Key,
    Layer,
    Paint,
    PairChoice,
    Point,
    Scene,
    SceneBundle,
    Span,
    Swatch,
    Take,
)
from knead.formats.svg_read import read_svg_file

DEMO = Path(__file__).parents[2] / "demo"


def demo_bundles(folder: Path = DEMO) -> list[SceneBundle]:
    """All scenes under `folder`, each in a folder of its own."""
    return [read_demo(path.parent) for path in sorted(folder.glob("*/scene.json"))]


def read_demo(folder: Path) -> SceneBundle:
    """One scene: layers from back to front, each key an SVG file at a frame."""
    plan = json.loads((folder / "scene.json").read_text(encoding="utf-8"))
    plan["palette"] = tuple(Swatch(name=name, color=color) for name, color in plan.get("palette", ()))
    parts = {name: part for part, names in plan.pop("parts", {}).items() for name in names}
    drawings: dict[str, Drawing] = {}
    layers = []
    for row in plan.pop("layers"):
        keys = []
        for entry in row["keys"]:
            if entry["file"] not in drawings:
                drawing = _dressed(read_svg_file(folder / entry["file"]).drawing, plan["palette"], parts)
                like = drawings.get(entry.get("like"))
                drawings[entry["file"]] = _made_from(like, drawing) if like else drawing
            drawing = drawings[entry["file"]]
            keys.append(Key(frame=entry["frame"], drawing=drawing.hash, span=Span(inbetween=entry["inbetween"])))
        files = [entry["file"] for entry in row["keys"]]
        takes = [
            _take(entry, drawings[file], drawings[after])
            for entry, file, after in zip(row["keys"], files, [*files[1:], files[-1]], strict=True)
        ]
        keys = [
            key.model_copy(update={"span": key.span.model_copy(update={"take": take})})
            for key, take in zip(keys, takes, strict=True)
        ]
        layers.append(Layer(name=row["name"], keys=tuple(keys)))
    scene = Scene(**plan, layers=tuple(layers))
    return SceneBundle(scene=scene, drawings={d.hash: d for d in drawings.values()})


def _take(entry: dict[str, Any], first: Drawing, second: Drawing) -> Take:
    """A span's settings; its pairs by hand and its hints are given by the shapes' names."""
    one, two = ({shape.name: shape.id for shape in drawing.shapes} for drawing in (first, second))
    pairs = tuple(PairChoice(first=one[a], second=two[b]) for a, b in entry.get("pairs", ()))
    hints = tuple(
        Hint(
            name=hint["name"],
            first=HintEnd(shape=one[hint["shape"]], at=Point(*hint["first"])),
            second=HintEnd(shape=two[hint["shape"]], at=Point(*hint["second"])),
        )
        for hint in entry.get("hints", ())
    )
    return Take(ease=Ease.model_validate(entry["ease"]), blend=entry.get("blend", "auto"), pairs=pairs, hints=hints)


def _dressed(drawing: Drawing, palette: tuple[Swatch, ...], parts: dict[str, str]) -> Drawing:
    """The drawing with its shapes in their parts, and paints that are on the palette following it."""
    by_color = {swatch.color: swatch.id for swatch in palette}

    def followed(paint: Paint) -> Paint:
        return paint if paint.gradient else paint.model_copy(update={"swatch": by_color.get(paint.color)})

    shapes = []
    for shape in drawing.shapes:
        changes: dict[str, Any] = {"part": parts.get(shape.name)}
        for name in ("fill", "stroke"):
            paint = getattr(shape, name)
            if paint is not None:
                changes[name] = paint.model_copy(update={"paint": followed(paint.paint)})
        shapes.append(shape.model_copy(update=changes))
    return Drawing(shapes=tuple(shapes))


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
