"""Where the marks of a drawing are on its sheet."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import FloatArray, PointArray, WholeArray
from mothseed.faults import SketchError
from mothseed.geometry.outline import starts_of
from mothseed.geometry.outlines import Outlines
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.kinds import CIRCLE, HAS_OUTLINE, IS_ROUND, KINDS, LINE_SEGMENT, UNIT_BOXES, UNIT_MIDDLES
from mothseed.sheet.style import STROKED

_LONGEST_MITER = 4.0
"""Half-widths of a stroke that a mitre reaches at most (the default limit of SVG 2)."""
_FARTHEST = 1e15
"""Sheet units beyond which marks are refused, as floats are too coarse there."""
_GUARD_BITS = 30
"""Places on the sheet are multiples of its size over 2**30: finer than a thousandth of a pixel on the largest print, and so
coarse that the last bit of somebody's sine, which is 2**23 times finer, hardly ever shows."""


_BOUNDARY = 0.3819660112501051
"""Where in a step one number ends and the next begins: an irrational part, since the round numbers that artists write would
otherwise often lie on a boundary and fall to either side."""


def lattice_step(drawing: Drawing, bits: int) -> float:
    """A power of two that divides the longer side of the sheet into about 2**bits steps."""
    _, exponent = math.frexp(max(drawing.width, drawing.height))
    return math.ldexp(1.0, exponent - bits)


def on_lattice(values: FloatArray, step: float) -> WholeArray:
    """The step of a lattice that contains each number: int64, of the same shape."""
    return np.floor(values / step + _BOUNDARY).astype(np.int64)


def mark_matrices(drawing: Drawing) -> FloatArray:
    """The affine map of each mark's unit shape to the sheet: float64 (n, 6), in SVG's order a b c d e f.

    The unit shape is the circle of radius 1 about the origin, the square from the origin to (1, 1), the segment from the
    origin to (1, 0), or the outline as it was given. Raises SketchError for a mark that lies beyond all numbers.
    """
    marks = drawing.marks
    kind = marks["kind"]
    x, y, u, v = np.ascontiguousarray(marks["place"].T)
    there = np.bincount(kind, minlength=len(KINDS)) > 0
    p, q, s = u, np.zeros(()), v
    if there[CIRCLE]:
        s = np.where(kind == CIRCLE, u, v)
    if there[LINE_SEGMENT]:
        is_segment = kind == LINE_SEGMENT
        p, q, s = np.where(is_segment, u - x, p), np.where(is_segment, v - y, 0.0), np.where(is_segment, 0.0, s)
    if there[HAS_OUTLINE].any():
        is_outline = HAS_OUTLINE[kind]
        p, s = np.where(is_outline, 1.0, p), np.where(is_outline, 1.0, s)
    # Where there is one view, as often, looking it up for each mark would take a third of the time.
    only_one = len(drawing.views) == 1
    a, b, c, d, e, f = drawing.views[0] if only_one else np.ascontiguousarray(drawing.views.T)[:, marks["view"]]
    with np.errstate(over="ignore", invalid="ignore"):
        parts = (a * p + c * q, b * p + d * q, c * s, d * s, a * x + c * y + e, b * x + d * y + f)
        matrices = np.stack(parts, axis=1)
    if not (matrices.max(initial=0.0) < _FARTHEST and matrices.min(initial=0.0) > -_FARTHEST):
        first = int(np.flatnonzero(~(np.abs(matrices) < _FARTHEST).all(axis=1))[0])
        raise SketchError(
            f"mark {first}, a {KINDS[kind[first]].name}, lies too far outside the sheet",
            hint="look for a scale that is multiplied again in each round of a loop",
        )
    step = lattice_step(drawing, _GUARD_BITS)
    matrices /= step
    np.round(matrices, out=matrices)
    matrices *= step
    return matrices


def stroke_widths(drawing: Drawing) -> FloatArray:
    """Stroke width of each mark in sheet units: float64 (n,); 0 without a stroke."""
    marks = drawing.marks
    step = lattice_step(drawing, _GUARD_BITS)
    widths = np.zeros(len(marks))
    stroked = np.flatnonzero(marks["painted"] & STROKED)
    scaled = marks["stroke_width"][stroked] * drawing.stroke_scales[marks["view"][stroked]]
    widths[stroked] = np.round(scaled / step) * step
    return widths


def mark_centres(drawing: Drawing, matrices: FloatArray) -> PointArray:
    """The middle of each mark's unit shape, or the mean of its outline's points, on the sheet: float64 (n, 2)."""
    marks = drawing.marks
    kind = marks["kind"]
    middles = UNIT_MIDDLES[kind]
    has_outline = HAS_OUTLINE[kind]
    if drawing.outlines:
        middles[has_outline] = _means_of_points(drawing.outlines)[marks["outline"][has_outline]]
    a, b, c, d, e, f = matrices.T
    x, y = middles.T
    return np.stack([a * x + c * y + e, b * x + d * y + f], axis=1)


def mark_boxes(drawing: Drawing) -> FloatArray:
    """A box on the sheet that holds each mark, its stroke and its shadow: float64 (n, 4), left, top, right, bottom.

    It may be larger than what is painted: curves lie within their control points, strokes within their longest miters.
    """
    marks = drawing.marks
    kind = marks["kind"]
    boxes = UNIT_BOXES[kind]
    has_outline = HAS_OUTLINE[kind]
    if drawing.outlines:
        boxes[has_outline] = _boxes_of_points(drawing.outlines)[marks["outline"][has_outline]]
    a, b, c, d, e, f = mark_matrices(drawing).T
    across, down = boxes[:, [0, 2, 0, 2]], boxes[:, [1, 1, 3, 3]]
    x = a[:, None] * across + c[:, None] * down + e[:, None]
    y = b[:, None] * across + d[:, None] * down + f[:, None]
    corners = np.stack([x.min(axis=1), y.min(axis=1), x.max(axis=1), y.max(axis=1)], axis=1)
    across_round, down_round = np.hypot(a, c), np.hypot(b, d)
    # A turned ellipse does not reach as far as the corners of the square around it.
    ellipses = np.stack([e - across_round, f - down_round, e + across_round, f + down_round], axis=1)
    held = np.where(IS_ROUND[kind][:, None], ellipses, corners)
    reach = stroke_widths(drawing) / 2 * _LONGEST_MITER + _shadow_reach(drawing)
    result: FloatArray = held + reach[:, None] * np.array([-1.0, -1.0, 1.0, 1.0])
    return result


def _shadow_reach(drawing: Drawing) -> FloatArray:
    shadows = [finish.shadow for finish in drawing.finishes]
    reach = np.array([shadow.distance + 2 * shadow.blur if shadow else 0.0 for shadow in shadows])
    result: FloatArray = reach[drawing.marks["finish"]]
    return result


def _boxes_of_points(outlines: Outlines) -> FloatArray:
    points, lengths = outlines.end_to_end()
    if len(points) > 1:  # the extra point would extend the box of the last outline to the origin
        points[-1] = points[-2]
    starts = starts_of(lengths)
    return np.concatenate([np.minimum.reduceat(points, starts), np.maximum.reduceat(points, starts)], axis=1)


def _means_of_points(outlines: Outlines) -> PointArray:
    points, lengths = outlines.end_to_end()
    result: PointArray = np.add.reduceat(points, starts_of(lengths)) / np.maximum(lengths, 1)[:, None]
    return result
