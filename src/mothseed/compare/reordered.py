"""Which marks changed places in painting order with marks that they overlap."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.compare.columns import Resolved
from mothseed.compare.matching import Matching
from mothseed.render import rendered
from mothseed.sheet import Drawing
from mothseed.sheet.derive import alone
from mothseed.sheet.extents import mark_boxes

_NARROWEST = 1e-6
"""Least overlap of two boxes in sheet units, so that touching neighbours do not count."""
_MOST_LOOKED_AT = 100
"""Up to so many marks are painted to see whether they overlap; of more, boxes are compared."""
_WIDTH = 500
"""Width in pixels at which they are painted."""


def reordered(second: Resolved, matching: Matching) -> BoolArray:
    """Which pairs changed places in painting order with marks that they overlap in the second drawing: bool (k,). Of two
    marks that changed places, only the one that did so with more others is reported.
    """
    result = np.zeros(len(matching.pairs), np.bool)
    left, right = matching.pairs.T
    boxes = mark_boxes(second.drawing)[right]
    out_of_order = np.flatnonzero(~matching.in_order).tolist()
    for pair in out_of_order:
        crossed = (left < left[pair]) != (right < right[pair])
        crossed[pair] = False
        below = right[crossed & _overlapping(boxes, boxes[pair])]
        result[pair] = len(below) > 0 and (
            len(out_of_order) > _MOST_LOOKED_AT or _lies_on(second.drawing, right[pair : pair + 1], below)
        )
    return result


def _overlapping(boxes: FloatArray, box: FloatArray) -> BoolArray:
    """Which boxes, float64 (n, 4), overlap a given one: bool (n,)."""
    across = np.minimum(boxes[:, 2], box[2]) - np.maximum(boxes[:, 0], box[0])
    down = np.minimum(boxes[:, 3], box[3]) - np.maximum(boxes[:, 1], box[1])
    result: BoolArray = (across > _NARROWEST) & (down > _NARROWEST)
    return result


def _lies_on(drawing: Drawing, mark: WholeArray, others: WholeArray) -> bool:
    """Whether a mark paints where some others do."""
    painted = [rendered(alone(drawing, marks), _WIDTH)[..., 3] > 0 for marks in (mark, others)]
    return bool((painted[0] & painted[1]).any())
