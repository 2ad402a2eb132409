"""An outline as verbs and points, from anything that can drive a pen."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import ByteArray, PointArray
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE


class RecordPen:
    """Records what is drawn with it."""

    def __init__(self) -> None:
        self._verbs: list[int] = []
        self._points: list[tuple[float, float]] = []

    def move(self, x: float, y: float) -> None:
        """Begin a subpath."""
        self._verbs.append(MOVE)
        self._points.append((x, y))

    def line(self, x: float, y: float) -> None:
        """Go straight to a point."""
        self._verbs.append(LINE)
        self._points.append((x, y))

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """Go to a point along a curve."""
        self._verbs.append(CUBIC)
        self._points += [(x1, y1), (x2, y2), (x, y)]

    def close(self) -> None:
        """Go straight back."""
        self._verbs.append(CLOSE)

    @property
    def verbs(self) -> ByteArray:
        """uint8 (m,)."""
        return np.array(self._verbs, np.uint8)

    @property
    def points(self) -> PointArray:
        """float64 (n, 2)."""
        return np.array(self._points, np.float64).reshape(-1, 2)
