"""Taking back an entry of a daybook as a file that draws it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from mothseed.daybook.book import Daybook
from mothseed.daybook.entry import Entry
from mothseed.faults import UsageError
from mothseed.files import file_hash, write_bytes
from mothseed.series.snapshot import changed_since


@dataclass(frozen=True, slots=True)
class TakenBack:
    """What was written."""

    sketch: Path
    """draws the entry by its recipe"""
    changed: tuple[str, ...]
    """sources besides the sketch that are others now, for which it lies in a folder of its own with all that it takes"""


def still_drawn(book: Daybook, entries: Iterable[Entry]) -> frozenset[int]:
    """Numbers of the entries that the sketch still draws, as none of their sources has changed. Each source is read once."""
    own = [entry for entry in entries if entry.sketch == book.sketch.name]
    now = {name: file_hash(book.sketch.parent / name) for name in {name for entry in own for name in entry.sources}}
    return frozenset(entry.entry for entry in own if entry.sources.items() <= now.items())


def take_back(book: Daybook, entry: Entry, output: Path | None = None) -> TakenBack:
    """Write the sketch of an entry as a new file, beside the sketch or as `output`; nothing that is there is written over.

    Where its modules or pictures are others now, or it is to lie elsewhere, it is written to a folder of that name with all of
    its sources. Raises UsageError where something of that name is there, FileError where a source is gone.
    """
    file = (output or book.sketch.with_name(f"{book.sketch.stem}-{entry.entry}.py")).resolve()
    if file.suffix != ".py":
        raise UsageError(f"{file} is not a .py file", hint=f"a sketch is a .py file: {file.with_suffix('.py').name}")
    others = {name: digest for name, digest in entry.sources.items() if name != entry.sketch}
    changed = tuple(changed_since(book.sketch.parent, others))
    alone = not changed and (not others or file.parent == book.sketch.parent)
    place = file if alone else file.with_suffix("")
    if place.exists() or place.is_symlink():
        raise UsageError(f"{place} already exists, and nothing is overwritten", hint="rename it, or write to another file")
    if alone:
        write_bytes(file, book.content(entry, entry.sketch), through_links=False)
        return TakenBack(file, ())
    return TakenBack(book.restore(entry, place, entry.sources), changed)
