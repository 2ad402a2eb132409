"""Dials: the declared parameters of a sketch."""

from __future__ import annotations

import math
from dataclasses import dataclass
from operator import index
from typing import Any

from mothseed.colour.value import Colour, as_colour
from mothseed.faults import FieldError, SketchError
from mothseed.told import quoted, told

WHOLE, NUMBER, CHOICE, SWITCH, COLOUR = "whole number", "number", "choice", "switch", "colour"

_ON = {"on", "yes", "true", "1"}
_OFF = {"off", "no", "false", "0"}


@dataclass(frozen=True, slots=True)
class Dial:
    """One parameter: its default, what values it takes, and what it is for."""

    kind: str
    default: Any
    low: float | None = None
    high: float | None = None
    step: float | None = None
    choices: tuple[Any, ...] = ()
    help: str = ""

    @property
    def takes(self) -> str:
        """What values it takes, in words."""
        match self.kind:
            case "choice":
                return f"one of {', '.join(map(told, self.choices))}"
            case "switch":
                return "on or off"
            case "colour":
                return "a CSS colour"
        text = f"a {self.kind}"
        if self.low is not None and self.high is not None:
            text += f" from {self.low:g} to {self.high:g}"
        elif self.low is not None:
            text += f" from {self.low:g} on"
        elif self.high is not None:
            text += f" up to {self.high:g}"
        return text + (f" in steps of {self.step:g}" if self.step is not None else "")

    def checked(self, name: str, value: object) -> Any:
        """The value as the sketch receives it; raises FieldError, naming the dial and what it takes."""
        match self.kind:
            case "choice":
                if value in self.choices:
                    return value
            case "switch":
                if isinstance(value, bool):
                    return value
            case "colour":
                try:
                    return as_colour(value)
                except SketchError:
                    pass
            case _:
                number = _as_number(self.kind, value)
                if number is not None and self._allows(number):
                    return number
        raise FieldError(
            f"dial {name}", f"expected {self.takes}, got {quoted(value)}", hint=self.help and f"{name}: {self.help}"
        )

    def parsed(self, name: str, text: str) -> Any:
        """The value that a text stands for; raises FieldError, naming the dial and what it takes."""
        match self.kind:
            case "choice":
                matches = [choice for choice in self.choices if text in (str(choice), told(choice))]
                return self.checked(name, matches[0] if matches else text)
            case "switch":
                word = text.strip().lower()
                return self.checked(name, True if word in _ON else False if word in _OFF else text)
            case "whole number":
                return self.checked(name, _number_or_text(int, text))
            case "number":
                return self.checked(name, _number_or_text(float, text))
        return self.checked(name, text)

    def _allows(self, number: float) -> bool:
        if (self.low is not None and number < self.low) or (self.high is not None and number > self.high):
            return False
        if self.step is None:
            return True
        steps = (number - (self.low if self.low is not None else 0)) / self.step
        return math.isclose(steps, round(steps), abs_tol=1e-9)


def dial(
    default: Any,
    low: float | None = None,
    high: float | None = None,
    *,
    step: float | None = None,
    choices: list[Any] | tuple[Any, ...] | None = None,
    help: str = "",
) -> Any:
    """Declare a dial, a named setting of a sketch, as the default of a keyword-only argument.

    The default decides the kind: True or False makes a switch, and a whole number, a number, a Colour or a CSS colour string
    make dials of that kind; with `choices`, it takes one of them. The range includes `low` and `high`; with `step`, only
    `low` plus multiples of it are accepted. Raises SketchError for a default that the dial itself would refuse.

    >>> dial(4, 0, 9, help="eyespots on each wing").takes
    'a whole number from 0 to 9'
    """
    made = Dial(_kind(default, choices), default, low, high, step, tuple(choices or ()), help)
    if made.kind not in (WHOLE, NUMBER) and not (low is high is step is None):
        raise SketchError(f"dial: a {made.kind} has no range", hint="leave low, high and step out")
    for name, bound in (("low", low), ("high", high), ("step", step)):
        if bound is not None and _as_number(NUMBER, bound) is None:
            raise SketchError(f"dial: {name} must be a finite number (got {bound!r})")
    if step is not None and not step > 0:
        raise SketchError(f"dial: step must be above 0 (got {step!r})")
    try:
        value = made.checked("", default)
    except FieldError:
        raise SketchError(
            f"dial: its own default {default!r} is not {made.takes}", hint="widen the range or change the default"
        ) from None
    return Dial(made.kind, value, low, high, step, made.choices, help)


def _kind(default: object, choices: object) -> str:
    if choices is not None:
        return CHOICE
    if isinstance(default, bool):
        return SWITCH
    if isinstance(default, Colour | str):
        try:
            as_colour(default)
        except SketchError:
            raise SketchError(
                f"dial: {default!r} is not a colour; a word needs choices", hint=f"write dial({default!r}, choices=[...])"
            ) from None
        return COLOUR
    if _as_number(WHOLE, default) is not None and not isinstance(default, float):
        return WHOLE
    if _as_number(NUMBER, default) is not None:
        return NUMBER
    raise SketchError(
        f"dial: a default is a number, a switch, a colour, or one of choices (got {default!r})", hint="write dial(4, 0, 9)"
    )


def _as_number(kind: str, value: object) -> Any:
    """The value as int or float, or None where it is not a finite number of that kind."""
    if isinstance(value, bool | str):
        return None
    try:
        if kind == WHOLE:
            return int(value) if isinstance(value, float) and value.is_integer() else index(value)  # type: ignore[arg-type]
        number = float(value)  # type: ignore[arg-type]
    except (TypeError, ValueError, OverflowError):
        return None
    return number if math.isfinite(number) else None


def _number_or_text(kind: type[int] | type[float], text: str) -> int | float | str:
    try:
        return kind(text)
    except ValueError:
        return text
