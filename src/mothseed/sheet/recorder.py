"""The recorder: the one place that drawing on a sheet changes."""

from __future__ import annotations

from struct import Struct

import numpy as np

from mothseed.arrays import RecordArray
from mothseed.colour.value import Colour
from mothseed.geometry.affine import Affine
from mothseed.geometry.outline import Outline
from mothseed.sheet.drawing import MARK, Drawing
from mothseed.sheet.style import Style

pack_head = Struct("<4dIIB").pack
"""The first part of a MARK record: place, view, outline, kind. A packed style is the rest."""

PaintKey = tuple[object, ...]


class Recorder:
    """Gathers marks, the views they were drawn on and the outlines they use, each outline once.

    `marks` grows by whole MARK records, added to it as bytes: the cheapest way for Python to hand over a row of numbers.
    """

    __slots__ = ("_outline_index", "_outlines", "_paints", "_views", "marks")

    def __init__(self) -> None:
        self.marks = bytearray()
        self._views: list[Affine] = []
        self._outlines: list[Outline] = []
        self._outline_index: dict[int, int] = {}
        self._paints: dict[Style, dict[PaintKey, bytes]] = {}

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

    def paints_of(self, style: Style) -> dict[PaintKey, bytes]:
        """The packed variations of a style that were used so far."""
        return self._paints.setdefault(style, {})

    def drawing(self, width: float, height: float, unit: str, paper: Colour) -> Drawing:
        """All that was recorded, as arrays that no longer change."""
        marks = np.frombuffer(bytes(self.marks), dtype=MARK)
        views = np.array(self._views, dtype=np.float64).reshape(-1, 6)
        return Drawing(width, height, unit, paper, marks, views, tuple(self._outlines))
