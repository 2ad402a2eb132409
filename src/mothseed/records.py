"""Records as plain values and back: the one way in which JSON and rows are written and read.

Records are dataclasses; what their fields may hold follows from their types. They are read by msgspec, which checks every
value and says where one is wrong.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from json import dumps, loads  # by name: a sketch may replace anything in the module
from typing import Any, TypeVar

from mothseed.told import writable

Record = TypeVar("Record")

_READERS: dict[type, Callable[[Any], Any]] = {}
_WRITERS: dict[type, Callable[[Any], Any]] = {}


class RecordError(ValueError):
    """A value is invalid in a record; the message says where and why."""


def register(kind: type[Record], write: Callable[[Record], Any], read: Callable[[Any], Record]) -> None:
    """Register how a class that is not a dataclass is written and read."""
    _WRITERS[kind] = write
    _READERS[kind] = read


def as_plain_record(record: Any) -> Any:
    """A record, or the value of a field, as plain values for JSON."""
    if is_dataclass(record):
        return {field.name: as_plain_record(getattr(record, field.name)) for field in fields(record)}
    if isinstance(record, Mapping):
        return {as_plain_record(name): as_plain_record(value) for name, value in record.items()}
    for kind in type(record).__mro__:
        if kind in _WRITERS:
            return _WRITERS[kind](record)
    if isinstance(record, list | tuple):
        return (list if isinstance(record, list) else tuple)(map(as_plain_record, record))
    return record


def as_record(plain: Any, kind: type[Record]) -> Record:
    """A record from plain values, ignoring unknown names. Raises RecordError for a value of the wrong type."""
    # Imported only to read: writing a picture's history needs none of it.
    import msgspec

    try:
        return msgspec.convert(plain, kind, dec_hook=_read)
    except (msgspec.ValidationError, OverflowError, RecursionError, ValueError) as fault:
        raise RecordError(str(fault)) from None


def as_json(plain: Any, *, sorted_names: bool = False) -> str:
    """Plain values as one line of JSON."""
    return writable(dumps(plain, ensure_ascii=False, sort_keys=sorted_names))


def from_json(text: str | bytes) -> Any:
    """The plain values in a JSON text; raises RecordError for invalid JSON."""
    try:
        return loads(text)
    except (ValueError, RecursionError, TypeError) as fault:
        raise RecordError(f"it is not JSON: {fault}") from None


def _read(kind: type, value: Any) -> Any:
    return _READERS[kind](value)
