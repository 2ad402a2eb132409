"""The page of a daybook: what was drawn, newest first, and what was changed for it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import groupby
from typing import Any

from mothseed.daybook import Daybook, Entry
from mothseed.daybook.edits import Edit
from mothseed.daybook.since import Since
from mothseed.report.web import filled_page
from mothseed.told import assignments, counted

_MOST_LINES = 40
"""Most lines of source shown for an entry; the rest are counted."""


def daybook_page(book: Daybook, stories: Sequence[Since], commands: Callable[[Entry], tuple[str, str]]) -> str:
    """The page as HTML, with pictures in files beside it; `commands` returns the command that redraws an entry, and its
    label.
    """
    newest_first = [_card(book, story, *commands(story.entry)) for story in reversed(stories)]
    days = [{"day": day, "cards": list(cards)} for day, cards in groupby(newest_first, lambda card: card["day"])]
    return filled_page("daybook.html", sketch=book.sketch.name, days=days, count=counted(len(stories), "picture"))


def _card(book: Daybook, story: Since, command: str, purpose: str) -> dict[str, Any]:
    entry = story.entry
    picture = book.readable_picture(entry)
    moment = entry.moment
    return {
        "entry": entry.entry,
        "day": f"{moment:%A}, {moment.day} {moment:%B %Y}",
        "time": f"{moment:%H:%M}",
        "seed": entry.seed,
        "marks": counted(entry.marks, "mark"),
        "picture": "" if picture is None else picture.relative_to(book.folder).as_posix(),
        "words": story.words,
        "edits": [_shown(edit) for edit in story.edits if edit.lines],
        "shapes": story.shapes,
        "came": assignments(story.came),
        "command": command,
        "purpose": purpose,
    }


def _shown(edit: Edit) -> dict[str, Any]:
    return {"name": edit.name, "lines": edit.lines[:_MOST_LINES], "more": max(len(edit.lines) - _MOST_LINES, 0)}
