"""Picking items by weight with a unit number."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from itertools import accumulate

from mothseed.faults import SketchError


def cumulative_weights(call: str, items: Sequence[object], weights: Sequence[float]) -> list[float]:
    """Running totals of the weights; raises SketchError, naming the call, if they do not match the items or none is above
    0.
    """
    if len(weights) != len(items):
        raise SketchError(f"{call}: {len(items)} items but {len(weights)} weights", hint="give each item a weight, 0 for never")
    if not all(0 <= weight < math.inf for weight in weights):
        raise SketchError(f"{call}: weights must be finite and 0 or more (got {list(weights)!r})")
    cumulative = list(accumulate(map(float, weights)))
    if not 0 < cumulative[-1] < math.inf:
        raise SketchError(f"{call}: at least one weight must be above 0", hint="leave weights out for equal odds")
    return cumulative


def position_of(fraction: float, count: int, cumulative: list[float] | None) -> int:
    """The one of `count` items that a unit number falls on."""
    if cumulative is None:
        return min(int(fraction * count), count - 1)
    total = cumulative[-1]
    # Rounding can reach the total; the largest number below it still falls on the last item with weight.
    return bisect_right(cumulative, min(fraction * total, math.nextafter(total, 0.0)))
