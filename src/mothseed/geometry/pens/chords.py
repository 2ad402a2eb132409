"""An outline as straight chords: for its length, its bounds, places along it, and what lies inside."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import FloatArray, PointArray

PIECES_OF_CURVE = 64
"""Chords that a cubic is measured by; its length is then off by less than one part in ten thousand."""
_PARTS = np.linspace(0.0, 1.0, PIECES_OF_CURVE + 1)[1:, None]
_RESTS = 1.0 - _PARTS


class ChordPen:
    """Gathers the points of an outline, curves cut into chords."""

    def __init__(self) -> None:
        self._subpaths: list[list[PointArray]] = []
        self._closed: list[bool] = []
        self._here = self._start = np.zeros(2)

    def move(self, x: float, y: float) -> None:
        """Begin a subpath."""
        self._here = self._start = np.array([x, y])
        self._subpaths.append([self._here[None, :]])
        self._closed.append(False)

    def line(self, x: float, y: float) -> None:
        """Go straight to a point."""
        self._go(np.array([[x, y]]))

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """Go to a point along a curve."""
        s, t = _RESTS, _PARTS
        first, second, third = np.array([x1, y1]), np.array([x2, y2]), np.array([x, y])
        self._go(s**3 * self._here + 3 * s * s * t * first + 3 * s * t * t * second + t**3 * third)

    def close(self) -> None:
        """Go straight back."""
        self._go(self._start[None, :])
        self._closed[-1] = True

    def _go(self, points: PointArray) -> None:
        self._subpaths[-1].append(points)
        self._here = points[-1]

    @property
    def subpaths(self) -> list[tuple[PointArray, bool]]:
        """The points of each subpath, float64 (n, 2), back at its first one if it is closed, and whether it is."""
        return [(np.concatenate(points), closed) for points, closed in zip(self._subpaths, self._closed, strict=True)]

    @property
    def points(self) -> PointArray:
        """All points, float64 (n, 2)."""
        return np.concatenate([np.zeros((0, 2)), *(points for points, _ in self.subpaths)])

    @property
    def steps(self) -> tuple[FloatArray, FloatArray]:
        """The chords that have a length: their ends, float64 (n, 2, 2), and lengths, float64 (n,)."""
        runs = [np.stack([points[:-1], points[1:]], axis=1) for points, _ in self.subpaths]
        ends = np.concatenate([np.zeros((0, 2, 2)), *runs])
        across, down = (ends[:, 1] - ends[:, 0]).T
        lengths = np.sqrt(across * across + down * down)
        return ends[lengths > 0], lengths[lengths > 0]
