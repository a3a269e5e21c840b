"""Exports over HTTP: order, watch, cancel, fetch."""

import mimetypes
from typing import Literal

from fastapi import APIRouter, Response

from knead.core.model import Model
from knead.service.render import ExportOptions
from knead.store.exports import Export
from knead.web.house import ExportsOf, StudioOf, to_save

router = APIRouter(tags=["exports"])


class ExportView(Model):
    """An export job; progress 0 to 1."""

    id: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    progress: float
    message: str
    file_name: str


def _view(export: Export) -> ExportView:
    return ExportView.model_validate(
        {name: getattr(export, name) for name in ("id", "state", "progress", "message", "file_name")}
    )


@router.post("/scenes/{scene_id}/exports", status_code=202)
async def order_export(studio: StudioOf, exports: ExportsOf, scene_id: str, body: ExportOptions) -> ExportView:
    """Begin an export of the scene as it is now."""
    revision = studio.store.load(scene_id)
    return _view(await exports.order(scene_id, revision.number, body))


@router.get("/exports/{export_id}")
def watch_export(exports: ExportsOf, export_id: str) -> ExportView:
    """How far it is."""
    return _view(exports.store.load(export_id))


@router.post("/exports/{export_id}/cancel")
def cancel_export(exports: ExportsOf, export_id: str) -> ExportView:
    """Stop it if it is not over yet."""
    exports.store.cancel(export_id)
    return _view(exports.store.load(export_id))


@router.get("/exports/{export_id}/file", response_class=Response)
def export_file(exports: ExportsOf, export_id: str) -> Response:
    """The file of a finished export."""
    name, data = exports.store.file(export_id)
    kind = mimetypes.guess_type(name)[0]
    return Response(data, media_type=kind, headers=to_save(name))
