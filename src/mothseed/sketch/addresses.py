"""How to recognize a mark when the sketch is performed again and draws differently."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from types import FrameType
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import WholeArray
from mothseed.chance.studied import StudiedChance, Study
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.record import MARK, Records
from mothseed.sketch.explain import OwnFile
from mothseed.sketch.loops import Turn, counters_of
from mothseed.sketch.perform import Enough, TooManyMarks
from mothseed.sketch.trace import Places, TracedRecords, Tracer, lines_of


class Address(NamedTuple):
    """Which call drew a mark."""

    lines: Places
    """the line that drew it, then the one that called the motif it stands in, and so on"""
    turns: tuple[tuple[str, Any], ...]
    """the iteration of the loops around them, if these are counted, and the streams in scope"""


class AddressTracer(Tracer):
    """Records the addresses of what some lines draw, and as little as possible of everything else."""

    def __init__(
        self,
        is_own: OwnFile,
        wanted: frozenset[Places] | None,
        study: Study,
        enough: Mapping[Address, int] | None = None,
        most: float = math.inf,
    ) -> None:
        """`wanted` are lines with their callers, or None for all of the sketch; drawing ends once there are so many marks at
        each address in `enough`, and is given up, with TooManyMarks, if there are more than `most` in all.
        """
        super().__init__(is_own)
        self.marks = AddressedRecords(self)
        self._missing = dict(enough or {})
        self._room = most
        self._wanted = wanted
        self._inner = None if wanted is None else {lines[0] for lines in wanted if lines}
        self._study = study
        self._elsewhere = self.number_of(())

    def number_and_turns(self, frame: FrameType) -> tuple[int, Sequence[Turn]]:
        """The number of the lines, and what distinguishes this call from other calls of them."""
        inner: FrameType | None = frame
        while inner is not None and not self.is_own(inner.f_code.co_filename):
            inner = inner.f_back
        if inner is None or (self._inner is not None and (inner.f_code.co_filename, inner.f_lineno) not in self._inner):
            return self._elsewhere, ()
        own = self.own_frames(inner)
        lines = lines_of(own)
        if self._wanted is not None and lines not in self._wanted:
            return self._elsewhere, ()
        return self.number_of(lines), [turn for each in reversed(own) for turn in _steady_turns(each)]

    @property
    def draw_count(self) -> int:
        """How many streams have been drawn from."""
        return len(self._study.drawn)

    def recorded(self, number: int, turns: Sequence[Turn], count: int) -> None:
        """So many more marks were recorded; raises Enough if no more are wanted, and TooManyMarks if there are too many."""
        self._room -= count
        if self._room < 0:
            raise TooManyMarks
        if self._missing and number != self._elsewhere:
            address = Address(self.lines[number], tuple(turns))
            if address in self._missing:
                self._missing[address] -= count
                if self._missing[address] <= 0:
                    del self._missing[address]
                    if not self._missing:
                        raise Enough

    def addressed(self, drawing: Drawing) -> dict[Address, WholeArray]:
        """The marks of the recorded drawing at each address, int64 (k,), in drawing order."""
        runs = self.marks.runs
        run_of = np.array(self.marks.run_of, np.int64)
        # The same lines in the same round may draw several times; one number stands for all.
        numbers: dict[Address, int] = {}
        address_of = np.full(len(runs), -1)
        for run, (number, _, turns) in enumerate(runs):
            if number != self._elsewhere:
                address_of[run] = numbers.setdefault(Address(self.lines[number], tuple(turns)), len(numbers))
        at = address_of[run_of[drawing.order]]
        marks = np.flatnonzero(at >= 0)
        marks = marks[np.lexsort((drawing.order[marks], at[marks]))]
        pieces = np.split(marks, np.searchsorted(at[marks], np.arange(1, len(numbers))))
        return {address: piece for address, piece in zip(numbers, pieces, strict=False) if len(piece)}


class AddressedRecords(TracedRecords):
    """Records that end a performance once there are enough marks."""

    _tracer: AddressTracer

    def __iadd__(self, records: bytes) -> AddressedRecords:  # type: ignore[override, misc]  # bytes is what it is given
        super().__iadd__(records)
        number, _, turns = self.runs[-1]
        self._tracer.recorded(number, turns, len(records) // MARK.itemsize)
        return self

    def add_uses(self, marks: bytes, symbol: Records, count: int) -> None:
        """Add the marks of a symbol, so many times."""
        before = len(self.run_of)
        super().add_uses(marks, symbol, count)
        for run, many in Counter(self.run_of[before:]).items():
            number, _, turns = self.runs[run]
            self._tracer.recorded(number, turns, many)


def _steady_turns(frame: FrameType) -> list[Turn]:
    """The parts of a frame that stay the same when its drawing changes: loop counters and streams."""
    values = frame.f_locals
    streams = [(name, value.names) for name, value in values.items() if isinstance(value, StudiedChance)]
    return [*counters_of(frame, values), *streams]
