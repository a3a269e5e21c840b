"""In-betweens over HTTP, as they are and as an edit would make them."""

import hashlib

from fastapi import APIRouter, Response

from knead.core.edit import Operation
from knead.core.model import Model
from knead.service.views import ProposalView, SpanView
from knead.web.house import UNPACKED, IfNoneMatch, StudioOf, to_save, unchanged

router = APIRouter(tags=["spans"])


class Preview(Model):
    """An operation to try on a revision, and the span wanted; with a `look` at what might be wrong with it."""

    base: int
    operation: Operation
    key: str
    look: bool = True


@router.get("/scenes/{scene_id}/spans/{key}", response_model=SpanView)
def open_span(studio: StudioOf, scene_id: str, key: str, if_none_match: IfNoneMatch = None) -> Response:
    """All in-betweens of the span after a key, in one answer."""
    body = studio.span(scene_id, key).model_dump_json()
    headers = {"ETag": f'"{hashlib.sha256(body.encode()).hexdigest()[:32]}"', "Cache-Control": "no-cache"}
    if unchanged(headers, if_none_match):
        return Response(status_code=304, headers=headers)
    return Response(body, media_type="application/json", headers=headers)


@router.post("/scenes/{scene_id}/preview", response_model=SpanView)
def preview(studio: StudioOf, scene_id: str, body: Preview) -> Response:
    """The span as it would be after an operation. Nothing is kept."""
    text = studio.preview(scene_id, body.base, body.operation, body.key, body.look).model_dump_json()
    return Response(text, media_type="application/json", headers=UNPACKED)


@router.get("/scenes/{scene_id}/spans/{key}/proposals")
def proposals(studio: StudioOf, scene_id: str, key: str) -> list[ProposalView]:
    """Hints that would help this span most: at most four, the best first."""
    return studio.proposals(scene_id, key)


@router.get("/scenes/{scene_id}/spans/{key}/sheet", response_class=Response)
def plan_sheet(studio: StudioOf, scene_id: str, key: str) -> Response:
    """A picture of the span's plan, to be printed or handed on."""
    name, svg = studio.sheet(scene_id, key)
    return Response(svg, media_type="image/svg+xml", headers=to_save(name))
