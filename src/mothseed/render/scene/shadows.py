"""Soft shadows: the blurred cover of a mark.

A shadow is so smooth that it needs few samples: the mark's cover is found on cells a fraction of the blur wide, blurred there,
and read between the cells when it is painted. So the cost does not grow with the blur.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.kernels.primitives import SHADOW, Ops
from mothseed.kernels.tile_sizes import LANES, WIDE
from mothseed.native.library import Kernel
from mothseed.portable import cosine_and_sine
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing

_fill_maps = Kernel("shadowing.fill_maps")

_CELLS_PER_DEVIATION = 4.0
"""Cells per standard deviation of the blur: linear interpolation is then off by at most half an 8-bit level."""
_REACH = math.sqrt(15.0)
"""Standard deviations at which a blur is cut off; see `kernels/shadowing.py`."""
_MOST_CELLS = 4096
_MAPS_AT_A_TIME = 8

Whole = npt.NDArray[np.int64]


class ShadowMaps(NamedTuple):
    """The shadows of all SHADOW primitives, as in `Primitives`; rows of other primitives are meaningless. Without any shadow,
    there are no rows.
    """

    place: FloatArray
    size: Whole
    cells: npt.NDArray[np.float32]
    bounds: FloatArray


_NO_MAPS = ShadowMaps(np.zeros((0, 3)), np.zeros((0, 3), np.int64), np.zeros(0, np.float32), np.zeros((0, 4)))


def shadow_maps(
    drawing: Drawing,
    scale: float,
    kind: npt.NDArray[np.uint8],
    ops: Ops,
    bounds: FloatArray,
    edge_spans: Whole,
    edges: FloatArray,
    threads: Threads,
) -> ShadowMaps:
    """The maps of all shadows, offset by the light of the sheet."""
    if not (kind == SHADOW).any():
        return _NO_MAPS
    place, size = np.zeros((len(kind), 3)), np.zeros((len(kind), 3), np.int64)
    moved = np.zeros((len(kind), 4))
    which = np.flatnonzero((kind == SHADOW) & (bounds[:, 2] > bounds[:, 0]))
    cosine, sine = cosine_and_sine(drawing.light)
    deviations = np.zeros(len(kind))
    total = 0
    for i in which.tolist():
        shadow = drawing.finishes[drawing.marks["finish"][ops.source[i]]].shadow
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
    cells = np.empty(total, np.float32)
    largest = size[which, 1:].max(axis=0, initial=0)
    taps = math.ceil(deviations.max(initial=0.0) * _REACH)

    def fill(start: int) -> None:
        some = which[start : start + _MAPS_AT_A_TIME]
        _fill_maps(
            some,
            bounds,
            place,
            size,
            deviations,
            ops.even_odd,
            edge_spans,
            edges,
            cells,
            *_room(int(largest[0]), int(largest[1]), taps),
        )

    threads.share(fill, range(0, len(which), _MAPS_AT_A_TIME))
    return ShadowMaps(place, size, cells, moved)


def _room(columns: int, rows: int, taps: int) -> tuple[Any, ...]:
    """What it takes to fill maps up to that size and blur.

    Areas, cells blurred along rows, a row, and a bell twice.
    """
    areas = np.empty((rows + 1) * (columns + -(-columns // LANES) + 2), np.float32)
    along, padded = np.empty(rows * columns, np.float32), np.empty(columns + 2 * taps, np.float32)
    return areas, along, padded, np.empty(2 * taps + 1), np.empty(2 * taps + 1, np.float32)
