"""Laying paint on that is not one colour: ramps and pictures, as far as a mask covers each pixel."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.colour.placed import OUTSIDES
from mothseed.colour.ramp import TABLE_STEPS
from mothseed.jit import inlined, kernel
from mothseed.render.lanes import LANES
from mothseed.render.merge import clear
from mothseed.render.paint import Tile
from mothseed.render.primitives import PICTURE_SHADE, RADIAL_SHADE, Shades

_ZERO, _ONE = np.float32(0.0), np.float32(1.0)
_REPEAT, _REFLECT, _NONE = OUTSIDES.index("repeat"), OUTSIDES.index("reflect"), OUTSIDES.index("none")

Map = npt.NDArray[np.float64]


@kernel
def lay_shade(
    tile: Tile,
    planes: int,
    mask: Tile,
    top: int,
    bottom: int,
    first: int,
    last: int,
    left_of_tile: int,
    top_of_tile: int,
    to_shade: Map,
    number: int,
    shades: Shades,
) -> None:
    """Lay rows top to bottom and blocks first to last of a ramp or picture on, and leave the mask empty there."""
    kind = shades.kind[number]
    if kind == PICTURE_SHADE:
        _lay_picture(tile, planes, mask, top, bottom, first, last, left_of_tile, top_of_tile, to_shade, number, shades)
    else:
        table, is_radial = shades.tables[shades.table[number]], kind == RADIAL_SHADE
        _lay_ramp(tile, planes, mask, top, bottom, first, last, left_of_tile, top_of_tile, to_shade, table, is_radial)
    clear(mask, top, bottom, first, last)


@inlined
def _lay_ramp(
    tile: Tile,
    planes: int,
    mask: Tile,
    top: int,
    bottom: int,
    first: int,
    last: int,
    left_of_tile: int,
    top_of_tile: int,
    to_shade: Map,
    table: npt.NDArray[np.float32],
    is_radial: bool,
) -> None:
    """A ramp, eight pixels at a time: first where each lies along it, then plane by plane what that comes to."""
    starts, parts = np.zeros(LANES, np.uint64), np.zeros(LANES, np.float32)
    alphas = np.zeros(LANES, np.float32)
    for row in range(top, bottom):
        y = top_of_tile + row + 0.5
        for block in range(first, last):
            begin = np.uint64(block * LANES)
            most = _ZERO
            for lane in range(np.uint64(LANES)):
                most = max(most, mask[row, 3, begin + lane])
            if most <= _ZERO:
                continue
            for lane in range(np.uint64(LANES)):
                px = left_of_tile + float(begin + lane) + 0.5
                place = to_shade[0] * px + to_shade[2] * y + to_shade[4]
                if is_radial:
                    v = to_shade[1] * px + to_shade[3] * y + to_shade[5]
                    place = math.sqrt(place * place + v * v)
                along = min(max(place, 0.0), 1.0) * TABLE_STEPS
                start = min(np.uint64(along), np.uint64(TABLE_STEPS - 1))
                part = np.float32(along - float(start))
                starts[lane], parts[lane] = start, part
                alphas[lane] = table[start, 3] + (table[start + np.uint64(1), 3] - table[start, 3]) * part
            for plane in range(planes):
                for lane in range(np.uint64(LANES)):
                    start, alpha = starts[lane], alphas[lane]
                    cover = mask[row, 3, begin + lane]
                    lower, upper = table[start, plane], table[start + np.uint64(1), plane]
                    colour = (lower + (upper - lower) * parts[lane]) * alpha if plane < 3 else alpha
                    kept = tile[row, plane, begin + lane] * (_ONE - alpha * cover)
                    tile[row, plane, begin + lane] = kept + colour * cover


@inlined
def _lay_picture(
    tile: Tile,
    planes: int,
    mask: Tile,
    top: int,
    bottom: int,
    first: int,
    last: int,
    left_of_tile: int,
    top_of_tile: int,
    to_shade: Map,
    number: int,
    shades: Shades,
) -> None:
    colour = np.zeros(4, np.float32)
    columns, rows = np.zeros(4, np.float64), np.zeros(4, np.float64)
    for row in range(top, bottom):
        y = top_of_tile + row + 0.5
        for x in range(first * LANES, last * LANES):
            cover = mask[row, 3, x]
            if cover <= _ZERO:
                continue
            px = left_of_tile + x + 0.5
            u = to_shade[0] * px + to_shade[2] * y + to_shade[4]
            v = to_shade[1] * px + to_shade[3] * y + to_shade[5]
            _colour_of_picture(number, shades, u, v, columns, rows, colour)
            through = _ONE - colour[3] * cover
            for plane in range(planes):
                tile[row, plane, x] = tile[row, plane, x] * through + colour[plane] * cover


@kernel
def _colour_of_picture(
    number: int, shades: Shades, u: float, v: float, columns: Map, rows: Map, colour: npt.NDArray[np.float32]
) -> None:
    """The premultiplied colour at a place of a picture, in its own pixels; `columns` and `rows` are room to work in.

    Smooth ones are weighed by Catmull-Rom splines in both directions, each over four pixels: Keys, "Cubic convolution
    interpolation for digital image processing", 1981, with a = -1/2.
    """
    outside = shades.outside[number]
    start, width, height = shades.size[number]
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
        row = _inside(int(upper) + j, height, outside)
        for i in range(count):
            column = _inside(int(left) + i, width, outside)
            if row < 0 or column < 0:
                continue
            texel = shades.texels[start + row * width + column]
            weight = rows[j] * columns[i] * texel[3]
            red += weight * texel[0]
            green += weight * texel[1]
            blue += weight * texel[2]
            alpha += weight
    tint = shades.tint[number]
    alpha = min(max(alpha / 255.0, 0.0), 1.0)
    # A spline may go a little beyond what it passes through.
    colour[0] = np.float32(min(max(red / 65025.0, 0.0), alpha)) * tint[0] * tint[3]
    colour[1] = np.float32(min(max(green / 65025.0, 0.0), alpha)) * tint[1] * tint[3]
    colour[2] = np.float32(min(max(blue / 65025.0, 0.0), alpha)) * tint[2] * tint[3]
    colour[3] = np.float32(alpha) * tint[3]


@inlined
def _weights(t: float, weights: Map) -> None:
    weights[0] = ((-0.5 * t + 1.0) * t - 0.5) * t
    weights[1] = (1.5 * t - 2.5) * t * t + 1.0
    weights[2] = ((-1.5 * t + 2.0) * t + 0.5) * t
    weights[3] = (0.5 * t - 0.5) * t * t


@inlined
def _inside(index: int, count: int, outside: int) -> int:
    """A row or column that may lie beyond the edge as one that does not; -1 where nothing is there."""
    if 0 <= index < count:
        return index
    if outside == _REPEAT:
        return index % count
    if outside == _REFLECT:
        there = index % (2 * count)
        return there if there < count else 2 * count - 1 - there
    if outside == _NONE:
        return -1
    return min(max(index, 0), count - 1)
