"""Slow and plain answers to hold the rasteriser against."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour import Colour
from mothseed.render import rendered
from mothseed.sheet import Sheet

Points = list[tuple[float, float]]


def ink_sheet(width: float, height: float) -> Sheet:
    """A white sheet in pixels; black on it can be read as coverage."""
    return Sheet(width, height, "px", Colour(1, 1, 1))


def coverage(sheet: Sheet, width: int | None = None) -> FloatArray:
    """How much of each pixel black paint covers, from 0 to 1, to within half a level."""
    return 1 - rendered(sheet.drawing(), width or int(sheet.width))[..., 0] / 255


def polygon_coverage(points: Points, width: int, height: int) -> FloatArray:
    """The exact area of a convex polygon in each pixel, by clipping it to each."""
    result = np.zeros((height, width))
    for y in range(height):
        row = _clipped(_clipped(points, 1, y, above=True), 1, y + 1, above=False)
        for x in range(width):
            result[y, x] = _area(_clipped(_clipped(row, 0, x, above=True), 0, x + 1, above=False))
    return result


def _clipped(points: Points, axis: int, limit: float, *, above: bool) -> Points:
    result: Points = []
    sign = 1 if above else -1
    for first, second in zip(points, [*points[1:], *points[:1]], strict=True):
        before, after = sign * (first[axis] - limit), sign * (second[axis] - limit)
        if before >= 0:
            result.append(first)
        if (before < 0) != (after < 0):
            part = before / (before - after)
            result.append((first[0] + part * (second[0] - first[0]), first[1] + part * (second[1] - first[1])))
    return result


def _area(points: Points) -> float:
    pairs = zip(points, [*points[1:], *points[:1]], strict=True)
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in pairs)) / 2


def sampled_coverage(inside: object, width: int, height: int, samples: int = 32) -> FloatArray:
    """The share of a fine lattice of points in each pixel for which `inside(x, y)`, on arrays, holds."""
    assert callable(inside)
    ticks = (np.arange(width * samples) + 0.5) / samples, (np.arange(height * samples) + 0.5) / samples
    hits: npt.NDArray[np.bool] = inside(ticks[0][None, :], ticks[1][:, None])
    result: FloatArray = hits.reshape(height, samples, width, samples).mean(axis=(1, 3))
    return result


def same_picture(first: ByteArray, second: ByteArray) -> bool:
    """Whether two images are equal to the last level."""
    return first.shape == second.shape and bool((first == second).all())
