"""PNG's filters (ISO/IEC 15948, section 9): each row minus its prediction from neighbours, by the filter that leaves the
least.
"""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.native.jit import entry, inlined

NONE, SUB, UP, AVERAGE, PAETH = range(5)

Row = Array1[np.uint8]


@entry
def filter_rows(rows: Array2[np.uint8], above: Row, pixel: int, filtered: Array2[np.uint8]) -> None:
    """Fill `filtered`, uint8 (n, 1 + w), from `rows`, uint8 (n, w), and the row above the first; `pixel` is bytes of a pixel.

    Each row gets the filter with the smallest sum of absolute remainders, as signed bytes: the heuristic of section 12.8.
    """
    count, width = rows.shape
    upper = above
    for number in range(count):
        row = rows[number]
        best, least = NONE, np.int64(1) << 62
        for kind in range(5):
            total = np.int64(0)
            for x in range(width):
                rest = _remainder(kind, row, upper, x, pixel)
                total += min(rest, 256 - rest)
            if total < least:
                best, least = kind, total
        filtered[number, 0] = best
        for x in range(width):
            filtered[number, 1 + x] = _remainder(best, row, upper, x, pixel)
        upper = row


@inlined
def _remainder(kind: int, row: Row, upper: Row, x: int, pixel: int) -> np.int64:
    left = np.int64(row[x - pixel]) if x >= pixel else np.int64(0)
    up = np.int64(upper[x])
    here = np.int64(row[x])
    if kind == NONE:
        return here
    if kind == SUB:
        return (here - left) & 255
    if kind == UP:
        return (here - up) & 255
    if kind == AVERAGE:
        return (here - ((left + up) >> 1)) & 255
    corner = np.int64(upper[x - pixel]) if x >= pixel else np.int64(0)
    by_left, by_up, by_corner = abs(up - corner), abs(left - corner), abs(left + up - 2 * corner)
    foretold = left if by_left <= by_up and by_left <= by_corner else up if by_up <= by_corner else corner
    return (here - foretold) & 255
