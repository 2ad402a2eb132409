"""Contact sheets of a series: which editions, in which sections, with which captions."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from mothseed.layout import CONTACT_NAME
from mothseed.report.contact import Frame, Section, contact_sheet
from mothseed.report.page import write_page
from mothseed.report.theme import LIGHT, Theme
from mothseed.series import Edition, series_editions
from mothseed.series.table import series_keys, table_of
from mothseed.told import counted, told

MOST_ON_A_PAGE = 400
"""Most pictures on a page; with more, they would be too small to tell apart, or the sheet too long to look at."""


def frames_of(folder: Path, editions: Sequence[Edition], caption: str = "") -> list[Frame]:
    """Existing pictures of editions, with their captions: each {column} is replaced by its value for that edition. Without a
    caption, outcomes are shown.
    """
    frames = []
    rows = table_of(editions).dicts() if caption else [{}] * len(editions)
    for edition, row in zip(editions, rows, strict=True):
        if not edition.failed and (folder / edition.file).is_file():
            came = ", ".join(dict.fromkeys(told(outcome.value) for outcome in edition.outcomes))
            note = _filled(caption, row) if caption else came
            frames.append(Frame(folder / edition.file, edition.title, note, edition.mark))
    return frames


def sections_of(folder: Path, editions: Sequence[Edition], group: str, caption: str) -> list[Section]:
    """A section for each value of a column, in order of appearance; a single section without a column."""
    groups: dict[str, list[Edition]] = {}
    rows = table_of(editions).dicts() if group else [{}] * len(editions)
    for edition, row in zip(editions, rows, strict=True):
        heading = f"{group} {told(row.get(group))}" if group else ""
        groups.setdefault(heading, []).append(edition)
    sections = [Section(heading, tuple(frames_of(folder, some, caption))) for heading, some in groups.items()]
    return [section for section in sections if section.frames]


def write_contact_sheet(folder: Path, title: str, caption: str = "", theme: Theme = LIGHT) -> Path | None:
    """Write the contact sheet of a series into its folder, with an even selection of very many editions; None if none was
    made.
    """
    keys = series_keys(folder, "status = 'done'")
    count = counted(len(keys), "edition")
    if len(keys) > MOST_ON_A_PAGE:
        count = f"{MOST_ON_A_PAGE} of {count}"
        keys = [keys[index * len(keys) // MOST_ON_A_PAGE] for index in range(MOST_ON_A_PAGE)]
    frames = frames_of(folder, series_editions(folder, keys=keys), caption)
    if not frames:
        return None
    path = folder / CONTACT_NAME
    write_page(contact_sheet(frames, title, count, theme), path, through_links=False)
    return path


def _filled(caption: str, row: Mapping[str, Any]) -> str:
    return re.sub(r"\{([^{}]*)\}", lambda match: told(row.get(match[1]), 3), caption)
