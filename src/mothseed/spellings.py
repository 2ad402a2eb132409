"""Keywords with two spellings, of which calls accept both."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from mothseed.faults import SketchError

Parameters = ParamSpec("Parameters")
Result = TypeVar("Result")


def also_spelled(**names: str) -> Callable[[Callable[Parameters, Result]], Callable[Parameters, Result]]:
    """Let a function accept another spelling of a keyword: `@also_spelled(color="colour")`. Raises SketchError if both are
    given.
    """

    def mark(function: Callable[Parameters, Result]) -> Callable[Parameters, Result]:
        @wraps(function)
        def taking(*arguments: Any, **named: Any) -> Result:
            for other, own in names.items():
                if other in named:
                    if own in named:
                        raise SketchError(f"{function.__name__}: {other} and {own} are one thing", hint=f"leave out {other}")
                    named[own] = named.pop(other)
            return function(*arguments, **named)

        return taking

    return mark
