"""Edits of a stroke's width along its length."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from knead.core.edit.nodes import with_node
from knead.core.edit.points import each, with_contour
from knead.core.edit.shapes import Ids, changed
from knead.core.edit.sound import EditError
from knead.core.edit.work import Work
from knead.core.geometry.track import track_of
from knead.core.model import Contour, Model, Point
from knead.core.outline.hints import nearest_contour


class PullWidth(Model):
    """Make a stroke this wide at a place on its outline; a point is put there unless one is near."""

    type: Literal["pull_width"] = "pull_width"
    key: str
    shape: str
    at: Point
    width: Annotated[float, Field(ge=0.0, le=2000.0)]
    near: Annotated[float, Field(ge=0.0, le=1e4)] = 6.0

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Change the width along a line"

    def apply(self, work: Work) -> Work:
        """Set the width there. Raises EditError for a shape without a stroke."""
        shape = work.shape(self.key, self.shape)
        if shape.stroke is None or shape.stroke.width <= 0:
            raise EditError("This shape has no line whose width could change.")
        tracks = [track_of(c) for c in shape.contours]
        index, param, _ = nearest_contour(tracks, np.array(self.at))
        contour, place = shape.contours[index], tracks[index].points(tracks[index].shares(np.array([param])))[0]
        away = [float(np.hypot(*(np.array(node.at) - place))) for node in contour.nodes]
        if min(away) > self.near:
            contour = with_node(contour, param)
            away = [float(np.hypot(*(np.array(node.at) - place))) for node in contour.nodes]
        pulled, weight = int(np.argmin(away)), min(self.width / shape.stroke.width, 16.0)
        nodes = tuple(
            n.model_copy(update={"weight": weight}) if k == pulled else n for k, n in enumerate(contour.nodes)
        )
        wide = contour.model_copy(update={"nodes": nodes})
        return changed(work, self.key, (shape.id,), lambda s: with_contour(s, index, wide))


class EvenWidth(Model):
    """Give lines one width along their whole length."""

    type: Literal["even_width"] = "even_width"
    key: str
    shapes: Ids

    @property
    def label(self) -> str:
        """What undo calls it."""
        return "Even width"

    def apply(self, work: Work) -> Work:
        """Reset the factors of all nodes."""

        def even(contour: Contour) -> Contour:
            return contour.model_copy(
                update={"nodes": tuple(n.model_copy(update={"weight": 1.0}) for n in contour.nodes)}
            )

        return changed(work, self.key, self.shapes, lambda s: each(s, even))
