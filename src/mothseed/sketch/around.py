"""Values to try around the current settings, to see what each dial and each stream does."""

from __future__ import annotations

from typing import Any

from mothseed.colour.oklch import from_oklch, oklch_of
from mothseed.faults import FieldError
from mothseed.sketch.dials import CHOICE, COLOUR, NUMBER, SWITCH, WHOLE, Dial
from mothseed.sketch.vary import Setting, reseeded, turned

_PARTS = (-0.25, -0.1, 0.1, 0.25)
"""In ranges of a dial, or in its value if it has none: a little and a lot, to either side."""
_MOST_CHOICES = 6
_LIGHTER, _TURN = 0.15, 40.0
RESEEDS = 4
"""Seeds from which a stream is redrawn."""


def settings_around(name: str, dial: Dial, value: Any) -> tuple[Setting, ...]:
    """Other values of a dial to try: all of a switch or of few choices, four around a number."""
    values = [each for each in dict.fromkeys(_values_around(dial, value)) if each != value and _takes(name, dial, each)]
    return tuple(turned(name, each) for each in values)


def ends_of(dial: Dial, value: Any) -> list[Any]:
    """The ends of the range of a numeric dial, unless it is there; 0 and double the value if it has no range."""
    if dial.kind not in (WHOLE, NUMBER):
        return []
    ends = (0 if dial.low is None else dial.low, 2 * value if dial.high is None else dial.high)
    return [end for end in ends if end != value]


def reseedings(stream: str, count: int = RESEEDS) -> tuple[Setting, ...]:
    """The stream redrawn, from so many seeds."""
    return tuple(reseeded(stream, seed) for seed in range(1, count + 1))


def _values_around(dial: Dial, value: Any) -> list[Any]:
    if dial.kind == SWITCH:
        return [not value]
    if dial.kind == CHOICE:
        return list(dial.choices)[:_MOST_CHOICES]
    if dial.kind == COLOUR:
        lightness, chroma, hue = oklch_of(value)
        lighter = [from_oklch(min(max(lightness + step, 0), 1), chroma, hue, value.alpha) for step in (-_LIGHTER, _LIGHTER)]
        return [*lighter, *(from_oklch(lightness, chroma, hue + turn, value.alpha) for turn in (-_TURN, _TURN))]
    bounded = dial.low is not None and dial.high is not None
    reach = float(dial.high - dial.low) if bounded else abs(value) or 1.0  # type: ignore[operator]
    values = [value + part * reach for part in _PARTS]
    if dial.kind == WHOLE:
        # At least the next integer.
        values = [round(each) if abs(each - value) >= 1 else value + (1 if each > value else -1) for each in values]
    elif dial.step is not None:
        base = dial.low or 0.0
        values = [base + round((each - base) / dial.step) * dial.step for each in values]
    low = -float("inf") if dial.low is None else dial.low
    high = float("inf") if dial.high is None else dial.high
    return [min(max(round(each, 12), low), high) for each in values]


def _takes(name: str, dial: Dial, value: Any) -> bool:
    try:
        dial.checked(name, value)
    except FieldError:
        return False
    return True
