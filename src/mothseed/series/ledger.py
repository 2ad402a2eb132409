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
    """A link in somebody's series could lead to any database of the user's."""
    if path.is_symlink():
        raise DamagedLedgerError(f"{path} is a link, and a ledger lies in its series' folder", hint="put the file itself there")


def _text(raw: bytes) -> str:
    """A text of a ledger; bytes that are no letters show as such, and keep nobody from the rest."""
    return raw.decode("utf-8", "replace")


_LOCK_NAME = ".ledger.lock"
"""Beside a ledger: whoever writes has it locked. The ledger itself is locked only while something is written."""
_WAIT, _READERS_TAKE = 0.2, 5.0
"""Seconds that are waited for another run, and for somebody who reads or writes a little."""
_TOGETHER = 2000
"""Editions that are held at once where all of them are looked at, and little is kept of each."""
_BUSY = {"SQLITE_BUSY", "SQLITE_LOCKED"}
_CLOSED = {"SQLITE_READONLY", "SQLITE_CANTOPEN", "SQLITE_PERM", "SQLITE_IOERR"}


class Ledger:
    """The record of a series; open it with `with`.

    While one is open to be written, no other process can write to the series, and all can read what is there so far.
    """

    _lock: FileLock | None

    def __init__(self, folder: Path) -> None:
        """Open the ledger of a folder, or begin one.

        Raises SeriesInUseError where another run writes to it, DamagedLedgerError, NewerLedgerError for one of a later version,
        ClosedFolderError where the folder cannot be written to.
        """
        from filelock import FileLock, Timeout  # only who writes waits for its import

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
        """The ledger of a folder that has one; raises NoSeriesError where it has none, and as opening it does."""
        if not folder.is_dir():
            known = [each.parent.name for each in folder.absolute().parent.glob(f"*/{LEDGER_NAME}")]
            what = f"{folder} is a file, not the folder of a series" if folder.exists() else f"there is no series {folder}"
            raise NoSeriesError(what, hint=did_you_mean(folder.name, known))
        if not (folder / LEDGER_NAME).is_file():
            raise NoSeriesError(
                f"{folder} is no series: it has no {LEDGER_NAME}",
                hint=f"make one with mothseed edition, or build it from its pictures: mothseed recover {folder}",
            )
        return cls(folder)

    @classmethod
    def reading(cls, folder: Path) -> Ledger:
        """The same, only to be read: others may read it meanwhile, and the folder need not be writable.

        One of an earlier version is read as it is.
        """
        path = folder / LEDGER_NAME
        if not path.is_file():
            return cls.of(folder)
        if path.with_name(f"{LEDGER_NAME}-journal").exists():
            # What a killed run left is taken back by whoever may write; a run that goes on is only waited for.
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
        """A fault of the database by its name, which is SQLite's own; what has none is read by nobody else."""
        name = getattr(fault, "sqlite_errorname", "")
        primary = "_".join(name.split("_")[:2])  # SQLITE_READONLY_DBMOVED is a way of SQLITE_READONLY
        if primary in _BUSY:
            return self._in_use()
        if primary in _CLOSED:
            return ClosedFolderError(f"{self.path} cannot be {doing}: {fault}")
        if primary == "SQLITE_FULL":
            return FullDiskError(f"{self.path} cannot be written: the disk is full")
        return self._damaged(str(fault))

    def _damaged(self, words: str) -> DamagedLedgerError:
        hint = f"build it again from the pictures: mothseed recover {self.path.parent}"
        return DamagedLedgerError(f"{self.path} is damaged: {words}", hint=hint)

    def _check_tables(self) -> None:
        """Refuse a ledger whose tables are not those of its version, or in which more happens than is written.

        What somebody gave away could have anything by the names of tables: a view that never ends, a trigger that deletes.
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
        """All writes within are kept, or none; the only way anything is written."""
        try:
            self._connection.execute("BEGIN IMMEDIATE")
            try:
                yield self._connection
            except BaseException:
                if self._connection.in_transaction:  # where the disk is full SQLite has done so itself
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
        """Record editions, all or none, each in place of an earlier one of its key, whose mark and note it keeps."""
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
        """Give editions, by their keys, marks and notes, all or none; what is None stays as it was."""
        changes = ", ".join(f"{name} = coalesce(?, {name})" for name in ARTISTS_COLUMNS)
        with self._atomic() as connection:
            for (variant, seed), mark, note in marks:
                values = (mark, note if note is None else writable(note), variant, str(seed))
                connection.execute(f"UPDATE edition SET {changes} WHERE variant = ? AND seed = ?", values)

    def stamp(self, editions: Iterable[Edition]) -> None:
        """Keep the size and the time of the files of editions that were looked at, and are what they were."""
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
        """All editions, or those of these keys: whole numbers in their order, then words in theirs, of each seed its variants.
        They have the fields of these names; the others are as in an edition of which nothing is known.

        Those that are no editions are told to `damaged`, where it is given, and left out. Raises DamagedLedgerError where it is
        not, and where nothing can be read.
        """
        found = self.values(names, damaged, keys)
        return [Edition(**dict(zip(found, each, strict=True))) for each in zip(*found.values(), strict=True)]

    def checked(self, damaged: list[str], names: Sequence[str]) -> list[Edition]:
        """All editions with the fields of these names, where nothing else that is known of them is damaged either: it is
        looked at in parts, and let go.
        """
        keys = self.keys(damaged)
        found = []
        for start in range(0, len(keys), _TOGETHER):
            whole = self.editions(damaged, keys[start : start + _TOGETHER])
            found += [Edition(**{name: getattr(edition, name) for name in (*KEY_COLUMNS, *names)}) for edition in whole]
        return found

    def keys(self, damaged: list[str] | None = None) -> list[Key]:
        """Which editions there are, in the order of `editions`."""
        there = self.values(KEY_COLUMNS, damaged)
        return list(zip(there["variant"], there["seed"], strict=True))

    def values(
        self,
        names: Sequence[str],
        damaged: list[str] | None = None,
        keys: Collection[Key] | None = None,
        measures: frozenset[str] | None = None,
    ) -> dict[str, list[Any]]:
        """Fields of all editions, or of those of these keys, a list for each field, in the order of `editions`; the seed and
        the variant are always among them, and what an earlier version did not keep is not. Of the measures only those named in
        `measures` need be there, or all of them for None.

        Only what is asked for is read, and told where it is damaged: many editions have more than is wanted at once.
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

    def labels(self) -> set[str]:
        """What outcomes are called."""
        table = "outcome" if self._version() < SINCE_DECISIONS else "decision"
        return {label for (label,) in self._fetched(f"SELECT DISTINCT label FROM {table}")}

    def names_of_dials(self) -> set[str]:
        """What dials are called."""
        names: set[str] = set()
        for row in self._fetched("SELECT DISTINCT dials FROM edition"):
            with suppress(RecordError):  # which is told when its edition is read
                names.update(*values_of(["dials"], [row])["dials"])
        return names

    def _rows(
        self, names: Sequence[str], keys: Collection[Key] | None
    ) -> tuple[list[str], list[tuple[Any, ...]], Mapping[str, Decision]]:
        """The columns of these names that are there, all rows of them, and decisions by their numbers where outcomes are asked
        for.
        """
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
        """The same of a ledger that has a row for each outcome."""
        numbers: dict[Decision, str] = {}
        decided: dict[tuple[str, str], list[str]] = defaultdict(list)
        statement = f"SELECT seed, variant, label, value, promised FROM outcome{chosen} ORDER BY variant, seed, position"
        for seed, variant, label, value, promised in self._fetched(statement, given):
            decided[seed, variant].append(numbers.setdefault((label, value, promised), str(len(numbers))))
        of_key = [columns.index(name) for name in ("seed", "variant")]
        more = [(*row, " ".join(decided.get((row[of_key[0]], row[of_key[1]]), ()))) for row in rows]
        return [*columns, DECISIONS], more, {number: decision for decision, number in numbers.items()}

    def _fetched(self, statement: str, given: Sequence[str] = ()) -> list[tuple[Any, ...]]:
        """All rows of a statement; where there are bytes in them that are no letters, those show as such.

        Raises DamagedLedgerError where they cannot be read.
        """
        try:
            try:
                return self._connection.execute(statement, given).fetchall()
            except sqlite3.OperationalError as fault:
                if hasattr(fault, "sqlite_errorcode"):
                    raise
                self._connection.text_factory = _text  # a call for each text, and three times as slow
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
        """Whether a row is an edition; where it is none that is told to `damaged`, or raised where that is not given."""
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
    """The number under which a decision is written down, now or already."""
    statement = "SELECT number FROM decision WHERE label = ? AND value = ? AND promised = ?"
    there = connection.execute(statement, decision).fetchone()
    if there:
        return int(there[0])
    return connection.execute("INSERT INTO decision (label, value, promised) VALUES (?, ?, ?)", decision).lastrowid or 0


def _in_order(seeds: Sequence[Seed], variants: Sequence[str]) -> list[int] | None:
    """The places of editions in their order, None where they have it: numbers first, then words, of each seed its variants."""
    keys: Sequence[Any] = seeds
    if len({*variants}) > 1 or not {*map(type, seeds)} <= {int}:
        keys = [(isinstance(seed, str), seed, variant) for seed, variant in zip(seeds, variants, strict=True)]
    order = sorted(range(len(keys)), key=keys.__getitem__)
    return None if all(map(int.__eq__, order, range(len(order)))) else order


@contextmanager
def _not_collecting() -> Iterator[None]:
    """Without looks for unused objects meanwhile: very many that are used would be gone through again and again."""
    collecting = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collecting:
            gc.enable()
