"""Errors as answers: application/problem+json (RFC 9457) with a plain sentence."""

from http import HTTPStatus

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from sqlalchemy.exc import OperationalError
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse

from knead.core.edit.sound import EditError
from knead.formats.bundle import BadBundle
from knead.formats.images import BadImage
from knead.formats.svg_guard import BadSvg
from knead.store.scenes import NotFound, Stale


def problem(status: int, sentence: str) -> JSONResponse:
    """A problem response."""
    body = {"type": "about:blank", "title": HTTPStatus(status).phrase, "status": status, "detail": sentence}
    return JSONResponse(body, status, media_type="application/problem+json")


def add_problem_handlers(app: FastAPI) -> None:
    """Turn the service's errors into problems."""
    sentences: dict[type[Exception], int] = {EditError: 422, BadSvg: 422, BadBundle: 422, BadImage: 422, NotFound: 404}

    async def by_sentence(_: Request, error: Exception) -> JSONResponse:
        status = next(code for kind, code in sentences.items() if isinstance(error, kind))
        return problem(status, str(error))

    for kind in sentences:
        app.add_exception_handler(kind, by_sentence)

    @app.exception_handler(Stale)
    async def _stale(_: Request, error: Stale) -> JSONResponse:
        return problem(409, "The scene was changed elsewhere meanwhile. It is shown as it is now; nothing is lost.")

    @app.exception_handler(HTTPException)
    async def _http(_: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, str(error.detail))

    @app.exception_handler(RequestValidationError)
    async def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        where = " / ".join(str(part) for part in first["loc"][1:])
        return problem(422, f"The request can't be used: {first['msg']} ({where}).")

    @app.exception_handler(OperationalError)
    async def _database(_: Request, error: OperationalError) -> JSONResponse:
        full = "disk" in str(error.orig).lower() or "space" in str(error.orig).lower()
        why = "The disk is full" if full else "The database can't be reached"
        return problem(503, f"{why}. This change is not saved; everything before it is. Try again in a moment.")
