"""What the numbers and words that a sketch hands over have to be, and what is said where they are not.

Every check names the call and the argument, and takes what Python and NumPy call a number: `np.int64(3)` is a whole number,
True is not.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from operator import index
from typing import Any, SupportsIndex

from mothseed.faults import SketchError


def whole(call: str, name: str, value: SupportsIndex, least: int = 0, most: int | None = None, *, hint: str = "") -> int:
    """The value as an int, if it is a whole number of that range; raises SketchError for any other."""
    number = as_whole(value)
    if number is None or number < least or (most is not None and number > most):
        span = f", {least} or more" if most is None else f" from {least} to {most}"
        raise SketchError(f"{call}: {name} must be a whole number{span} (got {value!r})", hint=hint)
    return number


def as_whole(value: object) -> int | None:
    """A whole number of any kind as an int, or None; a float is none, however whole it is."""
    if isinstance(value, bool) or not isinstance(value, SupportsIndex):
        return None
    try:
        return index(value)
    except TypeError:  # an array of several
        return None


def finite(call: str, *, hint: str = "", **numbers: Any) -> None:
    """Refuse what is not a finite number."""
    for name, number in numbers.items():
        # `is_finite` inlined: it is called at every step and for every frame.
        try:
            fits = math.isfinite(number) and type(number) is not bool
        except (TypeError, ValueError, OverflowError):
            fits = False
        if not fits:
            raise SketchError(f"{call}: {name.replace('_', ' ')} must be a finite number (got {number!r})", hint=hint)


def length(call: str, *, hint: str = "", **numbers: Any) -> None:
    """Refuse what is not a finite number above 0."""
    for name, number in numbers.items():
        if not (is_finite(number) and number > 0):
            raise SketchError(f"{call}: {name.replace('_', ' ')} must be a length above 0 (got {number!r})", hint=hint)


def from_nothing(call: str, *, hint: str = "", **numbers: Any) -> None:
    """Refuse what is not a finite number, 0 or more."""
    for name, number in numbers.items():
        if not (is_finite(number) and number >= 0):
            raise SketchError(f"{call}: {name.replace('_', ' ')} must be 0 or more (got {number!r})", hint=hint)


def one_of(call: str, name: str, value: object, known: Iterable[object], *, hint: str = "") -> None:
    """Refuse what is none of the values that there are."""
    choices = tuple(known)
    for each in choices:
        if type(value) is type(each) and value == each:
            return
    raise SketchError(f"{call}: {name} must be one of {', '.join(map(str, choices))} (got {value!r})", hint=hint)


def is_finite(number: Any) -> bool:
    """Whether it is one finite number."""
    if isinstance(number, bool):
        return False
    try:
        return math.isfinite(number)
    except (TypeError, ValueError, OverflowError):
        return False
