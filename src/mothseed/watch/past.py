"""Earlier drawings of a watched sketch for its page: the newest entries of the daybook."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mothseed.daybook import Daybook, Entry
from mothseed.daybook.since import story
from mothseed.daybook.taking_back import still_drawn
from mothseed.faults import FileError
from mothseed.sketch.recipe import dial_texts
from mothseed.watch.wish import Wish

_SHOWN = 60


@dataclass(frozen=True, slots=True)
class Past:
    """A daybook, and the command that takes back an entry."""

    book: Daybook
    take_back: Callable[[Entry], str]

    def as_plain(self) -> list[dict[str, Any]]:
        """The newest entries as plain values, newest first; empty if the daybook cannot be read."""
        try:
            entries = self.book.entries()
        except FileError:
            return []
        first = max(len(entries) - _SHOWN, 0)
        stories = story(self.book, entries[first:], entries[first - 1] if first else None)
        still = still_drawn(self.book, entries[first:])
        return [
            {
                "entry": each.entry.entry,
                "time": f"{each.entry.moment:%H:%M}",
                "words": each.words,
                "picture": f"daybook/{each.entry.entry}.png" if self.book.readable_picture(each.entry) else "",
                "wish": _wish(each.entry).as_plain() if each.entry.entry in still else None,
                "take_back": self.take_back(each.entry),
            }
            for each in list(stories)[::-1]
        ]

    def picture(self, number: int) -> Path | None:
        """The small picture of an entry, if there is one."""
        try:
            found = [entry for entry in self.book.entries() if entry.entry == number]
        except FileError:
            return None
        return self.book.readable_picture(found[0]) if found else None


def _wish(entry: Entry) -> Wish:
    recipe = entry.fitting(entry.dials)
    return Wish(recipe.but(dials=dial_texts(recipe)))
