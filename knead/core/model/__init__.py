"""The things of the job as frozen Pydantic models: file format, API bodies and what the store keeps."""

from knead.core.model.base import Model, Name, Point, new_id
from knead.core.model.drawing import Contour, Drawing, Node, Shape, Stretch
from knead.core.model.scene import Cycle, Guide, Image, Key, Layer, Picture, Scene, SceneBundle, Swatch
from knead.core.model.span import Blend, Ease, Hint, HintEnd, PairChoice, PairTravel, Span, Take
from knead.core.model.style import Fill, Gradient, Paint, Stop, Stroke

__all__ = [
    "Blend",
    "Contour",
    "Cycle",
    "Drawing",
    "Ease",
    "Fill",
    "Gradient",
    "Guide",
    "Hint",
    "HintEnd",
    "Image",
    "Key",
    "Layer",
    "Model",
    "Name",
    "Node",
    "Paint",
    "PairChoice",
    "PairTravel",
    "Picture",
    "Point",
    "Scene",
    "SceneBundle",
    "Shape",
    "Span",
    "Stop",
    "Stretch",
    "Stroke",
    "Swatch",
    "Take",
    "new_id",
]
