"""Where all distributions take their numbers: the next of a stream, one at a time or many at once."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.bits import Stream, stream_of, unit, units
from mothseed.chance.outcome import Outcome, Promise, as_plain
from mothseed.faults import SketchError

Size = int | tuple[int, ...]

_SINGLE_DRAWS = 8
"""Draws of a stream computed one by one: most streams never need more, and a block costs as much as ten."""
_LARGEST_BLOCK = 1024
NOTHING: list[float] = []
"""Stands for "none ready" in a fresh stream and is never filled: most streams of a sketch need no list."""


class Draws:
    """The position in a stream, and the outcomes recorded."""

    __slots__ = ("_outcomes", "_path", "_position", "_ready", "_root", "_stream")

    _root: str
    _path: str
    _position: int
    _ready: list[float]
    _stream: Stream | None
    _outcomes: list[Outcome]

    def _unit(self) -> float:
        ready = self._ready
        return ready.pop() if ready else self._further_unit()

    def _further_unit(self) -> float:
        """The next number if none is ready."""
        position = self._position
        if position < _SINGLE_DRAWS:
            self._position = position + 1
            return unit(self._stream or self._found_stream(), position)
        count = min(4 * position, _LARGEST_BLOCK)
        self._ready = units(self._found_stream(), position, count)[::-1].tolist()
        self._position = position + count
        return self._ready.pop()

    def _found_stream(self) -> Stream:
        """The stream of this path; not computed before a draw needs it, as many branches only lead to others."""
        stream = self._stream
        if stream is None:
            stream = self._stream = stream_of(self._root + self._path)
        return stream

    def _units(self, size: Size) -> FloatArray:
        shape = size if isinstance(size, tuple) else (size,)
        if not all(isinstance(side, int | np.integer) and side >= 0 for side in shape):
            raise SketchError(f"size= takes a whole number from 0 on, or a tuple of them (got {size!r})")
        count = math.prod(shape)
        first = self._go_back(0)
        self._position = first + count
        return units(self._found_stream(), first, count).reshape(shape)

    def _go_back(self, count: int) -> int:
        """Give the last numbers back, so that they are drawn again; returns the new position in the stream."""
        self._position -= len(self._ready) + count
        self._ready = []
        return self._position

    def _kept(self, label: str | None, value: Any, promised: Iterable[tuple[object, float]] = ()) -> None:
        if label is not None:
            self._outcomes.append(Outcome(label, as_plain(value), Promise.of(promised)))
