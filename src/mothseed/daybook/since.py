"""What changed between entries of a daybook."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from itertools import pairwise
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from mothseed.compare.in_words import NOT_COMPARED, shape_lines
from mothseed.compare.pair import Change, history_changes
from mothseed.compare.shapes import shape_changes
from mothseed.daybook.book import Daybook
from mothseed.daybook.edits import Edit, edits_between
from mothseed.daybook.entry import Entry
from mothseed.faults import FileError, MothSeedError
from mothseed.making import Made, make_again
from mothseed.sketch import load_sketch
from mothseed.told import told

_OUTCOME = "outcome "
"""Prefix of changes of outcomes."""


@dataclass(frozen=True, slots=True)
class Since:
    """An entry, and what changed since the one before."""

    entry: Entry
    before: Entry | None
    changes: tuple[Change, ...] = ()
    """changes of the recipe and of outcomes"""
    edits: tuple[Edit, ...] = ()
    shapes: tuple[str, ...] = ()
    """what happened to the shapes, in lines, if asked for"""

    @property
    def looks_the_same(self) -> bool:
        """Whether both look the same."""
        return self.before is not None and self.before.fingerprint == self.entry.fingerprint

    @property
    def words(self) -> list[str]:
        """What was done, in a few words each: settings first, then edits."""
        if self.before is None:
            return ["the first"]
        done = [_in_words(change) for change in self.changes if not change.name.startswith(_OUTCOME)]
        done += [edit.words for edit in self.edits]
        return [*done, "draws the same"] if self.looks_the_same else done

    @property
    def came(self) -> list[tuple[str, Any]]:
        """Outcomes that changed, by label."""
        changes = [change for change in self.changes if change.name.startswith(_OUTCOME)]
        return [(change.name.removeprefix(_OUTCOME), change.second) for change in changes]

    @property
    def became(self) -> str:
        """What happened to the shapes, without the lines behind it; the others are unchanged."""
        told = self.shapes if len(self.shapes) == 1 else self.shapes[1:]
        return ", ".join(words if words.startswith(NOT_COMPARED) else words.partition(":")[0] for words in told)


def _in_words(change: Change) -> str:
    kind, _, name = change.name.partition(" ")
    if kind == "stream":
        return f"{name} as it was" if change.second is None else f"{name} from seed {change.second}"
    return f"{name or kind} {told(change.first, 4) or 'none'} → {told(change.second, 4) or 'none'}"


def story(book: Daybook, entries: Iterable[Entry], before: Entry | None = None) -> Iterator[Since]:
    """Some entries in order, each with what changed since the one before, without running anything."""
    for first, second in pairwise([before, *entries]):
        assert second is not None
        yield Since(second, None) if first is None else since(book, first, second)


def since(book: Daybook, before: Entry, entry: Entry) -> Since:
    """What changed between two entries, without running anything."""
    contents = (partial(_content, book, before), partial(_content, book, entry))
    edits = edits_between(before.sources, entry.sources, contents)
    return Since(entry, before, tuple(history_changes(before, entry)), tuple(edits))


def changed_shapes(book: Daybook, before: Entry, entry: Entry) -> tuple[str, ...]:
    """What happened to the shapes between two entries, in lines; both are performed again from their sources."""
    if before.fingerprint == entry.fingerprint:
        return ("all shapes unchanged",)
    try:
        with made_again(book, before) as first, made_again(book, entry) as second:
            if first.drawing.unit == second.drawing.unit:
                return tuple(shape_lines(shape_changes(first.impression, second.impression)))
            return (f"{NOT_COMPARED}: their sheets are in unlike units",)
    except MothSeedError as fault:
        return (f"{NOT_COMPARED}: {fault.message}",)


@contextmanager
def made_again(book: Daybook, entry: Entry) -> Iterator[Made]:
    """An entry made once more, traced, from its sources as they were, which lie in a temporary folder meanwhile.

    Raises FileError where they are not all there, and where something else is drawn now; SketchError where it does not run.
    """
    with TemporaryDirectory(prefix="mothseed-daybook-") as folder:
        sketch = load_sketch(book.restore(entry, Path(folder).resolve(), entry.sources))
        made = make_again(sketch, entry, tracing=True)
        if made.history.fingerprint != entry.fingerprint:
            raise FileError(f"entry {entry.entry} no longer draws the same", hint="it depends on something outside its sources")
        yield made


def _content(book: Daybook, entry: Entry, name: str) -> bytes:
    try:
        return book.content(entry, name)
    except FileError as fault:
        raise LookupError(name) from fault
