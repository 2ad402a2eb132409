"""Which of many points are near each other, and how alike: the basis of everything about variety.

Of a few thousand points every pair is compared. Of more that takes too long, as the number of pairs grows with the square;
what is usual is then estimated from some thousands drawn at random, each compared with all.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, WholeArray
from mothseed.bits import stream_of, words

SingleArray = npt.NDArray[np.float32]
"""float32 of any shape."""

_MOST_DRAWN = 2000
"""Up to so many points all are compared; of more, so many."""
_BETWEEN = 1 << 23
"""Distances held at a time: 32 megabytes, however many points there are."""
_PART = 64
"""Numbers of a row that are searched together."""
_LARGEST_BLOCK = 512


def looked_at(total: int) -> WholeArray:
    """Indices of the points from which to estimate what is usual: all, or of very many a random sample, always the same."""
    if total <= _MOST_DRAWN:
        return np.arange(total)
    drawn = (words(stream_of("places looked at"), 0, 2 * _MOST_DRAWN) % np.uint64(total)).astype(np.int64)
    return np.sort(np.array(list(dict.fromkeys(drawn.tolist()))[:_MOST_DRAWN]))


def nearest(places: SingleArray, rows: WholeArray, count: int) -> FloatArray:
    """Distances from some of n points, float32 (n, d) about their mean, to their nearest few: float64 (rows, count), fewer if
    there are not so many points.
    """
    count = min(count, len(places) - 1)
    distances = np.zeros((len(rows), count))
    for some, apart in _squares_apart(places, rows) if count else ():
        distances[some] = np.sqrt(np.maximum(_smallest(apart, count), 0))
    return distances


def _smallest(numbers: SingleArray, count: int) -> SingleArray:
    """The smallest few of each row, float32 (rows, n), in ascending order: float32 (rows, count)."""
    rows, size = numbers.shape
    parts = size // _PART
    if parts <= count:
        return np.sort(numbers, axis=1)[:, :count]
    # They are in the parts with the smallest minima, which are found ten times as fast as the numbers.
    whole = numbers[:, : _PART * parts].reshape(rows, _PART, parts)
    chosen = np.argpartition(whole.min(axis=1), count - 1, axis=1)[:, :count]
    among = np.take_along_axis(whole, chosen[:, None, :], axis=2).reshape(rows, -1)
    return np.sort(np.concatenate([among, numbers[:, _PART * parts :]], axis=1), axis=1)[:, :count]


def likeness(places: SingleArray, rows: WholeArray) -> tuple[float, float]:
    """The summed likeness of pairs of n points, float32 (n, d) about their mean, and the number of these pairs: those with a
    point in `rows`. The likeness is 1 at distance 0, and a half at distance 1.
    """
    alike = twice = 0.0
    for _, apart in _squares_apart(places, rows):
        near = np.exp2(-apart)
        alike += float(near.sum(dtype=np.float64))
        twice += float(near[:, rows].sum(dtype=np.float64))
    return alike - twice / 2, len(rows) * (len(places) - 1) - len(rows) * (len(rows) - 1) / 2


def fewer_within(places: SingleArray, rows: WholeArray, reach: float, count: int) -> WholeArray:
    """Indices of those of n points, float32 (n, d) about their mean, that have fewer than `count` others of these rows within
    a distance.
    """
    within = np.zeros(len(places), np.int64)
    for _, apart in _squares_apart(places, rows):
        within += (apart <= reach * reach).sum(axis=0)
    return np.flatnonzero(within < count)


def squares_of(places: SingleArray) -> SingleArray:
    """Squared distances of points, float32 (n, d), from their mean: float32 (n,)."""
    result: SingleArray = np.einsum("ij,ij->i", places, places)
    return result


def squares_apart(some: SingleArray, others: SingleArray, own: SingleArray, theirs: SingleArray) -> SingleArray:
    """Squared distances between two sets of points, float32 (n, m), from (n, d) and (m, d) about one mean and the
    `squares_of` both. Rounding may leave them just below 0.
    """
    # One product of matrices gives them all: a² + b² - 2ab.
    apart = (-2 * some) @ others.T
    apart += theirs
    apart += own[:, None]
    return apart


def _squares_apart(places: SingleArray, rows: WholeArray) -> Iterator[tuple[slice, SingleArray]]:
    """Squared distances of some of the rows at a time to all points, float32 (some, n); each point is infinitely far from
    itself.
    """
    squares = squares_of(places)
    size = min(max(_BETWEEN // max(len(places), 1), 1), _LARGEST_BLOCK)
    for start in range(0, len(rows), size):
        some = rows[start : start + size]
        apart = squares_apart(places[some], places, squares[some], squares)
        apart[np.arange(len(some)), some] = np.inf
        yield slice(start, start + len(some)), apart


def connected(count: int, links: WholeArray) -> tuple[WholeArray, list[tuple[int, ...]]]:
    """Connected components of so many things, from linked pairs, int64 (m, 2): for each thing the first member of its
    component, int64 (count,), and the components of two and more, in the order of their first members.
    """
    first = np.arange(count)
    while True:
        ends = np.sort(first[links], axis=1)
        ends = ends[ends[:, 0] < ends[:, 1]]
        if not len(ends):
            break
        np.minimum.at(first, ends[:, 1], ends[:, 0])
        while not np.array_equal(first, first[first]):
            first = first[first]
    order = np.argsort(first, kind="stable")
    groups = np.split(order, np.flatnonzero(np.diff(first[order])) + 1)
    return first, [tuple(group.tolist()) for group in groups if len(group) > 1]
