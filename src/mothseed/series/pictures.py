"""Whether the pictures of a series are still the ones that were made."""

from __future__ import annotations

import os
import stat
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path

from mothseed.faults import PictureError
from mothseed.files import file_hash
from mothseed.formats.picture_reading import read_pixels
from mothseed.render import pixel_hash
from mothseed.series.edition import Edition


def stamped(folder: Path, edition: Edition) -> Edition:
    """An edition with the sizes and times of its files, which later show that they are unchanged without reading them."""
    stamp = None if edition.failed else _stamp(folder / edition.file)
    if stamp is None:
        return edition
    stamps = {name: its_own for name in edition.files if (its_own := _stamp(folder / name))}
    return replace(edition, file_size=stamp[0], file_time=stamp[1], stamps=stamps)


def is_as_stamped(folder: Path, edition: Edition) -> bool:
    """Whether the files of an edition have the sizes and times recorded for them."""
    forms = all(_stamp(folder / name) == edition.stamps.get(name, ()) for name in edition.files)
    return forms and _is_as_stamped(folder, edition)


def _is_as_stamped(folder: Path, edition: Edition) -> bool:
    return _stamp(folder / edition.file) == (edition.file_size, edition.file_time)


def _stamp(path: Path) -> tuple[int, int] | None:
    """Size and modification time of an ordinary file."""
    status = ordinary_status(path)
    return status and (status.st_size, status.st_mtime_ns)


def trouble(folder: Path, edition: Edition) -> str:
    """Why the picture of an edition is not the one that was made, in a few words; empty if it is. It is decoded only if the
    size or time of its file has changed.
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
    """Editions whose picture exists and can be read, and a line for each of the others on what is wrong. Failed editions have
    no picture and are in neither list. A file of unchanged size is taken to be whole.
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
    """Files that are not as recorded, from paths in a folder and the hashes they had: each "missing" or "altered".

    Files whose size and time match their stamp are not read. A link counts as missing, as it could lead to anything.
    """
    top = folder.resolve()
    for name, digest in files.items():
        path = folder / name
        if path.resolve() != top / name or ordinary_status(path) is None:
            yield name, "missing"
        elif _stamp(path) != (stamps or {}).get(name, ()) and file_hash(path) != digest:
            yield name, "altered"


def ordinary_status(path: Path) -> os.stat_result | None:
    """The status of an ordinary file; None for anything else, as a link in a stranger's series could lead anywhere."""
    try:
        status = path.lstat()
    except (OSError, ValueError):
        return None
    return status if stat.S_ISREG(status.st_mode) else None
