"""PNG's filters (ISO/IEC 15948, section 9): each row minus its prediction from neighbours, by the filter that leaves the
least.
"""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.native.jit import entry, inlined

_ZERO = np.uint8(0)
NONE, SUB, UP, AVERAGE, PAETH = range(5)

Row = Array1[np.uint8]


@entry
def filter_rows(rows: Array2[np.uint8], pixel: int, filtered: Array2[np.uint8]) -> None:
    """Fill `filtered`, uint8 (n, 1 + w), from `rows`, uint8 (1 + n, pixel + w): the row above the first, and all rows, each
    after a pixel of zeros; `pixel` is bytes of a pixel.

    Each row gets the filter with the smallest sum of absolute remainders, as signed bytes: the heuristic of section 12.8.
    """
    for number in range(len(filtered)):
        above, row, target = rows[number], rows[number + 1], filtered[number]
        none, sub, up = _left_by(NONE, row, above, pixel), _left_by(SUB, row, above, pixel), _left_by(UP, row, above, pixel)
        average, paeth = _left_by(AVERAGE, row, above, pixel), _left_by(PAETH, row, above, pixel)
        least = min(none, sub, up, average, paeth)
        # A call for each, with a kind that is known when it is compiled.
        if least == none:
            _filter(NONE, row, above, pixel, target)
        elif least == sub:
            _filter(SUB, row, above, pixel, target)
        elif least == up:
            _filter(UP, row, above, pixel, target)
        elif least == average:
            _filter(AVERAGE, row, above, pixel, target)
        else:
            _filter(PAETH, row, above, pixel, target)


@inlined
def _left_by(kind: int, row: Row, above: Row, pixel: int) -> np.uint32:
    """The sum of what a filter leaves."""
    total = np.uint32(0)
    for x in range(np.uint64(len(row) - pixel)):
        rest = _remainder(kind, row, above, x, pixel)
        total = np.uint32(total + min(rest, np.uint8(_ZERO - rest)))
    return total


@inlined
def _filter(kind: int, row: Row, above: Row, pixel: int, target: Row) -> None:
    target[0] = kind
    for x in range(np.uint64(len(row) - pixel)):
        target[np.uint64(1) + x] = _remainder(kind, row, above, x, pixel)


@inlined
def _remainder(kind: int, row: Row, above: Row, x: int, pixel: int) -> np.uint8:
    """A byte less what its neighbours foretell. Bytes throughout: so many more are worked on at once."""
    place = x + np.uint64(pixel)
    here, left, up, corner = row[place], row[x], above[place], above[x]
    foretold = _ZERO
    if kind == SUB:
        foretold = left
    elif kind == UP:
        foretold = up
    elif kind == AVERAGE:
        foretold = np.uint8((left + up) >> 1)
    elif kind == PAETH:
        # How far left + up - corner is from left, from up, and from corner: that is the sum of the other two if both lie on one
        # side of the corner, and then not the least; otherwise their difference.
        by_left, by_up = _distance(up, corner), _distance(left, corner)
        foretold = left if by_left <= by_up else up
        if (up >= corner) != (left >= corner) and _distance(by_left, by_up) < min(by_left, by_up):
            foretold = corner
    return np.uint8(here - foretold)


@inlined
def _distance(one: np.uint8, other: np.uint8) -> np.uint8:
    return np.uint8(max(one, other) - min(one, other))
