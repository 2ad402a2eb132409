"""Who is near whom among many: the pass over all pairs that everything else about variety is told from."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, WholeArray

SingleArray = npt.NDArray[np.float32]
"""float32 of any shape."""

_NEIGHBOURS = 8
_BLOCK = 512
"""Rows at a time: what is between is a few megabytes, however many editions there are."""


@dataclass(frozen=True, slots=True, eq=False)
class Neighbours:
    """For each of n places those that are nearest to it."""

    nearest: WholeArray
    """int64 (n, k): their indices, the nearest first"""
    distances: FloatArray
    """float64 (n, k): how far away they are"""
    likeness: FloatArray
    """float64 (n,): how alike it is to all others, together: 1 for each at its own place, a half at a distance of 1"""


def neighbours(places: SingleArray, count: int = _NEIGHBOURS) -> Neighbours:
    """The nearest of each of n places, float32 (n, d); there are fewer where there are not so many places."""
    total = len(places)
    count = min(count, total - 1)
    centred = places - places.mean(axis=0)
    squares = np.einsum("ij,ij->i", centred, centred)
    nearest = np.zeros((total, count), np.int64)
    distances = np.zeros((total, count))
    likeness = np.zeros(total)
    for start in range(0, total, _BLOCK):
        rows = slice(start, min(start + _BLOCK, total))
        apart = squares[rows, None] + squares[None, :] - 2 * (centred[rows] @ centred.T)
        np.maximum(apart, 0, out=apart)
        own = np.arange(rows.start, rows.stop)
        apart[own - start, own] = np.inf
        likeness[rows] = np.exp2(-apart).sum(axis=1, dtype=np.float64)
        if count:
            found = np.argpartition(apart, count - 1, axis=1)[:, :count]
            near = np.take_along_axis(apart, found, axis=1)
            order = np.argsort(near, axis=1, kind="stable")
            nearest[rows] = np.take_along_axis(found, order, axis=1)
            distances[rows] = np.sqrt(np.take_along_axis(near, order, axis=1))
    return Neighbours(nearest, distances, likeness)


def connected(count: int, links: Iterable[tuple[int, int]]) -> list[tuple[int, ...]]:
    """So many things in groups of those that are linked, however far round; alone where they are not linked."""
    leader = list(range(count))

    def found(index: int) -> int:
        while leader[index] != index:
            leader[index] = leader[leader[index]]
            index = leader[index]
        return index

    for one, other in links:
        leader[found(one)] = found(other)
    members: dict[int, list[int]] = {}
    for index in range(count):
        members.setdefault(found(index), []).append(index)
    return [tuple(group) for group in members.values()]
