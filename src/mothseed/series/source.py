"""The sketch from which a picture was made, if it still exists."""

from __future__ import annotations

import glob
from collections.abc import Iterable, Iterator
from pathlib import Path

from mothseed.files import file_hash
from mothseed.layout import SOURCE_FOLDER
from mothseed.series.edition import Edition


def copies_in_series(folder: Path, name: str, digest: str | None) -> Iterator[Path]:
    """The series' own copies of a source file with that content hash; links that lead elsewhere do not count."""
    place = folder / SOURCE_FOLDER
    if place.is_symlink() or Path(name).name != name:
        return
    for path in sorted(place.rglob(glob.escape(name))):
        if path.resolve().is_relative_to(place.resolve()) and file_hash(path) == digest:
            yield path.resolve()


def source_of(folder: Path, edition: Edition) -> Path | str:
    """The sketch from which an edition was made, in the series' own copy of its source, or why it is missing."""
    name = edition.sketch
    copy = next(copies_in_series(folder, name, edition.sources.get(name)), None)
    if copy is None:
        return f"{SOURCE_FOLDER}/ no longer has the {name} that made it"
    for other, digest in edition.sources.items():
        place = (copy.parent / other).resolve()
        inside = place.is_relative_to((folder / SOURCE_FOLDER).resolve())
        if not inside or file_hash(place) != digest:
            return f"{SOURCE_FOLDER}/ no longer has the {other} that made it"
    return copy


def named_sketch(name: str, digest: str, sketches: Iterable[Path], series: Path | None) -> Path | None:
    """The file of a sketch with that name and content hash, among the files and series that the user named.

    A picture may come from anybody: nothing is run just because the picture names it, and a file that has changed is not
    used.
    """
    for path in sketches:
        if path.name == name and file_hash(path) == digest:
            return path
    return next(copies_in_series(series, name, digest), None) if series else None
