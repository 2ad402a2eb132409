"""The sequence that an arrangement returns, whose places are made on demand."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice
from typing import TypeVar, overload

Each = TypeVar("Each")


class Arrangement(Sequence[Each], Iterator[Each]):
    """A sequence that makes its items as you reach them, so that whatever you draw between two comes before the second.

    Its length, negative indices and slices make all items; items already made are kept. `next` consumes one: a loop then
    starts after it, while indices still count from the first.
    """

    def __init__(self, places: Iterator[Each]) -> None:
        self._coming = places
        self._made: list[Each] = []
        self._taken = 0

    def __iter__(self) -> Iterator[Each]:
        at, made, coming = self._taken, self._made, self._coming
        while True:
            if at == len(made):
                place = next(coming, None)
                if place is None:
                    return
                made.append(place)
            yield made[at]
            at += 1

    def __next__(self) -> Each:
        if not self._reaches(self._taken):
            raise StopIteration
        self._taken += 1
        return self._made[self._taken - 1]

    def __len__(self) -> int:
        self._made.extend(self._coming)
        return len(self._made)

    def __bool__(self) -> bool:
        return self._reaches(0)

    @overload
    def __getitem__(self, index: int) -> Each: ...
    @overload
    def __getitem__(self, index: slice) -> list[Each]: ...
    def __getitem__(self, index: int | slice) -> Each | list[Each]:
        if isinstance(index, slice) or index < 0 or not self._reaches(index):
            self._made.extend(self._coming)
        return self._made[index]

    def __repr__(self) -> str:
        return f"{len(self)} places"

    def _reaches(self, index: int) -> bool:
        """Whether there is an item with that index, which has then been made."""
        self._made.extend(islice(self._coming, max(index + 1 - len(self._made), 0)))
        return index < len(self._made)
