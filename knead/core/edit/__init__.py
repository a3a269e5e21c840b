"""Edits of scenes and drawings: each is one typed operation, a pure function from a scene to the next."""

from typing import Annotated

from pydantic import Field

from knead.core.edit.arrange import AlignShapes, MirrorShapes, SpreadShapes
from knead.core.edit.keys import DuplicateKey, MoveKey, NewKey, RemoveKey
from knead.core.edit.layers import AddLayer, DuplicateLayer, MoveLayer, RemoveLayer, SetLayer, SetScene, ShowAlone
from knead.core.edit.nodes import AddNode, MoveNodes, RemoveNodes, SetNodeKind
from knead.core.edit.shapes import (
    AddForm,
    AddFreehand,
    AddShapes,
    RemoveShapes,
    RenameShape,
    Restack,
    Restyle,
    TransformShapes,
)
from knead.core.edit.spans import (
    AddHint,
    FreePair,
    MoveHint,
    PairShapes,
    RemoveHints,
    RenameHint,
    SetBlend,
    SetEase,
    SetInbetween,
    SetTolerance,
    SetTravel,
)
from knead.core.edit.work import EditError, Work

Operation = Annotated[
    AddForm
    | AddFreehand
    | AddShapes
    | TransformShapes
    | Restyle
    | Restack
    | RemoveShapes
    | RenameShape
    | MoveNodes
    | SetNodeKind
    | AddNode
    | RemoveNodes
    | NewKey
    | DuplicateKey
    | MoveKey
    | RemoveKey
    | SetInbetween
    | SetEase
    | SetBlend
    | SetTolerance
    | SetTravel
    | PairShapes
    | FreePair
    | AddHint
    | MoveHint
    | RenameHint
    | RemoveHints
    | AlignShapes
    | SpreadShapes
    | MirrorShapes
    | AddLayer
    | SetLayer
    | DuplicateLayer
    | MoveLayer
    | ShowAlone
    | RemoveLayer
    | SetScene,
    Field(discriminator="type"),
]

__all__ = ["EditError", "Operation", "Work"]
