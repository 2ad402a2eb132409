"""Where a motif lies that fills an outline again and again."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import PointArray
from mothseed.checks import finite, length
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine, transformed
from mothseed.geometry.outline import Outline
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes

_MOST = 1_000_000


def pattern_places(area: Outline, motif: Drawing, step: float | tuple[float, float], turn: float, brick: float) -> PointArray:
    """The places, float64 (n, 2), row by row, at which something of a motif can lie within an area.

    They lie `step` apart, one number or one across and one down, in rows through the origin that are turned about it;
    every other row is moved on by `brick` steps. Raises SketchError for a step that is not above 0, and for too many places.
    """
    across, down = step if isinstance(step, tuple) and len(step) == 2 else (step, step)
    length("pattern", step=across)
    length("pattern", step=down)
    finite("pattern", turn=turn, brick=brick)
    if not len(area.points) or not len(motif):
        return np.zeros((0, 2))
    bounds = area.transformed(Affine.rotation(-turn)).bounds
    boxes = mark_boxes(motif)
    left, top = boxes[:, :2].min(axis=0).tolist()
    right, bottom = boxes[:, 2:].max(axis=0).tolist()
    rows = range(math.ceil((bounds.top - bottom) / down), math.floor((bounds.bottom - top) / down) + 1)
    cols = range(math.ceil((bounds.left - right) / across) - 1, math.floor((bounds.right - left) / across) + 2)
    if len(rows) * len(cols) > _MOST:
        raise SketchError(
            f"pattern: a step of {step!r} asks for {len(rows) * len(cols):,} uses, more than {_MOST:,}",
            hint="is it in the units of the view?",
        )
    row, col = (part.ravel() for part in np.mgrid[rows.start : rows.stop, cols.start : cols.stop])
    x, y = (col + (row % 2) * (brick % 1.0)) * across, row * down * 1.0
    seen = (x + right > bounds.left) & (x + left < bounds.right)
    return transformed(np.stack([x, y], axis=1)[seen], np.array(Affine.rotation(turn)))
