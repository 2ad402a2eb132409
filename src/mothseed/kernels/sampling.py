"""What a sketch looks up in a picture: colours between pixels, mean colours of discs, slopes of lightness."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2, Array3
from mothseed.kernels.primitives import EDGE, NONE
from mothseed.kernels.texels import inside
from mothseed.native.jit import entry, inlined


@entry
def add_up_discs(
    pixels: Array3[np.uint8],
    outside: int,
    u: Array1[np.float64],
    v: Array1[np.float64],
    reach_x: Array1[np.float64],
    reach_y: Array1[np.float64],
    span: int,
    sums: Array2[np.float64],
) -> None:
    """Set `sums` (n, 5) to the sums of premultiplied colours and of weights of the pixels around (u, v), each weighted by how
    much of it lies within an ellipse that reaches that far, up to `span` pixels away. They are added up row by row.
    """
    height, width = pixels.shape[0], pixels.shape[1]
    for n in range(len(u)):
        column, row = int(math.floor(u[n])), int(math.floor(v[n]))
        least = min(reach_x[n], reach_y[n])
        # Half a pixel beyond its edge, measured along its shorter axis, nothing is left of it.
        most = max(reach_x[n], reach_y[n]) * (1.0 + 0.5 / least)
        own = min(span, int(most) + 2)
        red = green = blue = alpha = weights = 0.0
        for j in range(-own, own + 1):
            down = (float(row + j) + 0.5 - v[n]) / reach_y[n]
            y = inside(row + j, height, outside)
            for i in range(-own, own + 1):
                across = (float(column + i) + 0.5 - u[n]) / reach_x[n]
                far = math.sqrt(across * across + down * down)
                weight = min(max((1.0 - far) * least + 0.5, 0.0), 1.0)
                if weight > 0.0:
                    weights += weight
                    x = inside(column + i, width, outside)
                    red += weight * _part_of(pixels, y, x, 0)
                    green += weight * _part_of(pixels, y, x, 1)
                    blue += weight * _part_of(pixels, y, x, 2)
                    alpha += weight * _part_of(pixels, y, x, 3)
        sums[n, 0], sums[n, 1], sums[n, 2], sums[n, 3], sums[n, 4] = red, green, blue, alpha, weights


@entry
def find_colours(
    pixels: Array3[np.uint8], outside: int, u: Array1[np.float64], v: Array1[np.float64], colours: Array2[np.float64]
) -> None:
    """Set `colours` (n, 4) to the premultiplied colours at (u, v), interpolated between the four nearest pixels."""
    height, width = pixels.shape[0], pixels.shape[1]
    for n in range(len(u)):
        left, right, across = _two_nearest(u[n], width, outside)
        upper, lower, down = _two_nearest(v[n], height, outside)
        for channel in range(4):
            colours[n, channel] = _between(
                _part_of(pixels, upper, left, channel),
                _part_of(pixels, upper, right, channel),
                _part_of(pixels, lower, left, channel),
                _part_of(pixels, lower, right, channel),
                across,
                down,
            )


@entry
def find_slopes(
    levels: Array2[np.float64],
    outside: int,
    u: Array1[np.float64],
    v: Array1[np.float64],
    across: float,
    down: float,
    slopes: Array2[np.float64],
) -> None:
    """Set `slopes` (2, n) to how much the levels rise from `across` to the left of (u, v) to as far to its right, and from
    `down` above it to as far below.
    """
    edge = EDGE if outside == NONE else outside
    for n in range(len(u)):
        slopes[0, n] = _level_at(levels, edge, u[n] + across, v[n]) - _level_at(levels, edge, u[n] - across, v[n])
        slopes[1, n] = _level_at(levels, edge, u[n], v[n] + down) - _level_at(levels, edge, u[n], v[n] - down)


@inlined
def _level_at(levels: Array2[np.float64], outside: int, u: float, v: float) -> float:
    """A level interpolated between the four nearest."""
    height, width = levels.shape
    left, right, across = _two_nearest(u, width, outside)
    upper, lower, down = _two_nearest(v, height, outside)
    return _between(levels[upper, left], levels[upper, right], levels[lower, left], levels[lower, right], across, down)


@inlined
def _two_nearest(place: float, count: int, outside: int) -> tuple[int, int, float]:
    """The two columns or rows whose middles are nearest to a place, as `inside` has them, and how far it lies between them."""
    first = math.floor(place - 0.5)
    return inside(int(first), count, outside), inside(int(first) + 1, count, outside), place - 0.5 - first


@inlined
def _part_of(pixels: Array3[np.uint8], row: int, column: int, channel: int) -> float:
    """A channel of a pixel, premultiplied, from 0 to 1; 0 if there is none."""
    if row < 0 or column < 0:
        return 0.0
    part: float = pixels[row, column, 3] / 255.0
    if channel < 3:
        part *= pixels[row, column, channel] / 255.0
    return part


@inlined
def _between(upper_left: float, upper_right: float, lower_left: float, lower_right: float, across: float, down: float) -> float:
    """Bilinear interpolation."""
    upper = upper_left + (upper_right - upper_left) * across
    lower = lower_left + (lower_right - lower_left) * across
    return upper + (lower - upper) * down
