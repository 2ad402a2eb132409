"""Groups: layers and clips, whose marks are painted apart and laid on as one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from mothseed.arrays import WholeArray

NO_CLIP = -1


class Group(NamedTuple):
    """A layer, or a clip; group 0 is the sheet itself."""

    parent: int
    """number of the group that it lies in; -1 for the sheet"""
    name: str = ""
    """of a layer; a clip has none"""
    opacity: float = 1.0
    blend: str = "normal"
    outline: int = NO_CLIP
    """of a clip: number of the outline that is kept"""
    view: int = 0
    """of a clip: the view in which the outline lies"""
    even_odd: bool = False
    anchor: int = 0
    """of a layer: how many marks there were when it was made, above which it lies"""

    @property
    def is_layer(self) -> bool:
        """Whether it is gathered at its own place, rather than where its marks are drawn."""
        return self.outline == NO_CLIP


def chain(groups: Sequence[Group], number: int) -> list[int]:
    """A group and those around it, the outermost first, without the sheet."""
    result: list[int] = []
    while number > 0:
        result.append(number)
        number = groups[number].parent
    return result[::-1]


def in_common(first: Sequence[int], second: Sequence[int]) -> int:
    """How many groups, from the outermost on, two chains of them share."""
    count = 0
    while count < min(len(first), len(second)) and first[count] == second[count]:
        count += 1
    return count


def painting_order(groups: Sequence[Group], group_of: WholeArray) -> WholeArray:
    """The order in which marks are painted, as indices: as they were drawn, but those of a layer together at its place."""
    layer_of = np.array([_layer_around(groups, number) for number in range(len(groups))])
    marks_of = layer_of[group_of]
    children: dict[int, list[int]] = {}
    for number, group in enumerate(groups):
        if number and group.is_layer:
            children.setdefault(_layer_around(groups, group.parent), []).append(number)

    def ordered(layer: int) -> Iterator[WholeArray]:
        own = np.flatnonzero(marks_of == layer)
        begin = 0
        for child in children.get(layer, []):
            end = int(np.searchsorted(own, groups[child].anchor))
            yield own[begin:end]
            yield from ordered(child)
            begin = end
        yield own[begin:]

    return np.concatenate(list(ordered(0)))


def _layer_around(groups: Sequence[Group], number: int) -> int:
    """The layer that a group is or lies in."""
    while not groups[number].is_layer:
        number = groups[number].parent
    return number
