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
        """The source of the line."""
        return linecache.getline(self.file, self.number).strip()


Places = tuple[tuple[str, int], ...]
"""Files and line numbers, the innermost first."""
Calls = tuple[Line, ...]
"""The line that drew something, then the line that called its motif, and so on up to the artwork."""


@dataclass(frozen=True, slots=True)
class Draw:
    """One call of a distribution."""

    stream: str
    """its names and keys, with slashes; empty for the root stream"""
    distribution: str
    value: Any
    """the value drawn, for JSON"""
    calls: int
    """index of the `calls` of the origins"""


@dataclass(frozen=True, slots=True, eq=False)
class Origins:
    """Where each mark of a drawing comes from."""

    calls: tuple[Calls, ...]
    """every chain of calls that led to a mark or a draw, in order of first use"""
    of_marks: WholeArray
    """int64 (n,): index of `calls` for each mark, in painting order"""
    draws: tuple[Draw, ...]
    """in order"""
    draws_before: WholeArray
    """int64 (n,): number of draws before each mark"""
    turns: tuple[Sequence[Turn], ...]
    """for each mark, the iteration of the loops around its lines, outermost first"""


class Tracer:
    """Records the lines behind marks and draws while a sketch is performed. The recorder adds to `marks` without knowing that
    it is traced, so a sketch that is not traced pays nothing.
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
        """Record a draw reported by `TracedChance`."""
        stream = "/".join(map(str, names))
        number = self.number_of(lines_of(self.own_frames(sys._getframe(1))))
        self._draws.append(Draw(stream, distribution, _plain(value), number))

    def number_and_turns(self, frame: FrameType) -> tuple[int, Sequence[Turn]]:
        """The number of the artist's lines that led to a frame, and the iterations of the loops around them."""
        own = self.own_frames(frame)
        return self.number_of(lines_of(own)), [turn for each in reversed(own) for turn in turns_of(each)]

    def number_within(self, number: int, outside: int, around: int) -> int:
        """The number of lines whose outermost, `outside` of them, are replaced by those of another number: the lines of a
        symbol as seen from one of its uses.
        """
        lines = self.lines[number]
        return self.number_of(lines[: len(lines) - outside] + self.lines[around])

    def depth(self, frame: FrameType) -> int:
        """How many frames of the artist's code lead to a frame."""
        return len(self.own_frames(frame))

    def own_frames(self, frame: FrameType | None) -> list[FrameType]:
        """The frames of the artist's code that led to one, innermost first."""
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
        """The number of some lines, assigned when they were first seen."""
        number = self._numbers.setdefault(lines, len(self._numbers))
        if number == len(self.lines):
            self.lines.append(lines)
        return number

    @property
    def draw_count(self) -> int:
        """The number of draws so far."""
        return len(self._draws)

    def origins(self, drawing: Drawing) -> Origins:
        """The origins of the marks of the recorded drawing."""
        calls = tuple(tuple(Line(*line) for line in lines) for lines in self._numbers)
        numbers, draws, turns = self.marks.by_mark(drawing)
        return Origins(calls, numbers, tuple(self._draws), draws, turns)


class TracedRecords(Records):
    """Records of marks that also note which lines added them."""

    def __init__(self, tracer: Tracer, outside: int = 0) -> None:
        super().__init__()
        self._tracer = tracer
        self._outside = outside
        """for records of a symbol, how many lines led to its definition"""
        self.runs: list[tuple[int, int, Sequence[Turn]]] = []
        """for each addition the number of its lines, the number of draws before it, the iterations of loops"""
        self.run_of: list[int] = []
        """which addition each mark belongs to"""

    def __iadd__(self, records: bytes) -> TracedRecords:  # type: ignore[override, misc]  # bytes is what it is given
        super().__iadd__(records)
        tracer = self._tracer
        number, turns = tracer.number_and_turns(sys._getframe(1))
        self.run_of += [len(self.runs)] * (len(records) // MARK.itemsize)
        self.runs.append((number, tracer.draw_count, turns))
        return self

    def by_mark(self, drawing: Drawing) -> tuple[WholeArray, WholeArray, tuple[Sequence[Turn], ...]]:
        """What was recorded for each mark of a drawing: the numbers of its lines and of draws before it, int64 (n,) each, and
        the iterations of loops.
        """
        numbers, draws = np.array([run[:2] for run in self.runs], np.int64).reshape(-1, 2).T
        runs = np.array(self.run_of, np.int64)[drawing.order]
        return numbers[runs], draws[runs], tuple(self.runs[run][2] for run in runs.tolist())

    def apart(self) -> TracedRecords:
        """Records of a symbol, which know where it is defined."""
        return TracedRecords(self._tracer, self._tracer.depth(sys._getframe(1)))

    def add_uses(self, marks: bytes, symbol: Records, count: int) -> None:
        """Add the marks of a symbol, whose lines are those inside it, called from the line that uses it."""
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
"""The caller of the artwork, above which nothing is the artist's."""
_LONGEST = 6
"""Most values of an array that are kept; of more, only the first few."""


def _plain(value: Any) -> Any:
    """A drawn value, short enough to keep."""
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
    """The innermost lines that drew some marks, with counts, most first."""
    numbers, counts = np.unique(origins.of_marks[np.asarray(marks, np.int64)], return_counts=True)
    totals: dict[Line, int] = {}
    for number, count in zip(numbers.tolist(), counts.tolist(), strict=True):
        if origins.calls[number]:
            line = origins.calls[number][0]
            totals[line] = totals.get(line, 0) + count
    return sorted(totals.items(), key=lambda pair: -pair[1])
