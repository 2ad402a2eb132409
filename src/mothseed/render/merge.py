"""Laying one tile on another: groups, faded, clipped and blended; and paint that is not one colour."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.jit import inlined, kernel
from mothseed.render.blend import blended
from mothseed.render.lanes import LANES, clear_lanes
from mothseed.render.paint import PLANES, ROW, RUN, Colour, Cover, Tile, lay_covered

_ZERO, _ONE = np.float32(0.0), np.float32(1.0)


@kernel
def merge_blended(
    tile: Tile, planes: int, group: Tile, top: int, bottom: int, first: int, last: int, opacity: np.float32, mode: int
) -> None:
    """Lay rows top to bottom and blocks first to last of a group on, faded and blended; premultiplied throughout.

    Compositing and Blending Level 1, section 10: co = cs (1 - ab) + cb (1 - as) + as ab B(Cb, Cs), for source-over.
    """
    below, above, mixed = np.zeros(3, np.float32), np.zeros(3, np.float32), np.zeros(3, np.float32)
    for row in range(top, bottom):
        for x in range(first * LANES, last * LANES):
            alpha = group[row, 3, x] * opacity
            if alpha <= _ZERO:
                continue
            backdrop = tile[row, 3, x] if planes == PLANES else _ONE
            for plane in range(3):
                above[plane] = group[row, plane, x] * opacity / alpha
                below[plane] = tile[row, plane, x] / backdrop if backdrop > _ZERO else _ZERO
            blended(mode, below, above, mixed)
            for plane in range(3):
                source = above[plane] * alpha * (_ONE - backdrop)
                kept = tile[row, plane, x] * (_ONE - alpha)
                tile[row, plane, x] = source + kept + alpha * backdrop * mixed[plane]
            if planes == PLANES:
                tile[row, 3, x] = alpha + backdrop - alpha * backdrop


@kernel
def keep_masked(group: Tile, mask: Tile, top: int, bottom: int, first: int, last: int) -> None:
    """Fade each pixel of a group as far as the mask does not cover it."""
    for row in range(top, bottom):
        for plane in range(PLANES):
            for x in range(first * LANES, last * LANES):
                group[row, plane, x] *= mask[row, 3, x]


@kernel
def clear(tile: Tile, top: int, bottom: int, first: int, last: int) -> None:
    """Leave rows top to bottom and blocks first to last empty."""
    for row in range(top, bottom):
        for plane in range(PLANES):
            for block in range(first, last):
                clear_lanes(tile, row * ROW + plane * RUN + block * LANES)


@kernel
def lay_shadow(
    tile: Tile,
    planes: int,
    top: int,
    bottom: int,
    first: int,
    last: int,
    left_of_tile: int,
    top_of_tile: int,
    place: npt.NDArray[np.float64],
    size: npt.NDArray[np.int64],
    cells: npt.NDArray[np.float32],
    colour: Colour,
    cover: Cover,
) -> None:
    """Lay a shadow on, read straight between the cells of its map."""
    start, columns, rows = size[0], size[1], size[2]
    for row in range(top, bottom):
        v = (top_of_tile + row + 0.5 - place[1]) / place[2]
        upper = int(math.floor(v))
        down = np.float32(v - upper)
        for x in range(first * LANES, last * LANES):
            u = (left_of_tile + x + 0.5 - place[0]) / place[2]
            left = int(math.floor(u))
            across = np.float32(u - left)
            above = _cell(cells, start, columns, rows, left, upper) * (_ONE - across)
            above += _cell(cells, start, columns, rows, left + 1, upper) * across
            below = _cell(cells, start, columns, rows, left, upper + 1) * (_ONE - across)
            below += _cell(cells, start, columns, rows, left + 1, upper + 1) * across
            cover[x] = above * (_ONE - down) + below * down
        lay_covered(tile, planes, row, first, last, colour, cover)


@inlined
def _cell(cells: npt.NDArray[np.float32], start: int, columns: int, rows: int, column: int, row: int) -> np.float32:
    if column < 0 or row < 0 or column >= columns or row >= rows:
        return _ZERO
    return np.float32(cells[start + row * columns + column])
