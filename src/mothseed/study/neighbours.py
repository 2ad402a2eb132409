"""Who is near whom among many, and how alike: what everything else about variety is told from.

Of a few thousand places every pair is looked at. Of more that takes too long, as there are a hundred times as many pairs of ten
times as many places: what is usual is then told from some thousands that are drawn at random, each against all.
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
"""Places up to which all are looked at, and so many of more."""
_BETWEEN = 1 << 23
"""Distances that are held at once: 32 megabytes, however many places there are."""
_LARGEST_BLOCK = 512


def looked_at(total: int) -> WholeArray:
    """Which of so many places are looked at to tell what is usual among them: all, or of very many some, always the same."""
    if total <= _MOST_DRAWN:
        return np.arange(total)
    drawn = (words(stream_of("places looked at"), 0, 2 * _MOST_DRAWN) % np.uint64(total)).astype(np.int64)
    return np.sort(np.array(list(dict.fromkeys(drawn.tolist()))[:_MOST_DRAWN]))


def nearest(places: SingleArray, rows: WholeArray, count: int) -> FloatArray:
    """How far the nearest few of n places, float32 (n, d) about their mean, are from each of some of them, float64 (rows,
    count); there are fewer where there are not so many places.
    """
    count = min(count, len(places) - 1)
    distances = np.zeros((len(rows), count))
    for some, apart in _squares_apart(places, rows) if count else ():
        apart.partition(count - 1, axis=1)
        distances[some] = np.sqrt(np.maximum(np.sort(apart[:, :count], axis=1), 0))
    return distances


def likeness(places: SingleArray, rows: WholeArray) -> tuple[float, float]:
    """How alike pairs of n places, float32 (n, d) about their mean, are, added up, and how many pairs that are: those of which
    one is among `rows`. A pair counts 1 at the same place, and a half at a distance of 1.
    """
    alike = twice = 0.0
    for _, apart in _squares_apart(places, rows):
        near = np.exp2(-apart)
        alike += float(near.sum(dtype=np.float64))
        twice += float(near[:, rows].sum(dtype=np.float64))
    return alike - twice / 2, len(rows) * (len(places) - 1) - len(rows) * (len(rows) - 1) / 2


def fewer_within(places: SingleArray, rows: WholeArray, reach: float, count: int) -> WholeArray:
    """Which of n places, float32 (n, d) about their mean, have fewer than `count` others of these rows within a distance."""
    within = np.zeros(len(places), np.int64)
    for _, apart in _squares_apart(places, rows):
        within += (apart <= reach * reach).sum(axis=0)
    return np.flatnonzero(within < count)


def squares_of(places: SingleArray) -> SingleArray:
    """How far places, float32 (n, d), are from their mean, squared: float32 (n,)."""
    result: SingleArray = np.einsum("ij,ij->i", places, places)
    return result


def squares_apart(some: SingleArray, others: SingleArray, own: SingleArray, theirs: SingleArray) -> SingleArray:
    """The squared distances of some places to others, float32 (n, m), from (n, d) and (m, d) about one mean and from the
    `squares_of` both; to within float32, so that they may be just below 0.
    """
    # One product of matrices gives them all: a² + b² - 2ab.
    apart = (-2 * some) @ others.T
    apart += theirs
    apart += own[:, None]
    return apart


def _squares_apart(places: SingleArray, rows: WholeArray) -> Iterator[tuple[slice, SingleArray]]:
    """The squared distances of some of the rows at a time to all places, float32 (some, n); each is infinitely far from
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
    """So many things of which pairs are linked, int64 (m, 2): of each the first of those with which it is linked, however far
    round, int64 (count,), and the groups of two and more, in the order of their first members.
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
