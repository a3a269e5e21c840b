"""A figure of 30 shapes in two poses, drawn with other nodes in each: what the speed benchmarks work on."""

import numpy as np

from benchmarks.quality.cases import all_cases
from knead.core.geometry.bezier import transformed
from knead.core.model import Drawing, Key, Layer, Scene, SceneBundle, Shape, Span


def figure(shapes: int = 30) -> tuple[Drawing, Drawing]:
    """Two keys of this many shapes, the same at every call."""
    first: list = []
    second: list = []
    for case in all_cases(11, 40):
        if case.kind != "posed":
            continue
        partner = dict(case.pairs)
        twins = {s.id: s for s in case.second.shapes}
        for shape in case.first.shapes:
            if len(first) < shapes and shape.id in partner:
                first.append(shape)
                second.append(twins[partner[shape.id]])
        if len(first) == shapes:
            break
    order = np.random.default_rng(3).permutation(shapes)
    return Drawing(shapes=tuple(map(_on_paper, first))), Drawing(shapes=tuple(_on_paper(second[k]) for k in order))


def _on_paper(shape: Shape) -> Shape:
    """The shape moved from around 0, 0 to the middle of a scene."""
    shift = np.array([[1.0, 0.0, 480.0], [0.0, 1.0, 270.0]])
    return shape.model_copy(update={"contours": tuple(transformed(c, shift) for c in shape.contours)})


def figure_bundle(frames: int = 12) -> SceneBundle:
    """The figure as a scene with one in-betweened span of this many cards."""
    first, second = figure()
    keys = (
        Key(frame=1, drawing=first.hash, span=Span(inbetween=True)),
        Key(frame=frames, drawing=second.hash),
    )
    scene = Scene(name="Benchmark", length=24, layers=(Layer(name="tadpole", keys=keys),))
    return SceneBundle(scene=scene, drawings={d.hash: d for d in (first, second)})
