"""Outlines as polygons: filled, stroked and dashed, in pixels."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.flatten import flatten_subpath, points_of_outline
from mothseed.kernels.primitives import DONE, MORE_EDGES, MORE_POINTS, POLYGON, SHADOW, FlatOutline, Shapes, Sources
from mothseed.kernels.stroke import close_contour, draw_stroke, draw_to, edges_of_stroke, start_contour
from mothseed.native.jit import entry, kernel

_CIRCLE_CHORDS = 8
"""Chords at least in a quarter of a circle: in small ones the area counts more than the distance from the curve."""
_SHORTEST_DASHES = 0.05
"""Pixels that a dash and its gap together are at least taken to be long: shorter ones cannot be told from an even line."""

Points = Array2[np.float64]
Edges = Array2[np.float64]


@entry
def bound_edges(first_edge: Array1[np.int64], edges: Edges, bounds: Array2[np.float64]) -> None:
    """Widen the bounds of each primitive to hold its edges."""
    for i in range(len(bounds)):
        left, top, right, bottom = bounds[i, 0], bounds[i, 1], bounds[i, 2], bounds[i, 3]
        for edge in range(first_edge[i], first_edge[i + 1]):
            x1, y1, x2, y2 = edges[edge, 0], edges[edge, 1], edges[edge, 2], edges[edge, 3]
            left, right = min(left, x1, x2), max(right, x1, x2)
            top, bottom = min(top, y1, y2), max(bottom, y1, y2)
        bounds[i, 0], bounds[i, 1], bounds[i, 2], bounds[i, 3] = left, top, right, bottom


@entry
def draw_edges(
    kind: Array1[np.uint8],
    source: Array1[np.int64],
    is_stroke: Array1[np.bool],
    sources: Sources,
    shapes: Shapes,
    first_edge: Array1[np.int64],
    first_of_stroke: Array1[np.int64],
    edges: Edges,
    mapped: Points,
    line: FlatOutline,
    dash: FlatOutline,
    pen: Array1[np.float64],
    state: Array1[np.int64],
) -> int:
    """Add the edges of primitives from number state[0] on; returns DONE, or what there is not enough room of.

    `state` is the primitive to go on with, and how much room it takes: for edges in all, for points. `first_edge` (n + 1,) has
    where each primitive's begin, `first_of_stroke` (n,) where those of its stroke do. The rest is room to work in.
    """
    while state[0] < len(kind):
        primitive = state[0]
        count = first_edge[primitive]
        first_of_stroke[primitive] = count
        if kind[primitive] == POLYGON or kind[primitive] == SHADOW:
            own = source[primitive]
            shape = sources.shape[own]
            first_verb, last_verb = shapes.first_verb[shape], shapes.first_verb[shape + 1]
            _map(shapes.points, shapes.first_point[shape], shapes.first_point[shape + 1], sources.matrix, own, mapped)
            least = _CIRCLE_CHORDS if shape == 0 else 1
            most = points_of_outline(shapes.verbs, first_verb, last_verb, mapped, least) + 1
            if most > len(line.points):
                state[2] = most
                return MORE_POINTS
            half_width = sources.width[own] / 2
            is_shadow = kind[primitive] == SHADOW
            if sources.filled[own] and (is_shadow or not is_stroke[primitive]):
                if count + most > len(edges):
                    state[1] = count + most
                    return MORE_EDGES
                verb, place = first_verb, 0
                while verb < last_verb:
                    verb, place, length, closed = flatten_subpath(shapes.verbs, last_verb, mapped, verb, place, line, least)
                    count = _draw_fill(edges, count, line, length, pen)
            first_of_stroke[primitive] = count
            if half_width > 0.0 and (is_shadow or is_stroke[primitive]):
                cap, join = sources.linecap[own], sources.linejoin[own]
                verb, place = first_verb, 0
                while verb < last_verb:
                    verb, place, length, closed = flatten_subpath(shapes.verbs, last_verb, mapped, verb, place, line, least)
                    room = edges_of_stroke(length + 3, half_width)
                    if count + room > len(edges):
                        state[1] = count + room
                        return MORE_EDGES
                    if sources.dash[own] == 0:
                        count = draw_stroke(edges, count, line, length, closed, half_width, cap, join, pen)
                    else:
                        count = _draw_dashes(edges, count, line, length, closed, half_width, cap, join, sources, own, dash, pen)
                        if count < 0:
                            state[1] = -count
                            return MORE_EDGES
        first_edge[primitive + 1] = count
        state[0] = primitive + 1
    return DONE


@kernel
def _map(points: Points, first: int, last: int, matrices: Array2[np.float64], own: int, mapped: Points) -> None:
    for i in range(first, last):
        x, y = points[i, 0], points[i, 1]
        mapped[i - first, 0] = matrices[own, 0] * x + matrices[own, 2] * y + matrices[own, 4]
        mapped[i - first, 1] = matrices[own, 1] * x + matrices[own, 3] * y + matrices[own, 5]


@kernel
def _draw_fill(edges: Edges, count: int, line: FlatOutline, length: int, pen: Array1[np.float64]) -> int:
    start_contour(pen, line.points[0, 0], line.points[0, 1])
    for i in range(1, length):
        count = draw_to(edges, count, pen, line.points[i, 0], line.points[i, 1])
    return close_contour(edges, count, pen)


@kernel
def _draw_dashes(
    edges: Edges,
    count: int,
    line: FlatOutline,
    length: int,
    closed: bool,
    half_width: float,
    cap: int,
    join: int,
    sources: Sources,
    own: int,
    piece: FlatOutline,
    pen: Array1[np.float64],
) -> int:
    """Stroke the pieces of a polyline that a dash leaves on, one by one, each with its own caps.

    Returns how many edges there are then, or less than 0 where there is no room for them, being less than what it takes.
    """
    points, bends = line.points, line.bends
    first, scale = sources.first_length[sources.dash[own]], sources.dash_scale[own]
    parts = sources.first_length[sources.dash[own] + 1] - first
    total = 0.0
    for part in range(parts):
        total += sources.lengths[first + part] * scale
    stretch = max(_SHORTEST_DASHES / total, 1.0)
    part = 0
    left = sources.lengths[first] * scale * stretch
    # As variables: for a constant argument Numba would compile the whole stroke anew.
    size, is_closed = int(np.int64(1)), bool(total < 0.0)
    _begin(piece, points[0, 0], points[0, 1])
    segments = length if closed else length - 1
    for segment in range(segments):
        ax, ay = points[segment, 0], points[segment, 1]
        end = (segment + 1) % length
        bx, by = points[end, 0], points[end, 1]
        distance = math.sqrt((bx - ax) ** 2 + (by - ay) ** 2)
        done = 0.0
        while distance - done > left:
            done += left
            x, y = ax + (bx - ax) * (done / distance), ay + (by - ay) * (done / distance)
            if part % 2 == 0:
                size = _add_different(piece, size, x, y, 0)
                room = edges_of_stroke(size + 3, half_width)
                if count + room > len(edges):
                    return -2 * (count + room)
                count = draw_stroke(edges, count, piece, size, is_closed, half_width, cap, join, pen)
            part = (part + 1) % parts
            left = sources.lengths[first + part] * scale * stretch
            size = int(np.int64(1))
            _begin(piece, x, y)
        left -= distance - done
        if part % 2 == 0:
            size = _add_different(piece, size, bx, by, bends[end])
    if part % 2 == 0 and size > 1:
        room = edges_of_stroke(size + 3, half_width)
        if count + room > len(edges):
            return -2 * (count + room)
        count = draw_stroke(edges, count, piece, size, is_closed, half_width, cap, join, pen)
    return count


@kernel
def _begin(piece: FlatOutline, x: float, y: float) -> None:
    piece.points[0, 0], piece.points[0, 1], piece.bends[0] = x, y, 0


@kernel
def _add_different(piece: FlatOutline, size: int, x: float, y: float, bend: int) -> int:
    if piece.points[size - 1, 0] == x and piece.points[size - 1, 1] == y:
        return size
    piece.points[size, 0], piece.points[size, 1], piece.bends[size] = x, y, bend
    return size + 1
