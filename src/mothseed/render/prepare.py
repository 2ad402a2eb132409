"""From a drawing to primitives in pixels."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.geometry.outline import CLOSE, CUBIC, LINE, MOVE
from mothseed.render.flatten import flatten_subpath, points_of_outline
from mothseed.render.jit import kernel
from mothseed.render.primitives import ALONE, CLOSES_GROUP, DISC, OPENS_GROUP, POLYGON, Primitives
from mothseed.render.stroke import close_contour, draw_stroke, draw_to, edges_of_stroke, start_contour
from mothseed.sheet.drawing import CIRCLE, ELLIPSE, LINE_SEGMENT, POLYLINE, RECT, Drawing
from mothseed.sheet.resolved import mark_matrices, stroke_widths
from mothseed.sheet.style import FILLED, STROKED

_SMALLEST_DISC = 2.0
"""Radius in pixels below which the distance formula of discs is off by more than 1/50; smaller ones become polygons."""
_ROUND = 1e-6
"""By how much the axes of a circle may differ, relatively, for it still to be one on the sheet."""

_CIRCLE_CHORDS = 8
"""Chords at least in a quarter of a circle: in small ones the area counts more than the distance from the curve."""
_CIRCLE_ARM = 0.5522847498307936
"""Length of the control arms of four cubics that make a unit circle, off by at most 0.03 % of its radius."""


def prepared(drawing: Drawing, scale: float) -> Primitives:
    """The primitives of all marks, `scale` pixels to the sheet's unit: a fill, then a stroke, for each that has them."""
    marks = drawing.marks
    matrices = mark_matrices(drawing) * scale
    widths = stroke_widths(drawing) * scale
    filled = ((marks["painted"] & FILLED) != 0) & (marks["kind"] != LINE_SEGMENT) & (marks["kind"] != POLYLINE)
    stroked = ((marks["painted"] & STROKED) != 0) & (widths > 0)
    together = filled & stroked & (marks["opacity"] < 1)

    # Every mark has two places, for its fill and its stroke; those that are painted are kept, in order.
    painted = np.stack([filled, stroked], axis=1).ravel()
    mark_of = np.repeat(np.arange(len(marks)), 2)[painted]
    is_stroke = np.tile([False, True], len(marks))[painted]
    colour = _colours(drawing, together)[painted]
    group = np.where(together[mark_of], np.where(is_stroke, CLOSES_GROUP, OPENS_GROUP), ALONE).astype(np.uint8)

    disc = _discs(matrices, widths, mark_of, is_stroke)
    as_disc = _can_be_discs(marks["kind"], matrices)[mark_of] & (disc[:, 2] >= _SMALLEST_DISC)
    as_disc &= (disc[:, 3] >= _SMALLEST_DISC) | (disc[:, 3] <= 0)
    disc[:, 3] = np.maximum(disc[:, 3], 0)
    kind = np.where(as_disc, DISC, POLYGON).astype(np.uint8)

    shapes = _unit_shapes(drawing)
    shape_of = _shape_numbers(drawing)
    first_edge, edges = _polygon_edges(
        kind,
        mark_of,
        is_stroke,
        shape_of,
        matrices,
        widths,
        marks["linecap"].copy(),
        marks["linejoin"].copy(),
        *shapes,
    )
    bounds = _bounds(kind, disc, first_edge, edges)
    opacity = marks["opacity"][mark_of].astype(np.float32)
    return Primitives(kind, disc, colour, group, opacity, bounds, first_edge, edges)


def _colours(drawing: Drawing, together: npt.NDArray[np.bool]) -> npt.NDArray[np.float32]:
    """Premultiplied colours of fills and strokes in turn, (2n, 4); opacity is in them unless a group has it."""
    marks = drawing.marks
    parts = np.stack([marks["fill"], marks["stroke"]], axis=1).reshape(-1, 4)
    opacity = np.repeat(np.where(together, 1.0, marks["opacity"]), 2)
    parts[:, 3] *= opacity
    parts[:, :3] *= parts[:, 3:]
    return parts.astype(np.float32)


def _can_be_discs(kind: npt.NDArray[np.uint8], matrices: FloatArray) -> npt.NDArray[np.bool]:
    """Which marks are circles on the sheet as well."""
    a, b, c, d, _, _ = matrices.T
    size = a * a + b * b
    even = np.abs(size - (c * c + d * d)) <= _ROUND * size
    square = np.abs(a * c + b * d) <= _ROUND * size
    result: npt.NDArray[np.bool] = ((kind == CIRCLE) | (kind == ELLIPSE)) & even & square
    return result


def _discs(
    matrices: FloatArray, widths: FloatArray, mark_of: npt.NDArray[np.int64], is_stroke: npt.NDArray[np.bool]
) -> FloatArray:
    """Centre, outer and inner radius (n, 4), as if every mark were a circle."""
    a, b, _, _, e, f = matrices[mark_of].T
    radius = np.sqrt(a * a + b * b)
    half = np.where(is_stroke, widths[mark_of] / 2, 0.0)
    inner = np.where(is_stroke, radius - half, 0.0)
    return np.stack([e, f, radius + half, inner], axis=1)


def _unit_shapes(
    drawing: Drawing,
) -> tuple[npt.NDArray[np.uint8], npt.NDArray[np.int64], FloatArray, npt.NDArray[np.int64]]:
    """All outlines one after the other, the first three being the unit circle, square and segment.

    Returns verbs and where each outline's begin, points and where each outline's begin.
    """
    k = _CIRCLE_ARM
    circle = np.array(
        [(1, 0), (1, k), (k, 1), (0, 1), (-k, 1), (-1, k), (-1, 0), (-1, -k), (-k, -1), (0, -1), (k, -1), (1, -k), (1, 0)],
        np.float64,
    )
    square = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], np.float64)
    segment = np.array([(0, 0), (1, 0)], np.float64)
    verbs = [
        np.array([MOVE, CUBIC, CUBIC, CUBIC, CUBIC, CLOSE], np.uint8),
        np.array([MOVE, LINE, LINE, LINE, CLOSE], np.uint8),
        np.array([MOVE, LINE], np.uint8),
        *(outline.verbs for outline in drawing.outlines),
    ]
    points = [circle, square, segment, *(outline.points for outline in drawing.outlines)]
    verb_starts = np.cumsum([0, *map(len, verbs)])
    point_starts = np.cumsum([0, *map(len, points)])
    return np.concatenate(verbs), verb_starts, np.concatenate(points), point_starts


def _shape_numbers(drawing: Drawing) -> npt.NDArray[np.int64]:
    kind = drawing.marks["kind"]
    numbers = drawing.marks["outline"].astype(np.int64) + 3
    numbers[(kind == CIRCLE) | (kind == ELLIPSE)] = 0
    numbers[kind == RECT] = 1
    numbers[kind == LINE_SEGMENT] = 2
    return numbers


@kernel
def _polygon_edges(
    kind: npt.NDArray[np.uint8],
    mark_of: npt.NDArray[np.int64],
    is_stroke: npt.NDArray[np.bool],
    shape_of: npt.NDArray[np.int64],
    matrices: FloatArray,
    widths: FloatArray,
    linecap: npt.NDArray[np.uint8],
    linejoin: npt.NDArray[np.uint8],
    verbs: npt.NDArray[np.uint8],
    verb_starts: npt.NDArray[np.int64],
    points: FloatArray,
    point_starts: npt.NDArray[np.int64],
) -> tuple[npt.NDArray[np.int64], FloatArray]:
    """The edges of all polygons, and where each primitive's begin."""
    first_edge = np.zeros(len(kind) + 1, np.int64)
    edges = np.empty((4 * len(kind) + 64, 4))
    line = np.empty((64, 2))
    bends = np.empty(64, np.uint8)
    count = first_edge[0]
    for primitive in range(len(kind)):
        if kind[primitive] == POLYGON:
            mark = mark_of[primitive]
            shape = shape_of[mark]
            own_verbs = verbs[verb_starts[shape] : verb_starts[shape + 1]]
            own_points = _mapped(points[point_starts[shape] : point_starts[shape + 1]], matrices[mark])
            least = _CIRCLE_CHORDS if shape == 0 else 1
            most = points_of_outline(own_verbs, own_points, least) + 1
            if most > len(line):
                line = np.empty((2 * most, 2))
                bends = np.empty(2 * most, np.uint8)
            half_width = widths[mark] / 2
            subpaths = np.sum(own_verbs == MOVE)
            room = edges_of_stroke(most + 3 * subpaths, half_width) if is_stroke[primitive] else most
            edges = _with_room(edges, count, room)
            verb, place = 0, 0
            while verb < len(own_verbs):
                verb, place, length, closed = flatten_subpath(own_verbs, own_points, verb, place, line, bends, least)
                if is_stroke[primitive]:
                    count = draw_stroke(edges, count, line, bends, length, closed, half_width, linecap[mark], linejoin[mark])
                else:
                    count = _draw_fill(edges, count, line, length)
        first_edge[primitive + 1] = count
    return first_edge, edges[:count].copy()


@kernel
def _mapped(points: FloatArray, matrix: FloatArray) -> FloatArray:
    result = np.empty_like(points)
    for i in range(len(points)):
        x, y = points[i, 0], points[i, 1]
        result[i, 0] = matrix[0] * x + matrix[2] * y + matrix[4]
        result[i, 1] = matrix[1] * x + matrix[3] * y + matrix[5]
    return result


@kernel
def _with_room(edges: FloatArray, count: int, room: int) -> FloatArray:
    if count + room <= len(edges):
        return edges
    larger = np.empty((2 * len(edges) + room, 4))
    for i in range(count):
        for k in range(4):
            larger[i, k] = edges[i, k]
    return larger


@kernel
def _draw_fill(edges: FloatArray, count: int, line: FloatArray, length: int) -> int:
    pen = np.zeros(4)
    start_contour(pen, line[0, 0], line[0, 1])
    for i in range(1, length):
        count = draw_to(edges, count, pen, line[i, 0], line[i, 1])
    return close_contour(edges, count, pen)


def _bounds(kind: npt.NDArray[np.uint8], disc: FloatArray, first_edge: npt.NDArray[np.int64], edges: FloatArray) -> FloatArray:
    """Left, top, right, bottom of each primitive (n, 4); a primitive without edges has a box turned inside out."""
    centre, radius = disc[:, :2], disc[:, 2:3]
    # Half a pixel's diagonal beyond its radius a disc still covers a corner of a pixel.
    bounds = np.concatenate([centre - radius - 1, centre + radius + 1], axis=1)
    polygon = kind == POLYGON
    bounds[polygon] = (math.inf, math.inf, -math.inf, -math.inf)
    has_edges = np.flatnonzero(first_edge[1:] > first_edge[:-1])
    if len(has_edges):
        starts = first_edge[has_edges]
        low = np.minimum(edges[:, :2], edges[:, 2:])
        high = np.maximum(edges[:, :2], edges[:, 2:])
        bounds[has_edges, :2] = np.minimum.reduceat(low, starts)
        bounds[has_edges, 2:] = np.maximum.reduceat(high, starts)
    return bounds
