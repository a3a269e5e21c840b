"""What routers share: how they reach what they work with, and how they answer."""

from collections.abc import Mapping
from typing import Annotated
from urllib.parse import quote

from fastapi import Depends, Header, Request

from knead.service.jobs import ExportDesk
from knead.service.studio import Studio

# what is wanted at once goes a short way: packing it would only cost time
UNPACKED = {"Content-Encoding": "identity"}

IfNoneMatch = Annotated[str | None, Header()]


def unchanged(headers: Mapping[str, str], if_none_match: str | None) -> bool:
    """Whether the asker has what these headers tag."""
    return if_none_match is not None and headers["ETag"] in if_none_match


def to_save(name: str) -> dict[str, str]:
    """The header by which a browser saves an answer as a file of this name."""
    return {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}


def _studio(request: Request) -> Studio:
    studio: Studio = request.app.state.studio
    return studio


def _exports(request: Request) -> ExportDesk:
    desk: ExportDesk = request.app.state.exports
    return desk


StudioOf = Annotated[Studio, Depends(_studio)]
ExportsOf = Annotated[ExportDesk, Depends(_exports)]
