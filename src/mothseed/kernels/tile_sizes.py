"""The sizes of a tile, named once, and the kinds of array that kernels hand on.

A tile is float32 (64, 4, 72): for each row a run of red, of green, of blue and of alpha, premultiplied, 64 pixels each and
8 of padding, so that a loop along a run is all vector instructions and rows do not fall on the same lines of the cache. It is
small enough to stay in the nearest cache. Its size is part of the arithmetic: another would give other last bits.
"""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array1, Array2, Array3, Array4

LANES = 8
"""Neighbouring pixels that one vector instruction works on."""
WIDE = 2 * LANES
"""Neighbours that are weighed at once."""
TILE = 64
"""Rows and columns of a tile."""
MARKS = 4
"""Numbers that mark what edges run through a block."""
BLOCKS = TILE // LANES
"""Blocks of eight pixels in a row. Rows are painted in whole blocks, since a vector instruction on eight pixels costs less than
finding out which of them are wholly covered or not at all."""
RUN = TILE + LANES
PLANES = 4
ROW = PLANES * RUN
CARRIES = TILE
"""Where in a row of cells the carries begin."""
CELLS = TILE + 2 * LANES
"""Numbers in a row of cells: 64 pixels, the carries into each of their 8 blocks and out of the last, what is carried into this
row's and all later ones' first block, and some that keep rows from falling on the same lines of the cache."""
MOST_PIECES = 1024
"""Pieces of edges in a row of a tile up to which each pixel that they overlap in is known to the area. Where there are more,
the parts of an outline that are smaller than a pixel add up."""
MOST_NEAR = 10
"""Pieces in a pixel up to which it is cut at all their ends and crossings."""
MOST_CUTS = 2 * MOST_NEAR + MOST_NEAR * (MOST_NEAR - 1) // 2 + 2
MOST_CHAINED = TILE * MOST_PIECES
"""Pieces in all crowded blocks of a tile."""
RAMP_STEPS = 256
"""A ramp is tabulated in so many steps; between them it is straight, which no eye and no 8-bit level can tell."""

Tile = Array3[np.float32]
Tiles = Array4[np.float32]
"""(n, 64, 4, 72): several tiles, each a level of groups that lie in each other"""
Colours = Array2[np.float32]
"""(n, 4): red, green, blue, each times alpha, and alpha"""
Cover = Array1[np.float32]
"""(64,): how much of each pixel of a row is covered"""
Cells = Array2[np.float32]
"""(rows + 1, pixels and carries): area covered, times the winding number; all 0 between polygons"""
Flags = Array1[np.uint8]
"""(64,): bit k of a row is set where an edge runs through its block k"""
