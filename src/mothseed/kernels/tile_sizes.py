"""The sizes of a tile, defined once, and the types of array that kernels share.

A tile is float32 (64, 4, 72): for each row a run of red, of green, of blue and of alpha, premultiplied, 64 pixels each and 8
of padding, so that a loop along a run is all vector instructions and rows do not fall on the same lines of the cache. It is
small enough to stay in the first-level cache. Its size is part of the arithmetic: another one would change the last bits.
"""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array1, Array2, Array3, Array4

LANES = 8
"""Pixels per vector instruction."""
WIDE = 2 * LANES
"""Neighbours weighted at once."""
WIDEST = 3 * WIDE
"""The same where there are many: an addition waits for the one before it, so several chains take no longer than one."""
TILE = 64
"""Rows and columns of a tile."""
MARKS = 4
"""Numbers that mark the edges that run through a block."""
BLOCKS = TILE // LANES
"""Blocks of eight pixels in a row. Rows are painted in whole blocks, since a vector instruction on eight pixels costs less
than finding out which of them are fully covered or not at all.
"""
RUN = TILE + LANES
PLANES = 4
ROW = PLANES * RUN
CARRIES = TILE
"""Offset of the carries in a row of cells."""
CELLS = TILE + 2 * LANES
"""Numbers in a row of cells: 64 pixels, the carries into each of their 8 blocks and out of the last, the carry into the first
block of this and all later rows, and padding that keeps rows from falling on the same lines of the cache.
"""
GATHERED = TILE + LANES
"""Room for a number of a piece of an edge in each row of a tile; eight rows are written at once."""
MOST_PIECES = 1024
"""Most pieces of edges in a row of a tile for which pixels with overlaps are exact. With more, parts of an outline smaller
than a pixel add up.
"""
MOST_NEAR = 10
"""Most pieces in a pixel for it to be cut at all their ends and crossings."""
MOST_CUTS = 2 * MOST_NEAR + MOST_NEAR * (MOST_NEAR - 1) // 2 + 2
MOST_CHAINED = TILE * MOST_PIECES
"""Most pieces in all crowded blocks of a tile."""
RAMP_STEPS = 256
"""Steps in the table of a ramp; it is linear in between, which neither the eye nor 8-bit levels can tell."""

Tile = Array3[np.float32]
Tiles = Array4[np.float32]
"""(n, 64, 4, 72): several tiles, one for each level of nested groups"""
Paint = tuple[np.float32, np.float32, np.float32, np.float32]
"""Red, green, blue, premultiplied, and alpha. As numbers rather than an array, they stay in registers from block to block."""
Cover = Array1[np.float32]
"""(64,): coverage of each pixel of a row"""
Cells = Array2[np.float32]
"""(rows + 1, pixels and carries): area covered, times the winding number; all 0 between polygons"""
Flags = Array1[np.uint8]
"""(64,): bit k of a row is set where an edge runs through its block k"""
