"""Scenes over HTTP: the shelf, opening, editing, undo, files in and out."""

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, File, Query, Response, UploadFile
from pydantic import Field

from knead.core.edit import Operation
from knead.core.model import Model, Name, Scene
from knead.core.model.scene import Extent, Frame
from knead.formats.bundle import read_bundle, write_bundle
from knead.formats.svg_read import read_svg
from knead.service.render import plain_name
from knead.service.views import SceneView
from knead.store.scenes import Revision
from knead.web.house import UNPACKED, IfNoneMatch, StudioOf, to_save, unchanged

router = APIRouter(tags=["scenes"])


class SceneCard(Model):
    """A scene on the shelf."""

    id: str
    name: str
    revision: int
    width: float
    height: float
    rate: float
    length: int


class NewScene(Model):
    """What a new scene begins with."""

    name: Name = "Untitled"
    width: Extent = 960.0
    height: Extent = 540.0
    rate: Annotated[float, Field(ge=1.0, le=120.0)] = 12.0
    length: Frame = 24


class Step(Model):
    """Undo or redo, from the revision that is shown."""

    base: int


class Edit(Model):
    """An operation on the revision that is shown."""

    base: int
    operation: Operation


class BroughtIn(Model):
    """A scene made from files, and what of them could not be kept, in words."""

    scene: SceneCard
    lost: list[str]


def _card(revision: Revision) -> SceneCard:
    s = revision.scene
    return SceneCard(
        id=s.id, name=s.name, revision=revision.number, width=s.width, height=s.height, rate=s.rate, length=s.length
    )


@router.get("/scenes")
def list_scenes(studio: StudioOf) -> Sequence[SceneCard]:
    """All scenes, the last changed first."""
    return [_card(revision) for revision in studio.store.all()]


@router.post("/scenes", status_code=201)
def new_scene(studio: StudioOf, body: NewScene) -> SceneCard:
    """A new scene with one layer and an empty key."""
    return _card(studio.new(Scene(**body.model_dump())))


@router.post("/scenes/files", status_code=201)
def bring_in(studio: StudioOf, files: Annotated[list[UploadFile], File(max_length=8)]) -> BroughtIn:
    """A new scene from a bundle, or from SVG files as keys in their order."""
    read = [(file.filename or "file", file.file.read()) for file in files]
    if len(read) == 1 and not read[0][0].lower().endswith(".svg"):
        return BroughtIn(scene=_card(studio.keep_bundle(read_bundle(read[0][1], read[0][0]))), lost=[])
    svgs = [read_svg(data, name) for name, data in read]
    lost = [f"{name}: {words}" for (name, _), svg in zip(read, svgs, strict=True) for words in svg.lost]
    names = [name.rsplit(".", 1)[0].strip() for name, _ in (read[0], read[-1])]
    name = " to ".join(dict.fromkeys(filter(None, names)))[:120].strip() or "Untitled"
    return BroughtIn(scene=_card(studio.from_svgs(name, svgs)), lost=lost)


@router.get("/scenes/{scene_id}")
def open_scene(studio: StudioOf, scene_id: str, response: Response) -> SceneView:
    """A scene with its drawings."""
    response.headers.update(UNPACKED)
    return studio.open(scene_id)


@router.post("/scenes/{scene_id}/edits")
def edit_scene(studio: StudioOf, scene_id: str, body: Edit) -> SceneView:
    """Do an operation; the answer has the drawings it made."""
    return studio.edit(scene_id, body.base, body.operation)


@router.post("/scenes/{scene_id}/undo")
def undo(studio: StudioOf, scene_id: str, body: Step) -> SceneView:
    """One step back."""
    return studio.undo(scene_id, body.base)


@router.post("/scenes/{scene_id}/redo")
def redo(studio: StudioOf, scene_id: str, body: Step) -> SceneView:
    """One step on again."""
    return studio.redo(scene_id, body.base)


@router.post("/scenes/{scene_id}/copy", status_code=201)
def copy_scene(studio: StudioOf, scene_id: str) -> SceneCard:
    """The same scene once more, under a name of its own."""
    bundle = studio.bundle(scene_id)
    return _card(studio.keep_bundle(bundle, f"{bundle.scene.name} (copy)"[:120], "Duplicate"))


@router.delete("/scenes/{scene_id}", status_code=204)
def delete_scene(studio: StudioOf, scene_id: str) -> None:
    """Take a scene off the shelf; it can be restored."""
    studio.store.set_deleted(scene_id, True)


@router.post("/scenes/{scene_id}/restore", status_code=204)
def restore_scene(studio: StudioOf, scene_id: str) -> None:
    """Put a deleted scene back."""
    studio.store.set_deleted(scene_id, False)


@router.get("/scenes/{scene_id}/bundle", response_class=Response)
def save_bundle(studio: StudioOf, scene_id: str) -> Response:
    """The scene as a file."""
    bundle = studio.bundle(scene_id)
    headers = to_save(f"{plain_name(bundle.scene.name)}.knead.json")
    return Response(write_bundle(bundle), media_type="application/json", headers=headers)


@router.get("/scenes/{scene_id}/picture", response_class=Response)
def scene_picture(
    studio: StudioOf,
    scene_id: str,
    frame: Annotated[int, Query(ge=1)] = 1,
    width: Annotated[int, Query(ge=16, le=4096)] = 480,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """One frame as an SVG picture, drawn only if the asker has not seen this revision's yet."""
    revision = studio.store.load(scene_id)
    headers = {"ETag": f'"{scene_id}-{revision.number}-{frame}-{width}"', "Cache-Control": "no-cache"}
    if unchanged(headers, if_none_match):
        return Response(status_code=304, headers=headers)
    svg = studio.picture(revision.scene, frame, width)
    return Response(svg, media_type="image/svg+xml", headers=headers)
