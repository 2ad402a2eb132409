"""Which mark of one drawing is which of another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from mothseed.arrays import FloatArray, WholeArray, WordArray
from mothseed.compare.columns import Resolved
from mothseed.sheet.form_hash import combined
from mothseed.sketch.trace import Calls

_MOST_WEIGHED = 1_500
"""Marks on either side among which each is held against each; more are taken in the order in which they were drawn."""


_MANY = 1 << 32
"""More than there are marks."""


@dataclass(frozen=True, slots=True, eq=False)
class Matching:
    """Marks that are the same in two drawings, or one mark that was changed, and those that have no counterpart."""

    same: WholeArray
    """int64 (s, 2): indices of marks that are alike in all"""
    changed: WholeArray
    """int64 (c, 2): indices of marks of which one became the other"""
    removed: WholeArray
    """int64 (r,): in the first drawing alone"""
    added: WholeArray
    """int64 (a,): in the second alone"""


def matched(first: Resolved, second: Resolved) -> Matching:
    """Match the marks of two drawings.

    Those that are alike in all are the same. Of the rest, marks that were drawn by the same lines of the sketch, one motif
    called from the same place, are held to be one: in the order in which they were drawn, between marks that are the same,
    where there are as many on either side; the nearest and most alike where there are not.
    """
    sources = _numbered_sources(first, second)
    # What the same line drew alike comes first: it says which of the others lie between the same neighbours.
    anchors = _same(*(combined(side.words, own[:, None]) for side, own in zip((first, second), sources, strict=True)))
    left, right = (np.setdiff1d(np.arange(len(own)), anchors[:, side]) for side, own in enumerate(sources))
    elsewhere = _same(first.words[left], second.words[right])
    elsewhere = np.stack([left[elsewhere[:, 0]], right[elsewhere[:, 1]]], axis=1)
    removed: list[WholeArray] = []
    added: list[WholeArray] = []
    changed: list[WholeArray] = []
    for before, after in _gaps(sources, anchors, elsewhere):
        pairs = _paired(first, second, before, after)
        changed.append(pairs)
        removed.append(np.setdiff1d(before, pairs[:, 0]))
        added.append(np.setdiff1d(after, pairs[:, 1]))
    same = np.concatenate([anchors, elsewhere])
    return Matching(same, _joined(changed, (0, 2)), np.sort(_joined(removed, (0,))), np.sort(_joined(added, (0,))))


def _paired(first: Resolved, second: Resolved, before: WholeArray, after: WholeArray) -> WholeArray:
    """Which marks of a run became which of its counterpart: int64 (k, 2)."""
    count = min(len(before), len(after))
    if len(before) == len(after) or max(len(before), len(after)) > _MOST_WEIGHED:
        return np.stack([before[:count], after[:count]], axis=1)
    return _most_alike(first, second, before, after) if count else np.zeros((0, 2), np.int64)


def _joined(pieces: Sequence[WholeArray], nothing: tuple[int, ...]) -> WholeArray:
    return np.concatenate(pieces) if pieces else np.zeros(nothing, np.int64)


def _same(first: WordArray, second: WordArray) -> WholeArray:
    """Pairs of equal words: the first time that a word comes with the first, the second with the second."""
    words, counts = np.concatenate([first, second]), len(first)
    _, inverse = np.unique(words, return_inverse=True)
    keys = _with_turn(inverse[:counts]), _with_turn(inverse[counts:])
    _, left, right = np.intersect1d(keys[0], keys[1], assume_unique=True, return_indices=True)
    order = np.argsort(left, kind="stable")
    return np.stack([left[order], right[order]], axis=1).astype(np.int64)


def _with_turn(numbers: WholeArray) -> WholeArray:
    """Each number with how often it has come before, as one number."""
    order = np.argsort(numbers, kind="stable")
    ordered = numbers[order]
    starts = np.flatnonzero(np.diff(ordered, prepend=-1))
    turns = np.arange(len(ordered)) - np.repeat(starts, np.diff(starts, append=len(ordered)))
    result = np.empty(len(numbers), np.int64)
    result[order] = ordered * _MANY + turns
    return result


def _numbered_sources(first: Resolved, second: Resolved) -> tuple[WholeArray, WholeArray]:
    """A number for what drew each mark, kind included, the same in both drawings."""
    numbers: dict[tuple[object, ...], int] = {}
    sides = []
    for side in (first, second):
        texts = [_as_text(calls) for calls in side.origins.calls]
        kinds = side.drawing.marks["kind"]
        pairs, inverse = np.unique(np.stack([side.origins.of_marks, kinds], axis=1), axis=0, return_inverse=True)
        known = [numbers.setdefault((texts[call], kind), len(numbers)) for call, kind in pairs.tolist()]
        sides.append(np.array(known or [0], np.int64)[inverse.ravel()] if len(kinds) else np.zeros(0, np.int64))
    return sides[0], sides[1]


def _as_text(calls: Calls) -> tuple[tuple[str, str], ...]:
    """The lines themselves, as numbers change whenever a line is put in above."""
    return tuple((Path(line.file).name, line.text) for line in calls)


def _gaps(
    sources: tuple[WholeArray, WholeArray], anchors: WholeArray, elsewhere: WholeArray
) -> Iterator[tuple[WholeArray, WholeArray]]:
    """Runs of unmatched marks of one source, between two of its anchors, in both drawings."""
    keys: list[WholeArray] = []
    unmatched: list[WholeArray] = []
    for side, own in enumerate(sources):
        anchored = np.zeros(len(own), np.bool)
        anchored[anchors[:, side]] = True
        free = ~anchored
        free[elsewhere[:, side]] = False
        # Anchors of the same source that come before say which run a mark is in.
        order = np.argsort(own, kind="stable")
        before = np.cumsum(anchored[order])
        starts = np.searchsorted(own[order], own[order], side="left")
        runs = np.empty(len(own), np.int64)
        runs[order] = before - np.where(starts > 0, before[starts - 1], 0)
        marks = np.flatnonzero(free)
        key = own[marks] * _MANY + runs[marks]
        by_key = np.argsort(key, kind="stable")
        unmatched.append(marks[by_key])
        keys.append(key[by_key])
    every = np.union1d(*keys)
    bounds = [np.searchsorted(key, np.append(every, np.iinfo(np.int64).max)) for key in keys]
    for place in range(len(every)):
        left, right = (marks[bound[place] : bound[place + 1]] for marks, bound in zip(unmatched, bounds, strict=True))
        yield left, right


def _most_alike(first: Resolved, second: Resolved, left: WholeArray, right: WholeArray) -> WholeArray:
    """Pairs of marks, the most alike first, until one side has none left: int64 (min(n, m), 2)."""
    distance = _apart(first.likeness[left], second.likeness[right])
    order = np.argsort(distance, axis=None, kind="stable")
    free_left, free_right = np.ones(len(left), np.bool), np.ones(len(right), np.bool)
    pairs: list[tuple[int, int]] = []
    for flat in order:
        row, column = divmod(int(flat), len(right))
        if free_left[row] and free_right[column]:
            free_left[row] = free_right[column] = False
            pairs.append((int(left[row]), int(right[column])))
            if len(pairs) == min(len(left), len(right)):
                break
    return np.array(sorted(pairs), np.int64).reshape(-1, 2)


def _apart(first: FloatArray, second: FloatArray) -> FloatArray:
    squares = (first**2).sum(axis=1)[:, None] + (second**2).sum(axis=1)[None, :] - 2 * first @ second.T
    result: FloatArray = np.maximum(squares, 0.0)
    return result
