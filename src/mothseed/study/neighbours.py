"""Who is near whom among many, and how alike: passes over all pairs, that everything else about variety is told from."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
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


def neighbours(places: SingleArray, count: int = _NEIGHBOURS) -> Neighbours:
    """The nearest of each of n places, float32 (n, d); there are fewer where there are not so many places."""
    total = len(places)
    count = min(count, total - 1)
    nearest = np.zeros((total, count), np.int64)
    distances = np.zeros((total, count))
    for rows, apart in _squares_apart(places) if count else ():
        found = np.argpartition(apart, count - 1, axis=1)[:, :count]
        near = np.take_along_axis(apart, found, axis=1)
        order = np.argsort(near, axis=1, kind="stable")
        nearest[rows] = np.take_along_axis(found, order, axis=1)
        distances[rows] = np.sqrt(np.take_along_axis(near, order, axis=1))
    return Neighbours(nearest, distances)


def likeness(places: SingleArray) -> FloatArray:
    """How alike each of n places, float32 (n, d), is to all others together, float64 (n,): each of them counts 1 at the same
    place, and a half at a distance of 1.
    """
    alike = np.zeros(len(places))
    for rows, apart in _squares_apart(places):
        alike[rows] = np.exp2(-apart).sum(axis=1, dtype=np.float64)
    return alike


def _squares_apart(places: SingleArray) -> Iterator[tuple[slice, SingleArray]]:
    """The squared distances of some places at a time to all, float32 (rows, n); each is infinitely far from itself."""
    centred = places - places.mean(axis=0)
    squares = np.einsum("ij,ij->i", centred, centred)
    for start in range(0, len(places), _BLOCK):
        rows = slice(start, min(start + _BLOCK, len(places)))
        apart = squares[rows, None] + squares[None, :] - 2 * (centred[rows] @ centred.T)
        np.maximum(apart, 0, out=apart)
        own = np.arange(rows.start, rows.stop)
        apart[own - start, own] = np.inf
        yield rows, apart


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
