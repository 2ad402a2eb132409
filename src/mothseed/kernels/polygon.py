"""Polygons on a tile, by the exact area that their edges cut from each pixel. Each edge adds to the pixels of the blocks it
runs through the area to its right, and to a carry its share of each row beyond the block. The area covered, times the winding
number, is then the pixels of a block plus all carries before it. Blocks without edges need only that sum, and are laid on
evenly.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.coverage import add_area_lanes, lay_area_lanes
from mothseed.kernels.lanes import clear_lanes
from mothseed.kernels.overlaps import (
    ALONE,
    CROWDED,
    DOWN,
    GOES_ON,
    TURNS_BACK,
    TWO_UP,
    UP,
    cut_into_pieces,
    cut_pixels,
    mark_columns,
    pixels_of,
    sort_into_blocks,
)
from mothseed.kernels.paint import lay_even
from mothseed.kernels.primitives import ONE_WAY, PLAIN, CutRoom, Footprints
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import BLOCKS, CARRIES, CELLS, LANES, MARKS, TILE, Cells, Colours, Flags, Tiles
from mothseed.native.jit import inlined, kernel

_NOTHING = np.float32(1e-4)
"""Coverage below this, or this close to 1, is rounding of the sums; 8-bit levels are 40 times coarser."""
_UPRIGHT = np.float32(2.0**-20)
"""Least pixels that an edge goes sideways in a row, so that a vertical one needs no special case."""
_EVEN = np.float32(1e-3)
"""The coverage of a row that rounding may leave where there is nothing."""
_ALL, _NONE = np.uint64(0xFFFFFFFFFFFFFFFF), np.uint64(0)
_ZERO, _HALF, _ONE, _TWO = np.float32(0.0), np.float32(0.5), np.float32(1.0), np.float32(2.0)


@kernel
def add_edges(
    cells: Cells,
    flags: Flags,
    prints: Footprints,
    edges: Array2[np.float64],
    numbers: Array1[np.int64],
    first: int,
    last: int,
    left: int,
    top: int,
    folds: int,
) -> tuple[int, int]:
    """Add edges `first` to `last` of those with the given numbers to the cells of the tile at (left, top). Unless the outline
    is convex, they leave their marks as well. Returns the first row that they reach, and the one after the last.
    """
    highest, lowest = float(TILE), 0.0
    last_x, last_y, start_x, start_y = math.nan, math.nan, math.nan, math.nan
    went_down, started_down = False, False
    for k in range(first, last):
        edge = numbers[k]
        x0, y0 = edges[edge, 0] - left, edges[edge, 1] - top
        x1, y1 = edges[edge, 2] - left, edges[edge, 3] - top
        highest, lowest = min(highest, y0, y1), max(lowest, y0, y1)
        if folds == PLAIN:
            _add_edge(cells, flags, prints, x0, y0, x1, y1, BLOCKS, TILE, CELLS, PLAIN, ALONE, ALONE)
            continue
        follows = x0 == last_x and y0 == last_y
        # A horizontal one has the direction of the one before it.
        goes_down = went_down if y0 == y1 and follows else y0 < y1
        before, after = ALONE, ALONE
        if follows:
            before = GOES_ON if goes_down == went_down else TURNS_BACK
            if x1 == start_x and y1 == start_y:
                after = GOES_ON if goes_down == started_down else TURNS_BACK
        else:
            start_x, start_y, started_down = x0, y0, goes_down
        if y0 == y1:
            _mark_level(flags, prints, x0, x1, y0, DOWN if goes_down else UP, before, after)
        else:
            _add_edge(cells, flags, prints, x0, y0, x1, y1, BLOCKS, TILE, CELLS, folds, before, after)
        last_x, last_y, went_down = x1, y1, goes_down
        if follows and x1 == start_x and y1 == start_y:
            last_x = math.nan  # the next one begins another contour
    return int(max(highest, 0.0)), int(math.ceil(min(lowest, float(TILE))))


@kernel
def fill_area_map(
    cells: Cells,
    flags: Flags,
    prints: Footprints,
    edges: Array2[np.float64],
    first: int,
    last: int,
    left: float,
    top: float,
    step: float,
    rows: int,
    columns: int,
) -> None:
    """Set each cell to its covered area times the winding number; cells are `step` pixels wide. They begin at (left, top);
    each of the rows + 1 rows has `columns`, rounded up to blocks, a carry for each block, and two more.
    """
    blocks = -(-columns // LANES)
    carries = np.uint64(blocks * LANES)
    for row in range(np.uint64(cells.shape[0])):
        for column in range(np.uint64(cells.shape[1])):
            cells[row, column] = _ZERO
    for edge in range(first, last):
        x0, y0 = (edges[edge, 0] - left) / step, (edges[edge, 1] - top) / step
        x1, y1 = (edges[edge, 2] - left) / step, (edges[edge, 3] - top) / step
        _add_edge(cells, flags, prints, x0, y0, x1, y1, blocks, rows, cells.shape[1], PLAIN, ALONE, ALONE)
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
    cells: Cells,
    flags: Flags,
    prints: Footprints,
    x0: float,
    y0: float,
    x1: float,
    y1: float,
    blocks: int,
    rows: int,
    stride: int,
    folds: int,
    before: int,
    after: int,
) -> None:
    """Add an edge, in the cells' own coordinates. What lies to their left carries into the first block; what lies to their
    right is ignored.
    """
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
        # Of the three parts, the left one is quick, and the right one is skipped.
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
        above, below = (before, after) if winding > 0.0 else (after, before)
        # An end outside meets nothing here.
        above, below = above if upper == y0 else ALONE, below if lower == y1 else ALONE
        _follow(
            cells,
            flags,
            prints,
            np.float32(start),
            np.float32(upper),
            np.float32(lower),
            np.float32(slope),
            np.float32(winding),
            blocks,
            stride,
            folds,
            above,
            below,
        )


@inlined
def _follow(
    cells: Cells,
    flags: Flags,
    prints: Footprints,
    x0: np.float32,
    y0: np.float32,
    y1: np.float32,
    slope: np.float32,
    winding: np.float32,
    blocks: int,
    stride: int,
    folds: int,
    above: int,
    below: int,
) -> None:
    """Add the part of an edge among the cells, from y0 down to y1, row by row; its x is x0 at y0."""
    # The share of a row's height that the edge descends per pixel sideways.
    descent = winding / max(abs(slope), _UPRIGHT)
    row = int(y0)
    next_y = np.float32(row)
    x = x0
    y = y0
    while y < y1:
        next_y += _ONE
        bottom = min(next_y, y1)
        next_x = max(x0 + (bottom - y0) * slope, _ZERO)
        low, high = min(x, next_x), max(x, next_x)
        if folds != PLAIN:
            # At a whole-numbered height, the edge that it meets lies in another row.
            joint_above = above if y == y0 and y > np.float32(row) else ALONE
            joint_below = below if bottom == y1 and bottom < next_y else ALONE
            way = DOWN if winding > _ZERO else UP
            joint_low, joint_high = (joint_above, joint_below) if x <= next_x else (joint_below, joint_above)
            mark_columns(prints, row, low, high, way, joint_low, joint_high)
        _add_in_row(cells, flags, row, low, high, winding * (bottom - y), descent, blocks, stride)
        x = next_x
        y = bottom
        row += 1


@inlined
def _mark_level(flags: Flags, prints: Footprints, x0: float, x1: float, y: float, way: int, before: int, after: int) -> None:
    """Leave the footprints of a horizontal edge, which covers nothing but may separate what is covered."""
    low, high = max(min(x0, x1), 0.0), min(max(x0, x1), float(TILE))
    if low < TILE and high > 0.0 and 0.0 < y < TILE and y != math.floor(y):
        row, first, last = int(y), int(low) // LANES, min(int(high) // LANES, BLOCKS - 1)
        flags[np.uint64(row)] |= np.uint8((_ALL << np.uint64(first)) & (_ALL >> np.uint64(63 - last)))
        joint_low, joint_high = (before, after) if x0 < x1 else (after, before)
        joint_low, joint_high = joint_low if min(x0, x1) >= 0.0 else ALONE, joint_high if max(x0, x1) <= TILE else ALONE
        mark_columns(prints, row, np.float32(low), np.float32(high), way, joint_low, joint_high)


@inlined
def _add_left(cells: Cells, y0: np.float32, y1: np.float32, winding: np.float32, blocks: int) -> None:
    """Add a piece of edge to the left of all cells, from y0 down to y1: partial rows one by one, whole ones at once."""
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
    # Flags are not read for a map wider than a tile.
    flags[np.uint64(row)] |= np.uint8(np.uint64(1) << np.uint64(block & 7))


@inlined
def _carry(cells: Cells, row: int, block: int, height: np.float32, blocks: int) -> None:
    """Cover all pixels from a block on by a share of their height."""
    # Unsigned: a signed index might count from the end, which would be checked each time.
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
    prints: Footprints,
    edges: Array2[np.float64],
    numbers: Array1[np.int64],
    first: int,
    last: int,
    left: int,
    upper: int,
    folds: int,
    cut: CutRoom,
    even_odd: bool,
    colours: Colours,
    i: int,
) -> None:
    """Lay on the cells of rows top to bottom, by the nonzero winding rule or the even-odd rule, and clear them. The edges are
    those that were added, and the tile lies at (left, upper): a pixel in which they overlap is cut.
    """
    whole, is_sorted = _ZERO, False
    for row in range(top, bottom):
        line = np.uint64(row)
        start, carries = row_of(level, row), row * CELLS + CARRIES
        flagged = np.int64(flags[line])
        whole += cells[line, CARRIES + BLOCKS + 1]
        total = whole + cells[line, CARRIES]
        is_once_in_row = folds == ONE_WAY and abs(total) < _EVEN and prints.rises[line] <= 1
        even_start = 0
        block = 0
        while flagged:
            while not flagged & 1:
                flagged >>= 1
                block += 1
            if block > even_start and abs(total) > _NOTHING:
                _lay_between(tiles, start, planes, even_start, block, colours, i, covered_by(total, even_odd))
            place = block * LANES
            if folds != PLAIN:
                mark = np.uint64(MARKS * block)
                crowded = prints.marks[line, mark + CROWDED]
                # If the winding number never changes sign, a single chain that goes up from 0 makes it at most 1.
                is_once = abs(total) < _EVEN and not prints.marks[line, mark + TWO_UP]
                if folds == ONE_WAY and (is_once or is_once_in_row):
                    crowded = _NONE
                for each in range(np.uint64(MARKS)):
                    prints.marks[line, mark + each] = _NONE
                if crowded:
                    if not is_sorted:
                        sort_into_blocks(edges, numbers, first, last, left, upper, prints.busy, cut)
                        is_sorted = True
                    pieces = cut_into_pieces(edges, row, block, left, upper, cut)
                    if pieces >= 0:
                        cut_pixels(cells, row, block, pixels_of(crowded), total, pieces, folds == ONE_WAY, even_odd, cut)
            lay_area_lanes(tiles, start + place, planes, colours, i, cells, row * CELLS + place, total, even_odd)
            clear_lanes(cells, row * CELLS + place)
            flagged >>= 1
            block += 1
            total += cells[line, np.uint64(CARRIES + block)]
            even_start = block
        if abs(total) > _NOTHING:
            _lay_between(tiles, start, planes, even_start, BLOCKS, colours, i, covered_by(total, even_odd))
        clear_lanes(cells, carries)
        clear_lanes(cells, carries + LANES)
        flags[line] = 0
        if folds != PLAIN:
            prints.busy[line] = prints.rises[line] = 0
    clear_lanes(cells, bottom * CELLS + CARRIES)
    clear_lanes(cells, bottom * CELLS + CARRIES + LANES)


@inlined
def covered_by(total: np.float32, even_odd: bool) -> np.float32:
    """The coverage where the area times the winding number adds up to `total`."""
    size = abs(total)
    if even_odd:
        rest = size - _TWO * np.float32(math.floor(size * _HALF))
        return rest if rest <= _ONE else _TWO - rest
    return min(size, _ONE)


@inlined
def _lay_between(
    tiles: Tiles, start: int, planes: int, first: int, last: int, colours: Colours, i: int, cover: np.float32
) -> None:
    """Lay on blocks without edges."""
    if last > first and cover > _NOTHING:
        lay_even(tiles, start, planes, first, last, colours, i, _ONE if cover > _ONE - _NOTHING else cover)
