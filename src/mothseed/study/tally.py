"""How often each outcome came up, compared with its odds."""

from __future__ import annotations

import heapq
import math
from collections import Counter
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from operator import itemgetter
from typing import Any, TypeVar

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.chance import Outcome
from mothseed.faults import UnknownNameError
from mothseed.told import told

Thing = TypeVar("Thing")

Outcomes = Sequence[Outcome]
"""The outcomes of an edition. If many editions share one object, it is examined once."""

_Z = 1.959963984540054
"""Standard deviations to either side that contain 95% of a normal distribution."""
_RARE = 0.01
"""Significance level, for all values of a label together."""
_MOST_EXACT = 3000
"""Up to so many observations probabilities are exact; beyond, the normal approximation is as good."""
_MOST_VALUES = 40
_FEW_VALUES = 12
"""Most distinct numbers that are counted as values."""
_SURPRISE_STEP = 0.005
"""Rounding of log probabilities, within which decisions count as equally likely."""
_COMBINED = " + "


@dataclass(frozen=True, slots=True)
class Count:
    """One value of an outcome: how often it came up, and how often it was expected."""

    value: Any
    count: int
    share: float
    low: float
    high: float
    """95% Wilson interval of its share"""
    expected: float | None
    """share promised by the odds, on average; None without odds"""
    deviates: bool
    """whether it deviates significantly from its odds"""


@dataclass(frozen=True, slots=True)
class Tally:
    """All values of an outcome, the most frequent first."""

    label: str
    total: int
    """observations; an outcome may come up several times in an edition"""
    counts: tuple[Count, ...]


@dataclass(frozen=True, slots=True)
class Spread:
    """An outcome whose values hardly repeat: numbers within a range."""

    label: str
    total: int
    least: float
    mean: float
    most: float


def tallies(series: Sequence[Outcomes]) -> list[Tally | Spread]:
    """A tally of each outcome in order of first appearance; for numbers that hardly repeat, their spread."""
    by_label: dict[str, list[tuple[Outcome, int]]] = {}
    for outcomes, count in _each_once(series):
        for outcome in outcomes:
            by_label.setdefault(outcome.label, []).append((outcome, count))
    found: list[Tally | Spread] = []
    for label, all_of_it in by_label.items():
        came = _merged(all_of_it)
        total = sum(count for _, count in came)
        values = [outcome.value for outcome, _ in came]
        differ = len(set(map(repr, values))) > max(total / 2, _FEW_VALUES)
        if differ and all(map(_is_number, values)) and not came[0][0].promised:
            mean = math.fsum(outcome.value * count for outcome, count in came) / total
            found.append(Spread(label, total, min(values), mean, max(values)))
        else:
            found.append(_tally(label, came, total))
    return found


def combination(series: Sequence[Outcomes], labels: Sequence[str]) -> Tally:
    """A joint tally of several outcomes; if one came up several times in an edition, its first value counts.

    The expected share of a combination is the odds of the value decided first, times those of each other value given the ones
    before it: the odds of a tint may depend on the form. Raises UnknownNameError for a label that no edition has.
    """
    different = _each_once(series)
    known = dict.fromkeys(outcome.label for outcomes, _ in different for outcome in outcomes)
    for label in labels:
        if label not in known:
            hint = f"outcomes are {', '.join(known) or 'none'}"
            raise UnknownNameError("by", f"there is no outcome {label}", name=label, known=known, hint=hint)
    having, orders = [], np.zeros(len(labels))
    for outcomes, count in different:
        places = {outcome.label: place for place, outcome in reversed(list(enumerate(outcomes)))}
        if all(label in places for label in labels):
            orders += [count * places[label] for label in labels]
            having.append((tuple(outcomes[places[label]] for label in labels), count))
    together = _merged(having, key=lambda row: tuple(map(id, row)))
    total = sum(count for _, count in together)
    if all(outcome.promised for row, _ in together for outcome in row):
        rows, times = [row for row, _ in together], np.array([count for _, count in together], np.int64)
        decided = orders.argsort(kind="stable").tolist()
        values = _combinations(rows, decided)
        counts = [_together(rows, times, each, decided, _RARE / len(values)) for each in values]
    else:
        came: Counter[str] = Counter()
        for row, count in together:
            came[_COMBINED.join(told(outcome.value) for outcome in row)] += count
        counts = [
            Count(name, count, count / total, *wilson_interval(count, total), None, deviates=False)
            for name, count in came.items()
        ]
    counts.sort(key=lambda each: (-each.count, -(each.expected or 0.0)))
    return Tally(_COMBINED.join(labels), total, tuple(counts[:_MOST_VALUES]))


def rarest(series: Sequence[Outcomes], count: int) -> list[tuple[int, float]]:
    """Indices of the editions whose outcomes were least likely, rarest first, each with the probability of outcomes at most
    as likely.

    The probability is over all ways in which the decisions of that edition could have come up, so that having more decisions
    does not make an edition rarer.
    """
    of_each: dict[int, float] = {}
    known: dict[tuple[int, ...], float] = {(): math.inf}
    for outcomes, _ in _each_once(series):
        decided = [outcome for outcome in outcomes if outcome.odds]
        key = tuple(map(id, decided))
        if key not in known:
            known[key] = _probability_of_so_unlikely(decided)
        of_each[id(outcomes)] = known[key]
    scored = enumerate([of_each[id(outcomes)] for outcomes in series])
    return [pair for pair in heapq.nsmallest(count, scored, key=itemgetter(1)) if pair[1] <= 1]


def _probability_of_so_unlikely(decided: Sequence[Outcome]) -> float:
    """Probability of decisions that are jointly at most as likely as the given ones."""
    surprises = [np.array([(-math.log(odds), odds) for _, odds in outcome.promised if odds > 0]) for outcome in decided]
    steps = [np.round(surprise[:, 0] / _SURPRISE_STEP).astype(np.int64) for surprise in surprises]
    size = 1 << int(sum(int(own.max()) for own in steps)).bit_length()
    # Surprises add up; the distribution of their sum is the convolution of all of theirs.
    transformed = np.ones(size // 2 + 1, np.complex128)
    for own, surprise in zip(steps, surprises, strict=True):
        transformed *= np.fft.rfft(np.bincount(own, weights=surprise[:, 1], minlength=size))
    chances = np.fft.irfft(transformed, size)
    odds = math.prod(outcome.odds or 1.0 for outcome in decided)
    came = sum(round(-math.log(outcome.odds or 1.0) / _SURPRISE_STEP) for outcome in decided)
    return min(max(float(chances[came:].sum()), odds), 1.0)


def wilson_interval(count: int, total: int) -> tuple[float, float]:
    """The 95% interval of a share, from a count and a total.

    Wilson, "Probable inference, the law of succession, and statistical inference", 1927.
    """
    if total == 0:
        return 0.0, 1.0
    share, spread = count / total, _Z * _Z / total
    middle = share + spread / 2
    reach = _Z * math.sqrt(share * (1 - share) / total + spread / (4 * total))
    return max((middle - reach) / (1 + spread), 0.0), min((middle + reach) / (1 + spread), 1.0)


def probability_of_so_far_off(count: int, probabilities: FloatArray) -> float:
    """Two-sided probability of a count at least as far from expectation, for events with these probabilities.

    Twice the smaller tail of the Poisson binomial distribution; exact up to 3,000 events.
    """
    if len(probabilities) > _MOST_EXACT:
        mean, spread = float(probabilities.sum()), math.sqrt(float((probabilities * (1 - probabilities)).sum()))
        if spread == 0:
            return 1.0 if count == round(mean) else 0.0
        distance = max(abs(count - mean) - 0.5, 0.0) / spread
        return math.erfc(distance / math.sqrt(2))
    chances = np.ones(1)
    for probability in probabilities.tolist():
        chances = np.append(chances * (1 - probability), 0.0) + np.append(0.0, chances * probability)
    return min(2 * min(float(chances[: count + 1].sum()), float(chances[count:].sum())), 1.0)


def _each_once(series: Sequence[Outcomes]) -> list[tuple[Outcomes, int]]:
    """The distinct objects of outcomes, with the number of editions that share each."""
    counts = Counter(map(id, series))
    return [(outcomes, counts[key]) for key, outcomes in {id(outcomes): outcomes for outcomes in series}.items()]


def _merged(things: Iterable[tuple[Thing, int]], key: Callable[[Thing], Hashable] = id) -> list[tuple[Thing, int]]:
    """Counts merged by key, in order of first appearance."""
    found: dict[Hashable, Thing] = {}
    counts: Counter[Hashable] = Counter()
    for thing, count in things:
        own = key(thing)
        found.setdefault(own, thing)
        counts[own] += count
    return [(thing, counts[own]) for own, thing in found.items()]


def _tally(label: str, came: Sequence[tuple[Outcome, int]], total: int) -> Tally:
    values = {repr(outcome.value): outcome.value for outcome, _ in came}
    for outcome, _ in came:
        values.update({repr(value): value for value, probability in outcome.promised if probability > 0})
    promised = all(outcome.promised for outcome, _ in came)
    times = [count for _, count in came]
    by_value: Counter[str] = Counter()
    for outcome, count in came:
        by_value[repr(outcome.value)] += count
    counts = []
    for key, value in values.items():
        count = by_value[key]
        expected, deviates = None, False
        if promised:
            odds = np.repeat([_promised_to(value, outcome) for outcome, _ in came], times)
            expected = float(odds.mean())
            deviates = probability_of_so_far_off(count, odds) < _RARE / len(values)
        counts.append(Count(value, count, count / total, *wilson_interval(count, total), expected, deviates))
    counts.sort(key=lambda each: (-each.count, -(each.expected or 0.0)))
    return Tally(label, total, tuple(counts[:_MOST_VALUES]))


def _promised_to(value: Any, outcome: Outcome) -> float:
    return outcome.promised.for_value(value) or 0.0


def _combinations(rows: Sequence[Sequence[Outcome]], decided: Sequence[int]) -> list[tuple[Any, ...]]:
    """Combinations of values that came up or could have, in the order of the labels. What could follow values that never came
    up is unknown.
    """
    if not rows:
        return []
    found: dict[str, tuple[Any, ...]] = {}

    def follow(some: Sequence[Sequence[Outcome]], values: dict[int, Any], rest: Sequence[int]) -> None:
        if not rest:
            together = tuple(values[place] for place in range(len(decided)))
            found[repr(together)] = together
            return
        place = rest[0]
        different = [row[place] for row in some]
        own = {repr(outcome.value): outcome.value for outcome in different}
        own |= {repr(value): value for outcome in different for value, probability in outcome.promised if probability > 0}
        for key, value in own.items():
            further = [row for row in some if repr(row[place].value) == key]
            if further or len(rest) == 1:
                follow(further, {**values, place: value}, rest[1:])

    follow(rows, {}, decided)
    return list(found.values())


def _together(
    rows: Sequence[Sequence[Outcome]], times: WholeArray, values: tuple[Any, ...], decided: Sequence[int], rare: float
) -> Count:
    """How often some values came up together, and how often they were expected to; a probability below `rare` deviates.
    `times`, int64 (n,), says how often each row came up.
    """
    odds = np.ones(len(rows))
    came = np.ones(len(rows), np.bool)
    for place in decided:
        own = np.array([_promised_to(values[place], row[place]) for row in rows])
        # If an earlier decision had come out differently, what would have been promised after it is known from other editions.
        odds *= np.where(came, own, np.average(own[came], weights=times[came]))
        came &= [repr(row[place].value) == repr(values[place]) for row in rows]
    total, count, name = int(times.sum()), int(times[came].sum()), _COMBINED.join(told(value) for value in values)
    of_each = np.repeat(odds, times)
    far = probability_of_so_far_off(count, of_each)
    return Count(name, count, count / total, *wilson_interval(count, total), float(of_each.mean()), far < rare)


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
