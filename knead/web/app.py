"""The web application: routers, guards, problem responses, and the built front end."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.routing import APIRoute
from fastapi.staticfiles import StaticFiles
from sqlalchemy import Engine

from knead.service.jobs import ExportDesk
from knead.service.studio import Studio
from knead.web import drawing, exports, scenes, spans
from knead.web.guard import Guard
from knead.web.problems import add_problem_handlers


def create_app(engine: Engine, front_end: Path | None) -> FastAPI:
    """The application on a database that is migrated already; `front_end` is the folder of the built front end."""
    studio = Studio(engine)
    desk = ExportDesk(engine, studio)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        async with desk.queue.open_async():
            worker = asyncio.create_task(desk.work())
            yield
            worker.cancel()
            await asyncio.gather(worker, return_exceptions=True)

    app = FastAPI(
        title="Knead", version="1", lifespan=lifespan, openapi_url="/api/openapi.json", docs_url=None, redoc_url=None
    )
    app.state.studio, app.state.exports = studio, desk
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=1)
    app.add_middleware(Guard)
    add_problem_handlers(app)
    for router in (scenes.router, drawing.router, spans.router, exports.router):
        app.include_router(router, prefix="/api")
    for route in app.routes:
        if isinstance(route, APIRoute):
            route.operation_id = route.name
    if front_end is not None:
        app.mount("/", StaticFiles(directory=front_end, html=True))
    return app
