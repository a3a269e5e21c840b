"""Edits of scenes and drawings: each is one typed operation, a pure function from a scene to the next."""

from typing import Annotated

from pydantic import Field, ValidationError

from knead.core.edit.arrange import AlignShapes, MirrorShapes, PoseShapes, SpreadShapes
from knead.core.edit.cycles import AddCycle, CutLoose, SetCycle
from knead.core.edit.flow import FlowThrough
from knead.core.edit.forms import AddForm, AddFreehand, AddLetters, AddPath, Pour
from knead.core.edit.hints import AddHint, MoveHint, RemoveHints, RenameHint
from knead.core.edit.keys import BringKey, DuplicateKey, MoveKey, MoveKeyOver, NameKey, NewKey, RemoveKey
from knead.core.edit.layers import (
    AddLayer,
    DuplicateLayer,
    KeepDrawings,
    MoveLayer,
    RemoveLayer,
    SetLayer,
    SetScene,
    ShowAlone,
)
from knead.core.edit.nodes import AddNode, MoveNodes, RemoveNodes, SetNodeKind
from knead.core.edit.palette import AddSwatch, ChangeSwatch, RemoveSwatch
from knead.core.edit.parts import GroupShapes, RenamePart, UngroupShapes
from knead.core.edit.pictures import AddPicture, MatchPicture, PlacePicture
from knead.core.edit.points import (
    AlignPoints,
    CloseLines,
    JoinEnds,
    MergePoints,
    MoveSeam,
    Simplify,
    SplitLine,
    StraightenPoints,
    TurnDirection,
)
from knead.core.edit.shapes import (
    AddShapes,
    PlaceInStack,
    RemoveShapes,
    RenameShape,
    Repaint,
    Restack,
    Restyle,
    TransformShapes,
)
from knead.core.edit.sound import EditError, in_words
from knead.core.edit.spans import (
    FreePair,
    PairShapes,
    SetBlend,
    SetChart,
    SetEase,
    SetExposure,
    SetInbetween,
    SetTolerance,
    SetTravel,
    Stagger,
)
from knead.core.edit.takes import NewTake, NoteTake, RemoveTake, RenameTake, UseTake
from knead.core.edit.widths import EvenWidth, PullWidth
from knead.core.edit.work import Work

Operation = Annotated[
    AddForm
    | AddFreehand
    | AddPath
    | AddLetters
    | Pour
    | AddShapes
    | TransformShapes
    | Restyle
    | Repaint
    | Restack
    | PlaceInStack
    | RemoveShapes
    | RenameShape
    | MoveNodes
    | SetNodeKind
    | AddNode
    | RemoveNodes
    | MergePoints
    | StraightenPoints
    | AlignPoints
    | SplitLine
    | JoinEnds
    | CloseLines
    | TurnDirection
    | MoveSeam
    | Simplify
    | PullWidth
    | EvenWidth
    | NewKey
    | DuplicateKey
    | MoveKey
    | MoveKeyOver
    | BringKey
    | NameKey
    | RemoveKey
    | SetInbetween
    | SetEase
    | SetChart
    | SetExposure
    | SetBlend
    | SetTolerance
    | SetTravel
    | Stagger
    | FlowThrough
    | NewTake
    | UseTake
    | RenameTake
    | NoteTake
    | RemoveTake
    | PairShapes
    | FreePair
    | AddHint
    | MoveHint
    | RenameHint
    | RemoveHints
    | AlignShapes
    | SpreadShapes
    | MirrorShapes
    | PoseShapes
    | GroupShapes
    | UngroupShapes
    | RenamePart
    | AddSwatch
    | ChangeSwatch
    | RemoveSwatch
    | AddPicture
    | PlacePicture
    | MatchPicture
    | AddLayer
    | SetLayer
    | DuplicateLayer
    | AddCycle
    | SetCycle
    | CutLoose
    | KeepDrawings
    | MoveLayer
    | ShowAlone
    | RemoveLayer
    | SetScene,
    Field(discriminator="type"),
]


def carried_out(operation: Operation, work: Work) -> Work:
    """What an operation makes. Raises EditError where it can't be done, or the model allows nothing like it."""
    try:
        return operation.apply(work)
    except ValidationError as error:
        raise EditError(in_words(error)) from error


__all__ = ["EditError", "Operation", "Work", "carried_out"]
