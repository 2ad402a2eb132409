"""Rebuilding a ledger from the metadata in the pictures of a series."""

from __future__ import annotations

import sqlite3
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path
from time import monotonic

from mothseed.colour import Colour
from mothseed.faults import DamagedLedgerError, FieldError, NoSeriesError, PictureError, SeriesError
from mothseed.formats.picture_reading import read_pixels
from mothseed.layout import LEDGER_NAME
from mothseed.measure import reduced, seen
from mothseed.render import pixel_hash
from mothseed.series.edition import Edition, Key
from mothseed.series.ledger import Ledger
from mothseed.series.marking import MARKS
from mothseed.series.other_forms import forms_beside
from mothseed.series.pictures import stamped
from mothseed.sketch.history import history_in_picture
from mothseed.sketch.seeds import edition_file, parse_seed
from mothseed.told import counted

DAMAGED_SUFFIX = ".damaged"
_SECONDS = 5.0


@dataclass(frozen=True, slots=True)
class Recovered:
    """What was found."""

    editions: list[Edition]
    skipped: list[str]
    """files that are not editions of this series, and why"""
    kept_old: Path | None
    """where the damaged ledger is now"""
    marked: int
    """how many of them got their mark or note back, as far as the damaged ledger could be read"""


def recover_ledger(folder: Path) -> Recovered:
    """Build the ledger of a folder from its pictures. A damaged one is moved aside, and its marks and notes are kept where
    they can be read. Raises SeriesError if the folder has no edition, or its ledger is in use or sound.
    """
    if not folder.is_dir():
        raise NoSeriesError(f"there is no folder {folder}", hint="name the folder of a series")
    old = folder / LEDGER_NAME
    if old.exists():
        _refuse_sound(folder)
    editions, skipped = [], []
    for path in sorted(path for path in folder.glob("*.png") if not path.is_symlink()):
        found = _edition_in(path)
        if isinstance(found, Edition):
            editions.append(stamped(folder, found))
        else:
            skipped.append(f"{path.name}: {found}")
    if not editions:
        raise NoSeriesError(
            f"{folder} has no picture that carries the history of an edition", hint="name the folder of a series"
        )
    kept_old, marks = None, []
    if old.exists():
        keys = {edition.key for edition in editions}
        marks = [(key, mark, note) for key, mark, note in _marks_in(old) if key in keys]
        kept_old = old.with_name(LEDGER_NAME + DAMAGED_SUFFIX)
        old.replace(kept_old)
        for rest in (f"{LEDGER_NAME}-journal", f"{LEDGER_NAME}-wal", f"{LEDGER_NAME}-shm"):
            (folder / rest).unlink(missing_ok=True)
    with Ledger(folder) as ledger:
        ledger.add(editions)
        ledger.mark(marks)
    return Recovered(editions, skipped, kept_old, len(marks))


def _marks_in(path: Path) -> list[tuple[Key, str, str]]:
    """Marks and notes in a damaged ledger, as far as it can be read within a few seconds."""
    end = monotonic() + _SECONDS
    found: list[tuple[Key, str, str]] = []
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, timeout=0.2)) as connection:
            connection.text_factory = lambda raw: raw.decode("utf-8", "replace")
            connection.execute("PRAGMA trusted_schema = OFF")
            connection.set_progress_handler(lambda: monotonic() > end, 100_000)
            for seed, variant, mark, note in connection.execute("SELECT seed, variant, mark, note FROM edition"):
                if all(isinstance(value, str) for value in (seed, variant, mark, note)) and (mark or note):
                    with suppress(FieldError):
                        found.append(((variant, parse_seed(seed)), mark if mark in MARKS else "", note))
    except (sqlite3.Error, sqlite3.Warning):
        pass  # what was read so far counts
    return found


def _refuse_sound(folder: Path) -> None:
    """Refuse to replace a readable ledger, which knows more than the pictures do."""
    try:
        with Ledger(folder) as ledger:
            known = ledger.editions()
    except DamagedLedgerError:
        return
    if known:
        raise SeriesError(
            f"the ledger of {folder} is sound: it knows {counted(len(known), 'edition')}", hint="there is nothing to recover"
        )


def _edition_in(path: Path) -> Edition | str:
    """The edition that a picture shows, or why it is none."""
    try:
        history = history_in_picture(path)
    except PictureError as fault:
        return fault.message
    if history is None:
        return "it carries no history"
    if not history.sources:
        return "it is not an edition of a series"
    own = edition_file(history.seed, history.variant, history.number)
    if path.name != own:
        return f"it is a copy of {own}"
    try:
        pixels = read_pixels(path)
    except PictureError as fault:
        return fault.message
    try:
        sight = seen(reduced(pixels), Colour.parse(history.paper))
    except (ValueError, IndexError, TypeError):
        return "it has no pixels that a picture of a series has"
    return Edition.of(
        history,
        width=pixels.shape[1],
        pixel_hash=pixel_hash(pixels),
        file=path.name,
        files=forms_beside(path.parent, path.name, history.fingerprint),
        measures=sight.look,
        palette=sight.palette,
        appearance=sight.appearance,
    )
