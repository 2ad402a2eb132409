"""Which of very many points are close together."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.study.neighbours import SingleArray, looked_at, squares_apart, squares_of

_FEW = 4000
"""Up to so many points, every pair is compared in full."""
_LEAF, _BOXED = 128, 16
"""Points in a leaf, and directions along which leaves have bounding boxes."""
_AT_ONCE = 8192
"""Pairs whose distances are computed at a time."""
_MOST_NEAR = 32
"""Of those that follow a point and are near it, at most so many are reported, the nearest. They are near each other, too."""
_SAMPLE = 512
_GATHERED = 20
"""How many times longer a coordinate takes in a single pair than in a product of matrices."""
_SPARE = 1.001
"""Allows for rounding where a distance along some coordinates is compared with that along all."""
_ROUNDING = 4e-6
"""Relative to the largest square: the rounding of float32 in a difference of squares."""


def near_pairs(places: SingleArray, reach: float) -> tuple[WholeArray, FloatArray]:
    """Pairs of n places, float32 (n, d) about their mean, that are nearer to each other than `reach`: int64 (m, 2), in order,
    and how far apart each is, float64 (m,).

    A distance along some directions never exceeds the full distance, and most pairs are too far apart along just a few: the
    principal components. Only the others are compared in full.
    """
    found, distances = [np.zeros((0, 2), np.int64)], [np.zeros(0)]
    for pairs in _candidates(places if len(places) <= _FEW else _along_telling_directions(places, reach), reach):
        some = np.sort(pairs, axis=1)
        for start in range(0, len(some), _AT_ONCE):
            own = some[start : start + _AT_ONCE]
            # Most are too far apart along a third of the coordinates alone, which are gathered in a third of the time.
            own = own[_apart(places[:, : places.shape[1] // 3], own) < _SPARE * reach]
            apart = _apart(places, own)
            found.append(own[apart < reach])
            distances.append(apart[apart < reach])
    pairs, apart = np.concatenate(found), np.concatenate(distances)
    in_order = np.lexsort(pairs.T[::-1])
    return pairs[in_order], apart[in_order]


def _apart(places: SingleArray, pairs: WholeArray) -> FloatArray:
    """Distances of pairs of points: float64 (m,)."""
    off = places[pairs[:, 0]] - places[pairs[:, 1]]
    apart: FloatArray = np.sqrt(np.einsum("ij,ij->i", off, off, dtype=np.float64))
    return apart


def _along_telling_directions(places: SingleArray, reach: float) -> SingleArray:
    """The points along as many directions as separate most pairs with the least work: float32 (n, k)."""
    size = places.shape[1]
    scatter = np.zeros((size, size))
    for start in range(0, len(places), _AT_ONCE):
        some = places[start : start + _AT_ONCE]
        scatter += some.T @ some
    directions = np.linalg.eigh(scatter)[1][:, ::-1].astype(np.float32)
    drawn = looked_at(len(places))
    others = places[drawn] @ directions
    some = others[:: max(len(others) // _SAMPLE, 1)]
    squares = np.zeros((len(some), len(others)), np.float32)
    counts = [count for count in (8, 16, 32, 64, 128, 256, 512) if count < size] + [size]
    work = []
    for first, last in zip([0, *counts], counts, strict=False):
        mine, theirs = some[:, first:last], others[:, first:last]
        squares += squares_apart(mine, theirs, squares_of(mine), squares_of(theirs))
        work.append(last + _GATHERED * size * float((squares < reach * reach).mean()))
    chosen = directions[:, : counts[int(np.argmin(work))]]
    return np.concatenate([places[start : start + _AT_ONCE] @ chosen for start in range(0, len(places), _AT_ONCE)])


def _candidates(along: SingleArray, reach: float) -> Iterator[WholeArray]:
    """Pairs of points, float32 (n, k), that may be near: int64 (m, 2) each time."""
    leaves = _leaves(along)
    order = np.concatenate(leaves)
    along = along[order]
    starts = np.cumsum([0, *map(len, leaves)])
    boxes = along[:, :_BOXED]
    low, high = np.minimum.reduceat(boxes, starts[:-1]), np.maximum.reduceat(boxes, starts[:-1])
    squares = squares_of(along)
    limit = reach * reach + _ROUNDING * float(squares.max(initial=0))
    for leaf, (start, end) in enumerate(pairwise(starts.tolist())):
        gaps = np.maximum(np.maximum(low[leaf:] - high[leaf], low[leaf] - high[leaf:]), 0)
        near_leaves = leaf + np.flatnonzero((gaps * gaps).sum(axis=1) < limit)
        columns = np.concatenate([np.arange(starts[each], starts[each + 1]) for each in near_leaves.tolist()])
        apart = squares_apart(along[start:end], along[columns], squares[start:end], squares[columns])
        apart[:, : end - start][np.tri(end - start, dtype=np.bool)] = np.inf  # its own leaf is the first
        near = apart < limit
        crowded = np.flatnonzero(near.sum(axis=1) > _MOST_NEAR)
        if len(crowded):
            nearest = np.argpartition(apart[crowded], _MOST_NEAR - 1, axis=1)[:, :_MOST_NEAR]
            near[crowded] = False
            near[crowded[:, None], nearest] = True
        rows, others = np.nonzero(near)
        yield np.stack([order[start + rows], order[columns[others]]], axis=1)


def _leaves(along: SingleArray) -> list[WholeArray]:
    """Indices of points grouped by position: a k-d tree, which halves them where they are widest, again and again."""
    leaves, left = [], [np.arange(len(along))]
    while left:
        some = left.pop()
        if len(some) <= _LEAF:
            leaves.append(some)
            continue
        own = along[some, :_BOXED]
        widest = int(np.ptp(own, axis=0).argmax())
        order = np.argpartition(own[:, widest], len(some) // 2)
        left += [some[order[: len(some) // 2]], some[order[len(some) // 2 :]]]
    return leaves
