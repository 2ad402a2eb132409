"""One entry of a daybook: a picture, its recipe, its sources, and its time."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import PurePath
from typing import Any

from mothseed.records import RecordError, as_plain_record, as_record
from mothseed.sketch.provenance import Provenance, check_names
from mothseed.told import quoted

_HASH = re.compile("[0-9a-f]{32}")
_DEEPEST = 8
"""How many folders above the sketch's own a source may come from."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry(Provenance):
    """A picture that was drawn; its sources are those of an edition."""

    entry: int = 0
    """counts from 1, and stays the same when older entries are dropped"""
    time: str = ""
    """when it was drawn, in ISO 8601 with time zone"""
    marks: int = 0

    @property
    def moment(self) -> datetime:
        """When it was drawn, in local time."""
        return datetime.fromisoformat(self.time).astimezone()

    def numbered(self, entry: int) -> Entry:
        """The same as an entry with that number, drawn now."""
        return replace(self, entry=entry, time=datetime.now(UTC).isoformat(timespec="seconds"))

    def is_of(self, other: Entry) -> bool:
        """Whether both were drawn from the same sources by the same recipe."""
        return _decided(self) == _decided(other)

    def as_plain(self) -> dict[str, Any]:
        """The entry as plain values for JSON."""
        plain: dict[str, Any] = as_plain_record(self)
        return plain


def entry_of(plain: Any) -> Entry:
    """An entry from plain values; raises RecordError for an invalid one, which may come from anybody."""
    entry = as_record(plain, Entry)
    check_names(entry)
    if entry.entry < 1:
        raise RecordError("entry: it counts from 1")
    try:
        _ = entry.moment
    except (ValueError, OverflowError, OSError):
        raise RecordError(f"time: {quoted(entry.time)} is none") from None
    for name, digest in [("fingerprint", entry.fingerprint), *entry.sources.items()]:
        if not _HASH.fullmatch(digest):
            raise RecordError(f"{name}: {quoted(digest)} is no hash")
    if entry.sketch not in entry.sources:
        raise RecordError("sources: the sketch is not among them")
    for name in entry.sources:
        _check_place(name)
    return entry


def _check_place(name: str) -> None:
    """Raises RecordError for anything but a path of a file relative to a sketch's folder."""
    parts = PurePath(name).parts
    inside = [part for part in parts if part != ".."]
    above = len(parts) - len(inside)
    if "\0" in name or PurePath(name).is_absolute() or not inside or above > _DEEPEST or parts[:above] != ("..",) * above:
        raise RecordError(f"sources: {quoted(name)} is no file of a sketch")


def _decided(entry: Entry) -> tuple[Any, ...]:
    plain = entry.as_plain()
    return tuple(plain[name] for name in ("sketch", "sources", "seed", "dials", "reseeds", "without"))
