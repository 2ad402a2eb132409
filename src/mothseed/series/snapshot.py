"""The series' own copy of what its editions were made from."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

from mothseed.faults import FileError
from mothseed.files import flush, write_bytes
from mothseed.series.layout import SOURCE_FOLDER


def keep_sources(folder: Path, sketch_folder: Path, names: Iterable[str]) -> None:
    """Copy source files, named relative to the sketch's folder, into `source/` of a series folder.

    The copies lie to each other as the files do, so that the copied sketch finds its modules and pictures. Files that did
    not change are not written again; a file that has vanished since it was used keeps its last copy.
    """
    files = sorted({(sketch_folder / name).resolve() for name in names})
    root = Path(os.path.commonpath([sketch_folder, *(file.parent for file in files)]))
    for file in files:
        copy = folder / SOURCE_FOLDER / file.relative_to(root)
        try:
            content = file.read_bytes()
        except OSError:
            continue
        _refuse_link(folder, copy)
        if not copy.is_file() or copy.is_symlink() or copy.read_bytes() != content:
            write_bytes(copy, content, through_links=False)
            flush([copy])


def _refuse_link(folder: Path, copy: Path) -> None:
    """Refuse to write where a folder on the way is a link, which in somebody else's series could lead anywhere."""
    for place in copy.relative_to(folder).parents:
        if place != Path() and (folder / place).is_symlink():
            raise FileError(f"{folder / place} is a link, and a series is only written within its folder", hint="remove it")
