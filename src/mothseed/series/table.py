"""The editions of a series as rows and columns."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import chain
from pathlib import Path
from types import MappingProxyType
from typing import Any

from mothseed.chance import Outcome
from mothseed.chance.outcome import by_label
from mothseed.faults import UnknownNameError
from mothseed.records import as_json
from mothseed.series.condition import Row, Value, places_where, words_of
from mothseed.series.edition import Edition, Key
from mothseed.series.ledger import Ledger
from mothseed.series.rows import ALL_FIELDS, OUTCOMES

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
"""Those of OWN_COLUMNS that are unknown until there is a picture."""
USUAL_COLUMNS = ("seed", "variant", "number", "status", "mark")
"""Columns shown by default, together with dials and outcomes."""
_FIELD_OF = {"status": "error"}
"""The field from which a column is taken, if it has another name."""
_SHOWN_AS: dict[str, Callable[[Any], Value]] = {
    "status": lambda error: "failed" if error else "done",
    "palette": lambda palette: ", ".join(f"{css} {share:.0%}" for css, share in palette),
}
"""How to show a field that is not shown as it is."""
_ALL = tuple(dict.fromkeys([*(_FIELD_OF.get(name, name) for name in OWN_COLUMNS), "dials", OUTCOMES, "measures"]))
_FALLING = " desc"
_PLAIN = {type(None), str, int, float, bool}


@dataclass(frozen=True, slots=True)
class Table:
    """Named columns of equal length."""

    columns: tuple[str, ...]
    values: tuple[Sequence[Value], ...]
    """for each column, one value for each row"""
    measured: frozenset[str] = frozenset()
    """the columns that are measures of pictures"""

    @property
    def rows(self) -> list[Row]:
        """The same, row by row."""
        return list(zip(*self.values, strict=True))

    def __len__(self) -> int:
        """How many rows it has."""
        return len(self.values[0]) if self.values else 0

    def chosen(self, columns: Sequence[str]) -> Table:
        """The table with only these columns, in this order; raises UnknownNameError for one that does not exist."""
        for name in columns:
            if name not in self.columns:
                known = f"columns are {', '.join(self.columns)}"
                raise UnknownNameError("", f"there is no column {name}", name=name, known=self.columns, hint=known)
        return Table(tuple(columns), tuple(self.values[self.columns.index(name)] for name in columns), self.measured)

    def usual(self) -> Table:
        """The columns shown by default: those that identify the edition, dials and outcomes, except for columns that are
        empty throughout.
        """
        left_out = {*OWN_COLUMNS, *self.measured} - {*USUAL_COLUMNS}
        shown = [name for name in self.columns if name not in left_out]
        used = [name for name, values in zip(self.columns, self.values, strict=True) if not {*values} <= {None, ""}]
        return self.chosen([name for name in shown if name in used] or shown)

    def at(self, places: Sequence[int]) -> Table:
        """The rows with these indices, in this order."""
        return Table(self.columns, tuple([values[place] for place in places] for values in self.values), self.measured)

    def dicts(self) -> list[dict[str, Value]]:
        """Each row as values by name of column."""
        return [dict(zip(self.columns, row, strict=True)) for row in self.rows]


def table_of(editions: Sequence[Edition], fields: Sequence[str] = _ALL) -> Table:
    """Everything recorded about editions: their own columns, then dials, outcomes and measures by name; or only what follows
    from some fields.

    If two columns would have the same name, the later one is called dial.NAME, outcome.NAME or measure.NAME. An outcome that
    came up several times in a picture has all its values listed.
    """
    return _table({name: [getattr(edition, name) for edition in editions] for name in fields})


def series_table(folder: Path, asked: Collection[str] | None = None, damaged: list[str] | None = None) -> Table:
    """The table of a series, read from its ledger: all of it, or enough for the named columns, in upper or lower case.

    A few columns are read quickly, however many editions there are. Damage is described in `damaged` if it lies in what is
    read. Raises the same errors as `series_editions`.
    """
    with Ledger.reading(folder) as ledger:
        if asked is None:
            return _table(ledger.values(_ALL, damaged))
        names = {name.casefold() for name in asked}
        measures = frozenset(each.removeprefix("measure.") for each in names)
        own = [_FIELD_OF.get(name, name) for name in OWN_COLUMNS if name in names]
        others = names - {*OWN_COLUMNS}
        if not others:
            return _table(ledger.values(own, damaged))
        known = {"dial": ledger.names_of_dials(), "outcome": ledger.labels()}
        fields = own + _needed(known, others)
        return _table(ledger.values(fields, damaged, measures=measures), names, known)


def _needed(known: Mapping[str, Iterable[str]], asked: set[str]) -> list[str]:
    """The fields of editions that provide the named columns, where `known` has the names of dials and outcomes."""
    dials, labels = (_names(kind, names) for kind, names in known.items())
    both = OUTCOMES in asked
    measures = asked - dials - labels - {OUTCOMES}
    return [
        *["dials"] * bool(both or asked & dials),
        *[OUTCOMES] * bool(both or asked & labels),
        *["measures"] * bool(measures),
    ]


def _names(kind: str, names: Iterable[str]) -> set[str]:
    """Possible names of columns, in lower case."""
    return {each.casefold() for name in names for each in (name, f"{kind}.{name}")}


def selected(table: Table, where: str = "", sort: Sequence[str] = ()) -> Table:
    """The rows that meet a condition, sorted by the columns named in `sort`, each followed by " desc" to sort in descending
    order.

    `where` is an SQL expression on the columns: `spots > 2 and form = 'hawk'`; names that are not plain words go in double
    quotes. It cannot change anything. Raises UnknownNameError for a column that does not exist, FieldError for an invalid
    expression.
    """
    order = [(name.removesuffix(_FALLING), name.endswith(_FALLING)) for name in sort]
    table.chosen([name for name, _ in order])
    return table.at(places_where(table.columns, table.values, where, order))


def selected_of_series(
    folder: Path, where: str, sort: Sequence[str], columns: Sequence[str] | None, damaged: list[str] | None = None
) -> tuple[Table, int]:
    """The sorted rows of a series that meet a condition, and the number of all its rows.

    They have the named columns, the usual ones if none are named, or all for None. Raises the same errors as `selected` and
    `series_table`.
    """

    def found(asked: Collection[str] | None) -> tuple[Table, int]:
        whole = series_table(folder, asked, damaged)
        table = selected(whole, where, sort)
        return table if columns is None else table.chosen(columns) if columns else table.usual(), len(whole)

    named = {*words_of(where), *(name.removesuffix(_FALLING) for name in sort)}
    try:
        return found(None if columns is None else {*(columns or [*USUAL_COLUMNS, OUTCOMES]), *named})
    except UnknownNameError:
        # Which columns exist is known only once all have been read.
        if damaged is not None:
            damaged.clear()
        return found(None)


def series_editions(
    folder: Path,
    damaged: list[str] | None = None,
    keys: Sequence[Key] | None = None,
    names: Sequence[str] = ALL_FIELDS,
) -> list[Edition]:
    """All editions in the ledger of a folder, or those with some keys, in that order; raises SeriesError if there is no
    ledger. Only the named fields are read.

    Damaged rows are left out and described in `damaged`, or raised if it is not given.
    """
    with Ledger.reading(folder) as ledger:
        editions = ledger.editions(damaged, keys, names)
    if keys is None:
        return editions
    by_key = {edition.key: edition for edition in editions}
    return [by_key[key] for key in keys if key in by_key]


def count_made(folder: Path) -> int:
    """The number of editions of a series that did not fail; raises the same errors as `series_editions`."""
    with Ledger.reading(folder) as ledger:
        return ledger.count_made()


def series_keys(folder: Path, where: str = "", sort: Sequence[str] = (), damaged: list[str] | None = None) -> list[Key]:
    """Keys of the editions of a series that meet a condition, sorted; raises the same errors as `selected_of_series`."""
    found, _ = selected_of_series(folder, where, sort, ["variant", "seed"], damaged)
    return list(zip(*found.values, strict=True))


def _table(
    found: Mapping[str, Sequence[Any]],
    asked: Collection[str] | None = None,
    known: Mapping[str, Iterable[str]] = MappingProxyType({}),
) -> Table:
    """The table made of fields of editions; if columns are named, only those among dials, outcomes and measures, where
    OUTCOMES stands for all dials and outcomes. `known` has the names of dials and outcomes, also of those that are not among
    the fields, as later columns must not take their names.
    """
    columns: dict[str, Sequence[Value]] = {}
    for name in OWN_COLUMNS:
        field = _FIELD_OF.get(name, name)
        if field in found:
            shown = _SHOWN_AS.get(name)
            columns[name] = list(map(shown, found[field])) if shown else found[field]
    measured = []
    taken = {*OWN_COLUMNS}
    for kind, field in (("dial", "dials"), ("outcome", OUTCOMES), ("measure", "measures")):
        records = _by_label(found.get(field, ())) if field == OUTCOMES else found.get(field, ())
        own: dict[str, Sequence[Value]] = {}
        names = dict.fromkeys(chain.from_iterable({id(record): record for record in records}.values()))
        named = {name: f"{kind}.{name}" if name in taken else name for name in chain(names, known.get(kind, ()))}
        taken.update(named.values())
        for name in names:
            column = named[name]
            if asked is not None and column.casefold() not in asked and (kind == "measure" or OUTCOMES not in asked):
                continue
            values = [record.get(name) for record in records]
            own[column] = values if _PLAIN.issuperset(map(type, values)) else list(map(_plain, values))
            measured += [column] * (kind == "measure")
        columns |= own
    return Table(tuple(columns), tuple(columns.values()), frozenset(measured))


def _by_label(outcomes: Sequence[Sequence[Outcome]]) -> list[dict[str, Any]]:
    """For each edition its outcomes by label; editions that share one object of outcomes share the result."""
    known = {key: by_label(each) for key, each in {id(each): each for each in outcomes}.items()}
    return [known[id(each)] for each in outcomes]


def _plain(value: Any) -> Value:
    if isinstance(value, list | tuple):
        return ", ".join(str(item) for item in value)
    if value is None or isinstance(value, str | int | float):
        return value
    return as_json(value)
