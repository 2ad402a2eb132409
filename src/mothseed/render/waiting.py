"""Progress of painting that takes a while."""

from __future__ import annotations

import threading
from collections.abc import Callable
from time import monotonic
from typing import NamedTuple

_PATIENCE, _BETWEEN = 2.0, 0.25
"""Seconds of painting before the first report, and between reports."""


class PaintingProgress(NamedTuple):
    """How far painting is."""

    share: float
    """portion of the picture painted, 0 to 1"""
    seconds_left: float
    """a guess"""


_asked: list[Callable[[PaintingProgress], None]] = []


def when_painting_long(tell: Callable[[PaintingProgress], None]) -> None:
    """Have `tell` called now and then while a picture takes longer than two seconds to paint; replaces an earlier listener."""
    _asked[:] = [tell]


class PaintedTiles:
    """Counts the painted tiles of a picture."""

    def __init__(self, tiles: int) -> None:
        self._tiles, self._done = tiles, 0
        self._begun = self._told = monotonic()
        self._is_told = False
        self._telling = threading.Lock()

    def advance(self, tiles: int) -> None:
        """So many more tiles are painted."""
        if not _asked:
            return
        with self._telling:
            self._done += tiles
            now = monotonic()
            took, is_done = now - self._begun, self._done >= self._tiles
            if took < _PATIENCE or (now - self._told < _BETWEEN and not is_done) or (is_done and not self._is_told):
                return
            self._told, self._is_told = now, True
            progress = PaintingProgress(self._done / self._tiles, took * (self._tiles / self._done - 1))
            for tell in _asked:
                tell(progress)
