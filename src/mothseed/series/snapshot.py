"""The series' own copy of the source, from which its editions are made."""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path

from mothseed.faults import FileError
from mothseed.files import content_hash, file_hash, flush, read_ordinary, write_bytes
from mothseed.layout import SOURCE_FOLDER
from mothseed.sketch import Sketch


@dataclass(frozen=True, slots=True)
class OwnCopy:
    """A copy of those files of a sketch's folder that are used, each copied when it is first needed."""

    original: Path
    copy: Path

    def place_of(self, path: Path) -> Path:
        """The file to read in place of a file of the sketch: its copy, or the file itself if it lies elsewhere or is gone."""
        if not path.is_relative_to(self.original) or ".." in path.parts or not path.is_file():
            return path
        inside = path.relative_to(self.original)
        if any((self.copy / place).is_symlink() for place in (inside, *inside.parents[:-1])):
            return path  # a link in a stranger's series could lead anywhere
        copy = self.copy / inside
        if not copy.is_file():
            try:
                content = read_ordinary(path)
            except OSError:
                return path
            # If two processes copy it at once, the later copy stays, for both.
            write_bytes(copy, content, through_links=False)
        return copy


def begin_copy(folder: Path, sketch: Sketch) -> OwnCopy:
    """Update the copy in a series folder before a run, which then reads from it. A file that has since vanished keeps its
    last copy.
    """
    known = [sketch.path, *sketch.module_files(), *sketch.pictures]
    root = _root(sketch.folder, known)
    place = folder.resolve() / SOURCE_FOLDER / sketch.folder.relative_to(root)
    _refuse_links(folder.resolve(), place)
    copies = [path for path in place.rglob("*") if path.is_file() or path.is_symlink()]
    used_before = [sketch.folder / copy.relative_to(place) for copy in copies]
    for file in sorted({*known, *used_before}):
        copy = folder.resolve() / SOURCE_FOLDER / file.relative_to(root)
        try:
            content = read_ordinary(file)
        except OSError:
            continue
        if copy.is_symlink() or file_hash(copy) != content_hash(content):
            _write(folder.resolve(), copy, content)
    return OwnCopy(sketch.folder, place)


def keep_sources(folder: Path, sketch_folder: Path, sources: Mapping[str, str]) -> list[str]:
    """Keep source files, named relative to the sketch's folder, in `source/` of a series folder, as they were when they were
    read.

    The copies have the same layout as the originals, so that the copied sketch finds its modules and pictures. Returns the
    names of files that cannot be kept because they have changed since.
    """
    files = {(sketch_folder / name).resolve(): name for name in sources}
    root = _root(sketch_folder, files)
    lost = []
    for file, name in sorted(files.items()):
        copy = folder / SOURCE_FOLDER / file.relative_to(root)
        if not copy.is_symlink() and file_hash(copy) == sources[name]:
            continue
        try:
            content = read_ordinary(file)
        except OSError:
            content = b""
        if content_hash(content) == sources[name]:
            _write(folder, copy, content)
        else:
            lost.append(name)
    return lost


def changed_since(sketch_folder: Path, sources: Mapping[str, str]) -> list[str]:
    """Names of source files that have changed since they were read."""
    return sorted(name for name, digest in sources.items() if file_hash(sketch_folder / name) != digest)


def _root(sketch_folder: Path, files: Iterable[Path]) -> Path:
    return Path(os.path.commonpath([sketch_folder, *(file.parent for file in files)]))


def _write(folder: Path, copy: Path, content: bytes) -> None:
    _refuse_links(folder, copy.parent)
    write_bytes(copy, content, through_links=False)
    flush([copy])


def _refuse_links(folder: Path, place: Path) -> None:
    """Refuse to write through a folder that is a link, which in a stranger's series could lead anywhere."""
    inside = place.relative_to(folder)
    for each in (inside, *inside.parents):
        if each != Path() and (folder / each).is_symlink():
            raise FileError(f"{folder / each} is a link, and a series is only written within its folder", hint="remove it")
