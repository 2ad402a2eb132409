"""Laying colour on a tile.

A tile is float32 (64, 4, 72): for each row a run of red, of green, of blue and of alpha, premultiplied, 64 pixels each and
8 of padding, so that a loop along a run is all vector instructions and rows do not fall on the same lines of the cache.
Source-over is one formula for every run: what was there times what shines through, plus what is laid on.
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
Colour = npt.NDArray[np.float32]
"""(4,): red, green, blue, each times alpha, and alpha"""
Cover = npt.NDArray[np.float32]
"""(64,): how much of each pixel of a row is covered"""

_ONE = np.float32(1.0)


@inlined
def clamped(x: float, most: int) -> int:
    """The whole number at or below x, but from 0 to `most`."""
    return int(min(max(x, 0.0), float(most)))


@inlined
def lay_even(tile: Tile, planes: int, row: int, first: int, last: int, colour: Colour, cover: np.float32) -> None:
    """Lay a colour on blocks first to last of a row, each pixel covered alike."""
    through = _ONE - colour[3] * cover
    for plane in range(planes):
        added = colour[plane] * cover
        start = row * ROW + plane * RUN
        for block in range(first, last):
            lay_lanes(tile, start + block * LANES, through, added)


@inlined
def lay_covered(tile: Tile, planes: int, row: int, first: int, last: int, colour: Colour, cover: Cover) -> None:
    """Lay a colour on blocks first to last of a row, each pixel as far as it is covered."""
    alpha = colour[3]
    for plane in range(planes):
        part = colour[plane]
        start = row * ROW + plane * RUN
        for block in range(first, last):
            blend_lanes(tile, start + block * LANES, cover, block * LANES, alpha, part)


@kernel
def lay_group(tile: Tile, planes: int, group: Tile, top: int, bottom: int, first: int, last: int, opacity: np.float32) -> None:
    """Lay rows top to bottom and blocks first to last of a scratch tile on, faded, and leave them empty."""
    for row in range(top, bottom):
        for block in range(first, last):
            start = row * ROW + block * LANES
            for plane in range(planes):
                merge_lanes(tile, start + plane * RUN, group, start + plane * RUN, start + 3 * RUN, opacity)
            for plane in range(PLANES):
                clear_lanes(group, start + plane * RUN)


@kernel
def wash(tile: Tile, planes: int, through: np.float32, added: Colour) -> None:
    """The whole tile at once: what was there times `through`, plus `added`."""
    for row in range(64):
        for plane in range(planes):
            for block in range(BLOCKS):
                lay_lanes(tile, row * ROW + plane * RUN + block * LANES, through, added[plane])
