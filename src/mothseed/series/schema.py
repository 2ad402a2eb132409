"""The tables of a ledger, and what each version added."""

from __future__ import annotations

import re
import sqlite3
from contextlib import closing

# Each entry brings a ledger from the previous version to its own, statement by statement; entries are added, never changed.
MIGRATIONS = (
    (
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
        ) STRICT
        """,
        """
        CREATE TABLE outcome (
            seed TEXT NOT NULL,
            variant TEXT NOT NULL,
            position INTEGER NOT NULL,      -- order in which it came
            label TEXT NOT NULL,
            value TEXT NOT NULL,            -- JSON
            promised TEXT NOT NULL,         -- JSON list of pairs: what might have come, and its probability
            PRIMARY KEY (variant, seed, position),
            FOREIGN KEY (variant, seed) REFERENCES edition (variant, seed) ON DELETE CASCADE
        ) STRICT
        """,
        "CREATE INDEX outcome_by_label ON outcome (label, value)",
    ),
    (
        # JSON list of pairs: a CSS colour, its share; OKLab of 16 by 16 parts; signature of its forms: see docs/files.md
        "ALTER TABLE edition ADD COLUMN palette TEXT NOT NULL DEFAULT '[]'",
        "ALTER TABLE edition ADD COLUMN appearance BLOB NOT NULL DEFAULT x''",
        "ALTER TABLE edition ADD COLUMN forms BLOB NOT NULL DEFAULT x''",
    ),
    (
        # of a numbered print, such as 3/12
        "ALTER TABLE edition ADD COLUMN number TEXT NOT NULL DEFAULT ''",
    ),
    (
        # of the picture's file: its size, and when it was last written, in nanoseconds since 1970; 0 if not recorded
        "ALTER TABLE edition ADD COLUMN file_size INTEGER NOT NULL DEFAULT 0",
        "ALTER TABLE edition ADD COLUMN file_time INTEGER NOT NULL DEFAULT 0",
    ),
    (
        # JSON object: content hash of each other form of the picture, by its path in the folder: svg/0007.svg
        "ALTER TABLE edition ADD COLUMN files TEXT NOT NULL DEFAULT '{}'",
    ),
    (
        # JSON object: size and time of each of these files, as file_size and file_time have them
        "ALTER TABLE edition ADD COLUMN stamps TEXT NOT NULL DEFAULT '{}'",
    ),
    (
        # A decision that many editions share is stored once: `decisions` are numbers separated by spaces.
        """
        CREATE TABLE decision (
            number INTEGER PRIMARY KEY,
            label TEXT NOT NULL,
            value TEXT NOT NULL,            -- JSON
            promised TEXT NOT NULL          -- JSON list of pairs: what might have come, and its probability
        ) STRICT
        """,
        "INSERT INTO decision (label, value, promised) SELECT DISTINCT label, value, promised FROM outcome",
        "CREATE INDEX decision_by_value ON decision (label, value)",
        "ALTER TABLE edition ADD COLUMN decisions TEXT NOT NULL DEFAULT ''",
        """
        UPDATE edition SET decisions = coalesce((
            SELECT group_concat(number, ' ') FROM (
                SELECT decision.number FROM outcome JOIN decision USING (label, value, promised)
                WHERE outcome.seed = edition.seed AND outcome.variant = edition.variant ORDER BY position
            )
        ), '')
        """,
        "DROP TABLE outcome",
        # For those who read the ledger with other tools.
        """
        CREATE VIEW outcome AS
            SELECT edition.seed, edition.variant, came.key AS position, decision.label, decision.value, decision.promised
            FROM edition, json_each('[' || replace(edition.decisions, ' ', ',') || ']') AS came, decision
            WHERE decision.number = came.value
        """,
        # Short columns apart from long ones: lists of very many editions are read from this index alone.
        "CREATE INDEX edition_in_short ON edition (variant, seed, status, number, mark, note, error, width, dials, decisions)",
    ),
    (
        # With measures, as a condition on one of them would otherwise read the long columns too.
        "DROP INDEX edition_in_short",
        """
        CREATE INDEX edition_in_short
            ON edition (variant, seed, status, number, mark, note, error, width, dials, decisions, measures)
        """,
    ),
)

SINCE_DECISIONS = 7
"""The version that gave decisions their own table."""
NAMES = ("edition", "outcome", "decision")
"""Names of all tables and views of any version, for SQL."""


def squeezed(sql: str) -> str:
    """A statement without comments and superfluous white space."""
    return "".join(re.sub(r"--[^\n]*", "", sql).split()).casefold()


def _schemas() -> list[dict[str, str]]:
    """The statements of the tables and views of each version, by name, as SQLite keeps them."""
    found = []
    with closing(sqlite3.connect(":memory:")) as connection:
        for statements in MIGRATIONS:
            for statement in statements:
                connection.execute(statement)
            tables = connection.execute("SELECT name, sql FROM sqlite_schema WHERE type IN ('table', 'view')")
            found.append(dict(tables.fetchall()))
    return found


SCHEMA_OF = _schemas()
"""For each version, the statements of its tables and views by name."""
