"""Chance that reports every draw."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import wraps
from typing import Any

from mothseed.chance.stream import Chance

Told = Callable[[tuple[str | float, ...], str, Any], None]
"""Receives each draw: the names of the stream, the distribution, the result."""

DISTRIBUTIONS = (
    *("between", "whole", "odds", "bell", "triangular", "skewed", "jittered", "turn"),
    *("pick", "several", "shuffled", "point", "walk", "field", "colour", "colour_near"),
)
"""The calls of a stream that draw from it."""


class TracedChance(Chance):
    """The same streams with the same numbers as `Chance`; each draw of a sketch is reported once, however it is made up."""

    __slots__ = ("_names", "_teller")

    _names: tuple[str | float, ...]
    _teller: _Teller

    def __init__(self, seed: int | str, reseeds: Mapping[str, int | str] | None, told: Told) -> None:
        """Start from a seed as `Chance` does; `told` is called with each draw."""
        self._names = ()
        self._teller = _Teller(told)
        super().__init__(seed, reseeds)

    def _branch(self, key: str | float) -> Chance:
        branch = super()._branch(key)
        assert isinstance(branch, TracedChance)
        branch._names = (*self._names, key)
        branch._teller = self._teller
        return branch


class _Teller:
    """Reports draws, but not those made by other draws."""

    __slots__ = ("busy", "told")

    def __init__(self, told: Told) -> None:
        self.told = told
        self.busy = False


def _telling(name: str) -> Callable[..., Any]:
    drawing = getattr(Chance, name)

    @wraps(drawing)
    def told(self: TracedChance, *arguments: Any, **more: Any) -> Any:
        teller = self._teller
        if teller.busy:
            return drawing(self, *arguments, **more)
        teller.busy = True
        try:
            value = drawing(self, *arguments, **more)
        finally:
            teller.busy = False
        teller.told(self._names, name, value)
        return value

    return told


for _name in DISTRIBUTIONS:
    setattr(TracedChance, _name, _telling(_name))
