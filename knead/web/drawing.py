"""What the Draw view asks for besides edits: trials, pictures to draw over, SVG files as shapes."""

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, File, Response, UploadFile

from knead.core.edit import Operation
from knead.core.model import Model, Shape
from knead.formats.images import read_image
from knead.formats.svg_read import read_svg
from knead.service.roughs import rough, rough_names
from knead.service.trial import DrawingTrial
from knead.web.house import StudioOf

router = APIRouter(tags=["drawing"])
FOREVER = {"Cache-Control": "private, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"}


class Trial(Model):
    """An operation on a revision's drawing of a key that is only tried out."""

    base: int
    operation: Operation
    key: str


class KeptImage(Model):
    """A picture that was kept: its hash, its size in pixels."""

    image: str
    width: int
    height: int


class ShapesRead(Model):
    """The shapes of an SVG file, and what of it could not be kept, in words."""

    shapes: list[Shape]
    lost: list[str]


@router.post("/scenes/{scene_id}/trial")
def try_drawing(studio: StudioOf, scene_id: str, body: Trial) -> DrawingTrial:
    """What an operation would make of a key's drawing; nothing is kept."""
    return studio.trial(scene_id, body.base, body.operation, body.key)


@router.post("/images", status_code=201)
def keep_image(studio: StudioOf, file: Annotated[UploadFile, File()]) -> KeptImage:
    """Keep a picture for a picture layer."""
    image, width, height = read_image(file.file.read(), file.filename or "The file")
    return KeptImage(image=studio.store.keep_image(image), width=width, height=height)


@router.get("/images/{name}", response_class=Response)
def show_image(studio: StudioOf, name: str) -> Response:
    """A kept picture."""
    image = studio.store.image(name)
    return Response(image.data, media_type=image.type, headers=FOREVER)


@router.get("/roughs")
def list_roughs() -> Sequence[str]:
    """The names of the roughs that ship with Knead."""
    return rough_names()


@router.post("/roughs/{name}", status_code=201)
def keep_rough(studio: StudioOf, name: str) -> KeptImage:
    """Keep a shipped rough for a picture layer, as if it had been scanned."""
    image, width, height = read_image(rough(name), name)
    return KeptImage(image=studio.store.keep_image(image), width=width, height=height)


@router.get("/roughs/{name}", response_class=Response)
def show_rough(name: str) -> Response:
    """A shipped rough."""
    return Response(rough(name), media_type="image/png")


@router.post("/shapes")
def read_shapes(file: Annotated[UploadFile, File()]) -> ShapesRead:
    """The shapes of an SVG file, to be brought in as a key."""
    svg = read_svg(file.file.read(), file.filename or "The file")
    return ShapesRead(shapes=list(svg.drawing.shapes), lost=list(svg.lost))
