"""Laying colour on a tile.

Source-over is one formula for every run: what was there times what shines through, plus what is laid on. What is done once
per primitive takes whole arrays and an index of the tile or place in them: making an array of each part costs more than a row.
"""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.lanes import fade_lanes, fill_lanes, lay_covered_lanes, lay_even_lanes, lay_lanes, merge_lanes
from mothseed.kernels.primitives import Window
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import BLOCKS, LANES, PLANES, RUN, TILE, Cover, Paint, Tiles
from mothseed.native.jit import inlined, kernel

_ZERO = np.float32(0.0)


@inlined
def paint_of(colours: Array2[np.float32], i: int) -> Paint:
    """The paint of primitive i: red, green, blue, premultiplied, and alpha."""
    return colours[i, 0], colours[i, 1], colours[i, 2], colours[i, 3]


@inlined
def lay_even(tiles: Tiles, start: int, planes: int, first: int, last: int, paint: Paint, cover: np.float32) -> None:
    """Lay a colour on blocks first to last of the row that begins at `start`, with equal coverage."""
    for block in range(first, last):
        lay_even_lanes(tiles, start + block * LANES, planes, paint, cover)


@inlined
def lay_covered(tiles: Tiles, start: int, planes: int, first: int, last: int, paint: Paint, cover: Cover) -> None:
    """Lay a colour on blocks first to last of the row that begins at `start`, each pixel by its coverage."""
    for block in range(first, last):
        lay_covered_lanes(tiles, start + block * LANES, planes, paint, cover, block * LANES)


@kernel
def lay_group(tiles: Tiles, window: Window, opacity: np.float32) -> None:
    """Lay a window of the next level's tile on this one's, faded, and clear it."""
    for row in range(window.top, window.bottom):
        for block in range(window.first, window.last):
            start, other = row_of(window.level, row) + block * LANES, row_of(window.level + 1, row) + block * LANES
            for plane in range(window.planes):
                merge_lanes(tiles, start + plane * RUN, tiles, other + plane * RUN, other + 3 * RUN, opacity)
            for plane in range(PLANES):
                fill_lanes(tiles, other + plane * RUN, _ZERO)


@kernel
def wash(tiles: Tiles, planes: int, through: np.float32, added: Array1[np.float32]) -> None:
    """The whole first tile at once: what was there times `through`, plus `added`."""
    for row in range(TILE):
        for plane in range(planes):
            for block in range(BLOCKS):
                lay_lanes(tiles, row_of(0, row) + plane * RUN + block * LANES, through, added[plane])


@kernel
def keep_masked(tiles: Tiles, window: Window) -> None:
    """Fade each pixel of a window where the mask, the last level, does not cover it."""
    for row in range(window.top, window.bottom):
        for block in range(window.first, window.last):
            start, cover = row_of(window.level, row) + block * LANES, row_of(len(tiles) - 1, row) + block * LANES
            for plane in range(PLANES):
                fade_lanes(tiles, start + plane * RUN, tiles, cover)


@kernel
def clear(tiles: Tiles, window: Window) -> None:
    """Clear a window, in those planes that were painted on."""
    for row in range(window.top, window.bottom):
        for plane in range(window.planes):
            for block in range(window.first, window.last):
                fill_lanes(tiles, row_of(window.level, row) + plane * RUN + block * LANES, _ZERO)
