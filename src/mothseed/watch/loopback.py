"""Pages for this machine only: a server at an address nobody can guess, which pages from elsewhere cannot use."""

from __future__ import annotations

import asyncio
import secrets
import socket
from collections.abc import Callable, Coroutine, Sequence
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import uvicorn
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.middleware import Middleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.routing import BaseRoute, Mount

from mothseed.records import from_json
from mothseed.series.pictures import ordinary_status

_HERE = "127.0.0.1"
_POLICY = (
    "default-src 'none'; font-src data:; img-src 'self' blob: data:; connect-src 'self'; style-src 'unsafe-inline'; "
    "script-src 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
)
Told = Callable[[str], None]
"""Called with the address of a page."""
HEADERS = {"Content-Security-Policy": _POLICY, "Referrer-Policy": "no-referrer", "Cache-Control": "no-store"}
"""Headers of every response."""


async def serve(application: Callable[[str], Starlette], told: Told, work: Sequence[Coroutine[Any, Any, None]] = ()) -> None:
    """Serve the application of a secret, and do some work meanwhile, until the program is to end or some work has ended.

    `told` is given the page's address once it can be opened.
    """
    token = secrets.token_urlsafe(16)
    config = uvicorn.Config(application(token), log_config=None, access_log=False, timeout_graceful_shutdown=1)
    server = uvicorn.Server(config)
    with socket.socket() as listener:
        listener.bind((_HERE, 0))
        listener.listen()  # from here on, whoever opens the page waits rather than being refused
        told(f"http://{_HERE}:{listener.getsockname()[1]}/{token}/")
        tasks = [asyncio.create_task(each) for each in work]
        serving = asyncio.create_task(server.serve(sockets=[listener]))
        try:
            done, _ = await asyncio.wait([serving, *tasks], return_when=asyncio.FIRST_COMPLETED)
            for task in done:
                task.result()
        finally:
            server.should_exit = True
            for task in tasks:
                task.cancel()
            await asyncio.gather(serving, *tasks, return_exceptions=True)


def application_of(token: str, routes: Sequence[BaseRoute]) -> Starlette:
    """An application whose routes are below a secret."""
    # Another site could point its own name at this machine; only the machine's own names are answered.
    guard = Middleware(TrustedHostMiddleware, allowed_hosts=[_HERE, "localhost"])
    return Starlette(routes=[Mount(f"/{token}", routes=routes)], middleware=[guard])


def picture_at(request: Request, folder: Path, names: Sequence[str]) -> Path:
    """The picture of a series with the requested index; anything else is 404."""
    place: int = request.path_params["place"]
    if not place < len(names) or ordinary_status(folder / names[place]) is None:
        raise HTTPException(404)
    return folder / names[place]


async def posted(request: Request, most: int) -> object:
    """What the page posted, from JSON of at most so many bytes; raises ValueError and RecursionError for what is none."""
    origin = request.headers.get("origin", "")
    if origin and urlsplit(origin).netloc != request.headers.get("host"):
        raise HTTPException(403, "this page does not belong to Moth Seed")
    body = b""
    async for piece in request.stream():
        body += piece
        if len(body) > most:
            raise HTTPException(413, "that is too much at once")
    return from_json(body)
