"""How much of the paper is drawn on, and where."""

from __future__ import annotations

import numpy as np

from mothseed.measure.measure import Measure, Sight


def _coverage(sight: Sight) -> float:
    return float(sight.drawn.mean())


def _balance_x(sight: Sight) -> float:
    return _balance(sight, 1)


def _balance_y(sight: Sight) -> float:
    return _balance(sight, 0)


def _balance(sight: Sight, axis: int) -> float:
    weight = np.where(sight.drawn, sight.distance, 0.0)
    total = weight.sum()
    if total == 0:
        return 0.0
    length = weight.shape[axis]
    return float((weight.sum(axis=1 - axis) * ((np.arange(length) + 0.5) / length - 0.5)).sum() / total)


def _margin(sight: Sight) -> float:
    drawn = sight.drawn
    if not drawn.any():
        return 0.5
    rows, columns = np.flatnonzero(drawn.any(axis=1)), np.flatnonzero(drawn.any(axis=0))
    high, wide = drawn.shape
    return float(min(rows[0], high - 1 - rows[-1], columns[0], wide - 1 - columns[-1]) / wide)


COVERAGE = Measure("coverage", "share of the picture that is not bare paper, 0 to 1", _coverage)
BALANCE_X = Measure(
    "balance_x",
    "how far the centre of gravity lies to the right of the centre of the sheet, as a fraction of the width",
    _balance_x,
)
BALANCE_Y = Measure("balance_y", "how far it lies below, as a fraction of the height", _balance_y)
MARGIN = Measure("margin", "narrowest empty margin, as a fraction of the width", _margin)
