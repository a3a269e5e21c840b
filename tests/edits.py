"""Random edits: of every kind there is, on what there is and now and then on what is not."""

import types
from collections.abc import Mapping
from typing import Annotated, Any, Literal, Union, get_args, get_origin

import annotated_types as limits
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError
from pydantic.fields import FieldInfo

from knead.core.edit import Operation, Work
from knead.core.model import Hint, HintEnd, Key, Layer, Model, Node, Picture, Point, Shape, Swatch
from knead.core.playback import following
from tests.forms import blob, drawing, ellipse, filled, polygon, star, stroked, wave, work_of

operation: TypeAdapter[Operation] = TypeAdapter(Operation)
OPERATIONS: tuple[type[Model], ...] = get_args(get_args(Operation)[0])
Ids = Mapping[str, list[str]]
SHAPES = [
    filled(star()),
    filled(ellipse(80, 60, 40, 20), ellipse(80, 60, 10, 8)),
    stroked(wave()),
    stroked(blob([50] * 6)),
]
NODES = [Node(at=p, before=p, after=p) for p in ((10, 10), (90, 20), (60, 80))]
NAMED = {  # which ids a field holds, by its name, or that of its model and its own
    "key": "key",
    "layer": "layer",
    "under": "layer",
    "shape": "shape",
    "shapes": "shape",
    "node": "node",
    "nodes": "node",
    "hint": "hint",
    "hints": "hint",
    "swatch": "swatch",
    "image": "image",
    "part": "part",
    "first": "shape",
    "second": "second",
    "over": "shape",
    "AddLayer.over": "layer",
    "MatchPicture.to": "layer",
    "Spot.shape": "either",
}


def ids_of(work: Work, key: Key | None) -> Ids:
    """All there is to do something to at a key, and now and then something that is not there."""
    after = key and following(work.layer_of(key.id), key)
    shapes, seconds = (work.of(each.drawing).shapes if each else () for each in (key, after))
    found = {
        "layer": [layer.id for layer in work.scene.layers],
        "key": [key.id] if key else [],
        "shape": [shape.id for shape in shapes],
        "second": [shape.id for shape in seconds],
        "either": [shape.id for shape in (*shapes, *seconds)],
        "node": [node.id for shape in shapes for contour in shape.contours for node in contour.nodes],
        "hint": [hint.id for hint in key.span.take.hints] if key else [],
        "swatch": [swatch.id for swatch in work.scene.palette],
        "part": [shape.part for shape in shapes if shape.part],
        "image": sorted(work.scene.image_hashes()),
    }
    return {kind: [*(9 * ids), "gone"] for kind, ids in found.items()}


def fields_of(model: type[Model], ids: Ids) -> st.SearchStrategy[dict[str, Any]]:
    """Fields for a model, those with a default now and then left out."""
    needed, spare = {}, {}
    for name, info in model.model_fields.items():
        kind = NAMED.get(f"{model.__name__}.{name}") or NAMED.get(name, "")
        value = valued(info.annotation, info.metadata, ids, kind)
        if name != "id":
            (needed if info.is_required() or name == "type" else spare)[name] = value
    return st.fixed_dictionaries(needed, optional=spare)


def valued(annotation: Any, metadata: list[Any], ids: Ids, kind: str) -> st.SearchStrategy[Any]:
    """Values of a type within its limits; strings are ids of a kind."""
    origin, args = get_origin(annotation), get_args(annotation)
    if origin is Annotated:
        more = [m for extra in args[1:] for m in (extra.metadata if isinstance(extra, FieldInfo) else [extra])]
        return valued(args[0], [*metadata, *more], ids, kind)
    if origin in (Union, types.UnionType):
        return st.one_of(*(valued(arg, metadata, ids, kind) for arg in args))
    if origin is tuple and args[-1] is Ellipsis:
        least = max((m.min_length for m in metadata if isinstance(m, limits.MinLen)), default=0)
        return st.lists(valued(args[0], [], ids, kind), min_size=least, max_size=max(3, least))
    if origin is tuple:
        return st.tuples(*(valued(arg, [], ids, kind) for arg in args))
    return st.sampled_from(args) if origin is Literal else plain(annotation, metadata, ids, kind)


def plain(of: type, metadata: list[Any], ids: Ids, kind: str) -> st.SearchStrategy[Any]:
    color = any("#" in str(getattr(m, "pattern", "")) for m in metadata)
    known = {
        type(None): st.none(),
        bool: st.booleans(),
        str: st.sampled_from(["#204060", "#c03020"] if color else ids[kind] if kind else ["fin", "head", "head/eye"]),
        Point: st.tuples(st.floats(-50, 900), st.floats(-50, 900)),
        Shape: st.sampled_from(SHAPES).map(lambda s: s.model_dump()),
        Node: st.sampled_from(NODES).map(lambda n: n.model_dump()),
    }
    if of in (int, float):
        return numbers(of, metadata)
    return known[of] if of in known else fields_of(of, ids)


def numbers(of: type, metadata: list[Any]) -> st.SearchStrategy[Any]:
    """Numbers of a usual size, and now and then the largest or least there may be."""
    lows = [m.ge for m in metadata if isinstance(m, limits.Ge)]
    lows += [m.gt + 1e-3 for m in metadata if isinstance(m, limits.Gt)]
    low = max(lows, default=-1e6)
    high = min((m.le for m in metadata if isinstance(m, limits.Le)), default=1e6)
    usual = max(low, -300), max(min(high, 300), low)
    made = st.integers(*usual) if of is int else st.floats(*usual)
    return st.sampled_from([made] * 15 + [st.sampled_from([of(low), of(high)])]).flatmap(lambda chosen: chosen)


def start(image: str = "0" * 64) -> Work:
    """Two keys whose span has a hint, a poured fill's lines, a named part and a swatch."""
    eye = filled(ellipse(120, 80, 12, 12)).model_copy(update={"part": "head"})
    frame_lines = [
        stroked(polygon([(0, 0), (200, 0), (200, 200)], False)),
        stroked(polygon([(200, 200), (0, 0)], False)),
    ]
    first = drawing(filled(star()), eye, *frame_lines)
    second = drawing(filled(blob([90, 60, 100, 70, 80])), stroked(wave(4)))
    work = work_of(first, second)
    ends = HintEnd(shape=first.shapes[0].id, at=(200.0, 100.0)), HintEnd(shape=second.shapes[0].id, at=(390.0, 300.0))
    hint = Hint(first=ends[0], second=ends[1])
    work = work.with_take("k1", lambda take: take.model_copy(update={"hints": (hint,)}))
    roughs = (
        Layer(id=name, picture=Picture(image=image, width=80, height=60, at=(90, 90))) for name in ("rough", "other")
    )
    moss = Swatch(name="moss", color="#77ab54")
    return work.with_scene(palette=(moss,), layers=(*work.scene.layers, *roughs))


@st.composite
def any_edit(draw: st.DrawFn, work: Work) -> Operation:
    """An edit of any kind, at any key; where all keys are gone, at one that is."""
    keys = [key for layer in work.scene.layers for key in layer.keys]
    kind = draw(st.sampled_from(OPERATIONS))
    ids = ids_of(work, draw(st.sampled_from(keys)) if keys else None)
    while True:
        try:
            return operation.validate_python(draw(fields_of(kind, ids)))
        except ValidationError:
            continue  # the fields don't go together
