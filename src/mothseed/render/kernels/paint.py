"""Laying colour on a tile.

Source-over is one formula for every run: what was there times what shines through, plus what is laid on.

Whatever is done once for each primitive takes whole arrays and the number of the tile, colour or place in them: a part of an
array is an array of its own to the compiler, which counts who uses it, and two threads would wait for each other's count.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from mothseed.jit import inlined, kernel
from mothseed.render.kernels.lanes import blend_lanes, clear_lanes, lay_lanes, merge_lanes
from mothseed.render.kernels.tile import BLOCKS, LANES, PLANES, RUN, TILE, Colours, Cover, Tiles, row_of

_ONE = np.float32(1.0)


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
    for row in range(TILE):
        for plane in range(planes):
            for block in range(BLOCKS):
                lay_lanes(tiles, row_of(0, row) + plane * RUN + block * LANES, through, added[plane])
