"""Edits to the sources of a sketch between two entries, line by line."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from difflib import unified_diff
from typing import Any

from mothseed.told import counted

_LARGEST_TEXT = 1 << 20
"""Largest file compared line by line, in bytes."""
_HEAD = 2
"""Lines before the first hunk of a unified diff."""

Content = Callable[[str], bytes]


@dataclass(frozen=True, slots=True)
class Edit:
    """The edits to one file."""

    name: str
    what: str
    """changed, new or gone"""
    lines: tuple[tuple[str, str], ...] = ()
    """for a changed text: "+" or "-" with a line added or removed, "@" with the place of the next ones"""

    def as_plain(self) -> dict[str, Any]:
        """The edit as plain values for JSON."""
        return {"file": self.name, "what": self.what, "lines": self.lines}

    @property
    def words(self) -> str:
        """The edit in a few words."""
        came, went = (sum(1 for sign, _ in self.lines if sign == each) for each in "+-")
        if came and went:
            return f"{self.name}: {counted(max(came, went), 'line')} changed"
        if came or went:
            return f"{self.name}: {counted(came or went, 'line')} {'added' if came else 'removed'}"
        return f"{self.name} is {self.what}" if self.what != "changed" else f"{self.name} was changed"


def edits_between(before: Mapping[str, str], after: Mapping[str, str], contents: tuple[Content, Content]) -> list[Edit]:
    """Edits between two states of the sources, each given by content hashes of files by name; `contents` reads them. A file
    whose content is gone, or that is not text, is only reported as changed.
    """
    edits = []
    for name in sorted({*before, *after}):
        if name not in before or name not in after:
            edits.append(Edit(name, "new" if name in after else "gone"))
        elif before[name] != after[name]:
            edits.append(Edit(name, "changed", _changed_lines(*(_text(content, name) for content in contents))))
    return edits


def _text(content: Content, name: str) -> list[str] | None:
    """The lines of a file, or None if it is not text."""
    try:
        raw = content(name)
        return raw.decode().splitlines() if len(raw) <= _LARGEST_TEXT and b"\0" not in raw else None
    except (UnicodeDecodeError, LookupError):
        return None


def _changed_lines(before: list[str] | None, after: list[str] | None) -> tuple[tuple[str, str], ...]:
    if before is None or after is None:
        return ()
    lines = []
    for line in list(unified_diff(before, after, n=0, lineterm=""))[_HEAD:]:
        if line.startswith("@@"):
            place = line.split()[2].lstrip("+").split(",")[0]
            lines.append(("@", f"line {place}"))
        else:
            lines.append((line[0], line[1:]))
    return tuple(lines)
