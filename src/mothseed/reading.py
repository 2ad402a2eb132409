"""What a sketch reads while its own code runs: from where, and with what content."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from pathlib import Path

from mothseed.files import content_hash, read_ordinary


class Reading:
    """How the files of a sketch are read: code, pictures and palettes. A series reads them from its own copy, so that all of
    it has the same source, whatever is saved meanwhile.
    """

    def __init__(self, place_of: Callable[[Path], Path] = lambda path: path) -> None:
        """`place_of` returns the path from which to read a file."""
        self.place_of = place_of
        self.hashes: dict[Path, str] = {}
        """content hash of each file when it was last read"""

    def content(self, path: Path) -> bytes:
        """The content of a file; raises OSError as `read_ordinary` does."""
        content = read_ordinary(self.place_of(path))
        self.hashes[path] = content_hash(content)
        return content


_Current = tuple[Reading, set[Path]]
_current: ContextVar[_Current | None] = ContextVar("current", default=None)


@contextmanager
def reading_by(reading: Reading) -> Iterator[set[Path]]:
    """A block in which files are read that way; yields the paths of all pictures and palettes asked for. It only listens: no
    drawing depends on it.
    """
    paths: set[Path] = set()
    token = _current.set((reading, paths))
    try:
        yield paths
    finally:
        _current.reset(token)


def asked_for(path: Path) -> Path:
    """Report that a file is used, whether read now or cached; returns the path to read."""
    current = _current.get()
    if current is None:
        return path
    reading, paths = current
    paths.add(path)
    return reading.place_of(path)


def was(path: Path, digest: str) -> None:
    """Report the hash of the content that was read."""
    current = _current.get()
    if current is not None:
        current[0].hashes[path] = digest
