"""Many lines as arrays."""

from __future__ import annotations

from collections.abc import Sequence
from typing import overload

import numpy as np

from mothseed.arrays import PointArray, WholeArray
from mothseed.values import fixed


@fixed("take those that you want, and change copies: [line + (10, 0) for line in trails.points]")
class Polylines(Sequence[PointArray]):
    """Lines one after another: each is float64 (k, 2), and thousands of them take two arrays."""

    __slots__ = ("first", "points")

    points: PointArray
    """float64 (p, 2), of all of them"""
    first: WholeArray
    """int64 (n + 1,): the points of a line run from its own entry up to the next"""

    def __init__(self, points: PointArray, lengths: WholeArray) -> None:
        """Cut points into lines of these lengths."""
        put = object.__setattr__
        put(self, "points", points)
        put(self, "first", np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64))
        for array in (self.points, self.first):
            array.setflags(write=False)

    @property
    def lengths(self) -> WholeArray:
        """How many points each line has: int64 (n,)."""
        return np.diff(self.first)

    def __len__(self) -> int:
        return len(self.first) - 1

    @overload
    def __getitem__(self, number: int) -> PointArray: ...
    @overload
    def __getitem__(self, number: slice) -> list[PointArray]: ...
    def __getitem__(self, number: int | slice) -> PointArray | list[PointArray]:
        if isinstance(number, slice):
            return [self[place] for place in range(len(self))[number]]
        place = range(len(self))[number]
        return self.points[self.first[place] : self.first[place + 1]]
