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
    """An edition with the sizes and the times of its files, by which they are known again without a look into them."""
    stamp = None if edition.failed else _stamp(folder / edition.file)
    if stamp is None:
        return edition
    stamps = {name: its_own for name in edition.files if (its_own := _stamp(folder / name))}
    return replace(edition, file_size=stamp[0], file_time=stamp[1], stamps=stamps)


def is_as_stamped(folder: Path, edition: Edition) -> bool:
    """Whether the files of an edition have the sizes and the times that they had."""
    forms = all(_stamp(folder / name) == edition.stamps.get(name, ()) for name in edition.files)
    return forms and _is_as_stamped(folder, edition)


def _is_as_stamped(folder: Path, edition: Edition) -> bool:
    return _stamp(folder / edition.file) == (edition.file_size, edition.file_time)


def _stamp(path: Path) -> tuple[int, int] | None:
    """The size and the time of an ordinary file."""
    status = ordinary_status(path)
    return status and (status.st_size, status.st_mtime_ns)


def trouble(folder: Path, edition: Edition) -> str:
    """Why the picture of an edition is not the one that was made, in a few words; empty where it is.

    It is decoded only where its file has another size or time than when it was made.
    """
    path = folder / edition.file
    if ordinary_status(path) is None:
        return "its picture is missing" if not os.path.lexists(path) else "its picture is a link or a folder"
    if _is_as_stamped(folder, edition):
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


def otherwise(
    folder: Path, files: Mapping[str, str], stamps: Mapping[str, tuple[int, int]] | None = None
) -> Iterator[tuple[str, str]]:
    """Files, by their path in a folder and with the hash that they had, that are not so: each with "missing" or "altered".

    Those that have the size and the time of their stamp, where there is one, are not read. What a link leads to is missing: it
    could be anything.
    """
    top = folder.resolve()
    for name, digest in files.items():
        path = folder / name
        if path.resolve() != top / name or ordinary_status(path) is None:
            yield name, "missing"
        elif _stamp(path) != (stamps or {}).get(name, ()) and file_hash(path) != digest:
            yield name, "altered"


def ordinary_status(path: Path) -> os.stat_result | None:
    """The state of an ordinary file, None for anything else: a link in somebody's series could lead anywhere."""
    try:
        status = path.lstat()
    except (OSError, ValueError):
        return None
    return status if stat.S_ISREG(status.st_mode) else None
