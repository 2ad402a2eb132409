"""One entry of a daybook: a picture, its recipe, its sources, and its time."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import PurePath
from typing import Any

from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
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
        return _moment(self.time)

    def numbered(self, entry: int) -> Entry:
        """The same as an entry with that number, drawn now."""
        return replace(self, entry=entry, time=datetime.now(UTC).isoformat(timespec="seconds"))

    def as_plain(self) -> dict[str, Any]:
        """The entry as plain values for JSON."""
        plain: dict[str, Any] = as_plain_record(self)
        return plain


def entry_of(plain: Any) -> Entry:
    """An entry from plain values; raises RecordError for an invalid one, which may come from anybody."""
    entry = as_record(plain, Entry)
    check_names(entry)
    _check_count(entry.entry, entry.time)
    for name, digest in [("fingerprint", entry.fingerprint), *entry.sources.items()]:
        if not _HASH.fullmatch(digest):
            raise RecordError(f"{name}: {quoted(digest)} is no hash")
    if entry.sketch not in entry.sources:
        raise RecordError("sources: the sketch is not among them")
    for name in entry.sources:
        _check_place(name)
    return entry


def _check_count(number: object, time: object) -> None:
    """Raises RecordError if the number of an entry, or its time, is none."""
    if type(number) is not int or number < 1:
        raise RecordError("entry: it counts from 1")
    try:
        _moment(time)  # type: ignore[arg-type]  # which raises TypeError
    except (TypeError, ValueError, OverflowError, OSError):
        raise RecordError(f"time: {quoted(time)} is none") from None


def _moment(time: str) -> datetime:
    return datetime.fromisoformat(time).astimezone()


def _check_place(name: str) -> None:
    """Raises RecordError for anything but a path of a file relative to a sketch's folder."""
    parts = PurePath(name).parts
    inside = [part for part in parts if part != ".."]
    above = len(parts) - len(inside)
    if "\0" in name or PurePath(name).is_absolute() or not inside or above > _DEEPEST or parts[:above] != ("..",) * above:
        raise RecordError(f"sources: {quoted(name)} is no file of a sketch")


def is_among(drawn: Entry, plains: Iterable[Mapping[str, Any]]) -> bool:
    """Whether one of some entries, as plain values that may come from anybody, is a valid one that was drawn from the same
    sources by the same recipe.
    """
    own = _as_read(drawn)
    decided = _decided(own)
    return any(_decided({**_UNSAID, **plain}) == decided and _is_valid(plain, own) for plain in plains)


def _as_read(entry: Entry) -> dict[str, Any]:
    """An entry as plain values as they are read from a line."""
    plain: dict[str, Any] = from_json(as_json(entry.as_plain()))
    return plain


_UNSAID = _as_read(Entry())
"""What a line means that leaves a field out."""


def _decided(plain: Mapping[str, Any]) -> list[Any]:
    return [plain[name] for name in ("sketch", "sources", "seed", "dials", "reseeds", "without")]


def _is_valid(plain: Mapping[str, Any], own: Mapping[str, Any]) -> bool:
    """Whether plain values are an entry; `own` is one that is valid except for its number and time."""
    try:
        if as_json({**plain, "entry": 0, "time": ""}, sorted_names=True) == as_json(own, sorted_names=True):
            # As it would be written today: what reads records need not be loaded to check the rest.
            _check_count(plain.get("entry"), plain.get("time"))
        else:
            entry_of(plain)
    except RecordError:
        return False
    return True
