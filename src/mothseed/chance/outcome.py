"""Labelled random decisions, recorded with the edition."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from mothseed.colour.value import Colour
from mothseed.faults import SketchError
from mothseed.records import register

MOST_PROMISED = 64
"""Most values of a decision whose odds are recorded: with more, nobody counts how often each one came up."""


class Promise(tuple[tuple[Any, float], ...]):
    """The possible values of a decision, each with its probability; empty if there are too many."""

    __slots__ = ()

    @classmethod
    def of(cls, odds: Iterable[tuple[object, float]]) -> Promise:
        """The probabilities of values in plain form; those of values with the same plain form add up."""
        totals: dict[str, tuple[Any, float]] = {}
        for value, probability in odds:
            plain = as_plain(value)
            _, before = totals.get(repr(plain), (plain, 0.0))
            totals[repr(plain)] = (plain, before + probability)
        return cls(totals.values() if len(totals) <= MOST_PROMISED else ())

    def for_value(self, value: object) -> float | None:
        """The probability promised for a value, or None."""
        return next((probability for other, probability in self if repr(other) == repr(value)), None)


_NO_PROMISE = Promise()


def _read_promise(pairs: Any) -> Promise:
    if not (isinstance(pairs, list | tuple) and all(isinstance(pair, list | tuple) and len(pair) == 2 for pair in pairs)):
        raise ValueError("a promise is a list of pairs")
    return Promise((value, float(odds)) for value, odds in pairs)


register(Promise, lambda promise: [list(pair) for pair in promise], _read_promise)


@dataclass(frozen=True, slots=True)
class Outcome:
    """One labelled decision: its label, the value that came up, and the probabilities of all values."""

    label: str
    value: Any
    promised: Promise = _NO_PROMISE

    @property
    def odds(self) -> float | None:
        """How likely this value was, if that is known."""
        return self.promised.for_value(self.value)


def noted(name: object, value: object) -> Outcome:
    """A fact that the artist wants recorded; raises SketchError unless its name is a word."""
    if not (isinstance(name, str) and name.strip()):
        raise SketchError(f"note: a note has a name (got {name!r})", hint='write note("moths", count)')
    return Outcome(name, as_plain(value))


def by_label(outcomes: Iterable[Outcome]) -> dict[str, Any]:
    """What came up for each label: the value, or a list of them in order if there are several."""
    return {label: came[0] if len(came) == 1 else came for label, came in all_by_label(outcomes).items()}


def all_by_label(outcomes: Iterable[Outcome]) -> dict[str, list[Any]]:
    """All values that came up for each label, in order."""
    values: dict[str, list[Any]] = {}
    for outcome in outcomes:
        values.setdefault(outcome.label, []).append(outcome.value)
    return values


def as_plain(value: Any) -> Any:
    """A value that JSON can hold and a person can read: a motif or symbol becomes its name, a colour its CSS string."""
    if isinstance(value, float) and not math.isfinite(value):
        return str(value)  # JSON cannot express it
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
