"""Outlines as polygons: filled, stroked and dashed, in pixels."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.flatten import flatten_subpath, is_at
from mothseed.kernels.primitives import (
    DONE,
    FREE,
    MORE_EDGES,
    MORE_POINTS,
    ONE_WAY,
    PLAIN,
    POLYGON,
    SHADOW,
    FlatOutline,
    Grid,
    Shapes,
    Sources,
)
from mothseed.kernels.simple import is_convex, is_simple
from mothseed.kernels.strip import is_strip
from mothseed.kernels.stroke import close_contour, draw_stroke, draw_to, edges_of_stroke, start_contour
from mothseed.native.jit import entry, kernel

_CIRCLE_CHORDS = 8
"""Least chords in a quarter of a circle: in small ones, the area matters more than the distance from the curve."""
_SHORTEST_DASHES = 0.05
"""Least length in pixels of a dash with its gap: shorter ones look like an even line."""

Points = Array2[np.float64]
Edges = Array2[np.float64]


@entry
def survey_edges(
    spans: Array2[np.int64],
    edges: Edges,
    is_asked: Array1[np.bool],
    bounds: Array2[np.float64],
    folds: Array1[np.uint8],
    grid: Grid,
) -> None:
    """Widen the bounds of each primitive to hold its edges, and find whether some of them may overlap themselves."""
    for i in range(len(bounds)):
        left, top, right, bottom = bounds[i, 0], bounds[i, 1], bounds[i, 2], bounds[i, 3]
        first, last = spans[i, 0], spans[i, 2]
        for edge in range(first, last):
            x1, y1, x2, y2 = edges[edge, 0], edges[edge, 1], edges[edge, 2], edges[edge, 3]
            left, right = min(left, x1, x2), max(right, x1, x2)
            top, bottom = min(top, y1, y2), max(bottom, y1, y2)
        bounds[i, 0], bounds[i, 1], bounds[i, 2], bounds[i, 3] = left, top, right, bottom
        if is_asked[i]:
            is_plain = is_convex(edges, first, last) or is_simple(edges, first, last, grid)
            folds[i] = PLAIN if is_plain else FREE


@entry
def draw_edges(
    kind: Array1[np.uint8],
    source: Array1[np.int64],
    is_stroke: Array1[np.bool],
    sources: Sources,
    shapes: Shapes,
    spans: Array2[np.int64],
    edges: Edges,
    folds: Array1[np.uint8],
    mapped: Points,
    line: FlatOutline,
    dash: FlatOutline,
    pen: Array1[np.float64],
    state: Array1[np.int64],
) -> int:
    """Add the edges of primitives from number state[0] on; returns DONE, or what ran out of room. `state` holds the primitive
    to continue with, and the room needed: for edges in all, and for points. `spans` (n, 3) receives where each primitive's
    edges begin, where those of its stroke do, and where they end, and `folds` (n,) how each stroke may overlap itself. The
    rest is scratch space.
    """
    while state[0] < len(kind):
        primitive = state[0]
        count = spans[primitive - 1, 2] if primitive > 0 else 0
        spans[primitive, 0] = spans[primitive, 1] = count
        if kind[primitive] == POLYGON or kind[primitive] == SHADOW:
            own = source[primitive]
            shape = sources.shape[own]
            first_verb, last_verb = shapes.first_verb[shape], shapes.first_verb[shape + 1]
            _map(shapes.points, shapes.first_point[shape], shapes.first_point[shape + 1], sources.matrix, own, mapped)
            least = _CIRCLE_CHORDS if shape == 0 else 1
            half_width = sources.width[own] / 2
            is_shadow = kind[primitive] == SHADOW
            if sources.filled[own] and (is_shadow or not is_stroke[primitive]):
                verb, place = first_verb, 0
                while verb < last_verb:
                    verb, place, length, closed = flatten_subpath(
                        shapes.verbs, last_verb, mapped, verb, place, line, least, 0.0
                    )
                    if length < 0:
                        state[2] = -length
                        return MORE_POINTS
                    if count + length > len(edges):
                        state[1] = count + length
                        return MORE_EDGES
                    count = _draw_fill(edges, count, line, length, pen)
            spans[primitive, 1] = count
            if half_width > 0.0 and (is_shadow or is_stroke[primitive]):
                cap, join = sources.linecap[own], sources.linejoin[own]
                verb, place = first_verb, 0
                while verb < last_verb:
                    verb, place, length, closed = flatten_subpath(
                        shapes.verbs, last_verb, mapped, verb, place, line, least, half_width
                    )
                    if length < 0:
                        state[2] = -length
                        return MORE_POINTS
                    room = edges_of_stroke(length + 3, half_width)
                    if count + room > len(edges):
                        state[1] = count + room
                        return MORE_EDGES
                    is_once = verb == last_verb and count == spans[primitive, 1] and sources.dash[own] == 0
                    if sources.dash[own] == 0:
                        axis_x, axis_y = sources.axis[sources.frame[own], 0], sources.axis[sources.frame[own], 1]
                        count = draw_stroke(edges, count, line, length, closed, half_width, cap, join, axis_x, axis_y, pen)
                    else:
                        count = _draw_dashes(edges, count, line, length, closed, half_width, cap, join, sources, own, dash, pen)
                        if count < 0:
                            state[1] = -count
                            return MORE_EDGES
                    is_plain = is_once and is_strip(line, length, closed, half_width, cap)
                    folds[primitive] = PLAIN if is_plain else ONE_WAY
        spans[primitive, 2] = count
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
    """Stroke the dashes of a polyline one by one, each with its own caps. If a closed one ends in a dash, that continues into
    the first. Returns the new number of edges, or minus the capacity to try next if there is no room.
    """
    first, scale = sources.first_length[sources.dash[own]], sources.dash_scale[sources.frame[own]]
    parts = sources.first_length[sources.dash[own] + 1] - first
    total = 0.0
    for part in range(parts):
        total += sources.lengths[first + part] * scale
    scale *= max(_SHORTEST_DASHES / total, 1.0)
    part, parted = 0, False
    left = sources.lengths[first] * scale
    # As variables: for a constant argument, Numba would compile the whole stroke again.
    size, is_closed = int(np.int64(1)), bool(total < 0.0)
    _begin(piece, line, 0)
    segments = length if closed else length - 1
    for lap in range(2):
        # The second time round, only the first dash is drawn, which was left out before.
        for segment in range(segments):
            start, end = segment, (segment + 1) % length
            across, down = line.points[end, 0] - line.points[start, 0], line.points[end, 1] - line.points[start, 1]
            distance = math.sqrt(across * across + down * down)
            done = 0.0
            while distance - done > left:
                done += left
                if part % 2 == 0:
                    size = _add_cut(piece, size, line, start, end, done / distance)
                    if parted or not closed:
                        room = edges_of_stroke(size + 3, half_width)
                        if count + room > len(edges):
                            return -2 * (count + room)
                        axis_x, axis_y = piece.turns[0, 2], piece.turns[0, 3]
                        count = draw_stroke(edges, count, piece, size, is_closed, half_width, cap, join, axis_x, axis_y, pen)
                    if lap == 1:
                        return count
                parted = True
                part = (part + 1) % parts
                left = sources.lengths[first + part] * scale
                size = int(np.int64(1))
                _put_cut(piece, 0, line, start, end, done / distance)
            left -= distance - done
            if part % 2 == 0:
                size = _add_vertex(piece, size, line, end)
        if not closed:
            break
        if not parted:
            axis_x, axis_y = sources.axis[sources.frame[own], 0], sources.axis[sources.frame[own], 1]
            room = edges_of_stroke(length + 3, half_width)
            if count + room > len(edges):
                return -2 * (count + room)
            return draw_stroke(edges, count, line, length, closed, half_width, cap, join, axis_x, axis_y, pen)
        if part % 2 == 1 or size == 1:
            size = int(np.int64(1))
            _begin(piece, line, 0)
        part, left = 0, sources.lengths[first] * scale
    if part % 2 == 0 and size > 1:
        room = edges_of_stroke(size + 3, half_width)
        if count + room > len(edges):
            return -2 * (count + room)
        count = draw_stroke(edges, count, piece, size, is_closed, half_width, cap, join, 1.0, 0.0, pen)
    return count


@kernel
def _begin(piece: FlatOutline, line: FlatOutline, at: int) -> None:
    """Begin a piece at a point of the line."""
    piece.points[0, 0], piece.points[0, 1] = line.points[at, 0], line.points[at, 1]
    for column in range(4):
        piece.turns[0, column] = line.turns[at, column]
    across, down = line.points[at + 1, 0] - line.points[at, 0], line.points[at + 1, 1] - line.points[at, 1]
    piece.turns[0, 2], piece.turns[0, 3] = _direction_at(line, at, across, down, True)


@kernel
def _add_cut(piece: FlatOutline, size: int, line: FlatOutline, start: int, end: int, part: float) -> int:
    """End a piece somewhere on a segment."""
    _put_cut(piece, size, line, start, end, part)
    if is_at(piece, size, piece.points[size, 0], piece.points[size, 1]):
        piece.turns[size - 1, 0], piece.turns[size - 1, 1] = piece.turns[size, 0], piece.turns[size, 1]
        return size
    return size + 1


@kernel
def _add_vertex(piece: FlatOutline, size: int, line: FlatOutline, at: int) -> int:
    """Continue a piece to a point of the line."""
    x, y = line.points[at, 0], line.points[at, 1]
    if is_at(piece, size, x, y):
        size -= 1
        if size == 0:
            _begin(piece, line, at)
            return 1
    piece.points[size, 0], piece.points[size, 1] = x, y
    for column in range(4):
        piece.turns[size, column] = line.turns[at, column]
    return size + 1


@kernel
def _put_cut(piece: FlatOutline, number: int, line: FlatOutline, start: int, end: int, part: float) -> None:
    """A point on a segment, with the direction of the curve there, interpolated between its ends."""
    ax, ay, bx, by = line.points[start, 0], line.points[start, 1], line.points[end, 0], line.points[end, 1]
    piece.points[number, 0], piece.points[number, 1] = ax + (bx - ax) * part, ay + (by - ay) * part
    from_x, from_y = _direction_at(line, start, bx - ax, by - ay, True)
    to_x, to_y = _direction_at(line, end, bx - ax, by - ay, False)
    dx, dy = from_x + (to_x - from_x) * part, from_y + (to_y - from_y) * part
    size = math.sqrt(dx * dx + dy * dy)
    for column in range(0, 4, 2):
        piece.turns[number, column], piece.turns[number, column + 1] = dx / size, dy / size


@kernel
def _direction_at(line: FlatOutline, at: int, across: float, down: float, begins: bool) -> tuple[float, float]:
    """The unit direction of a line where a segment begins or ends: that of the curve, for a chord of a curve."""
    column = 2 if begins else 0
    x, y = line.turns[at, column], line.turns[at, column + 1]
    if x != 0.0 or y != 0.0:
        return x, y
    distance = math.sqrt(across * across + down * down)
    return across / distance, down / distance
