"""Soft shadows: what a mark covers, blurred.

A shadow is so smooth that it needs few samples: the mark's cover is found on cells a fraction of the blur wide, blurred there,
and read between the cells when it is painted. So the cost does not grow with the blur.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.jit import kernel
from mothseed.portable import cosine_and_sine
from mothseed.render.kernels.lookups import WIDE, weigh_wide
from mothseed.render.kernels.polygon import area_map
from mothseed.render.primitives import SHADOW
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing

_CELLS_PER_DEVIATION = 4.0
"""Cells to a standard deviation of the blur: reading straight between them is then off by at most half an 8-bit level."""
_REACH = math.sqrt(15.0)
"""Standard deviations after which a blur has ended; see `_blur`."""
_MOST_CELLS = 4096
_MAPS_AT_A_TIME = 8
_ZERO, _ONE = np.float32(0.0), np.float32(1.0)

Whole = npt.NDArray[np.int64]


class ShadowMaps(NamedTuple):
    """The shadows of all SHADOW primitives, as `Primitives` has them; other primitives' rows mean nothing."""

    place: FloatArray
    size: Whole
    cells: npt.NDArray[np.float32]
    bounds: FloatArray


def shadow_maps(
    drawing: Drawing,
    scale: float,
    kind: npt.NDArray[np.uint8],
    source: Whole,
    bounds: FloatArray,
    first_edge: Whole,
    first_of_stroke: Whole,
    edges: FloatArray,
    threads: Threads,
) -> ShadowMaps:
    """The maps of all shadows, moved the way the sheet's light says."""
    place, size = np.zeros((len(kind), 3)), np.zeros((len(kind), 3), np.int64)
    moved = np.zeros((len(kind), 4))
    which = np.flatnonzero((kind == SHADOW) & (bounds[:, 2] > bounds[:, 0]))
    cosine, sine = cosine_and_sine(drawing.light)
    deviations = np.zeros(len(kind))
    total = 0
    for i in which.tolist():
        shadow = drawing.finishes[drawing.marks["finish"][source[i]]].shadow
        assert shadow is not None
        deviation = shadow.deviation * scale
        left, top, right, bottom = bounds[i].tolist()
        reach = deviation * _REACH + 1
        longest = max(right - left, bottom - top) + 2 * reach
        step = max(deviation / _CELLS_PER_DEVIATION, 0.5, longest / _MOST_CELLS)
        columns, rows = (math.ceil((high - low + 2 * reach) / step) + 1 for low, high in ((left, right), (top, bottom)))
        columns += -columns % WIDE
        across, down = shadow.distance * scale * cosine, shadow.distance * scale * sine
        place[i] = left - reach + step / 2 + across, top - reach + step / 2 + down, step
        size[i] = total, columns, rows
        moved[i] = left - reach + across, top - reach + down, right + reach + across, bottom + reach + down
        deviations[i] = deviation / step
        bounds[i] = left - reach, top - reach, right + reach, bottom + reach
        total += columns * rows
    cells = np.zeros(total, np.float32)

    def fill(start: int) -> None:
        some = which[start : start + _MAPS_AT_A_TIME]
        _fill_maps(some, bounds, place, size, deviations, first_edge, first_of_stroke, edges, cells)

    # Once at least, so that the kernel is compiled with the others.
    threads.share(fill, range(0, max(len(which), 1), _MAPS_AT_A_TIME))
    return ShadowMaps(place, size, cells, moved)


@kernel
def _fill_maps(
    which: Whole,
    bounds: FloatArray,
    place: FloatArray,
    size: Whole,
    deviations: FloatArray,
    first_edge: Whole,
    first_of_stroke: Whole,
    edges: FloatArray,
    cells: npt.NDArray[np.float32],
) -> None:
    for k in range(len(which)):
        i = which[k]
        start, columns, rows = size[i, 0], size[i, 1], size[i, 2]
        cover = np.zeros((rows, columns), np.float32)
        for first, last in ((first_edge[i], first_of_stroke[i]), (first_of_stroke[i], first_edge[i + 1])):
            if last > first:
                areas = area_map(edges, first, last, bounds[i, 0], bounds[i, 1], place[i, 2], rows, columns)
                for row in range(np.uint64(rows)):
                    for column in range(np.uint64(columns)):
                        cover[row, column] = min(max(abs(areas[row, column]), cover[row, column]), _ONE)
        _blur(cover, deviations[i])
        cells[start : start + rows * columns] = cover.ravel()


@kernel
def _blur(cover: npt.NDArray[np.float32], deviation: float) -> None:
    """Convolve with a bell of that standard deviation in cells, along rows and then along columns.

    The bell is (1 - (x/w)^2)^6, with w so that its deviation is the one asked for: as good as a normal one to the eye, and
    made of multiplications alone, which are the same on every processor.
    """
    if deviation <= 0.0:
        return
    # The variance of that bell is w * w / 15.
    width = deviation * math.sqrt(15.0)
    taps = int(math.ceil(width))
    bell = np.zeros(2 * taps + 1)
    for tap in range(-taps, taps + 1):
        part = 1.0 - (tap / width) ** 2
        bell[tap + taps] = part * part * part * part * part * part if part > 0.0 else 0.0
    bell /= np.sum(bell)
    weights = bell.astype(np.float32)
    # Sixteen cells at a time, tap by tap: each cell's sum is taken in the same order.
    rows, columns = cover.shape
    padded = np.zeros(columns + 2 * taps, np.float32)
    along = np.zeros((rows, columns), np.float32)
    top, bottom = rows, 0
    for row in range(rows):
        line = np.uint64(row)
        covered = _ZERO
        for column in range(np.uint64(columns)):
            padded[column + np.uint64(taps)] = cover[line, column]
            covered = max(covered, cover[line, column])
        if covered > _ZERO:
            top, bottom = min(top, row), row + 1
            for column in range(0, columns, WIDE):
                weigh_wide(along, row * columns + column, padded, column, 1, weights, 0, len(weights))
    for row in range(rows):
        first, last = max(top, row - taps), max(min(bottom, row + taps + 1), top, row - taps)
        for column in range(0, columns, WIDE):
            place, tap = first * columns + column, first - row + taps
            weigh_wide(cover, row * columns + column, along, place, columns, weights, tap, tap + last - first)
