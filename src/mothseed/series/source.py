"""The sketch that a picture was made from, if it is still there."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from mothseed.files import file_hash
from mothseed.series.edition import Edition
from mothseed.series.layout import SOURCE_FOLDER


def copies_in_series(folder: Path, name: str, digest: str | None) -> Iterator[Path]:
    """The series' own copies of a source file that have that content hash."""
    for path in sorted((folder / SOURCE_FOLDER).rglob(name)):
        if file_hash(path) == digest:
            yield path.resolve()


def source_of(folder: Path, edition: Edition) -> Path | str:
    """The sketch that an edition was made from, in the series' own copy of its source, or why it is not there."""
    name = edition.sketch
    copy = next(copies_in_series(folder, name, edition.sources.get(name)), None)
    if copy is None:
        return f"{SOURCE_FOLDER}/ no longer has the {name} that made it"
    for other, digest in edition.sources.items():
        if file_hash(copy.parent / other) != digest:
            return f"{SOURCE_FOLDER}/ no longer has the {other} that made it"
    return copy


def sketch_of(picture: Path, name: str, digest: str) -> Path | None:
    """The file of a sketch, by its name and content hash: in the series of a picture, beside it, above it, or here.

    A picture tells only the name of a file and never a path, and a file that is not what it was is not taken.
    """
    name = Path(name).name
    yours = (folder / name for folder in (picture.resolve().parent, picture.resolve().parents[1], Path.cwd()))
    candidates = (*copies_in_series(picture.parent, name, digest), *(path for path in yours if file_hash(path) == digest))
    return next(iter(candidates), None)
