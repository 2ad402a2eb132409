"""Editions as rows of the ledger, whose columns follow from the fields of the record."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import fields
from functools import lru_cache
from types import MappingProxyType
from typing import Any, TypedDict, get_type_hints

from mothseed.chance import Outcome, Promise
from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
from mothseed.series.edition import Edition
from mothseed.series.form import check_files
from mothseed.sketch.provenance import CHECKED, check_field
from mothseed.sketch.seeds import MOST_DIGITS, edition_file
from mothseed.told import quoted, writable

_FIELDS = {each.name: each for each in fields(Edition) if each.metadata.get("kept", True) and each.name != "outcomes"}
_STATUS = "status"
"""A column that follows from the others, for other tools that read the ledger."""
_AS_THEY_ARE: dict[Any, type] = {"str": str, "int": int, "float": float, "bytes": bytes}
"""Types that a column holds as they are, by name; all others are stored as JSON."""
_IS_JSON = {name for name, each in _FIELDS.items() if each.type not in _AS_THEY_ARE and name != "seed"}

KEY_COLUMNS = ("variant", "seed")
COLUMNS = tuple(_FIELDS)
OUTCOMES, DECISIONS = "outcomes", "decisions"
"""The field that has its own table, and the column with the numbers of its rows there."""
ALL_FIELDS = (*COLUMNS, OUTCOMES)
ARTISTS_COLUMNS = tuple(name for name, each in _FIELDS.items() if each.metadata.get("artists"))
MADE_COLUMNS = (*(name for name in COLUMNS if name not in ARTISTS_COLUMNS), _STATUS)
"""Columns filled when an edition is made; the others belong to the artist."""


def row_of(edition: Edition) -> dict[str, Any]:
    """The values of an edition by column."""
    plain = {name: getattr(edition, name) for name in COLUMNS}
    row = {name: as_json(as_plain_record(value)) if name in _IS_JSON else value for name, value in plain.items()}
    row |= {name: writable(value) for name, value in row.items() if isinstance(value, str)}
    return {**row, "seed": str(edition.seed), _STATUS: "failed" if edition.failed else "done"}


Decision = tuple[str, str, str]
"""An outcome as stored: its label, and its value and promise as JSON."""


def decisions_of(edition: Edition) -> list[Decision]:
    """The outcomes of an edition as they are stored, in order."""
    plain = [as_plain_record(outcome) for outcome in edition.outcomes]
    return [(writable(each["label"]), as_json(each["value"]), as_json(each["promised"])) for each in plain]


def values_of(
    names: Sequence[str],
    rows: Sequence[Sequence[Any]],
    decisions: Mapping[str, Decision] = MappingProxyType({}),
    measures: frozenset[str] | None = None,
) -> dict[str, list[Any]]:
    """The fields of editions, a list for each, from rows with the named columns; `decisions` holds outcomes by number.
    Measures may be limited to those named in `measures`; None means all.

    Equal values of many editions are one shared object, which must not be changed. Raises RecordError for an invalid value.
    """
    written = dict(zip(names, zip(*rows, strict=True), strict=True)) if rows else dict.fromkeys(names, ())
    decided = written.pop(DECISIONS, None)
    columns = {name: _read(name, values, measures) for name, values in written.items()}
    for name in CHECKED.keys() & columns.keys():
        for value in _unsure(columns[name]):
            check_field(name, value)
    if columns.keys() >= {"file", "number", *KEY_COLUMNS}:
        _check_files(columns)
    if decided is not None:
        known = {text: _outcomes(text, decisions) for text in {*decided}}
        columns[OUTCOMES] = [known[text] for text in decided]
    return columns


def _unsure(values: Iterable[Any]) -> Iterable[Any]:
    """The distinct values that need checking: whole numbers do not, as `_read` has checked them."""
    different = {id(value): value for value in values}.values() if isinstance(next(iter(values), None), dict) else {*values}
    return [value for value in different if type(value) is not int]


def _read(name: str, values: Sequence[Any], measures: frozenset[str] | None) -> list[Any]:
    """The values of a field from its column; `measures` as in `values_of`."""
    if name == "seed":
        return _seeds(values)
    if name not in _IS_JSON:
        whole = {*map(type, values)} <= {_AS_THEY_ARE[_FIELDS[name].type]}
        return list(values) if whole else [_as_field(name, value) for value in values]
    if name in _ALIKE:
        known = {text: _from_text(name, text) for text in {*values}}
        return [known[text] for text in values]
    if name == "measures" and measures is not None:
        return _few_measures(values, measures)
    read = _quick_reader(name)
    return [read(name, text) for text in values]


def _seeds(texts: Sequence[str]) -> list[Any]:
    """Seeds from a column of texts: whole numbers, and words."""
    together = "".join(texts)
    if together.isdecimal() and together.isascii() and 0 < min(map(len, texts)) <= max(map(len, texts)) <= MOST_DIGITS:
        return list(map(int, texts))
    return [int(text) if _is_whole(text) else text for text in texts]


def _is_whole(text: str) -> bool:
    return len(text) <= MOST_DIGITS and text.isdecimal() and text.isascii()


def _as_field(name: str, plain: Any) -> Any:
    """The value of a field from a plain one; raises RecordError, naming the field, if it is of another type."""
    return getattr(as_record({"seed": 0, name: plain}, Edition), name)


def _from_text(name: str, text: Any) -> Any:
    """The value of a field from JSON."""
    return _as_field(name, from_json(text))


_TOGETHER = 1000
"""Texts that are decoded in one go."""
_ALIKE = {"dials", "reseeds", "without", "sources"}
"""Fields in which many editions are alike."""


@lru_cache
def _quick_reader(name: str) -> Callable[[str, Any], Any]:
    """A fast reader for a column whose values all differ; what it refuses is read the slow way, which reports what is
    wrong.
    """
    import msgspec

    quickly = msgspec.json.Decoder(get_type_hints(Edition)[name]).decode

    def read(name: str, text: Any) -> Any:
        try:
            return quickly(text)
        except (msgspec.MsgspecError, TypeError, ValueError):
            return _from_text(name, text)

    return read


def _few_measures(texts: Sequence[Any], names: frozenset[str]) -> list[dict[str, float]]:
    """Some of the measures of editions, from a column of JSON; skipping the others takes a fraction of the time."""
    import msgspec

    if not all(map(str.isascii, names)):  # msgspec does not find such keys
        return [_from_text("measures", text) for text in texts]
    few = TypedDict("few", dict.fromkeys(names, float), total=False)  # type: ignore[misc]  # it is made here
    found: list[dict[str, float]] = []
    decode: Callable[[str], Any] = msgspec.json.Decoder(list[few]).decode
    for start in range(0, len(texts), _TOGETHER):
        some = texts[start : start + _TOGETHER]
        try:
            each = decode(f"[{','.join(some)}]")
        except (msgspec.MsgspecError, TypeError, ValueError):
            each = []
        # Damage is found and reported one by one.
        found += each if len(each) == len(some) else [_from_text("measures", text) for text in some]
    return found


def _check_files(columns: Mapping[str, Sequence[Any]]) -> None:
    """Raises RecordError for an edition whose files are not its own: they could be any file."""
    files = columns.get("files") or [{}] * len(columns["file"])
    each = zip(columns["file"], columns["seed"], columns["variant"], columns["number"], files, strict=True)
    for file, seed, variant, number, others in each:
        if file and file != edition_file(seed, variant, number):
            raise RecordError(f"file: {quoted(file)} is not the picture of that seed")
        if others:
            check_files(others, file)


def _outcomes(numbers: str, decisions: Mapping[str, Decision]) -> tuple[Outcome, ...]:
    """The outcomes of an edition in the order in which they were decided."""
    try:
        return tuple(_outcome(decisions[number]) for number in numbers.split())
    except KeyError as fault:
        raise RecordError(f"outcomes: there is no decision {fault.args[0]}") from None


@lru_cache(maxsize=1 << 16)
def _outcome(decision: Decision) -> Outcome:
    """An outcome from its stored form: one object, however often it came up."""
    label, value, promised = decision
    return Outcome(label, from_json(value), _promise(promised))


@lru_cache(maxsize=4096)
def _promise(promised: str) -> Promise:
    """The promise of an outcome: one object, however often it was made."""
    return as_record(from_json(promised), Promise)
