"""Edits of parts: named groups of shapes, one inside the other."""

from typing import Literal

from knead.core.edit.shapes import Ids, changed
from knead.core.edit.sound import EditError
from knead.core.edit.work import Work
from knead.core.model import Model, Name, Shape


class GroupShapes(Model):
    """Put shapes into a part of this name; parts they are in already go into it as they are."""

    type: Literal["group_shapes"] = "group_shapes"
    key: str
    shapes: Ids
    name: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Group"

    def apply(self, work: Work) -> Work:
        """Set the part. Raises EditError for a name with a slash, which parts groups from each other."""
        if "/" in self.name:
            raise EditError("A part's name can't have a slash in it.")
        outer = _common([work.shape(self.key, shape_id) for shape_id in self.shapes])
        if len(outer) > 6:
            raise EditError("Parts can't be nested any deeper.")

        def grouped(shape: Shape) -> Shape:
            inner = shape.parts[len(outer) :]
            return shape.model_copy(update={"part": "/".join([*outer, self.name, *inner])})

        return changed(work, self.key, self.shapes, grouped)


class UngroupShapes(Model):
    """Take shapes out of the innermost part that they all are in."""

    type: Literal["ungroup_shapes"] = "ungroup_shapes"
    key: str
    shapes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Ungroup"

    def apply(self, work: Work) -> Work:
        """Leave the part. Raises EditError where there is none."""
        common = _common([work.shape(self.key, shape_id) for shape_id in self.shapes])
        if not common:
            raise EditError("These shapes are in no part together.")
        depth = len(common) - 1

        def freed(shape: Shape) -> Shape:
            own = shape.parts
            return shape.model_copy(update={"part": "/".join([*own[:depth], *own[depth + 1 :]]) or None})

        return changed(work, self.key, self.shapes, freed)


class RenamePart(Model):
    """Rename a part, given by its whole path."""

    type: Literal["rename_part"] = "rename_part"
    key: str
    part: Name
    name: Name

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Rename a part"

    def apply(self, work: Work) -> Work:
        """Set the name. Raises EditError for a name with a slash."""
        if "/" in self.name:
            raise EditError("A part's name can't have a slash in it.")
        path = self.part.split("/")
        ids = tuple(s.id for s in work.drawing(self.key).shapes if s.parts[: len(path)] == path)
        if not ids:
            raise EditError("This part is gone.")

        def renamed(shape: Shape) -> Shape:
            own = shape.parts
            return shape.model_copy(update={"part": "/".join([*path[:-1], self.name, *own[len(path) :]])})

        return changed(work, self.key, ids, renamed)


def _common(shapes: list[Shape]) -> list[str]:
    paths = [shape.parts for shape in shapes]
    found: list[str] = []
    for names in zip(*paths, strict=False):
        if len(set(names)) > 1:
            break
        found.append(names[0])
    return found
