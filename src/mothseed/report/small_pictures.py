"""Small pictures of editions for a page: embedded in it, or in files beside it."""

from __future__ import annotations

import base64
from collections.abc import Callable, Iterable, Iterator
from functools import partial
from io import BytesIO
from pathlib import Path
from urllib.parse import quote

from mothseed.processors import on_all_processors
from mothseed.report.page import thumbnail
from mothseed.series import Edition

_QUALITY = 82


def small_picture(file: Path, width: int) -> bytes:
    """A picture at most that many pixels wide, as WebP; raises PictureError if it cannot be read."""
    image = thumbnail(file, (width, 4 * width))
    buffer = BytesIO()
    image.save(buffer, format="WEBP", quality=_QUALITY, method=4)
    return buffer.getvalue()


def small_name(edition: Edition, width: int) -> str:
    """The file name of the small picture of an edition, which changes when its pixels do."""
    return f"{Path(edition.file).stem}-{edition.pixel_hash[:12]}-{width}.webp"


def pictures_inside(folder: Path, editions: Iterable[Edition], width: int) -> Iterator[str]:
    """Data URLs of small pictures, for a page that needs no other files."""
    for content in on_all_processors(partial(_small, folder, width), editions):
        yield "data:image/webp;base64," + base64.b64encode(content).decode("ascii")


def pictures_beside(
    folder: Path,
    editions: Iterable[Edition],
    width: int,
    name: str,
    there: Callable[[str], bool],
    keep: Callable[[str, bytes], None],
) -> Iterator[str]:
    """Addresses of small pictures in a folder beside the page; those not yet `there` are made and passed to `keep` with their
    names.
    """

    def made(edition: Edition) -> tuple[str, bytes | None]:
        file = small_name(edition, width)
        return file, None if there(file) else _small(folder, width, edition)

    for file, content in on_all_processors(made, editions):
        if content is not None:
            keep(file, content)
        yield f"{quote(name)}/{quote(file)}"


def _small(folder: Path, width: int, edition: Edition) -> bytes:
    return small_picture(folder / edition.file, width)
