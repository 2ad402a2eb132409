"""The recorder: the one place that drawing on a sheet changes."""

from __future__ import annotations

from struct import Struct

import numpy as np

from mothseed.arrays import RecordArray
from mothseed.colour.value import Colour
from mothseed.geometry.affine import Affine
from mothseed.geometry.outline import Outline
from mothseed.sheet.drawing import MARK, Drawing

pack_head = Struct("<4dIIB").pack
"""The first part of a MARK record: place, view, outline, kind. A packed style is the rest."""

_COLOUR_STEPS = 65535
"""Colours are kept in steps finer than any screen shows and coarser than what processors disagree on."""


class Recorder:
    """Gathers marks, the views they were drawn on and the outlines they use, each outline once.

    `marks` grows by whole MARK records, added to it as bytes: the cheapest way for Python to hand over a row of numbers.
    """

    __slots__ = ("_outline_index", "_outlines", "_views", "marks")

    def __init__(self) -> None:
        self.marks = bytearray()
        self._views: list[Affine] = []
        self._outlines: list[Outline] = []
        self._outline_index: dict[int, int] = {}

    def add_view(self, matrix: Affine) -> int:
        """The number under which marks refer to a view with this map to the sheet."""
        self._views.append(matrix)
        return len(self._views) - 1

    def add_outline(self, outline: Outline) -> int:
        """The number of an outline; the same one drawn again has the same number."""
        number = self._outline_index.get(id(outline))
        if number is None:
            number = len(self._outlines)
            # The list keeps the outline alive, so that its id stays its own.
            self._outlines.append(outline)
            self._outline_index[id(outline)] = number
        return number

    def add_marks(self, rows: RecordArray) -> None:
        """Many marks at once: MARK (n,)."""
        self.marks += rows.tobytes()

    def drawing(self, width: float, height: float, unit: str, paper: Colour) -> Drawing:
        """All that was recorded, as arrays that no longer change."""
        marks = np.frombuffer(self.marks, dtype=MARK).copy()
        for paint in ("fill", "stroke"):
            marks[paint] = np.round(marks[paint] * np.float32(_COLOUR_STEPS)) / np.float32(_COLOUR_STEPS)
        marks.flags.writeable = False
        views = np.array(self._views, dtype=np.float64).reshape(-1, 6)
        return Drawing(width, height, unit, paper, marks, views, tuple(self._outlines))
