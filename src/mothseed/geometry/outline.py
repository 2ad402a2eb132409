"""Outlines: geometry of lines and curves, open or closed, without paint."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import ByteArray, PointArray
from mothseed.errors import SketchError

MOVE, LINE, CUBIC, CLOSE = 0, 1, 2, 3
"""Verbs of an outline, as in an SVG path; they take 1, 1, 3 and 0 points."""


@dataclass(frozen=True, slots=True, eq=False)
class Outline:
    """Subpaths of straight lines and cubic Bézier curves, as verbs and the points that they take."""

    verbs: ByteArray
    """uint8 (m,)"""
    points: PointArray
    """float64 (n, 2), in the units of whatever it is drawn on"""

    def __post_init__(self) -> None:
        self.verbs.flags.writeable = False
        self.points.flags.writeable = False

    @property
    def closed(self) -> bool:
        """Whether its last subpath comes back to where it began."""
        return bool(len(self.verbs) and self.verbs[-1] == CLOSE)


def as_points(points: Iterable[object], call: str, fewest: int) -> PointArray:
    """Points as float64 (n, 2), from a list of pairs or an array.

    Raises SketchError, naming the call, where they are too few, not pairs of numbers, or not finite.
    """
    try:
        array = np.asarray(points if isinstance(points, np.ndarray) else list(points), dtype=np.float64)
    except (TypeError, ValueError):
        array = np.zeros(0)
    if array.ndim != 2 or array.shape[1] != 2:
        raise SketchError(f"{call}: points are pairs of numbers", hint=f"write {call}([(0, 0), (10, 0), (10, 5)])")
    if len(array) < fewest:
        raise SketchError(f"{call}: at least {fewest} points are needed (got {len(array)})")
    if not np.isfinite(array).all():
        place = int(np.flatnonzero(~np.isfinite(array).all(axis=1))[0])
        raise SketchError(
            f"{call}: point {place} is not finite ({array[place, 0]:g}, {array[place, 1]:g})",
            hint="look for a division by 0, or a logarithm or root of a negative number",
        )
    return array


def through(points: PointArray, *, closed: bool) -> Outline:
    """Straight lines from each point to the next."""
    verbs = np.full(len(points) + closed, LINE, np.uint8)
    verbs[0] = MOVE
    if closed:
        verbs[-1] = CLOSE
    return Outline(verbs, points.copy())
