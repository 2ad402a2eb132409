"""Conditions on the columns of a table, written in SQL; SQLite evaluates them on a read-only copy in memory."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager
from itertools import chain
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
_PARAMETERS = 250
"""Values put into the table with one statement: with more, SQLite takes longer to prepare it."""
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
    falling = "".join(f"{quoted(name)} {'DESC' if falls else 'ASC'}, " for name, falls in order)
    with _table(columns) as connection:
        needed = _needed(columns, where, {name for name, _ in order})
        _fill(connection, [columns[place] for place in needed], [values[place] for place in needed])
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


def _fill(connection: sqlite3.Connection, columns: Sequence[str], values: Sequence[Sequence[Value]]) -> None:
    """Put rows into the table, many with each statement: a quarter of the time of one by one."""
    names, row = ", ".join(map(quoted, columns)), f"({', '.join('?' * len(columns))})"
    together = max(_PARAMETERS // len(columns), 1)
    for start in range(0, len(values[0]), together):
        some = list(zip(*(column[start : start + together] for column in values), strict=True))
        statement = f"INSERT INTO edition ({names}) VALUES {', '.join([row] * len(some))}"
        connection.execute(statement, list(chain.from_iterable(some)))


def _needed(columns: Sequence[str], where: str, sorted_by: Collection[str]) -> list[int]:
    """Indices of the columns that have to be filled: those to sort by, those whose words all occur in the condition, and
    the first if there are none, since a row cannot be empty.
    """
    words = {*_WORD.findall(where.casefold())}
    named = [
        place for place, name in enumerate(columns) if name in sorted_by or words.issuperset(_WORD.findall(name.casefold()))
    ]
    return named or [0]


def _limit(connection: sqlite3.Connection) -> list[bool]:
    """Limit the time a condition takes and the length of any text it builds. The list is no longer empty after Ctrl-C."""
    for limit in (sqlite3.SQLITE_LIMIT_LENGTH, sqlite3.SQLITE_LIMIT_SQL_LENGTH):
        connection.setlimit(limit, _LONGEST)
    end = monotonic() + _SECONDS
    stopped: list[bool] = []

    def is_over() -> bool:
        try:
            return monotonic() > end
        except KeyboardInterrupt:  # which SQLite would not tell from any other error in this function
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
    if missing:
        words = f"{_short(where)} asks for {missing[0]}, and there is no such column"
        known = f"columns are {', '.join(columns)}"
        return UnknownNameError(FIELD, words, name=missing[0], known=columns, hint=known)
    return FieldError(FIELD, f"{_short(where)} is not understood: {fault}", hint="write one such as \"status = 'done'\"")


def _short(where: str) -> str:
    """A condition, cut to fit a message."""
    words = " ".join(where.split())
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
        if strict_quotes is not None:  # from Python 3.12; before, a misspelt "name" is taken for a string
            getattr(connection, "setconfig")(strict_quotes, False)  # noqa: B009  # older type hints do not know it
        yield connection
    finally:
        connection.close()
