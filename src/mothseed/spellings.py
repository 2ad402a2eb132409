"""Words that have two spellings, of which a call has one and takes the other too."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from mothseed.faults import SketchError

Parameters = ParamSpec("Parameters")
Result = TypeVar("Result")


def also_spelled(**names: str) -> Callable[[Callable[Parameters, Result]], Callable[Parameters, Result]]:
    """Have a function take a keyword in another spelling too: `@also_spelled(color="colour")`.

    Given both, it raises SketchError.
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
