"""Pixels of pictures that are used as paint or looked at by a sketch."""

from __future__ import annotations

from mothseed.kernels.primitives import NONE, REFLECT, REPEAT
from mothseed.native.jit import inlined


@inlined
def inside(index: int, count: int, outside: int) -> int:
    """A row or column that may lie beyond the edge, brought inside; -1 if there is nothing."""
    if 0 <= index < count:
        return index
    if outside == REPEAT:
        return index % count
    if outside == REFLECT:
        there = index % (2 * count)
        return there if there < count else 2 * count - 1 - there
    if outside == NONE:
        return -1
    return min(max(index, 0), count - 1)
