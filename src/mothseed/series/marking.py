"""Marks: what the artist thinks of editions, in a file exchanged between light table and ledger."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mothseed.faults import FieldError, ManyFaultsError, MissingFileError, UsageError
from mothseed.files import read_ordinary
from mothseed.records import RecordError, from_json
from mothseed.series.edition import Edition, Key
from mothseed.sketch.seeds import Seed, check_variant, parse_seed
from mothseed.told import quoted

MARKS = ("keep", "drop", "maybe")
_MOST_FAULTS = 12


@dataclass(frozen=True, slots=True)
class Marked:
    """A mark and a note on one edition; either may be empty."""

    seed: Seed
    variant: str
    mark: str
    note: str

    @property
    def key(self) -> Key:
        """What tells the edition from the others of its series."""
        return self.variant, self.seed


def marks_of(editions: Iterable[Edition]) -> list[dict[str, Any]]:
    """The marks and notes of editions, for a file."""
    return [
        {"seed": edition.seed, "variant": edition.variant, "mark": edition.mark, "note": edition.note}
        for edition in editions
        if edition.mark or edition.note
    ]


def read_marks(path: Path) -> list[Marked]:
    """The marks in a JSON file, as described in docs/files.md; raises UsageError listing everything that is wrong, and
    where.
    """
    try:
        found = from_json(read_ordinary(path))
    except OSError as fault:
        raise MissingFileError(f"{path} cannot be read: {fault.strerror}") from None
    except RecordError as fault:
        raise UsageError(f"{path} cannot be read: {fault}", hint="save it again from the light table") from None
    return marks_in(found, path)


def marks_in(plain: object, source: Path) -> list[Marked]:
    """The same, from the plain values of such a file, which came from `source`."""
    entries = plain.get("marks") if isinstance(plain, dict) else None
    if not isinstance(entries, list):
        raise UsageError(f'{source} has no list of "marks"', hint="save it again from the light table")
    marks: list[Marked] = []
    faults: list[str] = []
    for place, entry in enumerate(entries):
        try:
            marks.append(_marked(entry))
        except FieldError as fault:
            faults.append(fault.told_as(f"marks[{place}].{fault.field}" if fault.field else f"marks[{place}]"))
    if faults:
        raise ManyFaultsError(source, faults, most=_MOST_FAULTS, hint="nothing was changed")
    return marks


def _marked(entry: Any) -> Marked:
    if not isinstance(entry, dict):
        raise FieldError("", f"expected an object, got {quoted(entry)}")
    words = {name: entry.get(name, "") for name in ("variant", "mark", "note")}
    for name, value in words.items():
        if not isinstance(value, str):
            raise FieldError(name, f"expected a text, got {quoted(value)}")
    seed = entry.get("seed")
    if isinstance(seed, bool) or not isinstance(seed, int | str):
        raise FieldError("seed", f"expected a whole number or a word, got {quoted(seed)}")
    if words["mark"] not in (*MARKS, ""):
        raise FieldError("mark", f"expected {', '.join(MARKS)} or nothing, got {quoted(words['mark'])}")
    variant = check_variant(words["variant"]) if words["variant"] else ""
    return Marked(parse_seed(str(seed)), variant, words["mark"], words["note"])
