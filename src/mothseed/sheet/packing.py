"""Circles that touch no other, of the sizes that there is room for."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.checks import finite, from_nothing, length
from mothseed.faults import SketchError
from mothseed.geometry.region import Area, Region, region_of
from mothseed.sheet.arrange import Stream

_MISSES = 400
"""Places that are tried one after the other in vain before an area counts as full."""


class PackedSpot(NamedTuple):
    """A circle of a packing."""

    x: float
    y: float
    radius: float
    turn: float = 0.0

    def box(self) -> tuple[float, float, float, float]:
        """The square about it, as the area of a view: left, top, width, height."""
        return -self.radius, -self.radius, 2 * self.radius, 2 * self.radius


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
        radius = min(most, largest, _room_in(region, x, y))
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


def _room_in(region: Region, x: float, y: float) -> float:
    """How far a point of a region is from its edge; 0 or less outside."""
    if region.radius is not None:
        return region.radius - math.hypot(x - region.left - region.radius, y - region.top - region.radius)
    if region.edges is None:
        return min(x - region.left, y - region.top, region.left + region.width - x, region.top + region.height - y)
    if not region.contains(np.array([x]), np.array([y]))[0]:
        return 0.0
    return math.sqrt(float(_square_to(region.edges, x, y).min()))


def _square_to(edges: FloatArray, x: float, y: float) -> FloatArray:
    """The square of the distance of a point from each edge (n, 4)."""
    along, down = edges[:, 2] - edges[:, 0], edges[:, 3] - edges[:, 1]
    aside_x, aside_y = x - edges[:, 0], y - edges[:, 1]
    squares = along * along + down * down
    part = np.clip((aside_x * along + aside_y * down) / np.where(squares > 0, squares, 1.0), 0.0, 1.0)
    off_x, off_y = aside_x - part * along, aside_y - part * down
    return np.asarray(off_x * off_x + off_y * off_y)
