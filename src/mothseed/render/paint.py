"""Laying colour on a tile.

A tile is float32 (64, 4, 72): for each row a run of red, of green, of blue and of alpha, premultiplied, 64 pixels each and
8 of padding, so that a loop along a run is all vector instructions and rows do not fall on the same lines of the cache.
Source-over is one formula for every run: what was there times what shines through, plus what is laid on.

Whatever is done once for each primitive takes whole arrays and the number of the tile, colour or place in them: a part of an
array is an array of its own to the compiler, which counts who uses it, and two threads would wait for each other's count.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from mothseed.jit import inlined, kernel
from mothseed.render.lanes import LANES, blend_lanes, clear_lanes, lay_lanes, merge_lanes

RUN = 72
PLANES = 4
ROW = PLANES * RUN
BLOCKS = 8
"""Blocks of eight pixels in a row. Rows are painted in whole blocks, since a vector instruction on eight pixels costs less than
finding out which of them are wholly covered or not at all."""

Tile = npt.NDArray[np.float32]
Tiles = npt.NDArray[np.float32]
"""(n, 64, 4, 72): several tiles, each a level of groups that lie in each other"""
Colours = npt.NDArray[np.float32]
"""(n, 4): red, green, blue, each times alpha, and alpha"""
Cover = npt.NDArray[np.float32]
"""(64,): how much of each pixel of a row is covered"""

_ONE = np.float32(1.0)


@inlined
def clamped(x: float, most: int) -> int:
    """The whole number at or below x, but from 0 to `most`."""
    return int(min(max(x, 0.0), float(most)))


@inlined
def row_of(level: int, row: int) -> int:
    """Where in all tiles a row of one of them begins."""
    return (level * 64 + row) * ROW


@inlined
def lay_even(tiles: Tiles, start: int, planes: int, first: int, last: int, colours: Colours, i: int, cover: np.float32) -> None:
    """Lay a colour on blocks first to last of the row that begins at `start`, each pixel covered alike."""
    through = _ONE - colours[i, 3] * cover
    for plane in range(planes):
        added = colours[i, plane] * cover
        for block in range(first, last):
            lay_lanes(tiles, start + plane * RUN + block * LANES, through, added)


@inlined
def lay_covered(tiles: Tiles, start: int, planes: int, first: int, last: int, colours: Colours, i: int, cover: Cover) -> None:
    """Lay a colour on blocks first to last of the row that begins at `start`, each pixel as far as it is covered."""
    alpha = colours[i, 3]
    for plane in range(planes):
        part = colours[i, plane]
        for block in range(first, last):
            blend_lanes(tiles, start + plane * RUN + block * LANES, cover, block * LANES, alpha, part)


@kernel
def lay_group(tiles: Tiles, level: int, planes: int, top: int, bottom: int, first: int, last: int, opacity: np.float32) -> None:
    """Lay rows top to bottom and blocks first to last of the next level's tile on this one's, faded, and leave them empty."""
    for row in range(top, bottom):
        for block in range(first, last):
            start, other = row_of(level, row) + block * LANES, row_of(level + 1, row) + block * LANES
            for plane in range(planes):
                merge_lanes(tiles, start + plane * RUN, tiles, other + plane * RUN, other + 3 * RUN, opacity)
            for plane in range(PLANES):
                clear_lanes(tiles, other + plane * RUN)


@kernel
def wash(tiles: Tiles, planes: int, through: np.float32, added: npt.NDArray[np.float32]) -> None:
    """The whole first tile at once: what was there times `through`, plus `added`."""
    for row in range(64):
        for plane in range(planes):
            for block in range(BLOCKS):
                lay_lanes(tiles, row_of(0, row) + plane * RUN + block * LANES, through, added[plane])
