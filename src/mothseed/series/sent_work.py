"""Work as it is sent to another machine: the source of the sketch goes out with it, and the pictures come back.

Workers need Moth Seed, but see none of this machine's files unless they share the folder of the series.
"""

from __future__ import annotations

import atexit
import ctypes
import os
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, replace
from functools import lru_cache
from hashlib import blake2b
from pathlib import Path
from secrets import token_hex

from mothseed.faults import UsageError
from mothseed.files import begin_folder, end_folder, write_bytes
from mothseed.series.edition import Edition
from mothseed.series.job import Job, make_edition
from mothseed.series.limits import Limits, limit_memory
from mothseed.sketch import Sketch, load_sketch

_SENT_SUFFIXES = {".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".gif", ".json", ".txt"}
"""Kinds of file beside the sketch that it may read while drawing, which cannot be known in advance."""
_MOST_SENT = 64_000_000
_SIGN_SUFFIX = ".here"
_MALLOC_OPTIONS = ((-3, 1 << 25), (-1, 1 << 26))
"""M_MMAP_THRESHOLD and M_TRIM_THRESHOLD: the most that the C library's own adjustment, which a nanny turns off, reaches."""


@dataclass(frozen=True, slots=True)
class Bundle:
    """The source of a sketch: the name of its file, and all its files by path relative to one folder."""

    sketch: str
    files: tuple[tuple[str, bytes], ...]

    @property
    def digest(self) -> str:
        """A hash of its contents."""
        digest = blake2b(self.sketch.encode(), digest_size=16)
        for name, content in self.files:
            digest.update(f"{len(name)} {name} {len(content)} ".encode() + content)
        return digest.hexdigest()


Made = tuple[Edition, dict[str, bytes]]
"""An edition, and the content of its files, by their path in the folder of the series."""


def bundled(sketch: Sketch) -> Bundle:
    """Everything a sketch is made of: its file, its modules, the pictures it has read, and those beside it.

    Raises UsageError if that is too much to send.
    """
    beside = [path for path in sorted(sketch.folder.iterdir()) if path.suffix.lower() in _SENT_SUFFIXES and path.is_file()]
    own = {sketch.path, *sketch.module_files(), *sketch.pictures}
    paths = sorted(own | set(beside))
    size = sum(path.stat().st_size for path in paths)
    if size > _MOST_SENT:
        # Files beside it may have nothing to do with it; those it has read do.
        paths = sorted(own)
        size = sum(path.stat().st_size for path in paths)
    if size > _MOST_SENT:
        raise UsageError(
            f"the sketch and its pictures have {size / 1e6:.0f} MB, too much to send to a cluster", hint="use smaller pictures"
        )
    root = Path(os.path.commonpath([path.parent for path in paths]))
    files = tuple((path.relative_to(root).as_posix(), path.read_bytes()) for path in paths)
    return Bundle(sketch.path.relative_to(root).as_posix(), files)


@dataclass(frozen=True, slots=True)
class Workplace:
    """Where work is done, and within which limits."""

    sign: Path
    """a file seen only by those who share the folder of the series"""
    limits: Limits

    @property
    def is_seen(self) -> bool:
        """Whether this process shares the folder, and may write into it."""
        try:
            return self.sign.read_text() == self.sign.name and os.access(self.sign.parent, os.W_OK)
        except OSError:
            return False


@contextmanager
def sign_in(folder: Path) -> Iterator[Path]:
    """A file with a unique name in a folder, which shows a worker whether it shares that folder."""
    for left in folder.glob(f".*{_SIGN_SUFFIX}"):  # left by a killed run
        left.unlink(missing_ok=True)
    sign = folder.absolute() / f".{token_hex(12)}{_SIGN_SUFFIX}"
    write_bytes(sign, sign.name.encode())
    try:
        yield sign
    finally:
        sign.unlink(missing_ok=True)


def make_chunk_anywhere(bundle: Bundle, place: Workplace, jobs: list[Job]) -> list[Made]:
    """Make editions from the source that came with the work."""
    sketch = _unpacked(bundle)
    _limit_memory_once(place.limits.memory)
    _keep_freed_memory()
    if place.is_seen:
        here = [replace(job, sketch=sketch.path, folder=place.sign.parent, copy=None) for job in jobs]
        return [(make_edition(sketch, job, place.limits), {}) for job in here]
    made: list[Made] = []
    for job in jobs:
        with tempfile.TemporaryDirectory() as folder:
            own = replace(job, sketch=sketch.path, folder=Path(folder), copy=None)
            edition = make_edition(sketch, own, place.limits)
            names = () if edition.failed else (edition.file, *edition.files)
            contents = {name: (Path(folder) / name).read_bytes() for name in names}
        made.append((edition, contents))
    return made


@lru_cache(maxsize=1)
def _limit_memory_once(memory: int | None) -> None:
    limit_memory(memory)


@lru_cache(maxsize=1)
def _keep_freed_memory() -> None:
    """Keep what one edition has freed for the next, up to 64 MB.

    A nanny of Dask has its worker return memory at once, and then the system clears and maps again each array that is larger
    than 128 KB: an edition takes half as long again.
    """
    if sys.platform == "linux" and "MALLOC_TRIM_THRESHOLD_" in os.environ:
        with suppress(AttributeError):  # only the GNU C library has it
            for option, size in _MALLOC_OPTIONS:
                ctypes.CDLL(None).mallopt(option, size)


@lru_cache(maxsize=4)
def _unpacked(bundle: Bundle) -> Sketch:
    """The sketch of a bundle, unpacked once into a folder of this process."""
    folder = begin_folder("mothseed-work-")
    atexit.register(end_folder, folder)
    for name, content in bundle.files:
        path = folder / name
        if not path.resolve().is_relative_to(folder.resolve()):
            raise UsageError(f"{name} leads out of the folder that the work is done in")
        write_bytes(path, content)
    return load_sketch(folder / bundle.sketch)
