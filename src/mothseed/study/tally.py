"""How often each outcome came up, held against what its odds promised."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.chance import Outcome, Promise
from mothseed.faults import UnknownNameError
from mothseed.series import Edition
from mothseed.told import told

_Z = 1.959963984540054
"""Standard deviations to either side within which 95 of 100 normal deviates lie."""
_RARE = 0.01
"""Probability, of all values of a label together, below which what came is more than chance allows."""
_MOST_EXACT = 3000
"""Observations up to which probabilities are exact; of more the normal distribution tells as much."""
_MOST_VALUES = 40
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
    labels = dict.fromkeys(outcome.label for edition in editions for outcome in edition.outcomes)
    found: list[Tally | Spread] = []
    for label in labels:
        outcomes = [outcome for edition in editions for outcome in edition.outcomes if outcome.label == label]
        numbers = [outcome.value for outcome in outcomes if _is_number(outcome.value)]
        values = {repr(outcome.value) for outcome in outcomes}
        if len(numbers) == len(outcomes) and len(values) > max(len(outcomes) / 2, 12) and not outcomes[0].promised:
            found.append(Spread(label, len(numbers), min(numbers), math.fsum(numbers) / len(numbers), max(numbers)))
        else:
            found.append(_tally(label, outcomes))
    return found


def combination(editions: Sequence[Edition], labels: Sequence[str]) -> Tally:
    """A tally of several outcomes together, as if they were one; what is promised is the product of what each was promised.

    Raises UnknownNameError for a label that no edition has. Of an outcome that came several times the first counts.
    """
    known = dict.fromkeys(outcome.label for edition in editions for outcome in edition.outcomes)
    for label in labels:
        if label not in known:
            hint = f"outcomes are {', '.join(known) or 'none'}"
            raise UnknownNameError("by", f"there is no outcome {label}", name=label, known=known, hint=hint)
    joint = []
    for edition in editions:
        first = {outcome.label: outcome for outcome in reversed(edition.outcomes)}
        if all(label in first for label in labels):
            joint.append(_joined([first[label] for label in labels]))
    return _tally(_COMBINED.join(labels), joint)


def rarest(editions: Sequence[Edition], count: int) -> list[tuple[Edition, float]]:
    """The editions whose outcomes were least likely together, with that probability, the rarest first."""
    scored = []
    for edition in editions:
        odds = [outcome.odds for outcome in edition.outcomes if outcome.odds]
        if odds:
            scored.append((edition, math.prod(odds)))
    return sorted(scored, key=lambda pair: pair[1])[:count]


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
    values = {repr(outcome.value): outcome.value for outcome in outcomes}
    for outcome in outcomes:
        values.update({repr(value): value for value, probability in outcome.promised if probability > 0})
    promised = bool(outcomes) and all(outcome.promised for outcome in outcomes)
    counts = []
    for key, value in values.items():
        count = sum(repr(outcome.value) == key for outcome in outcomes)
        expected, deviates = None, False
        if promised:
            odds = np.array([outcome.promised.for_value(value) or 0.0 for outcome in outcomes])
            expected = float(odds.mean())
            deviates = probability_of_so_far_off(count, odds) < _RARE / len(values)
        counts.append(Count(value, count, count / total, *wilson_interval(count, total), expected, deviates))
    counts.sort(key=lambda each: (-each.count, -(each.expected or 0.0)))
    return Tally(label, total, tuple(counts[:_MOST_VALUES]))


def _joined(outcomes: Sequence[Outcome]) -> Outcome:
    promise: list[tuple[str, float]] = [("", 1.0)]
    for outcome in outcomes:
        promise = [
            (f"{before}{_COMBINED if before else ''}{told(value)}", odds * probability)
            for before, odds in promise
            for value, probability in outcome.promised
        ]
    return Outcome("", _COMBINED.join(told(outcome.value) for outcome in outcomes), Promise.of(promise))


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
