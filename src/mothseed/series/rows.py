"""Editions as rows of the ledger: the columns follow from the fields of the record."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from copy import copy
from dataclasses import fields
from functools import lru_cache
from typing import Any, get_type_hints

from mothseed.chance import Outcome, Promise
from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
from mothseed.series.edition import Edition
from mothseed.series.other_forms import check_files
from mothseed.sketch.history import CHECKED, check_field
from mothseed.sketch.seeds import edition_file
from mothseed.told import quoted, writable

_FIELDS = {each.name: each for each in fields(Edition) if each.metadata.get("kept", True) and each.name != "outcomes"}
_STATUS = "status"
"""A column that follows from the others, for who reads the ledger with other tools."""
_AS_THEY_ARE: dict[Any, type] = {"str": str, "int": int, "float": float, "bytes": bytes}
"""Types that a column holds, by their names; all others are JSON there."""
_IS_JSON = {name for name, each in _FIELDS.items() if each.type not in _AS_THEY_ARE and name != "seed"}

KEY_COLUMNS = ("variant", "seed")
COLUMNS = tuple(_FIELDS)
OUTCOMES = "outcomes"
"""The field that has a table of its own."""
ALL_FIELDS = (*COLUMNS, OUTCOMES)
ARTISTS_COLUMNS = tuple(name for name, each in _FIELDS.items() if each.metadata.get("artists"))
MADE_COLUMNS = (*(name for name in COLUMNS if name not in ARTISTS_COLUMNS), _STATUS)
"""What is known of an edition from its making; the rest is the artist's."""


def row_of(edition: Edition) -> dict[str, Any]:
    """The values of an edition by column."""
    plain = {name: getattr(edition, name) for name in COLUMNS}
    row = {name: as_json(as_plain_record(value)) if name in _IS_JSON else value for name, value in plain.items()}
    row |= {name: writable(value) for name, value in row.items() if isinstance(value, str)}
    return {**row, "seed": str(edition.seed), _STATUS: "failed" if edition.failed else "done"}


def outcome_rows(edition: Edition) -> Iterator[tuple[Any, ...]]:
    """A row for each outcome of an edition."""
    for position, outcome in enumerate(edition.outcomes):
        plain = as_plain_record(outcome)
        yield (
            str(edition.seed),
            edition.variant,
            position,
            writable(outcome.label),
            as_json(plain["value"]),
            as_json(plain["promised"]),
        )


Written = Mapping[tuple[str, str], Sequence[tuple[str, str, str]]]
"""The outcomes of editions, by their seeds and variants as they are written down: labels, values and promises."""


def values_of(names: Sequence[str], rows: Sequence[Sequence[Any]], outcomes: Written | None) -> dict[str, list[Any]]:
    """The fields of editions, a list for each, from rows of columns that have these names, and from outcomes where there are.

    Outcomes that many editions have alike are one object in them. Raises RecordError for what no edition has.
    """
    written = dict(zip(names, zip(*rows, strict=True), strict=True)) if rows else dict.fromkeys(names, ())
    columns = {name: _read(name, values) for name, values in written.items()}
    for name, values in columns.items():
        for value in {id(value): value for value in values}.values() if name in CHECKED else ():
            check_field(name, value)
    if columns.keys() >= {"file", "number", *KEY_COLUMNS}:
        _check_files(columns)
    if outcomes is not None:
        keys = zip(written["seed"], written["variant"], strict=True)
        columns[OUTCOMES] = [tuple(map(_outcome, outcomes.get(key, ()))) for key in keys]
    return columns


def _read(name: str, values: Sequence[Any]) -> list[Any]:
    """A column as the values of a field."""
    if name == "seed":
        return [int(text) if isinstance(text, str) and text.isdecimal() and text.isascii() else text for text in values]
    if name not in _IS_JSON:
        whole = {*map(type, values)} <= {_AS_THEY_ARE[_FIELDS[name].type]}
        return list(values) if whole else [_as_field(name, value) for value in values]
    if name in _ALIKE:
        return [copy(_read_once(name, text)) for text in values]
    read = _quick_reader(name)
    return [read(name, text) for text in values]


def _as_field(name: str, plain: Any) -> Any:
    """A plain value as that of a field; raises RecordError for one of another kind, with the name of the field."""
    return getattr(as_record({"seed": 0, name: plain}, Edition), name)


def _from_text(name: str, text: Any) -> Any:
    """The value of a field in a JSON text."""
    return _as_field(name, from_json(text))


@lru_cache(maxsize=4096)
def _read_once(name: str, text: Any) -> Any:
    return _from_text(name, text)


_ALIKE = {"dials", "reseeds", "without", "sources"}
"""Fields in which many editions have the same."""


@lru_cache
def _quick_reader(name: str) -> Callable[[str, Any], Any]:
    """A reader of a column in which each has its own; what is unusual in it is read the slow way, or is wrong and told."""
    import msgspec

    quickly = msgspec.json.Decoder(get_type_hints(Edition)[name]).decode

    def read(name: str, text: Any) -> Any:
        try:
            return quickly(text)
        except (msgspec.MsgspecError, TypeError, ValueError):
            return _from_text(name, text)

    return read


def _check_files(columns: Mapping[str, Sequence[Any]]) -> None:
    """Raises RecordError for an edition whose files are not its own: anything else could be any file."""
    files = columns.get("files") or [{}] * len(columns["file"])
    each = zip(columns["file"], columns["seed"], columns["variant"], columns["number"], files, strict=True)
    for file, seed, variant, number, others in each:
        if file and file != edition_file(seed, variant, number):
            raise RecordError(f"file: {quoted(file)} is not the picture of that seed")
        if others:
            check_files(others, file)


@lru_cache(maxsize=1 << 16)
def _outcome(written: tuple[str, str, str]) -> Outcome:
    """A decision, from what is written of it: one object, however often it came."""
    label, value, promised = written
    return Outcome(label, from_json(value), _promise(promised))


@lru_cache(maxsize=4096)
def _promise(promised: str) -> Promise:
    """The promise of a decision: one object, however often it was made."""
    return as_record(from_json(promised), Promise)
