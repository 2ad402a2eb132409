"""Whether the pictures of a series are those that were made."""

from __future__ import annotations

import os
import stat
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path

from mothseed.faults import PictureError
from mothseed.files import file_hash
from mothseed.formats.pillow import read_pixels
from mothseed.render import pixel_hash
from mothseed.series.edition import Edition


def stamped(folder: Path, edition: Edition) -> Edition:
    """An edition with the size and the time of its file, by which it is known again without a look into it."""
    status = None if edition.failed else ordinary_status(folder / edition.file)
    return replace(edition, file_size=status.st_size, file_time=status.st_mtime_ns) if status else edition


def is_as_stamped(folder: Path, edition: Edition) -> bool:
    """Whether the file of an edition has the size and the time that it had."""
    status = ordinary_status(folder / edition.file)
    return status is not None and (status.st_size, status.st_mtime_ns) == (edition.file_size, edition.file_time)


def trouble(folder: Path, edition: Edition) -> str:
    """Why the picture of an edition is not the one that was made, in a few words; empty where it is.

    It is decoded only where its file has another size or time than when it was made.
    """
    path = folder / edition.file
    if ordinary_status(path) is None:
        return "its picture is missing" if not os.path.lexists(path) else "its picture is a link or a folder"
    if is_as_stamped(folder, edition):
        return ""
    try:
        return "" if pixel_hash(read_pixels(path)) == edition.pixel_hash else "its picture was changed"
    except PictureError:
        return "its picture is damaged"


def readable(folder: Path, editions: Iterable[Edition]) -> tuple[list[Edition], list[str]]:
    """Those whose picture is there and can be read, and of the others, in a line each, what is wrong with it.

    Editions that failed have none, and are in neither. A file as large as it was is taken to be whole.
    """
    kept, told = [], []
    for edition in editions:
        if edition.failed:
            continue
        path = folder / edition.file
        status = ordinary_status(path)
        words = "" if status and status.st_size == edition.file_size else trouble(folder, edition)
        if words in ("", "its picture was changed"):
            kept.append(edition)
        else:
            told.append(f"{path}: {words}")
    return kept, told


def otherwise(folder: Path, files: Mapping[str, str]) -> Iterator[tuple[str, str]]:
    """Files, by their path in a folder and with the hash that they had, that are not so: each with "missing" or "altered".

    What a link leads to is missing: it could be anything.
    """
    top = folder.resolve()
    for name, digest in files.items():
        path = folder / name
        if path.resolve() != top / name or ordinary_status(path) is None:
            yield name, "missing"
        elif file_hash(path) != digest:
            yield name, "altered"


def ordinary_status(path: Path) -> os.stat_result | None:
    """The state of an ordinary file, None for anything else: a link in somebody's series could lead anywhere."""
    try:
        status = path.lstat()
    except (OSError, ValueError):
        return None
    return status if stat.S_ISREG(status.st_mode) else None
