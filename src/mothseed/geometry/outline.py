"""Outlines: geometry of lines and curves, open or closed, without paint."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np

from mothseed.arrays import ByteArray, PointArray, WholeArray
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine, transformed
from mothseed.geometry.pens.base import Pen
from mothseed.geometry.verbs import CLOSE, LINE, MOVE, POINTS_TAKEN
from mothseed.values import fixed


@fixed("its methods give new outlines: outline.moved(10, 0), outline.turned(30), outline.joined(other)")
@dataclass(frozen=True, slots=True, eq=False)
class Outline:
    """Subpaths of straight lines and cubic Bézier curves, as verbs and the points that they take."""

    verbs: ByteArray
    """uint8 (m,)"""
    points: PointArray
    """float64 (n, 2), in the units of whatever it is drawn on"""

    def __post_init__(self) -> None:
        self.verbs.setflags(write=False)
        self.points.setflags(write=False)

    @property
    def closed(self) -> bool:
        """Whether its last subpath comes back to where it began."""
        return bool(len(self.verbs) and self.verbs[-1] == CLOSE)

    def transformed(self, matrix: Affine) -> Outline:
        """The outline under an affine map."""
        return Outline(self.verbs.copy(), transformed(self.points, np.array(matrix)))

    def moved(self, x: float, y: float) -> Outline:
        """The outline moved by x and y."""
        return Outline(self.verbs, self.points + np.array([x, y]))

    def turned(self, degrees: float, pivot: tuple[float, float] = (0.0, 0.0)) -> Outline:
        """The outline turned clockwise about a point."""
        back = Affine.rotation(degrees).after(Affine.translation(-pivot[0], -pivot[1]))
        return self.transformed(Affine.translation(*pivot).after(back))

    def scaled(self, factor: float) -> Outline:
        """The outline enlarged from the origin."""
        return self.transformed(Affine.scaling(factor))

    def joined(self, other: Outline) -> Outline:
        """This outline and another as one: what one covers of the other is a matter of the fill rule."""
        return Outline(np.concatenate([self.verbs, other.verbs]), np.concatenate([self.points, other.points]))

    def reversed(self) -> Outline:
        """The same outline drawn from its end to its start."""
        pieces = []
        for verbs, points in self.subpaths():
            shut = verbs[-1] == CLOSE
            steps = verbs[1:-1] if shut else verbs[1:]
            pieces.append((np.array([MOVE, *steps[::-1].tolist(), *[CLOSE] * bool(shut)], np.uint8), points[::-1]))
        verbs_of_all, points_of_all = zip(*pieces[::-1], strict=True)
        return Outline(np.concatenate(verbs_of_all), np.concatenate(points_of_all))

    def subpaths(self) -> Iterator[tuple[ByteArray, PointArray]]:
        """The verbs and points of each subpath."""
        place = 0
        for first, last in pairwise([*np.flatnonzero(self.verbs == MOVE).tolist(), len(self.verbs)]):
            verbs = self.verbs[first:last]
            count = int(_POINTS_TAKEN[verbs].sum())
            yield verbs, self.points[place : place + count]
            place += count

    def draw(self, pen: Pen) -> None:
        """Have a pen follow it."""
        numbers = self.points.ravel().tolist()
        calls = (pen.move, pen.line, pen.cubic, pen.close)
        place = 0
        for verb in self.verbs.tolist():
            end = place + 2 * POINTS_TAKEN[verb]
            calls[verb](*numbers[place:end])
            place = end


_POINTS_TAKEN = np.array(POINTS_TAKEN)


def starts_of(lengths: WholeArray) -> WholeArray:
    """Where runs of these lengths begin that lie one behind the other: int64 (k,)."""
    return np.cumsum(lengths) - lengths


def as_points(points: Iterable[object], call: str, fewest: int) -> PointArray:
    """Points as a new float64 (n, 2), from a list of pairs or an array.

    Raises SketchError, naming the call, where they are too few, not pairs of numbers, or not finite.
    """
    try:
        array = np.array(points if isinstance(points, np.ndarray | list) else list(points), dtype=np.float64)
    except (TypeError, ValueError):
        array = np.zeros(0)
    if array.ndim != 2 or array.shape[1] != 2:
        raise SketchError(f"{call}: points are pairs of numbers", hint=f"write {call}([(0, 0), (10, 0), (10, 5)])")
    if len(array) < fewest:
        raise SketchError(f"{call}: at least {fewest} points are needed (got {len(array)})")
    # A sum of squares is finite only if they all are, and takes a third of the time of looking at each.
    if not math.isfinite(np.vdot(array, array)) and not np.isfinite(array).all():
        place = int(np.flatnonzero(~np.isfinite(array).all(axis=1))[0])
        raise SketchError(
            f"{call}: point {place} is not finite ({array[place, 0]:g}, {array[place, 1]:g})",
            hint="look for a division by 0, or a logarithm or root of a negative number",
        )
    return array


def through(points: PointArray, *, closed: bool) -> Outline:
    """Straight lines from each point to the next; the points are its own from then on."""
    return Outline(_verbs_of_lines(len(points), closed), points)


@lru_cache(maxsize=256)
def _verbs_of_lines(count: int, closed: bool) -> ByteArray:
    return np.array([MOVE, *[LINE] * (count - 1), *[CLOSE] * closed], np.uint8)
