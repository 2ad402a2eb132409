"""Reducing pictures: sums of the pixels that lie in each part of the height and of the width."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array1, Array2, Array3
from mothseed.native.jit import entry

Starts = Array1[np.int64]


@entry
def add_up_parts(
    band: Array2[np.uint8], top: int, rows: Starts, columns: Starts, line: Array1[np.uint32], totals: Array3[np.float64]
) -> None:
    """Add the rows of a band, uint8 (n, width * channels), that begins at row `top` of the picture, to the `totals` of its
    parts (rows, columns, channels). `rows` and `columns` say where parts begin, and the last ones end. `line` (width *
    channels,) is scratch space.
    """
    # Unsigned: a signed index might count from the end, which would be checked each time.
    channels, width = np.uint64(totals.shape[2]), np.uint64(len(line))
    for part in range(totals.shape[0]):
        first, last = max(rows[part] - top, 0), min(rows[part + 1] - top, len(band))
        if first >= last:
            continue
        for place in range(width):
            line[place] = 0
        for row in range(np.uint64(first), np.uint64(last)):
            for place in range(width):
                line[place] += band[row, place]
        for column in range(totals.shape[1]):
            for channel in range(channels):
                total = np.uint64(0)
                for x in range(np.uint64(columns[column]), np.uint64(columns[column + 1])):
                    total += line[x * channels + channel]
                totals[part, column, np.int64(channel)] += total
