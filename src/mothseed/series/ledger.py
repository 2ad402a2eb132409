"""The ledger: the SQLite file in a series folder that records every edition."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from types import TracebackType
from typing import Any, Self

from mothseed.chance import Outcome, Promise
from mothseed.errors import SeriesError, did_you_mean
from mothseed.series.job import Edition
from mothseed.sketch.seeds import Seed

LEDGER_NAME = "ledger.sqlite"

# Each entry takes a ledger from the version before it to its own; entries are added, never changed.
_MIGRATIONS = (
    """
    CREATE TABLE edition (
        seed TEXT NOT NULL,             -- a whole number or a word
        variant TEXT NOT NULL,          -- a word, or empty where there are none
        status TEXT NOT NULL,           -- 'done' or 'failed'
        sketch TEXT NOT NULL,           -- name of its file
        dials TEXT NOT NULL,            -- JSON object: every dial and its value
        reseeds TEXT NOT NULL,          -- JSON object: streams drawn anew, and from which seed
        without TEXT NOT NULL,          -- JSON list: layers that were left out
        width INTEGER NOT NULL,         -- pixels
        renderer INTEGER NOT NULL,      -- version of the rasteriser
        sources TEXT NOT NULL,          -- JSON object: content hash of each file it was made from
        milliseconds REAL NOT NULL,
        fingerprint TEXT NOT NULL,
        pixel_hash TEXT NOT NULL,
        file TEXT NOT NULL,
        error TEXT NOT NULL,
        measures TEXT NOT NULL,         -- JSON object: numbers that were measured in the picture
        mark TEXT NOT NULL DEFAULT '',  -- what the artist thinks of it, kept when it is made again
        note TEXT NOT NULL DEFAULT '',
        PRIMARY KEY (variant, seed)
    ) STRICT;
    CREATE TABLE outcome (
        seed TEXT NOT NULL,
        variant TEXT NOT NULL,
        position INTEGER NOT NULL,      -- order in which it came
        label TEXT NOT NULL,
        value TEXT NOT NULL,            -- JSON
        promised TEXT NOT NULL,         -- JSON list of pairs: what might have come, and its probability
        PRIMARY KEY (variant, seed, position),
        FOREIGN KEY (variant, seed) REFERENCES edition (variant, seed) ON DELETE CASCADE
    ) STRICT;
    CREATE INDEX outcome_by_label ON outcome (label, value);
    """,
    """
    ALTER TABLE edition ADD COLUMN palette TEXT NOT NULL DEFAULT '[]';    -- JSON list of pairs: a CSS colour, its share
    ALTER TABLE edition ADD COLUMN appearance BLOB NOT NULL DEFAULT x'';  -- OKLab of 16 by 16 parts, see docs/files.md
    ALTER TABLE edition ADD COLUMN forms BLOB NOT NULL DEFAULT x'';       -- signature of its forms, see docs/files.md
    """,
    """
    ALTER TABLE edition ADD COLUMN number TEXT NOT NULL DEFAULT '';       -- of a numbered print, such as 3/12
    """,
)
_MADE = (
    "seed, variant, status, sketch, dials, reseeds, without, width, renderer, sources, milliseconds, fingerprint, pixel_hash, "
    "file, error, measures, palette, appearance, forms, number"
)
"""What is known of an edition from its making; the rest is the artist's."""


class Ledger:
    """The record of a series; open it with `with`. While one is open, no other process can write to the series."""

    def __init__(self, folder: Path) -> None:
        """Open the ledger of a folder, or begin one; raises SeriesError where it is in use, damaged or from a later version."""
        self.path = folder / LEDGER_NAME
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._connection = sqlite3.connect(self.path, timeout=0.2, isolation_level=None)
            self._connection.execute("PRAGMA locking_mode = EXCLUSIVE")
            self._connection.execute("PRAGMA foreign_keys = ON")
            self._migrate()
        except OSError as fault:
            raise SeriesError(
                f"{folder} cannot be made a series folder: {fault.strerror}", hint="choose another folder with -o"
            ) from None
        except sqlite3.Error as fault:
            raise self._explained(fault) from None

    @classmethod
    def of(cls, folder: Path) -> Ledger:
        """The ledger of a folder that has one; raises SeriesError where it has none, and as opening it does."""
        if not folder.is_dir():
            known = [each.parent.name for each in folder.absolute().parent.glob(f"*/{LEDGER_NAME}")]
            what = f"{folder} is a file, not the folder of a series" if folder.exists() else f"there is no series {folder}"
            raise SeriesError(what, hint=did_you_mean(folder.name, known) or "mothseed edition SKETCH --seeds 1-24 makes one")
        if not (folder / LEDGER_NAME).is_file():
            raise SeriesError(
                f"{folder} is no series: it has no {LEDGER_NAME}",
                hint=f"make one with mothseed edition, or build it from its pictures: mothseed recover {folder}",
            )
        return cls(folder)

    @classmethod
    def reading(cls, folder: Path) -> Ledger:
        """The same, only to be read: others may read it meanwhile, and the folder need not be writable."""
        path = folder / LEDGER_NAME
        if not path.is_file() or path.with_name(f"{LEDGER_NAME}-journal").exists():
            return cls.of(folder)  # what a killed run left is taken back by whoever may write
        ledger = cls.__new__(cls)
        ledger.path = path
        try:
            address = f"{path.resolve().as_uri()}?mode=ro"
            ledger._connection = sqlite3.connect(address, uri=True, timeout=0.2, isolation_level=None)
            if ledger._version() != len(_MIGRATIONS):
                ledger._connection.close()
                return cls.of(folder)
        except sqlite3.Error as fault:
            raise ledger._explained(fault) from None
        return ledger

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, fault: BaseException | None, trace: TracebackType | None) -> None:
        self._connection.close()

    def _explained(self, fault: sqlite3.Error) -> SeriesError:
        words = str(fault)
        if "locked" in words:
            return SeriesError(
                f"another run is making {self.path.parent}", hint="wait until it is done, or choose another folder with -o"
            )
        if "readonly" in words or "unable to open" in words:
            return SeriesError(f"{self.path} cannot be written: {words}", hint="choose another folder with -o")
        if "full" in words:
            return SeriesError(f"{self.path} cannot be written: the disk is full", hint="make room, then run it again")
        return SeriesError(
            f"{self.path} is damaged: {words}",
            hint=f"build it again from the pictures: mothseed recover {self.path.parent}",
        )

    @contextmanager
    def _atomic(self) -> Iterator[sqlite3.Connection]:
        """All writes within are kept, or none; the only way anything is written."""
        try:
            self._connection.execute("BEGIN IMMEDIATE")
            try:
                yield self._connection
            except BaseException:
                self._connection.execute("ROLLBACK")
                raise
            self._connection.execute("COMMIT")
        except sqlite3.Error as fault:
            raise self._explained(fault) from fault

    def _version(self) -> int:
        return int(self._connection.execute("PRAGMA user_version").fetchone()[0])

    def _migrate(self) -> None:
        version = self._version()
        if version > len(_MIGRATIONS):
            raise SeriesError(
                f"{self.path} was written by a later version of Moth Seed", hint="install that version, or a later one"
            )
        for number, migration in enumerate(_MIGRATIONS[version:], version + 1):
            with self._atomic() as connection:
                for statement in migration.split(";"):
                    if statement.strip():
                        connection.execute(statement)
                connection.execute(f"PRAGMA user_version = {number}")
        if version == len(_MIGRATIONS):
            with self._atomic():  # takes the lock, which a fresh ledger took with its first table
                pass

    def add(self, editions: Iterable[Edition]) -> None:
        """Record editions, all or none, each in place of an earlier one of its key, whose mark and note it keeps."""
        names = _MADE.split(", ")
        changed = ", ".join(f"{name} = excluded.{name}" for name in names[2:])
        statement = (
            f"INSERT INTO edition ({_MADE}) VALUES ({', '.join('?' * len(names))}) "
            f"ON CONFLICT (variant, seed) DO UPDATE SET {changed}"
        )
        with self._atomic() as connection:
            for edition in editions:
                own = (str(edition.seed), edition.variant)
                connection.execute(statement, _row(edition))
                connection.execute("DELETE FROM outcome WHERE seed = ? AND variant = ?", own)
                connection.executemany(
                    "INSERT INTO outcome VALUES (?, ?, ?, ?, ?, ?)",
                    [
                        (*own, position, outcome.label, _json(outcome.value), _json(outcome.promised))
                        for position, outcome in enumerate(edition.outcomes)
                    ],
                )

    def mark(self, marks: Iterable[tuple[tuple[str, Seed], str | None, str | None]]) -> None:
        """Give editions, by their keys, marks and notes, all or none; what is None stays as it was."""
        with self._atomic() as connection:
            for (variant, seed), mark, note in marks:
                connection.execute(
                    "UPDATE edition SET mark = coalesce(?, mark), note = coalesce(?, note) WHERE variant = ? AND seed = ?",
                    (mark, note, variant, str(seed)),
                )

    def editions(self) -> list[Edition]:
        """All editions: whole numbers in their order, then words in theirs, and of each seed its variants."""
        try:
            rows = self._connection.execute(f"SELECT {_MADE}, mark, note FROM edition").fetchall()
            outcomes: dict[tuple[str, str], list[Outcome]] = {}
            promises: dict[str, Promise] = {}
            for seed, variant, label, value, promised in self._connection.execute(
                "SELECT seed, variant, label, value, promised FROM outcome ORDER BY variant, seed, position"
            ):
                promise = promises.get(promised)
                if promise is None:  # one for each decision, however often it was made
                    promise = promises[promised] = Promise(map(tuple, json.loads(promised)))
                outcomes.setdefault((seed, variant), []).append(Outcome(label, json.loads(value), promise))
            editions = [_edition(row, tuple(outcomes.get(row[:2], ()))) for row in rows]
        except (sqlite3.Error, ValueError) as fault:
            raise self._explained(sqlite3.DatabaseError(str(fault))) from None
        return sorted(editions, key=lambda edition: (isinstance(edition.seed, str), edition.seed, edition.variant))


def _row(edition: Edition) -> tuple[Any, ...]:
    """The values of the columns of `_MADE`."""
    return (
        str(edition.seed),
        edition.variant,
        "failed" if edition.failed else "done",
        edition.sketch,
        _json(edition.dials),
        _json(edition.reseeds),
        _json(edition.without),
        edition.width,
        edition.renderer,
        _json(edition.sources),
        edition.milliseconds,
        edition.fingerprint,
        edition.pixel_hash,
        edition.file,
        edition.error,
        _json(edition.measures),
        _json(edition.palette),
        edition.appearance,
        edition.forms,
        edition.number,
    )


def _edition(row: tuple[Any, ...], outcomes: tuple[Outcome, ...]) -> Edition:
    (seed, variant, _, sketch, dials, reseeds, without, width, renderer, sources, milliseconds, fingerprint, pixel_hash, file,
     error, measures, palette, appearance, forms, number, mark, note) = row  # fmt: skip
    return Edition(
        seed=_seed(seed),
        variant=variant,
        sketch=sketch,
        dials=json.loads(dials),
        reseeds=json.loads(reseeds),
        without=tuple(json.loads(without)),
        width=width,
        renderer=renderer,
        sources=json.loads(sources),
        milliseconds=milliseconds,
        fingerprint=fingerprint,
        pixel_hash=pixel_hash,
        file=file,
        outcomes=outcomes,
        error=error,
        measures=json.loads(measures),
        palette=tuple((css, share) for css, share in json.loads(palette)),
        appearance=appearance,
        forms=forms,
        number=number,
        mark=mark,
        note=note,
    )


def _seed(text: str) -> Seed:
    return int(text) if text.isdecimal() else text


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False)
