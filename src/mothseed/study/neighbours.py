"""Who is near whom among many: the one pass over all pairs that everything else about variety is told from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, WholeArray
from mothseed.measure import shared_forms
from mothseed.sheet.form_hash import combined

SingleArray = npt.NDArray[np.float32]
"""float32 of any shape."""

HALF_ALIKE = 0.03
"""Distance of two appearances at which they count as half alike: half as much again as what is noticed, all over."""
_NEIGHBOURS = 8
_BLOCK = 512
"""Rows at a time: what is between is a few megabytes, however many editions there are."""
_SIGNS = 8
"""Random signs that stand for each part of a signature: then products of sums tell how many parts are the same."""
_LIKELY = 0.5
"""Share of equal parts from which on a pair is looked at closely."""


@dataclass(frozen=True, slots=True, eq=False)
class Neighbours:
    """For each of n pictures those that look most like it."""

    nearest: WholeArray
    """int64 (n, k): their indices, the nearest first"""
    distances: FloatArray
    """float64 (n, k): how far away they are, in OKLab"""
    likeness: FloatArray
    """float64 (n,): how much a picture is alike to all, itself included, on average from 0 to 1"""


def neighbours(places: SingleArray, count: int = _NEIGHBOURS) -> Neighbours:
    """The nearest of each of n appearances, float32 (n, d); there are fewer where there are not so many pictures."""
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
        apart[own - start, own] = 0
        likeness[rows] = np.exp2(apart * np.float32(-1 / HALF_ALIKE**2)).mean(axis=1, dtype=np.float64)
        apart[own - start, own] = np.inf
        if count:
            found = np.argpartition(apart, count - 1, axis=1)[:, :count]
            near = np.take_along_axis(apart, found, axis=1)
            order = np.argsort(near, axis=1, kind="stable")
            nearest[rows] = np.take_along_axis(found, order, axis=1)
            distances[rows] = np.sqrt(np.take_along_axis(near, order, axis=1))
    return Neighbours(nearest, distances, likeness)


def nearest_forms(kept: npt.NDArray[np.uint16]) -> tuple[WholeArray, FloatArray]:
    """For each of n signatures, uint16 (n, 128), the one that shares most of its forms, int64 (n,), and how much, (n,).

    Which one is told from sums of random signs, and how much from the signatures themselves; below a half it is 0.
    """
    total = len(kept)
    best, shares = np.zeros(total, np.int64), np.zeros(total)
    if total < 2:
        return best, shares
    signs = _signs(kept)
    filled = np.count_nonzero(kept, axis=1).astype(np.float32)
    for start in range(0, total, _BLOCK):
        rows = slice(start, min(start + _BLOCK, total))
        equal = signs[rows] @ signs.T / np.maximum(np.maximum(filled[rows, None], filled[None, :]), 1)
        own = np.arange(rows.start, rows.stop)
        equal[own - start, own] = -np.inf
        best[rows] = equal.argmax(axis=1)
        for row in own[equal.max(axis=1) >= _LIKELY]:
            shares[row] = shared_forms(kept[row][None], kept[best[row]][None])[0, 0]
    return best, shares


def _signs(kept: npt.NDArray[np.uint16]) -> SingleArray:
    """float32 (n, 1024), of which the product of two rows is about the number of their equal parts."""
    places = np.arange(kept.shape[1], dtype=np.int64)
    words = combined(kept.astype(np.uint64).ravel(), np.broadcast_to(places, kept.shape).reshape(-1, 1))
    bits = np.unpackbits((words & np.uint64(0xFF)).astype(np.uint8)[:, None], axis=1).astype(np.float32)
    signs = (2 * bits - 1) * (kept.reshape(-1, 1) > 0) / np.float32(_SIGNS**0.5)
    result: SingleArray = signs.reshape(len(kept), -1)
    return result
