"""Turns away what does not come from this machine's own pages: foreign Host and Origin headers, oversized bodies."""

from urllib.parse import urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from knead.web.problems import problem

LOCAL = {"127.0.0.1", "localhost", "[::1]"}
MOST_BYTES = 110 * 1024 * 1024


class Guard:
    """ASGI middleware. A page on another site must not be able to reach a server that listens on loopback."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass on, or answer with a problem."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        headers = {name.decode().lower(): value.decode("latin-1") for name, value in scope["headers"]}
        refusal = _refusal(headers)
        if refusal:
            await problem(*refusal)(scope, receive, send)
            return
        size = 0

        async def counted() -> Message:
            nonlocal size
            message = await receive()
            size += len(message.get("body", b""))
            if size > MOST_BYTES:
                return {"type": "http.disconnect"}
            return message

        await self._app(scope, counted, send)


def _refusal(headers: dict[str, str]) -> tuple[int, str] | None:
    if _name(headers.get("host", "")) not in LOCAL:
        return 421, "This server answers only to its own machine."
    origin = headers.get("origin")
    if origin is not None and urlsplit(origin).netloc != headers.get("host"):
        return 403, "Requests from other sites are refused."
    length = headers.get("content-length", "0")
    if not length.isdigit() or int(length) > MOST_BYTES:
        return 413, f"This is larger than {MOST_BYTES // 2**20} MB."
    return None


def _name(host: str) -> str:
    return host.rsplit(":", 1)[0] if not host.endswith("]") else host
