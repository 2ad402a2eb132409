"""What a format is: suffixes, how to write a file, and how to read its history."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

from mothseed.formats.settings import Settings
from mothseed.sheet.drawing import Drawing


class Written(NamedTuple):
    """Size of a written picture."""

    width: float
    height: float
    unit: str
    """px, or the unit of the sheet for vector files"""


def _no_history(_path: Path) -> None:
    return None


@dataclass(frozen=True, slots=True)
class Format:
    """A format of picture file. The table and other packages' entry points lead to one of these."""

    name: str
    """as people call it, such as PNG"""
    endings: tuple[str, ...]
    """suffixes of its files, in lower case, with dots"""
    write: Callable[[Path, Drawing, str, Settings], Written]
    """writes a drawing, whole or not at all, with a history, which is JSON or empty; raises FileError where it cannot be
    written, PictureError for what the format cannot hold"""
    takes: frozenset[str] = frozenset({"width", "dpi"})
    """the names of those Settings that mean something to it"""
    history: Callable[[Path], str | None] = _no_history
    """reads the history back, or None where there is none; raises PictureError for what is no whole file of the format"""

    @property
    def a_file(self) -> str:
        """A file of it, with its article: "a PNG", "an SVG"."""
        return f"{'an' if self.name[0] in 'AEFHILMNORSX' else 'a'} {self.name}"
