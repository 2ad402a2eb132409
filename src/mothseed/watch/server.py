"""The page of a watched sketch: a server for this machine alone, that a browser shows it with.

What comes of the sketch is sent as server-sent events (WHATWG HTML, section 9.2), what is wished for is posted.
"""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import AsyncIterator, Callable
from contextlib import aclosing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, Response
from starlette.routing import Route

from mothseed.faults import MothSeedError
from mothseed.records import as_json, as_record
from mothseed.report.web import filled_page
from mothseed.told import writable
from mothseed.watch.loopback import HEADERS, application_of, posted, serve
from mothseed.watch.past import Past
from mothseed.watch.press import Kept
from mothseed.watch.result import Shown
from mothseed.watch.watch import Begun, Event, Further, Watch
from mothseed.watch.wish import Wish

_KEPT = 60
"""Pictures that are kept for the page; older ones are let go."""
_LARGEST_WISH = 100_000
"""Bytes of what is wished for."""

Again = Callable[[Wish], str]
"""The command line that makes the picture of a wish."""


async def serve_page(
    watch: Watch, sketch: str, folder: Path, again: Again, told: Callable[[str], None], past: Past | None = None
) -> None:
    """Watch and show it until the program is to end; `told` is given the page's address once it can be opened.

    The page is found at an address that nobody can guess, from this machine only. `folder` holds the pictures, `past` is what
    was drawn before.
    """
    work = [watch.run(strip=True), _letting_go(watch)]
    await serve(lambda token: page_of(watch, sketch, folder, again, token, past), told, work)


def page_of(watch: Watch, sketch: str, folder: Path, again: Again, token: str, past: Past | None = None) -> Starlette:
    """The page as an ASGI application."""

    async def page(_request: Request) -> Response:
        return HTMLResponse(filled_page("watch.html", sketch=sketch), headers=HEADERS)

    async def picture(request: Request) -> Response:
        file = folder / f"{request.path_params['number']}.png"
        if not file.is_file():
            raise HTTPException(404)
        return FileResponse(file, headers=HEADERS)

    async def daybook(_request: Request) -> Response:
        told = await asyncio.to_thread(past.as_plain) if past else []
        return Response(as_json(told), media_type="application/json", headers=HEADERS)

    async def earlier_picture(request: Request) -> Response:
        file = past.picture(request.path_params["number"]) if past else None
        if file is None:
            raise HTTPException(404)
        return FileResponse(file, headers=HEADERS)

    async def wish(request: Request) -> Response:
        try:
            watch.want(Wish.from_plain(await posted(request, _LARGEST_WISH)))
        except (MothSeedError, ValueError, OverflowError, RecursionError) as fault:
            return JSONResponse({"message": writable(str(fault))}, 400)
        return Response(status_code=204)

    async def point(request: Request) -> Response:
        try:
            asked = as_record(await posted(request, _LARGEST_WISH), _Point)
        except (ValueError, OverflowError, RecursionError) as fault:
            return JSONResponse({"message": writable(str(fault))}, 400)
        if not (0 <= asked.across <= 1 and 0 <= asked.down <= 1):
            return JSONResponse({"message": "that point is not on the picture"}, 400)
        answer = await watch.explained(asked.across, asked.down)
        return Response(as_json(answer.as_plain()), media_type="application/json") if answer else Response(status_code=204)

    async def settings(request: Request) -> Response:
        try:
            named = as_record(await posted(request, _LARGEST_WISH), _Named)
            file = await asyncio.to_thread(watch.keep_settings, named.name)
        except (MothSeedError, ValueError, OverflowError, RecursionError) as fault:
            return JSONResponse({"message": writable(str(fault))}, 400)
        return JSONResponse({"message": f"{named.name} is kept in {file.name}"})

    async def events(_request: Request) -> Response:
        async def sent() -> AsyncIterator[ServerSentEvent]:
            async with aclosing(watch.events()) as all_events:
                async for event in all_events:
                    yield _sent(event, again)

        return EventSourceResponse(sent(), headers=HEADERS)

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
    return application_of(token, routes)


@dataclass(frozen=True, slots=True)
class _Point:
    """A point of the picture that is asked about, in parts of its width and height."""

    across: float
    down: float


@dataclass(frozen=True, slots=True)
class _Named:
    """The name that the dials of the picture are to be kept by."""

    name: str


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
