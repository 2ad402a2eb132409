"""Aligning two sequences at the least cost: which thing of one became which of the other."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray

GAP = 1.5
"""Cost of leaving a thing without a counterpart: two of them cost as much as the most unlike pair."""
_BLOCK = 1 << 18
"""Costs computed at a time."""

Costs = Callable[[slice], FloatArray]
"""Costs of pairing some things of the first sequence with all m of the second: float64 (k, m)."""


def aligned(first: int, second: int, costs: Costs) -> WholeArray:
    """Pairs of indices into two sequences of these lengths, increasing in both: int64 (k, 2). Their total cost, with GAP for
    each thing in no pair, is minimal. Needleman and Wunsch, "A general method applicable to the search for similarities in
    the amino acid sequence of two proteins", 1970.
    """
    gaps = GAP * np.arange(second + 1)
    least = gaps.copy()
    pairs = np.zeros((first, second + 1), np.bool)
    lefts = np.zeros((first, second + 1), np.bool)
    step = max(_BLOCK // max(second, 1), 1)
    for start in range(0, first if second else 0, step):
        for row, cost in enumerate(costs(slice(start, min(start + step, first))), start):
            paired, alone = least[:-1] + cost, least + GAP
            pairs[row, 1:] = paired <= alone[1:]
            best = np.append(alone[0], np.minimum(paired, alone[1:]))
            # Leaving out things of the second costs the same each, so the running minimum gives the best start.
            behind = best - gaps
            running = np.minimum.accumulate(behind)
            lefts[row] = running < behind
            least = running + gaps
    return _traced(pairs, lefts)


def _traced(pairs: BoolArray, lefts: BoolArray) -> WholeArray:
    found: list[tuple[int, int]] = []
    row, column = len(pairs) - 1, pairs.shape[1] - 1
    while row >= 0 and column > 0:
        if lefts[row, column]:
            column -= 1
        elif pairs[row, column]:
            found.append((row, column - 1))
            row, column = row - 1, column - 1
        else:
            row -= 1
    return np.array(found[::-1], np.int64).reshape(-1, 2)


def longest_rise(values: WholeArray) -> BoolArray:
    """Which of some distinct numbers are in their longest increasing subsequence: bool (n,).

    Schensted, "Longest increasing and decreasing subsequences", 1961.
    """
    if (np.diff(values) > 0).all():
        return np.ones(len(values), np.bool)
    lasts: list[int] = []
    places: list[int] = []
    before: list[int] = []
    for place, value in enumerate(values.tolist()):
        length = bisect_left(lasts, value)
        lasts[length : length + 1] = [value]
        places[length : length + 1] = [place]
        before.append(places[length - 1] if length else -1)
    rising = np.zeros(len(values), np.bool)
    place = places[-1]
    while place >= 0:
        rising[place] = True
        place = before[place]
    return rising
