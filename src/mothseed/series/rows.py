"""Editions as rows of the ledger: the columns follow from the fields of the record."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import fields, replace
from functools import lru_cache
from typing import Any

from mothseed.chance import Outcome, Promise
from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
from mothseed.series.edition import Edition
from mothseed.series.other_forms import check_files
from mothseed.sketch.history import check_names
from mothseed.sketch.seeds import edition_file
from mothseed.told import quoted, writable

_FIELDS = {each.name: each for each in fields(Edition) if each.metadata.get("kept", True) and each.name != "outcomes"}
_STATUS = "status"
"""A column that follows from the others, for who reads the ledger with other tools."""
_AS_THEY_ARE = {"str", "int", "float", "bytes"}
"""Types that a column holds; all others are JSON there."""
_IS_JSON = {name for name, each in _FIELDS.items() if each.type not in _AS_THEY_ARE and name != "seed"}

KEY_COLUMNS = ("variant", "seed")
COLUMNS = tuple(_FIELDS)
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


def edition_of(row: Mapping[str, Any], outcomes: Iterable[tuple[str, str, str]]) -> Edition:
    """The edition of a row and of its outcomes' labels, values and promises; raises RecordError for what no edition has."""
    plain = {name: from_json(value) if name in _IS_JSON else value for name, value in row.items()}
    seed = plain["seed"]
    plain["seed"] = int(seed) if isinstance(seed, str) and seed.isdecimal() and seed.isascii() else seed
    came = tuple(Outcome(label, from_json(value), _promise(promised)) for label, value, promised in outcomes)
    return _checked(replace(as_record(plain, Edition), outcomes=came))


def _checked(edition: Edition) -> Edition:
    """An edition whose seed, variant and number are such, and whose file is theirs: anything else could be any file."""
    check_names(edition)
    if edition.file and edition.file != edition_file(edition.seed, edition.variant, edition.number):
        raise RecordError(f"file: {quoted(edition.file)} is not the picture of that seed")
    check_files(edition.files, edition.file)
    return edition


@lru_cache(maxsize=4096)
def _promise(promised: str) -> Promise:
    """The promise of a decision: one object, however often it was made."""
    return as_record(from_json(promised), Promise)
