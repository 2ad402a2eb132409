"""The folder of a daybook: its layout, adding entries, and dropping old ones.

```text
moth-daybook/
  README.txt       what this is
  entries.jsonl    a line for each picture that was drawn, the oldest first
  sources/         each source file as it was, once, named by its content hash
  pictures/        a small picture of each entry, named by its fingerprint
```
"""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mothseed.daybook.entry import Entry, entry_of, is_among
from mothseed.faults import FileError, SeriesError, UsageError
from mothseed.files import content_hash, flush, locked, read_ordinary, write_bytes
from mothseed.formats import Effort
from mothseed.formats.png_writing import encoded
from mothseed.layout import DAYBOOK_SUFFIX, LEDGER_NAME, SOURCE_FOLDER
from mothseed.making import Made
from mothseed.records import RecordError, as_json, from_json
from mothseed.sketch.history import source_hashes
from mothseed.told import listed

MOST = 300
"""Most entries of a daybook; the oldest are dropped."""
_PLAUSIBLE = 1_000_000
"""The number of an entry above which lines are read more closely: one that is none may have any."""
_SPARE = 10
"""A part of MOST, by which the file may grow before it is written anew."""
SIDE = 400
"""Longer side of its pictures in pixels."""
_LARGEST_SOURCE = 64 << 20
"""Largest file that is copied into it, in bytes."""
_MOST_OUTCOMES = 60
"""Most outcomes recorded for a picture, which may have thousands."""
_PATIENCE = 2.0
"""Seconds to wait for another program that writes to it."""
_PNG = b"\x89PNG\r\n\x1a\n"
_README = """\
This is the daybook of {sketch}: what was drawn of it while it was worked on.

  entries.jsonl   a line of JSON for each picture: number, time, seed, dials, outcomes, the content hash of each source
                  file, and the fingerprint of what was drawn
  sources/        each source file as it was, once, named by its content hash (BLAKE2b, 16 bytes)
  pictures/       a small picture of each, named by its fingerprint

mothseed daybook {sketch} shows it, compares two entries, and takes one back as a new file.
The newest {most} are kept. The whole folder may be deleted at any time; nothing else depends on it.
"""


@dataclass(frozen=True, slots=True)
class Daybook:
    """The daybook in a folder beside its sketch."""

    sketch: Path
    folder: Path

    @classmethod
    def of(cls, sketch: Path) -> Daybook | None:
        """The daybook of a sketch, existing or not; None for the copy of a sketch in a series, which nobody works on."""
        sketch = sketch.resolve()
        for folder in sketch.parents:
            if folder.name == SOURCE_FOLDER and (folder.parent / LEDGER_NAME).is_file():
                return None
        return cls(sketch, sketch.with_name(sketch.stem + DAYBOOK_SUFFIX))

    def entries(self, damaged: list[str] | None = None) -> list[Entry]:
        """All entries, oldest first; invalid lines are skipped and described in `damaged`. Raises FileError if the folder is
        not one to read a daybook from.
        """
        found: dict[int, Entry] = {}
        for number, line in self._numbered_lines():
            try:
                entry = entry_of(from_json(line))
            except RecordError as fault:
                if damaged is not None:
                    damaged.append(f"{self._lines.name}, line {number}: {fault}")
                continue
            found[entry.entry] = entry
        return [found[number] for number in sorted(found)][-MOST:]

    def _plain_entries(self) -> list[dict[str, Any]]:
        """The lines that are JSON objects, as plain values that nobody has checked: a twentieth of the time of reading them as
        entries.
        """
        plains = []
        for _, line in self._numbered_lines():
            with suppress(RecordError):
                plain = from_json(line)
                plains += [plain] * isinstance(plain, dict)
        return plains

    def _numbered_lines(self) -> list[tuple[int, bytes]]:
        """The lines of the file that are not empty, each with its number; raises FileError if it cannot be read."""
        self._refuse_links()
        try:
            content = read_ordinary(self._lines)
        except FileNotFoundError:
            return []
        except OSError as fault:
            raise FileError(f"{self._lines} cannot be read: {fault.strerror or fault}", hint="delete it") from fault
        return [(number, line) for number, line in enumerate(content.splitlines(), 1) if line.strip()]

    def entry(self, number: int) -> Entry:
        """One entry; raises SeriesError if there is none with that number."""
        entries = self.entries()
        for entry in entries:
            if entry.entry == number:
                return entry
        if not entries:
            raise SeriesError(f"{self.folder} has no entries", hint=f"mothseed watch {self.sketch.name} keeps what is drawn")
        has = f"it has {entries[0].entry} to {entries[-1].entry}"
        raise UsageError(f"the daybook has no entry {number}", hint=f"{has}; mothseed daybook {self.sketch.name} shows them")

    def picture(self, entry: Entry) -> Path:
        """The path of the small picture of an entry, which may be missing."""
        return self.folder / "pictures" / f"{entry.fingerprint}.png"

    def readable_picture(self, entry: Entry) -> Path | None:
        """The small picture of an entry, if there is one; a link does not count, as it could lead anywhere."""
        picture = self.picture(entry)
        if picture.is_symlink():
            return None
        try:
            with picture.open("rb") as file:
                return picture if file.read(len(_PNG)) == _PNG else None
        except OSError:
            return None

    def keep(self, made: Made) -> Entry | None:
        """Add what was made, unless it is there already: from the same sources, by the same recipe.

        Raises FileError where the folder cannot be written to, and where a source is not any more what it was when it was read.
        """
        history = made.history
        sources = source_hashes(made.sketch, made.impression.pictures)
        drawn = Entry.of(history, sources=sources, outcomes=history.outcomes[:_MOST_OUTCOMES], marks=len(made.drawing))
        self._begin()
        with locked(self.folder / ".lock", _PATIENCE):
            plains = self._plain_entries()
            if is_among(drawn, plains):
                return None
            files = self._keep_sources(made.sketch.folder, sources)
            picture = self.picture(drawn)
            if not picture.is_file() or picture.is_symlink():
                content = encoded(made.pixels(_width(made)), history.as_json(), effort=Effort.QUICK)
                write_bytes(picture, content, through_links=False)
                files.append(picture)
            flush(files)
            last = max((number for plain in plains if type(number := plain.get("entry")) is int), default=0)
            if last > _PLAUSIBLE:
                last = max((entry.entry for entry in self.entries()), default=0)
            entry = drawn.numbered(max(last, 0) + 1)
            self._append(entry)
            if len(plains) >= MOST + MOST // _SPARE:
                self._let_go(self.entries())
        return entry

    def content(self, entry: Entry, name: str) -> bytes:
        """A source of an entry as it was; raises FileError if neither the daybook nor the sketch still has it."""
        digest = entry.sources[name]
        for path in (self._source(name, digest), self.sketch.parent / name):
            with suppress(OSError):
                content = read_ordinary(path)
                if content_hash(content) == digest:
                    return content
        raise FileError(f"the daybook no longer has the {name} of entry {entry.entry}", hint="take another entry")

    def restore(self, entry: Entry, folder: Path, names: Iterable[str]) -> Path:
        """Write sources of an entry to a folder, laid out as they were; returns the path of its sketch there. Raises
        FileError like `content`, before anything is written.
        """
        above = max(Path(name).parts.count("..") for name in entry.sources)
        own = self.sketch.parent.parts[1:]
        if above > len(own):
            raise FileError(f"entry {entry.entry} has sources from folders that are not there", hint="take another entry")
        place = folder.joinpath(*own[len(own) - above :])
        contents = {Path(os.path.normpath(place / name)): self.content(entry, name) for name in names}
        for file, content in contents.items():
            write_bytes(file, content, through_links=False)
        return place / entry.sketch

    @property
    def _lines(self) -> Path:
        return self.folder / "entries.jsonl"

    def _source(self, name: str, digest: str) -> Path:
        return self.folder / "sources" / f"{digest}{Path(name).suffix}"

    def _begin(self) -> None:
        """Make the folder with its README."""
        self._refuse_links()
        readme = self.folder / "README.txt"
        try:
            for name in ("sources", "pictures"):
                (self.folder / name).mkdir(parents=True, exist_ok=True)
        except OSError as fault:
            raise FileError(f"{self.folder} could not be written: {fault.strerror or fault}") from fault
        if not readme.exists():
            words = _README.format(sketch=self.sketch.name, most=MOST)
            write_bytes(readme, words.encode("utf-8", "replace"), through_links=False)

    def _refuse_links(self) -> None:
        """Refuse links in the folder, which may come from a stranger."""
        for place in (self.folder, self.folder / "sources", self.folder / "pictures", self._lines):
            if place.is_symlink():
                raise FileError(f"{place} is a link, and a daybook lies in its own folder", hint="remove it")

    def _keep_sources(self, folder: Path, sources: Mapping[str, str]) -> list[Path]:
        """Copy the sources it lacks; returns the files written."""
        written, changed = [], []
        for name, digest in sources.items():
            copy = self._source(name, digest)
            if copy.is_file() and not copy.is_symlink():
                continue
            original = folder / name
            try:
                if original.stat().st_size > _LARGEST_SOURCE:
                    continue
                content = read_ordinary(original)
            except OSError:
                content = b""
            if content_hash(content) != digest:
                changed.append(name)
                continue
            write_bytes(copy, content, through_links=False)
            written.append(copy)
        if changed:
            raise FileError(f"{listed(changed, 3)} changed while it was drawn", hint="draw it again")
        return written

    def _append(self, entry: Entry) -> None:
        """Append a line, first ending one that was left half written."""
        flags = os.O_RDWR | os.O_CREAT | os.O_APPEND | getattr(os, "O_NOFOLLOW", 0)
        try:
            with os.fdopen(os.open(self._lines, flags, 0o666), "ab+") as file:
                size = file.seek(0, os.SEEK_END)
                file.seek(max(size - 1, 0))
                torn = file.read(1) not in (b"", b"\n")
                file.write(b"\n" * torn + _line(entry))
                file.flush()
                os.fsync(file.fileno())
        except OSError as fault:
            raise FileError(f"{self._lines} could not be written: {fault.strerror or fault}") from fault

    def _let_go(self, entries: list[Entry]) -> None:
        """Keep only these entries, and remove files that only others used."""
        write_bytes(self._lines, b"".join(map(_line, entries)), through_links=False)
        flush([self._lines])
        pictures = {self.picture(entry) for entry in entries}
        sources = {self._source(name, digest) for entry in entries for name, digest in entry.sources.items()}
        for folder, kept in (("pictures", pictures), ("sources", sources)):
            for file in (self.folder / folder).iterdir():
                if file not in kept:
                    with suppress(OSError):
                        file.unlink()


def _line(entry: Entry) -> bytes:
    return as_json(entry.as_plain()).encode() + b"\n"


def _width(made: Made) -> int:
    width, height = made.drawing.width, made.drawing.height
    return max(1, round(SIDE * min(1.0, width / height)))
