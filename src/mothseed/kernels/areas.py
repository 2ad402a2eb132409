"""Areas that edges cut from pixels. Each edge adds to the pixels of the blocks it runs through the area to its right, and to a
carry its share of each row beyond the block. The area covered, times the winding number, is then the pixels of a block plus all
carries before it.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import Array2
from mothseed.kernels.coverage import add_area_lanes
from mothseed.kernels.tile_sizes import LANES, Cells
from mothseed.native.jit import inlined, kernel

_UPRIGHT = np.float32(2.0**-20)
"""Least pixels that an edge goes sideways in a row, so that a vertical one needs no special case."""
_ZERO, _HALF, _ONE, _TWO = np.float32(0.0), np.float32(0.5), np.float32(1.0), np.float32(2.0)

ALONE, GOES_ON, TURNS_BACK = range(3)
"""How a piece of edge follows another: not at all, in its direction up or down, or against it."""


class Slant(NamedTuple):
    """The part of an edge that lies among cells, in their coordinates."""

    x: np.float32
    """at its upper end"""
    upper: np.float32
    lower: np.float32
    slope: np.float32
    """how far it goes to the side per row"""
    descent: np.float32
    """how far it descends per pixel sideways; negative if its contour goes up"""
    above: int
    """how another edge meets its upper end"""
    below: int


class EdgePiece(NamedTuple):
    """The part of an edge within a row."""

    low: np.float32
    """the x of its left end"""
    high: np.float32
    height: np.float32
    """how far it descends; negative if its contour goes up"""
    descent: np.float32
    """as in `Slant`"""


@inlined
def clipped(
    cells: Cells,
    x0: float,
    y0: float,
    x1: float,
    y1: float,
    blocks: int,
    rows: int,
    before: int,
    after: int,
) -> Slant:
    """The part of an edge, in the cells' own coordinates, that lies among them; if there is none, it has no height. What lies
    to the left is carried into the first block; what lies to the right is ignored. `before` and `after` say how the edge meets
    those that it follows and that follow it.
    """
    start = upper = lower = slope = 0.0
    above = below = ALONE
    winding, descent = 1.0, _ZERO
    if y0 > y1:
        winding, x0, y0, x1, y1 = -1.0, x1, y1, x0, y0
    width = float(blocks * LANES)
    meets_rows = y0 < y1 and y1 > 0.0 and y0 < rows
    if meets_rows and max(x0, x1) <= -1.0:
        # Without a division, and with a pixel to spare for what clipping rounds.
        _add_left(cells, np.float32(max(y0, 0.0)), np.float32(min(y1, float(rows))), np.float32(winding), blocks)
    elif meets_rows and min(x0, x1) < width:
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
        # An end outside meets nothing here.
        above, below = (before, after) if winding > 0.0 else (after, before)
        above, below = above if upper == y0 else ALONE, below if lower == y1 else ALONE
        descent = np.float32(winding) / max(abs(np.float32(slope)), _UPRIGHT)
    return Slant(np.float32(start), np.float32(upper), np.float32(lower), np.float32(slope), descent, above, below)


@inlined
def winding_of(slant: Slant) -> np.float32:
    """1 if the contour of an edge goes down, -1 if it goes up."""
    return _ONE if slant.descent > _ZERO else -_ONE


@inlined
def step_down(put: Callable[[Any, int, EdgePiece, int, int], None], room: Any, slant: Slant) -> None:
    """Hand an edge to `put` piece by piece, each with the room, its row, and how others meet its left and right ends."""
    winding = winding_of(slant)
    row = int(slant.upper)
    next_y = np.float32(row)
    x, y = slant.x, slant.upper
    while y < slant.lower:
        next_y += _ONE
        bottom = min(next_y, slant.lower)
        next_x = max(slant.x + (bottom - slant.upper) * slant.slope, _ZERO)
        # At a whole-numbered height, the edge that it meets lies in another row.
        above = slant.above if y == slant.upper and y > np.float32(row) else ALONE
        below = slant.below if bottom == slant.lower and bottom < next_y else ALONE
        joint_low, joint_high = (above, below) if x <= next_x else (below, above)
        piece = EdgePiece(min(x, next_x), max(x, next_x), winding * (bottom - y), slant.descent)
        put(room, row, piece, joint_low, joint_high)
        x, y = next_x, bottom
        row += 1


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
def last_block(piece: EdgePiece, blocks: int) -> int:
    """The last of so many blocks that a piece of an edge runs through; the first is that of its left end."""
    return min(int(piece.high) // LANES, blocks - 1)


@inlined
def part_in_block(piece: EdgePiece, block: int, last: int) -> tuple[EdgePiece, EdgePiece]:
    """The part in a block of a piece that begins there and ends in the block `last`, and what remains beyond."""
    if block == last:
        return piece, piece
    end = np.float32((block + 1) * LANES)
    height = (end - piece.low) * piece.descent
    part = EdgePiece(piece.low, end, height, piece.descent)
    return part, EdgePiece(end, piece.high, piece.height - height, piece.descent)


@inlined
def add_piece(cells: Cells, row: int, piece: EdgePiece, blocks: int, stride: int) -> None:
    """Add a piece of an edge to the cells, block by block."""
    block, last = int(piece.low) // LANES, last_block(piece, blocks)
    while block < last:
        part, piece = part_in_block(piece, block, last)
        _add_to_block(cells, row, block, part, blocks, stride)
        block += 1
    if block == last:
        _add_to_block(cells, row, block, piece, blocks, stride)


@inlined
def _add_to_block(cells: Cells, row: int, block: int, part: EdgePiece, blocks: int, stride: int) -> None:
    start = block * LANES
    begin, width = part.low - np.float32(start), part.high - part.low
    add_area_lanes(cells, row * stride + start, begin, width, _HALF * part.descent, part.height)
    _carry(cells, row, block + 1, part.height, blocks)


@inlined
def _carry(cells: Cells, row: int, block: int, height: np.float32, blocks: int) -> None:
    """Cover all pixels from a block on by a share of their height."""
    # Unsigned: a signed index might count from the end, which would be checked each time.
    cells[np.uint64(row), np.uint64(blocks * LANES + block)] += height


@inlined
def _add_to_map(room: tuple[Cells, int], row: int, piece: EdgePiece, joint_low: int, joint_high: int) -> None:
    cells, blocks = room
    add_piece(cells, row, piece, blocks, cells.shape[1])


@kernel
def fill_area_map(
    cells: Cells,
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
        step_down(_add_to_map, (cells, blocks), clipped(cells, x0, y0, x1, y1, blocks, rows, ALONE, ALONE))
    whole = _ZERO
    for row in range(np.uint64(rows)):
        whole += cells[row, carries + np.uint64(blocks + 1)]
        total = whole
        for block in range(np.uint64(blocks)):
            total += cells[row, carries + block]
            for column in range(block * np.uint64(LANES), (block + np.uint64(1)) * np.uint64(LANES)):
                cells[row, column] += total


@inlined
def covered_by(total: np.float32, even_odd: bool) -> np.float32:
    """The coverage where the area times the winding number adds up to `total`."""
    size = abs(total)
    if even_odd:
        rest = size - _TWO * np.float32(math.floor(size * _HALF))
        return rest if rest <= _ONE else _TWO - rest
    return min(size, _ONE)
