"""Which mark of one drawing is which of another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import BoolArray, WholeArray, WordArray
from mothseed.compare.alignment import GAP, aligned, longest_rise
from mothseed.compare.columns import Resolved
from mothseed.compare.thresholds import PLACE
from mothseed.compare.unlikeness import Unlikeness
from mothseed.sketch.trace import Origins

_MOST_AT_ONCE = 250_000
"""Up to so many pairs of marks, the best are sought whatever lines drew them; above, only among marks of one line."""
_MOST_WEIGHED = 20_000_000
"""Up to so many pairs of marks of one line, the best are sought; above, marks are paired in drawing order."""
_MANY = 1 << 32
"""More than the number of marks."""


@dataclass(frozen=True, slots=True, eq=False)
class Matching:
    """Which marks of two drawings correspond, and which have no counterpart."""

    pairs: WholeArray
    """int64 (k, 2): indices of corresponding marks, same or changed, sorted by the first"""
    in_order: BoolArray
    """bool (k,): a largest set of pairs in the same order in both; the others changed places with some of these"""
    removed: WholeArray
    """int64 (r,): only in the first drawing"""
    added: WholeArray
    """int64 (a,): only in the second"""


def matched(first: Resolved, second: Resolved, origins: tuple[Origins, Origins]) -> Matching:
    """Match the marks of two drawings, by their properties and origins.

    A mark identical to exactly one mark of the other drawing is that one, whatever drew it and in whatever order. Between
    such marks the others are paired in order, so that as little as possible was changed, removed and added: kind, shape,
    place and paint count, and how far the lines of the sketch are alike that drew them. At last, what has no counterpart in
    order gets one that is alike and in the same place.
    """
    certain = _alike_alone(first.words, second.words)
    unlike = Unlikeness.of(first, second, origins)
    anchors = certain[longest_rise(certain[:, 1])]
    pairs = [certain, *(_within(unlike, *gap) for gap in _gaps(certain, anchors, len(first.words), len(second.words)))]
    left, right = _unmatched(pairs, first, second)
    pairs.append(_same(first.words, second.words, left, right))
    left, right = _unmatched(pairs, first, second)
    pairs.append(_out_of_order(unlike, left, right))
    found = np.concatenate(pairs)
    found = found[np.argsort(found[:, 0])]
    return Matching(found, longest_rise(found[:, 1]), *_unmatched([found], first, second))


def _alike_alone(first: WordArray, second: WordArray) -> WholeArray:
    """Pairs of marks with equal hashes that are unique in both drawings: int64 (k, 2), sorted by the first."""
    places = []
    for words in (first, second):
        own, at, counts = np.unique(words, return_index=True, return_counts=True)
        places.append((own[counts == 1], at[counts == 1]))
    _, left, right = np.intersect1d(places[0][0], places[1][0], assume_unique=True, return_indices=True)
    pairs = np.stack([places[0][1][left], places[1][1][right]], axis=1).astype(np.int64)
    return pairs[np.argsort(pairs[:, 0])]


def _gaps(certain: WholeArray, anchors: WholeArray, *counts: int) -> Iterator[tuple[WholeArray, WholeArray]]:
    """The marks of both drawings between two anchors that have no counterpart yet."""
    free = [np.setdiff1d(np.arange(count), certain[:, side]) for side, count in enumerate(counts)]
    if not anchors.size:
        yield free[0], free[1]
        return
    bounds = [np.searchsorted(own, anchors[:, side]) for side, own in enumerate(free)]
    for gap in np.flatnonzero(
        (np.diff(bounds[0], prepend=0, append=len(free[0])) > 0) & (np.diff(bounds[1], prepend=0, append=len(free[1])) > 0)
    ).tolist():
        begins = [bound[gap - 1] if gap else 0 for bound in bounds]
        ends = [bound[gap] if gap < len(bound) else len(own) for bound, own in zip(bounds, free, strict=True)]
        yield free[0][begins[0] : ends[0]], free[1][begins[1] : ends[1]]


def _within(unlike: Unlikeness, before: WholeArray, after: WholeArray) -> WholeArray:
    """Which of some marks became which of others, in order: int64 (k, 2)."""
    if len(before) * len(after) <= _MOST_AT_ONCE:
        return _best(unlike, before, after)
    sources = _sources(unlike, before, after)
    pairs = [_of_one_source(unlike, *(own[source == number] for own, source in zip((before, after), sources, strict=True)))
             for number in np.intersect1d(*sources)]  # fmt: skip
    left, right = (np.setdiff1d(own, part) for own, part in zip((before, after), _joined(pairs).T, strict=True))
    if len(left) * len(right) <= _MOST_AT_ONCE:
        pairs.append(_best(unlike, left, right))
    return _joined(pairs)


def _of_one_source(unlike: Unlikeness, before: WholeArray, after: WholeArray) -> WholeArray:
    if len(before) == len(after) or len(before) * len(after) > _MOST_WEIGHED:
        count = min(len(before), len(after))
        return np.stack([before[:count], after[:count]], axis=1)
    return _best(unlike, before, after)


def _best(unlike: Unlikeness, before: WholeArray, after: WholeArray) -> WholeArray:
    places = aligned(len(before), len(after), lambda rows: unlike.between(before[rows], after))
    return np.stack([before[places[:, 0]], after[places[:, 1]]], axis=1)


def _sources(unlike: Unlikeness, before: WholeArray, after: WholeArray) -> tuple[WholeArray, WholeArray]:
    """A number for the origin and kind of each mark, shared by both drawings."""
    numbers: dict[tuple[object, ...], int] = {}
    found = []
    for side, origins, marks in zip((unlike.first, unlike.second), unlike.origins, (before, after), strict=True):
        texts = [tuple(line.text for line in calls) for calls in origins.calls]
        drew = np.stack([origins.of_marks[marks], side.drawing.marks["kind"][marks]], axis=1)
        distinct, inverse = np.unique(drew, axis=0, return_inverse=True)
        known = [numbers.setdefault((texts[call], kind), len(numbers)) for call, kind in distinct.tolist()]
        found.append(np.array(known, np.int64)[inverse.ravel()])
    return found[0], found[1]


def _unmatched(pairs: Sequence[WholeArray], first: Resolved, second: Resolved) -> tuple[WholeArray, WholeArray]:
    """The marks of both drawings that are in no pair."""
    known = _joined(pairs)
    left, right = (np.setdiff1d(np.arange(len(side.words)), known[:, at]) for at, side in enumerate((first, second)))
    return left, right


def _joined(pieces: Sequence[WholeArray]) -> WholeArray:
    return np.concatenate([np.zeros((0, 2), np.int64), *pieces])


def _same(first: WordArray, second: WordArray, left: WholeArray, right: WholeArray) -> WholeArray:
    """Pairs of marks with equal hashes: first occurrence with first, second with second."""
    _, inverse = np.unique(np.concatenate([first[left], second[right]]), return_inverse=True)
    keys = _with_turn(inverse[: len(left)]), _with_turn(inverse[len(left) :])
    _, at_left, at_right = np.intersect1d(*keys, assume_unique=True, return_indices=True)
    return np.stack([left[at_left], right[at_right]], axis=1)


def _with_turn(numbers: WholeArray) -> WholeArray:
    """Each number combined with the count of its earlier occurrences."""
    order = np.argsort(numbers, kind="stable")
    ordered = numbers[order]
    starts = np.flatnonzero(np.diff(ordered, prepend=-1))
    turns = np.arange(len(ordered)) - np.repeat(starts, np.diff(starts, append=len(ordered)))
    result = np.empty(len(numbers), np.int64)
    result[order] = ordered * _MANY + turns
    return result


def _out_of_order(unlike: Unlikeness, left: WholeArray, right: WholeArray) -> WholeArray:
    """Pairs of marks in the same place that are out of order, most alike first: int64 (k, 2)."""
    if not 0 < len(left) * len(right) <= _MOST_AT_ONCE:
        return np.zeros((0, 2), np.int64)
    first, second = unlike.first, unlike.second
    cost = unlike.between(left, right)
    shift = np.abs(first.centres[left, None] - second.centres[None, right]).max(axis=2)
    cost[shift > PLACE * max(second.drawing.width, second.drawing.height)] = np.inf
    free_left, free_right = np.ones(len(left), np.bool), np.ones(len(right), np.bool)
    pairs: list[tuple[int, int]] = []
    for flat in np.argsort(cost, axis=None, kind="stable").tolist():
        row, column = divmod(flat, len(right))
        if cost[row, column] > GAP:
            break
        if free_left[row] and free_right[column]:
            free_left[row] = free_right[column] = False
            pairs.append((int(left[row]), int(right[column])))
    return np.array(pairs, np.int64).reshape(-1, 2)
