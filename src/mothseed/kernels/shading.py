"""Painting with ramps and pictures through a mask."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1
from mothseed.kernels.lanes import any_lanes, paint_lanes
from mothseed.kernels.lookups import ramp_lanes
from mothseed.kernels.paint import clear
from mothseed.kernels.primitives import PICTURE_SHADE, RADIAL_SHADE, Shades, TileJob, Window
from mothseed.kernels.texels import inside
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import LANES, RUN
from mothseed.native.jit import inlined, kernel, technique

_ZERO, _ONE = np.float32(0.0), np.float32(1.0)

Weights = Array1[np.float64]


@technique
def lay_shade(job: TileJob, window: Window, left_of_tile: int, top_of_tile: int, i: int) -> None:
    """Lay the ramp or picture of primitive i on a window through the mask, the first plane of the last level, and clear the
    mask there.
    """
    if job.primitives.shades.kind[job.primitives.shade[i]] == PICTURE_SHADE:
        _lay_picture(job, window, left_of_tile, top_of_tile, i)
    else:
        _lay_ramp(job, window, left_of_tile, top_of_tile, i)
    clear(job.room.tiles, Window(len(job.room.tiles) - 1, 1, window.top, window.bottom, window.first, window.last))


@inlined
def _lay_ramp(job: TileJob, window: Window, left_of_tile: int, top_of_tile: int, i: int) -> None:
    primitives, tiles, paint = job.primitives, job.room.tiles, job.room.paint
    maps, shade, tables = primitives.shade_map, primitives.shade[i], primitives.shades.tables
    table, is_radial = primitives.shades.table[shade], primitives.shades.kind[shade] == RADIAL_SHADE
    across, down = np.float32(maps[i, 0]), np.float32(maps[i, 1])
    for row in range(window.top, window.bottom):
        y = top_of_tile + row + 0.5
        start, cover = row_of(window.level, row), row_of(len(tiles) - 1, row)
        for block in range(window.first, window.last):
            if any_lanes(tiles, cover + block * LANES):
                x = left_of_tile + block * LANES + 0.5
                u = np.float32(maps[i, 0] * x + maps[i, 2] * y + maps[i, 4])
                v = np.float32(maps[i, 1] * x + maps[i, 3] * y + maps[i, 5])
                ramp_lanes(paint, tables, table, u, across, v, down, is_radial)
                for plane in range(window.planes):
                    place = start + plane * RUN + block * LANES
                    paint_lanes(tiles, place, paint, plane * LANES, 3 * LANES, tiles, cover + block * LANES)


@inlined
def _lay_picture(job: TileJob, window: Window, left_of_tile: int, top_of_tile: int, i: int) -> None:
    primitives, tiles, level, mask = job.primitives, job.room.tiles, window.level, len(job.room.tiles) - 1
    colour, columns, rows = job.room.colour, job.room.columns, job.room.rows
    maps, number, shades = primitives.shade_map, primitives.shade[i], primitives.shades
    for row in range(window.top, window.bottom):
        y = top_of_tile + row + 0.5
        for x in range(window.first * LANES, window.last * LANES):
            cover = tiles[mask, row, 0, x]
            if cover <= _ZERO:
                continue
            px = left_of_tile + x + 0.5
            u = maps[i, 0] * px + maps[i, 2] * y + maps[i, 4]
            v = maps[i, 1] * px + maps[i, 3] * y + maps[i, 5]
            _colour_of_picture(number, shades, u, v, columns, rows, colour)
            through = _ONE - colour[3] * cover
            for plane in range(window.planes):
                tiles[level, row, plane, x] = tiles[level, row, plane, x] * through + colour[plane] * cover


@kernel
def _colour_of_picture(
    number: int, shades: Shades, u: float, v: float, columns: Weights, rows: Weights, colour: Array1[np.float32]
) -> None:
    """The premultiplied colour at a place of a picture, in its own pixels; `columns` and `rows` are scratch space. Smooth
    pictures are interpolated by Catmull-Rom splines in both directions, over four pixels each: Keys, "Cubic convolution
    interpolation for digital image processing", 1981, with a = -1/2.
    """
    outside = shades.outside[number]
    start, width, height = shades.size[number, 0], shades.size[number, 1], shades.size[number, 2]
    count = 1
    left, upper = math.floor(u), math.floor(v)
    columns[0], rows[0] = 1.0, 1.0
    if shades.smooth[number]:
        count = 4
        left, upper = math.floor(u - 0.5) - 1, math.floor(v - 0.5) - 1
        _weights(u - 1.5 - left, columns)
        _weights(v - 1.5 - upper, rows)
    red = green = blue = alpha = 0.0
    for j in range(count):
        row = inside(int(upper) + j, height, outside)
        for i in range(count):
            column = inside(int(left) + i, width, outside)
            if row < 0 or column < 0:
                continue
            texel = start + row * width + column
            weight = rows[j] * columns[i] * shades.texels[texel, 3]
            red += weight * shades.texels[texel, 0]
            green += weight * shades.texels[texel, 1]
            blue += weight * shades.texels[texel, 2]
            alpha += weight
    tint = shades.tint[number]
    alpha = min(max(alpha / 255.0, 0.0), 1.0)
    # A spline may overshoot a little.
    colour[0] = np.float32(min(max(red / 65025.0, 0.0), alpha)) * tint[0] * tint[3]
    colour[1] = np.float32(min(max(green / 65025.0, 0.0), alpha)) * tint[1] * tint[3]
    colour[2] = np.float32(min(max(blue / 65025.0, 0.0), alpha)) * tint[2] * tint[3]
    colour[3] = np.float32(alpha) * tint[3]


@inlined
def _weights(t: float, weights: Weights) -> None:
    weights[0] = ((-0.5 * t + 1.0) * t - 0.5) * t
    weights[1] = (1.5 * t - 2.5) * t * t + 1.0
    weights[2] = ((-1.5 * t + 2.0) * t + 0.5) * t
    weights[3] = (0.5 * t - 0.5) * t * t
