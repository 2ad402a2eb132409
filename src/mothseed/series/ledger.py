"""The ledger: the SQLite file in a series folder that records every edition."""

from __future__ import annotations

import gc
import sqlite3
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Any, Self

from mothseed.faults import (
    ClosedFolderError,
    DamagedLedgerError,
    FullDiskError,
    MothSeedError,
    NewerLedgerError,
    NoSeriesError,
    SeriesInUseError,
    did_you_mean,
)
from mothseed.layout import LEDGER_NAME
from mothseed.records import RecordError, as_json
from mothseed.series.edition import Edition, Key
from mothseed.series.rows import (
    ALL_FIELDS,
    ARTISTS_COLUMNS,
    DECISIONS,
    KEY_COLUMNS,
    MADE_COLUMNS,
    OUTCOMES,
    Decision,
    decisions_of,
    row_of,
    values_of,
)
from mothseed.series.schema import MIGRATIONS, NAMES, SCHEMA_OF, SINCE_DECISIONS, squeezed
from mothseed.sketch.seeds import Seed
from mothseed.told import quoted, writable

if TYPE_CHECKING:
    from filelock import FileLock


def _refuse_link(path: Path) -> None:
    """A link in a stranger's series could lead to any database of the user."""
    if path.is_symlink():
        raise DamagedLedgerError(f"{path} is a link, and a ledger lies in its series' folder", hint="put the file itself there")


def _text(raw: bytes) -> str:
    """A text from a ledger; invalid UTF-8 is replaced rather than refused."""
    return raw.decode("utf-8", "replace")


_LOCK_NAME = ".ledger.lock"
"""A lock file beside the ledger, held by whoever writes to the series. The ledger itself is locked only during a write."""
_WAIT, _READERS_TAKE = 0.2, 5.0
"""Seconds to wait for another run, and for a short read or write."""
_TOGETHER = 2000
"""Editions held in memory at once when all are examined and little of each is kept."""
_BUSY = {"SQLITE_BUSY", "SQLITE_LOCKED"}
_CLOSED = {"SQLITE_READONLY", "SQLITE_CANTOPEN", "SQLITE_PERM", "SQLITE_IOERR"}


class Ledger:
    """The record of a series; open it with `with`. While it is open for writing, no other process can write to the series,
    but any can read.
    """

    _lock: FileLock | None

    def __init__(self, folder: Path) -> None:
        """Open the ledger of a folder, or start one.

        Raises SeriesInUseError if another run is writing to it, DamagedLedgerError, NewerLedgerError if it is of a later
        version, ClosedFolderError if the folder is not writable.
        """
        from filelock import FileLock, Timeout  # imported only for writing

        self.path = folder / LEDGER_NAME
        _refuse_link(self.path)
        lock = folder / _LOCK_NAME
        _refuse_link(lock)
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._lock = FileLock(lock, timeout=_WAIT)
            self._lock.acquire()
        except Timeout:
            raise self._in_use() from None
        except OSError as fault:
            raise ClosedFolderError(f"{folder} cannot be made a series folder: {fault.strerror or fault}") from None
        try:
            self._connection = sqlite3.connect(self.path, timeout=_READERS_TAKE, isolation_level=None)
            self._connection.execute("PRAGMA foreign_keys = ON")
            self._connection.execute("PRAGMA trusted_schema = OFF")
            self._check_tables()
            self._migrate()
        except BaseException as fault:
            self._lock.release()
            if isinstance(fault, sqlite3.Error):
                raise self._explained(fault) from None
            raise

    @classmethod
    def of(cls, folder: Path) -> Ledger:
        """The existing ledger of a folder; raises NoSeriesError if there is none, and what opening raises."""
        if not folder.is_dir():
            known = [each.parent.name for each in folder.absolute().parent.glob(f"*/{LEDGER_NAME}")]
            what = f"{folder} is a file, not the folder of a series" if folder.exists() else f"there is no series {folder}"
            raise NoSeriesError(what, hint=did_you_mean(folder.name, known))
        if not (folder / LEDGER_NAME).is_file():
            raise NoSeriesError(
                f"{folder} is not a series: it has no {LEDGER_NAME}",
                hint=f"make one with mothseed edition, or build it from its pictures: mothseed recover {folder}",
            )
        return cls(folder)

    @classmethod
    def reading(cls, folder: Path) -> Ledger:
        """The same, for reading only: others may read and write meanwhile, and the folder need not be writable. A ledger of
        an earlier version is read as it is.
        """
        path = folder / LEDGER_NAME
        if not path.is_file():
            return cls.of(folder)
        if path.with_name(f"{LEDGER_NAME}-journal").exists():
            # What a killed run left is rolled back by whoever may write; a run in progress is only waited for.
            with suppress(SeriesInUseError):
                return cls.of(folder)
        _refuse_link(path)
        ledger = cls.__new__(cls)
        ledger.path = path
        ledger._lock = None
        try:
            address = f"{path.resolve().as_uri()}?mode=ro"
            ledger._connection = sqlite3.connect(address, uri=True, timeout=_READERS_TAKE, isolation_level=None)
            ledger._connection.execute("PRAGMA trusted_schema = OFF")
            ledger._check_tables()
        except sqlite3.Error as fault:
            raise ledger._explained(fault, "read") from None
        return ledger

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, fault: BaseException | None, trace: TracebackType | None) -> None:
        self._connection.close()
        if self._lock is not None:
            self._lock.release()

    def _in_use(self) -> SeriesInUseError:
        return SeriesInUseError(f"another run is making {self.path.parent}")

    def _explained(self, fault: sqlite3.Error, doing: str = "written") -> MothSeedError:
        """Our error for an error of SQLite, by SQLite's own name for it; one without a name means damage."""
        name = getattr(fault, "sqlite_errorname", "")
        primary = "_".join(name.split("_")[:2])  # SQLITE_READONLY_DBMOVED is a kind of SQLITE_READONLY
        if primary in _BUSY:
            return self._in_use()
        if primary in _CLOSED:
            return ClosedFolderError(f"{self.path} cannot be {doing}: {fault}")
        if primary == "SQLITE_FULL":
            return FullDiskError(f"{self.path} cannot be written: the disk is full")
        return self._damaged(str(fault))

    def _damaged(self, words: str) -> DamagedLedgerError:
        hint = f"rebuild it from the pictures: mothseed recover {self.path.parent}"
        return DamagedLedgerError(f"{self.path} is damaged: {words}", hint=hint)

    def _check_tables(self) -> None:
        """Refuse a ledger whose tables are not those of its version, or that has triggers. In a file from a stranger,
        anything may go by the name of a table: a view that never ends, a trigger that deletes.
        """
        version = self._version()
        if version > len(MIGRATIONS):
            raise NewerLedgerError(f"{self.path} was written by a later version of Moth Seed")
        own = {name: squeezed(sql) for name, sql in SCHEMA_OF[:version][-1].items()} if version else {}
        statement = f"SELECT type, name, sql FROM sqlite_schema WHERE type = 'trigger' OR lower(tbl_name) IN {NAMES}"
        found: dict[str, str] = {}
        for kind, name, sql in self._connection.execute(statement):
            if kind == "trigger":
                raise self._damaged(f"it has a trigger {quoted(name)}, which Moth Seed never writes")
            if sql is not None and kind != "index":
                found[name] = squeezed(sql)
        if found != own:
            raise self._damaged("its tables are not those of a ledger")

    @contextmanager
    def _atomic(self) -> Iterator[sqlite3.Connection]:
        """A transaction: all writes inside it are kept, or none. Nothing is written in any other way."""
        try:
            self._connection.execute("BEGIN IMMEDIATE")
            try:
                yield self._connection
            except BaseException:
                if self._connection.in_transaction:  # when the disk is full, SQLite has done so itself
                    self._connection.execute("ROLLBACK")
                raise
            self._connection.execute("COMMIT")
        except sqlite3.Error as fault:
            raise self._explained(fault) from fault

    def _version(self) -> int:
        return int(self._connection.execute("PRAGMA user_version").fetchone()[0])

    def _migrate(self) -> None:
        version = self._version()
        for number, statements in enumerate(MIGRATIONS[version:], version + 1):
            with self._atomic() as connection:
                for statement in statements:
                    connection.execute(statement)
                connection.execute(f"PRAGMA user_version = {number}")

    def add(self, editions: Iterable[Edition]) -> None:
        """Record editions, all or none. Each replaces an earlier one with its key and keeps its mark and note."""
        columns = (*MADE_COLUMNS, DECISIONS)
        changed = ", ".join(f"{name} = excluded.{name}" for name in columns if name not in KEY_COLUMNS)
        statement = (
            f"INSERT INTO edition ({', '.join(columns)}) VALUES ({', '.join('?' * len(columns))}) "
            f"ON CONFLICT (variant, seed) DO UPDATE SET {changed}"
        )
        with self._atomic() as connection:
            numbers: dict[Decision, int] = {}
            for edition in editions:
                row, decisions = row_of(edition), decisions_of(edition)
                for decision in decisions:
                    if decision not in numbers:
                        numbers[decision] = _number_of(connection, decision)
                decided = " ".join(str(numbers[decision]) for decision in decisions)
                connection.execute(statement, [*(row[name] for name in MADE_COLUMNS), decided])

    def mark(self, marks: Iterable[tuple[Key, str | None, str | None]]) -> None:
        """Set marks and notes of editions by their keys, all or none; None leaves one as it is."""
        changes = ", ".join(f"{name} = coalesce(?, {name})" for name in ARTISTS_COLUMNS)
        with self._atomic() as connection:
            for (variant, seed), mark, note in marks:
                values = (mark, note if note is None else writable(note), variant, str(seed))
                connection.execute(f"UPDATE edition SET {changes} WHERE variant = ? AND seed = ?", values)

    def stamp(self, editions: Iterable[Edition]) -> None:
        """Record the size and time of files that were checked and found unchanged."""
        with self._atomic() as connection:
            for edition in editions:
                row = row_of(edition)
                statement = "UPDATE edition SET file_size = ?, file_time = ?, stamps = ? WHERE variant = ? AND seed = ?"
                connection.execute(statement, [row[name] for name in ("file_size", "file_time", "stamps", "variant", "seed")])

    def editions(
        self,
        damaged: list[str] | None = None,
        keys: Collection[Key] | None = None,
        names: Sequence[str] = ALL_FIELDS,
    ) -> list[Edition]:
        """All editions, or those with these keys, sorted by seed (numbers before words), then by variant. Only the named
        fields are filled; the others have their defaults.

        Damaged rows are left out and described in `damaged`, if it is given. Raises DamagedLedgerError otherwise, and if
        nothing can be read.
        """
        found = self.values(names, damaged, keys)
        return [Edition(**dict(zip(found, each, strict=True))) for each in zip(*found.values(), strict=True)]

    def checked(self, damaged: list[str], names: Sequence[str]) -> list[Edition]:
        """All editions whose rows are sound throughout, with only the named fields; the rest is checked in chunks and
        discarded.
        """
        keys = self.keys(damaged)
        found = []
        for start in range(0, len(keys), _TOGETHER):
            whole = self.editions(damaged, keys[start : start + _TOGETHER])
            found += [Edition(**{name: getattr(edition, name) for name in (*KEY_COLUMNS, *names)}) for edition in whole]
        return found

    def keys(self, damaged: list[str] | None = None) -> list[Key]:
        """The keys of all editions, in the order of `editions`."""
        there = self.values(KEY_COLUMNS, damaged)
        return list(zip(there["variant"], there["seed"], strict=True))

    def values(
        self,
        names: Sequence[str],
        damaged: list[str] | None = None,
        keys: Collection[Key] | None = None,
        measures: frozenset[str] | None = None,
    ) -> dict[str, list[Any]]:
        """Fields of all editions, or of those with these keys: a list for each field, in the order of `editions`. Seed and
        variant are always included; fields that an earlier version lacks are not. Measures may be limited to those named in
        `measures`; None means all.

        Only what is asked for is read and checked, as the rest of a large ledger would take too long.
        """
        with _not_collecting():
            written, rows, decisions = self._rows(names, keys)
            try:
                found = values_of(written, rows, decisions, measures)
            except RecordError:
                whole = [row for row in rows if self._is_whole(written, row, decisions, measures, damaged)]
                found = values_of(written, whole, decisions, measures)
            order = _in_order(found["seed"], found["variant"])
            return found if order is None else {name: [values[place] for place in order] for name, values in found.items()}

    def count_made(self) -> int:
        """The number of editions that did not fail."""
        ((count,),) = self._fetched("SELECT count(*) FROM edition WHERE error = ''")
        return int(count)

    def labels(self) -> set[str]:
        """The labels of all outcomes."""
        table = "outcome" if self._version() < SINCE_DECISIONS else "decision"
        return {label for (label,) in self._fetched(f"SELECT DISTINCT label FROM {table}")}

    def names_of_dials(self) -> set[str]:
        """The names of all dials."""
        names: set[str] = set()
        for row in self._fetched("SELECT DISTINCT dials FROM edition"):
            with suppress(RecordError):  # which is reported when its edition is read
                names.update(*values_of(["dials"], [row])["dials"])
        return names

    def _rows(
        self, names: Sequence[str], keys: Collection[Key] | None
    ) -> tuple[list[str], list[tuple[Any, ...]], Mapping[str, Decision]]:
        """Those of the named columns that exist, their rows, and decisions by number if outcomes are asked for."""
        asked = dict.fromkeys([*KEY_COLUMNS, *(DECISIONS if name == OUTCOMES else name for name in names)])
        given: list[str] = []
        chosen = ""
        if keys is not None:
            pairs = "SELECT json_extract(value, '$[0]'), json_extract(value, '$[1]') FROM json_each(?)"
            chosen = f" WHERE (variant, seed) IN ({pairs})"
            given.append(as_json([(variant, str(seed)) for variant, seed in keys]))
        there = {name for _, name, *_ in self._fetched("PRAGMA table_info(edition)")}
        columns = [name for name in asked if name in there]
        rows = self._fetched(f"SELECT {', '.join(columns)} FROM edition{chosen}", given)
        if DECISIONS not in asked:
            return columns, rows, {}
        if DECISIONS not in there:
            return self._with_decisions(columns, rows, chosen, given)
        place = columns.index(DECISIONS)
        numbers = {number for together in {row[place] for row in rows} for number in together.split()}
        only = " WHERE number IN (SELECT value FROM json_each(?))" if keys is not None else ""
        statement = f"SELECT number, label, value, promised FROM decision{only}"
        found = self._fetched(statement, [f"[{','.join(filter(str.isdecimal, numbers))}]"] if only else ())
        return columns, rows, {str(number): (label, value, promised) for number, label, value, promised in found}

    def _with_decisions(
        self, columns: Sequence[str], rows: Sequence[tuple[Any, ...]], chosen: str, given: Sequence[str]
    ) -> tuple[list[str], list[tuple[Any, ...]], Mapping[str, Decision]]:
        """The same for an earlier ledger, which has a row for each outcome."""
        numbers: dict[Decision, str] = {}
        decided: dict[tuple[str, str], list[str]] = defaultdict(list)
        statement = f"SELECT seed, variant, label, value, promised FROM outcome{chosen} ORDER BY variant, seed, position"
        for seed, variant, label, value, promised in self._fetched(statement, given):
            decided[seed, variant].append(numbers.setdefault((label, value, promised), str(len(numbers))))
        of_key = [columns.index(name) for name in ("seed", "variant")]
        more = [(*row, " ".join(decided.get((row[of_key[0]], row[of_key[1]]), ()))) for row in rows]
        return [*columns, DECISIONS], more, {number: decision for decision, number in numbers.items()}

    def _fetched(self, statement: str, given: Sequence[str] = ()) -> list[tuple[Any, ...]]:
        """All rows of a statement, with invalid UTF-8 replaced. Raises DamagedLedgerError if they cannot be read."""
        try:
            try:
                return self._connection.execute(statement, given).fetchall()
            except sqlite3.OperationalError as fault:
                if hasattr(fault, "sqlite_errorcode"):
                    raise
                self._connection.text_factory = _text  # a call for each text, three times as slow
                return self._connection.execute(statement, given).fetchall()
        except sqlite3.Error as fault:
            raise self._explained(fault, "read") from None

    def _is_whole(
        self,
        names: Sequence[str],
        row: tuple[Any, ...],
        decisions: Mapping[str, Decision],
        measures: frozenset[str] | None,
        damaged: list[str] | None,
    ) -> bool:
        """Whether a row is a valid edition; if not, that is described in `damaged`, or raised if `damaged` is not given."""
        try:
            values_of(names, [row], decisions, measures)
        except RecordError as fault:
            named = dict(zip(names, row, strict=True))
            words = f"edition {named['seed']} {named['variant']}".rstrip() + f": {fault}"
            if damaged is None:
                raise self._damaged(words) from None
            damaged.append(words)
            return False
        return True


def _number_of(connection: sqlite3.Connection, decision: Decision) -> int:
    """The number of a decision, which is recorded if it is new."""
    statement = "SELECT number FROM decision WHERE label = ? AND value = ? AND promised = ?"
    there = connection.execute(statement, decision).fetchone()
    if there:
        return int(there[0])
    return connection.execute("INSERT INTO decision (label, value, promised) VALUES (?, ?, ?)", decision).lastrowid or 0


def _in_order(seeds: Sequence[Seed], variants: Sequence[str]) -> list[int] | None:
    """Indices that sort editions, or None if they are sorted: by seed, numbers before words, then by variant."""
    keys: Sequence[Any] = seeds
    if len({*variants}) > 1 or not {*map(type, seeds)} <= {int}:
        keys = [(isinstance(seed, str), seed, variant) for seed, variant in zip(seeds, variants, strict=True)]
    order = sorted(range(len(keys)), key=keys.__getitem__)
    return None if all(map(int.__eq__, order, range(len(order)))) else order


@contextmanager
def _not_collecting() -> Iterator[None]:
    """Pause garbage collection, which would go through very many live objects again and again."""
    collecting = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collecting:
            gc.enable()
