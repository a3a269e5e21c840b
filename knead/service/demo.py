"""The demo scenes: SVG keys and a scene.json that says where they stand, made into scenes."""

import json
from pathlib import Path
from typing import Any

from knead.core.model import (
    Cycle,
    Drawing,
    Ease,
    Hint,
    HintEnd,
    Key,
    Layer,
    Paint,
    PairChoice,
    PairTravel,
    Point,
    Scene,
    SceneBundle,
    Span,
    Swatch,
    Take,
    new_id,
)
from knead.formats.svg_read import read_svg_file

DEMO = Path(__file__).parents[2] / "demo"


def demo_bundles(folder: Path = DEMO) -> list[SceneBundle]:
    """All scenes under `folder`, each in a folder of its own."""
    return [read_demo(path.parent) for path in sorted(folder.glob("*/scene.json"))]


def read_demo(folder: Path) -> SceneBundle:
    """One scene: layers from back to front, each key an SVG file at a frame, or a layer that is played again."""
    plan = json.loads((folder / "scene.json").read_text(encoding="utf-8"))
    plan["palette"] = tuple(Swatch(name=name, color=color) for name, color in plan.get("palette", ()))
    parts = {name: part for part, names in plan.pop("parts", {}).items() for name in names}
    files: dict[str, Drawing] = {}
    layers, shown = [], []
    rows = plan.pop("layers")
    ids = {row["name"]: new_id() for row in rows}
    for row in rows:
        entries = row.get("keys", [])
        for entry in entries:
            if entry["file"] not in files:
                drawing = _dressed(read_svg_file(folder / entry["file"]).drawing, plan["palette"], parts)
                like = files.get(entry.get("like"))
                files[entry["file"]] = _made_from(like, drawing) if like else drawing
        drawings = [_revealed(files[entry["file"]], entry.get("reveal", {})) for entry in entries]
        layers.append(_layer(row, drawings, ids))
        shown += drawings
    scene = Scene(**plan, layers=tuple(layers))
    return SceneBundle(scene=scene, drawings={d.hash: d for d in shown})


def _layer(row: dict[str, Any], drawings: list[Drawing], ids: dict[str, str]) -> Layer:
    """A layer of these keys, or one that plays another; `ids` are those of the layers by their names."""
    keys = tuple(
        Key(
            frame=entry["frame"],
            drawing=drawing.hash,
            name=entry.get("name"),
            span=Span(inbetween=entry["inbetween"], take=_take(entry, drawing, after)),
        )
        for entry, drawing, after in zip(row.get("keys", ()), drawings, [*drawings[1:], *drawings[-1:]], strict=True)
    )
    cycle = row.get("cycle") and Cycle.model_validate({**row["cycle"], "layer": ids[row["cycle"]["layer"]]})
    return Layer(id=ids[row["name"]], name=row["name"], keys=keys, cycle=cycle, repeat=row.get("repeat", "once"))


def _take(entry: dict[str, Any], first: Drawing, second: Drawing) -> Take:
    """A span's settings; its pairs by hand, hints and paths of travel are given by the shapes' names."""
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
    travels = tuple(
        PairTravel(first=one[name], second=two[name], path=(Point(*out), Point(*into)))
        for name, (out, into) in entry.get("paths", {}).items()
    )
    ease, blend = Ease.model_validate(entry["ease"]), entry.get("blend", "auto")
    note = entry.get("note", "")
    return Take(ease=ease, blend=blend, pairs=pairs, hints=hints, travels=travels, note=note)


def _revealed(drawing: Drawing, reveals: dict[str, list[float]]) -> Drawing:
    """The drawing with only a stretch of some strokes to be seen, by the shapes' names."""
    shapes = [
        shape.model_copy(update={"stroke": shape.stroke.model_copy(update={"reveal": tuple(reveals[shape.name])})})
        if shape.stroke is not None and shape.name in reveals
        else shape
        for shape in drawing.shapes
    ]
    return Drawing(shapes=tuple(shapes))


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
