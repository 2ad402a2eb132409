"""Polygons on a tile, by the exact area that their edges cut from each pixel.

Each edge adds to the cells of a row how much it changes the area to its right; the running sum along the row is then the
area covered, times the winding number. Cells are flagged in blocks of eight, so that the sweep computes pixel by pixel only
where an edge runs, and lays one even colour between.
"""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.jit import inlined, kernel
from mothseed.render.lanes import LANES
from mothseed.render.paint import BLOCKS, Colour, Cover, Tile, lay_covered, lay_even

_NOTHING = np.float32(1e-4)
"""Cover below this, and this near to 1, is the rounding of the sums; 8-bit levels are 40 times coarser."""
_ZERO, _HALF, _ONE, _TWO = np.float32(0.0), np.float32(0.5), np.float32(1.0), np.float32(2.0)

Cells = npt.NDArray[np.float32]
"""(64, 72): change of covered area at each pixel; all 0 between polygons"""
Flags = npt.NDArray[np.uint8]
"""(64,): bit k of a row is set where one of its cells 8 k to 8 k + 7 was written"""


@kernel
def add_edges(
    cells: Cells,
    flags: Flags,
    edges: npt.NDArray[np.float64],
    numbers: npt.NDArray[np.int64],
    first: int,
    last: int,
    left: int,
    top: int,
) -> None:
    """Add the edges with the given numbers, from `first` to `last` of them, to the cells of the tile at (left, top)."""
    for k in range(first, last):
        edge = numbers[k]
        x0, y0 = edges[edge, 0] - left, edges[edge, 1] - top
        x1, y1 = edges[edge, 2] - left, edges[edge, 3] - top
        _add_edge(cells, flags, x0, y0, x1, y1, 64, 64)


@kernel
def accumulate_edges(
    cells: Cells, edges: npt.NDArray[np.float64], first: int, last: int, left: float, top: float, step: float
) -> None:
    """Add edges to a whole map of cells, (rows, columns + 2), that are `step` pixels wide and begin at (left, top)."""
    rows, columns = cells.shape[0], cells.shape[1] - 2
    flags = np.zeros(rows, np.uint8)
    for edge in range(first, last):
        x0, y0 = (edges[edge, 0] - left) / step, (edges[edge, 1] - top) / step
        x1, y1 = (edges[edge, 2] - left) / step, (edges[edge, 3] - top) / step
        if y0 != y1:
            _add_edge(cells, flags, x0, y0, x1, y1, columns, rows)


@inlined
def _add_edge(cells: Cells, flags: Flags, x0: float, y0: float, x1: float, y1: float, columns: int, rows: int) -> None:
    """Add an edge, in the tile's own coordinates. What lies left of the tile counts at its first column; right of it, not."""
    winding = 1.0
    if y0 > y1:
        winding, x0, y0, x1, y1 = -1.0, x1, y1, x0, y0
    width = float(columns)
    if y1 <= 0.0 or y0 >= rows or min(x0, x1) >= width:
        return
    is_left = max(x0, x1) <= 0.0
    slope = 0.0 if is_left else (x1 - x0) / (y1 - y0)
    if y0 < 0.0:
        x0, y0 = x0 - y0 * slope, 0.0
    if y1 > rows:
        x1, y1 = x0 + (rows - y0) * slope, float(rows)
    row = int(y0)
    x = x0
    y = y0
    while y < y1:
        next_y = min(float(row + 1), y1)
        if is_left:
            _add(cells, flags, row, 0, winding * (next_y - y))
        else:
            # The end is taken as it is, so that the next edge begins where this one stops.
            next_x = x1 if next_y == y1 else x0 + (next_y - y0) * slope
            _add_in_row(cells, flags, row, x, next_x, winding * (next_y - y), width)
            x = next_x
        y = next_y
        row += 1


@inlined
def _add_in_row(cells: Cells, flags: Flags, row: int, x0: float, x1: float, height: float, width: float) -> None:
    """Add a piece of edge within one row; height is signed."""
    if x0 > x1:
        x0, x1 = x1, x0
    if x0 >= width:
        return
    if x1 <= 0.0:
        _add(cells, flags, row, 0, height)
        return
    if x0 < 0.0:
        outside = height * (0.0 - x0) / (x1 - x0)
        _add(cells, flags, row, 0, outside)
        height -= outside
        x0 = 0.0
    if x1 > width:
        height *= (width - x0) / (x1 - x0)
        x1 = width
    first = int(x0)
    last = int(math.ceil(x1)) - 1
    if last <= first:
        # Within one pixel: the part of it to the right of the piece's middle is covered.
        inside = (x0 + x1) * 0.5 - first
        _add(cells, flags, row, first, height * (1.0 - inside))
        _add(cells, flags, row, first + 1, height * inside)
        return
    per_pixel = height / (x1 - x0)
    entered = first + 1.0 - x0
    given = 0.5 * per_pixel * entered * entered
    _add(cells, flags, row, first, given)
    before = given
    done = per_pixel * entered
    for pixel in range(first + 1, last):
        covered = done + 0.5 * per_pixel
        _add(cells, flags, row, pixel, covered - before)
        before = covered
        done += per_pixel
    left = x1 - last
    covered = done + per_pixel * left * (1.0 - 0.5 * left)
    _add(cells, flags, row, last, covered - before)
    _add(cells, flags, row, last + 1, height - covered)


@inlined
def _add(cells: Cells, flags: Flags, row: int, column: int, amount: float) -> None:
    # Unsigned, as a signed index might count from the end, which would be looked after each time.
    line, place = np.uint64(row), np.uint64(column)
    cells[line, place] += np.float32(amount)
    # Column 64 is padding: it is cleared with the rest and never swept.
    if place < np.uint64(64):
        flags[line] |= np.uint8(np.uint64(1) << (place >> np.uint64(3)))


@kernel
def sweep_polygon(tile: Tile, planes: int, cells: Cells, flags: Flags, even_odd: bool, colour: Colour, cover: Cover) -> None:
    """Lay on what the cells hold, by the non-zero winding rule or the even-odd one, and leave them empty."""
    for row in range(64):
        line = np.uint64(row)
        flagged = np.int64(flags[line])
        if flagged == 0:
            continue
        total = _ZERO
        even_start = 0
        block = 0
        while flagged:
            while not flagged & 1:
                flagged >>= 1
                block += 1
            if block > even_start and abs(total) > _NOTHING:
                _lay_between(tile, planes, row, even_start, block, colour, _covered(total, even_odd))
            for x in range(np.uint64(block * LANES), np.uint64((block + 1) * LANES)):
                total += cells[line, x]
                cells[line, x] = _ZERO
                cover[x] = _covered(total, even_odd)
            lay_covered(tile, planes, row, block, block + 1, colour, cover)
            flagged >>= 1
            block += 1
            even_start = block
        if abs(total) > _NOTHING:
            _lay_between(tile, planes, row, even_start, BLOCKS, colour, _covered(total, even_odd))
        cells[row, 64] = _ZERO
        flags[row] = 0


@inlined
def _covered(total: np.float32, even_odd: bool) -> np.float32:
    """How much is covered where the area times the winding number adds up to `total`."""
    size = abs(total)
    if even_odd:
        rest = size - _TWO * np.float32(math.floor(size * _HALF))
        return rest if rest <= _ONE else _TWO - rest
    return min(size, _ONE)


@inlined
def _lay_between(tile: Tile, planes: int, row: int, first: int, last: int, colour: Colour, cover: np.float32) -> None:
    """Lay on blocks in which no edge runs."""
    if last > first and cover > _NOTHING:
        lay_even(tile, planes, row, first, last, colour, _ONE if cover > _ONE - _NOTHING else cover)
