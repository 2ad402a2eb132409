"""Soft shadows: the blurred coverage of a mark."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.areas import covered_by, fill_area_map
from mothseed.kernels.lanes import grid_of
from mothseed.kernels.lookups import weigh
from mothseed.kernels.paint import lay_covered, paint_of
from mothseed.kernels.primitives import TileJob, Window
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import LANES
from mothseed.native.jit import entry, inlined, kernel, technique

_ZERO, _ONE = np.float32(0.0), np.float32(1.0)

Map = Array2[np.float32]
Room = Array1[np.float32]


@entry
def fill_maps(
    which: Array1[np.int64],
    bounds: Array2[np.float64],
    place: Array2[np.float64],
    size: Array2[np.int64],
    deviations: Array1[np.float64],
    even_odd: Array1[np.bool],
    edge_spans: Array2[np.int64],
    edges: Array2[np.float64],
    cells: Room,
    room: Room,
    along: Room,
    padded: Room,
    bell: Array1[np.float64],
    weights: Room,
) -> None:
    """Fill the maps of the shadows `which` in `cells`; what follows them is scratch space for the largest."""
    for k in range(len(which)):
        i = which[k]
        start, columns, rows = np.uint64(size[i, 0]), np.uint64(size[i, 1]), np.uint64(size[i, 2])
        for cell in range(rows * columns):
            cells[start + cell] = _ZERO
        areas = grid_of(room, size[i, 2] + 1, columns_of_area_map(size[i, 1]))
        for part in range(2):
            first, last = edge_spans[i, part], edge_spans[i, part + 1]
            if last > first:
                fill_area_map(
                    areas,
                    edges,
                    first,
                    last,
                    bounds[i, 0],
                    bounds[i, 1],
                    place[i, 2],
                    size[i, 2],
                    size[i, 1],
                )
                for row in range(rows):
                    for column in range(columns):
                        place_of_cell = start + row * columns + column
                        covered = covered_by(areas[row, column], even_odd[i] and part == 0)
                        cells[place_of_cell] = max(covered, cells[place_of_cell])
        _blur(cells, size[i, 0], size[i, 2], size[i, 1], deviations[i], along, padded, bell, weights)


@inlined
def columns_of_area_map(columns: int) -> int:
    """The numbers in a row of `fill_area_map`."""
    blocks = -(-columns // LANES)
    return blocks * LANES + blocks + 2


@kernel
def _blur(
    cover: Room,
    start: int,
    rows: int,
    columns: int,
    deviation: float,
    along: Room,
    padded: Room,
    bell: Array1[np.float64],
    weights: Room,
) -> None:
    """Convolve a map with a bell curve of that standard deviation in cells, along rows and then along columns. The bell is (1
    - (x/w)^2)^6, with w chosen for that deviation: it looks like a normal one, and takes only multiplications, which are the
    same on every processor.
    """
    if deviation <= 0.0:
        return
    # The variance of that bell is w * w / 15.
    width = deviation * math.sqrt(15.0)
    taps = int(math.ceil(width))
    total = 0.0
    for tap in range(-taps, taps + 1):
        part = 1.0 - (tap / width) ** 2
        bell[tap + taps] = part * part * part * part * part * part if part > 0.0 else 0.0
        total += bell[tap + taps]
    for tap in range(2 * taps + 1):
        weights[tap] = np.float32(bell[tap] / total)
    for column in range(taps):
        padded[column] = padded[columns + taps + column] = _ZERO
    # Many cells at a time, tap by tap, so that each cell's sum is taken in the same order.
    top, bottom = rows, 0
    for row in range(rows):
        line = np.uint64(start + row * columns)
        is_covered = False
        for column in range(np.uint64(columns)):
            padded[column + np.uint64(taps)] = cover[line + column]
            is_covered |= cover[line + column] > _ZERO
        if is_covered:
            top, bottom = min(top, row), row + 1
            weigh(along, row * columns, padded, 0, columns, 1, weights, 0, 2 * taps + 1)
        else:
            for column in range(np.uint64(columns)):
                along[np.uint64(row * columns) + column] = _ZERO
    for row in range(rows):
        first, last = max(top, row - taps), max(min(bottom, row + taps + 1), top, row - taps)
        tap = first - row + taps
        weigh(cover, start + row * columns, along, first * columns, columns, columns, weights, tap, tap + last - first)


@technique
def lay_shadow(job: TileJob, window: Window, left_of_tile: int, top_of_tile: int, i: int) -> None:
    """Lay on shadow i, interpolated between the cells of its map."""
    room, cells, first, last = job.room, job.primitives.shadow_cells, window.first, window.last
    places, sizes = job.primitives.shadow_place, job.primitives.shadow_size
    start, columns, rows = sizes[i, 0], sizes[i, 1], sizes[i, 2]
    paint = paint_of(job.primitives.colour, i)
    x_of_cells, y_of_cells, step = places[i, 0], places[i, 1], places[i, 2]
    # The cell before each pixel of a row, counted from the first, and how far beyond it the pixel is.
    before, beyond, line, cover = room.cell_before, room.beyond_cell, room.line_of_cells, room.cover
    begin = int(math.floor((left_of_tile + first * LANES + 0.5 - x_of_cells) / step))
    count = 2
    for x in range(first * LANES, last * LANES):
        u = (left_of_tile + x + 0.5 - x_of_cells) / step
        left = int(math.floor(u))
        before[x], beyond[x] = np.uint64(left - begin), np.float32(u - left)
        count = left - begin + 2
    for column in range(count):
        line[column] = _ZERO
    first_column, last_column = min(max(0 - begin, 0), count), max(min(columns - begin, count), 0)
    for row in range(window.top, window.bottom):
        v = (top_of_tile + row + 0.5 - y_of_cells) / step
        upper = int(math.floor(v))
        if upper < -1 or upper >= rows:
            continue
        down = np.float32(v - upper)
        up = _ONE - down
        above, below = start + max(upper, 0) * columns + begin, start + min(upper + 1, rows - 1) * columns + begin
        if upper < 0:
            up = _ZERO
        if upper + 1 >= rows:
            down = _ZERO
        for column in range(first_column, last_column):
            line[np.uint64(column)] = cells[np.uint64(above + column)] * up + cells[np.uint64(below + column)] * down
        for x in range(np.uint64(first * LANES), np.uint64(last * LANES)):
            left = before[x]
            cover[x] = line[left] * (_ONE - beyond[x]) + line[left + np.uint64(1)] * beyond[x]
        lay_covered(room.tiles, row_of(window.level, row), window.planes, first, last, paint, cover)
