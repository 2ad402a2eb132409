"""The page of a watched sketch: a server for this machine alone, that a browser shows it with.

What comes of the sketch is sent as server-sent events (WHATWG HTML, section 9.2), what is wished for is posted.
"""

from __future__ import annotations

import asyncio
import secrets
import socket
from collections import deque
from collections.abc import AsyncIterator, Callable
from contextlib import aclosing
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import uvicorn
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.middleware import Middleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, Response
from starlette.routing import Mount, Route

from mothseed.faults import MothSeedError
from mothseed.records import as_json, as_record, from_json
from mothseed.report.web import filled_page
from mothseed.told import writable
from mothseed.watch.past import Past
from mothseed.watch.press import Kept
from mothseed.watch.result import Shown
from mothseed.watch.watch import Begun, Event, Further, Watch
from mothseed.watch.wish import Wish

_HERE = "127.0.0.1"
_KEPT = 60
"""Pictures that are kept for the page; older ones are let go."""
_LARGEST_WISH = 100_000
"""Bytes of what is wished for."""
_POLICY = (
    "default-src 'none'; img-src 'self' blob: data:; connect-src 'self'; style-src 'unsafe-inline'; "
    "script-src 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
)
_HEADERS = {"Content-Security-Policy": _POLICY, "Referrer-Policy": "no-referrer", "Cache-Control": "no-store"}

Again = Callable[[Wish], str]
"""The command line that makes the picture of a wish."""


async def serve_page(
    watch: Watch, sketch: str, folder: Path, again: Again, told: Callable[[str], None], past: Past | None = None
) -> None:
    """Watch and show it until the program is to end; `told` is given the page's address once it can be opened.

    The page is found at an address that nobody can guess, from this machine only. `folder` holds the pictures, `past` is what
    was drawn before.
    """
    token = secrets.token_urlsafe(16)
    server = uvicorn.Server(
        uvicorn.Config(
            page_of(watch, sketch, folder, again, token, past), log_config=None, access_log=False, timeout_graceful_shutdown=1
        )
    )
    with socket.socket() as listener:
        listener.bind((_HERE, 0))
        listener.listen()  # from here on whoever opens the page is kept waiting rather than sent away
        told(f"http://{_HERE}:{listener.getsockname()[1]}/{token}/")
        work = [asyncio.create_task(watch.run(strip=True)), asyncio.create_task(_letting_go(watch))]
        serving = asyncio.create_task(server.serve(sockets=[listener]))
        try:
            done, _ = await asyncio.wait([serving, *work], return_when=asyncio.FIRST_COMPLETED)
            for task in done:
                task.result()
        finally:
            server.should_exit = True
            for task in work:
                task.cancel()
            await asyncio.gather(serving, *work, return_exceptions=True)


def page_of(watch: Watch, sketch: str, folder: Path, again: Again, token: str, past: Past | None = None) -> Starlette:
    """The page as an ASGI application."""

    async def page(_request: Request) -> Response:
        return HTMLResponse(filled_page("watch.html", sketch=sketch), headers=_HEADERS)

    async def picture(request: Request) -> Response:
        file = folder / f"{request.path_params['number']}.png"
        if not file.is_file():
            raise HTTPException(404)
        return FileResponse(file, headers=_HEADERS)

    async def daybook(_request: Request) -> Response:
        told = await asyncio.to_thread(past.as_plain) if past else []
        return Response(as_json(told), media_type="application/json", headers=_HEADERS)

    async def earlier_picture(request: Request) -> Response:
        file = past.picture(request.path_params["number"]) if past else None
        if file is None:
            raise HTTPException(404)
        return FileResponse(file, headers=_HEADERS)

    async def wish(request: Request) -> Response:
        try:
            watch.want(Wish.from_plain(await _posted(request)))
        except (MothSeedError, ValueError, OverflowError, RecursionError) as fault:
            return JSONResponse({"message": writable(str(fault))}, 400)
        return Response(status_code=204)

    async def point(request: Request) -> Response:
        try:
            asked = as_record(await _posted(request), _Point)
        except (ValueError, OverflowError, RecursionError) as fault:
            return JSONResponse({"message": writable(str(fault))}, 400)
        if not (0 <= asked.across <= 1 and 0 <= asked.down <= 1):
            return JSONResponse({"message": "that point is not on the picture"}, 400)
        answer = await watch.explained(asked.across, asked.down)
        return Response(as_json(answer.as_plain()), media_type="application/json") if answer else Response(status_code=204)

    async def settings(request: Request) -> Response:
        try:
            named = as_record(await _posted(request), _Named)
            file = await asyncio.to_thread(watch.keep_settings, named.name)
        except (MothSeedError, ValueError, OverflowError, RecursionError) as fault:
            return JSONResponse({"message": writable(str(fault))}, 400)
        return JSONResponse({"message": f"{named.name} is kept in {file.name}"})

    async def events(_request: Request) -> Response:
        async def sent() -> AsyncIterator[ServerSentEvent]:
            async with aclosing(watch.events()) as all_events:
                async for event in all_events:
                    yield _sent(event, again)

        return EventSourceResponse(sent(), headers=_HEADERS)

    routes = [
        Route("/", page),
        Route("/events", events),
        Route("/daybook", daybook),
        Route("/daybook/{number:int}.png", earlier_picture),
        Route("/wish", wish, methods=["POST"]),
        Route("/point", point, methods=["POST"]),
        Route("/settings", settings, methods=["POST"]),
        Route("/pictures/{number:int}.png", picture),
    ]
    # A page elsewhere could have its own name lead to this machine; only the machine's own names are answered.
    guard = Middleware(TrustedHostMiddleware, allowed_hosts=[_HERE, "localhost"])
    return Starlette(routes=[Mount(f"/{token}", routes=routes)], middleware=[guard])


@dataclass(frozen=True, slots=True)
class _Point:
    """A point of the picture that is asked about, in parts of its width and height."""

    across: float
    down: float


@dataclass(frozen=True, slots=True)
class _Named:
    """The name that the dials of the picture are to be kept by."""

    name: str


async def _posted(request: Request) -> object:
    """What the page posted, from JSON; raises ValueError and RecursionError for what is none."""
    origin = request.headers.get("origin", "")
    if origin and urlsplit(origin).netloc != request.headers.get("host"):
        raise HTTPException(403, "this page is no page of mine")
    body = b""
    async for piece in request.stream():
        body += piece
        if len(body) > _LARGEST_WISH:
            raise HTTPException(413, "a wish is shorter")
    return from_json(body)


async def _letting_go(watch: Watch) -> None:
    """Let go of pictures that nobody sees any more."""
    kept: deque[Path] = deque()
    async with aclosing(watch.events()) as events:
        async for event in events:
            shown = event.shown if isinstance(event, Further) else event
            if isinstance(shown, Shown) and shown.proof:
                kept.append(shown.proof.file)
            while len(kept) > _KEPT:
                kept.popleft().unlink(missing_ok=True)


def _sent(event: Event, again: Again) -> ServerSentEvent:
    match event:
        case Begun():
            return ServerSentEvent(event="begun", data="")
        case Kept():
            told = {"message": event.problem.message if event.problem else ""}
            return ServerSentEvent(event="kept", data=as_json(told))
        case Further(place, shown):
            small = {
                "place": place,
                "seed": shown.wish.recipe.seed,
                "picture": _address(shown),
                "problem": shown.problem.message if shown.problem else "",
            }
            return ServerSentEvent(event="further", data=as_json(small))
        case Shown():
            return ServerSentEvent(event="shown", data=as_json(_plain(event, again)))


def _plain(shown: Shown, again: Again) -> dict[str, Any]:
    """What came of a wish, as the page is sent it."""
    plain = shown.as_plain()
    return plain | {"picture": _address(shown), "command": again(shown.wish)} if shown.proof else plain


def _address(shown: Shown) -> str:
    return f"pictures/{shown.proof.file.name}" if shown.proof else ""
