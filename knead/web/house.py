"""How routers reach what they work with."""

from typing import Annotated

from fastapi import Depends, Request

from knead.service.jobs import ExportDesk
from knead.service.studio import Studio


def _studio(request: Request) -> Studio:
    studio: Studio = request.app.state.studio
    return studio


def _exports(request: Request) -> ExportDesk:
    desk: ExportDesk = request.app.state.exports
    return desk


StudioOf = Annotated[Studio, Depends(_studio)]
ExportsOf = Annotated[ExportDesk, Depends(_exports)]
