"""The page of a series in the making: the wall as it fills, progress, and failures."""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, Response
from starlette.routing import Route

from mothseed.faults import PictureError
from mothseed.report.small_pictures import small_picture
from mothseed.report.web import filled_page
from mothseed.series import Edition
from mothseed.watch.loopback import HEADERS, Told, application_of, picture_at, serve

_WIDTH = 320
_AT_ONCE = 200
"""Most editions reported to the page at a time."""
_LEFT_TO_SEE = 3.0
"""Seconds for an open page to learn of the end and fetch its last pictures."""
_QUIET = 1.0
"""Seconds without a request after which it has done so."""


@dataclass(slots=True)
class Filling:
    """Progress of a series, written by the run and read by the page."""

    folder: Path
    command: str = ""
    """the command that shows all of it afterwards"""
    total: int = 0
    made: list[str] = field(default_factory=list)
    """titles of finished editions"""
    files: list[str] = field(default_factory=list)
    """files of their pictures"""
    failed: list[str] = field(default_factory=list)
    words: str = "starting"
    """progress, or the result"""
    finished: bool = False
    seen: threading.Event = field(default_factory=threading.Event)
    """set once an open page knows of the end"""
    asked: float = -1e9
    """time of the last request of a page, or of the answer that took long"""

    def add(self, editions: Sequence[Edition], words: str) -> None:
        """Record finished editions and progress in words."""
        done = [edition for edition in editions if not edition.failed]
        self.files += [edition.file for edition in done]
        self.made += [edition.title for edition in done]
        self.failed += [f"seed {edition.title}: {edition.error}" for edition in editions if edition.failed]
        self.words = words

    def state(self, made: int, failed: int) -> dict[str, Any]:
        """What is new to a page that knows of so many editions."""
        self.asked = time.monotonic()
        new = self.made[made : made + _AT_ONCE]
        more = made + len(new) < len(self.made)
        finished = self.finished and not more
        if finished:
            self.seen.set()
        return {
            "total": self.total,
            "done": len(self.made) + len(self.failed),
            "made": new,
            "failed": self.failed[failed:],
            "told": self.words,
            "more": more,
            "finished": finished,
        }


@contextmanager
def shown_while_made(filling: Filling, aspect: float, told: Told) -> Iterator[None]:
    """A block during which a page shows a series being made; `told` gets the address of the page, `aspect` is the height of
    the pictures over their width.

    The page is served by its own thread, so the run goes on as without it.
    """
    loop = asyncio.new_event_loop()
    ended = asyncio.Event()

    async def until_ended() -> None:
        await ended.wait()

    def run() -> None:
        asyncio.set_event_loop(loop)
        loop.run_until_complete(serve(lambda token: page_of_filling(filling, aspect, token), told, [until_ended()]))
        loop.close()

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    try:
        yield
        filling.finished = True
        end = time.monotonic() + _LEFT_TO_SEE
        if time.monotonic() - filling.asked < _LEFT_TO_SEE:
            filling.seen.wait(_LEFT_TO_SEE)
        while time.monotonic() - filling.asked < _QUIET and time.monotonic() < end:
            time.sleep(_QUIET / 4)
    finally:
        loop.call_soon_threadsafe(ended.set)
        thread.join(_LEFT_TO_SEE)


def page_of_filling(filling: Filling, aspect: float, token: str) -> Starlette:
    """The page as an ASGI application below a secret."""

    def file_of(request: Request) -> Path:
        filling.asked = time.monotonic()
        return picture_at(request, filling.folder, filling.files)

    async def document(_request: Request) -> Response:
        page = filled_page("filling.html", series=filling.folder.resolve().name, command=filling.command, aspect=aspect)
        return HTMLResponse(page, headers=HEADERS)

    async def state(request: Request) -> Response:
        try:
            made, failed = (max(int(request.query_params.get(name, "0")), 0) for name in ("made", "failed"))
        except ValueError:
            raise HTTPException(400) from None
        return JSONResponse(filling.state(made, failed), headers=HEADERS)

    async def picture(request: Request) -> Response:
        return FileResponse(file_of(request), headers=HEADERS)

    async def small(request: Request) -> Response:
        try:
            content = await asyncio.to_thread(small_picture, file_of(request), _WIDTH)
        except PictureError:
            raise HTTPException(404) from None
        filling.asked = time.monotonic()  # the page, which was waiting for this one, has yet to request the next
        kept = {**HEADERS, "Cache-Control": "private, max-age=3600"}
        return Response(content, media_type="image/webp", headers=kept)

    routes = [
        Route("/", document),
        Route("/state", state),
        Route("/pictures/{place:int}.png", picture),
        Route("/small/{place:int}.webp", small),
    ]
    return application_of(token, routes)
