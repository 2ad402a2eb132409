"""Polygons on a tile, by the exact area that their edges cut from each pixel.

Each edge adds to the pixels of the blocks that it runs through how much of them lies to its right, and to a carry how much it
covers of each row beyond a block. The area covered, times the winding number, is then what the pixels of a block hold plus all
the carries before it. Blocks in which no edge runs need no more than that sum, and are laid on evenly.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.coverage import add_area_lanes, lay_area_lanes
from mothseed.kernels.lanes import clear_lanes
from mothseed.kernels.paint import lay_even
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import BLOCKS, CARRIES, CELLS, LANES, TILE, Cells, Colours, Flags, Tiles
from mothseed.native.jit import inlined, kernel

_NOTHING = np.float32(1e-4)
"""Cover below this, and this near to 1, is the rounding of the sums; 8-bit levels are 40 times coarser."""
_UPRIGHT = np.float32(2.0**-20)
"""Pixels to the side in a row of the steepest edge, so that an upright one needs no way of its own."""
_ZERO, _HALF, _ONE, _TWO = np.float32(0.0), np.float32(0.5), np.float32(1.0), np.float32(2.0)


@kernel
def add_edges(
    cells: Cells,
    flags: Flags,
    edges: Array2[np.float64],
    numbers: Array1[np.int64],
    first: int,
    last: int,
    left: int,
    top: int,
) -> tuple[int, int]:
    """Add the edges with the given numbers, from `first` to `last` of them, to the cells of the tile at (left, top).

    Returns the first row that they reach, and the one after the last.
    """
    highest, lowest = float(TILE), 0.0
    for k in range(first, last):
        edge = numbers[k]
        x0, y0 = edges[edge, 0] - left, edges[edge, 1] - top
        x1, y1 = edges[edge, 2] - left, edges[edge, 3] - top
        highest, lowest = min(highest, y0, y1), max(lowest, y0, y1)
        _add_edge(cells, flags, x0, y0, x1, y1, BLOCKS, TILE, CELLS)
    return int(max(highest, 0.0)), int(math.ceil(min(lowest, float(TILE))))


@kernel
def fill_area_map(
    cells: Cells,
    flags: Flags,
    edges: Array2[np.float64],
    first: int,
    last: int,
    left: float,
    top: float,
    step: float,
    rows: int,
    columns: int,
) -> None:
    """Set each cell to the area that edges cover of it, times the winding number; the cells are `step` pixels wide.

    They begin at (left, top), and are (rows + 1, `columns` rounded up to blocks, a carry for each block, and two more).
    """
    blocks = -(-columns // LANES)
    carries = np.uint64(blocks * LANES)
    for row in range(np.uint64(cells.shape[0])):
        for column in range(np.uint64(cells.shape[1])):
            cells[row, column] = _ZERO
    for edge in range(first, last):
        x0, y0 = (edges[edge, 0] - left) / step, (edges[edge, 1] - top) / step
        x1, y1 = (edges[edge, 2] - left) / step, (edges[edge, 3] - top) / step
        _add_edge(cells, flags, x0, y0, x1, y1, blocks, rows, cells.shape[1])
    whole = _ZERO
    for row in range(np.uint64(rows)):
        whole += cells[row, carries + np.uint64(blocks + 1)]
        total = whole
        for block in range(np.uint64(blocks)):
            total += cells[row, carries + block]
            for column in range(block * np.uint64(LANES), (block + np.uint64(1)) * np.uint64(LANES)):
                cells[row, column] += total


@inlined
def _add_edge(
    cells: Cells, flags: Flags, x0: float, y0: float, x1: float, y1: float, blocks: int, rows: int, stride: int
) -> None:
    """Add an edge, in the cells' own coordinates. What lies left of them carries into the first block; what lies right, not."""
    winding = 1.0
    if y0 > y1:
        winding, x0, y0, x1, y1 = -1.0, x1, y1, x0, y0
    width = float(blocks * LANES)
    if y0 < y1 and y1 > 0.0 and y0 < rows and min(x0, x1) < width:
        slope = (x1 - x0) / (y1 - y0)
        if y0 < 0.0:
            x0, y0 = x0 - y0 * slope, 0.0
        if y1 > rows:
            x1, y1 = x0 + (rows - y0) * slope, float(rows)
        # Of the three parts, that to the left goes quickly and that to the right is left out.
        upper, lower = y0, y1
        if min(x0, x1) < 0.0:
            left_upper, left_lower = y0, y1
            if x0 < 0.0:
                upper = left_lower = y1 if x1 <= 0.0 else min(max(y0 - x0 / slope, y0), y1)
            else:
                lower = left_upper = min(max(y0 - x0 / slope, y0), y1)
            _add_left(cells, np.float32(left_upper), np.float32(left_lower), np.float32(winding), blocks)
        if max(x0, x1) > width:
            crossing = min(max(y0 + (width - x0) / slope, y0), y1)
            if x0 > width:
                upper = crossing
            else:
                lower = crossing
        start = min(max(x0 + (upper - y0) * slope, 0.0), width)
        _follow(
            cells,
            flags,
            np.float32(start),
            np.float32(upper),
            np.float32(lower),
            np.float32(slope),
            np.float32(winding),
            blocks,
            stride,
        )


@inlined
def _follow(
    cells: Cells,
    flags: Flags,
    x0: np.float32,
    y0: np.float32,
    y1: np.float32,
    slope: np.float32,
    winding: np.float32,
    blocks: int,
    stride: int,
) -> None:
    """Add the part of an edge that lies among the cells, from y0 down to y1, row by row; its x is x0 at y0."""
    # How much of a row's height the edge goes down while it goes one pixel to the side.
    descent = winding / max(abs(slope), _UPRIGHT)
    row = int(y0)
    next_y = np.float32(row)
    x = x0
    y = y0
    while y < y1:
        next_y += _ONE
        bottom = min(next_y, y1)
        next_x = max(x0 + (bottom - y0) * slope, _ZERO)
        _add_in_row(cells, flags, row, min(x, next_x), max(x, next_x), winding * (bottom - y), descent, blocks, stride)
        x = next_x
        y = bottom
        row += 1


@inlined
def _add_left(cells: Cells, y0: np.float32, y1: np.float32, winding: np.float32, blocks: int) -> None:
    """Add a piece of edge to the left of all cells, from y0 down to y1: to parts of rows as they are, to whole ones at once."""
    first, last = int(y0), int(y1)
    if first == last:
        _carry(cells, first, 0, winding * (y1 - y0), blocks)
    else:
        _carry(cells, first, 0, winding * (np.float32(first + 1) - y0), blocks)
        _carry(cells, last, 0, winding * (y1 - np.float32(last)), blocks)
        whole = np.uint64(blocks * LANES + blocks + 1)
        cells[np.uint64(first + 1), whole] += winding
        cells[np.uint64(last), whole] -= winding


@inlined
def _add_in_row(
    cells: Cells,
    flags: Flags,
    row: int,
    low: np.float32,
    high: np.float32,
    height: np.float32,
    descent: np.float32,
    blocks: int,
    stride: int,
) -> None:
    """Add a piece of edge within one row, from x `low` to `high`, block by block; height and descent are signed."""
    block, last = int(low) // LANES, min(int(high) // LANES, blocks - 1)
    while block < last:
        end = np.float32((block + 1) * LANES)
        part = (end - low) * descent
        _add_in_block(cells, flags, row, block, low, end, part, descent, stride)
        _carry(cells, row, block + 1, part, blocks)
        height -= part
        low = end
        block += 1
    if block == last:
        _add_in_block(cells, flags, row, block, low, high, height, descent, stride)
        _carry(cells, row, block + 1, height, blocks)


@inlined
def _add_in_block(
    cells: Cells,
    flags: Flags,
    row: int,
    block: int,
    low: np.float32,
    high: np.float32,
    height: np.float32,
    descent: np.float32,
    stride: int,
) -> None:
    start = block * LANES
    add_area_lanes(cells, row * stride + start, low - np.float32(start), high - low, _HALF * descent, height)
    # Of a map wider than a tile no flags are read.
    flags[np.uint64(row)] |= np.uint8(np.uint64(1) << np.uint64(block & 7))


@inlined
def _carry(cells: Cells, row: int, block: int, height: np.float32, blocks: int) -> None:
    """All pixels from a block on are covered by so much of their height."""
    # Unsigned, as a signed index might count from the end, which would be looked after each time.
    cells[np.uint64(row), np.uint64(blocks * LANES + block)] += height


@kernel
def sweep_polygon(
    tiles: Tiles,
    level: int,
    planes: int,
    top: int,
    bottom: int,
    cells: Cells,
    flags: Flags,
    even_odd: bool,
    colours: Colours,
    i: int,
) -> None:
    """Lay on what the cells of rows top to bottom hold, by the non-zero winding rule or the even-odd one; leave them empty."""
    whole = _ZERO
    for row in range(top, bottom):
        line = np.uint64(row)
        start, carries = row_of(level, row), row * CELLS + CARRIES
        flagged = np.int64(flags[line])
        whole += cells[line, CARRIES + BLOCKS + 1]
        total = whole + cells[line, CARRIES]
        even_start = 0
        block = 0
        while flagged:
            while not flagged & 1:
                flagged >>= 1
                block += 1
            if block > even_start and abs(total) > _NOTHING:
                _lay_between(tiles, start, planes, even_start, block, colours, i, _covered(total, even_odd))
            place = block * LANES
            lay_area_lanes(tiles, start + place, planes, colours, i, cells, row * CELLS + place, total, even_odd)
            clear_lanes(cells, row * CELLS + place)
            flagged >>= 1
            block += 1
            total += cells[line, np.uint64(CARRIES + block)]
            even_start = block
        if abs(total) > _NOTHING:
            _lay_between(tiles, start, planes, even_start, BLOCKS, colours, i, _covered(total, even_odd))
        clear_lanes(cells, carries)
        clear_lanes(cells, carries + LANES)
        flags[line] = 0
    clear_lanes(cells, bottom * CELLS + CARRIES)
    clear_lanes(cells, bottom * CELLS + CARRIES + LANES)


@inlined
def _covered(total: np.float32, even_odd: bool) -> np.float32:
    """How much is covered where the area times the winding number adds up to `total`."""
    size = abs(total)
    if even_odd:
        rest = size - _TWO * np.float32(math.floor(size * _HALF))
        return rest if rest <= _ONE else _TWO - rest
    return min(size, _ONE)


@inlined
def _lay_between(
    tiles: Tiles, start: int, planes: int, first: int, last: int, colours: Colours, i: int, cover: np.float32
) -> None:
    """Lay on blocks in which no edge runs."""
    if last > first and cover > _NOTHING:
        lay_even(tiles, start, planes, first, last, colours, i, _ONE if cover > _ONE - _NOTHING else cover)
