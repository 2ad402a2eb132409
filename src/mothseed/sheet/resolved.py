"""Where the marks of a drawing lie on its sheet."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.errors import SketchError
from mothseed.sheet.drawing import CIRCLE, ELLIPSE, KIND_NAMES, LINE_SEGMENT, RECT, Drawing
from mothseed.sheet.style import STROKED

_FARTHEST = 1e15
"""Sheet units beyond which a mark has no place: there, floats are too far apart to draw with."""
_GUARD_BITS = 30
"""Places on the sheet are multiples of its size over 2**30: finer than a thousandth of a pixel on the largest print, and so
coarse that the last bit of somebody's sine, which is 2**23 times finer, hardly ever shows."""


def lattice_step(drawing: Drawing, bits: int) -> float:
    """A power of two that divides the longer side of the sheet into about 2**bits steps."""
    return float(2.0 ** (np.ceil(np.log2(max(drawing.width, drawing.height))) - bits))


def mark_matrices(drawing: Drawing) -> FloatArray:
    """The affine map of each mark's unit shape to the sheet: float64 (n, 6), in SVG's order a b c d e f.

    The unit shape is the circle of radius 1 about the origin, the square from the origin to (1, 1), the segment from the
    origin to (1, 0), or the outline as it was given. Raises SketchError for a mark that lies beyond all numbers.
    """
    marks = drawing.marks
    kind, place = marks["kind"], marks["place"]
    x, y, u, v = place.T
    local = np.zeros((len(marks), 6))
    local[:, 0] = local[:, 3] = 1.0
    round_or_square = (kind == CIRCLE) | (kind == ELLIPSE) | (kind == RECT)
    local[round_or_square, 0] = u[round_or_square]
    local[round_or_square, 3] = np.where(kind == CIRCLE, u, v)[round_or_square]
    segment = kind == LINE_SEGMENT
    local[segment, 0] = (u - x)[segment]
    local[segment, 1] = (v - y)[segment]
    local[segment, 3] = 0.0
    placed = round_or_square | segment
    local[placed, 4], local[placed, 5] = x[placed], y[placed]

    a, b, c, d, e, f = drawing.views[marks["view"]].T
    p, q, r, s, t, w = local.T
    with np.errstate(over="ignore", invalid="ignore"):
        parts = [a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * t + c * w + e, b * t + d * w + f]
    matrices = np.stack(parts, axis=1)
    beyond = ~(np.abs(matrices) < _FARTHEST).all(axis=1)
    if beyond.any():
        first = int(np.flatnonzero(beyond)[0])
        raise SketchError(
            f"mark {first}, a {KIND_NAMES[kind[first]]}, lies too far away to have a place",
            hint="look for a scale that is multiplied again in each round of a loop",
        )
    step = lattice_step(drawing, _GUARD_BITS)
    result: FloatArray = np.round(matrices / step) * step
    return result


def stroke_widths(drawing: Drawing) -> FloatArray:
    """Width of each mark's stroke in sheet units: float64 (n,); 0 where it has none."""
    marks = drawing.marks
    a, b, c, d, _, _ = drawing.views[marks["view"]].T
    step = lattice_step(drawing, _GUARD_BITS)
    widths = marks["stroke_width"] * np.sqrt(np.abs(a * d - b * c))
    stroked: FloatArray = np.where(marks["painted"] & STROKED, np.round(widths / step) * step, 0.0)
    return stroked
