"""Laying one tile on another: groups, faded, clipped and blended; and paint that is not one colour."""

from __future__ import annotations

import math

import numpy as np

from mothseed.jit import kernel
from mothseed.render.kernels.blend import HUE, blended, part_blended
from mothseed.render.kernels.lanes import any_lanes, clear_lanes, fade_lanes
from mothseed.render.kernels.paint import lay_covered
from mothseed.render.kernels.tile import LANES, PLANES, RUN, TILE, Cover, Tiles, row_of
from mothseed.render.primitives import Primitives

_ZERO, _ONE = np.float32(0.0), np.float32(1.0)


@kernel
def merge_blended(
    tiles: Tiles, level: int, planes: int, top: int, bottom: int, first: int, last: int, opacity: np.float32, mode: int
) -> None:
    """Lay rows top to bottom and blocks first to last of the next level on this one, faded and blended, all premultiplied.

    Compositing and Blending Level 1, section 10: co = cs (1 - ab) + cb (1 - as) + as ab B(Cb, Cs), for source-over.
    """
    below, above, mixed = np.zeros(3, np.float32), np.zeros(3, np.float32), np.zeros(3, np.float32)
    for row in range(top, bottom):
        for block in range(first, last):
            if not any_lanes(tiles, row_of(level + 1, row) + 3 * RUN + block * LANES):
                continue
            for x in range(np.uint64(block * LANES), np.uint64((block + 1) * LANES)):
                alpha = tiles[level + 1, row, 3, x] * opacity
                if alpha <= _ZERO:
                    continue
                backdrop = tiles[level, row, 3, x] if planes == PLANES else _ONE
                for plane in range(3):
                    above[plane] = tiles[level + 1, row, plane, x] * opacity / alpha
                    below[plane] = tiles[level, row, plane, x] / backdrop if backdrop > _ZERO else _ZERO
                if mode < HUE:
                    for plane in range(3):
                        mixed[plane] = part_blended(mode, below[plane], above[plane])
                else:
                    blended(mode, below, above, mixed)
                for plane in range(3):
                    source = above[plane] * alpha * (_ONE - backdrop)
                    kept = tiles[level, row, plane, x] * (_ONE - alpha)
                    tiles[level, row, plane, x] = source + kept + alpha * backdrop * mixed[plane]
                if planes == PLANES:
                    tiles[level, row, 3, x] = alpha + backdrop - alpha * backdrop


@kernel
def keep_masked(tiles: Tiles, level: int, top: int, bottom: int, first: int, last: int) -> None:
    """Fade each pixel of a level as far as the mask, the last level, does not cover it."""
    for row in range(top, bottom):
        for block in range(first, last):
            start, cover = row_of(level, row) + block * LANES, row_of(len(tiles) - 1, row) + block * LANES
            for plane in range(PLANES):
                fade_lanes(tiles, start + plane * RUN, tiles, cover)


@kernel
def clear(tiles: Tiles, level: int, planes: int, top: int, bottom: int, first: int, last: int) -> None:
    """Leave rows top to bottom and blocks first to last of a level empty, as many of its planes as were painted on."""
    for row in range(top, bottom):
        for plane in range(planes):
            for block in range(first, last):
                clear_lanes(tiles, row_of(level, row) + plane * RUN + block * LANES)


@kernel
def lay_shadow(
    tiles: Tiles,
    level: int,
    planes: int,
    top: int,
    bottom: int,
    first: int,
    last: int,
    left_of_tile: int,
    top_of_tile: int,
    primitives: Primitives,
    i: int,
    cover: Cover,
) -> None:
    """Lay shadow i on, read straight between the cells of its map."""
    places, sizes, cells = primitives.shadow_place, primitives.shadow_size, primitives.shadow_cells
    start, columns, rows = sizes[i, 0], sizes[i, 1], sizes[i, 2]
    x_of_cells, y_of_cells, step = places[i, 0], places[i, 1], places[i, 2]
    # Which cell lies before each pixel of a row, counted from the first of them, and how far beyond it the pixel is.
    before, beyond = np.zeros(TILE, np.uint64), np.zeros(TILE, np.float32)
    begin = int(math.floor((left_of_tile + first * LANES + 0.5 - x_of_cells) / step))
    count = 2
    for x in range(first * LANES, last * LANES):
        u = (left_of_tile + x + 0.5 - x_of_cells) / step
        left = int(math.floor(u))
        before[x], beyond[x] = np.uint64(left - begin), np.float32(u - left)
        count = left - begin + 2
    line = np.zeros(count, np.float32)
    first_column, last_column = min(max(0 - begin, 0), count), max(min(columns - begin, count), 0)
    for row in range(top, bottom):
        v = (top_of_tile + row + 0.5 - y_of_cells) / step
        upper = int(math.floor(v))
        if upper < -1 or upper >= rows:
            continue
        down = np.float32(v - upper)
        up = _ONE - down
        above, below = start + max(upper, 0) * columns + begin, start + min(upper + 1, rows - 1) * columns + begin
        if upper < 0:
            up = _ZERO
        if upper + 1 >= rows:
            down = _ZERO
        for column in range(first_column, last_column):
            line[np.uint64(column)] = cells[np.uint64(above + column)] * up + cells[np.uint64(below + column)] * down
        for x in range(np.uint64(first * LANES), np.uint64(last * LANES)):
            left = before[x]
            cover[x] = line[left] * (_ONE - beyond[x]) + line[left + np.uint64(1)] * beyond[x]
        lay_covered(tiles, row_of(level, row), planes, first, last, primitives.colour, i, cover)
