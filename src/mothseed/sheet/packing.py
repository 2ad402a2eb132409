"""Circles that touch no other, of the sizes that there is room for."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from mothseed.checks import finite, from_nothing, length
from mothseed.faults import SketchError
from mothseed.geometry.region import Area, Box, box_about_middle, region_of
from mothseed.sheet.arrange import Stream

_MISSES = 400
"""Places that are tried one after the other in vain before an area counts as full."""


class PackedSpot(NamedTuple):
    """A circle of a packing."""

    x: float
    y: float
    radius: float
    turn: float = 0.0

    def box(self) -> Box:
        """The square about it, as the area of a view: left, top, width, height."""
        return box_about_middle(2 * self.radius, 2 * self.radius)


def packed_spots(
    chance: Stream,
    count: int,
    area: Area,
    smallest: float,
    largest: float,
    gap: float,
    size: Callable[[float, float], float] | None,
) -> Iterator[PackedSpot]:
    """Up to so many circles in an area, each as large as its place allows, from a smallest radius to a largest.

    `size(x, y)` is the largest there. Where no room is left there are fewer. Places are drawn one after the other from one
    stream, so that the first hundred are the same whether a hundred or a thousand are asked for. Raises SketchError for radii
    that are not above 0 or the wrong way round, and for a gap that is negative.
    """
    length("packed", smallest=smallest, largest=largest)
    from_nothing("packed", gap=gap)
    if smallest > largest:
        raise SketchError(f"packed: the smallest radius is above the largest (got {smallest!r} and {largest!r})")
    region = region_of(area, "packed")
    circles, placed, misses = np.empty((64, 3)), 0, 0
    while placed < count and misses < _MISSES:
        x, y = region.left + chance.between(0, 1) * region.width, region.top + chance.between(0, 1) * region.height
        most = largest
        if size is not None:
            most = size(x, y)
            finite("packed", size=most)
        radius = min(most, largest, region.room_at(x, y))
        if placed and radius >= smallest:
            across, down = circles[:placed, 0] - x, circles[:placed, 1] - y
            away = np.sqrt(across * across + down * down) - circles[:placed, 2]
            radius = min(radius, float(away.min()) - gap)
        if radius < smallest:
            misses += 1
            continue
        if placed == len(circles):
            circles = np.concatenate([circles, np.empty_like(circles)])
        circles[placed] = x, y, radius
        placed, misses = placed + 1, 0
        yield PackedSpot(x, y, radius)
