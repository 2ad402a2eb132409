"""Which lines of a sketch drew each mark, and what chance gave them."""

from __future__ import annotations

import linecache
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from types import FrameType
from typing import Any

import numpy as np

from mothseed.arrays import WholeArray
from mothseed.chance.outcome import as_plain
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.record import MARK, Records
from mothseed.sketch.explain import OwnFile
from mothseed.sketch.loops import Turn, turns_of


@dataclass(frozen=True, slots=True)
class Line:
    """A line of the artist's own code."""

    file: str
    number: int

    def __str__(self) -> str:
        return f"{Path(self.file).name}:{self.number}"

    @property
    def text(self) -> str:
        """What stands on it."""
        return linecache.getline(self.file, self.number).strip()


Places = tuple[tuple[str, int], ...]
"""Files and line numbers, the innermost first."""
Calls = tuple[Line, ...]
"""The line that drew something, then the one that called the motif it stands in, and so on up to the artwork."""


@dataclass(frozen=True, slots=True)
class Draw:
    """One call of a distribution."""

    stream: str
    """its names and keys, with slashes; empty for the chance that the sketch is given"""
    distribution: str
    value: Any
    """what came, as JSON can have it"""
    calls: int
    """index of the `calls` of the origins"""


@dataclass(frozen=True, slots=True, eq=False)
class Origins:
    """Where each mark of a drawing comes from."""

    calls: tuple[Calls, ...]
    """every way that led to a mark or a draw, in the order in which they were first gone"""
    of_marks: WholeArray
    """int64 (n,): index of `calls` for each mark, in painting order"""
    draws: tuple[Draw, ...]
    """in the order in which they were made"""
    draws_before: WholeArray
    """int64 (n,): how many draws there had been when each mark was drawn"""
    turns: tuple[Sequence[Turn], ...]
    """of each mark, which turn of the loops around its lines drew it, the outermost first"""


class Tracer:
    """Notes the lines behind marks and draws while a sketch is performed.

    `marks` is what the recorder adds records to; it knows nothing of being watched, and a sketch that is not traced pays
    nothing.
    """

    def __init__(self, is_own: OwnFile) -> None:
        self._is_own = is_own
        self._own_files: dict[str, bool] = {}
        self._numbers: dict[Places, int] = {}
        self.lines: list[Places] = []
        """those that have a number, by it"""
        self._draws: list[Draw] = []
        self.marks: TracedRecords = TracedRecords(self)

    def told(self, names: tuple[str | float, ...], distribution: str, value: Any) -> None:
        """Note a draw, as `TracedChance` tells of it."""
        stream = "/".join(map(str, names))
        number = self.number_of(lines_of(self.own_frames(sys._getframe(1))))
        self._draws.append(Draw(stream, distribution, _plain(value), number))

    def number_and_turns(self, frame: FrameType) -> tuple[int, Sequence[Turn]]:
        """The number of the artist's own lines on the way to a frame, and the turns of the loops around them."""
        own = self.own_frames(frame)
        return self.number_of(lines_of(own)), [turn for each in reversed(own) for turn in turns_of(each)]

    def number_within(self, number: int, outside: int, around: int) -> int:
        """The number of lines of which the outermost, `outside` of them, are put in place of those of another number.

        So is told where a symbol is used of what draws in it.
        """
        lines = self.lines[number]
        return self.number_of(lines[: len(lines) - outside] + self.lines[around])

    def depth(self, frame: FrameType) -> int:
        """How many frames of the artist's own code lead to a frame."""
        return len(self.own_frames(frame))

    def own_frames(self, frame: FrameType | None) -> list[FrameType]:
        """The frames of the artist's own code on the way to one, the innermost first."""
        own: list[FrameType] = []
        while frame is not None:
            name = frame.f_code.co_filename
            if self.is_own(name):
                own.append(frame)
            elif name == _PERFORMER:
                break
            frame = frame.f_back
        return own

    def is_own(self, file: str) -> bool:
        """Whether a file is the artist's own code."""
        known = self._own_files.get(file)
        if known is None:
            known = self._own_files[file] = self._is_own(Path(file))
        return known

    def number_of(self, lines: Places) -> int:
        """The number of some lines: that which they got when they first were seen."""
        number = self._numbers.setdefault(lines, len(self._numbers))
        if number == len(self.lines):
            self.lines.append(lines)
        return number

    @property
    def draw_count(self) -> int:
        """How many draws there have been."""
        return len(self._draws)

    def origins(self, drawing: Drawing) -> Origins:
        """Where the marks of the drawing that was recorded come from."""
        calls = tuple(tuple(Line(*line) for line in lines) for lines in self._numbers)
        numbers, draws, turns = self.marks.by_mark(drawing)
        return Origins(calls, numbers, tuple(self._draws), draws, turns)


class TracedRecords(Records):
    """Records of marks; whenever some are added it is noted which lines did it."""

    def __init__(self, tracer: Tracer, outside: int = 0) -> None:
        super().__init__()
        self._tracer = tracer
        self._outside = outside
        """of a symbol's records, how many lines led to where it was made"""
        self.runs: list[tuple[int, int, Sequence[Turn]]] = []
        """of each addition the number of the lines, how many draws there had been, the turns of the loops"""
        self.run_of: list[int] = []
        """which of them drew each mark"""

    def __iadd__(self, records: bytes) -> TracedRecords:  # type: ignore[override, misc]  # bytes is what it is given
        super().__iadd__(records)
        tracer = self._tracer
        number, turns = tracer.number_and_turns(sys._getframe(1))
        self.run_of += [len(self.runs)] * (len(records) // MARK.itemsize)
        self.runs.append((number, tracer.draw_count, turns))
        return self

    def by_mark(self, drawing: Drawing) -> tuple[WholeArray, WholeArray, tuple[Sequence[Turn], ...]]:
        """Of each mark of a drawing that was recorded here what was noted of it: the numbers of its lines, how many draws there
        had been, int64 (n,) each, and the turns of the loops.
        """
        numbers, draws = np.array([run[:2] for run in self.runs], np.int64).reshape(-1, 2).T
        runs = np.array(self.run_of, np.int64)[drawing.order]
        return numbers[runs], draws[runs], tuple(self.runs[run][2] for run in runs.tolist())

    def apart(self) -> TracedRecords:
        """Records of a symbol, which know where it is made."""
        return TracedRecords(self._tracer, self._tracer.depth(sys._getframe(1)))

    def add_uses(self, marks: bytes, symbol: Records, count: int) -> None:
        """Add the marks of a symbol; what drew them are the lines in it, within those that use it."""
        assert isinstance(symbol, TracedRecords)
        super().__iadd__(marks)
        tracer, before = self._tracer, len(self.runs)
        around, turns = tracer.number_and_turns(sys._getframe(1))
        for number, _, inner in symbol.runs:
            within = tracer.number_within(number, symbol._outside, around)
            self.runs.append((within, tracer.draw_count, [*turns, *inner]))
        self.run_of += [before + run for run in symbol.run_of] * count


def lines_of(own: list[FrameType]) -> Places:
    """The file and line number of each frame."""
    return tuple((frame.f_code.co_filename, frame.f_lineno) for frame in own)


_PERFORMER = str(Path(__file__).with_name("perform.py"))
"""What calls the artwork: nothing above it is the artist's."""
_LONGEST = 6
"""Values of an array that are kept; of more the first few stand for all."""


def _plain(value: Any) -> Any:
    """What came, short enough to keep with each draw."""
    if isinstance(value, np.ndarray):
        flat = value.ravel()
        return [*flat[:_LONGEST].tolist(), "..."] if flat.size > _LONGEST else value.tolist()
    if isinstance(value, list | tuple) and not hasattr(value, "css"):
        some = [_plain(item) for item in value[:_LONGEST]]
        return [*some, "..."] if len(value) > _LONGEST else some
    if callable(value):
        return getattr(value, "__name__", type(value).__name__)
    return as_plain(value)


def drawing_lines(origins: Origins, marks: Sequence[int] | WholeArray) -> list[tuple[Line, int]]:
    """The innermost lines that drew some marks, each with how many, the most first."""
    numbers, counts = np.unique(origins.of_marks[np.asarray(marks, np.int64)], return_counts=True)
    totals: dict[Line, int] = {}
    for number, count in zip(numbers.tolist(), counts.tolist(), strict=True):
        if origins.calls[number]:
            line = origins.calls[number][0]
            totals[line] = totals.get(line, 0) + count
    return sorted(totals.items(), key=lambda pair: -pair[1])
