"""The editions of a series as rows and columns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from mothseed.chance.outcome import by_label
from mothseed.faults import UnknownNameError
from mothseed.records import as_json
from mothseed.series.condition import Value, places_where
from mothseed.series.edition import Edition

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
OF_PICTURE = frozenset({"file", "milliseconds", "palette", "pixel_hash"})
"""Those of OWN_COLUMNS that nobody knows before there is a picture."""
_SHOWN = ("seed", "variant", "number", "status", "mark")
"""Columns that are shown unless others are asked for, with those of dials and outcomes."""
_WORKED_OUT = {"status", "palette"}
_FALLING = " desc"


@dataclass(frozen=True, slots=True)
class Table:
    """Rows of one length, with the names of their columns."""

    columns: tuple[str, ...]
    rows: tuple[tuple[Value, ...], ...]

    def chosen(self, columns: Sequence[str]) -> Table:
        """The table with these columns, in this order; raises UnknownNameError for one that it has not."""
        for name in columns:
            if name not in self.columns:
                known = f"columns are {', '.join(self.columns)}"
                raise UnknownNameError("", f"there is no column {name}", name=name, known=self.columns, hint=known)
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
    quotes. It can only read. Raises UnknownNameError for a column that is not there, FieldError for what is no expression.
    """
    return Table(table.columns, tuple(table.rows[place] for place in _places(table, where, sort)))


def selected_editions(editions: Sequence[Edition], where: str = "", sort: Sequence[str] = ()) -> list[Edition]:
    """The editions whose rows meet a condition, in order; raises `selected` does."""
    return [editions[place] for place in _places(table_of(editions), where, sort)]


def _places(table: Table, where: str, sort: Sequence[str]) -> list[int]:
    """Which rows `selected` gives."""
    order = [(name.removesuffix(_FALLING), name.endswith(_FALLING)) for name in sort]
    table.chosen([name for name, _ in order])
    return places_where(table.columns, table.rows, where, order)


def _record(edition: Edition) -> dict[str, Value]:
    own = {name: getattr(edition, name) for name in OWN_COLUMNS if name not in _WORKED_OUT}
    record: dict[str, Value] = {
        **own,
        "status": "failed" if edition.failed else "done",
        "palette": ", ".join(f"{css} {share:.0%}" for css, share in edition.palette),
    }
    record = {name: record[name] for name in OWN_COLUMNS}
    parts: list[tuple[str, dict[str, Any]]] = [
        ("dial", edition.dials),
        ("outcome", by_label(edition.outcomes)),
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
    return as_json(value)
