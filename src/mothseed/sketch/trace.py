"""Which lines of a sketch drew each mark."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

import numpy as np

from mothseed.arrays import WholeArray
from mothseed.sheet.drawing import MARK, Drawing
from mothseed.sketch.fault import OwnFile


@dataclass(frozen=True, slots=True)
class Line:
    """A line of the artist's own code."""

    file: str
    number: int

    def __str__(self) -> str:
        return f"{Path(self.file).name}:{self.number}"


Calls = tuple[Line, ...]
"""The line that drew something, then the one that called the motif it stands in, and so on up to the artwork."""


@dataclass(frozen=True, slots=True, eq=False)
class Origins:
    """Where each mark of a drawing comes from."""

    calls: tuple[Calls, ...]
    """every way that led to a mark, in the order in which they were first gone"""
    of_marks: WholeArray
    """int64 (n,): index of `calls` for each mark, in painting order"""


class TracedMarks(bytearray):
    """Recorded marks that know which lines added them.

    The recorder adds marks as bytes and knows nothing of it; a sketch that is not traced pays nothing.
    """

    def __init__(self, is_own: OwnFile) -> None:
        super().__init__()
        self._is_own = is_own
        self._own_files: dict[str, bool] = {}
        self._numbers: dict[tuple[tuple[str, int], ...], int] = {}
        self._runs: list[tuple[int, int]] = []

    def __iadd__(self, records: bytes) -> TracedMarks:  # type: ignore[override, misc]  # bytes is what it is given
        super().__iadd__(records)
        number = self._numbers.setdefault(self._called_from(sys._getframe(1)), len(self._numbers))
        self._runs.append((len(self) // MARK.itemsize, number))
        return self

    def _called_from(self, frame: FrameType | None) -> tuple[tuple[str, int], ...]:
        """The artist's own lines on the way here, the innermost first."""
        own: list[tuple[str, int]] = []
        while frame is not None:
            name = frame.f_code.co_filename
            is_own = self._own_files.get(name)
            if is_own is None:
                is_own = self._own_files[name] = self._is_own(Path(name))
            if is_own:
                own.append((name, frame.f_lineno))
            elif name == _PERFORMER:
                break
            frame = frame.f_back
        return tuple(own)

    def origins(self, drawing: Drawing) -> Origins:
        """Where the marks of the drawing that was recorded come from."""
        calls = tuple(tuple(Line(*line) for line in lines) for lines in self._numbers)
        ends, numbers = np.array(self._runs, np.int64).reshape(-1, 2).T
        return Origins(calls, np.repeat(numbers, np.diff(ends, prepend=0))[drawing.order])


_PERFORMER = str(Path(__file__).with_name("perform.py"))
"""What calls the artwork: nothing above it is the artist's."""


def drawing_lines(origins: Origins, marks: Sequence[int] | WholeArray) -> list[tuple[Line, int]]:
    """The innermost lines that drew some marks, each with how many, the most first."""
    numbers, counts = np.unique(origins.of_marks[np.asarray(marks, np.int64)], return_counts=True)
    totals: dict[Line, int] = {}
    for number, count in zip(numbers.tolist(), counts.tolist(), strict=True):
        if origins.calls[number]:
            line = origins.calls[number][0]
            totals[line] = totals.get(line, 0) + count
    return sorted(totals.items(), key=lambda pair: -pair[1])
