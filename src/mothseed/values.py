"""Immutable classes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NoReturn, TypeVar

from mothseed.faults import ChangeError

Class = TypeVar("Class", bound=type)
Value = TypeVar("Value")


def fixed(instead: str) -> Callable[[Class], Class]:
    """Mark a class whose objects never change: who sets or deletes an attribute is told what to write `instead`.

    It goes above every other decorator. A class fills its own slots by `object.__setattr__` before anybody else has the object,
    or, ten times as quickly, fills an object of a base that has the slots and is not fixed, and then has it `closed`.
    """

    def mark(kind: Class) -> Class:
        def refuse(value: object, name: str, *_: object) -> NoReturn:
            what = type(value).__name__
            article = "an" if what[0] in "AEIOU" else "a"
            raise ChangeError(f"{article} {what} never changes, so {name} cannot be set", hint=instead)

        kind.__setattr__ = refuse  # type: ignore[method-assign]
        kind.__delattr__ = refuse  # type: ignore[assignment, method-assign]
        if "__slots__" in vars(kind) and "__setstate__" not in vars(kind):
            kind.__setstate__ = _restore  # type: ignore[attr-defined]
        return kind

    return mark


def closed(filled: object, kind: type[Value]) -> Value:
    """An object turned into one of a fixed class without further slots."""
    filled.__class__ = kind
    return filled  # type: ignore[return-value]


def _restore(value: object, state: Any) -> None:
    """Fill the slots of a copy, in place of `copy` and `pickle` setting attributes."""
    fields, slots = state if isinstance(state, tuple) else (state, None)
    for name, part in {**(fields or {}), **(slots or {})}.items():
        object.__setattr__(value, name, part)
