"""The editions of a series as rows and columns."""

from __future__ import annotations

import json
import re
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from mothseed.chance.outcome import by_label
from mothseed.errors import UsageError, did_you_mean
from mothseed.series.job import Edition

OWN_COLUMNS = (
    "seed",
    "variant",
    "number",
    "status",
    "mark",
    "note",
    "file",
    "width",
    "milliseconds",
    "fingerprint",
    "pixel_hash",
    "palette",
    "error",
)
_SHOWN = ("seed", "variant", "number", "status", "mark")
"""Columns that are shown unless others are asked for, with those of dials and outcomes."""
_FALLING = " desc"
_READING = {sqlite3.SQLITE_SELECT, sqlite3.SQLITE_READ, sqlite3.SQLITE_FUNCTION}

Value = str | int | float | bool | None


@dataclass(frozen=True, slots=True)
class Table:
    """Rows of one length, with the names of their columns."""

    columns: tuple[str, ...]
    rows: tuple[tuple[Value, ...], ...]

    def chosen(self, columns: Sequence[str]) -> Table:
        """The table with these columns, in this order; raises UsageError for one that it has not."""
        for name in columns:
            if name not in self.columns:
                raise UsageError(f"there is no column {name}", hint=f"columns are {', '.join(self.columns)}")
        places = [self.columns.index(name) for name in columns]
        return Table(tuple(columns), tuple(tuple(row[place] for place in places) for row in self.rows))

    def without_empty(self) -> Table:
        """The table without those columns of which every row has nothing."""
        used = [name for place, name in enumerate(self.columns) if any(row[place] not in (None, "") for row in self.rows)]
        return self.chosen(used or self.columns)

    def dicts(self) -> list[dict[str, Value]]:
        """Each row by the names of its columns."""
        return [dict(zip(self.columns, row, strict=True)) for row in self.rows]


def table_of(editions: Sequence[Edition]) -> Table:
    """All that is known of editions: their own columns, then dials, outcomes and measures under their names.

    Where two would have the same name the later one is called dial.NAME, outcome.NAME or measure.NAME. Of an outcome that
    came several times in a picture all values are given.
    """
    records = [_record(edition) for edition in editions]
    columns = dict.fromkeys(OWN_COLUMNS)
    for record in records:
        columns.update(dict.fromkeys(record))
    return Table(tuple(columns), tuple(tuple(record.get(name) for name in columns) for record in records))


def usual_columns(table: Table, editions: Sequence[Edition]) -> list[str]:
    """The columns that are shown where nobody asked for others: dials and outcomes, with which edition it is."""
    measures = {name for edition in editions for name in edition.measures}
    left_out = {*OWN_COLUMNS, *measures, *(f"measure.{name}" for name in measures)} - set(_SHOWN)
    return [name for name in table.columns if name not in left_out]


def selected(table: Table, where: str = "", sort: Sequence[str] = ()) -> Table:
    """The rows that meet a condition, in order; `sort` has names of columns, each with " desc" behind it if it is to fall.

    `where` is an SQL expression on the columns: `spots > 2 and form = 'hawk'`; names that are no words stand in double
    quotes. It can only read. Raises UsageError for columns that are not there, and for what is no expression.
    """
    return Table(table.columns, tuple(table.rows[place] for place in _places(table, where, sort)))


def selected_editions(editions: Sequence[Edition], where: str = "", sort: Sequence[str] = ()) -> list[Edition]:
    """The editions whose rows meet a condition, in order; raises UsageError as `selected` does."""
    return [editions[place] for place in _places(table_of(editions), where, sort)]


def _places(table: Table, where: str, sort: Sequence[str]) -> list[int]:
    """Which rows `selected` gives."""
    columns = [(name.removesuffix(_FALLING), name.endswith(_FALLING)) for name in sort]
    table.chosen([name for name, _ in columns])
    order = "".join(f"{_quoted(name)} {'DESC' if falls else 'ASC'}, " for name, falls in columns)
    connection = sqlite3.connect(":memory:")
    try:
        names = ", ".join(map(_quoted, table.columns))
        connection.execute(f"CREATE TABLE edition ({names})")
        marks = ", ".join("?" * len(table.columns))
        connection.executemany(f"INSERT INTO edition VALUES ({marks})", table.rows)
        strict_quotes = getattr(sqlite3, "SQLITE_DBCONFIG_DQS_DML", None)
        if strict_quotes is not None:  # from Python 3.12 on; before, a misspelt "name" is taken for a text
            getattr(connection, "setconfig")(strict_quotes, False)  # noqa: B009  # older type hints do not know it
        connection.set_authorizer(lambda action, *_: sqlite3.SQLITE_OK if action in _READING else sqlite3.SQLITE_DENY)
        condition = f" WHERE ({where}\n)" if where.strip() else ""
        found = connection.execute(f"SELECT rowid FROM edition{condition} ORDER BY {order}rowid")
        return [rowid - 1 for (rowid,) in found]
    except (sqlite3.Error, sqlite3.Warning) as fault:
        unknown = re.search(r"no such column: (\S+)", str(fault))
        near = did_you_mean(unknown[1], table.columns) if unknown else ""
        known = f"write --where \"status = 'done'\"; columns are {', '.join(table.columns)}"
        raise UsageError(f"--where: {where.strip()} is not understood: {fault}", hint=near or known) from None
    finally:
        connection.close()


def _record(edition: Edition) -> dict[str, Value]:
    record: dict[str, Value] = {
        "seed": edition.seed,
        "variant": edition.variant,
        "number": edition.number,
        "status": "failed" if edition.failed else "done",
        "mark": edition.mark,
        "note": edition.note,
        "file": edition.file,
        "width": edition.width,
        "milliseconds": edition.milliseconds,
        "fingerprint": edition.fingerprint,
        "pixel_hash": edition.pixel_hash,
        "palette": ", ".join(f"{css} {share:.0%}" for css, share in edition.palette),
        "error": edition.error,
    }
    parts: list[tuple[str, dict[str, Any]]] = [
        ("dial", edition.dials),
        ("outcome", by_label((outcome.label, outcome.value) for outcome in edition.outcomes)),
        ("measure", dict(edition.measures)),
    ]
    for kind, values in parts:
        for name, value in values.items():
            record[f"{kind}.{name}" if name in record else name] = _plain(value)
    return record


def _plain(value: Any) -> Value:
    if isinstance(value, list | tuple):
        return ", ".join(str(item) for item in value)
    if value is None or isinstance(value, str | int | float):
        return value
    return json.dumps(value, ensure_ascii=False)


def _quoted(name: str) -> str:
    """A name as SQL takes any: NUL, which it takes nowhere, becomes a space."""
    return '"' + name.replace('"', '""').replace("\0", " ") + '"'
