"""How often each outcome came up, held against what its odds promised."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.chance import Outcome
from mothseed.faults import UnknownNameError
from mothseed.series import Edition
from mothseed.told import told

Found = TypeVar("Found")

_Z = 1.959963984540054
"""Standard deviations to either side within which 95 of 100 normal deviates lie."""
_RARE = 0.01
"""Probability, of all values of a label together, below which what came is more than chance allows."""
_MOST_EXACT = 3000
"""Observations up to which probabilities are exact; of more the normal distribution tells as much."""
_MOST_VALUES = 40
_SURPRISE_STEP = 0.005
"""Steps of the logarithm of a probability in which decisions are as likely as each other."""
_COMBINED = " + "


@dataclass(frozen=True, slots=True)
class Count:
    """One value of an outcome: how often it came, and how often it was to be expected."""

    value: Any
    count: int
    share: float
    low: float
    high: float
    """between which its true share lies in 95 of 100 cases (Wilson's interval)"""
    expected: float | None
    """share that was promised, on average, or None where nothing was"""
    deviates: bool
    """whether it came more or less often than chance allows"""


@dataclass(frozen=True, slots=True)
class Tally:
    """All values of an outcome, the most frequent first."""

    label: str
    total: int
    """observations; an outcome may come several times in an edition"""
    counts: tuple[Count, ...]


@dataclass(frozen=True, slots=True)
class Spread:
    """An outcome of which hardly two values are the same: a number within a range."""

    label: str
    total: int
    least: float
    mean: float
    most: float


def tallies(editions: Sequence[Edition]) -> list[Tally | Spread]:
    """A tally of each outcome in the order in which they first came; of numbers that hardly repeat their spread."""
    by_label: dict[str, list[Outcome]] = {}
    for edition in editions:
        for outcome in edition.outcomes:
            by_label.setdefault(outcome.label, []).append(outcome)
    found: list[Tally | Spread] = []
    for label, outcomes in by_label.items():
        numbers = [outcome.value for outcome in outcomes if _is_number(outcome.value)]
        values = {repr(outcome.value) for outcome in _different(outcomes)}
        if len(numbers) == len(outcomes) and len(values) > max(len(outcomes) / 2, 12) and not outcomes[0].promised:
            found.append(Spread(label, len(numbers), min(numbers), math.fsum(numbers) / len(numbers), max(numbers)))
        else:
            found.append(_tally(label, outcomes))
    return found


def combination(editions: Sequence[Edition], labels: Sequence[str]) -> Tally:
    """A tally of several outcomes together, as if they were one; of an outcome that came several times the first counts.

    What is to be expected of values together is what was promised of the first that was decided, times what was promised of
    each other where those before it had come: the odds of a tint may depend on the form.

    Raises UnknownNameError for a label that no edition has.
    """
    known = dict.fromkeys(outcome.label for edition in editions for outcome in edition.outcomes)
    for label in labels:
        if label not in known:
            hint = f"outcomes are {', '.join(known) or 'none'}"
            raise UnknownNameError("by", f"there is no outcome {label}", name=label, known=known, hint=hint)
    rows, orders = [], []
    for edition in editions:
        places = {outcome.label: place for place, outcome in reversed(list(enumerate(edition.outcomes)))}
        if all(label in places for label in labels):
            orders.append([places[label] for label in labels])
            rows.append([edition.outcomes[place] for place in orders[-1]])
    decided = np.array(orders, np.float64).reshape(-1, len(labels)).sum(axis=0).argsort(kind="stable").tolist()
    promised = all(outcome.promised for outcome in _different(outcome for row in rows for outcome in row))
    values = _combinations(rows, decided)
    counts = [_together(rows, each, decided, _RARE / len(values), promised=promised) for each in values]
    counts.sort(key=lambda each: (-each.count, -(each.expected or 0.0)))
    return Tally(_COMBINED.join(labels), len(rows), tuple(counts[:_MOST_VALUES]))


def rarest(editions: Sequence[Edition], count: int) -> list[tuple[Edition, float]]:
    """The editions whose outcomes were least likely, the rarest first, each with the probability that so unlikely ones come.

    That is of all ways in which the decisions of the edition could have come those which are at most as likely: an edition with
    more decisions is not the rarer for it.
    """
    known: dict[tuple[int, ...], float] = {}
    scored = []
    for edition in editions:
        came = tuple(map(id, edition.outcomes))
        if came not in known:
            decided = [outcome for outcome in edition.outcomes if outcome.odds]
            known[came] = _probability_of_so_unlikely(decided) if decided else math.inf
        if known[came] <= 1:
            scored.append((edition, known[came]))
    return sorted(scored, key=lambda pair: pair[1])[:count]


def _probability_of_so_unlikely(decided: Sequence[Outcome]) -> float:
    """How likely decisions come that are together at most as likely as those that came."""
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
    """The range in which the true share of something lies in 95 of 100 cases, that came so often among so many.

    Wilson, "Probable inference, the law of succession, and statistical inference", 1927.
    """
    if total == 0:
        return 0.0, 1.0
    share, spread = count / total, _Z * _Z / total
    middle = share + spread / 2
    reach = _Z * math.sqrt(share * (1 - share) / total + spread / (4 * total))
    return max((middle - reach) / (1 + spread), 0.0), min((middle + reach) / (1 + spread), 1.0)


def probability_of_so_far_off(count: int, probabilities: FloatArray) -> float:
    """How likely a count is at least as far from what is expected, of events with these probabilities, to either side.

    Twice the smaller tail of the distribution of their number; exact up to 3,000 events.
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


def _tally(label: str, outcomes: Sequence[Outcome]) -> Tally:
    total = len(outcomes)
    different = _different(outcomes)
    values = {repr(outcome.value): outcome.value for outcome in different}
    for outcome in different:
        values.update({repr(value): value for value, probability in outcome.promised if probability > 0})
    promised = bool(outcomes) and all(outcome.promised for outcome in different)
    came = Counter(_of_each(outcomes, different, lambda outcome: repr(outcome.value)))
    counts = []
    for key, value in values.items():
        count = came[key]
        expected, deviates = None, False
        if promised:
            odds = np.array(_of_each(outcomes, different, partial(_promised_to, value)))
            expected = float(odds.mean())
            deviates = probability_of_so_far_off(count, odds) < _RARE / len(values)
        counts.append(Count(value, count, count / total, *wilson_interval(count, total), expected, deviates))
    counts.sort(key=lambda each: (-each.count, -(each.expected or 0.0)))
    return Tally(label, total, tuple(counts[:_MOST_VALUES]))


def _different(outcomes: Iterable[Outcome]) -> list[Outcome]:
    """Those that are different objects, in order: what came in many editions alike is one object in them."""
    return list({id(outcome): outcome for outcome in outcomes}.values())


def _of_each(outcomes: Iterable[Outcome], different: Iterable[Outcome], found: Callable[[Outcome], Found]) -> list[Found]:
    """What is found of each outcome, looked for once in each of the `different` ones."""
    known = {id(outcome): found(outcome) for outcome in different}
    return [known[id(outcome)] for outcome in outcomes]


def _is(written: str, outcome: Outcome) -> bool:
    return repr(outcome.value) == written


def _promised_to(value: Any, outcome: Outcome) -> float:
    return outcome.promised.for_value(value) or 0.0


def _combinations(rows: Sequence[Sequence[Outcome]], decided: Sequence[int]) -> list[tuple[Any, ...]]:
    """The values of several outcomes that came or could have come together, in the order of the labels.

    What could follow on values that never came is not known.
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
        different = _different(row[place] for row in some)
        own = {repr(outcome.value): outcome.value for outcome in different}
        own |= {repr(value): value for outcome in different for value, probability in outcome.promised if probability > 0}
        for key, value in own.items():
            same = {id(outcome) for outcome in different if repr(outcome.value) == key}
            further = [row for row in some if id(row[place]) in same]
            if further or len(rest) == 1:
                follow(further, {**values, place: value}, rest[1:])

    follow(rows, {}, decided)
    return list(found.values())


def _together(
    rows: Sequence[Sequence[Outcome]], values: tuple[Any, ...], decided: Sequence[int], rare: float, *, promised: bool
) -> Count:
    """How often some values came together, and how often they were to; what is less likely than `rare` deviates."""
    odds = np.ones(len(rows))
    came = np.ones(len(rows), np.bool)
    for place in decided:
        outcomes = [row[place] for row in rows]
        different = _different(outcomes)
        own = np.array(_of_each(outcomes, different, partial(_promised_to, values[place])))
        # Where what was decided before came otherwise, what would have been promised after it is known from the other editions.
        odds *= np.where(came, own, own[came].mean())
        came &= np.array(_of_each(outcomes, different, partial(_is, repr(values[place]))), np.bool)
    count, name = int(came.sum()), _COMBINED.join(told(value) for value in values)
    expected = float(odds.mean()) if promised else None
    far = probability_of_so_far_off(count, odds) if promised else 1.0
    return Count(name, count, count / len(rows), *wilson_interval(count, len(rows)), expected, far < rare)


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
