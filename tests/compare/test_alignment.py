"""Two rows held against each other, in order."""

from __future__ import annotations

from itertools import combinations, pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.arrays import FloatArray
from mothseed.compare.alignment import GAP, aligned, longest_rise

COSTS = st.integers(0, 4).flatmap(
    lambda m: st.lists(
        st.lists(st.sampled_from([0.0, 0.5, 1.0, 2.0, 2.9, 1e6]), min_size=m, max_size=m), min_size=0, max_size=5
    )
)


def cost_of(pairs: list[tuple[int, int]], costs: FloatArray) -> float:
    return sum(float(costs[pair]) for pair in pairs) + GAP * (sum(costs.shape) - 2 * len(pairs))


def least(costs: FloatArray) -> float:
    """By trying every way."""
    rows, columns = costs.shape
    return min(
        cost_of(list(zip(left, right, strict=True)), costs)
        for count in range(min(rows, columns) + 1)
        for left in combinations(range(rows), count)
        for right in combinations(range(columns), count)
    )


@given(COSTS)
def test_pairs_rise_and_cost_the_least_there_is(rows: list[list[float]]) -> None:
    costs = np.array(rows, np.float64).reshape(len(rows), len(rows[0]) if rows else 0)
    pairs = aligned(*costs.shape, lambda part: costs[part])
    assert (np.diff(pairs, axis=0) > 0).all()
    assert cost_of([(row, column) for row, column in pairs.tolist()], costs) == pytest.approx(least(costs))


@given(st.permutations(range(8)))
def test_the_longest_rise_rises_and_no_other_is_longer(values: list[int]) -> None:
    rising = longest_rise(np.array(values))
    assert (np.diff(np.array(values)[rising]) > 0).all()
    longest = max(
        count for count in range(1, 9) for some in combinations(values, count) if all(a < b for a, b in pairwise(some))
    )
    assert rising.sum() == longest
