"""Chance with some streams changed, to study their effect."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple, TypeVar

from mothseed.arrays import FloatArray
from mothseed.bits import Stream, stream_of
from mothseed.chance.draws import Size
from mothseed.chance.path import seed_path
from mothseed.chance.stream import Chance

Names = tuple[str | float, ...]
"""The name and keys of a stream; empty for the chance that the sketch receives."""

Numbers = TypeVar("Numbers", float, FloatArray)

_BENT = 64
"""How many numbers of a stream are bent; no more, so that a sketch that draws until a number suits it comes to an end."""


class Bend(NamedTuple):
    """How a stream is changed: it gives the numbers of another seed, the first of them squeezed into a part of their range.
    With the right part, an event of any odds comes up: the lowest hundredth does it for odds of one in fifty.
    """

    seed: str
    low: float
    span: float

    def of(self, unit: Numbers) -> Numbers:
        """A number from 0 to 1, or an array of them, squeezed into the part."""
        return self.low + self.span * unit


class Study:
    """Which streams of a performance are changed, and which of them are drawn from."""

    def __init__(self, bends: Mapping[Names, Bend]) -> None:
        self.bends = bends
        self.drawn: list[Names] = []
        """streams in the order of their first draw"""


class StudiedChance(Chance):
    """The same streams with the same numbers as `Chance`, except for those that are bent."""

    __slots__ = ("_bend", "_study", "names")

    names: Names
    _study: Study
    _bend: Bend | None

    def __init__(self, seed: int | str, reseeds: Mapping[str, int | str] | None, study: Study) -> None:
        """Start from a seed as `Chance` does."""
        super().__init__(seed, reseeds)
        self._note((), study)

    def _note(self, names: Names, study: Study) -> None:
        self.names, self._study, self._bend = names, study, study.bends.get(names)

    def _branch(self, key: str | float) -> Chance:
        branch = super()._branch(key)
        assert isinstance(branch, StudiedChance)
        branch._note((*self.names, key), self._study)
        return branch

    def _found_stream(self) -> Stream:
        if self._stream is None:
            self._study.drawn.append(self.names)
            if self._bend is not None:
                self._stream = stream_of(seed_path(self._bend.seed) + self._path)
        return super()._found_stream()

    def _unit(self) -> float:
        value, bend = super()._unit(), self._bend
        return value if bend is None or self._position - len(self._ready) > _BENT else bend.of(value)

    def _units(self, size: Size) -> FloatArray:
        values = super()._units(size)
        if self._bend is not None:
            first = self._position - math.prod(values.shape)
            bent = values.reshape(-1)[: max(_BENT - first, 0)]
            bent[:] = self._bend.of(bent)
        return values
