"""What distinguishes a direction or a group, in words: measures, dials, outcomes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.measure import MEASURES
from mothseed.series import Edition
from mothseed.series.table import table_of
from mothseed.told import told

LEAST_SHARE = 0.01
"""Share of the variance below which a direction is noise."""
_TOLD = 0.5
"""Correlation from which something is said to vary along a direction."""
_MOST_TOLD = 3
_MOST_KINDS = 12
"""Most values of something that counts as a category, rather than as a number."""
_DISTINCT = 1.0
"""Standard deviations by which the mean of a group must differ to be worth reporting."""
_TWICE_AS_OFTEN = 2.0
_OFTEN, _HARDLY = 0.25, 0.1
"""Share of all editions from which it is worth reporting that a group has a tenth of it."""


@dataclass(frozen=True, slots=True)
class Direction:
    """A direction of the map."""

    share: float
    """share of the variance along it"""
    words: tuple[str, ...]
    """what varies along it, such as "more coverage" or "form: from owlet to hawk", the surest first"""


@dataclass(frozen=True, slots=True, eq=False)
class Columns:
    """What varies among editions, in columns with a row for each."""

    numbers: dict[str, FloatArray]
    kinds: dict[str, Kinds]
    """columns of few distinct values; some of them are numbers as well"""

    @classmethod
    def of(cls, editions: Sequence[Edition]) -> Columns:
        """Dials, outcomes, measures of some editions."""
        table = table_of(editions, ("dials", "outcomes", "measures"))
        numbers: dict[str, FloatArray] = {}
        kinds: dict[str, Kinds] = {}
        for name, column in zip(table.columns, table.values, strict=True):
            values: list[object] = list(column)
            different = _different(values)
            if different < 2:
                continue
            if {*map(type, values)} <= {int, float}:
                numbers[name] = np.array(values, np.float64)
            if different <= _MOST_KINDS and name not in MEASURES:
                kinds[name] = Kinds.of(values)
        return cls(numbers, kinds)


def _different(values: Sequence[object]) -> int:
    """How many distinct values there are, or too many for categories."""
    found: set[str] = set()
    for value in {id(value): value for value in values}.values():
        found.add(repr(value))
        if len(found) > _MOST_KINDS:
            break
    return len(found)


@dataclass(frozen=True, slots=True, eq=False)
class Kinds:
    """A column of few distinct values."""

    names: tuple[str, ...]
    """the values in words, in order of first appearance"""
    which: WholeArray
    """int64 (n,): for each row the index of its value in `names`"""

    @classmethod
    def of(cls, values: Sequence[object]) -> Kinds:
        """Those of some values."""
        words = {key: told(value) for key, value in {id(value): value for value in values}.items()}
        places = {word: place for place, word in enumerate(dict.fromkeys(words.values()))}
        return cls(tuple(places), np.array([places[words[id(value)]] for value in values], np.int64))

    def counts(self, members: WholeArray | slice) -> WholeArray:
        """Counts of each among some rows: int64 (names,)."""
        return np.bincount(self.which[members], minlength=len(self.names))


def directions_explained(columns: Columns, places: FloatArray, shares: FloatArray) -> tuple[Direction, ...]:
    """What varies along each of some directions, from points float64 (n, k) along them and the share of variance of each
    (k,).
    """
    return tuple(
        Direction(float(share), _what_goes_with(values, columns) if share >= LEAST_SHARE else ())
        for values, share in zip(places.T, shares, strict=True)
    )


def distinctions(columns: Columns, members: WholeArray) -> tuple[str, ...]:
    """What some editions, given by index, have more often, or more of, than all of them."""
    found: list[tuple[float, str]] = []
    for name, kinds in columns.kinds.items():
        own, all_of_them = kinds.counts(members).tolist(), kinds.counts(slice(None)).tolist()
        for value, among, count in zip(kinds.names, own, all_of_them, strict=True):
            share, usual = among / len(members), count / len(kinds.which)
            if share >= 0.5 and share >= _TWICE_AS_OFTEN * usual:
                found.append((share / usual, f"{name} {value} ({share:.0%} of them, {usual:.0%} of all)"))
            elif usual >= _OFTEN and share <= _HARDLY * usual:
                found.append((usual, f"hardly ever {name} {value} ({share:.0%} of them, {usual:.0%} of all)"))
    for name, column in columns.numbers.items():
        spread = float(column.std())
        if name not in columns.kinds and spread > 0:
            mean, usual = float(column[members].mean()), float(column.mean())
            off = (mean - usual) / spread
            if abs(off) >= _DISTINCT:
                found.append((abs(off), f"{'more' if off > 0 else 'less'} {name} ({mean:.3g} on average, {usual:.3g} in all)"))
    return tuple(words for _, words in sorted(found, key=lambda pair: -pair[0])[:_MOST_TOLD])


def _what_goes_with(values: FloatArray, columns: Columns) -> tuple[str, ...]:
    spread = float(values.std())
    if spread == 0:
        return ()
    found: list[tuple[float, str]] = []
    for name, column in columns.numbers.items():
        if name in columns.kinds or name == "hue":  # a heading has neither more nor less
            continue
        correlation = float(((values - values.mean()) * (column - column.mean())).mean() / (spread * max(column.std(), 1e-300)))
        found.append((abs(correlation), f"{'more' if correlation > 0 else 'less'} {name}"))
    for name, kinds in columns.kinds.items():
        counts = kinds.counts(slice(None))
        means = np.bincount(kinds.which, values) / counts
        between = float((counts * (means - values.mean()) ** 2).sum()) / len(values)
        order = np.argsort(means, kind="stable").tolist()
        # Pearson's correlation ratio; with many kinds, some of it is chance.
        ratio = max(between / spread**2 - (len(means) - 1) / len(values), 0.0) ** 0.5
        found.append((float(ratio), f"{name}: from {kinds.names[order[0]]} to {kinds.names[order[-1]]}"))
    found.sort(key=lambda pair: -pair[0])
    return tuple(words for strength, words in found[:_MOST_TOLD] if strength >= _TOLD)
