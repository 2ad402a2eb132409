"""From the columns of marks to primitives: the order of painting, discs, colours, and what they cover."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.primitives import (
    BY_MASK,
    CLOSE,
    DISC,
    HAS_BOX,
    NO_SHADE,
    OPEN,
    POLYGON,
    ROUND_CAP,
    SHADOW,
    SHAPE_CIRCLE,
    SHAPE_SEGMENT,
    SHAPE_SQUARE,
    MarkPaint,
    Ops,
    Sources,
)
from mothseed.native.jit import entry, inlined

_ROUND = 1e-6
"""Relative difference of axes up to which a circle still is one on the sheet."""
_WITHIN = math.sqrt(0.5)
"""Half the side of the square in a circle, to its radius."""
_ONE = np.float32(1.0)

Flags = Array1[np.bool]


@entry
def list_ops(sources: Sources, paint: MarkPaint, before: Array1[np.int64], ops: Ops) -> int:
    """List the ops of all marks in `ops`, which has room for five each: a shadow, a bracket, a fill, a stroke, and the end of
    the bracket. Sets `before` (n + 1,) to how many come before each mark, and returns how many there are.
    """
    count = 0
    for i in range(len(paint.finish)):
        before[i] = count
        filled, stroked = sources.filled[i], sources.width[i] > 0.0
        if not filled and not stroked:
            continue
        blend, opacity = paint.blend[paint.finish[i]], paint.opacity[i]
        # A fill and a stroke fade as one, and anything blended is composited as a whole.
        is_grouped = blend > 0 or (filled and stroked and opacity < 1.0)
        own = np.float32(opacity)
        # The group takes the opacity of its marks, which are then painted as if they were solid.
        within = _ONE if is_grouped else own
        if paint.has_shadow[paint.finish[i]]:
            count = _add(ops, count, SHADOW, i, False, paint.even_odd[i], 0, own)
        if is_grouped:
            count = _add(ops, count, OPEN, i, False, paint.even_odd[i], 0, own)
        if filled:
            count = _add(ops, count, POLYGON, i, False, paint.even_odd[i], 0, within)
        if stroked:
            count = _add(ops, count, POLYGON, i, True, False, 0, within)
        if is_grouped:
            count = _add(ops, count, CLOSE, i, False, paint.even_odd[i], blend, own)
    before[len(paint.finish)] = count
    return count


@inlined
def _add(ops: Ops, place: int, kind: int, source: int, is_stroke: bool, even_odd: bool, blend: int, opacity: np.float32) -> int:
    ops.kind[place], ops.source[place], ops.blend[place], ops.opacity[place] = kind, source, blend, opacity
    ops.is_stroke[place], ops.even_odd[place] = is_stroke, even_odd
    ops.mask[place] = ops.clipped[place] = False
    return place + 1


@entry
def put_discs(ops: Ops, sources: Sources, kind: Array1[np.uint8], disc: Array2[np.float64], bounds: Array2[np.float64]) -> None:
    """Set `disc` (n, 4) to the centre and the outer and inner radius of each op, as if every source were a circle, and `kind`
    (n,) to DISC where it is one on the sheet, or a dot, and to that of the op elsewhere. `bounds` (n, 4) are those of discs,
    and empty, inverted boxes for all others.
    """
    for i in range(len(kind)):
        own, is_stroke = ops.source[i], ops.is_stroke[i]
        a, b, x, y = sources.matrix[own, 0], sources.matrix[own, 1], sources.matrix[own, 4], sources.matrix[own, 5]
        radius = math.sqrt(a * a + b * b)
        half = sources.width[own] / 2 if is_stroke else 0.0
        outer = radius + half
        disc[i, 0], disc[i, 1], disc[i, 2] = x, y, outer
        disc[i, 3] = max(radius - half, 0.0) if is_stroke else 0.0
        kind[i] = ops.kind[i]
        bounds[i, 0] = bounds[i, 1] = math.inf
        bounds[i, 2] = bounds[i, 3] = -math.inf
        is_dashed = is_stroke and sources.dash[own] > 0
        if kind[i] == POLYGON and not is_dashed and _can_be_disc(sources, own):
            kind[i] = DISC
            # Up to half a pixel's diagonal beyond its radius, a disc may cover the corner of a pixel.
            bounds[i, 0], bounds[i, 1] = x - outer - 1.0, y - outer - 1.0
            bounds[i, 2], bounds[i, 3] = x + outer + 1.0, y + outer + 1.0


@inlined
def _can_be_disc(sources: Sources, own: int) -> bool:
    """Whether a source is a circle on the sheet too, as `affine.are_similarities` has it, or a dot. A circle of radius 0 paints
    nothing; a line of length 0 paints its round caps.
    """
    a, b, c, d = sources.matrix[own, 0], sources.matrix[own, 1], sources.matrix[own, 2], sources.matrix[own, 3]
    if sources.shape[own] == SHAPE_CIRCLE:
        size = a * a + b * b
        is_even = abs(size - (c * c + d * d)) <= _ROUND * size
        return bool(is_even and abs(a * c + b * d) <= _ROUND * size and size > 0.0)
    return bool(sources.shape[own] == SHAPE_SEGMENT and a == 0.0 and b == 0.0 and sources.linecap[own] == ROUND_CAP)


@entry
def colour_ops(
    ops: Ops,
    kind: Array1[np.uint8],
    shade: Array1[np.int64],
    paint: MarkPaint,
    sources: Sources,
    disc: Array2[np.float64],
    least: float,
    colour: Array2[np.float32],
    covered: Array2[np.float64],
    hides: Flags,
    traits: Array1[np.uint8],
) -> None:
    """Set `colour`, `covered`, `hides` and `traits` of all primitives. Boxes that discs cover count if their sides are at least
    `least`.
    """
    depth = 0
    for i in range(len(kind)):
        own, is_mask, has_shade = ops.source[i], ops.mask[i], shade[i] != NO_SHADE
        if kind[i] == OPEN or kind[i] == CLOSE or is_mask:
            for k in range(4):
                colour[i, k] = _ONE
        else:
            _set_colour(colour, i, own, kind[i], ops.is_stroke[i], has_shade, np.float64(ops.opacity[i]), paint)
        if kind[i] == OPEN:
            depth += 1
        elif kind[i] == CLOSE:
            depth -= 1
        is_fill = not ops.is_stroke[i] and not is_mask and not has_shade
        hides[i] = is_fill and colour[i, 3] >= _ONE and depth == 0 and kind[i] != CLOSE
        covered[i, 0] = covered[i, 1] = math.inf
        covered[i, 2] = covered[i, 3] = -math.inf
        if is_fill:
            _set_covered(covered, i, kind[i], disc, sources, own, least)
        by_mask = BY_MASK if is_mask or has_shade else 0
        traits[i] = kind[i] | by_mask | (HAS_BOX if covered[i, 0] < covered[i, 2] else 0)


@inlined
def _set_colour(
    colour: Array2[np.float32],
    i: int,
    own: int,
    kind: int,
    is_stroke: bool,
    has_shade: bool,
    opacity: float,
    paint: MarkPaint,
) -> None:
    """Premultiplied, including the op's opacity; of a ramp or picture, only the opacity counts."""
    red = green = blue = alpha = 1.0
    if not has_shade:
        if kind == SHADOW:
            of_shadow, finish = paint.shadow, paint.finish[own]
            red, green, blue, alpha = of_shadow[finish, 0], of_shadow[finish, 1], of_shadow[finish, 2], of_shadow[finish, 3]
        else:
            parts = paint.stroke if is_stroke else paint.fill
            red, green = np.float64(parts[own, 0]), np.float64(parts[own, 1])
            blue, alpha = np.float64(parts[own, 2]), np.float64(parts[own, 3])
    alpha *= opacity
    colour[i, 0], colour[i, 1] = np.float32(red * alpha), np.float32(green * alpha)
    colour[i, 2], colour[i, 3] = np.float32(blue * alpha), np.float32(alpha)


@inlined
def _set_covered(
    covered: Array2[np.float64], i: int, kind: int, disc: Array2[np.float64], sources: Sources, own: int, least: float
) -> None:
    """The box that a fill covers entirely: of axis-aligned rectangles, ellipses, and discs in which it is large enough."""
    if kind == DISC:
        if disc[i, 3] == 0.0 and disc[i, 2] * (2 * _WITHIN) >= least:
            half = disc[i, 2] * _WITHIN
            covered[i, 0], covered[i, 1] = disc[i, 0] - half, disc[i, 1] - half
            covered[i, 2], covered[i, 3] = disc[i, 0] + half, disc[i, 1] + half
    elif kind == POLYGON and sources.matrix[own, 1] == 0.0 and sources.matrix[own, 2] == 0.0:
        is_square = sources.shape[own] == SHAPE_SQUARE
        if is_square or sources.shape[own] == SHAPE_CIRCLE:
            low, high = (0.0, 1.0) if is_square else (-_WITHIN, _WITHIN)
            for k in range(2):
                size, place = sources.matrix[own, 3 * k], sources.matrix[own, 4 + k]
                covered[i, k] = min(place + low * size, place + high * size)
                covered[i, k + 2] = max(place + low * size, place + high * size)
