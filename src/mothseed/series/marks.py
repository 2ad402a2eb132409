"""Marks: what the artist thinks of editions, as a file that passes between the light table and the ledger."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mothseed.errors import MothSeedError, UsageError
from mothseed.series.job import Edition
from mothseed.sketch.seeds import Seed, check_variant, parse_seed

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
    def key(self) -> tuple[str, Seed]:
        """What tells the edition from the others of its series."""
        return self.variant, self.seed


def marks_of(editions: Iterable[Edition]) -> list[dict[str, Any]]:
    """The marks and notes of editions as a file has them."""
    return [
        {"seed": edition.seed, "variant": edition.variant, "mark": edition.mark, "note": edition.note}
        for edition in editions
        if edition.mark or edition.note
    ]


def read_marks(path: Path) -> list[Marked]:
    """The marks in a JSON file as docs/files.md describes it; raises UsageError with all that is wrong, each with its place."""
    try:
        found = json.loads(path.read_text(encoding="utf-8"))
    except OSError as fault:
        raise UsageError(f"{path} cannot be read: {fault.strerror}") from None
    except (ValueError, RecursionError) as fault:
        raise UsageError(f"{path} is not JSON: {fault}", hint="save it anew from the light table") from None
    entries = found.get("marks") if isinstance(found, dict) else None
    if not isinstance(entries, list):
        raise UsageError(f'{path} has no list of "marks"', hint="save it anew from the light table")
    marks: list[Marked] = []
    faults: list[str] = []
    for place, entry in enumerate(entries):
        try:
            marks.append(_marked(entry))
        except MothSeedError as fault:
            faults.append(f"marks[{place}]: {fault.message}")
    if faults:
        more = f"\n  ... and {len(faults) - _MOST_FAULTS} more" if len(faults) > _MOST_FAULTS else ""
        raise UsageError(f"{path}: " + "\n  ".join(faults[:_MOST_FAULTS]) + more, hint="nothing was changed")
    return marks


def _marked(entry: Any) -> Marked:
    if not isinstance(entry, dict):
        raise UsageError(f"expected an object, got {entry!r}")
    words = {name: entry.get(name, "") for name in ("variant", "mark", "note")}
    for name, value in words.items():
        if not isinstance(value, str):
            raise UsageError(f"{name}: expected a text, got {value!r}")
    seed = entry.get("seed")
    if isinstance(seed, bool) or not isinstance(seed, int | str):
        raise UsageError(f"seed: expected a whole number or a word, got {seed!r}")
    if words["mark"] not in (*MARKS, ""):
        raise UsageError(f"mark: expected {', '.join(MARKS)} or nothing, got {words['mark']!r}")
    variant = check_variant(words["variant"]) if words["variant"] else ""
    return Marked(parse_seed(str(seed)), variant, words["mark"], words["note"])
