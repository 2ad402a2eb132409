"""Where the marks of a drawing lie on its sheet."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.errors import SketchError
from mothseed.sheet.drawing import CIRCLE, KIND_NAMES, LINE_SEGMENT, Drawing
from mothseed.sheet.style import STROKED

_FARTHEST = 1e15
"""Sheet units beyond which a mark has no place: there, floats are too far apart to draw with."""
_GUARD_BITS = 30
"""Places on the sheet are multiples of its size over 2**30: finer than a thousandth of a pixel on the largest print, and so
coarse that the last bit of somebody's sine, which is 2**23 times finer, hardly ever shows."""


def lattice_step(drawing: Drawing, bits: int) -> float:
    """A power of two that divides the longer side of the sheet into about 2**bits steps."""
    _, exponent = math.frexp(max(drawing.width, drawing.height))
    return math.ldexp(1.0, exponent - bits)


def mark_matrices(drawing: Drawing) -> FloatArray:
    """The affine map of each mark's unit shape to the sheet: float64 (n, 6), in SVG's order a b c d e f.

    The unit shape is the circle of radius 1 about the origin, the square from the origin to (1, 1), the segment from the
    origin to (1, 0), or the outline as it was given. Raises SketchError for a mark that lies beyond all numbers.
    """
    marks = drawing.marks
    kind, place = marks["kind"], marks["place"]
    x, y, u, v = place.T
    is_segment, is_outline = kind == LINE_SEGMENT, kind > LINE_SEGMENT
    p = np.where(is_outline, 1.0, np.where(is_segment, u - x, u))
    q = np.where(is_segment, v - y, 0.0)
    s = np.where(is_outline, 1.0, np.where(is_segment, 0.0, np.where(kind == CIRCLE, u, v)))
    a, b, c, d, e, f = drawing.views[marks["view"]].T
    with np.errstate(over="ignore", invalid="ignore"):
        parts = [a * p + c * q, b * p + d * q, c * s, d * s, a * x + c * y + e, b * x + d * y + f]
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
    step = lattice_step(drawing, _GUARD_BITS)
    widths = marks["stroke_width"] * drawing.stroke_scales[marks["view"]]
    stroked: FloatArray = np.where(marks["painted"] & STROKED, np.round(widths / step) * step, 0.0)
    return stroked
