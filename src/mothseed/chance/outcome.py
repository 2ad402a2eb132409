"""Random decisions that the artist gave a name, kept with the edition."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from mothseed.colour.value import Colour
from mothseed.faults import SketchError
from mothseed.records import register

MOST_PROMISED = 64
"""Values of one decision whose odds are kept; of more nobody counts how often each one came."""


class Promise(tuple[tuple[Any, float], ...]):
    """What a decision may come to, with the probability of each value; empty where that is not a matter of a few values."""

    __slots__ = ()

    @classmethod
    def of(cls, odds: Iterable[tuple[object, float]]) -> Promise:
        """The probabilities of values as they are written down; of values that are written alike they add up."""
        totals: dict[str, tuple[Any, float]] = {}
        for value, probability in odds:
            plain = as_plain(value)
            _, before = totals.get(repr(plain), (plain, 0.0))
            totals[repr(plain)] = (plain, before + probability)
        return cls(totals.values() if len(totals) <= MOST_PROMISED else ())

    def for_value(self, value: object) -> float | None:
        """The probability that was promised to a value, or None where none was."""
        return next((probability for other, probability in self if repr(other) == repr(value)), None)


_NO_PROMISE = Promise()


def _read_promise(pairs: Any) -> Promise:
    if not (isinstance(pairs, list | tuple) and all(isinstance(pair, list | tuple) and len(pair) == 2 for pair in pairs)):
        raise ValueError("a promise is a list of pairs")
    return Promise((value, float(odds)) for value, odds in pairs)


register(Promise, lambda promise: [list(pair) for pair in promise], _read_promise)


@dataclass(frozen=True, slots=True)
class Outcome:
    """One labelled decision: what it was called, what came, and what might have come with which probability."""

    label: str
    value: Any
    promised: Promise = _NO_PROMISE

    @property
    def odds(self) -> float | None:
        """How likely it was that this came, where that is known."""
        return self.promised.for_value(self.value)


def noted(name: object, value: object) -> Outcome:
    """A fact that the artist wants kept; raises SketchError where its name is no word."""
    if not (isinstance(name, str) and name.strip()):
        raise SketchError(f"note: a note has a name (got {name!r})", hint='write note("moths", count)')
    return Outcome(name, as_plain(value))


def by_label(outcomes: Iterable[Outcome]) -> dict[str, Any]:
    """What came for each label: the value, or a list of them in order where it came more than once."""
    return {label: came[0] if len(came) == 1 else came for label, came in all_by_label(outcomes).items()}


def all_by_label(outcomes: Iterable[Outcome]) -> dict[str, list[Any]]:
    """All that came for each label, in order."""
    values: dict[str, list[Any]] = {}
    for outcome in outcomes:
        values.setdefault(outcome.label, []).append(outcome.value)
    return values


def as_plain(value: Any) -> Any:
    """A value that JSON can hold and a person can read: a motif becomes its name, a colour its CSS string."""
    if isinstance(value, float) and not math.isfinite(value):
        return str(value)  # JSON has no word for it
    if value is None or isinstance(value, bool | int | float | str):
        return value
    if isinstance(value, Colour):
        return value.css
    if isinstance(value, list | tuple):
        return [as_plain(item) for item in value]
    if hasattr(value, "tolist"):
        return as_plain(value.tolist())
    name = getattr(value, "__name__", None)
    return name if isinstance(name, str) else str(value)
