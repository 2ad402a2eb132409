"""The light table of a series, served to this machine: it opens at once, and marks go straight to the ledger."""

from __future__ import annotations

import asyncio
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path

from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, Response
from starlette.routing import Route

from mothseed.faults import MothSeedError, PictureError, UsageError
from mothseed.files import write_bytes
from mothseed.report.small_pictures import small_name, small_picture
from mothseed.series import Edition
from mothseed.series.ledger import Ledger
from mothseed.series.marking import Marked, marks_in
from mothseed.told import writable
from mothseed.watch.loopback import HEADERS, application_of, picture_at, posted

_MOST_POSTED = 4_000_000
"""Most bytes of marks in one request."""


def served_light_table(
    folder: Path, editions: Sequence[Edition], page: Callable[[Sequence[Edition]], str], small: Path, width: int, token: str
) -> Starlette:
    """The light table of editions of a series, as an ASGI application below a secret.

    `page` is the document of editions with their marks, with the pictures at `pictures/PLACE.png` and, of that
    width, at `small/PLACE.webp`; those are made when they are asked for, and kept in the folder `small`.
    """
    known = list(editions)
    files = [edition.file for edition in editions]
    places = {edition.key: place for place, edition in enumerate(known)}
    writing = asyncio.Lock()
    written = [page(known)]
    """the latest document, or None once marks have changed"""

    async def document(_request: Request) -> Response:
        async with writing:
            if not written:
                written.append(await asyncio.to_thread(page, known))
            return HTMLResponse(written[0], headers=HEADERS)

    async def picture(request: Request) -> Response:
        return FileResponse(picture_at(request, folder, files), headers=HEADERS)

    async def small_one(request: Request) -> Response:
        file = picture_at(request, folder, files)
        kept = small / small_name(known[request.path_params["place"]], width)
        if not kept.is_file():
            try:
                write_bytes(kept, await asyncio.to_thread(small_picture, file, width))
            except PictureError:
                raise HTTPException(404) from None
        return FileResponse(kept, headers=HEADERS)

    async def marks(request: Request) -> Response:
        async with writing:
            try:
                given = marks_in(await posted(request, _MOST_POSTED), folder)
                await asyncio.to_thread(partial(_mark, folder, given))
            except (MothSeedError, ValueError, OverflowError, RecursionError) as fault:
                return JSONResponse({"message": writable(str(fault))}, 400)
            written.clear()
            for each in given:
                place = places.get(each.key)
                if place is not None:
                    known[place] = replace(known[place], mark=each.mark, note=each.note)
        return Response(status_code=204)

    routes = [
        Route("/", document),
        Route("/pictures/{place:int}.png", picture),
        Route("/small/{place:int}.webp", small_one),
        Route("/marks", marks, methods=["POST"]),
    ]
    return application_of(token, routes)


def _mark(folder: Path, marks: Sequence[Marked]) -> None:
    """Set marks and notes of editions; raises UsageError if the series lacks one of them."""
    with Ledger.of(folder) as ledger:
        unknown = {each.key for each in marks} - {*ledger.keys()}
        if unknown:
            raise UsageError(f"{folder} has no edition {min(map(str, unknown))}", hint="reload the page")
        ledger.mark([(each.key, each.mark, each.note) for each in marks])
