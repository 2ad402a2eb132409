"""Conditions on the columns of a table, written in SQL; SQLite evaluates them on a read-only copy in memory."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager, suppress
from time import monotonic

from mothseed.faults import FieldError, UnknownNameError
from mothseed.told import writable

FIELD = "where"
"""What faults call a condition."""
_READING = {sqlite3.SQLITE_SELECT, sqlite3.SQLITE_READ, sqlite3.SQLITE_FUNCTION}
_NAME = re.compile(r"\w+|\"[^\"]+\"")
_WORD = re.compile(r"\w+")
_TEXT = re.compile(r"'[^']*'|\b\d[\w.]*")
"""Texts and numbers, which contain no names."""
_SQL = {"and", "or", "not", "in", "like", "glob", "between", "is", "null", "case", "when", "then", "else", "end"}
"""Keywords of a condition, which name no column."""

_SECONDS = 10.0
_LONGEST = 4_000_000
"""Bytes in a text, and in whatever a condition builds from it."""
_LONGEST_SHOWN = 400
_ALIKE = 4
"""From so many rows for each distinct one, only the distinct ones are evaluated."""
_STEPS = 100_000
"""Instructions of SQLite's virtual machine between two looks at the clock: a few milliseconds."""

Value = str | int | float | bool | None
Row = tuple[Value, ...]


def places_where(
    columns: Sequence[str], values: Sequence[Sequence[Value]], where: str, order: Sequence[tuple[str, bool]]
) -> list[int]:
    """Indices of the rows that meet a condition, sorted by `order`: names of columns, each with whether it is descending.

    Raises UnknownNameError for a column that is not there, FieldError for what is no expression.
    """
    where = writable(where)
    alike = [] if order else _looked_at_alone(columns, values, where)
    if alike:
        each = list(zip(*(values[place] for place in alike), strict=True))
        different = list(dict.fromkeys(each))
        if _ALIKE * len(different) < len(each):
            named = [columns[place] for place in alike]
            with suppress(FieldError):  # which is told with all columns, below
                met = {different[place] for place in places_where(named, list(zip(*different, strict=True)), where, ())}
                return [place for place, row in enumerate(each) if row in met]
    falling = "".join(f"{quoted(name)} {'DESC' if falls else 'ASC'}, " for name, falls in order)
    with _table(columns) as connection:
        needed = _needed(columns, where, {name for name, _ in order})
        names = ", ".join(quoted(columns[place]) for place in needed)
        rows = zip(*(values[place] for place in needed), strict=True)
        connection.executemany(f"INSERT INTO edition ({names}) VALUES ({', '.join('?' * len(needed))})", rows)
        connection.set_authorizer(lambda action, *_: sqlite3.SQLITE_OK if action in _READING else sqlite3.SQLITE_DENY)
        stopped = _limit(connection)
        condition = f" WHERE ({where}\n)" if where.strip() else ""
        try:
            found = connection.execute(f"SELECT rowid FROM edition{condition} ORDER BY {falling}rowid")
            return [rowid - 1 for (rowid,) in found]
        except sqlite3.OperationalError as fault:
            if stopped:
                raise KeyboardInterrupt from None
            if fault.sqlite_errorname == "SQLITE_INTERRUPT":
                words = f"{_short(where)} takes longer than {_SECONDS:g} s to be looked at"
                raise FieldError(FIELD, words, hint="ask for less at once") from None
            raise _explained(columns, where, fault) from None
        except (sqlite3.Error, sqlite3.Warning) as fault:
            raise _explained(columns, where, fault) from None


def _looked_at_alone(columns: Sequence[str], values: Sequence[Sequence[Value]], where: str) -> list[int]:
    """Indices of the columns in a condition that gives equal rows equal answers: it contains nothing but names of columns,
    and each column has values of one type. Empty for any other condition.
    """
    named = {name.casefold(): place for place, name in enumerate(columns)}
    words = words_of(where)
    if not words or not words <= named.keys():
        return []
    places = sorted(named[word] for word in words)
    return places if all(len({*map(type, values[place])} - {type(None)}) <= 1 for place in places) else []


def _needed(columns: Sequence[str], where: str, sorted_by: Collection[str]) -> list[int]:
    """Indices of the columns that have to be filled: those to sort by, those whose words all occur in the condition, and
    always the first, since a row cannot be empty.
    """
    words = {*_WORD.findall(where.casefold())}
    return [
        place
        for place, name in enumerate(columns)
        if place == 0 or name in sorted_by or words.issuperset(_WORD.findall(name.casefold()))
    ]


def _limit(connection: sqlite3.Connection) -> list[bool]:
    """Limit the time a condition takes and the length of any text it builds. The list is no longer empty after Ctrl-C."""
    for limit in (sqlite3.SQLITE_LIMIT_LENGTH, sqlite3.SQLITE_LIMIT_SQL_LENGTH):
        connection.setlimit(limit, _LONGEST)
    end = monotonic() + _SECONDS
    stopped: list[bool] = []

    def is_over() -> bool:
        try:
            return monotonic() > end
        except KeyboardInterrupt:  # which SQLite would take for any other fault of this function
            stopped.append(True)
            return True

    connection.set_progress_handler(is_over, _STEPS)
    return stopped


def words_of(where: str) -> set[str]:
    """The words of a condition that may be names of columns, in lower case."""
    return {name.strip('"').casefold() for name in _NAME.findall(_TEXT.sub("", where))} - _SQL


def quoted(name: str) -> str:
    """A name, quoted for SQL; NUL, which SQL never accepts, becomes a space."""
    return '"' + name.replace('"', '""').replace("\0", " ") + '"'


def _explained(columns: Sequence[str], where: str, fault: Exception) -> FieldError:
    missing = _missing(columns, where)
    known = f"columns are {', '.join(columns)}"
    if missing:
        words = f"{_short(where)} asks for {missing[0]}, and there is no such column"
        return UnknownNameError(FIELD, words, name=missing[0], known=columns, hint=known)
    return FieldError(
        FIELD, f"{_short(where)} is not understood: {fault}", hint=f"write one such as \"status = 'done'\"; {known}"
    )


def _short(where: str) -> str:
    """A condition, cut to fit a message."""
    words = where.strip()
    return words if len(words) <= _LONGEST_SHOWN else words[:_LONGEST_SHOWN] + "..."


def _missing(columns: Sequence[str], where: str) -> list[str]:
    """Names in a condition that are missing as columns: it is valid with them and invalid without."""
    known = {name.casefold() for name in columns}
    names = dict.fromkeys(name.strip('"') for name in _NAME.findall(where))
    candidates = [name for name in names if name.casefold() not in known]
    if not _is_understood([*columns, *candidates], where):
        return []
    return [
        name for name in candidates if not _is_understood([*columns, *(each for each in candidates if each != name)], where)
    ]


def _is_understood(columns: Sequence[str], where: str) -> bool:
    try:
        with _table(list({name.casefold(): name for name in columns}.values())) as connection:
            connection.execute(f"EXPLAIN SELECT rowid FROM edition WHERE ({where}\n)")
    except (sqlite3.Error, sqlite3.Warning):
        return False
    return True


@contextmanager
def _table(columns: Sequence[str]) -> Iterator[sqlite3.Connection]:
    """An empty table in memory with these columns."""
    connection = sqlite3.connect(":memory:")
    try:
        connection.execute(f"CREATE TABLE edition ({', '.join(map(quoted, columns))})")
        strict_quotes = getattr(sqlite3, "SQLITE_DBCONFIG_DQS_DML", None)
        if strict_quotes is not None:  # from Python 3.12 on; before, a misspelt "name" is taken for a text
            getattr(connection, "setconfig")(strict_quotes, False)  # noqa: B009  # older type hints do not know it
        yield connection
    finally:
        connection.close()
